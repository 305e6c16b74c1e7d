package bench

import (
	"fmt"
	"io"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/heard"
	"innercompass/core/intake"
	"innercompass/core/wordbench"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// wordsBench is what a bench of the reader of words is asked to do.
type wordsBench struct {
	ids            string
	misses, asJSON bool
}

func wordsCmd() *cobra.Command {
	var b wordsBench
	c := &cobra.Command{Use: "words", Short: "Read customers' words that were annotated by hand",
		Long: `Reads texts that were annotated by hand. Counts what is found of what is said, and how much of what is found is right.
Even texts may be used for tuning. Odd ones were annotated after the reader was frozen; those that led to a change since are spent, and are
counted apart.`,
		Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
			out, err := b.run()
			if err != nil {
				return err
			}
			if b.asJSON {
				return cli.PrintJSON(c.OutOrStdout(), out)
			}
			return b.print(c.OutOrStdout(), out)
		}}
	f := c.Flags()
	f.StringVar(&b.ids, "ids", "even", "even, odd or all")
	f.BoolVar(&b.misses, "misses", false, "list what was not found, and what was found wrongly")
	f.BoolVar(&b.asJSON, "json", false, "print JSON")
	return c
}

// wordsOut is the outcome for some texts.
type wordsOut struct {
	Texts  string           `json:"texts"`
	Report wordbench.Report `json:"report"`
}

func (b wordsBench) run() ([]wordsOut, error) {
	files, ok := map[string][]string{"even": {"even"}, "odd": {"odd"}, "all": {"even", "odd"}}[b.ids]
	if !ok {
		return nil, cli.Usage("--ids: %q; accepted: even, odd, all", b.ids)
	}
	know, err := catalog.Load(embedded.FS)
	if err != nil {
		return nil, err
	}
	reader := func(unit string) (*intake.Reader, error) {
		n, ok := know.Networks[unit]
		if !ok {
			return nil, fmt.Errorf("no unit %q", unit)
		}
		return know.Reader.For(heard.Unit(n)), nil
	}
	var out []wordsOut
	for _, name := range files {
		cases, err := catalog.WordBench(embedded.Bench, "bench/words-"+name+".yaml")
		if err != nil {
			return nil, err
		}
		var fresh, spent []wordbench.Case
		for _, c := range cases {
			if c.Spent == "" {
				fresh = append(fresh, c)
			} else {
				spent = append(spent, c)
			}
		}
		for _, part := range []struct {
			title string
			cases []wordbench.Case
		}{{name, cases}, {name + ", not spent", fresh}} {
			if len(spent) == 0 && len(part.cases) == len(cases) && part.title != name {
				continue
			}
			report, err := wordbench.Measure(part.cases, reader)
			if err != nil {
				return nil, err
			}
			out = append(out, wordsOut{part.title, report})
		}
	}
	return out, nil
}

func (b wordsBench) print(w io.Writer, outs []wordsOut) error {
	for _, o := range outs {
		t := tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
		fmt.Fprintf(t, "%s, %d texts\tsaid\tfound\t\tgiven\tright\t\n", o.Texts, o.Report.Cases)
		row := func(title string, c wordbench.Count) {
			fmt.Fprintf(t, "%s\t%d\t%d\t%.1f %%\t%d\t%d\t%.1f %%\n", title, c.Said, c.Found, 100*c.Recall(), c.Given, c.Right, 100*c.Precision())
		}
		row("symptoms", o.Report.Symptoms)
		row("everything", o.Report.Everything)
		for _, role := range wordbench.Roles {
			row("  "+string(role), o.Report.Roles[role])
		}
		fmt.Fprintf(t, "hung on the right statement\t%d\t%d\t%.1f %%\n", o.Report.Hung.Said, o.Report.Hung.Found, 100*o.Report.Hung.Recall())
		if err := t.Flush(); err != nil {
			return err
		}
		if b.misses && !strings.Contains(o.Texts, ",") {
			for _, m := range o.Report.Misses {
				what := "not found"
				if m.False {
					what = "wrong"
				}
				fmt.Fprintf(w, "%s\t%s\t%s %s\t%q %s\n", m.Case, what, m.Role, m.Label, m.Text, m.Rule)
			}
		}
		fmt.Fprintln(w)
	}
	return nil
}
