package listen

import (
	"cmp"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
)

// Level is how loud it is at a place.
type Level int

// The levels.
const (
	None Level = iota
	Faint
	Loud
)

// Mark is what was heard at a place in a state.
type Mark struct {
	State, Place string
	Level        Level
}

// Heard is what the marks come to.
type Heard struct {
	Sources []Suspect
	Else    float64 // probability that it is none of them
	Next    []Try   // what to listen to next, the most telling first
}

// Suspect is a source with its probability.
type Suspect struct {
	Source
	Share float64
	Ratio float64 // by how much the marks have raised its odds
}

// Try is one more place in one more state.
type Try struct {
	State, Place string
	Bits         float64
}

const (
	fades     = 0.4  // what of a sound reaches the next place
	elsewhere = 1.0  // prior weight of a source that is not in the list
	mostTries = 5    // that are proposed
	mixed     = 0.04 // share of marks that mean nothing
)

// chances of none, faint, loud for a sound of a strength (judgment).
func chances(strength float64) [3]float64 {
	loud := 1 / (1 + math.Exp(-(strength-0.55)/0.1))
	none := 1 / (1 + math.Exp((strength-0.12)/0.05))
	p := [3]float64{none, math.Max(0, 1-loud-none), loud}
	sum := p[0] + p[1] + p[2]
	for i := range p {
		p[i] = (1-mixed)*p[i]/sum + mixed/3
	}
	return p
}

// anywhere are the chances when the sound is of nothing that is known.
var anywhere = [3]float64{0.55, 0.25, 0.2}

// Hear weighs the sources by the marks. It fails for a state, a place or a level that there is not.
func (s Scene) Hear(marks []Mark) (Heard, error) {
	far := s.distances()
	weights := make([]float64, len(s.Sources)+1)
	total := elsewhere
	for i, x := range s.Sources {
		weights[i] = math.Log(x.prior)
		total += x.prior
	}
	for _, m := range marks {
		if !slices.ContainsFunc(s.States, func(x State) bool { return x.ID == m.State }) || !slices.ContainsFunc(s.Places, func(x Place) bool { return x.ID == m.Place }) || m.Level < None || m.Level > Loud {
			return Heard{}, fmt.Errorf("listen: %q at %q, level %d; want a state and a place of the scene, and a level of 0 to 2", m.State, m.Place, m.Level)
		}
		for i, x := range s.Sources {
			weights[i] += math.Log(chances(s.at(far, x, m.State, m.Place))[m.Level])
		}
		weights[len(s.Sources)] += math.Log(anywhere[m.Level])
	}
	p := normal(weights)
	out := Heard{Else: p[len(s.Sources)]}
	for i, x := range s.Sources {
		before := x.prior / total
		out.Sources = append(out.Sources, Suspect{x, p[i], p[i] / math.Max(1-p[i], 1e-12) / (before / (1 - before))})
	}
	slices.SortStableFunc(out.Sources, func(a, b Suspect) int { return cmp.Compare(b.Share, a.Share) })
	out.Next = s.next(far, p, marks)
	return out, nil
}

func normal(logs []float64) []float64 {
	top, sum := slices.Max(logs), 0.0
	out := make([]float64, len(logs))
	for i, l := range logs {
		out[i] = math.Exp(l - top)
		sum += out[i]
	}
	for i := range out {
		out[i] /= sum
	}
	return out
}

// at is how loud a source is at a place in a state.
func (s Scene) at(far map[string]map[string]int, x Source, state, place string) float64 {
	loudest := 0.0
	for _, from := range x.Places {
		if d, ok := far[from][place]; ok {
			loudest = math.Max(loudest, x.On[state]*math.Pow(fades, float64(d)))
		}
	}
	return loudest
}

// distances between places along the driveline.
func (s Scene) distances() map[string]map[string]int {
	out := map[string]map[string]int{}
	for _, from := range s.Places {
		seen := map[string]int{from.ID: 0}
		for queue := []string{from.ID}; len(queue) > 0; queue = queue[1:] {
			i := slices.IndexFunc(s.Places, func(p Place) bool { return p.ID == queue[0] })
			for _, next := range s.Places[i].Beside {
				if _, known := seen[next]; !known {
					seen[next] = seen[queue[0]] + 1
					queue = append(queue, next)
				}
			}
		}
		out[from.ID] = seen
	}
	return out
}

// next are the places and states whose mark would tell most, what was marked left out.
func (s Scene) next(far map[string]map[string]int, p []float64, marks []Mark) []Try {
	var out []Try
	before := entropy(p)
	for _, st := range s.States {
		for _, pl := range s.Places {
			if slices.ContainsFunc(marks, func(m Mark) bool { return m.State == st.ID && m.Place == pl.ID }) {
				continue
			}
			after := before
			given := make([]float64, len(p))
			for level := range 3 {
				mass := 0.0
				for i, x := range s.Sources {
					given[i] = p[i] * chances(s.at(far, x, st.ID, pl.ID))[level]
					mass += given[i]
				}
				given[len(s.Sources)] = p[len(s.Sources)] * anywhere[level]
				mass += given[len(s.Sources)]
				for i := range given {
					given[i] /= mass
				}
				after -= mass * (before - entropy(given))
			}
			out = append(out, Try{st.ID, pl.ID, before - after})
		}
	}
	slices.SortStableFunc(out, func(a, b Try) int { return cmp.Compare(b.Bits, a.Bits) })
	return out[:min(mostTries, len(out))]
}

func entropy(p []float64) float64 {
	h := 0.0
	for _, v := range p {
		if v > 0 {
			h -= v * math.Log2(v)
		}
	}
	return h
}

// Draw is what would be heard of a source, by the chances of the model.
func (s Scene) Draw(r *rand.Rand, x Source, state, place string) Level {
	p, u := chances(s.at(s.distances(), x, state, place)), r.Float64()
	for level, v := range p {
		if u -= v; u < 0 {
			return Level(level)
		}
	}
	return Loud
}
