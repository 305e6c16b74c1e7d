package vibration

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Ridge is a line that was found over a drive: how often it beats for each turn of the output shaft, and how well that is read.
type Ridge struct {
	Order float64
	SD    float64 // standard deviation, as a share
}

// Model is what is expected before anything was heard.
type Model struct {
	Speed   float64 // by how much the speed of the whole drive may be off, share: one error for all ridges
	Present float64 // how many sources are heard in a drive like this
	Unknown float64 // and how many ridges that nothing in the list explains
	Low     float64 // orders between which ridges were looked for
	High    float64
}

// UsualModel expects three sources and one and a half ridges of none (measured in a study of synthetic drives: fewer, and bearings are
// taken for what is not in the list).
var UsualModel = Model{Speed: 0.01, Present: 3, Unknown: 1.5, Low: 0.2, High: 40}

// seen is how often a source that is there shows its 1st, 2nd, 3rd multiple (found in the same study, and only valid for its recipe).
var seen = []float64{0.95, 0.5, 0.12}

const (
	widest  = 4.0  // standard deviations beyond which a line is no candidate for a ridge
	nearest = 3    // candidates of a ridge
	cutOff  = 1e-7 // of the best explanation, below which one is not followed
	budget  = 4000 // explanations that are followed for one speed error
	finest  = 1e-3 // step between the speed errors that are gone through, over three standard deviations to either side
)

// Class are sources that stand on one order in this state: nothing that is heard here tells them apart.
type Class struct {
	IDs, Names []string
	Family     Family
	Order      float64
	Tolerance  float64
	Harmonics  int
}

// Name says the class in a line.
func (c Class) Name() string { return strings.Join(c.Names, " or ") }

// Classes joins the sources of a list that stand on one order; one without load is left out where loaded ones stand there too.
func (l List) Classes() []Class {
	var out []Class
	for _, s := range l.Sources {
		if l.Output == 0 {
			return nil
		}
		order := s.Hertz / l.Output
		i := slices.IndexFunc(out, func(c Class) bool { return math.Abs(c.Order/order-1) < 1e-6 })
		if i < 0 {
			out = append(out, Class{Family: s.Family, Order: order})
			i = len(out) - 1
		}
		c := &out[i]
		c.IDs, c.Names = append(c.IDs, s.ID), append(c.Names, s.Name)
		c.Tolerance, c.Harmonics = math.Max(c.Tolerance, s.Tolerance), max(c.Harmonics, s.Harmonics)
	}
	return out
}

// Belief is what ridges make of the classes.
type Belief struct {
	Present []float64   // by class: that it is there
	Owner   [][]float64 // by ridge and class: that the ridge is its
	Unknown []float64   // by ridge: that it is of nothing in the list
	Capped  bool        // there were more explanations than were followed
}

// Resolve weighs every way in which classes and unknown things may have made the ridges. Speed is off by one error for the whole drive,
// each class by one slip for all its lines; both are integrated. It fails for ridges and models that cannot be.
func Resolve(classes []Class, ridges []Ridge, m Model) (Belief, error) {
	if !(m.Speed >= 0) || !(m.Present > 0) || !(m.Unknown > 0) || !(m.Low > 0 && m.High > m.Low) {
		return Belief{}, fmt.Errorf("vibration: a model of %+v; want a speed error of 0 or more, expected numbers above 0, and a band", m)
	}
	if len(ridges) > 12 {
		return Belief{}, fmt.Errorf("vibration: %d ridges; want the 12 strongest at most", len(ridges))
	}
	for _, r := range ridges {
		if !(r.Order > 0) || !(r.SD > 0 && r.SD < 0.2) {
			return Belief{}, fmt.Errorf("vibration: a ridge at %v with a doubt of %v; want an order above 0, and a share up to 0.2", r.Order, r.SD)
		}
	}
	x := resolver{classes: classes, ridges: ridges, m: m, prior: math.Min(0.5, m.Present/math.Max(1, float64(len(classes))))}
	return x.integrate(), nil
}

type resolver struct {
	classes []Class
	ridges  []Ridge
	m       Model
	prior   float64
	capped  bool
}

// integrate goes through the speed errors.
func (x *resolver) integrate() Belief {
	n := len(x.classes)
	out := Belief{Present: make([]float64, n), Unknown: make([]float64, len(x.ridges)), Owner: make([][]float64, len(x.ridges))}
	for i := range out.Owner {
		out.Owner[i] = make([]float64, n)
	}
	type at struct {
		log    float64
		belief Belief
	}
	var all []at
	count := 1
	if x.m.Speed > 0 { // no coarser than a shaft's line is wide
		count += 2 * int(math.Ceil(3*x.m.Speed/math.Min(x.m.Speed/10, finest)))
	}
	for k := range count {
		z := 0.0
		if count > 1 {
			z = 3 * (2*float64(k)/float64(count-1) - 1)
		}
		log, b := x.given(z * x.m.Speed)
		all = append(all, at{log - z*z/2, b})
	}
	top := math.Inf(-1)
	for _, a := range all {
		top = math.Max(top, a.log)
	}
	sum := 0.0
	for _, a := range all {
		w := math.Exp(a.log - top)
		sum += w
		for c := range n {
			out.Present[c] += w * a.belief.Present[c]
		}
		for i := range x.ridges {
			out.Unknown[i] += w * a.belief.Unknown[i]
			for c := range n {
				out.Owner[i][c] += w * a.belief.Owner[i][c]
			}
		}
	}
	for c := range n {
		out.Present[c] /= sum
	}
	for i := range x.ridges {
		out.Unknown[i] /= sum
		for c := range n {
			out.Owner[i][c] /= sum
		}
	}
	out.Capped = x.capped
	return out
}

// line is one multiple of a class that may have made a ridge, with how far the ridge lies from it, in ln.
type line struct {
	class, harmonic int
	off             float64
}

// given is the evidence, as a logarithm, and the belief with one speed error: the ridges fall into parts that share no class, and each part is gone
// through by itself.
func (x *resolver) given(speed float64) (float64, Belief) {
	n := len(x.classes)
	b := Belief{Present: make([]float64, n), Unknown: make([]float64, len(x.ridges)), Owner: make([][]float64, len(x.ridges))}
	candidates := make([][]line, len(x.ridges))
	for i, r := range x.ridges {
		b.Owner[i] = make([]float64, n)
		candidates[i] = x.candidates(r, speed)
	}
	for c := range n {
		b.Present[c] = x.unheard(c)
	}
	log := 0.0
	for _, part := range parted(candidates) {
		log += x.part(part, candidates, &b)
	}
	return log, b
}

// candidates are the lines that may have made a ridge, the nearest few.
func (x *resolver) candidates(r Ridge, speed float64) []line {
	var out []line
	for c, class := range x.classes {
		for h := 1; h <= min(class.Harmonics, len(seen)); h++ {
			// The order was read with a speed that is off: it reads lower when the speed reads higher.
			off := math.Log(r.Order/(class.Order*float64(h))) + speed
			if math.Abs(off) < widest*math.Hypot(r.SD, class.Tolerance) {
				out = append(out, line{c, h, off})
			}
		}
	}
	slices.SortStableFunc(out, func(a, b line) int {
		za, zb := math.Abs(a.off)/math.Hypot(r.SD, x.classes[a.class].Tolerance), math.Abs(b.off)/math.Hypot(r.SD, x.classes[b.class].Tolerance)
		switch {
		case za < zb:
			return -1
		case za > zb:
			return 1
		}
		return 0
	})
	return out[:min(nearest, len(out))]
}

// parted divides the ridges into parts that share no class.
func parted(candidates [][]line) [][]int {
	var parts [][]int
	var classes []map[int]bool
	for i, lines := range candidates {
		part, has := []int{i}, map[int]bool{}
		for _, l := range lines {
			has[l.class] = true
		}
		for k := len(parts) - 1; k >= 0; k-- {
			shared := false
			for c := range has {
				shared = shared || classes[k][c]
			}
			if !shared {
				continue
			}
			part = append(parts[k], part...)
			for c := range classes[k] {
				has[c] = true
			}
			parts, classes = slices.Delete(parts, k, k+1), slices.Delete(classes, k, k+1)
		}
		parts, classes = append(parts, part), append(classes, has)
	}
	return parts
}

// visible is how many multiples of a class lie in the band.
func (x *resolver) visible(c int) int {
	n := 0
	for h := 1; h <= min(x.classes[c].Harmonics, len(seen)); h++ {
		if o := x.classes[c].Order * float64(h); o >= x.m.Low && o <= x.m.High {
			n = h
		}
	}
	return n
}

// unheard is the chance that a class is there although none of its lines was found.
func (x *resolver) unheard(c int) float64 {
	missed := x.prior
	for h := range x.visible(c) {
		missed *= 1 - seen[h]
	}
	return missed / (missed + 1 - x.prior)
}

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
						taken = taken || other.class == l.class && other.harmonic == l.harmonic
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
			slices.SortFunc(next, func(a, b way) int {
				switch {
				case a.log > b.log:
					return -1
				case a.log < b.log:
					return 1
				}
				return 0
			})
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
			log += flat
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
	missed := x.prior
	has := make([]bool, len(seen))
	// Offsets y are of one slip N(0, t²) and reading N(0, s²) each: the slip is integrated in closed form.
	t := x.classes[c].Tolerance
	precision, pull, square, norm := 1/(t*t), 0.0, 0.0, -math.Log(t)
	for k, o := range owner {
		if o < 0 || candidates[ridges[k]][o].class != c {
			continue
		}
		l, s := candidates[ridges[k]][o], x.ridges[ridges[k]].SD
		has[l.harmonic-1] = true
		precision, pull, square = precision+1/(s*s), pull+l.off/(s*s), square+l.off*l.off/(s*s)
		norm -= math.Log(s) + math.Log(2*math.Pi)/2
	}
	log += norm - math.Log(precision)/2 + (pull*pull/precision-square)/2
	for h := range x.visible(c) {
		missed *= 1 - seen[h]
		if has[h] {
			log += math.Log(seen[h])
		} else {
			log += math.Log(1 - seen[h])
		}
	}
	return log - math.Log(missed+1-x.prior)
}
