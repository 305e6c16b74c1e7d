package diagnose_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"innercompass/core/diagnose"
)

// situation is a vehicle of chance with this many readings: what its driver tells, then whatever was looked at.
func situation(n *diagnose.Network, seed uint64, readings int) diagnose.Situation {
	r := rand.New(rand.NewPCG(seed, 4))
	w := n.Sample(r, 60_000+200_000*r.Float64())
	s := diagnose.Situation{Distance: w.Distance}
	seen := map[string]bool{}
	add := func(id, source string) {
		if f, _ := n.Finding(id); !seen[id] && len(s.Readings) < readings && f.Members == "" {
			seen[id] = true
			s.Readings = append(s.Readings, w.Look(r, id, source)...)
		}
	}
	abnormal := w.Abnormal()
	r.Shuffle(len(abnormal), func(i, j int) { abnormal[i], abnormal[j] = abnormal[j], abnormal[i] })
	for _, id := range abnormal[:min(3, len(abnormal))] {
		add(id, "customer")
	}
	for _, id := range abnormal[:min(readings/3, len(abnormal))] {
		add(id, "seen")
	}
	for len(s.Readings) < readings {
		add(n.Findings[r.IntN(len(n.Findings))].ID, "seen")
	}
	return s
}

func BenchmarkAssess25(b *testing.B) {
	for _, unit := range []string{"norrad-h4", "vantrice-t10"} {
		n := load(b).Networks[unit]
		b.Run(fmt.Sprintf("%s/%d", unit, len(n.Causes)), func(b *testing.B) {
			for i := 0; b.Loop(); i++ {
				a, err := n.Assess(situation(n, uint64(i), 25))
				if err != nil {
					b.Fatal(err)
				}
				a.Next(diagnose.Stand{}, shop)
			}
		})
	}
}

func BenchmarkWeigh25(b *testing.B) {
	n := load(b).Networks["vantrice-t10"]
	var all []*diagnose.Assessment
	for i := range 20 {
		a, err := n.Assess(situation(n, uint64(i), 25))
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
