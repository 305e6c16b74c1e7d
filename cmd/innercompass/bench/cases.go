package bench

import (
	"context"
	"errors"
	"fmt"
	"io"
	"os"
	"os/signal"
	"runtime"
	"slices"
	"strings"
	"sync"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/casebench"
	"innercompass/internal/catalog"
	"innercompass/internal/shop"
	embedded "innercompass/knowledge"
)

// caseBench is what a bench of cases is asked to do.
type caseBench struct {
	ids, stage, unit string
	depth            depthFlag
	asJSON, each     bool
}

func benchCasesCmd() *cobra.Command {
	var b caseBench
	c := &cobra.Command{Use: "cases", Short: "Work on cases from the trade, told in stages",
		Long: `Works on cases that people of the trade have told in stages, translated into what a practitioner would have noted. For each and
in sum: where the true root stands at each stage and where a veteran would decide; the check proposed first after words and answers; whether
the advice was to stop, the option advised, what had no word, and how well probabilities are calibrated. Even cases may be used for tuning; odd
ones are run for their totals alone.`,
		Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
			know, err := catalog.Load(embedded.FS)
			if err != nil {
				return err
			}
			ctx, stop := signal.NotifyContext(c.Context(), os.Interrupt)
			defer stop()
			results, err := b.run(ctx, know)
			if err != nil {
				return err
			}
			if b.asJSON {
				return cli.PrintJSON(c.OutOrStdout(), struct {
					Results []casebench.Result `json:"results"`
					Sum     casebench.Sum      `json:"sum"`
				}{results, casebench.Add(results)})
			}
			return b.print(c.OutOrStdout(), results)
		}}
	f := c.Flags()
	f.StringVar(&b.ids, "ids", "even", "even, odd or all")
	f.StringVar(&b.stage, "stage", "", "print this stage of each case: "+strings.Join(casebench.Stages, ", ")+"; the one after which a veteran decides unless named")
	f.StringVar(&b.unit, "unit", "", "cases of one unit")
	b.depth.add(f)
	f.BoolVar(&b.each, "each", false, "print each case, not the sums alone")
	f.BoolVar(&b.asJSON, "json", false, "print JSON")
	return c
}

func (b caseBench) run(ctx context.Context, know *catalog.Catalog) ([]casebench.Result, error) {
	files, ok := map[string][]string{"even": {"even"}, "odd": {"odd"}, "all": {"even", "odd"}}[b.ids]
	if !ok {
		return nil, cli.Usage("--ids: %q; accepted: even, odd, all", b.ids)
	}
	if b.stage != "" && !slices.Contains(casebench.Stages, b.stage) {
		return nil, cli.Usage("--stage: %q; accepted: %s", b.stage, strings.Join(casebench.Stages, ", "))
	}
	var cases []casebench.Case
	for _, name := range files {
		some, err := catalog.LoadBench(embedded.Bench, "bench/"+name+".yaml")
		if err != nil {
			return nil, err
		}
		cases = append(cases, some...)
	}
	cases = slices.DeleteFunc(cases, func(c casebench.Case) bool { return b.unit != "" && c.Unit != b.unit })
	networks, err := b.depth.networks(know)
	if err != nil {
		return nil, err
	}
	st := shop.DefaultSettings()
	prices := casebench.Shop{Economics: st.Economics(), Rates: st.Rates()}
	results, errs := make([]casebench.Result, len(cases)), make([]error, len(cases))
	var wg sync.WaitGroup
	turn := make(chan struct{}, runtime.NumCPU())
	for i, c := range cases {
		wg.Go(func() {
			turn <- struct{}{}
			defer func() { <-turn }()
			n, ok := know.Networks[c.Unit]
			if !ok {
				errs[i] = fmt.Errorf("case %s: no unit %q", c.ID, c.Unit)
				return
			}
			if errs[i] = c.Check(n); errs[i] == nil {
				lesser := networks[c.Unit]
				results[i], errs[i] = casebench.Run(ctx, lesser, c.Fit(lesser), prices)
			}
		})
	}
	wg.Wait()
	return results, errors.Join(errs...)
}

func (b caseBench) print(w io.Writer, results []casebench.Result) error {
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	if b.each {
		fmt.Fprintln(tw, "case\tunit\tstage\troot\tshare\tleader\tits share\tnext\t\toption\t\tno word")
		for _, r := range results {
			at := r.Sure
			for _, s := range r.Stages {
				if s.Stage == b.stage {
					at = s
				}
			}
			rank := fmt.Sprint(at.Rank)
			if at.Rank == 0 {
				rank = "–"
			}
			leader := at.Leader
			if at.Right {
				leader = "="
			}
			if at.Stop {
				leader += " (stop)"
			}
			fmt.Fprintf(tw, "%s\t%s\t%s\t%s\t%.2f\t%s\t%.2f\t%s\t%s\t%s\t%s\t%d of %d\n", r.ID, r.Unit, at.Stage, rank, at.Probability, leader, at.LeaderShare, r.Next, r.NextIs, r.Option, r.OptionIs, len(r.Lacks), r.Lines)
		}
		fmt.Fprintln(tw)
	}
	for _, part := range []struct {
		title string
		keep  func(casebench.Result) bool
	}{{"all", func(casebench.Result) bool { return true }}, {"without those that coincide with a known failure", func(r casebench.Result) bool { return !r.Coincides }},
		{"without those that led to a change", func(r casebench.Result) bool { return !r.Spent }}} {
		var some []casebench.Result
		for _, r := range results {
			if part.keep(r) {
				some = append(some, r)
			}
		}
		if part.title != "all" && len(some) == len(results) {
			continue
		}
		printSum(tw, part.title, casebench.Add(some))
	}
	return tw.Flush()
}

func printSum(w io.Writer, title string, s casebench.Sum) {
	fmt.Fprintf(w, "%s\t%d cases, %d with a root that is not in the list\n", title, s.Cases, s.Unlisted)
	fmt.Fprintf(w, "root where a veteran decides\tfirst %d, first three %d\n", s.First, s.Three)
	for _, stage := range casebench.Stages {
		if at := s.Stages[stage]; at != nil {
			fmt.Fprintf(w, "after %s\tfirst %d, first three %d of %d\n", stage, at.First, at.Three, at.Cases)
		}
	}
	fmt.Fprintf(w, "next check\tgood %d, bad %d\n", s.NextGood, s.NextBad)
	fmt.Fprintf(w, "wrong leader\tabove 90 in 100: %d; with the advice to stop: %d\n", s.WrongCertain, s.WrongStop)
	fmt.Fprintf(w, "option\twhat a careful shop does: %d, what it never does: %d\n", s.OptionDo, s.OptionNever)
	fmt.Fprintf(w, "no word\t%d of %d lines\n", s.Lacks, s.Lines)
	for i, b := range s.Bins {
		if b.Count > 0 {
			fmt.Fprintf(w, "said %d to %d in 100\t%d times, said %.0f, right %.0f in 100\n", 20*i, 20*(i+1), b.Count, 100*b.Said/float64(b.Count), 100*b.Right/float64(b.Count))
		}
	}
	fmt.Fprintf(w, "Brier score\t%.3f\n\n", s.Brier)
}
