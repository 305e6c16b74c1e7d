package instrument

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"innercompass/core/fluid"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Gauge is what a value was read with: its resolution and its own standard uncertainty, both SI.
type Gauge struct {
	Name       string
	Dimension  quantity.Dimension
	Resolution float64
	Own        float64
}

// Terms are the circumstances of a run.
type Terms struct {
	Gauge *Gauge
	// Units is the unit in use for a dimension; nil takes the fallback.
	Units func(d quantity.Dimension, fallback string) string
	Style quantity.Style // how numbers are written
}

// UnitFor is the unit that values of a dimension are shown in.
func (t Terms) UnitFor(d quantity.Dimension, fallback string) string {
	if t.Units == nil {
		return fallback
	}
	return t.Units(d, fallback)
}

// Values are the inputs of one run, in SI.
type Values struct {
	numbers  map[string]float64
	u        map[string]float64 // standard uncertainties
	lists    map[string][]float64
	choices  map[string]string
	typed    map[string]string
	Title    string
	States   []string // findings that the instrument can state here
	Measures []fluid.Measure
	On       *unitsheet.Unit // of the definition
	Part     string
	inputs   []Input
	Terms    Terms
}

// N is a number; zero when it was left out.
func (v Values) N(id string) float64 { return v.numbers[id] }

// Has reports whether an input was given.
func (v Values) Has(id string) bool { return v.typed[id] != "" }

// Count is a whole number.
func (v Values) Count(id string) int { return int(v.numbers[id]) }

// U is the standard uncertainty of a number.
func (v Values) U(id string) float64 { return v.u[id] }

// List is a list of numbers.
func (v Values) List(id string) []float64 { return v.lists[id] }

// Chosen is the id of the option that was taken.
func (v Values) Chosen(id string) string { return v.choices[id] }

// Say writes a value in the unit in use.
func (v Values) Say(si float64, d quantity.Dimension, unit string) string {
	return v.Terms.Style.Format(quantity.Quantity{SI: si, Dimension: d}, v.Terms.UnitFor(d, unit))
}

// Num writes a bare number with so many decimals.
func (v Values) Num(x float64, decimals int) string { return v.Terms.Style.Number(x, decimals) }

// Sig writes a bare number with so many significant digits.
func (v Values) Sig(x float64, digits int) string {
	return v.Terms.Style.Write(significant(x, digits))
}

// SayOutput writes an output with its uncertainty.
func (v Values) SayOutput(o Output) string {
	return o.Text(v.Terms)
}

// Text writes an output in the unit in use, with its uncertainty.
func (o Output) Text(t Terms) string {
	if o.Whole {
		return t.Style.Number(o.Value, 0)
	}
	return t.Style.FormatMeasured(quantity.Measured{Quantity: quantity.Quantity{SI: o.Value, Dimension: o.Dimension}, U: o.U}, t.UnitFor(o.Dimension, o.Unit))
}

// Run reads the typed values and computes; what is not among them is taken as it stands beforehand, what is empty is left
// out. It fails, with an *InputError, on the first value that cannot be read, is missing, is outside what makes sense, or
// belongs to no input.
func (d Definition) Run(typed map[string]string, terms Terms) (Result, error) {
	v := Values{numbers: map[string]float64{}, u: map[string]float64{}, lists: map[string][]float64{}, choices: map[string]string{}, typed: map[string]string{},
		Title: d.Title, States: d.States, inputs: d.Inputs, Measures: d.Measures, On: d.On, Part: d.Part, Terms: terms}
	for _, in := range d.Inputs {
		text, given := typed[in.ID]
		if !given {
			text = in.Default
		}
		if text = strings.TrimSpace(text); text == "" {
			if !in.Optional {
				return Result{}, &InputError{in.ID, "missing", in.accepts(terms)}
			}
			continue
		}
		v.typed[in.ID] = text
		if err := v.read(in, text); err != nil {
			return Result{}, err
		}
	}
	for id := range typed {
		if !slices.ContainsFunc(d.Inputs, func(in Input) bool { return in.ID == id }) {
			return Result{}, &InputError{id, "not an input of " + d.ID, d.inputIDs()}
		}
	}
	r, err := d.run(v)
	r.Read = v.understood(typed)
	return r, err
}

// understood says how each number that was typed was read, with its unit and uncertainty.
func (v Values) understood(typed map[string]string) map[string]string {
	out := map[string]string{}
	for _, in := range v.inputs {
		if n, ok := v.numbers[in.ID]; ok && in.Kind == Number && strings.TrimSpace(typed[in.ID]) != "" {
			m := quantity.Measured{Quantity: quantity.Quantity{SI: n, Dimension: in.Dimension}, U: v.u[in.ID]}
			if !strings.ContainsAny(typed[in.ID], "±+") { // a gauge's own uncertainty was not typed
				m.U = 0
			}
			out[in.ID] = v.Terms.Style.FormatMeasured(m, v.Terms.UnitFor(in.Dimension, in.Unit))
		}
	}
	return out
}

// read parses one value into v.
func (v Values) read(in Input, text string) error {
	bad := func(reason, accepted string) error { return &InputError{in.ID, reason, accepted} }
	unread := func(err error) error {
		pe, ok := err.(*quantity.ParseError)
		switch {
		case ok && pe.Reason == quantity.TooLarge:
			return bad(fmt.Sprintf("%q makes no sense here", text), in.accepts(v.Terms))
		case ok:
			return bad(fmt.Sprintf("%q: %s", pe.Text, pe.Reason), pe.Accepted)
		}
		return bad(fmt.Sprintf("%q: %v", text, err), in.accepts(v.Terms))
	}
	within := func(si float64) error {
		if si >= in.Low && si <= in.High {
			return nil
		}
		return bad(fmt.Sprintf("%q makes no sense here", text), in.accepts(v.Terms))
	}
	switch in.Kind {
	case Choice:
		if !hasOption(in.Options, text) {
			return bad(fmt.Sprintf("%q", text), optionIDs(in.Options, ""))
		}
		v.choices[in.ID] = text
	case Count:
		n, err := strconv.Atoi(text)
		if err != nil || float64(n) < in.Low || float64(n) > in.High {
			return bad(fmt.Sprintf("%q", text), in.accepts(v.Terms))
		}
		v.numbers[in.ID] = float64(n)
	case List:
		list, err := v.Terms.Style.ParseList(text, in.Dimension, v.Terms.UnitFor(in.Dimension, in.Unit))
		if err != nil {
			return unread(err)
		}
		for _, q := range list {
			if err := within(q.SI); err != nil {
				return err
			}
			v.lists[in.ID] = append(v.lists[in.ID], q.SI)
		}
	default:
		m, err := v.Terms.Style.ParseMeasured(text, in.Dimension, v.Terms.UnitFor(in.Dimension, in.Unit))
		if err != nil {
			return unread(err)
		}
		if err := within(m.SI); err != nil {
			return err
		}
		v.numbers[in.ID], v.u[in.ID] = m.SI, m.U
		g := v.Terms.Gauge
		switch {
		case m.U > 0: // what was typed counts
		case m.SI == 0 && in.exactZero:
		case in.Gauged && g != nil && g.Dimension == in.Dimension:
			v.u[in.ID] = measure.Standard(g.Resolution, g.Own)
		default:
			v.u[in.ID] = in.U
		}
	}
	return nil
}

// accepts says what would be taken.
func (in Input) accepts(t Terms) string {
	unit := t.UnitFor(in.Dimension, in.Unit)
	span := func() string {
		low, high := quantity.Quantity{SI: in.Low, Dimension: in.Dimension}, quantity.Quantity{SI: in.High, Dimension: in.Dimension}
		return t.Style.Write(Short(low, unit)) + " to " + t.Style.Write(Short(high, unit)) + withUnit(unit)
	}
	switch in.Kind {
	case Choice:
		return optionIDs(in.Options, "")
	case Count:
		return fmt.Sprintf("a whole number from %.0f to %.0f", in.Low, in.High)
	case List:
		return "values such as " + t.Style.Write("1.80") + "; " + t.Style.Write("1.85") + " ×3; " + t.Style.Write("1.90") + ", each " + span()
	}
	return span() + "; another unit of " + strings.ReplaceAll(string(in.Dimension), "-", " ") + " may be typed"
}

func withUnit(unit string) string {
	if unit == "" {
		return ""
	}
	return " " + unit
}

// Short writes a number with as few digits as it needs.
func Short(q quantity.Quantity, unit string) string {
	x, err := q.In(unit)
	if err != nil {
		x = q.SI
	}
	return significant(math.Round(x*1e5)/1e5, 5)
}

// significant writes a number with so many significant digits at most, never with an exponent.
func significant(x float64, digits int) string {
	if x == 0 {
		return "0"
	}
	exponent := int(math.Floor(math.Log10(math.Abs(x))))
	step := math.Pow(10, float64(exponent-digits+1))
	text := strconv.FormatFloat(math.Round(x/step)*step, 'f', max(0, digits-1-exponent), 64)
	if strings.Contains(text, ".") {
		text = strings.TrimRight(strings.TrimRight(text, "0"), ".")
	}
	return text
}

// DimensionOf and unit are those of an input as it was fitted.
func (v Values) DimensionOf(id string) quantity.Dimension { return v.input(id).Dimension }

// UnitOf is the unit of an input.
func (v Values) UnitOf(id string) string { return v.input(id).Unit }

func (v Values) input(id string) Input {
	for _, in := range v.inputs {
		if in.ID == id {
			return in
		}
	}
	return Input{}
}

// run computes and carries the uncertainties through.
func (d Definition) run(v Values) (Result, error) {
	if d.Check != nil {
		if err := d.Check(v); err != nil {
			return Result{}, err
		}
	}
	w := d.work()
	x, out, err := w.compute(v)
	if err != nil {
		return Result{}, err
	}
	r := Result{Outputs: out}
	if err := d.propagate(v, w, &r); err != nil {
		return Result{}, err
	}
	for i := range r.Outputs {
		o := &r.Outputs[i]
		if o.Window == nil {
			continue
		}
		c, err := o.Compare()
		if err != nil {
			return Result{}, Impossible(d.Inputs[0].ID, err)
		}
		o.Verdict = c.Verdict
	}
	w.interpret(v, x, r.Outputs, &r)
	r.Next = d.follows(v, r.Outputs)
	return r, nil
}

// propagate fills in the uncertainties of the outputs and what matters most for the first of them.
func (d Definition) propagate(v Values, w Work, r *Result) error {
	var ids []string
	var labels []string
	var x, u []float64
	for _, in := range d.Inputs {
		if v.Has(in.ID) && in.Kind == Number && v.u[in.ID] > 0 {
			ids, labels, x, u = append(ids, in.ID), append(labels, in.Label), append(x, v.numbers[in.ID]), append(u, v.u[in.ID])
		}
	}
	for i := range r.Outputs {
		o := &r.Outputs[i]
		if math.IsNaN(o.Value) || math.IsInf(o.Value, 0) {
			return &InputError{d.Inputs[0].ID, "the values lead to no number: " + o.Label, "values of a size that occurs"}
		}
		o.Low, o.High = o.Value, o.Value
	}
	if len(ids) == 0 || len(r.Outputs) == 0 || d.Jumps {
		return nil
	}
	at := v
	at.numbers = map[string]float64{}
	for id, n := range v.numbers {
		at.numbers[id] = n
	}
	estimates, err := measure.Propagate(func(x []float64) ([]float64, error) {
		for i, id := range ids {
			at.numbers[id] = x[i]
		}
		_, out, err := w.compute(at)
		if err != nil {
			return nil, err
		}
		y := make([]float64, len(out))
		for i, o := range out {
			y[i] = o.Value
		}
		return y, nil
	}, x, u, 1)
	if err != nil {
		return Impossible(d.Inputs[0].ID, err)
	}
	for i, e := range estimates {
		o := &r.Outputs[i]
		if math.IsNaN(e.U+e.Low+e.High) || math.IsInf(e.U+e.Low+e.High, 0) {
			return &InputError{largest(ids, x, u), "so wide an uncertainty leads to no number: " + o.Label, "a smaller one"}
		}
		o.U, o.Low, o.High, o.Sampled = e.U, e.Low, e.High, e.Sampled
		r.Unstable = r.Unstable || e.Unstable
	}
	for i, share := range estimates[0].Parts {
		if share > 0.01 {
			r.Matters = append(r.Matters, Share{ids[i], labels[i], share})
		}
	}
	slices.SortStableFunc(r.Matters, func(a, b Share) int { return cmp.Compare(b.Share, a.Share) })
	return nil
}

// largest names the input with the widest uncertainty for its size.
func largest(ids []string, x, u []float64) string {
	worst := 0
	for i := range ids {
		if u[i]*math.Abs(x[worst]) > u[worst]*math.Abs(x[i]) {
			worst = i
		}
	}
	return ids[worst]
}

// Likeliest returns the state with the highest likelihood; ties go to the earlier name.
func Likeliest(states []string, l map[string]float64) string {
	best := states[0]
	for _, s := range states {
		if l[s] > l[best] {
			best = s
		}
	}
	return best
}

// Soften keeps a likelihood away from certainty: a gauge can also be misread or misplaced
// (two in a hundred, common practice, no source).
func Soften(l map[string]float64) map[string]float64 {
	const slip = 0.02
	out := make(map[string]float64, len(l))
	for s, p := range l {
		out[s] = slip/float64(len(l)) + (1-slip)*math.Min(1, math.Max(0, p))
	}
	return out
}
