package pressures

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/instrument"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// LinePressure holds the pressure of each range against its window and finds which circuit explains the pattern: the one
// that is fed in the low ranges and in no other. Beside what was read stands what the regulator should make.
func LinePressure() instrument.Definition {
	return instrument.Definition{
		ID: "line-pressure", Title: "Line pressure by range, hot, at idle", Group: "hydraulics", Hand: []string{"pressure gauge"},
		Answers: "Is the pump weak, or does one circuit lose oil?",
		Source:  "windows of the unit sheet; ISO 14253-1; circuits from the apply chart",
		Limits:  "needs a unit; hot, at idle, gauge at the line tap; a leak smaller than the pump's reserve does not show",
		Gauge:   "pressure gauge, 1 psi", Cautions: []string{instrument.CautionRunning, instrument.CautionPressure}, States: []string{"pressure-pattern"},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u == nil {
				return nil
			}
			for _, r := range u.Ranges {
				in := instrument.NumberIn(r.ID, r.ID, quantity.Pressure, "psi", 0, 1450).ReadWithin(1.04).Maybe()
				w := r.LineIdle
				if unitsheet.Known(w.Low) {
					in.Window = &w
				}
				in.Feeds = r.Applied
				d.Inputs = append(d.Inputs, in)
			}
			d.Compute = func(v instrument.Values) ([]instrument.Output, error) { return nil, nil }
			d.Interpret = func(v instrument.Values, _ []instrument.Output, r *instrument.Result) { tellPattern(u, v, r) }
			d.Check = func(v instrument.Values) error {
				if n := len(measuredRanges(u, v)); n < 3 {
					return &instrument.InputError{Input: d.Inputs[0].ID, Reason: fmt.Sprintf("%d ranges measured", n), Accepted: "at least three ranges, so that circuits can be told apart"}
				}
				return nil
			}
			return nil
		},
		Compute: func(instrument.Values) ([]instrument.Output, error) {
			return nil, &instrument.InputError{Input: "unit", Reason: "which unit it is decides what is expected", Accepted: "a unit"}
		},
	}
}

// measuredRanges are the ranges that were read and have a window.
func measuredRanges(u *unitsheet.Unit, v instrument.Values) []unitsheet.Range {
	var out []unitsheet.Range
	for _, r := range u.Ranges {
		if v.Has(r.ID) && unitsheet.Known(r.LineIdle.Low) {
			out = append(out, r)
		}
	}
	return out
}

func tellPattern(u *unitsheet.Unit, v instrument.Values, out *instrument.Result) {
	p := pattern{u: u, measured: measuredRanges(u, v), below: map[string]float64{}, above: map[string]float64{}}
	bars := instrument.Chart{Kind: "bars", Title: "Read beside predicted", Y: instrument.Axis{Label: "line pressure", Dimension: quantity.Pressure, Unit: "psi"}, Words: "Pressure read in each range beside its window."}
	for _, r := range p.measured {
		c, err := measure.Compare(v.N(r.ID), v.U(r.ID), r.LineIdle.Low.SI, r.LineIdle.High.SI)
		if err != nil {
			return // impossible: the values are finite and the windows were checked
		}
		p.below[r.ID], p.above[r.ID] = c.Below, c.Above
		out.Points = append(out.Points, instrument.Point{Input: r.ID, Value: quantity.Quantity{SI: v.N(r.ID), Dimension: quantity.Pressure}, Verdict: string(c.Verdict)})
		text := v.Say(v.N(r.ID), quantity.Pressure, "psi")
		if u.Regulator != nil && u.Throttle != nil {
			predicted := u.Regulator.Line(u.Throttle.Closed, false)
			if predicted < r.LineIdle.Low.SI || predicted > r.LineIdle.High.SI {
				predicted = u.Regulator.Line(u.Throttle.Closed, true) // a boosted range: the sheet's windows are checked against one of the two
			}
			text += ", predicted " + v.Say(predicted, quantity.Pressure, "psi")
		}
		bars.Bars = append(bars.Bars, instrument.Bar{Label: r.ID, Value: v.N(r.ID), Low: r.LineIdle.Low.SI, High: r.LineIdle.High.SI, Text: text, Emphasised: c.Verdict == measure.Below || c.Verdict == measure.Above})
	}
	l := p.likelihoods()
	state := instrument.Likeliest(p.states(), l)
	out.Headline, out.Detail = p.words(state, l)
	out.Stated = []instrument.DerivedReading{{Finding: "pressure-pattern", State: state, Likelihood: instrument.Soften(l), Value: p.values(v)}}
	out.Figures = []instrument.Chart{bars}
}

type pattern struct {
	u            *unitsheet.Unit
	measured     []unitsheet.Range
	below, above map[string]float64
}

func (p pattern) states() []string {
	out := []string{"as-expected", "low-all", "high-all", "erratic"}
	for _, e := range p.u.Elements {
		if e.Kind != gearing.Freewheel {
			out = append(out, "low-"+e.ID)
		}
	}
	return out
}

// likelihoods is, for each state, the probability that exactly its ranges are low (or high). For a
// circuit, ranges that a strong pump may carry count half. Erratic stands in for every other
// pattern with one even share.
func (p pattern) likelihoods() map[string]float64 {
	fits := func(low func(unitsheet.Range) bool) float64 {
		l := 1.0
		for _, r := range p.measured {
			if low(r) {
				l *= p.below[r.ID]
			} else {
				l *= 1 - p.below[r.ID]
			}
		}
		return l
	}
	out := map[string]float64{
		"as-expected": fits(func(unitsheet.Range) bool { return false }) * p.noneHigh(),
		"low-all":     fits(func(unitsheet.Range) bool { return true }),
		"high-all":    1,
		"erratic":     math.Pow(0.5, float64(len(p.measured))),
	}
	for _, r := range p.measured {
		out["high-all"] *= p.above[r.ID]
	}
	for _, e := range p.u.Elements {
		if e.Kind == gearing.Freewheel {
			continue
		}
		fed := 0
		l := fits(func(r unitsheet.Range) bool {
			on := slices.Contains(r.Applied, e.ID)
			if on {
				fed++
			}
			return on
		})
		if fed == 0 || fed == len(p.measured) {
			l = 0 // never fed in what was measured, or not to be told from low everywhere
		}
		out["low-"+e.ID] = l
	}
	return out
}

func (p pattern) noneHigh() float64 {
	l := 1.0
	for _, r := range p.measured {
		l *= 1 - p.above[r.ID]
	}
	return l
}

func (p pattern) words(state string, l map[string]float64) (head, detail string) {
	var low []string
	for _, r := range p.measured {
		if p.below[r.ID] > 0.5 {
			low = append(low, r.ID)
		}
	}
	switch state {
	case "as-expected":
		return "As expected in every range measured.", "Pump, regulator and circuits hold at idle; a small leak may hide behind the pump's reserve."
	case "low-all":
		return "Low in every range.", "What all ranges share: level, filter, pump, regulator, throttle-valve adjustment."
	case "high-all":
		return "High in every range.", "Regulator or boost valve stuck, or throttle-valve cable too tight."
	case "erratic":
		return fmt.Sprintf("Low in %s: no single circuit explains it.", strings.Join(low, ", ")), "Repeat the ranges that disagree, hot, before building on it."
	}
	e, _ := p.u.Element(strings.TrimPrefix(state, "low-"))
	head = fmt.Sprintf("Low only where the %s is fed (%s).", e.Name, strings.Join(low, ", "))
	detail = "The pump and regulator hold everywhere else, so oil is lost in that circuit."
	for _, f := range p.u.Sheet.Feeds {
		if f.ID == e.Feed {
			detail += " It runs: " + route(f) + "."
		}
	}
	return head, detail
}

func (p pattern) values(v instrument.Values) string {
	var out []string
	for _, r := range p.measured {
		n, _, _ := strings.Cut(v.Say(v.N(r.ID), quantity.Pressure, "psi"), " ")
		out = append(out, r.ID+" "+n)
	}
	return strings.Join(out, " · ") + " " + v.Terms.UnitFor(quantity.Pressure, "psi")
}

// route is a feed's path in words, without taps and sensors.
func route(f unitsheet.FeedSheet) string {
	var names []string
	for _, s := range f.Path {
		if s.Kind != "tap" && s.Kind != "sensor" {
			names = append(names, s.Name)
		}
	}
	return strings.Join(names, " → ")
}

// backward sorts reverse after the forward ranges.
func backward(u *unitsheet.Unit, id string) int {
	if r, ok := u.Range(id); ok && r.Healthy.Outcome == gearing.Reverse {
		return 1
	}
	return 0
}

// PressureRise holds line pressure at closed and at full throttle against the windows of a range.
func PressureRise() instrument.Definition {
	return instrument.Definition{
		ID: "pressure-rise", Title: "Line pressure against throttle", Group: "hydraulics", Hand: []string{"pressure gauge"},
		Answers: "Does line pressure rise with the throttle as it should, from idle to full?",
		Source:  "windows of the unit sheet; ISO 14253-1", Limits: "fluid hot, one range, gauge at the line tap, some 1,000 rpm: throttle valve pulled by hand, modulator hose off, or pressure commanded; at stall, 5 s at most",
		Gauge: "pressure gauge, 1 psi", Cautions: []string{instrument.CautionRunning, instrument.CautionPressure}, States: []string{"pressure-rise"},
		Inputs: []instrument.Input{
			instrument.NumberIn("idle", "Read at idle", quantity.Pressure, "psi", 0, 600).ReadWithin(1.04).Like("58 psi"), instrument.NumberIn("full", "Read at full throttle", quantity.Pressure, "psi", 0, 600).ReadWithin(1.04).Like("145 psi"),
			instrument.NumberIn("idle-low", "Window at idle, low end", quantity.Pressure, "psi", 0, 600).Preset("55 psi"), instrument.NumberIn("idle-high", "and high end", quantity.Pressure, "psi", 0, 600).Preset("65 psi"),
			instrument.NumberIn("full-low", "Window at full throttle, low end", quantity.Pressure, "psi", 0, 600).Preset("140 psi"), instrument.NumberIn("full-high", "and high end", quantity.Pressure, "psi", 0, 600).Preset("160 psi"),
		},
		PartsOn: func(u *unitsheet.Unit) []instrument.Option {
			if u == nil {
				return nil
			}
			var out []instrument.Option
			for _, r := range u.Ranges {
				if r.Driving() && unitsheet.Known(r.LineIdle.Low) && unitsheet.Known(r.LineFull.Low) {
					out = append(out, instrument.Option{ID: r.ID, Title: r.Name})
				}
			}
			slices.SortStableFunc(out, func(a, b instrument.Option) int { return cmp.Compare(backward(u, a.ID), backward(u, b.ID)) })
			return out
		},
		Fit: func(d *instrument.Definition, u *unitsheet.Unit) error {
			if u == nil {
				return nil
			}
			if r, ok := u.Range(d.Part); ok {
				d.Title += ": " + r.Name
				idle, full := r.LineIdle, r.LineFull
				d.In("idle").Window, d.In("full").Window = &idle, &full
				d.Fix(map[string]float64{"idle-low": idle.Low.SI, "idle-high": idle.High.SI, "full-low": full.Low.SI, "full-high": full.High.SI})
			}
			return nil
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			for _, w := range []string{"idle", "full"} {
				if err := instrument.Ordered(v, w+"-low", w+"-high"); err != nil {
					return nil, err
				}
			}
			return []instrument.Output{instrument.Out("full", "at full throttle", v.N("full"), quantity.Pressure, "psi").Within(v.N("full-low"), v.N("full-high")),
				instrument.Out("idle", "at idle", v.N("idle"), quantity.Pressure, "psi").Within(v.N("idle-low"), v.N("idle-high")), instrument.Out("rise", "rise", v.N("full")-v.N("idle"), quantity.Pressure, "psi")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			full, idle := o[0].Likelihoods("in", "below", "above"), o[1].Likelihoods("in", "below", "above")
			// High from the start shows at idle; flat is good at idle, or low there too, and low at full throttle.
			l := map[string]float64{"high": idle["above"], "flat": (1 - idle["above"]) * full["below"]}
			l["rises"] = max(0, 1-l["high"]-l["flat"])
			r.Stated = []instrument.DerivedReading{instrument.Derive("pressure-rise", []string{"rises", "flat", "high"}, l, v.Say(v.N("idle"), quantity.Pressure, "psi")+" to "+v.Say(v.N("full"), quantity.Pressure, "psi"))}
			r.Headline = map[string]string{"rises": "It rises as it should.", "flat": "It hardly rises: throttle-valve adjustment, boost valve, or a pump that has nothing to spare.", "high": "High from the start: boost or regulator stuck, or throttle pressure always full."}[r.Stated[0].State]
			r.Points = []instrument.Point{{Input: "idle", Value: quantity.Quantity{SI: v.N("idle"), Dimension: quantity.Pressure}, Verdict: string(o[1].Verdict)}, {Input: "full", Value: quantity.Quantity{SI: v.N("full"), Dimension: quantity.Pressure}, Verdict: string(o[0].Verdict)}}
			r.Figures = []instrument.Chart{{Kind: "bars", Title: "Idle and full throttle", Y: instrument.Axis{Label: "line pressure", Dimension: quantity.Pressure, Unit: "psi"}, Words: "Pressure read beside its window.",
				Bars: []instrument.Bar{{Label: "idle", Value: v.N("idle"), Low: v.N("idle-low"), High: v.N("idle-high"), Text: v.SayOutput(o[1])}, {Label: "full throttle", Value: v.N("full"), Low: v.N("full-low"), High: v.N("full-high"), Text: v.SayOutput(o[0]), Emphasised: true}}}}
		},
	}
}
