package shifts

import (
	"math"
	"slices"
)

// Prices of the path (from the study).
const (
	mostCost    = 20.0 // of a sample, however far it is off
	betweenCost = 4.5
	changeCost  = 5.0  // between a gear and between
	jumpCost    = 14.0 // from gear to gear
	leastHeld   = 0.12 // s: a gear held for less, between two times between, is none
	slowest     = 60.0 // rev/min of the output, below which no ratio is told
)

// between is the state that is no gear.
const between = -1

// path names each sample by the index of its gear, or between.
func path(s samples, gears []Gear, n Noise) []int {
	k := len(gears)
	cost := make([]float64, k+1) // the last is between
	next := make([]float64, k+1)
	back := make([]int8, (k+1)*len(s.time))
	for i := range s.time {
		// The cheapest way into each state: to stay, from between, or from any gear.
		best := 0
		for g := 1; g < k; g++ {
			if cost[g] < cost[best] {
				best = g
			}
		}
		for g := range k + 1 {
			from, c := g, cost[g]
			enter := changeCost
			if g < k {
				if x := cost[best] + jumpCost; x < c {
					from, c = best, x
				}
				if x := cost[k] + enter; x < c {
					from, c = k, x
				}
			} else if x := cost[best] + enter; x < c {
				from, c = best, x
			}
			back[i*(k+1)+g] = int8(from) //nolint:gosec // a unit has some ten gears
			next[g] = c
		}
		for g := range k {
			next[g] += s.cost(i, gears[g].Ratio, n)
		}
		next[k] += betweenCost
		cost, next = next, cost
	}
	out := make([]int, len(s.time))
	at := 0
	for g := range cost {
		if cost[g] < cost[at] {
			at = g
		}
	}
	for i := len(out) - 1; i >= 0; i-- {
		out[i] = at
		if at == k {
			out[i] = between
		}
		at = int(back[i*(k+1)+at])
	}
	brief(out, s.time)
	return out
}

// cost of a sample in a gear.
func (s samples) cost(i int, ratio float64, n Noise) float64 {
	if math.Abs(s.output[i]) < slowest {
		return betweenCost - 0.1 // nothing is told: it stays what it was
	}
	z := (s.turbine[i] - ratio*s.output[i]) / n.of(s.turbine[i], ratio)
	return math.Min(mostCost, z*z/2)
}

// of is how surely a turbine speed is told from ratio times output, as a standard deviation: of both speeds, and of what creeps in the unit.
func (n Noise) of(turbine, ratio float64) float64 {
	loose := 0.003*math.Abs(turbine) + 2
	return math.Sqrt(n.Turbine*n.Turbine + ratio*ratio*n.Output*n.Output + loose*loose)
}

// brief takes out gears that were only passed through: a flare that falls back through the ratio of the old gear would cut itself off.
func brief(names []int, time []float64) {
	for begin := 0; begin < len(names); {
		end := begin
		for end < len(names) && names[end] == names[begin] {
			end++
		}
		if names[begin] != between && begin > 0 && end < len(names) && names[begin-1] == between && names[end] == between && time[end-1]-time[begin] < leastHeld {
			for i := begin; i < end; i++ {
				names[i] = between
			}
		}
		begin = end
	}
}

// run is a stretch of samples in one gear, or between: from begin, before end.
type run struct{ gear, begin, end int }

func runs(names []int) []run {
	var out []run
	for i, g := range names {
		if i == 0 || g != names[i-1] {
			out = append(out, run{g, i, i})
		}
		out[len(out)-1].end = i + 1
	}
	return out
}

// offset is how much later the output's stamps are than the turbine's, in s: the shift that makes held gears fit best.
func offset(d Drive, gears []Gear, n Noise) float64 {
	const (
		reach = 0.160
		step  = 0.005
		most  = 300.0 // s that are looked at
	)
	at := 0.0
	for range 3 {
		s := d.aligned(at, most)
		names := path(s, gears, n)
		var held []int
		for i, g := range names {
			if g != between && math.Abs(s.output[i]) > slowest {
				held = append(held, i)
			}
		}
		if len(held) < 20 {
			return at
		}
		// Held gears on a slope tell: what the offset changes is slope times offset.
		off := func(delta float64) float64 {
			sum := 0.0
			for _, i := range held {
				x := (s.turbine[i] - gears[names[i]].Ratio*d.Output.At(s.time[i]+delta)) / n.of(s.turbine[i], gears[names[i]].Ratio)
				sum += math.Min(9, x*x)
			}
			return sum
		}
		var grid, values []float64
		for x := -reach; x <= reach+step/2; x += step {
			grid, values = append(grid, x), append(values, off(x))
		}
		best := slices.Index(values, slices.Min(values))
		found := grid[best]
		if best > 0 && best < len(grid)-1 {
			a, b, c := values[best-1], values[best], values[best+1]
			if curve := a - 2*b + c; curve > 0 {
				found += step * (a - c) / (2 * curve)
			}
		}
		if math.Abs(found-at) < 0.0005 {
			return found
		}
		at = found
	}
	return at
}
