package main

import (
	"fmt"
	"io"
	"math"
	"os/signal"
	"slices"
	"strings"
	"text/tabwriter"

	"os"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/gearing"
	"innercompass/core/scheme"
	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

func schemesCmd() *cobra.Command {
	var asJSON bool
	c := &cobra.Command{Use: "schemes", Short: "List the schemes of gears to build a unit from", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		know, err := catalog.Load(embedded.FS)
		if err != nil {
			return err
		}
		if asJSON {
			return cli.PrintJSON(c.OutOrStdout(), know.Schemes)
		}
		tw := tabwriter.NewWriter(c.OutOrStdout(), 0, 4, 2, ' ', 0)
		fmt.Fprintln(tw, "scheme\tgears\tkind\tranges\telements")
		for _, x := range know.Schemes {
			var elements []string
			for _, e := range x.Elements {
				elements = append(elements, e.ID)
			}
			fmt.Fprintf(tw, "%s\t%s, %s\t%s\t%s\t%s\n", x.ID, x.Name, x.Hint, x.Kind, strings.Join(ladder(x), " "), strings.Join(elements, " "))
		}
		return tw.Flush()
	}}
	c.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return c
}

// ladder are the ranges that a list of ratios stands for: forward ones in order, then reverse.
func ladder(x scheme.Scheme) []string {
	out := x.Forward()
	for _, r := range x.Ranges {
		if r.Outcome == string(gearing.Reverse) {
			out = append(out, r.ID)
		}
	}
	return out
}

func teethCmd() *cobra.Command {
	var asJSON, final bool
	var ratios string
	var most int
	c := &cobra.Command{Use: "teeth SCHEME", Short: "Tooth counts that give the printed ratios",
		Long: `All whole tooth counts of a scheme that mesh, assemble and give the ratios to the digits printed. Ratios stand in the order of the forward
ranges; R before one means reverse, a range and = before one means that range: 2.55,1.49,1,0.69,R-2.18 or D2=1.49,R=2.18. What nothing
gives is said with the nearest, and with the ratios that may be misprinted.`,
		Args: cli.Exactly(1), RunE: func(c *cobra.Command, args []string) error {
			know, err := catalog.Load(embedded.FS)
			if err != nil {
				return err
			}
			at := slices.IndexFunc(know.Schemes, func(x scheme.Scheme) bool { return x.ID == args[0] })
			if at < 0 {
				var ids []string
				for _, x := range know.Schemes {
					ids = append(ids, x.ID)
				}
				return cli.Usage("scheme: %q; accepted: %s", args[0], strings.Join(ids, ", "))
			}
			s, err := withRatios(know.Schemes[at], ratios)
			if err != nil {
				return err
			}
			q, err := scheme.Ask(s, final)
			if err != nil {
				return err
			}
			q.Most = most
			ctx, stop := signal.NotifyContext(c.Context(), os.Interrupt)
			defer stop()
			a, err := teeth.Find(ctx, q)
			if err != nil {
				return err
			}
			if asJSON {
				return cli.PrintJSON(c.OutOrStdout(), a)
			}
			return printTeeth(c.OutOrStdout(), s, a)
		}}
	f := c.Flags()
	f.StringVar(&ratios, "ratios", "", "ratios as printed, with commas between them")
	f.IntVar(&most, "most", 12, "sets of teeth to list")
	f.BoolVar(&final, "final", false, "the ratios include a final drive")
	f.BoolVar(&asJSON, "json", false, "print JSON")
	return c
}

// withRatios writes a list of ratios into the ranges of a scheme.
func withRatios(x scheme.Scheme, list string) (unitsheet.Sheet, error) {
	s := x.Sheet()
	s.Ranges = slices.Clone(s.Ranges)
	names, next := ladder(x), 0
	forward := x.Forward()
	if strings.TrimSpace(list) == "" {
		return s, cli.Usage("--ratios: none; accepted: ratios in the order of %s", strings.Join(names, ", "))
	}
	for item := range strings.SplitSeq(list, ",") {
		item = strings.TrimSpace(item)
		name, value, named := strings.Cut(item, "=")
		switch {
		case named:
		case strings.HasPrefix(item, "R") || strings.HasPrefix(item, "-"):
			name, value = names[len(names)-1], strings.TrimLeft(item, "R-")
			if len(names) == len(forward) {
				return s, cli.Usage("--ratios: %q; accepted: forward ratios alone, this scheme has no reverse", item)
			}
		case next < len(forward):
			name, value = forward[next], item
			next++
		default:
			return s, cli.Usage("--ratios: %q; accepted: %d forward ratios: %s", item, len(forward), strings.Join(forward, ", "))
		}
		at := slices.IndexFunc(s.Ranges, func(r unitsheet.RangeSheet) bool { return r.ID == strings.TrimSpace(name) })
		if at < 0 {
			return s, cli.Usage("--ratios: %q; accepted: %s", item, strings.Join(names, ", "))
		}
		s.Ranges[at].Ratio = strings.TrimLeft(strings.TrimSpace(value), "-")
	}
	return s, nil
}

func printTeeth(w io.Writer, s unitsheet.Sheet, a teeth.Answer) error {
	switch {
	case len(a.Fits) == 0:
		fmt.Fprintf(w, "No teeth give these ratios, within %s.\n", a.Bounds)
	default:
		fmt.Fprintf(w, "%s, within %s.\n", scheme.FitsWords(a), a.Bounds)
	}
	if a.Cut {
		fmt.Fprintln(w, "They fit if the ratios were cut, not rounded.")
	}
	if a.Ratios <= a.Unknowns {
		fmt.Fprintf(w, "%d ratios bind %d unknowns: a misprint would not show.\n", a.Ratios, a.Unknowns)
	}
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	show := func(f teeth.Fit) error {
		g, err := scheme.Lay(s, f)
		if err != nil {
			return err
		}
		laid := s
		laid.Gearing = g
		line := strings.Join(unitsheet.Teeth(laid), "; ")
		if f.Final > 0 {
			line += fmt.Sprintf("; final drive %.3f", f.Final)
		}
		for _, name := range f.Loose {
			line += "; no ratio binds the " + name
		}
		fmt.Fprintln(tw, line)
		return nil
	}
	for _, f := range a.Fits {
		if err := show(f); err != nil {
			return err
		}
	}
	if a.Nearest != nil {
		fmt.Fprintln(tw, "nearest:")
		if err := show(*a.Nearest); err != nil {
			return err
		}
	}
	for _, m := range a.Misses {
		fmt.Fprintf(tw, "  %s: %.4f, printed %.*f\n", m.ID, m.Ratio, m.Decimals, m.Printed)
	}
	for _, x := range a.Suspects {
		between := fmt.Sprintf("%.3f", x.Low)
		if math.Abs(x.Top-x.Low) > 5e-4 {
			between = fmt.Sprintf("%.3f to %.3f", x.Low, x.Top)
		}
		fmt.Fprintf(tw, "  without %s something fits: %s would stand there\n", x.ID, between)
	}
	return tw.Flush()
}
