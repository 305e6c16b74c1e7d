package bench

import (
	"context"
	"errors"
	"fmt"
	"io"
	"maps"
	"os"
	"os/signal"
	"runtime"
	"slices"
	"strings"
	"sync"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/vehiclebench"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// vehicleSum is what drives of one unit, or of all, came to.
type vehicleSum struct {
	Unit       string `json:"unit"`
	Drives     int    `json:"drives"` // with a fault
	First      int    `json:"first"`  // of them, the right one or a look-alike first
	Three      int    `json:"three"`  // among the first three
	Sound      int    `json:"sound"`  // drives of sound vehicles
	ToldSound  int    `json:"told_sound"`
	Unnoticed  int    `json:"unnoticed"`   // with a fault, and nothing abnormal was seen
	FirstSeen  int    `json:"first_seen"`  // of those that were noticed, first
	ThreesSeen int    `json:"threes_seen"` // likewise
}

func (s *vehicleSum) add(r vehiclebench.Result) {
	if r.Row < 0 {
		s.Sound++
		if r.Place == 1 {
			s.ToldSound++
		}
		return
	}
	s.Drives++
	first, three := r.Place == 1, r.Place >= 1 && r.Place <= 3
	s.First, s.Three = s.First+one(first), s.Three+one(three)
	if r.Seen == 0 {
		s.Unnoticed++
		return
	}
	s.FirstSeen, s.ThreesSeen = s.FirstSeen+one(first), s.ThreesSeen+one(three)
}

func one(b bool) int {
	if b {
		return 1
	}
	return 0
}

func vehicleCmd() *cobra.Command {
	var seeds int
	var units []string
	var asJSON, each bool
	c := &cobra.Command{Use: "vehicle", Short: "Hidden faults in simulated vehicles, driven with noisy tools and found again",
		Long: `Puts every failure of a design that the simulated vehicle can have into it, unknown to what follows: the vehicle is driven hot and cold, with
tools that tremble; its shifts are told from the recording, pressures from the taps that its sheet has, the rest from the seat; what was seen is held against all
failures of the design. Counted is where the right one stands, or one that does the same in all that was looked at.`,
		Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error {
			if seeds < 1 || seeds > 100 {
				return cli.Usage("--seeds: %d; accepted: 1 to 100", seeds)
			}
			know, err := catalog.Load(embedded.FS)
			if err != nil {
				return err
			}
			ctx, stop := signal.NotifyContext(c.Context(), os.Interrupt)
			defer stop()
			results, err := runVehicles(ctx, know, units, seeds)
			if err != nil {
				return err
			}
			if asJSON {
				return cli.PrintJSON(c.OutOrStdout(), results)
			}
			return printVehicles(c.OutOrStdout(), results, each)
		}}
	f := c.Flags()
	f.IntVar(&seeds, "seeds", 3, "drives of each fault at each temperature")
	f.StringSliceVar(&units, "units", nil, "units to drive; all that come with the app when left out")
	f.BoolVar(&each, "each", false, "list what did not come first")
	f.BoolVar(&asJSON, "json", false, "print JSON")
	return c
}

// drivenUnit are the drives of one unit.
type drivenUnit struct {
	Unit    string                `json:"unit"`
	Results []vehiclebench.Result `json:"results"`
}

func runVehicles(ctx context.Context, know *catalog.Catalog, units []string, seeds int) ([]drivenUnit, error) {
	if len(units) == 0 {
		for _, id := range slices.Sorted(maps.Keys(know.Networks)) {
			if u := know.Networks[id].Unit; u.Machine != nil && u.Sheet.ID == id {
				units = append(units, id)
			}
		}
	}
	var out []drivenUnit
	for _, id := range units {
		n, ok := know.Networks[id]
		if !ok {
			return nil, cli.Usage("--units: %q; accepted: %s", id, strings.Join(slices.Sorted(maps.Keys(know.Networks)), ", "))
		}
		b, err := vehiclebench.New(n.Unit)
		if err != nil {
			return nil, fmt.Errorf("%s: %w", id, err)
		}
		jobs := b.Jobs(seeds)
		d := drivenUnit{Unit: id, Results: make([]vehiclebench.Result, len(jobs))}
		errs := make([]error, len(jobs))
		next := make(chan int)
		var wg sync.WaitGroup
		for range runtime.GOMAXPROCS(0) {
			wg.Go(func() {
				for i := range next {
					d.Results[i], errs[i] = b.Run(jobs[i])
				}
			})
		}
		for i := range jobs {
			if ctx.Err() != nil {
				break
			}
			next <- i
		}
		close(next)
		wg.Wait()
		if err := errors.Join(append(errs, ctx.Err())...); err != nil {
			return nil, fmt.Errorf("%s: %w", id, err)
		}
		out = append(out, d)
	}
	return out, nil
}

func printVehicles(w io.Writer, all []drivenUnit, each bool) error {
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	fmt.Fprintln(tw, "unit\tdrives\tfirst\tin three\tnoticed\tfirst of them\tin three\tsound\ttold as sound")
	total := vehicleSum{Unit: "all"}
	line := func(s vehicleSum) {
		seen := s.Drives - s.Unnoticed
		fmt.Fprintf(tw, "%s\t%d\t%s\t%s\t%d\t%s\t%s\t%d\t%s\n", s.Unit, s.Drives, share(s.First, s.Drives), share(s.Three, s.Drives), seen, share(s.FirstSeen, seen), share(s.ThreesSeen, seen), s.Sound, share(s.ToldSound, s.Sound))
	}
	for _, d := range all {
		s := vehicleSum{Unit: d.Unit}
		for _, r := range d.Results {
			s.add(r)
			total.add(r)
		}
		line(s)
	}
	line(total)
	if err := tw.Flush(); err != nil || !each {
		return err
	}
	for _, d := range all {
		for _, r := range d.Results {
			if r.Place != 1 {
				truth := r.Failure
				if r.Row < 0 {
					truth = "sound"
				}
				fmt.Fprintf(w, "%s, %s, seed %d: %s is number %d after %s; seen: %s\n", d.Unit, r.Temperature, r.Seed, truth, r.Place, r.Leader, strings.Join(r.Saw, ", "))
			}
		}
	}
	return nil
}

func share(a, b int) string {
	if b == 0 {
		return "–"
	}
	return fmt.Sprintf("%.0f %%", 100*float64(a)/float64(b))
}
