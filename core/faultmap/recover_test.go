package faultmap_test

import (
	"math/rand/v2"
	"slices"
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// full is the road test of a vehicle with one fault, driven in every cell: what the fault surely does, and
// normal elsewhere. Cells that the fault makes unobservable, or shows only now and then, stay empty.
func full(u *unitsheet.Unit, row faultmap.Row) map[faultmap.Cell]string {
	out := map[faultmap.Cell]string{}
	for _, c := range faultmap.Grid(u) {
		p, says := row.At(c)
		switch {
		case slices.Contains(row.Unknown, c), says && p.Certainty < 0.5:
		case says:
			out[c] = p.State
		default:
			out[c] = faultmap.Info(c.Behaviour).Normal()
		}
	}
	return out
}

// rank is the place, from 1, at which row i or one that no grid tells from it comes up.
func rank(rows []faultmap.Row, groups [][]int, i int, seen faultmap.Observed) int {
	var own []int
	for _, g := range groups {
		if slices.Contains(g, i) {
			own = g
		}
	}
	place := 0
	met := map[int]bool{}
	for _, m := range faultmap.Hold(rows, seen) {
		g := slices.IndexFunc(groups, func(g []int) bool { return slices.Contains(g, m.Row) })
		if met[g] {
			continue
		}
		met[g] = true
		place++
		if slices.Contains(own, m.Row) {
			return place
		}
	}
	return 0
}

// elemental are the faults of single elements and freewheels.
func elemental(f faultmap.Fault) bool {
	return slices.Contains([]faultmap.Kind{faultmap.NeverApplies, faultmap.NeverReleases, faultmap.NeverHolds, faultmap.Seized, faultmap.ElementSlips, faultmap.AppliesLate, faultmap.ReleasesLate}, f.Kind)
}

func TestEverySeparableFaultIsFoundFirstFromItsOwnGrid(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for id, u := range c.Units {
		rows, err := faultmap.Map(u)
		if err != nil {
			t.Fatal(err)
		}
		groups := faultmap.Groups(rows)
		found := 0
		for i, r := range rows {
			if !elemental(r.Fault) || len(r.Cells) == 0 {
				continue
			}
			seen := faultmap.Observed{Hot: full(u, r)}
			if shown(seen) == 0 {
				continue // its symptoms are all now and then: nothing was seen
			}
			found++
			if p := rank(rows, groups, i, seen); p != 1 {
				best := rows[faultmap.Hold(rows, seen)[0].Row]
				t.Errorf("%s: %s comes up at place %d, behind %s", id, r.Title, p, best.Title)
			}
		}
		if found < 8 {
			t.Errorf("%s: only %d faults tried", id, found)
		}
	}
}

// shown counts abnormal cells.
func shown(o faultmap.Observed) int {
	n := 0
	for c, s := range o.Hot {
		if s != faultmap.Info(c.Behaviour).Normal() {
			n++
		}
	}
	return n
}

// With two cells of the grid read wrong at random, the fault is still in the first three 95 times in 100.
func TestTwoWrongCellsDoNotHideAFault(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for id, u := range c.Units {
		rows, err := faultmap.Map(u)
		if err != nil {
			t.Fatal(err)
		}
		groups := faultmap.Groups(rows)
		rng := rand.New(rand.NewPCG(3, uint64(len(rows))))
		tried, kept := 0, 0
		for i, r := range rows {
			if !elemental(r.Fault) || len(r.Cells) == 0 {
				continue
			}
			for range 20 {
				seen := faultmap.Observed{Hot: full(u, r)}
				if shown(seen) == 0 {
					break
				}
				spoil(rng, u, seen.Hot)
				tried++
				if p := rank(rows, groups, i, seen); p <= 3 {
					kept++
				}
			}
		}
		share := float64(kept) / float64(tried)
		t.Logf("%s: %d of %d in the first three (%.1f %%)", id, kept, tried, 100*share)
		if share < 0.95 {
			t.Errorf("%s: only %.1f %% in the first three", id, 100*share)
		}
	}
}

// spoil turns two driven cells into other states of theirs.
func spoil(rng *rand.Rand, u *unitsheet.Unit, seen map[faultmap.Cell]string) {
	var driven []faultmap.Cell
	for _, c := range faultmap.Grid(u) {
		if _, ok := seen[c]; ok {
			driven = append(driven, c)
		}
	}
	for _, j := range rng.Perm(len(driven))[:2] {
		states := faultmap.Info(driven[j].Behaviour).States
		for {
			if s := states[rng.IntN(len(states))].ID; s != seen[driven[j]] {
				seen[driven[j]] = s
				break
			}
		}
	}
}
