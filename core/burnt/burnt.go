package burnt

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"innercompass/core/friction"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Value is a number with its standard uncertainty.
type Value struct{ Is, U float64 }

// Found is what is known of the element and its oil; a nil value was not measured.
type Found struct {
	Pressure *Value // line pressure read, over what the sheet expects there
	Held     *Value // share of the supply that the circuit holds with air
	Lining   *Value // share of the friction that the lining still has
	Plates   int    // friction plates fitted; 0 as the sheet says
	Spring   *Value // force of the return springs with the pack closed, N
}

// Margin is what an element can hold in one range over what it must, at full throttle.
type Margin struct {
	Range, Name string
	Load        float64 // N·m
	Line        float64 // Pa, low end of the window
	Healthy     float64 // N·m held in health
	Now         Value   // N·m as found
	Ratio       Value   // Now over Load
	Slips       float64 // probability that it is below one
	Needs       float64 // Pa at the piston below which it slips, all else as found
	Shift       *Shift  // into this range, where it is shifted into
	Throttle    float64 // 0 to 1, at which it begins to slip as found; 0 when it does not
}

// Condition is one thing that may take the margin below one.
type Condition struct {
	ID, Title string
	Known     bool
	At        Value   // as found; in its own unit: share, number of plates, N
	Ratio     float64 // margin with this alone, where the element has least to spare
	Limit     float64 // value at which the margin is one, all else in health; NaN when none in reason is
	Alone     bool    // it takes the margin below one by itself
}

// Answer is why an element burned, as far as it is known.
type Answer struct {
	Element    string
	Margins    []Margin    // of the ranges in which it carries load, the least first
	Conditions []Condition // what was measured first, each by how little it leaves
	Model      bool        // the sheet has plates or a band: capacity can be computed
}

// hold is the capacity of an element with conditions, N·m: pressure at the piston in Pa.
type hold func(pressure, lining, plates, spring float64) float64

// Ask holds an element as it was found against what it must hold. It fails for an element that the unit does not have.
func Ask(u *unitsheet.Unit, element string, f Found) (Answer, error) {
	e, ok := u.Element(element)
	if !ok {
		return Answer{}, fmt.Errorf("burnt: no element %q", element)
	}
	out := Answer{Element: element}
	capacity, plates, spring, ok := model(u, element)
	if !ok || !unitsheet.Known(u.MaxTorque) {
		return out, nil
	}
	out.Model = true
	x, unsure := inputs(f, plates, spring)
	for _, r := range u.Ranges {
		load := u.Load(r, element) * u.EngineTorque(r, 1)
		if load <= 0 || !slices.Contains(r.Applied, element) || !unitsheet.Known(r.LineFull.Low) {
			continue
		}
		m, err := margin(r, capacity, load, x, unsure, float64(plates), spring)
		if err != nil {
			return out, err
		}
		m.Throttle = begins(u, r, element, capacity, x)
		m.Shift = shift(u, r, e, m)
		out.Margins = append(out.Margins, m)
	}
	slices.SortStableFunc(out.Margins, func(a, b Margin) int { return cmp.Compare(a.Ratio.Is, b.Ratio.Is) })
	if len(out.Margins) > 0 {
		out.Conditions = conditions(f, capacity, out.Margins, float64(plates), spring)
	}
	return out, nil
}

// model is the capacity of an element as a function of what may be wrong with it.
func model(u *unitsheet.Unit, element string) (hold, int, float64, bool) {
	si := func(text string, d quantity.Dimension) float64 {
		q, err := quantity.Parse(text, d, "")
		if err != nil {
			return 0
		}
		return q.SI
	}
	for _, e := range u.Sheet.Elements {
		switch p, b := e.Plates, e.Band; {
		case e.ID != element:
		case p != nil:
			pack := friction.Plates{Faces: 2 * p.Lined, Outer: si(p.Outer, quantity.Length) / 2, Inner: si(p.Inner, quantity.Length) / 2, Mu: p.Friction, Piston: si(p.Piston, quantity.Area)}
			return func(pressure, lining, plates, spring float64) float64 {
				with := pack
				with.Mu, with.Spring = pack.Mu*lining, spring
				return with.Capacity(pressure) * plates / float64(p.Lined)
			}, p.Lined, si(p.Spring, quantity.Force), true
		case b != nil:
			band := friction.Band{Radius: si(b.Drum, quantity.Length) / 2, Wrap: si(b.Wrap, quantity.Angle), Mu: b.Friction, Servo: si(b.Servo, quantity.Area), Lever: b.Lever, Eases: b.Eases}
			return func(pressure, lining, _, spring float64) float64 {
				with := band
				with.Mu, with.Spring = band.Mu*lining, spring
				return with.Capacity(pressure)
			}, 0, si(b.Spring, quantity.Force), true
		}
	}
	return nil, 0, 0, false
}

// What is taken for certain to so much when nothing was measured, as shares: common practice, no source.
const (
	frictionUnsure = 0.05
	springUnsure   = 0.03
)

// inputs are the conditions as found, others in health, with their uncertainties: pressure share, held share, lining share, plates, spring.
func inputs(f Found, plates int, spring float64) (x, u []float64) {
	x, u = []float64{1, 1, 1, float64(plates), spring}, []float64{0, 0, frictionUnsure, 0, springUnsure * spring}
	for i, v := range []*Value{f.Pressure, f.Held, f.Lining, nil, f.Spring} {
		if v != nil {
			x[i], u[i] = v.Is, v.U
		}
	}
	if f.Plates > 0 && plates > 0 {
		x[3] = float64(f.Plates)
	}
	return x, u
}

func margin(r unitsheet.Range, capacity hold, load float64, x, u []float64, plates, spring float64) (Margin, error) {
	line := r.LineFull.Low.SI
	held := func(x []float64) ([]float64, error) {
		return []float64{capacity(line*x[0]*x[1], math.Max(0, x[2]), x[3], math.Max(0, x[4]))}, nil
	}
	est, err := measure.Propagate(held, x, u, 1)
	if err != nil {
		return Margin{}, err
	}
	m := Margin{Range: r.ID, Name: r.Name, Load: load, Line: line, Healthy: capacity(line, 1, plates, spring), Now: Value{est[0].Value, est[0].U}}
	m.Ratio = Value{m.Now.Is / load, m.Now.U / load}
	if c, err := measure.Compare(m.Ratio.Is, m.Ratio.U, 1, math.MaxFloat64); err == nil {
		m.Slips = c.Below
	}
	m.Needs = crossing(0, 4*line, func(p float64) float64 { return capacity(p, x[2], x[3], x[4]) - load })
	return m, nil
}

// crossing finds where a rising function passes zero, NaN when it does not.
func crossing(low, high float64, f func(float64) float64) float64 {
	if f(high) < 0 {
		return math.NaN()
	}
	if f(low) >= 0 {
		return low
	}
	for range 60 {
		mid := (low + high) / 2
		if f(mid) < 0 {
			low = mid
		} else {
			high = mid
		}
	}
	return high
}

// begins is the least throttle at which the element slips as found, in steps of a hundredth; 0 when it holds to full throttle.
func begins(u *unitsheet.Unit, r unitsheet.Range, element string, capacity hold, x []float64) float64 {
	for i := range 101 {
		t := float64(i) / 100
		line, ok := r.Line(t)
		if !ok {
			return 0
		}
		if u.Load(r, element)*u.EngineTorque(r, t) > capacity(line*x[0]*x[1], x[2], x[3], x[4]) {
			return math.Max(t, 0.01)
		}
	}
	return 0
}

// conditions are what may take the margin below one, each by itself in the range with least to spare in health.
func conditions(f Found, capacity hold, margins []Margin, plates, spring float64) []Condition {
	worst := slices.MinFunc(margins, func(a, b Margin) int { return cmp.Compare(a.Healthy/a.Load, b.Healthy/b.Load) })
	ratio := func(p, lining, n, s float64) float64 { return capacity(worst.Line*p, lining, n, s) / worst.Load }
	least := func(rising bool, low, high float64, f func(float64) float64) float64 {
		if rising {
			return crossing(low, high, func(v float64) float64 { return f(v) - 1 })
		}
		v := crossing(0, high-low, func(v float64) float64 { return f(high-v) - 1 })
		return high - v
	}
	var out []Condition
	add := func(id, title string, known bool, at Value, alone float64, limit float64) {
		out = append(out, Condition{ID: id, Title: title, Known: known, At: at, Ratio: alone, Limit: limit, Alone: known && alone < 1})
	}
	value := func(v *Value, healthy float64) (Value, bool) {
		if v == nil {
			return Value{healthy, 0}, false
		}
		return *v, true
	}
	at, known := value(f.Pressure, 1)
	add("pressure", "line pressure, of what the sheet expects", known, at, ratio(at.Is, 1, plates, spring), least(true, 0, 1.5, func(v float64) float64 { return ratio(v, 1, plates, spring) }))
	at, known = value(f.Held, 1)
	add("leak", "pressure that the circuit holds", known, at, ratio(at.Is, 1, plates, spring), least(true, 0, 1.5, func(v float64) float64 { return ratio(v, 1, plates, spring) }))
	at, known = value(f.Lining, 1)
	add("lining", "friction that the lining still has", known, at, ratio(1, at.Is, plates, spring), least(true, 0, 1.5, func(v float64) float64 { return ratio(1, v, plates, spring) }))
	if plates > 0 {
		n := plates
		if f.Plates > 0 {
			n = float64(f.Plates)
		}
		add("plates", "friction plates", f.Plates > 0, Value{n, 0}, ratio(1, 1, n, spring), math.Ceil(least(true, 0, 2*plates, func(v float64) float64 { return ratio(1, 1, v, spring) })-1e-9))
	}
	at, known = value(f.Spring, spring)
	add("spring", "force of the return springs", known, at, ratio(1, 1, plates, at.Is), least(false, 0, 20*math.Max(spring, 1), func(v float64) float64 { return ratio(1, 1, plates, v) }))
	slices.SortStableFunc(out, func(a, b Condition) int {
		if a.Known != b.Known {
			if a.Known {
				return -1
			}
			return 1
		}
		return cmp.Compare(a.Ratio, b.Ratio)
	})
	return out
}
