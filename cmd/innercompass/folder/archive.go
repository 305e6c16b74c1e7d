package folder

import (
	"archive/zip"
	"context"
	"errors"
	"fmt"
	"os"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/archive"
	"innercompass/internal/catalog"
	"innercompass/internal/handover"
	"innercompass/internal/people"
	"innercompass/internal/store"
	embedded "innercompass/knowledge"
)

func exportCmd() *cobra.Command {
	var dir, to string
	c := &cobra.Command{Use: "export --data DIR --to FILE", Short: "Write everything of a data folder into one open archive (ZIP of JSON, YAML, CSV, PDF, pictures)", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) (err error) {
		if dir == "" || to == "" {
			return cli.Usage("--data DIR and --to FILE are needed")
		}
		know, err := catalog.Load(embedded.FS)
		if err != nil {
			return err
		}
		st, err := store.Beside(dir)
		if err != nil {
			return err
		}
		defer func() { err = errors.Join(err, st.Close()) }()
		a := app.New(st, know)
		out, err := os.OpenFile(to, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
		if err != nil {
			return err
		}
		got, err := archive.Write(people.With(c.Context(), people.AtTheMachine("export")), out, handover.Of(a, st, ""))
		if err = errors.Join(err, out.Sync(), out.Close()); err != nil {
			return errors.Join(err, os.Remove(to))
		}
		fmt.Fprintf(c.OutOrStdout(), "%s: %d entries. Whoever has it can read all of it.\n", to, len(got.Entries))
		return nil
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder")
	c.Flags().StringVar(&to, "to", "", "file to write, such as shop.zip")
	return c
}

func importCmd() *cobra.Command {
	var dir string
	c := &cobra.Command{Use: "import FILE --data DIR", Short: "Read an open archive into an empty data folder", Args: cli.Exactly(1), RunE: func(c *cobra.Command, args []string) error {
		if dir == "" {
			return cli.Usage("--data DIR is needed: a folder that is empty or not there")
		}
		z, err := zip.OpenReader(args[0])
		if err != nil {
			return fmt.Errorf("%s: %w; accepted: an archive as innercompass export writes it", args[0], err)
		}
		defer z.Close()
		made := false
		got, err := archive.Read(c.Context(), &z.Reader, func(schema string) (archive.Target, error) {
			l, err := store.NewLoad(dir, schema)
			made = err == nil
			return l, err
		})
		if err != nil {
			if made {
				err = errors.Join(err, os.RemoveAll(dir))
			}
			return err
		}
		if err := store.CheckFolder(context.WithoutCancel(c.Context()), dir); err != nil {
			return err
		}
		fmt.Fprintf(c.OutOrStdout(), "%s holds what was there on %s. Nobody can sign in yet: innercompass people passphrase NAME --data %s\n", dir, got.At.Local().Format("2 January 2006, 15:04"), dir)
		return nil
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder, empty or not there")
	return c
}
