package instruments_test

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
	"testing"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// fitted is an instrument with what it was fitted to.
type fitted struct {
	instrument.Definition
	unit *unitsheet.Unit
	on   string
}

// every is each instrument alone, and fitted to every part of three units of different kinds.
func every(t testing.TB) []fitted {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	var out []fitted
	for _, unit := range []*unitsheet.Unit{nil, c.Units["norrad-h4"], c.Units["tessaly-e4t"], c.Units["vantrice-a6"]} {
		on := "alone"
		if unit != nil {
			on = unit.Sheet.ID
		}
		for _, d := range instruments.All() {
			parts := d.Parts(unit)
			if len(parts) == 0 {
				parts = []instrument.Option{{}}
			}
			for _, p := range parts {
				name := d.ID
				if p.ID != "" {
					name += ":" + p.ID
				}
				x, err := instruments.For(name, unit)
				if err != nil {
					t.Errorf("%s %s: %v", on, name, err)
					continue
				}
				out = append(out, fitted{x, unit, on})
			}
		}
	}
	return out
}

// sample is what stands beforehand, and the examples where nothing does.
func (f fitted) sample() map[string]string {
	out := map[string]string{}
	for _, in := range f.Inputs {
		switch {
		case in.Default != "":
			out[in.ID] = in.Default
		case in.Example != "":
			out[in.ID] = in.Example
		}
	}
	if f.ID == "line-pressure" {
		for _, in := range f.Inputs {
			if in.Window != nil {
				out[in.ID] = in.Window.Low.Format("psi")
			}
		}
	}
	switch f.ID {
	case "listening-map":
		out["at-neutral-front"], out["at-pull-front"] = "loud", "loud"
	case "by-ear":
		out["whine"], out["stand"] = "yes", "yes"
	case "leak-map":
		out["zone-bell-under"], out["when-after"] = "fresh", "yes"
	case "fluid-report":
		out["iron"], out["glycol"], out["water"] = "400", "no", "0.02"
	case "fluid-look":
		out["look-dark"], out["look-burnt"], out["look-core"] = "2", "1", "0"
	case "cooler-flush":
		out["volume"] = "1.1 qt"
	case "debris":
		out["kind-lining"], out["magnet"] = "much-pieces", "film"
	case "pump-turning":
		out["falls"], out["port"] = "no", "no"
	case "window": // within whatever window the sheet has
		if w := f.Inputs[0].Window; w != nil {
			out["value"] = w.Low.Format(f.Inputs[0].Unit)
		}
	case "spring-weigh":
		out["wanted"] = "48 N"
	case "wear-left":
		out["now"] = "7.1 mm"
		if f.Part == "rivet-depth" {
			out["now"] = "1.1 mm"
		}
	}
	return out
}

// needsUnit reports whether an instrument can do nothing without a unit, or on a unit without pressures.
func (f fitted) needsUnit() bool {
	if f.ID == "leak-map" || f.ID == "listening-map" {
		return f.unit == nil
	}
	return f.ID == "line-pressure" && !slices.ContainsFunc(f.Inputs, func(in instrument.Input) bool { return in.Window != nil })
}

// Every instrument gives an answer on what stands in it: in words, finite, drawn with finite values, and its likelihoods
// are of states that the finding has.
func TestEveryInstrumentAnswersWhatStandsInIt(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range every(t) {
		if f.needsUnit() {
			continue
		}
		name := f.on + " " + f.Name()
		r, err := f.Run(f.sample(), instrument.Terms{})
		if err != nil {
			t.Errorf("%s: %v\n%v", name, err, f.sample())
			continue
		}
		if r.Headline == "" || f.Answers == "" || f.Source == "" || f.Limits == "" || len(f.Hand) == 0 {
			t.Errorf("%s: it lacks words", name)
		}
		for _, o := range r.Outputs {
			if math.IsNaN(o.Value) || math.IsInf(o.Value, 0) || math.IsNaN(o.U) || o.Low > o.High || !o.Sampled && (o.Low > o.Value || o.High < o.Value) {
				t.Errorf("%s: %+v", name, o)
			}
		}
		for _, fig := range r.Figures {
			if fig.Words == "" || fig.Title == "" {
				t.Errorf("%s: a figure without words", name)
			}
			for _, s := range fig.Series {
				for _, p := range s.Points {
					if math.IsNaN(p[0]+p[1]) || math.IsInf(p[0]+p[1], 0) {
						t.Errorf("%s: %s is drawn at %v", name, s.Name, p)
					}
				}
			}
		}
		if f.unit == nil {
			continue
		}
		if len(f.States) > 0 && len(r.Stated) == 0 {
			t.Errorf("%s: it says that it states %v and states nothing", name, f.States)
		}
		network := c.Networks[f.unit.Sheet.ID]
		for _, s := range r.Stated {
			finding, ok := network.Finding(s.Finding)
			if !ok {
				continue // this unit has no such finding: the case says so
			}
			if !slices.Contains(f.States, s.Finding) {
				t.Errorf("%s: it states %s and does not say so", name, s.Finding)
			}
			known := 0
			for _, state := range finding.States {
				if _, ok := s.Likelihood[state.ID]; ok {
					known++
				}
			}
			if known != len(s.Likelihood) || s.Likelihood[s.State] == 0 {
				t.Errorf("%s: states %v of %s, which has %+v", name, s.Likelihood, s.Finding, finding.States)
			}
		}
	}
}

// Any unit in, same answer.
func TestUnitsNeverMatter(t *testing.T) {
	for _, f := range every(t) {
		if f.needsUnit() {
			continue
		}
		want, err := f.Run(f.sample(), instrument.Terms{})
		if err != nil {
			continue // told by another test
		}
		for _, in := range f.Inputs {
			text := f.sample()[in.ID]
			if text == "" || in.Kind != instrument.Number {
				continue
			}
			q, err := quantity.Parse(text, in.Dimension, in.Unit)
			if err != nil {
				t.Fatal(err)
			}
			for _, u := range quantity.UnitsOf(in.Dimension) {
				if u.Symbol == "" {
					continue
				}
				typed := f.sample()
				typed[in.ID] = fmt.Sprintf("%.15g %s", (q.SI-u.Offset)/u.Factor, u.Symbol)
				got, err := f.Run(typed, instrument.Terms{})
				if err != nil {
					t.Errorf("%s %s, %s as %s: %v", f.on, f.Name(), in.ID, typed[in.ID], err)
					continue
				}
				for i, o := range got.Outputs {
					if math.Abs(o.Value-want.Outputs[i].Value) > 1e-7*math.Max(math.Abs(want.Outputs[i].Value), 1e-6) {
						t.Errorf("%s %s, %s as %s: %s is %v, not %v", f.on, f.Name(), in.ID, typed[in.ID], o.Label, o.Value, want.Outputs[i].Value)
					}
				}
			}
		}
	}
}

// Whatever is typed, the answer is finite or says which input is wrong and what would be taken.
func TestNonsenseIsRefusedByName(t *testing.T) {
	nonsense := []string{"", " ", "NaN", "Inf", "-1", "0", "1e300", "-1e300", "1e-300", "abc", "12 parsec", "1;2;3", "1 ± -3", strings.Repeat("9", 100), "±", "0x10", "½"}
	for _, f := range every(t) {
		for _, in := range f.Inputs {
			for _, bad := range nonsense {
				typed := f.sample()
				typed[in.ID] = bad
				r, err := f.Run(typed, instrument.Terms{})
				if err == nil {
					for _, o := range r.Outputs {
						if math.IsNaN(o.Value) || math.IsInf(o.Value, 0) {
							t.Errorf("%s %s, %s = %q: %s is %v", f.on, f.Name(), in.ID, bad, o.Label, o.Value)
						}
					}
					continue
				}
				var ie *instrument.InputError
				if !errors.As(err, &ie) || ie.Accepted == "" || ie.Reason == "" || strings.Contains(ie.Reason, "hydraulics:") {
					t.Errorf("%s %s, %s = %q: %v", f.on, f.Name(), in.ID, bad, err)
				}
			}
		}
	}
}

// What stands in an input beforehand has its unit written, so that a shop with other units reads the same.
func TestWhatStandsBeforehandIsTheSameInOtherUnits(t *testing.T) {
	imperial := func(d quantity.Dimension, fallback string) string {
		if u, ok := map[quantity.Dimension]string{quantity.Length: "in", quantity.Pressure: "psi", quantity.Torque: "lbf·ft", quantity.Volume: "qt", quantity.Temperature: "°F", quantity.Distance: "mi"}[d]; ok {
			return u
		}
		return fallback
	}
	for _, f := range every(t) {
		if f.needsUnit() || f.ID == "selective-fit" { // what it chooses jumps with the last digit
			continue
		}
		want, err := f.Run(f.sample(), instrument.Terms{})
		if err != nil {
			continue // told by another test
		}
		other := f
		other.Inputs = slices.Clone(f.Inputs)
		other.InUnits(imperial, quantity.Style{})
		typed := other.sample()
		if f.ID == "line-pressure" || f.ID == "window" || f.ID == "wear-left" {
			typed = f.sample() // made for one unit by the test itself
			for _, in := range f.Inputs {
				if unit := in.Unit; typed[in.ID] != "" && !strings.HasSuffix(typed[in.ID], unit) {
					typed[in.ID] += " " + unit
				}
			}
		}
		got, err := other.Run(typed, instrument.Terms{Units: imperial})
		if err != nil {
			t.Errorf("%s %s: %v\n%v", f.on, f.Name(), err, typed)
			continue
		}
		for i, o := range got.Outputs {
			if a, b := o.Value, want.Outputs[i].Value; math.Abs(a-b) > 0.02*math.Max(math.Abs(a), math.Abs(b))+2e-5 {
				t.Errorf("%s %s: %s is %v in imperial units, %v otherwise", f.on, f.Name(), o.Label, a, b)
			}
		}
	}
}

// Typed uncertainty reaches the result, and says what matters most.
func TestUncertaintyInUncertaintyOut(t *testing.T) {
	d, err := instruments.For("plate-capacity", nil)
	if err != nil {
		t.Fatal(err)
	}
	r, err := d.Run(map[string]string{"pressure": "90 ± 0.001 psi", "piston": "90 ± 0.001 cm²", "spring": "900 ± 0.01 N", "outer": "140 ± 0.001 mm", "inner": "112 ± 0.001 mm", "friction": "0.13 ± 0.013"}, instrument.Terms{})
	if err != nil {
		t.Fatal(err)
	}
	// Torque goes with the coefficient: ± 10 % in, ± 10 % out.
	if o := r.Outputs[0]; math.Abs(2*o.U/o.Value-0.1) > 1e-3 || r.Matters[0].Input != "friction" || r.Matters[0].Share < 0.99 {
		t.Errorf("%+v %+v", o, r.Matters)
	}
	// The gauge chosen counts where nothing is typed.
	coarse := instrument.Gauge{Name: "old gauge", Dimension: quantity.Pressure, Resolution: 5 * 6894.757, Own: 12 * 6894.757}
	fine, err := d.Run(map[string]string{"pressure": "90 psi"}, instrument.Terms{})
	if err != nil {
		t.Fatal(err)
	}
	rough, err := d.Run(map[string]string{"pressure": "90 psi"}, instrument.Terms{Gauge: &coarse})
	if err != nil || rough.Outputs[0].U <= fine.Outputs[0].U || rough.Matters[0].Input != "pressure" {
		t.Errorf("%v: %v with the usual gauge, %v with a coarse one; %+v", err, fine.Outputs[0].U, rough.Outputs[0].U, rough.Matters)
	}
}

// Every check that names an instrument names one that there is, on every unit that has the limit.
func TestChecksNameInstrumentsThatExist(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	used := map[string]bool{}
	for id, n := range c.Networks {
		for _, k := range n.Checks {
			if k.Instrument == "" {
				continue
			}
			d, err := instruments.For(k.Instrument, n.Unit)
			if limit, ok := strings.CutPrefix(k.Instrument, "window:"); ok && err != nil {
				if _, has := n.Unit.Limits[limit]; !has {
					continue // done without its instrument where the sheet gives no limit
				}
			}
			if err != nil {
				t.Errorf("%s, check %s: %v", id, k.ID, err)
				continue
			}
			used[d.ID] = true
			if !slices.ContainsFunc(d.States, func(s string) bool { return slices.Contains(k.Yields, s) }) {
				t.Errorf("%s, check %s yields %v, and %s states %v", id, k.ID, k.Yields, d.Name(), d.States)
			}
		}
	}
	if len(used) < 8 {
		t.Errorf("only %d instruments are reached from checks: %v", len(used), used)
	}
}

// One run of every instrument; Monte Carlo where the computation bends.
func BenchmarkEveryInstrument(b *testing.B) {
	for _, f := range every(b) {
		if f.needsUnit() || f.on == "tessaly-e4t" || f.on == "vantrice-a6" {
			continue
		}
		if f.on != "alone" && f.Part != "" && f.Part != f.Parts(f.unit)[0].ID {
			continue
		}
		b.Run(f.on+"/"+f.Name(), func(b *testing.B) {
			typed := f.sample()
			b.ReportAllocs()
			for b.Loop() {
				if _, err := f.Run(typed, instrument.Terms{}); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// exact writes a value with all its digits.
func exact(q quantity.Quantity, unit string) string {
	v, err := q.In(unit)
	if err != nil {
		v = q.SI
	}
	return fmt.Sprintf("%.15g %s", v, unit)
}

// A limit at one end only: far on the good side the gauge can always tell.
func TestAOneSidedLimitIsNeverTooNearOnTheGoodSide(t *testing.T) {
	for name, typed := range map[string]map[string]string{
		"window:hub-runout": {"value": "0.005 mm"},
		"flywheel":          {"left": "0.2 °"},
		"air-check":         {"supply": "3.5 bar", "held": "3.5 bar"},
		"cooler-flow":       {"volume": "3 qt", "time": "20 s"},
	} {
		if o := run(t, name, typed).Outputs[0]; o.Verdict != "conforms" {
			t.Errorf("%s: %s", name, o.Verdict)
		}
	}
}
