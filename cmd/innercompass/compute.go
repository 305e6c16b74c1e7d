package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"slices"
	"strings"
	"text/tabwriter"
	"time"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
	embedded "innercompass/knowledge"
)

// readFile reads a user's file of bounded size.
func readFile(path string) ([]byte, error) {
	info, err := os.Stat(path)
	if err != nil {
		return nil, err
	}
	if info.IsDir() || info.Size() > catalog.MaxFile {
		return nil, fmt.Errorf("%s: a folder, or larger than 1 MiB; accepted: a file of at most 1 MiB", path)
	}
	return os.ReadFile(path)
}

func network(id string) (*knowledge.Network, error) {
	know, err := catalog.Load(embedded.FS)
	if err != nil {
		return nil, err
	}
	n, ok := know.Networks[id]
	if !ok {
		return nil, fmt.Errorf("no unit %q; accepted: %s", id, strings.Join(sortedKeys(know.Networks), ", "))
	}
	return n, nil
}

type traceOut struct {
	Unit      string         `json:"unit"`
	Knowledge string         `json:"knowledge"`
	Exact     bool           `json:"exact"` // false: probabilities are from the likeliest sets of causes alone
	Suspects  []traceSuspect `json:"suspects"`
	Readings  []traceReading `json:"readings"`
	Next      []traceNext    `json:"next"`
	Options   []traceOption  `json:"options"`
	Headline  string         `json:"headline"`
	Stop      string         `json:"stop,omitempty"`
	InVain    float64        `json:"in_vain"` // what the repair of the leader costs for nothing when it is something else
	Doubt     float64        `json:"doubt"`   // probability of that
	Surprise  string         `json:"surprise,omitempty"`
	HangsOn   string         `json:"hangs_on,omitempty"`
}

type traceSuspect struct {
	Cause       string    `json:"cause"`
	Title       string    `json:"title"`
	Probability float64   `json:"probability"`
	Weights     []float64 `json:"weights_db"`
}

type traceReading struct {
	ID      string  `json:"id"`
	Finding string  `json:"finding"`
	State   string  `json:"state"`
	Weight  float64 `json:"weight_db"`
	Without string  `json:"leader_without"`
	Share   float64 `json:"leader_without_probability"`
}

type traceNext struct {
	Check   string  `json:"check"`
	Title   string  `json:"title"`
	Minutes float64 `json:"minutes"`
	Climb   float64 `json:"climb_minutes"`
	Saves   float64 `json:"saves"`
	Why     string  `json:"why"`

	Along []string `json:"along,omitempty"` // checks on the same climb
}

// traceOption is a repair at the default rates and the app's guide prices.
type traceOption struct {
	Option   string  `json:"option"`
	Title    string  `json:"title"`
	Currency string  `json:"currency"`
	Pay      int64   `json:"pay_minor"`
	Cured    float64 `json:"cured"`
	Expected int64   `json:"expected_minor"`
	Hazard   string  `json:"hazard,omitempty"`
}

// longestTrace is how long the exact answer is waited for.
const longestTrace = 20 * time.Second

func traceCmd() *cobra.Command {
	var asJSON bool
	c := &cobra.Command{Use: "trace FILE", Short: "Rank the suspects of an open case file and name the next check", Args: cli.Exactly(1), RunE: func(c *cobra.Command, args []string) error {
		out, err := trace(c.Context(), args[0])
		if err != nil {
			return fmt.Errorf("%s: %w", args[0], err)
		}
		if asJSON {
			return cli.PrintJSON(c.OutOrStdout(), out)
		}
		return out.print(c.OutOrStdout())
	}}
	c.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return c
}

func trace(ctx context.Context, path string) (traceOut, error) {
	if ctx == nil {
		ctx = context.Background()
	}
	ctx, stop := context.WithTimeout(ctx, longestTrace)
	defer stop()
	data, err := readFile(path)
	if err != nil {
		return traceOut{}, err
	}
	file, err := takein.ParseFile(data)
	if err != nil {
		return traceOut{}, err
	}
	n, err := network(file.Unit)
	if err != nil {
		return traceOut{}, err
	}
	ev := file.Evidence()
	ranking, err := diagnose.AssessInFull(ctx, n, file.Situation())
	if err != nil {
		return traceOut{}, err
	}
	weights, err := ranking.Weigh(10)
	if err != nil {
		return traceOut{}, err
	}
	access, err := unitsheet.ParseAccess(file.Access)
	if err != nil {
		return traceOut{}, err
	}
	st := shop.DefaultSettings()
	heading := plan.Next(ranking, plan.VehicleState{Access: access, Skipped: file.Skipped}, st.Economics())
	out := traceOut{Unit: file.Unit, Knowledge: n.Version, Exact: ranking.Exact, Options: []traceOption{}, Stop: heading.Stop, InVain: heading.InVain, Doubt: heading.Doubt, HangsOn: weights.HangsOn, Suspects: []traceSuspect{}, Readings: []traceReading{}, Next: []traceNext{}}
	for k, s := range ranking.Suspects[:min(10, len(ranking.Suspects))] {
		out.Suspects = append(out.Suspects, traceSuspect{s.Cause.ID, s.Cause.Title, s.Probability, weights.Suspects[k]})
	}
	for i, r := range ev {
		w := weights.WhatIf[i]
		out.Readings = append(out.Readings, traceReading{r.ID, r.Finding, r.State, weights.Suspects[0][i], w.Leader, w.LeaderShare})
	}
	for _, a := range heading.Best {
		out.Next = append(out.Next, traceNext{a.Check.ID, a.Check.Title, a.Minutes, a.AccessMinutes, a.Saves, a.Why(n), a.Along})
	}
	if err := out.price(n, ranking, access, st); err != nil {
		return out, err
	}
	if ranking.Surprise.Outside {
		out.Surprise = "nothing listed explains these readings well"
	} else if len(ranking.Surprise.Unexplained) > 0 {
		out.Surprise = "not explained by the leader: " + strings.Join(ranking.Surprise.Unexplained, ", ")
	}
	return out, nil
}

// price lays out the options as a shop with the default rates would.
func (t *traceOut) price(n *knowledge.Network, a *diagnose.Assessment, access unitsheet.Access, st shop.Settings) error {
	m := decide.NewModel(n, a, access, st.Rates(), nil)
	all, err := m.Compare(decide.Choices{})
	if err != nil {
		return err
	}
	t.Headline = all.Headline
	for _, r := range all.Rows {
		t.Options = append(t.Options, traceOption{r.Option.ID, r.Title(), st.Currency, int64(r.Pay), r.Cured, int64(r.Expected), r.Hazard})
	}
	return nil
}

func (t traceOut) print(w io.Writer) error {
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	about := ""
	if !t.Exact {
		about = ", about: from the likeliest sets of causes"
	}
	fmt.Fprintf(tw, "Suspects for %s%s\n", t.Unit, about)
	for _, s := range t.Suspects {
		fmt.Fprintf(tw, "  %5.1f %%\t%s\t%s\n", 100*s.Probability, s.Title, s.Cause)
	}
	if len(t.Readings) > 0 {
		fmt.Fprintln(tw, "\nReadings, weight for the leader in points, ten for ten times likelier, and who leads without them")
	}
	for _, r := range t.Readings {
		fmt.Fprintf(tw, "  %+6.1f\t%s\t%s\t%s %.0f %%\n", r.Weight, r.Finding, r.State, r.Without, 100*r.Share)
	}
	if t.Surprise != "" {
		fmt.Fprintln(tw, "\nSurprise: "+t.Surprise)
	}
	fmt.Fprintln(tw, "\nNext, and what is worth doing on the same climb")
	for _, n := range t.Next {
		fmt.Fprintf(tw, "  %s\t%.0f min, %.0f to get there, saves about %.0f\t%s\n", n.Title, n.Minutes, n.Climb, n.Saves, strings.Join(n.Along, ", "))
	}
	if t.Stop != "" {
		fmt.Fprintln(tw, "  "+t.Stop)
		fmt.Fprintf(tw, "  If it is something else (%.0f %%), its repair is wasted: about %.0f from here.\n", 100*t.Doubt, t.InVain)
	}
	fmt.Fprintln(tw, "\nOptions at the default rates and guide prices: "+t.Headline)
	for _, o := range t.Options {
		hazard := ""
		if o.Hazard != "" {
			hazard = "leaves a hazard: " + o.Hazard
		}
		fmt.Fprintf(tw, "  %s\t%s now\t%.0f %% cured\t%s expected in all\t%s\n", o.Title, money.Amount(o.Pay).Format(o.Currency), 100*o.Cured, money.Amount(o.Expected).Format(o.Currency), hazard)
	}
	return tw.Flush()
}

func vocabularyCmd(kind string) *cobra.Command {
	var unit string
	var asJSON bool
	c := &cobra.Command{Use: kind, Short: "List the " + kind + " known for a unit", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
		n, err := network(unit)
		if err != nil {
			return err
		}
		if asJSON {
			return cli.PrintJSON(c.OutOrStdout(), map[string]any{"findings": n.Findings, "causes": n.Causes, "checks": n.Checks}[kind])
		}
		tw := tabwriter.NewWriter(c.OutOrStdout(), 0, 4, 2, ' ', 0)
		switch kind {
		case "findings":
			for _, f := range n.Findings {
				states := make([]string, len(f.States))
				for i, s := range f.States {
					states[i] = s.ID
				}
				fmt.Fprintf(tw, "%s\t%s\t%s\n", f.ID, f.Title, strings.Join(states, " "))
			}
		case "causes":
			for _, x := range n.Causes {
				fmt.Fprintf(tw, "%s\t%s\t%s\n", x.ID, x.Title, x.System)
			}
		case "checks":
			for _, x := range n.Checks {
				fmt.Fprintf(tw, "%s\t%s\t%.0f min\t%s\n", x.ID, x.Title, x.Minutes, x.Access)
			}
		}
		return tw.Flush()
	}}
	c.Flags().StringVar(&unit, "unit", "norrad-h4", "unit by id")
	c.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return c
}

func sortedKeys[V any](m map[string]V) []string {
	out := make([]string, 0, len(m))
	for k := range m {
		out = append(out, k)
	}
	slices.Sort(out)
	return out
}
