package teeth

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"innercompass/core/gearing"
)

// Kind is how a planetary set is built.
type Kind string

// The kinds of set.
const (
	Simple  Kind = "simple"
	Double  Kind = "double"   // planets in pairs between sun and ring
	TwoSuns Kind = "two-suns" // long planets on the large sun and the ring, short ones between them and the small sun
)

// Set is a planetary set whose teeth are not known. Sun is the large one where there are two.
type Set struct {
	Name                         string
	Kind                         Kind
	Sun, SmallSun, Ring, Carrier string
}

// Pair is two gears about axes that stand still, or two sprockets. With Idler a third gear between them turns B the same way as A.
type Pair struct {
	Name, A, B   string
	Chain, Idler bool
}

// Train is a gear train whose teeth are not known.
type Train struct {
	Members       []string
	Input, Output string
	ForwardSign   int // −1 when the output turns against the input going forward
	Sets          []Set
	Pairs         []Pair
	Links         []gearing.Link
	Elements      []gearing.Element
	Final         bool // the printed ratios include one more pair of gears behind the output
}

// Error reports a train or a question that cannot be worked on.
type Error struct{ At, Reason, Accepted string }

func (e *Error) Error() string {
	return fmt.Sprintf("%s: %s; accepted: %s", e.At, e.Reason, e.Accepted)
}

// unknown is one proportion of the train.
type unknown struct {
	set, pair int  // index, −1 for the other kind; both −1 for the final drive
	small     bool // of a set with two suns: ring over small sun
}

func (t Train) unknowns() []unknown {
	var out []unknown
	for i, s := range t.Sets {
		out = append(out, unknown{set: i, pair: -1})
		if s.Kind == TwoSuns {
			out = append(out, unknown{set: i, pair: -1, small: true})
		}
	}
	for i := range t.Pairs {
		out = append(out, unknown{set: -1, pair: i})
	}
	if t.Final {
		out = append(out, unknown{set: -1, pair: -1})
	}
	return out
}

// row is one equation over the members: its coefficients are base + slope × unknown (at, −1 for none).
type row struct {
	base, slope []float64
	at          int
}

func (r row) with(x []float64) []float64 {
	out := slices.Clone(r.base)
	if r.at >= 0 {
		for i, s := range r.slope {
			out[i] += s * x[r.at]
		}
	}
	return out
}

// rows are the equations of sets, pairs and links. It fails for members that are not there.
func (t Train) rows() ([]row, error) {
	n := len(t.Members)
	var out []row
	var wrong error
	put := func(v []float64, member string, k float64) {
		if member == gearing.Case || member == "" {
			return
		}
		i := slices.Index(t.Members, member)
		if i < 0 {
			wrong = &Error{"members", fmt.Sprintf("no member %q", member), fmt.Sprint(t.Members)}
			return
		}
		v[i] += k
	}
	add := func(at int, base, slope map[string]float64) {
		r := row{make([]float64, n), make([]float64, n), at}
		for m, k := range base {
			put(r.base, m, k)
		}
		for m, k := range slope {
			put(r.slope, m, k)
		}
		out = append(out, r)
	}
	at := 0
	for _, s := range t.Sets {
		switch s.Kind {
		case Simple:
			add(at, terms(s.Sun, 1, s.Carrier, -1), terms(s.Ring, 1, s.Carrier, -1))
		case Double:
			add(at, terms(s.Sun, 1, s.Carrier, -1), terms(s.Ring, -1, s.Carrier, 1))
		case TwoSuns:
			add(at, terms(s.Sun, 1, s.Carrier, -1), terms(s.Ring, 1, s.Carrier, -1))
			at++
			add(at, terms(s.SmallSun, 1, s.Carrier, -1), terms(s.Ring, -1, s.Carrier, 1))
		default:
			return nil, &Error{"sets", fmt.Sprintf("kind %q", s.Kind), "simple, double, two-suns"}
		}
		at++
	}
	for _, p := range t.Pairs {
		sign := 1.0
		if p.Chain || p.Idler {
			sign = -1
		}
		add(at, terms(p.A, 1, "", 0), terms(p.B, sign, "", 0))
		at++
	}
	for _, l := range t.Links {
		add(-1, terms(l.A, 1, l.B, -1), nil)
	}
	return out, wrong
}

// terms adds up, so that a member that stands twice in a set counts twice.
func terms(a string, ka float64, b string, kb float64) map[string]float64 {
	out := map[string]float64{a: ka}
	out[b] += kb
	return out
}

// Ratio is input over output of one range as a function of the proportions: P/Q, both linear in each.
type Ratio struct {
	over []int     // indices of the unknowns that it depends on
	p, q []float64 // coefficients by subset of over, as a bit mask
}

// Outcome is what a set of held elements does, whatever the teeth.
type Outcome string

// The outcomes.
const (
	Drives  Outcome = "drives"
	Neutral Outcome = "neutral"
	Binds   Outcome = "binds"
)

// Derive finds the ratio of a range in which these elements hold, one-way clutches that carry among them. Where nothing is driven
// the outcome says so and the ratio is empty.
func (t Train) Derive(held []string) (Ratio, Outcome, error) {
	rows, err := t.rows()
	if err != nil {
		return Ratio{}, "", err
	}
	n := len(t.Members)
	in, out := slices.Index(t.Members, t.Input), slices.Index(t.Members, t.Output)
	if in < 0 || out < 0 || in == out {
		return Ratio{}, "", &Error{"input", fmt.Sprintf("%q to %q", t.Input, t.Output), fmt.Sprint(t.Members)}
	}
	for _, id := range held {
		e := slices.IndexFunc(t.Elements, func(e gearing.Element) bool { return e.ID == id })
		if e < 0 {
			return Ratio{}, "", &Error{"held", fmt.Sprintf("no element %q", id), "an element of the train"}
		}
		r := row{make([]float64, n), make([]float64, n), -1}
		for m, k := range terms(t.Elements[e].A, 1, t.Elements[e].B, -1) {
			if m != gearing.Case && m != "" {
				i := slices.Index(t.Members, m)
				if i < 0 {
					return Ratio{}, "", &Error{"elements", fmt.Sprintf("%s joins %q", id, m), fmt.Sprint(t.Members)}
				}
				r.base[i] += k
			}
		}
		rows = append(rows, r)
	}
	rows, outcome := t.square(rows, in, out)
	if outcome != Drives {
		return Ratio{}, outcome, nil
	}
	r := t.depends(rows, in, out)
	if len(r) > mostTogether {
		return Ratio{}, "", &Error{"sets", fmt.Sprintf("a ratio that hangs on %d sets and pairs", len(r)), fmt.Sprintf("at most %d in the power path of one range", mostTogether)}
	}
	return t.expand(rows, r, in, out), Drives, nil
}

// mostTogether bounds how many proportions one ratio may hang on: its coefficients double with each. No design of the trade has more
// than five.
const mostTogether = 10

// eps separates nothing from something at a random point; proportions there lie between 1.2 and 4.
const eps = 1e-9

// square picks rows that determine every speed but for one, and says what the train does.
func (t Train) square(rows []row, in, out int) ([]row, Outcome) {
	x := t.somewhere(1)
	n := len(t.Members)
	var kept []row
	basis := &basis{}
	for _, r := range rows {
		if basis.add(r.with(x)) {
			kept = append(kept, r)
		}
	}
	unit := func(i int) row {
		r := row{make([]float64, n), nil, -1}
		r.base[i] = 1
		return r
	}
	outFree, inFree := basis.independent(unit(out).base), basis.independent(unit(in).base)
	if !outFree || !inFree { // the output, or the input, stands
		return nil, Binds
	}
	with := basis.clone()
	with.add(unit(out).base)
	if with.independent(unit(in).base) {
		return nil, Neutral
	}
	for i := range n { // idle members: fixed anywhere, since nothing hangs on them
		if with.add(unit(i).base) {
			kept = append(kept, unit(i))
		}
	}
	return kept, Drives
}

// somewhere is a point at which nothing is special. The same seed gives the same point.
func (t Train) somewhere(seed uint64) []float64 {
	r := rand.New(rand.NewPCG(seed, 99))
	out := make([]float64, len(t.unknowns()))
	for i := range out {
		out[i] = 1.2 + 2.8*r.Float64()
	}
	return out
}

// det is the determinant of the rows at a point, with the speed of one member as the last row.
func (t Train) det(rows []row, x []float64, last int) float64 {
	m := make([][]float64, 0, len(rows)+1)
	for _, r := range rows {
		m = append(m, r.with(x))
	}
	unit := make([]float64, len(t.Members))
	unit[last] = 1
	return determinant(append(m, unit))
}

// depends lists the unknowns that the quotient hangs on: what it does not depend on divides out.
func (t Train) depends(rows []row, in, out int) []int {
	var over []int
	for _, r := range rows {
		if r.at >= 0 && !slices.Contains(over, r.at) {
			over = append(over, r.at)
		}
	}
	slices.Sort(over)
	full := t.somewhere(2)
	return slices.DeleteFunc(over, func(k int) bool {
		moved := slices.Clone(full)
		moved[k] += 0.7
		a, b := t.det(rows, full, in)/t.det(rows, full, out), t.det(rows, moved, in)/t.det(rows, moved, out)
		return math.Abs(a-b) <= 1e-9*math.Max(1, math.Abs(a))
	})
}

// expand evaluates both determinants on the corners of the unit cube and turns them into coefficients (Möbius inversion).
func (t Train) expand(rows []row, over []int, in, out int) Ratio {
	full := t.somewhere(2)
	r := Ratio{over: over}
	r.p, r.q = make([]float64, 1<<len(over)), make([]float64, 1<<len(over))
	for mask := range r.p {
		x := slices.Clone(full)
		for i, k := range over {
			x[k] = float64(mask >> i & 1)
		}
		r.p[mask], r.q[mask] = t.det(rows, x, in), t.det(rows, x, out)
	}
	most := 0.0
	for i := range over {
		for mask := range r.p {
			if mask>>i&1 == 1 {
				r.p[mask] -= r.p[mask&^(1<<i)]
				r.q[mask] -= r.q[mask&^(1<<i)]
			}
		}
	}
	for mask := range r.p {
		most = math.Max(most, math.Max(math.Abs(r.p[mask]), math.Abs(r.q[mask])))
	}
	for mask := range r.p {
		r.p[mask], r.q[mask] = tidy(r.p[mask]/most), tidy(r.q[mask]/most)
	}
	if t.Final {
		r = r.times(len(t.unknowns()) - 1)
	}
	return r
}

// times puts one more unknown as a factor on the ratio.
func (r Ratio) times(k int) Ratio {
	n := len(r.p)
	p, q := make([]float64, 2*n), make([]float64, 2*n)
	copy(p[n:], r.p)
	copy(q, r.q)
	return Ratio{append(slices.Clone(r.over), k), p, q}
}

func tidy(x float64) float64 {
	if math.Abs(x) < 1e-12 {
		return 0
	}
	return x
}

// At is the ratio at these proportions, by unknown.
func (r Ratio) At(x []float64) float64 {
	p, q := 0.0, 0.0
	for mask := range r.p {
		term := 1.0
		for i, k := range r.over {
			if mask>>i&1 == 1 {
				term *= x[k]
			}
		}
		p += r.p[mask] * term
		q += r.q[mask] * term
	}
	return p / q
}
