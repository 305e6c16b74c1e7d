package folder

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"fmt"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/people"
)

func peopleCmd() *cobra.Command {
	var dir, role string
	c := &cobra.Command{Use: "people", Short: "Who works in the shop and may sign in; the way back in for an owner", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error { return c.Help() }}
	c.PersistentFlags().StringVar(&dir, "data", "", "data folder")
	add := func(use, short string, n int, run func(ctx context.Context, c *cobra.Command, a *app.App, args []string) error) *cobra.Command {
		sub := &cobra.Command{Use: use, Short: short, Args: cli.Exactly(n), RunE: func(c *cobra.Command, args []string) error {
			return within(c, dir, func(ctx context.Context, a *app.App) error { return run(ctx, c, a, args) })
		}}
		c.AddCommand(sub)
		return sub
	}
	add("list", "Who works here", 0, func(ctx context.Context, c *cobra.Command, a *app.App, _ []string) error {
		all, err := a.People.List(ctx)
		if err != nil {
			return err
		}
		w := tabwriter.NewWriter(c.OutOrStdout(), 0, 0, 2, ' ', 0)
		for _, p := range all {
			fmt.Fprintf(w, "%s\t%s\t%s\n", p.Name, p.Role, ways(p))
		}
		return w.Flush()
	})
	add("add NAME", "Add a person, with an interim passphrase", 1, func(ctx context.Context, c *cobra.Command, a *app.App, args []string) error {
		p, err := a.People.Save(ctx, people.Change{Name: args[0], Role: people.Role(role)})
		if err != nil {
			return err
		}
		return interim(ctx, c, a, p)
	}).Flags().StringVar(&role, "role", string(people.Diagnostician), "owner, diagnostician, apprentice, front-desk")
	add("passphrase NAME", "Give a person an interim passphrase", 1, func(ctx context.Context, c *cobra.Command, a *app.App, args []string) error {
		p, err := a.People.Find(ctx, args[0])
		if err != nil {
			return err
		}
		return interim(ctx, c, a, p)
	})
	add("leaves NAME", "Let a person leave: no sign-in any more, what they did stays", 1, func(ctx context.Context, c *cobra.Command, a *app.App, args []string) error {
		p, err := a.People.Find(ctx, args[0])
		if err != nil {
			return err
		}
		if _, err = a.People.Save(ctx, people.Change{ID: p.ID, Name: p.Name, Role: p.Role, Leaves: true}); err == nil {
			fmt.Fprintf(c.OutOrStdout(), "%s can no longer sign in\n", p.Name)
		}
		return err
	})
	add("admit", "A code that makes one tablet or computer a device of the shop", 0, func(ctx context.Context, c *cobra.Command, a *app.App, _ []string) error {
		code, until, err := a.People.OfferAdmission(ctx)
		if err == nil {
			fmt.Fprintf(c.OutOrStdout(), "%s\nType it at the device: sign in, then Settings, People, Admit this device. It is good once, until %s.\n", code, until.Local().Format("15:04"))
		}
		return err
	})
	return c
}

func ways(p people.Person) string {
	var out []string
	if p.Passphrase != "" {
		out = append(out, "passphrase")
	}
	if p.Interim {
		out[0] = "interim passphrase"
	}
	if n := len(p.Passkeys); n > 0 {
		out = append(out, fmt.Sprintf("%d passkey(s)", n))
	}
	if p.PIN != "" {
		out = append(out, "PIN")
	}
	if len(out) == 0 {
		return "cannot sign in"
	}
	return strings.Join(out, ", ")
}

// interim makes a passphrase that nobody has typed, and prints it once.
func interim(ctx context.Context, c *cobra.Command, a *app.App, p people.Person) error {
	var b [10]byte
	_, _ = rand.Read(b[:]) // never fails: crypto/rand ends the program instead
	text := strings.ToLower(base32.StdEncoding.EncodeToString(b[:]))
	text = strings.Join([]string{text[:4], text[4:8], text[8:12], text[12:]}, "-")
	if _, err := a.People.Reset(ctx, p.ID, text); err != nil {
		return err
	}
	fmt.Fprintf(c.OutOrStdout(), "%s, %s, signs in with\n\n  %s\n\nand chooses a passphrase then. It is shown here once.\n", p.Name, p.Role, text)
	return nil
}
