package main

import (
	"fmt"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/heard"
	"innercompass/core/intake"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// wordsCmd reads a customer's words on the command line.
func wordsCmd() *cobra.Command {
	var unit string
	var asJSON bool
	c := &cobra.Command{Use: "words TEXT", Short: "Read a customer's words: what they say, and which findings that would be", Args: cli.Exactly(1),
		RunE: func(c *cobra.Command, args []string) error {
			if len(args[0]) > intake.MaxText {
				return cli.Usage("TEXT: %d bytes; accepted: at most %d", len(args[0]), intake.MaxText)
			}
			know, err := catalog.Load(embedded.FS)
			if err != nil {
				return err
			}
			reader := know.Reader
			if unit != "" {
				n, ok := know.Networks[unit]
				if !ok {
					return cli.Usage("--unit: no unit %q; accepted: %s", unit, strings.Join(sortedKeys(know.Networks), ", "))
				}
				reader = reader.For(heard.Unit(n))
			}
			spans := reader.Read(args[0])
			if asJSON {
				return cli.PrintJSON(c.OutOrStdout(), wordsOut(args[0], spans))
			}
			t := tabwriter.NewWriter(c.OutOrStdout(), 0, 0, 2, ' ', 0)
			for _, s := range wordsOut(args[0], spans) {
				var would []string
				for _, r := range s.Findings {
					would = append(would, r.Finding+" "+r.State)
				}
				fmt.Fprintf(t, "%q\t%s\t%s\t%s\t%d %%\t%s\n", s.Text, s.Role, s.Title, strings.Join(append(s.Ranges, s.When...), ", "), s.Sure, strings.Join(would, ", "))
			}
			return t.Flush()
		}}
	c.Flags().StringVar(&unit, "unit", "", "unit by id; none: whatever any unit may have")
	c.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return c
}

// spanOut is a span as it is printed; start and end are bytes of the text.
type spanOut struct {
	Start    int           `json:"start"`
	End      int           `json:"end"`
	Text     string        `json:"text"`
	Role     intake.Role   `json:"role"`
	Kind     string        `json:"kind"`
	Title    string        `json:"title"`
	Range    []string      `json:"range,omitempty"`
	Ranges   []string      `json:"ranges,omitempty"`
	When     []string      `json:"when,omitempty"`
	Source   string        `json:"source"`
	Sure     int           `json:"sure"`
	Rule     string        `json:"rule"`
	Of       *int          `json:"of,omitempty"`
	ReadAs   string        `json:"readAs,omitempty"`
	Findings []findingSaid `json:"findings,omitempty"`
}

type findingSaid struct {
	Finding string `json:"finding"`
	State   string `json:"state"`
}

func wordsOut(text string, spans []intake.Span) []spanOut {
	out := []spanOut{}
	for _, s := range spans {
		o := spanOut{Start: s.Start, End: s.End, Text: text[s.Start:s.End], Role: s.Role, Kind: s.Kind, Title: s.Title, Range: s.Range, Ranges: s.Ranges, When: s.When, Source: "customer", Sure: s.Sure, Rule: s.Rule, ReadAs: s.Mended}
		if s.Other || s.Role == intake.Hearsay {
			o.Source = "other"
		}
		if s.Of >= 0 {
			o.Of = &s.Of
		}
		for _, r := range s.Readings {
			o.Findings = append(o.Findings, findingSaid{r.Finding, r.State})
		}
		out = append(out, o)
	}
	return out
}
