package main

import (
	"fmt"
	"io/fs"
	"os"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

func knowledgeCmd() *cobra.Command {
	c := &cobra.Command{Use: "knowledge", Short: "Look after the knowledge base"}
	c.AddCommand(&cobra.Command{Use: "check [FOLDER]", Short: "Check a knowledge base and compile it for every unit; without a folder, the one that comes with the app",
		Long: "Check a folder with trade/*.yaml and units/*.yaml. Every problem is named with its file and line, and with what would be accepted.",
		Args: func(c *cobra.Command, args []string) error {
			if len(args) > 1 {
				return cli.Usage("%s takes one folder at most, got %d; usage: %s", c.CommandPath(), len(args), c.UseLine())
			}
			return nil
		},
		RunE: func(c *cobra.Command, args []string) error {
			var files fs.FS = embedded.FS
			if len(args) == 1 {
				if info, err := os.Stat(args[0]); err != nil {
					return err
				} else if !info.IsDir() {
					return fmt.Errorf("%s: a file; accepted: a folder with trade/*.yaml and units/*.yaml", args[0])
				}
				files = os.DirFS(args[0])
			}
			know, err := catalog.Load(files)
			if err != nil {
				return err
			}
			k := know.Knowledge
			codes := 0
			for _, f := range k.Findings {
				if f.Stage == "code" {
					codes++
				}
			}
			_, err = fmt.Fprintf(c.OutOrStdout(), "knowledge %s: %d causes, %d damages, %d findings (%d of them fault codes), %d checks, %d options, %d cautions, %d schools; compiled for %d units\n",
				k.Version, len(k.Causes), len(k.Damages), len(k.Findings), codes, len(k.Checks), len(k.Options), len(k.Cautions), len(k.Schools), len(know.Units))
			return err
		}})
	return c
}
