package sim_test

import (
	"testing"

	"innercompass/core/powertrain"
	"innercompass/core/sim"
	"innercompass/internal/trial"
)

// How many seconds of the road one second of a core makes; 500 are wanted.
func BenchmarkDrive(b *testing.B) {
	for _, id := range []string{"ombrin-s6", "norrad-h4", "vantrice-t10"} {
		b.Run(id, func(b *testing.B) {
			u := trial.Load(b).Networks[id].Unit
			for b.Loop() {
				s, err := sim.New(sim.Setup{Unit: u, Vehicle: powertrain.For(u), Celsius: 80})
				if err != nil {
					b.Fatal(err)
				}
				for i := range 12_000 {
					in := sim.Input{Selector: "D", Throttle: 0.35}
					if i < 500 {
						in.Throttle, in.Brake = 0, 1
					}
					s.Advance(in)
				}
			}
			b.ReportMetric(12*float64(b.N)/b.Elapsed().Seconds(), "s/s")
		})
	}
}
