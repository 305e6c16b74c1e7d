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
	Drive int     // of several drives that are weighed together; the first is 0
}

// Model is what is expected before anything was heard.
type Model struct {
	Speed   float64 // by how much the speed may be off, share: one error for all ridges of all drives, which have one channel and tire
	Present float64 // how many sources are heard in a drive like this
	Unknown float64 // and how many ridges that nothing in the list explains, in each drive
	Low     float64 // orders between which ridges were looked for
	High    float64
	Engine  []float64 // turns of the engine for one of the output, drive by drive; asked of several drives only
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
	// again is how often something unknown that was heard in one drive is heard in another, at its order by the road or by the engine; faint,
	// how much less often something without load is heard (judgment).
	again  = 0.5
	faint  = 0.4
	finest = 1e-3 // step between the speed errors that are gone through, over three standard deviations to either side
)

// Class are sources that stand on one order in every drive: nothing that is heard there tells them apart.
type Class struct {
	IDs, Names []string
	Family     Family
	Orders     []float64 // drive by drive; 0 where it is gone
	Quiet      []bool    // drive by drive: it carries no load there; nil when it always does
	Tolerance  float64
	Harmonics  int
}

// Name says the class in a line.
func (c Class) Name() string { return strings.Join(c.Names, " or ") }

func (c Class) quiet(drive int) bool { return drive < len(c.Quiet) && c.Quiet[drive] }

// Classes joins the sources of one drive, or of several, that stand on one order in all of them. A drive whose output stands has none.
func Classes(drives ...List) []Class {
	var out []Class
	place := map[string]int{}
	for d, l := range drives {
		if l.Output == 0 {
			return nil
		}
		for _, s := range l.Sources {
			i, known := place[s.ID]
			if !known {
				i = len(out)
				place[s.ID] = i
				out = append(out, Class{IDs: []string{s.ID}, Names: []string{s.Name}, Family: s.Family, Orders: make([]float64, len(drives)), Quiet: make([]bool, len(drives)), Tolerance: s.Tolerance, Harmonics: s.Harmonics})
			}
			out[i].Orders[d], out[i].Quiet[d] = s.Hertz/l.Output, !s.Loaded
		}
	}
	var joined []Class
	for _, c := range out {
		i := slices.IndexFunc(joined, func(j Class) bool {
			return slices.EqualFunc(j.Orders, c.Orders, func(a, b float64) bool { return math.Abs(a-b) <= 1e-6*b })
		})
		if i < 0 {
			joined = append(joined, c)
			continue
		}
		j := &joined[i]
		j.IDs, j.Names = append(j.IDs, c.IDs...), append(j.Names, c.Names...)
		j.Tolerance, j.Harmonics = math.Max(j.Tolerance, c.Tolerance), max(j.Harmonics, c.Harmonics)
		for d := range j.Quiet {
			j.Quiet[d] = j.Quiet[d] && c.Quiet[d]
		}
	}
	return joined
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
	drives := max(1, len(m.Engine))
	for _, c := range classes {
		if len(c.Orders) != drives {
			return Belief{}, fmt.Errorf("vibration: %s has orders of %d drives; want those of %d", c.Name(), len(c.Orders), drives)
		}
	}
	for _, r := range ridges {
		if r.Drive < 0 || r.Drive >= drives {
			return Belief{}, fmt.Errorf("vibration: a ridge of drive %d; want one of %d", r.Drive+1, drives)
		}
		if !(r.Order > 0) || !(r.SD > 0 && r.SD < 0.2) {
			return Belief{}, fmt.Errorf("vibration: a ridge at %v with a doubt of %v; want an order above 0, and a share up to 0.2", r.Order, r.SD)
		}
	}
	x := resolver{classes: classes, ridges: ridges, m: m, drives: drives, prior: math.Min(0.5, m.Present/math.Max(1, float64(len(classes))))}
	return x.integrate(), nil
}

type resolver struct {
	classes []Class
	ridges  []Ridge
	m       Model
	drives  int
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
	class, harmonic, drive int
	off                    float64
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
	for _, part := range x.parted(candidates) {
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
			if class.Orders[r.Drive] == 0 {
				continue
			}
			off := math.Log(r.Order/(class.Orders[r.Drive]*float64(h))) + speed
			if math.Abs(off) < widest*math.Hypot(r.SD, class.Tolerance) {
				out = append(out, line{c, h, r.Drive, off})
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
	return out[:min(nearest+x.drives-1, len(out))]
}

// linked is how likely it is that an unknown thing that made one ridge made the other too, in another drive, against their being two: at one
// order by the road, or by the engine. 0 for ridges of one drive and for those too far apart.
func (x *resolver) linked(a, b Ridge) float64 {
	if a.Drive == b.Drive {
		return 0
	}
	s := math.Hypot(a.SD, b.SD)
	off := math.Log(b.Order / a.Order)
	near := func(off float64) float64 {
		if math.Abs(off) > widest*s {
			return 0
		}
		return math.Exp(-off*off/(2*s*s)) / (s * math.Sqrt(2*math.Pi))
	}
	return again / 2 * (near(off) + near(off-math.Log(x.m.Engine[b.Drive]/x.m.Engine[a.Drive])))
}

// parted divides the ridges into parts that share no class and cannot be of one unknown thing.
func (x *resolver) parted(candidates [][]line) [][]int {
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
			for _, j := range parts[k] {
				shared = shared || x.linked(x.ridges[j], x.ridges[i]) > 0
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

// visible is how many multiples of a class lie in the band in a drive.
func (x *resolver) visible(c, drive int) int {
	n := 0
	for h := 1; h <= min(x.classes[c].Harmonics, len(seen)); h++ {
		if o := x.classes[c].Orders[drive] * float64(h); o >= x.m.Low && o <= x.m.High {
			n = h
		}
	}
	return n
}

// shown is how often a class that is there shows a multiple in a drive.
func (x *resolver) shown(c, drive, multiple int) float64 {
	if x.classes[c].quiet(drive) {
		return faint * seen[multiple]
	}
	return seen[multiple]
}

// silent is the prior chance that a class is there and shows nothing.
func (x *resolver) silent(c int) float64 {
	missed := x.prior
	for d := range x.drives {
		for h := range x.visible(c, d) {
			missed *= 1 - x.shown(c, d, h)
		}
	}
	return missed
}

// unheard is the chance that a class is there although none of its lines was found.
func (x *resolver) unheard(c int) float64 {
	missed := x.silent(c)
	return missed / (missed + 1 - x.prior)
}
