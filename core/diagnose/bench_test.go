package diagnose_test

import (
	"context"
	"fmt"
	"slices"
	"testing"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/plan"
	"innercompass/internal/trial"
)

// The first ranking with its heading, and the exact answer, at 25 readings on vehicles of chance: the 95th percentile
// is reported beside the mean.
func BenchmarkAssess25(b *testing.B) {
	for _, unit := range []string{"norrad-h4", "vantrice-t10"} {
		n := trial.Load(b).Networks[unit]
		for name, assess := range map[string]func(diagnose.Situation) (*diagnose.Assessment, error){
			"first": func(s diagnose.Situation) (*diagnose.Assessment, error) { return diagnose.Assess(n, s) },
			"exact": func(s diagnose.Situation) (*diagnose.Assessment, error) {
				return diagnose.AssessInFull(context.Background(), n, s)
			},
		} {
			b.Run(fmt.Sprintf("%s/%d-causes/%s", unit, len(n.Causes), name), func(b *testing.B) {
				b.ReportAllocs()
				var took []float64
				exact := 0
				for i := 0; b.Loop(); i++ {
					b.StopTimer()
					s := trial.Situation(n, uint64(i), 25)
					b.StartTimer()
					from := time.Now()
					a, err := assess(s)
					if err != nil {
						b.Fatal(err)
					}
					if name == "first" {
						plan.Next(a, plan.VehicleState{}, trial.Shop)
					}
					took = append(took, float64(time.Since(from).Microseconds())/1000)
					if a.Exact {
						exact++
					}
				}
				slices.Sort(took)
				b.ReportMetric(took[len(took)*95/100], "p95-ms")
				b.ReportMetric(100*float64(exact)/float64(len(took)), "%exact")
			})
		}
	}
}

func BenchmarkWeigh25(b *testing.B) {
	n := trial.Load(b).Networks["vantrice-t10"]
	var all []*diagnose.Assessment
	for i := range 20 {
		a, err := diagnose.Assess(n, trial.Situation(n, uint64(i), 25))
		if err != nil {
			b.Fatal(err)
		}
		all = append(all, a)
	}
	b.ResetTimer()
	for i := 0; b.Loop(); i++ {
		if _, err := all[i%len(all)].Weigh(9); err != nil {
			b.Fatal(err)
		}
	}
}
