package vibration

import (
	"cmp"
	"math"
	"slices"
)

// part goes through the ways in which the ridges of a part came about; it adds to the belief and returns the evidence as a logarithm.
func (x *resolver) part(ridges []int, candidates [][]line, b *Belief) float64 {
	type way struct {
		owner []int // by ridge of the part: index of its candidate, −1 for unknown
		log   float64
	}
	ways := []way{{nil, 0}}
	flat := math.Log(x.m.Unknown / math.Log(x.m.High/x.m.Low))
	for _, i := range ridges {
		var next []way
		for _, w := range ways {
			next = append(next, way{append(slices.Clone(w.owner), -1), w.log + flat})
			for at, l := range candidates[i] {
				taken := false // a line owns one ridge at most
				for j, o := range w.owner {
					if o >= 0 {
						other := candidates[ridges[j]][o]
						taken = taken || other.class == l.class && other.harmonic == l.harmonic && other.drive == l.drive
					}
				}
				if !taken {
					next = append(next, way{append(slices.Clone(w.owner), at), 0})
				}
			}
		}
		top := math.Inf(-1)
		for j := range next {
			next[j].log = x.weigh(next[j].owner, ridges, candidates, flat)
			top = math.Max(top, next[j].log)
		}
		next = slices.DeleteFunc(next, func(w way) bool { return w.log < top+math.Log(cutOff) })
		if len(next) > budget {
			x.capped = true
			slices.SortFunc(next, func(a, b way) int { return cmp.Compare(b.log, a.log) })
			next = next[:budget]
		}
		ways = next
	}
	top, sum := math.Inf(-1), 0.0
	for _, w := range ways {
		top = math.Max(top, w.log)
	}
	touched := map[int]bool{}
	for _, i := range ridges {
		for _, l := range candidates[i] {
			touched[l.class] = true
		}
	}
	present := map[int]float64{}
	for _, w := range ways {
		p := math.Exp(w.log - top)
		sum += p
		there := map[int]bool{}
		for k, o := range w.owner {
			if o < 0 {
				b.Unknown[ridges[k]] += p
				continue
			}
			c := candidates[ridges[k]][o].class
			b.Owner[ridges[k]][c] += p
			there[c] = true
		}
		for c := range touched {
			if there[c] {
				present[c] += p
			} else {
				present[c] += p * x.unheard(c)
			}
		}
	}
	for c, p := range present {
		b.Present[c] = p / sum
	}
	for _, i := range ridges {
		b.Unknown[i] /= sum
		for c := range x.classes {
			b.Owner[i][c] /= sum
		}
	}
	return top + math.Log(sum)
}

// weigh is the evidence of one way, as a logarithm: unknown ridges lie anywhere in the band; a class that owns lines is there, its slip is
// integrated over all of them.
func (x *resolver) weigh(owner, ridges []int, candidates [][]line, flat float64) float64 {
	log := 0.0
	for k, o := range owner {
		if o < 0 {
			density := math.Exp(flat)
			for j := range k {
				if owner[j] < 0 {
					density += x.linked(x.ridges[ridges[j]], x.ridges[ridges[k]])
				}
			}
			log += math.Log(density)
			continue
		}
		c := candidates[ridges[k]][o].class
		first := true
		for j := range k {
			first = first && (owner[j] < 0 || candidates[ridges[j]][owner[j]].class != c)
		}
		if first {
			log += x.owned(c, owner, ridges, candidates)
		}
	}
	return log
}

// owned is the evidence that a class made the ridges that it owns, against its not being heard at all.
func (x *resolver) owned(c int, owner, ridges []int, candidates [][]line) float64 {
	log := math.Log(x.prior)
	has := make([]bool, len(seen)*x.drives)
	// Offsets y are of one slip N(0, t²) and reading N(0, s²) each: the slip is integrated in closed form.
	t := x.classes[c].Tolerance
	precision, pull, square, norm := 1/(t*t), 0.0, 0.0, -math.Log(t)
	for k, o := range owner {
		if o < 0 || candidates[ridges[k]][o].class != c {
			continue
		}
		l, s := candidates[ridges[k]][o], x.ridges[ridges[k]].SD
		has[l.drive*len(seen)+l.harmonic-1] = true
		precision, pull, square = precision+1/(s*s), pull+l.off/(s*s), square+l.off*l.off/(s*s)
		norm -= math.Log(s) + math.Log(2*math.Pi)/2
	}
	log += norm - math.Log(precision)/2 + (pull*pull/precision-square)/2
	for d := range x.drives {
		for h := range x.visible(c, d) {
			if p := x.shown(c, d, h); has[d*len(seen)+h] {
				log += math.Log(p)
			} else {
				log += math.Log(1 - p)
			}
		}
	}
	return log - math.Log(x.silent(c)+1-x.prior)
}
