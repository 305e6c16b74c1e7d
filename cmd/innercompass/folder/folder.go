// Package folder holds the commands that look after a data folder: its people, its trail, its backups. All but restore work while the app runs.
package folder

import (
	"context"
	"errors"
	"fmt"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/people"
	"innercompass/internal/store"
)

// Commands are all of them.
func Commands() []*cobra.Command {
	return []*cobra.Command{peopleCmd(), verifyCmd(), recordCmd(), backupCmd(), restoreCmd(), exportCmd(), importCmd()}
}

// within runs f on a data folder, beside an app that may be using it, as somebody at the machine.
func within(c *cobra.Command, dir string, f func(ctx context.Context, a *app.App) error) (err error) {
	if dir == "" {
		return cli.Usage("--data DIR is needed: the folder that keeps the cases")
	}
	st, err := store.Beside(dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, st.Close()) }()
	a := app.New(st, nil)
	st.Now = a.Now
	return f(people.With(c.Context(), people.AtTheMachine(c.CommandPath())), a)
}

func verifyCmd() *cobra.Command {
	var dir string
	var asJSON bool
	c := &cobra.Command{Use: "verify --data DIR", Short: "Check the audit trail, what it says of every row, records and pictures", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		return within(c, dir, func(ctx context.Context, a *app.App) error {
			r, err := a.Store.Trail(ctx)
			if err != nil {
				return err
			}
			if asJSON {
				if err := cli.PrintJSON(c.OutOrStdout(), r); err != nil {
					return err
				}
			} else {
				fmt.Fprintf(c.OutOrStdout(), "%d entries, up to %.12s…\n%d rows as they should be\n%d records with a signature that holds\n%d files as their digests say\n", r.Entries, r.Head.Hash, r.Rows, r.Records, r.Pictures)
				for _, w := range r.Wrong {
					fmt.Fprintln(c.OutOrStdout(), "WRONG: "+w)
				}
			}
			if len(r.Wrong) > 0 {
				return errors.New("this folder is not as it was left: keep it as it is, and put a backup into another folder")
			}
			fmt.Fprintln(c.ErrOrStderr(), "All of it is as it was left.")
			return nil
		})
	}}
	c.Flags().StringVar(&dir, "data", "", "data folder")
	c.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return c
}
