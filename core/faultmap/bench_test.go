package faultmap_test

import (
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/gearing"
)

// All faults of the largest sheet over all of its ranges.
func BenchmarkMapOfTenSpeed(b *testing.B) {
	c, err := loaded()
	if err != nil {
		b.Fatal(err)
	}
	u := c.Units["vantrice-t10"]
	b.ReportAllocs()
	for b.Loop() {
		if _, err := faultmap.Map(u); err != nil {
			b.Fatal(err)
		}
	}
}

// One healthy range of every sheet, the slowest sheet counts.
func BenchmarkRangeOfEachSheet(b *testing.B) {
	c, err := loaded()
	if err != nil {
		b.Fatal(err)
	}
	for id, u := range c.Units {
		b.Run(id, func(b *testing.B) {
			for b.Loop() {
				for _, r := range u.Ranges {
					if _, err := u.Machine.Solve(gearing.State{Applied: r.Applied}); err != nil {
						b.Fatal(err)
					}
				}
			}
			b.ReportMetric(float64(b.Elapsed().Microseconds())/float64(b.N*len(u.Ranges)), "µs/range")
		})
	}
}
