// Package cli is what the commands share: wrong use as an error of its own, and output as JSON.
package cli

import (
	"encoding/json"
	"fmt"
	"io"

	"github.com/spf13/cobra"
)

// UsageError is wrong use of the command line: exit code 2.
type UsageError struct{ error }

// Usage makes a UsageError of a format.
func Usage(format string, args ...any) error { return UsageError{fmt.Errorf(format, args...)} }

// Wrong makes a UsageError of an error.
func Wrong(err error) error { return UsageError{err} }

// Exactly lets a command take n arguments.
func Exactly(n int) cobra.PositionalArgs {
	return func(c *cobra.Command, args []string) error {
		if len(args) != n {
			return Usage("%s takes %d argument(s), got %d; usage: %s", c.CommandPath(), n, len(args), c.UseLine())
		}
		return nil
	}
}

// PrintJSON prints a value as JSON that people can read.
func PrintJSON(w io.Writer, v any) error {
	enc := json.NewEncoder(w)
	enc.SetIndent("", "  ")
	return enc.Encode(v)
}
