package httpapi

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/faultmap"
	"innercompass/core/gearing"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/internal/casework"
	"innercompass/internal/httpapi/gen"
)

func unitView(n *diagnose.Network, st casework.Settings) gen.Unit {
	u := n.Unit
	s := u.Sheet
	out := gen.Unit{ID: s.ID, Name: s.Name, Summary: s.Summary, Version: s.Version, Teeth: teeth(s), MaxTorque: u.MaxTorque.Format(st.Torque), Stall: u.Stall.Format("rpm"),
		Members: []gen.Member{}, Elements: list(u.Elements, func(e unitsheet.Element) gen.UnitElement {
			return gen.UnitElement{ID: e.ID, Name: e.Name, Kind: string(e.Kind), Capacity: e.Capacity.Format(st.Torque), Feed: e.Feed}
		}),
		Feeds: list(s.Feeds, func(f unitsheet.FeedSheet) gen.Feed {
			return gen.Feed{ID: f.ID, Name: f.Name, Path: texts(f.Path), Serves: texts(f.Serves)}
		}),
		Limits: list(s.Limits, func(l unitsheet.LimitSheet) gen.Limit {
			w := u.Limits[l.ID]
			unit := quantity.UnitsOf(w.Low.Dimension)[0].Symbol
			return gen.Limit{ID: l.ID, Name: l.Name, Window: w.Format(st.Unit(w.Low.Dimension, unit)), Element: l.Element}
		}),
		Parts: list(s.Parts, func(p unitsheet.PartSheet) gen.Part {
			return gen.Part{ID: p.ID, Name: p.Name, Access: p.Access, Hours: p.Hours, Zone: append([]float64{}, p.Zone...)}
		}),
		Ladder: list(unitsheet.AccessNames, func(name string) gen.Rung {
			a, _ := unitsheet.ParseAccess(name)
			return gen.Rung{Level: name, Minutes: u.ClimbMinutes[a], State: "ahead"}
		}),
		Traps: list(s.Traps, func(t unitsheet.TrapSheet) gen.Trap { return gen.Trap{Before: t.Before, Text: t.Text} }),
		Torques: list(s.Torques, func(t unitsheet.TorqueSheet) gen.Torque {
			q, _ := quantity.Parse(t.Torque, quantity.Torque, "N·m") // checked when the sheet was compiled
			return gen.Torque{Joint: t.Joint, Torque: q.Format(st.Torque)}
		}),
		Fluid: gen.Fluid{Kind: s.Fluid.Kind, Capacity: u.Capacity.Format(st.Volume), Refill: u.Refill.Format(st.Volume), Level: gen.Level{Steps: texts(s.Fluid.Level.Steps),
			Temperature: u.FluidTemp.Format(st.Temperature), BetweenMarks: u.BetweenMarks.Format(st.Volume), MarksApart: u.MarksApart.Format(st.Length)}},
	}
	for _, m := range s.Gearing.Members {
		if name := s.Gearing.Names[m]; name != "" {
			out.Members = append(out.Members, gen.Member{ID: m, Name: name})
		}
	}
	ratios := map[string]float64{}
	for _, r := range u.Ranges {
		v := rangeView(u, r, out.Members, st)
		if before, ok := ratios[r.From]; ok && before != 0 && r.Healthy.Ratio != 0 {
			step := before / r.Healthy.Ratio
			v.Step = &step
		}
		ratios[r.ID] = r.Healthy.Ratio
		out.Ranges = append(out.Ranges, v)
	}
	var states []gearing.Solution
	for _, r := range u.Ranges {
		if r.Driving() {
			states = append(states, r.Healthy)
		}
	}
	named := list(out.Members, func(m gen.Member) string { return m.ID })
	out.Lever = list(gearing.Lever(u.Train.Output, named, states), func(p gearing.LeverPoint) gen.LeverPoint {
		return gen.LeverPoint{Member: p.Member, Position: p.Position}
	})
	out.Faults = list(n.Faults, func(f faultmap.Row) gen.UnitFault {
		return gen.UnitFault{Title: f.Title, Kind: string(f.Fault.Kind), Element: f.Fault.Element, Cells: list(casework.FaultCells(u, f), predictedView)}
	})
	return out
}

func rangeView(u *unitsheet.Unit, r unitsheet.Range, members []gen.Member, st casework.Settings) gen.UnitRange {
	h := r.Healthy
	out := gen.UnitRange{ID: r.ID, Name: r.Name, Selector: r.Selector, Outcome: string(h.Outcome), Ratio: h.Ratio, Applied: texts(r.Applied), Holding: texts(h.Holding), Coast: string(h.Coast),
		LineIdle: r.LineIdle.Format(st.Pressure), Driving: r.Driving(), From: r.From, Torques: []gen.ElementTorque{}}
	out.Speeds = list(members, func(m gen.Member) gen.MemberSpeed {
		speed, known := h.Speeds[m.ID]
		return gen.MemberSpeed{Member: m.ID, Speed: speed, Known: known}
	})
	if !r.Driving() {
		return out
	}
	for _, id := range append(texts(r.Applied), h.Holding...) {
		e, _ := u.Element(id)
		share := math.Abs(h.Torques[id])
		carries := quantity.Quantity{SI: share * u.MaxTorque.SI, Dimension: quantity.Torque}
		t := gen.ElementTorque{Element: id, Name: e.Name, Share: share, Carries: carries.Format(st.Torque), Shared: slices.Contains(h.Shared, id)}
		if carries.SI > 0 {
			t.Margin = e.Capacity.SI / carries.SI
		}
		out.Torques = append(out.Torques, t)
	}
	return out
}

func teeth(s unitsheet.Sheet) string {
	return strings.Join(list(s.Gearing.Sets, func(x unitsheet.SetSheet) string {
		if x.SmallSun > 0 {
			return fmt.Sprintf("ring %d, suns %d and %d, long %d, short %d, %d pairs", x.Ring, x.SmallSun, x.Sun, x.Planet, x.Short, x.Count)
		}
		return fmt.Sprintf("ring %d, sun %d, %d planets of %d", x.Ring, x.Sun, x.Count, x.Planet)
	}), " · ")
}
