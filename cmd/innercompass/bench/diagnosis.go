// Package bench has the commands that measure how good the computation is.
package bench

import (
	"context"
	"encoding/json"
	"fmt"
	"io"
	"maps"
	"math/rand/v2"
	"os"
	"os/signal"
	"runtime"
	"slices"
	"strings"
	"sync"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/knowledge"
	"innercompass/core/simulate"
	"innercompass/internal/catalog"
	"innercompass/internal/shop"
	embedded "innercompass/knowledge"
)

// benchPlan is what a bench of the diagnosis is asked to do.
type benchPlan struct {
	cases, networks int
	seed            uint64
	units, policies []string
	misses, asJSON  bool
	depth           depthFlag
}

// benchOut is the outcome for one way of drawing vehicles and one policy.
type benchOut struct {
	Vehicles string            `json:"vehicles"`
	Policy   string            `json:"policy"`
	Summary  simulate.Summary  `json:"summary"`
	Misses   []simulate.Result `json:"misses,omitempty"`
}

// Command measures how good the computation is.
func Command() *cobra.Command {
	c := &cobra.Command{Use: "bench", Short: "Measure how good the computation is"}
	c.AddCommand(benchDiagnosisCmd(), benchCasesCmd(), wordsCmd(), vehicleCmd())
	return c
}

func benchDiagnosisCmd() *cobra.Command {
	var plan benchPlan
	c := &cobra.Command{Use: "diagnosis", Short: "A virtual technician works on vehicles drawn from the knowledge base",
		Long: `A virtual technician works on vehicles drawn from the knowledge base: once as it is, and once with the strength of
every link moved by one level at random, which the advice does not know. The checks that each policy chooses are charged, until none is
worth its cost; then what is advised is repaired, again and again, until the vehicle is in order. The same seed gives the same vehicles,
and all policies work on the same.`,
		Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
			know, err := catalog.Load(embedded.FS)
			if err != nil {
				return err
			}
			ctx, stop := signal.NotifyContext(c.Context(), os.Interrupt)
			defer stop()
			out, err := plan.run(ctx, know, c.ErrOrStderr())
			if err != nil {
				return err
			}
			if plan.asJSON {
				return cli.PrintJSON(c.OutOrStdout(), out)
			}
			return printBench(c.OutOrStdout(), out)
		}}
	f := c.Flags()
	f.IntVar(&plan.cases, "cases", 60, "vehicles for each unit")
	f.Uint64Var(&plan.seed, "seed", 1, "of everything that is left to chance")
	f.IntVar(&plan.networks, "networks", 5, "perturbed networks for each unit; 0 leaves them out")
	f.StringSliceVar(&plan.units, "units", []string{"norrad-h4", "vantrice-t10", "ombrin-m5"}, "units to work on")
	f.StringSliceVar(&plan.policies, "policies", policyNames(), "ways of choosing the next check")
	plan.depth.add(f)
	f.BoolVar(&plan.misses, "misses", false, "list the vehicles of the first policy whose cause did not come first")
	f.BoolVar(&plan.asJSON, "json", false, "print JSON")
	return c
}

func policyNames() []string {
	var out []string
	for _, p := range simulate.Policies {
		out = append(out, p.Name)
	}
	return out
}

// work is one vehicle for one policy.
type work struct {
	out     int // index of the outcome
	truth   *knowledge.Network
	advisor *knowledge.Network
	number  int
	policy  simulate.Policy
}

func (p benchPlan) run(ctx context.Context, know *catalog.Catalog, progress io.Writer) ([]benchOut, error) {
	if p.cases < 1 || p.cases > 100_000 {
		return nil, cli.Usage("--cases: %d; accepted: 1 to 100000", p.cases)
	}
	var policies []simulate.Policy
	for _, name := range p.policies {
		at := -1
		for i, known := range simulate.Policies {
			if known.Name == name {
				at = i
			}
		}
		if at < 0 {
			return nil, cli.Usage("--policies: %q; accepted: %s", name, strings.Join(policyNames(), ", "))
		}
		policies = append(policies, simulate.Policies[at])
	}
	networks, err := p.depth.networks(know)
	if err != nil {
		return nil, err
	}
	var outs []benchOut
	var todo []work
	for _, kind := range []string{"as the knowledge says", "every strength a level off"} {
		perturbed := len(outs) > 0
		if perturbed && p.networks == 0 {
			break
		}
		from := len(outs)
		for _, policy := range policies {
			outs = append(outs, benchOut{Vehicles: kind, Policy: policy.Title})
		}
		for _, unit := range p.units {
			advisor, ok := know.Networks[unit]
			if !ok {
				return nil, cli.Usage("--units: %q; accepted: %s", unit, strings.Join(slices.Sorted(maps.Keys(know.Networks)), ", "))
			}
			truths := []*knowledge.Network{advisor}
			advisor = networks[unit]
			if perturbed {
				truths = nil
				for k := range p.networks {
					n, err := knowledge.Compile(know.KnowledgeOf(unit).Perturbed(rand.New(rand.NewPCG(p.seed, uint64(k)))), know.Networks[unit].Unit)
					if err != nil {
						return nil, err
					}
					truths = append(truths, n)
				}
			}
			for i := range p.cases {
				for k, policy := range policies {
					todo = append(todo, work{from + k, truths[i%len(truths)], advisor, i, policy})
				}
			}
		}
	}
	results, err := p.work(ctx, todo, progress)
	if err != nil {
		return nil, err
	}
	for i := range outs {
		var mine []simulate.Result
		for k, w := range todo {
			if w.out == i {
				mine = append(mine, results[k])
			}
		}
		outs[i].Summary = simulate.Summarise(mine)
		for _, r := range mine {
			if p.misses && outs[i].Policy == policies[0].Title && !r.Right {
				r.Shown = nil
				outs[i].Misses = append(outs[i].Misses, r)
			}
		}
	}
	return outs, nil
}

// work does all jobs on all processors; their order does not change the results.
func (p benchPlan) work(ctx context.Context, todo []work, progress io.Writer) ([]simulate.Result, error) {
	ctx, cancel := context.WithCancelCause(ctx)
	defer cancel(nil)
	results := make([]simulate.Result, len(todo))
	eco := shop.DefaultSettings().Economics()
	next := make(chan int)
	var wg sync.WaitGroup
	for range runtime.NumCPU() {
		wg.Go(func() {
			for i := range next {
				w := todo[i]
				var err error
				if results[i], err = simulate.Work(w.advisor, simulate.NewJob(w.truth, p.seed, w.number), w.policy, eco); err != nil {
					cancel(err)
				}
			}
		})
	}
	for i := range todo {
		if i%50 == 0 {
			fmt.Fprintf(progress, "\r%d of %d", i, len(todo))
		}
		select {
		case next <- i:
		case <-ctx.Done():
			close(next)
			wg.Wait()
			return nil, fmt.Errorf("stopped after %d of %d: %w", i, len(todo), context.Cause(ctx))
		}
	}
	close(next)
	wg.Wait()
	fmt.Fprintf(progress, "\r%d of %d\n", len(todo), len(todo))
	return results, context.Cause(ctx)
}

func printBench(w io.Writer, outs []benchOut) error {
	for i, o := range outs {
		if i == 0 || outs[i-1].Vehicles != o.Vehicles {
			fmt.Fprintf(w, "\nVehicles %s, %d of them. Mean ± standard error.\n\n", o.Vehicles, o.Summary.Jobs)
			t := tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
			fmt.Fprintln(t, "next check by\tright first\tin first three\twrong verdict\tchecks\tspent on checks\trepairs tried\tunit exchanged\tcost\tof the first\tBrier\tcalibration off by")
			for _, x := range outs {
				if x.Vehicles != o.Vehicles {
					continue
				}
				s := x.Summary
				fmt.Fprintf(t, "%s\t%s\t%s\t%s\t%.1f ± %.1f\t%.0f ± %.0f\t%.2f ± %.2f\t%s\t%.0f ± %.0f\t%.0f %%\t%.3f ± %.3f\t%.3f\n", x.Policy, percent(s.First), percent(s.Three), percent(s.Wrong),
					s.Checks.Value, s.Checks.Error, s.Looking.Value, s.Looking.Error, s.Repairs.Value, s.Repairs.Error, percent(s.Exchanged), s.Cost.Value, s.Cost.Error, 100*s.Cost.Value/o.Summary.Cost.Value, s.Brier.Value, s.Brier.Error, s.CalibrationError)
			}
			if err := t.Flush(); err != nil {
				return err
			}
			fmt.Fprintf(w, "\nWith the truth known: %.0f ± %.0f. Said and true, %s:\n\n", o.Summary.Known.Value, o.Summary.Known.Error, o.Policy)
			t = tabwriter.NewWriter(w, 0, 0, 2, ' ', 0)
			fmt.Fprintln(t, "probability\tsuspects\tsaid\ttrue")
			for _, b := range o.Summary.Reliability {
				if b.Count > 0 {
					fmt.Fprintf(t, "%.0f–%.0f %%\t%d\t%.0f %%\t%.0f %%\n", 100*b.From, 100*b.To, b.Count, 100*b.Said, 100*b.True)
				}
			}
			if err := t.Flush(); err != nil {
				return err
			}
		}
		for _, m := range o.Misses {
			line, err := json.Marshal(m)
			if err != nil {
				return err
			}
			fmt.Fprintln(w, string(line))
		}
	}
	return nil
}

func percent(m simulate.Mean) string {
	return fmt.Sprintf("%.1f ± %.1f %%", 100*m.Value, 100*m.Error)
}
