package main

import (
	"fmt"
	"io"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

func calcCmd() *cobra.Command {
	var unit string
	var list, asJSON bool
	c := &cobra.Command{Use: "calc [ID[:PART]] [INPUT=VALUE…]", Short: "Use an instrument: calc plate-capacity pressure='90 psi' lined=4",
		Long: `Use an instrument. Without inputs its inputs are listed, with what is taken where nothing is typed. Values carry any unit of
their dimension, and an uncertainty if wanted: "90 ± 1 psi". With --unit sizes and windows come from a unit's sheet; a part follows
the id: plate-capacity:DC, window:end-play.`,
		RunE: func(c *cobra.Command, args []string) error {
			if list || len(args) == 0 {
				return printInstruments(c.OutOrStdout())
			}
			var u *unitsheet.Unit
			if unit != "" {
				n, err := loadUnit(unit)
				if err != nil {
					return err
				}
				u = n.Unit
			}
			d, err := instruments.For(args[0], u)
			if err != nil {
				return cli.Wrong(err)
			}
			if len(args) == 1 {
				return printInputs(c.OutOrStdout(), d, u)
			}
			typed := map[string]string{}
			for _, a := range args[1:] {
				id, value, ok := strings.Cut(a, "=")
				if !ok {
					return cli.Usage("%q: not an input; accepted: input=value, such as pressure='90 psi'", a)
				}
				typed[id] = value
			}
			r, err := d.Run(typed, instrument.Terms{})
			if err != nil {
				return cli.Wrong(err)
			}
			if asJSON {
				return cli.PrintJSON(c.OutOrStdout(), r)
			}
			return printResult(c.OutOrStdout(), r)
		}}
	f := c.Flags()
	f.StringVar(&unit, "unit", "", "unit to fit it to, or the file of a sheet")
	f.BoolVar(&list, "list", false, "list the instruments")
	f.BoolVar(&asJSON, "json", false, "print JSON, values in SI")
	return c
}

func printInstruments(w io.Writer) error {
	t := tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
	for _, g := range instrument.Groups {
		fmt.Fprintf(t, "%s\t\n", g.Title)
		for _, d := range instruments.All() {
			if d.Group == g.ID {
				fmt.Fprintf(t, "  %s\t%s\n", d.ID, d.Answers)
			}
		}
	}
	return t.Flush()
}

func printInputs(w io.Writer, d instrument.Definition, u *unitsheet.Unit) error {
	fmt.Fprintf(w, "%s. %s\n", d.Title, d.Answers)
	for _, c := range d.Cautions {
		fmt.Fprintf(w, "Caution: %s The maker's procedure goes first.\n", c)
	}
	t := tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
	for _, in := range d.Inputs {
		taken := in.Default
		switch {
		case taken != "":
		case in.Optional:
			taken = "(may be left out)"
		default:
			taken = "(needed, such as " + in.Example + ")"
		}
		label := in.Label
		for _, o := range in.Options {
			label += " " + o.ID
		}
		fmt.Fprintf(t, "  %s\t%s\t%s\n", in.ID, taken, label)
	}
	if err := t.Flush(); err != nil {
		return err
	}
	if parts := d.Parts(u); len(parts) > 0 {
		fmt.Fprintln(w, "Parts:")
		for _, p := range parts {
			fmt.Fprintf(w, "  %s:%s  %s\n", d.ID, p.ID, p.Title)
		}
	}
	_, err := fmt.Fprintf(w, "Source: %s. Limits: %s.\n", d.Source, d.Limits)
	return err
}

func printResult(w io.Writer, r instrument.Result) error {
	fmt.Fprintln(w, strings.TrimSpace(r.Headline+" "+r.Detail))
	t := tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
	for _, o := range r.Outputs {
		q := quantity.Measured{Quantity: quantity.Quantity{SI: o.Value, Dimension: o.Dimension}, U: o.U}
		note := string(o.Verdict)
		if o.Sampled {
			note = strings.TrimSpace(note + " (uncertainty from samples)")
		}
		fmt.Fprintf(t, "  %s\t%s\t%s\n", o.Label, q.FormatMeasured(o.Unit), note)
	}
	if err := t.Flush(); err != nil {
		return err
	}
	var shares []string
	for _, m := range r.Matters {
		shares = append(shares, fmt.Sprintf("%s %.0f %%", m.Label, 100*m.Share))
	}
	if len(shares) > 0 {
		fmt.Fprintf(w, "Its uncertainty comes from: %s.\n", strings.Join(shares, ", "))
	}
	for _, s := range r.Stated {
		fmt.Fprintf(w, "States %s: %s.\n", s.Finding, s.State)
	}
	return nil
}
