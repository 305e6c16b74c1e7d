// Package roadtest holds a road test against the failures of a design: which explain it, which nothing driven so far tells apart, what does,
// and which cell to drive next.
package roadtest

import (
	"cmp"
	"math"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// Observed is a road test: what was seen, by cell, hot and cold apart. Cells that are missing were not driven.
type Observed struct{ Hot, Cold map[faultmap.Cell]string }

// Mistake is the probability that a cell says something else than what was there, spread evenly over
// its other states (common practice, no source).
const Mistake = 0.04

// gaugeMistake is the same of what a gauge shows (common practice, no source): it is read, not felt.
const gaugeMistake = 0.01

func mistake(b faultmap.Behaviour) float64 {
	switch b {
	case faultmap.Tap, faultmap.Line, faultmap.Command:
		return gaugeMistake
	}
	return Mistake
}

// Match is a fault held against a road test.
type Match struct {
	Row       int             // index into the rows
	Log       float64         // log likelihood of the road test, natural
	Share     float64         // of all rows, each taken as likely beforehand
	Agree     int             // abnormal cells that it explains
	Against   int             // cells that speak against it
	Silent    int             // abnormal cells that it neither needs nor forbids
	Contested []faultmap.Cell // the cells that speak against it
}

// Hold holds every row against a road test, the likeliest first. Rows that the road test cannot tell apart
// keep their order.
func Hold(rows []faultmap.Row, seen Observed) []Match {
	out := make([]Match, len(rows))
	best := math.Inf(-1)
	for i, r := range rows {
		out[i] = hold(r, seen)
		out[i].Row = i
		best = math.Max(best, out[i].Log)
	}
	sum := 0.0
	for i := range out {
		out[i].Share = math.Exp(out[i].Log - best)
		sum += out[i].Share
	}
	for i := range out {
		out[i].Share /= sum
	}
	slices.SortStableFunc(out, func(a, b Match) int {
		if math.Abs(a.Log-b.Log) < 1e-9 {
			return cmp.Compare(a.Row, b.Row)
		}
		return cmp.Compare(b.Log, a.Log)
	})
	return out
}

func hold(r faultmap.Row, seen Observed) Match {
	m := Match{}
	for _, side := range []struct {
		cells map[faultmap.Cell]string
		scale float64
	}{{seen.Hot, 1}, {seen.Cold, r.Cold}} {
		for _, cell := range sorted(side.cells) {
			state := side.cells[cell]
			if slices.Contains(r.Unknown, cell) {
				// Seen although the fault hides it: that tells nothing of which state, but is not free either.
				m.Log += math.Log(probability(r, cell, state, side.scale))
				if state != faultmap.Info(cell.Behaviour).Normal() {
					m.Silent++
				}
				continue
			}
			p := probability(r, cell, state, side.scale)
			m.Log += math.Log(p)
			said, says := r.At(cell)
			normal := state == faultmap.Info(cell.Behaviour).Normal()
			switch {
			case says && said.May(state) && !normal:
				m.Agree++
			case says && (said.Certainty*side.scale > 0.5 || !normal), !says && !normal:
				m.Against++
				m.Contested = append(m.Contested, cell)
			}
		}
	}
	return m
}

// sorted fixes the order of summing, so that equal road tests give equal numbers.
func sorted(cells map[faultmap.Cell]string) []faultmap.Cell {
	out := make([]faultmap.Cell, 0, len(cells))
	for c := range cells {
		out = append(out, c)
	}
	slices.SortFunc(out, func(a, b faultmap.Cell) int {
		return cmp.Or(strings.Compare(a.Range, b.Range), strings.Compare(string(a.Behaviour), string(b.Behaviour)))
	})
	return out
}

// probability of seeing a state in a cell when the fault is there.
func probability(r faultmap.Row, cell faultmap.Cell, state string, scale float64) float64 {
	states := len(faultmap.Info(cell.Behaviour).States)
	wrong := mistake(cell.Behaviour)
	other := wrong / float64(states-1)
	truth := func(s string) float64 { // of the state being seen when it is there
		if s == state {
			return 1 - wrong
		}
		return other
	}
	normal := truth(faultmap.Info(cell.Behaviour).Normal())
	if slices.Contains(r.Unknown, cell) {
		return 1 / float64(states)
	}
	said, says := r.At(cell)
	if !says {
		return normal
	}
	c := said.Certainty * scale
	out, left := c*truth(said.State), 1-c
	for _, o := range said.Besides {
		out, left = out+o.Certainty*scale*truth(o.State), left-o.Certainty*scale
	}
	return out + left*normal
}

// Groups sorts rows into groups that no road test of the whole grid can tell apart, in the order of the
// rows. Two rows belong together when they do the same in every cell, whatever the certainty: how surely a
// symptom is noticed does not tell faults apart.
func Groups(rows []faultmap.Row) [][]int {
	at := map[string]int{}
	var out [][]int
	for i, r := range rows {
		key := signature(r, nil)
		if j, ok := at[key]; ok {
			out[j] = append(out[j], i)
			continue
		}
		at[key] = len(out)
		out = append(out, []int{i})
	}
	return out
}

// Together returns the rows that what was driven cannot tell from row i, itself included: their grids agree
// in every cell that was observed.
func Together(rows []faultmap.Row, i int, seen Observed) []int {
	driven := map[faultmap.Cell]bool{}
	for c := range seen.Hot {
		driven[c] = true
	}
	for c := range seen.Cold {
		driven[c] = true
	}
	var out []int
	want := signature(rows[i], driven)
	for j, r := range rows {
		if signature(r, driven) == want {
			out = append(out, j)
		}
	}
	return out
}

// signature is what a row does, in the cells of among, or in all when among is nil.
func signature(r faultmap.Row, among map[faultmap.Cell]bool) string {
	var parts []string
	add := func(c faultmap.Cell, state string) {
		if among == nil || among[c] {
			parts = append(parts, c.Range+"."+string(c.Behaviour)+"="+state)
		}
	}
	for _, p := range r.Cells {
		add(p.Cell, p.State)
	}
	if among != nil { // no road test alone reads gauges
		for _, p := range r.Gauged {
			add(p.Cell, p.State)
		}
	}
	for _, c := range r.Unknown {
		add(c, "?")
	}
	slices.Sort(parts)
	return strings.Join(parts, " ")
}

// Differ lists the cells in which two rows do different things, in grid order.
func Differ(u *unitsheet.Unit, a, b faultmap.Row) []faultmap.Cell {
	var out []faultmap.Cell
	for _, c := range faultmap.Grid(u) {
		if in(a, c) != in(b, c) {
			out = append(out, c)
		}
	}
	return out
}

// in is what a row does in a cell: a state, "" for normal, "?" for unknown.
func in(r faultmap.Row, c faultmap.Cell) string {
	if p, ok := r.At(c); ok {
		return p.State
	}
	if slices.Contains(r.Unknown, c) {
		return "?"
	}
	return ""
}

// NextCell is the cell that was not driven yet whose answer would tell most, hot, with the entropy in bits
// that it takes away on average. ok is false when no cell would tell a hundredth of a bit.
func NextCell(u *unitsheet.Unit, rows []faultmap.Row, seen Observed) (next faultmap.Cell, bits float64, ok bool) {
	shares := make([]float64, len(rows))
	for _, m := range Hold(rows, seen) {
		shares[m.Row] = m.Share
	}
	for _, c := range faultmap.Grid(u) {
		if _, driven := seen.Hot[c]; driven {
			continue
		}
		if b := tells(rows, shares, c); b > bits+1e-12 {
			next, bits = c, b
		}
	}
	return next, bits, bits >= 0.01
}

// tells is the mutual information of a cell and the fault, in bits.
func tells(rows []faultmap.Row, shares []float64, c faultmap.Cell) float64 {
	total := 0.0
	for _, s := range faultmap.Info(c.Behaviour).States {
		p := 0.0
		given := make([]float64, len(rows))
		for i, r := range rows {
			given[i] = probability(r, c, s.ID, 1)
			p += shares[i] * given[i]
		}
		for i := range rows {
			if shares[i] > 0 && given[i] > 0 {
				total += shares[i] * given[i] * math.Log2(given[i]/p)
			}
		}
	}
	return total
}
