package teeth

import (
	"cmp"
	"math"
	"slices"
)

// What people build (judgment, no source): rings near 78 teeth, three or four planets of 14 to 30, neighbors that share
// a ring or a sun; pairs of gears with some 64 teeth together.

func likelySet(s SetTeeth) float64 {
	score := -math.Pow(float64(s.Ring-78)/25, 2)
	switch s.Count {
	case 3, 4:
	case 5:
		score -= 0.5
	default:
		score--
	}
	if s.Planet < 14 || s.Planet > 30 {
		score--
	}
	return score
}

func likelyPair(p PairTeeth) float64 {
	return -math.Pow(float64(p.A+p.B-64)/12, 2)
}

func likelyNeighbors(a, b SetTeeth) float64 {
	score := 0.0
	if a.Ring == b.Ring {
		score += 0.8
	}
	if a.Sun == b.Sun {
		score += 0.4
	}
	if a.Count == b.Count {
		score += 0.2
	}
	return score
}

// likely is a quick score of a leaf: the best teeth of each unknown, neighbors not looked at.
func (s *search) likely(l leaf) float64 {
	score := 0.0
	for k, i := range l.at {
		if i < 0 {
			continue
		}
		v, best := s.values[k][i], math.Inf(-1)
		for _, t := range v.sets {
			if t.Count > 0 {
				best = math.Max(best, likelySet(t))
			}
		}
		for _, p := range v.pairs {
			best = math.Max(best, likelyPair(p))
		}
		if !math.IsInf(best, -1) {
			score += best
		}
	}
	return score
}

// beam is how many ways of choosing teeth for the sets before are kept while those of the next are chosen.
const beam = 60

// teethFor chooses the likeliest teeth for the values of a fit.
func (s *search) teethFor(at []int) (sets []SetTeeth, pairs []PairTeeth, final float64, score float64) {
	type way struct {
		sets  []SetTeeth
		score float64
	}
	ways := []way{{}}
	for k, u := range s.kinds {
		v := s.values[k][at[k]]
		switch {
		case u.set >= 0 && u.small:
			continue
		case u.set >= 0:
			choices := v.sets
			if s.train.Sets[u.set].Kind == TwoSuns {
				choices = joined(v, s.values[k+1][at[k+1]])
			}
			var next []way
			for _, w := range ways {
				for _, c := range choices {
					score := w.score + likelySet(c)
					if n := len(w.sets); n > 0 {
						score += likelyNeighbors(w.sets[n-1], c)
					}
					next = append(next, way{append(slices.Clone(w.sets), c), score})
				}
			}
			slices.SortStableFunc(next, func(a, b way) int { return cmp.Compare(b.score, a.score) })
			ways = next[:min(len(next), beam)]
			if len(ways) == 0 {
				return nil, nil, 0, math.Inf(-1)
			}
		case u.pair >= 0:
			best := slices.MaxFunc(v.pairs, func(a, b PairTeeth) int { return cmp.Compare(likelyPair(a), likelyPair(b)) })
			pairs = append(pairs, best)
			score += likelyPair(best)
		default:
			final = v.x
		}
	}
	return ways[0].sets, pairs, final, score + ways[0].score
}

// all lists the likeliest fits and counts them all.
func (s *search) all(most int) ([]Fit, float64) {
	b, ok := s.whole()
	if !ok {
		return nil, 0
	}
	bound := map[int]bool{}
	for k, l := range s.values { // a list that a ratio of its own has cut is bound as well
		if len(l) < len(s.train.list(s.kinds[k])) {
			bound[k] = true
		}
	}
	for _, w := range s.wants {
		for _, k := range w.ratio.over {
			bound[k] = true
		}
	}
	var all, loose []int
	for k := range s.kinds {
		if bound[k] || s.kinds[k].small && bound[k-1] || k+1 < len(s.kinds) && s.kinds[k+1].small && bound[k+1] {
			all = append(all, k)
		} else {
			loose = append(loose, k)
		}
	}
	count, parts := 1.0, [][]leaf{}
	for _, g := range s.groups(all, s.wants) {
		leaves := s.solve(g, b)
		if len(leaves) == 0 {
			return nil, 0
		}
		sum := 0.0
		for _, l := range leaves {
			sum += l.ways
		}
		count *= sum
		slices.SortStableFunc(leaves, func(a, b leaf) int { return cmp.Compare(s.likely(b), s.likely(a)) })
		parts = append(parts, leaves)
	}
	fits := s.combine(parts, loose, most)
	return fits, count
}

// combine takes the likeliest of every group, and then the others of one group after another.
func (s *search) combine(parts [][]leaf, loose []int, most int) []Fit {
	base := s.none()
	for _, p := range parts {
		lay(base, p[0])
	}
	s.usual(base, loose)
	combos := [][]int{base}
	for _, p := range parts {
		for _, l := range p[1:] {
			if len(combos) > 40*most {
				break
			}
			at := slices.Clone(base)
			lay(at, l)
			combos = append(combos, at)
		}
	}
	var out []Fit
	for _, at := range combos {
		f := Fit{Proportions: make([]float64, len(at))}
		for k, i := range at {
			f.Proportions[k] = s.values[k][i].x
		}
		if f.Sets, f.Pairs, f.Final, f.score = s.teethFor(at); math.IsInf(f.score, -1) {
			continue
		}
		for _, k := range loose {
			f.Loose = append(f.Loose, s.name(k))
		}
		out = append(out, f)
	}
	slices.SortStableFunc(out, func(a, b Fit) int { return cmp.Compare(b.score, a.score) })
	return out[:min(len(out), most)]
}

func lay(at []int, l leaf) {
	for k, i := range l.at {
		if i >= 0 {
			at[k] = i
		}
	}
}

// usual gives what no ratio binds its likeliest value.
func (s *search) usual(at []int, loose []int) {
	for _, k := range loose {
		if s.kinds[k].small {
			large := s.values[k-1][at[k-1]]
			best, most := 0, math.Inf(-1)
			for i, v := range s.values[k] {
				for _, t := range joined(large, v) {
					if score := likelySet(t) - math.Pow(v.x-2.5, 2); score > most {
						best, most = i, score
					}
				}
			}
			at[k] = best
			continue
		}
		best, most := 0, math.Inf(-1)
		for i := range s.values[k] {
			l := leaf{at: s.none()}
			l.at[k] = i
			if score := s.likely(l) - math.Pow(s.values[k][i].x-2.2, 2)/4; score > most {
				best, most = i, score
			}
		}
		at[k] = best
	}
}

// name says which set or pair an unknown belongs to.
func (s *search) name(k int) string {
	switch u := s.kinds[k]; {
	case u.set >= 0:
		return s.train.Sets[u.set].Name
	case u.pair >= 0:
		return s.train.Pairs[u.pair].Name
	}
	return "final drive"
}
