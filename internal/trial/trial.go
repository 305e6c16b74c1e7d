// Package trial gives tests what they all start from: the shipped knowledge, compiled once, a shop's figures, a complaint that is
// known, and vehicles of chance. Nothing but tests may import it.
package trial

import (
	"math/rand/v2"
	"sync"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/simulate"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// loaded compiles the shipped knowledge once for all tests.
var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

// Load is the shipped knowledge with its units.
func Load(t testing.TB) *catalog.Catalog {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c
}

// Shop is what an hour and a trial cost.
var Shop = plan.Economics{LabourRate: 84, Trial: 60}

// Flare is a four-speed that flares into third, hot, with low pressure where its direct clutch is fed.
func Flare() []diagnose.Reading {
	return []diagnose.Reading{
		{ID: "1", Finding: "road.hot.D3.shift", State: "flare", Source: "customer"},
		{ID: "2", Finding: "worse-when", State: "hot", Source: "customer"},
		{ID: "3", Finding: "fluid-level", State: "ok", Source: "measured"},
		{ID: "4", Finding: "road.hot.D3.shift", State: "flare", Source: "seen"},
		{ID: "5", Finding: "road.hot.D2.shift", State: "normal", Source: "seen"},
		{ID: "6", Finding: "road.hot.R.drives", State: "normal", Source: "seen"},
		{ID: "7", Finding: "pressure-pattern", State: "low-DC", Source: "measured"},
	}
}

// Rank is what readings mean.
func Rank(t testing.TB, n *knowledge.Network, r []diagnose.Reading) *diagnose.Assessment {
	t.Helper()
	out, err := diagnose.Assess(n, diagnose.Situation{Readings: r})
	if err != nil {
		t.Fatal(err)
	}
	return out
}

// Situation is a vehicle of chance with this many readings: what its driver tells, then whatever was looked at.
func Situation(n *knowledge.Network, seed uint64, readings int) diagnose.Situation {
	r := rand.New(rand.NewPCG(seed, 4))
	w := simulate.Sample(n, r, 60_000+200_000*r.Float64())
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
