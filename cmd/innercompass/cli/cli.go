// Package cli is what the commands share: wrong use as an error of its own, and output as JSON.
package cli

import (
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strings"

	"github.com/spf13/cobra"
	"golang.org/x/term"
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

// Passphrase reads one: from a file, or typed without being seen.
func Passphrase(c *cobra.Command, file, ask string) (string, error) {
	if file != "" {
		text, err := os.ReadFile(file)
		return strings.TrimRight(string(text), "\r\n"), err
	}
	in, ok := c.InOrStdin().(*os.File)
	if !ok || !term.IsTerminal(int(in.Fd())) { //nolint:gosec // a file descriptor is a small number
		text, err := io.ReadAll(io.LimitReader(c.InOrStdin(), 4096))
		return strings.TrimRight(string(text), "\r\n"), err
	}
	fmt.Fprint(c.ErrOrStderr(), ask+": ")
	text, err := term.ReadPassword(int(in.Fd())) //nolint:gosec // as above
	fmt.Fprintln(c.ErrOrStderr())
	return string(text), err
}
