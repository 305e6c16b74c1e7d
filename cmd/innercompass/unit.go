package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"slices"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/knowledge"
	"innercompass/core/roadtest"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

func unitCmd() *cobra.Command {
	c := &cobra.Command{Use: "unit", Short: "Check and solve unit sheets, and what every failure would do"}
	c.AddCommand(
		unitAction("check FILE_OR_ID", "Check a unit sheet: every problem with its line, and what does not fit together", checkUnit),
		unitAction("solve FILE_OR_ID", "Ratios, speeds and torques of every range, from the tooth counts", solveUnit),
		unitAction("chart FILE_OR_ID", "Apply chart: what is on in each range", chartUnit),
		unitAction("faults FILE_OR_ID", "What every failure of the design would do in every range", faultsUnit),
		unitAction("stack FILE_OR_ID", "Every part in the order in which it comes out and goes back, with what is heeded at it", stackUnit),
		schemesCmd(), teethCmd(),
	)
	return c
}

// unitAction is a subcommand that prints one view of one unit, as text or JSON.
func unitAction(use, short string, print func(w io.Writer, name string, asJSON bool) error) *cobra.Command {
	var asJSON bool
	c := &cobra.Command{Use: use, Short: short, Args: cli.Exactly(1), RunE: func(c *cobra.Command, args []string) error {
		return print(c.OutOrStdout(), args[0], asJSON)
	}}
	c.Flags().BoolVar(&asJSON, "json", false, "print JSON")
	return c
}

// unitText takes a file if there is one of that name, else the text of a shipped unit.
func unitText(know *catalog.Catalog, name string) ([]byte, error) {
	if _, err := os.Stat(name); err == nil || strings.ContainsAny(name, "/.") {
		return readFile(name)
	}
	if text := know.Text(name); text != nil {
		return text, nil
	}
	return nil, fmt.Errorf("no unit %q; accepted: a file, or %s", name, strings.Join(sortedKeys(know.Networks), ", "))
}

// loadUnit reads, checks and compiles. The error lists every problem with its line.
func loadUnit(name string) (*knowledge.Network, error) {
	know, err := catalog.Load(embedded.FS)
	if err != nil {
		return nil, err
	}
	text, err := unitText(know, name)
	if err != nil {
		return nil, err
	}
	n, bad, err := know.Check(context.Background(), text)
	if err != nil {
		return nil, err
	}
	if bad != nil {
		return nil, problemsOf(name, bad)
	}
	return n, nil
}

func problemsOf(name string, bad []*unitsheet.Problem) error {
	out := make(catalog.Problems, len(bad))
	for i, p := range bad {
		out[i] = catalog.Problem{File: name, Line: p.Line, Path: p.Path, Reason: p.Reason, Accepted: p.Accepted}
	}
	return out
}

type sheetProblem struct {
	Line     int    `json:"line"`
	Path     string `json:"path"`
	Reason   string `json:"reason"`
	Accepted string `json:"accepted"`
}

func sheetProblems(in []*unitsheet.Problem) []sheetProblem {
	out := []sheetProblem{}
	for _, p := range in {
		out = append(out, sheetProblem{p.Line, p.Path, p.Reason, p.Accepted})
	}
	return out
}

var errSheet = errors.New("the sheet has problems")

func checkUnit(w io.Writer, name string, asJSON bool) error {
	know, err := catalog.Load(embedded.FS)
	if err != nil {
		return err
	}
	text, err := unitText(know, name)
	if err != nil {
		return err
	}
	n, bad, err := know.Check(context.Background(), text)
	if err != nil {
		return err
	}
	var doubts []*unitsheet.Problem
	if n != nil {
		doubts = know.Doubts(n, text)
	}
	if asJSON {
		if err := cli.PrintJSON(w, map[string]any{"good": n != nil, "problems": sheetProblems(bad), "doubts": sheetProblems(doubts)}); err != nil {
			return err
		}
		if n == nil {
			return errSheet
		}
		return nil
	}
	if n == nil {
		return problemsOf(name, bad)
	}
	fmt.Fprintf(w, "%s: good, %d ranges, %d elements, %d failures\n", n.Unit.Sheet.Name, len(n.Unit.Ranges), len(n.Unit.Elements), len(n.Faults))
	for _, d := range doubts {
		fmt.Fprintf(w, "  doubt, line %d: %v\n", d.Line, d)
	}
	return nil
}

type solvedRange struct {
	Range   string             `json:"range"`
	Outcome string             `json:"outcome"`
	Ratio   float64            `json:"ratio"`
	Coast   string             `json:"coast"`
	Applied []string           `json:"applied"`
	Holding []string           `json:"holding"`
	Speeds  map[string]float64 `json:"speeds"`
	Torques map[string]float64 `json:"torques"`
	Members map[string]float64 `json:"member_torques,omitempty"`
	Across  map[string]float64 `json:"speed_across"`
	Shared  []string           `json:"shared,omitempty"`
}

func solveUnit(w io.Writer, name string, asJSON bool) error {
	n, err := loadUnit(name)
	if err != nil {
		return err
	}
	var out []solvedRange
	for _, r := range n.Unit.Ranges {
		h := r.Healthy
		out = append(out, solvedRange{r.ID, string(h.Outcome), n.Unit.RatioOf(r), string(h.Coast), r.Applied, h.Holding, h.Speeds, h.Torques, h.Members, h.Slip, h.Shared})
	}
	if asJSON {
		return cli.PrintJSON(w, out)
	}
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	fmt.Fprintln(tw, "range\toutcome\tratio\tcoast\tapplied\tholding\ttorque on elements, input = 1")
	for _, r := range out {
		var torques []string
		for _, id := range slices.Concat(r.Applied, r.Holding) {
			torques = append(torques, fmt.Sprintf("%s %.4f", id, r.Torques[id]))
		}
		fmt.Fprintf(tw, "%s\t%s\t%.4f\t%s\t%s\t%s\t%s\n", r.Range, r.Outcome, r.Ratio, r.Coast, strings.Join(r.Applied, " "), strings.Join(r.Holding, " "), strings.Join(torques, ", "))
	}
	return tw.Flush()
}

type chartRow struct {
	Range    string            `json:"range"`
	Selector string            `json:"selector"`
	Ratio    float64           `json:"ratio"`
	Elements map[string]string `json:"elements"` // on, holds
}

func chartUnit(w io.Writer, name string, asJSON bool) error {
	n, err := loadUnit(name)
	if err != nil {
		return err
	}
	u := n.Unit
	out := []chartRow{}
	for _, r := range u.Ranges {
		row := chartRow{r.ID, r.Selector, u.RatioOf(r), map[string]string{}}
		for _, id := range r.Applied {
			row.Elements[id] = "on"
		}
		for _, id := range r.Healthy.Holding {
			row.Elements[id] = "holds"
		}
		out = append(out, row)
	}
	if asJSON {
		return cli.PrintJSON(w, out)
	}
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	fmt.Fprint(tw, "range")
	for _, e := range u.Elements {
		fmt.Fprint(tw, "\t"+e.ID)
	}
	fmt.Fprintln(tw, "\tratio")
	for _, r := range out {
		fmt.Fprint(tw, r.Range)
		for _, e := range u.Elements {
			fmt.Fprint(tw, "\t"+r.Elements[e.ID])
		}
		if r.Ratio == 0 {
			fmt.Fprintln(tw, "\t")
			continue
		}
		fmt.Fprintf(tw, "\t%.3f\n", r.Ratio)
	}
	return tw.Flush()
}

type faultRow struct {
	Kind  string      `json:"kind"`
	Part  string      `json:"part,omitempty"`
	Title string      `json:"title"`
	Cold  float64     `json:"cold"` // how far the certainties hold with cold fluid
	Cells []faultCell `json:"cells"`
	Like  []string    `json:"same_in_every_cell,omitempty"`
	Split string      `json:"split,omitempty"` // what tells it from the first of them
}

type faultCell struct {
	Range     string  `json:"range"`
	Behaviour string  `json:"behaviour"`
	State     string  `json:"state"`
	Certainty float64 `json:"certainty"`
	Detail    string  `json:"detail"`
}

func faultsUnit(w io.Writer, name string, asJSON bool) error {
	n, err := loadUnit(name)
	if err != nil {
		return err
	}
	out := faultRows(n)
	if asJSON {
		return cli.PrintJSON(w, out)
	}
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	for _, f := range out {
		fmt.Fprintln(tw, f.Title)
		for _, c := range f.Cells {
			fmt.Fprintf(tw, "  %s\t%s\t%s\t%.0f %%\t%s\n", c.Range, c.Behaviour, c.State, 100*c.Certainty, c.Detail)
		}
		if len(f.Cells) == 0 {
			fmt.Fprintln(tw, "  no range shows it")
		} else if len(f.Like) > 0 {
			fmt.Fprintf(tw, "  no road test tells it from: %s; split: %s\n", strings.Join(f.Like, ", "), f.Split)
		}
	}
	return tw.Flush()
}

func faultRows(n *knowledge.Network) []faultRow {
	out := make([]faultRow, len(n.Faults))
	for i, f := range n.Faults {
		out[i] = faultRow{Kind: string(f.Fault.Kind), Part: f.Fault.Part, Title: f.Title, Cold: f.Cold, Cells: []faultCell{}}
		for _, p := range f.Cells {
			out[i].Cells = append(out[i].Cells, faultCell{p.Cell.Range, string(p.Cell.Behaviour), p.State, p.Certainty, p.Detail})
		}
	}
	for _, g := range roadtest.Groups(n.Faults) {
		for _, i := range g {
			for _, j := range g {
				if j == i || len(n.Faults[i].Cells) == 0 {
					continue
				}
				out[i].Like = append(out[i].Like, n.Faults[j].Title)
				if out[i].Split == "" {
					out[i].Split = roadtest.Split(n.Unit, n.Faults[i], n.Faults[j])
				}
			}
		}
	}
	return out
}
