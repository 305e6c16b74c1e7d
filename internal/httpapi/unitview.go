package httpapi

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/quantity"
	"innercompass/core/roadtest"
	"innercompass/core/unitsheet"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/library"
	"innercompass/internal/shop"
)

// given formats a quantity in a unit, or says nothing when the sheet does not give it.
func given(st shop.Settings, q quantity.Quantity, unit string) string {
	if !unitsheet.Known(q) {
		return ""
	}
	return st.Style().Format(q, unit)
}

func givenWindow(st shop.Settings, w quantity.Window, unit string) string {
	if !unitsheet.Known(w.Low) {
		return ""
	}
	return st.Style().FormatWindow(w, unit)
}

func si(st shop.Settings, v float64, d quantity.Dimension, unit string) string {
	return st.Style().Format(quantity.Quantity{SI: v, Dimension: d}, unit)
}

// unitView is a unit with all that follows from its sheet.
func unitView(n *knowledge.Network, item library.UnitItem, st shop.Settings) gen.Unit {
	u, s := n.Unit, n.Unit.Sheet
	out := gen.Unit{ID: s.ID, Name: s.Name, Summary: s.Summary, Version: s.Version, Versions: append([]int{}, item.Versions...), Own: item.Own, Control: s.Control, ConverterInside: s.Gearing.Converter != nil, Teeth: unitsheet.Teeth(s),
		Depth: string(s.Depth()), Cannot: texts(u.Cannot()), Sources: list(s.Sources, sourceView),
		MaxTorque: given(st, u.MaxTorque, st.Torque), Margin: s.Engine.Margin, Stall: givenWindow(st, u.Stall, "rpm"),
		Members: members(s), Elements: list(u.Elements, elementView(s, st)), Ranges: []gen.UnitRange{}, Hydraulics: hydraulicFacts(u, st),
		Feeds: list(s.Feeds, func(f unitsheet.FeedSheet) gen.Feed {
			return gen.Feed{ID: f.ID, Name: f.Name, Selectors: texts(f.Selectors), Serves: texts(f.Serves), Path: list(f.Path, stepView)}
		}),
		Shared: list(s.Shared, func(p unitsheet.SharedSheet) gen.SharedPart {
			return gen.SharedPart{ID: p.ID, Name: p.Name, Kind: p.Kind, Serves: texts(p.Serves)}
		}),
		Controls: list(u.Controls, func(c unitsheet.Control) gen.Control {
			return gen.Control{ID: c.ID, Name: c.Name, Kind: c.Kind, Rest: c.Rest, Applies: c.Applies, Watched: c.Watched, Ohms: ohms(c.Ohms), Access: c.Level.String(), Hours: c.Hours}
		}),
		ControlTable: list(u.ControlTable(), func(r unitsheet.ControlRow) gen.ControlRow {
			return gen.ControlRow{Selector: r.Selector, Range: r.Range, Bits: append([]int{}, r.Bits...), Applied: texts(r.Applied), Result: resultWords(u, r.Result), Healthy: r.Range != "" && r.Bits != nil}
		}),
		Shifts: list(u.Shifts, func(p unitsheet.ShiftPoint) gen.ShiftPoint {
			return gen.ShiftPoint{Control: p.Control, To: p.To, Light: given(st, p.Light, roadSpeed(st)), Full: given(st, p.Full, roadSpeed(st)), LightWindow: givenWindow(st, p.LightWindow, roadSpeed(st)), FullWindow: givenWindow(st, p.FullWindow, roadSpeed(st))}
		}),
		Sensors: list(s.Sensors, func(x unitsheet.SensorSheet) gen.Sensor {
			return gen.Sensor{ID: x.ID, Name: x.Name, Kind: x.Kind, On: unitsheet.MemberName(s, x.On), Teeth: x.Teeth, Access: orGround(x.Access), Hours: x.Hours}
		}),
		Limits: list(s.Limits, func(l unitsheet.LimitSheet) gen.Limit {
			w := u.Limits[l.ID]
			unit := quantity.UnitsOf(w.Low.Dimension)[0].Symbol
			return gen.Limit{ID: l.ID, Name: l.Name, Window: st.Style().FormatWindow(w, st.Unit(w.Low.Dimension, unit)), Element: l.Element}
		}),
		Parts: list(s.Parts, func(p unitsheet.PartSheet) gen.Part {
			return gen.Part{ID: p.ID, Name: p.Name, Access: orGround(p.Access), Hours: p.Hours, Zone: append([]float64{}, p.Zone...)}
		}),
		Ladder: list(u.Levels, func(a unitsheet.Access) gen.Rung {
			return gen.Rung{Level: a.String(), Minutes: u.ClimbMinutes[a], State: "ahead"}
		}),
		Traps:  list(s.Traps, func(t unitsheet.TrapSheet) gen.Trap { return gen.Trap{Before: orGround(t.Before), Text: t.Text} }),
		Resets: list(s.Resets, func(r unitsheet.ResetSheet) gen.Reset { return gen.Reset{After: r.After, Text: r.Text} }),
		Torques: list(s.Torques, func(t unitsheet.TorqueSheet) gen.Torque {
			q, _ := quantity.Parse(t.Torque, quantity.Torque, "N·m") // checked when the sheet was compiled
			return gen.Torque{Joint: t.Joint, Torque: st.Style().Format(q, st.Torque)}
		}),
		Known: list(s.Known, func(k unitsheet.KnownSheet) gen.Known {
			w, _ := quantity.ParseWindow(k.Distance, quantity.Distance, "") // checked likewise
			cause, _ := n.Cause(k.Cause)
			return gen.Known{Title: k.Title, Cause: cause.Title, Distance: distances(w, st.Distance), Note: k.Note}
		}),
		Fluid: gen.Fluid{Kind: s.Fluid.Kind, Capacity: given(st, u.Capacity, st.Volume), Refill: given(st, u.Refill, st.Volume), Level: gen.Level{Engine: s.Fluid.Level.Engine, Selector: s.Fluid.Level.Selector, At: s.Fluid.Level.At, Steps: texts(s.Fluid.Level.Steps),
			Temperature: givenWindow(st, u.FluidTemp, st.Temperature), BetweenMarks: given(st, u.BetweenMarks, st.Volume), MarksApart: given(st, u.MarksApart, st.Length)}},
		Doubts: problems(u.Doubts()),
	}
	if c := s.Converter; c != nil {
		q, _ := quantity.Parse(c.Seating, quantity.Length, "mm") // checked likewise
		out.Seating = given(st, q, st.Length)
	}
	out.Ranges = rangeViews(u, out.Members, st)
	out.Lever = leverView(u, out.Members)
	out.Faults, out.Groups = faultViews(n, st)
	return out
}

func stepView(s unitsheet.StepSheet) gen.Step {
	kind := s.Kind
	if kind == "" {
		kind = "part"
	}
	return gen.Step{Name: s.Name, Kind: kind}
}

func orGround(access string) string {
	if access == "" {
		return unitsheet.Ground.String()
	}
	return access
}

// distances formats a window of distances driven, thousands marked.
func distances(w quantity.Window, unit string) string {
	if !unitsheet.Known(w.Low) {
		return ""
	}
	low, _ := w.Low.In(unit)
	high, _ := w.High.In(unit)
	mark := func(v float64) string {
		s := fmt.Sprintf("%.0f", v)
		if len(s) > 3 {
			s = s[:len(s)-3] + "," + s[len(s)-3:]
		}
		return s
	}
	if low == 0 {
		return "to " + mark(high) + " " + unit
	}
	return mark(low) + " to " + mark(high) + " " + unit
}

// roadSpeed is the unit of road speed that goes with the shop's unit of distance.
func roadSpeed(st shop.Settings) string {
	if st.Distance == "mi" {
		return "mph"
	}
	return "km/h"
}

func ohms(limits []float64) string {
	if len(limits) != 2 {
		return ""
	}
	return fmt.Sprintf("%g to %g Ω", limits[0], limits[1])
}

func members(s unitsheet.Sheet) []gen.Member {
	out := []gen.Member{}
	for _, m := range s.Gearing.Members {
		if name := s.Gearing.Names[m]; name != "" {
			out = append(out, gen.Member{ID: m, Name: name})
		}
	}
	return out
}

func elementView(s unitsheet.Sheet, st shop.Settings) func(unitsheet.Element) gen.UnitElement {
	return func(e unitsheet.Element) gen.UnitElement {
		i := slices.IndexFunc(s.Elements, func(x unitsheet.ElementSheet) bool { return x.ID == e.ID })
		return gen.UnitElement{ID: e.ID, Name: e.Name, Kind: string(e.Kind), A: unitsheet.MemberName(s, s.Elements[i].A), B: unitsheet.MemberName(s, s.Elements[i].B), Feed: e.Feed, Group: e.Group,
			Capacity: given(st, e.Capacity, st.Torque), Touch: given(st, e.Touch, st.Pressure), Clearance: given(st, e.Clear, st.Length), Access: e.Access.String(), Hours: e.Hours}
	}
}

func resultWords(u *unitsheet.Unit, r gearing.Result) string {
	if r.Ratio == 0 {
		return string(r.Outcome)
	}
	for _, x := range u.Ranges {
		if x.Driving() && math.Abs(x.Healthy.Ratio-r.Ratio) < 1e-6 {
			return fmt.Sprintf("as %s, %.3f", x.ID, r.Ratio)
		}
	}
	return fmt.Sprintf("%s, %.3f", r.Outcome, r.Ratio)
}

func hydraulicsThrottle(u *unitsheet.Unit) [2]float64 {
	if u.Throttle == nil {
		return [2]float64{}
	}
	return [2]float64{u.Throttle.Pressure(0), u.Throttle.Pressure(1)}
}

// faultID names a failure in an address.
func faultID(f faultmap.Fault) string { return string(f.Kind) + ":" + f.Part }

func faultViews(n *knowledge.Network, st shop.Settings) ([]gen.UnitFault, []gen.FaultGroup) {
	groups := []gen.FaultGroup{}
	group := make([]int, len(n.Faults))
	for i := range group {
		group[i] = -1
	}
	for _, g := range roadtest.Groups(n.Faults) {
		if len(g) < 2 || len(n.Faults[g[0]].Cells) == 0 {
			continue // alone, or doing nothing that a road test shows
		}
		v := gen.FaultGroup{Split: roadtest.Split(n.Unit, n.Faults[g[0]], n.Faults[g[1]])}
		for _, i := range g {
			group[i] = len(groups)
			v.Faults, v.Titles = append(v.Faults, faultID(n.Faults[i].Fault)), append(v.Titles, n.Faults[i].Title)
		}
		groups = append(groups, v)
	}
	out := []gen.UnitFault{}
	for i, f := range n.Faults {
		v := gen.UnitFault{ID: faultID(f.Fault), Title: f.Title, Kind: string(f.Fault.Kind), Part: f.Fault.Part, PartName: unitsheet.PartName(n.Unit, f.Fault.Part), Cells: list(plan.FaultCells(n.Unit, f), predictedView),
			First: weakened(n.Unit, f, st), Group: group[i], Touched: len(f.Cells), Assumed: texts(f.Assumed),
			Sags: list(f.Sags, func(s faultmap.Sag) gen.Sag {
				return gen.Sag{Range: s.Range, Line: si(st, s.Line, quantity.Pressure, st.Pressure), Hot: si(st, s.Left, quantity.Pressure, st.Pressure), Cold: si(st, s.Cold, quantity.Pressure, st.Pressure)}
			})}
		out = append(out, v)
	}
	return out, groups
}

// firstWords says where a weakened element gives way first.
func firstWords(f *faultmap.SlipsFirst, st shop.Settings) string {
	if f == nil {
		return ""
	}
	at := fmt.Sprintf("slips first in %s, from %.0f %% throttle (", f.Range, 100*f.Throttle)
	if f.Pressure > 0 {
		at += si(st, f.Pressure, quantity.Pressure, st.Pressure) + ", "
	}
	return at + si(st, f.Load, quantity.Torque, st.Torque) + ")"
}

// weakened adds what was taken away and, where several parts are weak, which of them slips.
func weakened(u *unitsheet.Unit, f faultmap.Row, st shop.Settings) string {
	if f.First == nil {
		return ""
	}
	what := "hold"
	if f.Fault.Kind == faultmap.LowPressure {
		what = "line pressure"
	}
	who := ""
	if f.First.Element != f.Fault.Part {
		who = "the " + unitsheet.PartName(u, f.First.Element) + " "
	}
	return fmt.Sprintf("with %.0f %% of its %s left, %s%s", 100*f.First.Left, what, who, firstWords(f.First, st))
}

func problems(in []*unitsheet.Problem) []gen.SheetProblem {
	return list(in, func(p *unitsheet.Problem) gen.SheetProblem {
		return gen.SheetProblem{Line: p.Line, Path: p.Path, Reason: p.Reason, Accepted: p.Accepted}
	})
}

// powerView is a power flow in the shop's units.
func powerView(u *unitsheet.Unit, p unitsheet.Power, in unitsheet.Running, st shop.Settings) gen.Power {
	const rpm = 60 / (2 * math.Pi)
	s := u.Sheet
	out := gen.Power{Range: p.Range.ID, Ratio: p.Range.Healthy.Ratio, Speed: in.Speed * rpm, Input: si(st, p.Input, quantity.Torque, st.Torque), Output: si(st, math.Abs(p.Output), quantity.Torque, st.Torque),
		OutSpeed: si(st, math.Abs(p.OutSpeed), quantity.RotationalSpeed, "rpm"), Members: []gen.PowerMember{}, Elements: []gen.PowerElement{}, Orders: []gen.PowerOrder{}, Sentence: unitsheet.PowerSentence(u, p)}
	if p.Line > 0 {
		out.Line = si(st, p.Line, quantity.Pressure, st.Pressure)
	}
	if p.Loss > 0 {
		out.Loss = si(st, p.Loss, quantity.Power, "kW")
	}
	for _, m := range p.Members {
		if name := s.Gearing.Names[m.ID]; name != "" {
			v := gen.PowerMember{ID: m.ID, Name: name, Speed: m.Speed * rpm, Known: m.Known, Gears: si(st, m.Gears, quantity.Torque, st.Torque)}
			if m.Split {
				v.Gears = ""
			}
			out.Members = append(out.Members, v)
		}
	}
	for _, e := range p.Elements {
		v := gen.PowerElement{ID: e.ID, Name: unitsheet.PartName(u, e.ID), On: e.On, Holding: e.Holding, Shared: e.Shared, Torque: si(st, math.Abs(e.Torque), quantity.Torque, st.Torque), NewtonMetres: math.Abs(e.Torque)}
		if e.Hold > 0 {
			v.Hold, v.HoldNewtonMetres, v.Slips = si(st, e.Hold, quantity.Torque, st.Torque), e.Hold, e.Slips()
			if math.Abs(e.Torque) > 0.05 {
				v.Margin = e.Hold / math.Abs(e.Torque)
			}
		}
		if e.Known {
			v.Across = si(st, e.Across, quantity.RotationalSpeed, "rpm")
		}
		out.Elements = append(out.Elements, v)
	}
	for _, o := range p.Orders {
		if o.Kind != gearing.Shaft {
			out.Orders = append(out.Orders, gen.PowerOrder{Name: unitsheet.OrderName(s, o), Kind: string(o.Kind), Hertz: o.PerInput * in.Speed / (2 * math.Pi), PerOutput: o.PerOutput, Loaded: o.Loaded})
		}
	}
	if first, ok := faultmap.FirstAtHalfPressure(u, p.Range); ok {
		out.First = "At half the line pressure the " + unitsheet.PartName(u, first.Element) + " " + firstWords(&first, st) + "."
	}
	return out
}

func compareView(u *unitsheet.Unit, a, b faultmap.Row) gen.Comparison {
	out := gen.Comparison{A: a.Title, B: b.Title, Cells: []gen.ComparedCell{}, Split: roadtest.Split(u, a, b)}
	differ := roadtest.Differ(u, a, b)
	out.Differing = len(differ)
	for _, c := range faultmap.Grid(u) {
		pa, sayA := a.At(c)
		pb, sayB := b.At(c)
		differs := slices.Contains(differ, c)
		if !sayA && !sayB && !differs {
			continue
		}
		info := faultmap.Info(c.Behaviour)
		words := func(r faultmap.Row, p faultmap.Prediction, says bool) string {
			switch {
			case says:
				return info.StateTitle(p.State)
			case slices.Contains(r.Unknown, c):
				return "cannot be seen"
			}
			return info.States[0].Title
		}
		out.Cells = append(out.Cells, gen.ComparedCell{Range: c.Range, Behaviour: string(c.Behaviour), Title: info.Title, A: words(a, pa, sayA), B: words(b, pb, sayB), Differs: differs, DetailA: pa.Detail, DetailB: pb.Detail})
	}
	return out
}

func gearView(u *unitsheet.Unit, f unitsheet.GearFound) gen.GearFound {
	out := gen.GearFound{Matches: []gen.GearMatch{}, Slips: []gen.ElementSlip{}}
	for _, m := range f.Matches {
		out.Matches = append(out.Matches, gen.GearMatch{Range: m.Range.ID, Ratio: m.Range.Healthy.Ratio, Slip: fmt.Sprintf("%+.0f ± %.0f rpm", m.Slip, m.SlipTo), Fits: m.Fits})
	}
	for _, s := range f.Slips {
		out.Slips = append(out.Slips, gen.ElementSlip{Element: s.Element, Name: unitsheet.PartName(u, s.Element), Slip: fmt.Sprintf("%.0f ± %.0f rpm", math.Abs(s.Slip), s.To)})
	}
	if len(f.Matches) == 0 {
		out.Sentence = "No range of this unit drives."
		return out
	}
	best := f.Matches[0]
	out.Observed = fmt.Sprintf("%.3f ± %.3f", best.Ratio, best.RatioTo)
	if best.Fits {
		out.Sentence = fmt.Sprintf("This is %s: its %.3f lies within what the sensors can tell.", best.Range.ID, best.Range.Healthy.Ratio)
	} else {
		out.Sentence = fmt.Sprintf("No gear fits. %s is nearest; the input runs %.0f rpm beside it: slip, or a gear that this unit does not have.", best.Range.ID, math.Abs(best.Slip))
	}
	return out
}
