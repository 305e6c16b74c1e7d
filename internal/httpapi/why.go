package httpapi

import (
	"context"
	"fmt"
	"math"

	"innercompass/core/burnt"
	"innercompass/core/diagnose"
	"innercompass/core/quantity"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/shop"
	"innercompass/internal/teardown"
)

func (h *handlers) GetWhy(ctx context.Context, r gen.GetWhyRequestObject) (gen.GetWhyResponseObject, error) {
	all, st, err := h.App.Teardown.Why(ctx, r.ID)
	return gen.GetWhy200JSONResponse(list(all, func(d teardown.Damaged) gen.Damaged { return damagedView(st, d) })), err
}

func damagedView(st shop.Settings, d teardown.Damaged) gen.Damaged {
	return gen.Damaged{Element: d.Element, Name: d.Name, Found: d.Damage, Says: d.Says(), Model: d.Model, Feed: texts(d.Feed), Root: d.Found, Margins: list(d.Margins, func(m burnt.Margin) gen.BurntMargin { return marginView(st, m) }),
		Conditions: list(d.Conditions, func(c burnt.Condition) gen.BurntCondition { return conditionView(st, c, d.Tell[c.ID]) }),
		Roots: list(d.Roots[:min(8, len(d.Roots))], func(r diagnose.Root) gen.BurntRoot {
			return gen.BurntRoot{ID: r.ID, Title: r.Title, Probability: r.Probability}
		})}
}

func marginView(st shop.Settings, m burnt.Margin) gen.BurntMargin {
	out := gen.BurntMargin{Range: m.Range, Name: m.Name, Load: si(st, m.Load, quantity.Torque, st.Torque), Line: si(st, m.Line, quantity.Pressure, st.Pressure), Healthy: si(st, m.Healthy, quantity.Torque, st.Torque), HealthyRatio: m.Healthy / m.Load,
		Now: st.Style().FormatMeasured(quantity.Measured{Quantity: quantity.Quantity{SI: m.Now.Is, Dimension: quantity.Torque}, U: m.Now.U}, st.Torque), Ratio: m.Ratio.Is, U: m.Ratio.U, Slips: m.Slips, Throttle: m.Throttle}
	if !math.IsNaN(m.Needs) {
		out.Needs = si(st, m.Needs, quantity.Pressure, st.Pressure)
	}
	if s := m.Shift; s != nil {
		out.Shift = &gen.BurntShift{From: s.From, Slip: si(st, s.Slip, quantity.RotationalSpeed, "rpm"), Healthy: heatView(st, s.Healthy), Now: heatView(st, s.Now)}
	}
	return out
}

func heatView(st shop.Settings, h burnt.Heat) gen.BurntHeat {
	rise := func(k float64) string { return fmt.Sprintf("%.0f K", k) }
	return gen.BurntHeat{Closes: h.Closes, Time: si(st, h.Time, quantity.Time, "s"), Energy: si(st, h.Energy, quantity.Energy, "kJ"), Surface: rise(h.Surface), Bulk: rise(h.Bulk)}
}

func conditionView(st shop.Settings, c burnt.Condition, tell teardown.Telling) gen.BurntCondition {
	say := func(v float64) string {
		switch {
		case math.IsNaN(v):
			return "none"
		case c.ID == "plates":
			return fmt.Sprintf("%.0f", v)
		case c.ID == "spring":
			return si(st, v, quantity.Force, "N")
		}
		return fmt.Sprintf("%.0f %%", 100*v)
	}
	limit := map[bool]string{true: "over ", false: "under "}[c.ID == "spring"] + say(c.Limit)
	if math.IsNaN(c.Limit) {
		limit = "nothing in reason"
	}
	return gen.BurntCondition{ID: c.ID, Title: c.Title, Known: c.Known, At: say(c.At.Is), Limit: limit, Ratio: c.Ratio, Alone: c.Alone, Instrument: tell.Instrument, Part: tell.Part, Tell: tell.Title}
}
