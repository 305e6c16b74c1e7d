package httpapi

import (
	"innercompass/core/gearing"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/shop"
)

func hydraulicFacts(u *unitsheet.Unit, st shop.Settings) []gen.Fact {
	out := []gen.Fact{}
	add := func(label, value string) {
		if value != "" {
			out = append(out, gen.Fact{Label: label, Value: value})
		}
	}
	h := u.Sheet.Hydraulics
	if h == nil {
		return out
	}
	add("pump", h.Pump.Kind+", driven by "+map[string]string{"hub": "the converter hub", "shaft": "a shaft through the converter hub", "electric": "a motor", "input": "the input shaft"}[h.Pump.Driven])
	add("per turn", given(st, u.Pump.PerTurn, "cc"))
	add("to spare at hot idle", given(st, u.Pump.Spare, "L/min"))
	throttle := hydraulicsThrottle(u)
	if r := u.Regulator; r != nil {
		add("line, closed throttle, from spring and spool", si(st, r.Line(throttle[0], false), quantity.Pressure, st.Pressure))
		add("line, full throttle", si(st, r.Line(throttle[1], false), quantity.Pressure, st.Pressure))
		add("line boosted, closed throttle", si(st, r.Line(throttle[0], true), quantity.Pressure, st.Pressure))
		add("line boosted, full throttle", si(st, r.Line(throttle[1], true), quantity.Pressure, st.Pressure))
	}
	if h.Throttle != nil {
		add("throttle pressure by "+h.Throttle.Kind, si(st, throttle[0], quantity.Pressure, st.Pressure)+" closed, "+si(st, throttle[1], quantity.Pressure, st.Pressure)+" full")
	}
	return out
}

func rangeViews(u *unitsheet.Unit, members []gen.Member, st shop.Settings) []gen.UnitRange {
	out := []gen.UnitRange{}
	for _, r := range u.Ranges {
		h := r.Healthy
		v := gen.UnitRange{ID: r.ID, Name: r.Name, Selector: r.Selector, Outcome: string(h.Outcome), Ratio: u.RatioOf(r), Applied: texts(r.Applied), Holding: texts(h.Holding), Coast: string(h.Coast), CoastRatio: h.CoastRatio,
			LineIdle: givenWindow(st, r.LineIdle, st.Pressure), LineFull: givenWindow(st, r.LineFull, st.Pressure), Limit: given(st, r.Limit, st.Torque), Lockup: r.Lockup, Driving: r.Driving(), From: r.From}
		v.Speeds = list(members, func(m gen.Member) gen.MemberSpeed {
			speed, known := h.Speeds[m.ID]
			return gen.MemberSpeed{Member: m.ID, Speed: speed, Known: known}
		})
		if from, ok := u.Range(r.From); ok && u.RatioOf(from) != 0 && h.Ratio != 0 {
			step := from.Healthy.Ratio / h.Ratio
			v.Step = &step
		}
		out = append(out, v)
	}
	return out
}

func leverView(u *unitsheet.Unit, members []gen.Member) []gen.LeverPoint {
	var states []gearing.Solution
	if len(u.Sheet.Gearing.Sets) == 0 {
		return []gen.LeverPoint{} // gears on shafts that stand still form no lever
	}
	for _, r := range u.Ranges {
		if r.Driving() {
			states = append(states, r.Healthy)
		}
	}
	named := list(members, func(m gen.Member) string { return m.ID })
	return list(gearing.Lever(u.Machine.Train().Output, named, states), func(p gearing.LeverPoint) gen.LeverPoint {
		return gen.LeverPoint{Member: p.Member, Position: p.Position}
	})
}
