package drives

import (
	"context"
	"fmt"
	"io"
	"math"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/internal/app"
	"innercompass/internal/recordings"
	"innercompass/internal/shifting"
)

// comparedJSON is what two drives differ by, for other programs: times in s, speeds in rev/min, heat in J.
type comparedJSON struct {
	Unit     string     `json:"unit"`
	Headline string     `json:"headline"`
	Kinds    []kindJSON `json:"kinds"`
}

type kindJSON struct {
	From        string           `json:"from"`
	To          string           `json:"to"`
	Before      int              `json:"before"`
	After       int              `json:"after"`
	Unlike      bool             `json:"unlike"` // none at like throttle and temperature
	Differences []differenceJSON `json:"differences"`
}

type differenceJSON struct {
	Quantity string   `json:"quantity"`
	Before   float64  `json:"before"`
	After    float64  `json:"after"`
	Change   float64  `json:"change"`
	Bound    *float64 `json:"bound"` // half of the 95 % interval; null with one shift on a side
	Verdict  string   `json:"verdict"`
}

// compareCmd holds two files against each other.
func compareCmd() *cobra.Command {
	var f heardFlags
	var sound string
	c := &cobra.Command{Use: "compare BEFORE AFTER", Short: "Two drives of one unit held against each other, shift for shift at like throttle and temperature", Args: cli.Exactly(2), RunE: func(c *cobra.Command, args []string) error {
		if sound != "" {
			args = append(args, sound)
		}
		return withRecordings(c.Context(), args, f, func(a *app.App, recs []recordings.Recording) error {
			asked := shifting.Asked{Selector: f.selector}
			if sound != "" {
				asked.Sound = recs[2].ID
			}
			return printCompared(c.Context(), c.OutOrStdout(), a, recs[0].ID, recs[1].ID, asked, f.asJSON)
		})
	}}
	s := c.Flags()
	s.StringVar(&f.unit, "unit", "", "id of the unit in the vehicle")
	s.StringVar(&f.selector, "selector", "", "position of the selector; the one that shifts by itself when left out")
	s.StringVar(&sound, "sound", "", "a recording of a sound unit of the kind, whose shifts give the windows")
	s.BoolVar(&f.asJSON, "json", false, "print JSON")
	return c
}

func printCompared(ctx context.Context, w io.Writer, a *app.App, before, after string, asked shifting.Asked, asJSON bool) error {
	c, err := a.Shifting.Compare(ctx, before, after, asked)
	if err != nil {
		return err
	}
	if asJSON {
		out := comparedJSON{Unit: c.Before.Unit.Sheet.ID, Headline: c.Headline(), Kinds: []kindJSON{}}
		for _, k := range c.Kinds {
			x := kindJSON{From: k.From, To: k.To, Before: len(k.Before), After: len(k.After), Unlike: k.Unlike, Differences: []differenceJSON{}}
			for _, d := range k.Differences {
				y := differenceJSON{Quantity: string(d.Quantity), Before: d.Before.Mean, After: d.After.Mean, Change: d.Change, Verdict: string(d.Verdict)}
				if !math.IsInf(d.Bound, 1) {
					y.Bound = &d.Bound
				}
				x.Differences = append(x.Differences, y)
			}
			out.Kinds = append(out.Kinds, x)
		}
		return cli.PrintJSON(w, out)
	}
	fmt.Fprintln(w, c.Headline())
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	for _, k := range c.Kinds {
		if k.Unlike {
			fmt.Fprintf(tw, "%s to %s\tno two at like throttle and temperature: not comparable\n", k.From, k.To)
			continue
		}
		fmt.Fprintf(tw, "%s to %s\t%d before, %d after\n", k.From, k.To, len(k.Before), len(k.After))
		for _, d := range k.Differences {
			fmt.Fprintf(tw, "\t%s\t%s\n", shifting.Difference(d), d.Verdict)
		}
	}
	return tw.Flush()
}
