// Command innercompass runs Inner Compass: the app, its demo, and its computation on the command line.
package main

import (
	"context"
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/bench"
	"innercompass/cmd/innercompass/cli"
	"innercompass/cmd/innercompass/drives"
	"innercompass/cmd/innercompass/folder"
	"innercompass/cmd/innercompass/reserve"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// version is set by the build.
var version = "dev"

func main() {
	err := root().ExecuteContext(context.Background())
	var usage cli.UsageError
	switch {
	case err == nil:
	case errors.As(err, &usage):
		fmt.Fprintln(os.Stderr, err)
		os.Exit(2)
	default:
		fmt.Fprintln(os.Stderr, err)
		os.Exit(1)
	}
}

func root() *cobra.Command {
	c := &cobra.Command{Use: "innercompass", Short: "From complaint to proof: transmission diagnosis", SilenceUsage: true, SilenceErrors: true,
		Args: func(_ *cobra.Command, args []string) error {
			if len(args) > 0 {
				return cli.Usage("unknown command %q; see innercompass --help", args[0])
			}
			return nil
		},
		RunE: func(c *cobra.Command, _ []string) error { return c.Help() }}
	c.SetFlagErrorFunc(func(_ *cobra.Command, err error) error { return cli.Wrong(err) })
	c.AddCommand(serveCmd(), demoCmd(), traceCmd(), unitCmd(), vocabularyCmd("findings"), vocabularyCmd("causes"), vocabularyCmd("checks"), knowledgeCmd(), calcCmd(), bench.Command(), wordsCmd(), drives.Command(), reserve.Command(version), versionCmd())
	c.AddCommand(folder.Commands()...)
	return c
}

func versionCmd() *cobra.Command {
	return &cobra.Command{Use: "version", Short: "Print the version", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		know, err := catalog.Load(embedded.FS)
		if err != nil {
			return err
		}
		fmt.Fprintf(c.OutOrStdout(), "innercompass %s, knowledge %s\n", version, know.Knowledge.Version)
		return nil
	}}
}
