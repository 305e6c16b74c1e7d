package httpapi

import (
	"context"
	"fmt"
	"math"
	"strings"

	"innercompass/core/burnt"
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
	out := gen.Damaged{Element: d.Element, Name: d.Name, Found: d.Says, Model: d.Model, Feed: texts(d.Feed), Root: d.Found, Margins: list(d.Margins, func(m burnt.Margin) gen.BurntMargin { return marginView(st, m) }),
		Conditions: list(d.Conditions, func(c burnt.Condition) gen.BurntCondition { return conditionView(st, c, d.Tell[c.ID]) }),
		Roots: list(d.Roots[:min(8, len(d.Roots))], func(r teardown.Root) gen.BurntRoot {
			return gen.BurntRoot{ID: r.ID, Title: r.Title, Probability: r.Probability}
		})}
	out.Says = saysWhy(st, d)
	return out
}

// saysWhy is the answer in one or two sentences.
func saysWhy(st shop.Settings, d teardown.Damaged) string {
	switch {
	case !d.Model:
		return "The sheet does not give what it holds: no margin can be computed."
	case len(d.Margins) == 0:
		return "It carries no load that the gears can tell."
	}
	m := d.Margins[0]
	var does []string
	for _, c := range d.Conditions {
		if c.Alone {
			does = append(does, c.Title)
		}
	}
	switch {
	case len(does) > 0:
		return fmt.Sprintf("In %s it holds %.2f times what it must, from %.0f %% throttle on it slips. By itself that does: %s.", strings.ToLower(m.Name[:1])+m.Name[1:], m.Ratio.Is, 100*m.Throttle, strings.Join(does, ", "))
	case m.Slips > 0.5:
		return fmt.Sprintf("Together, what was found takes it to %.2f times what it must hold in %s. No one condition does it alone.", m.Ratio.Is, m.Name)
	case m.Slips > 0.05:
		return fmt.Sprintf("It may slip in %s: %d in 100, by what is known.", m.Name, int(math.Round(100*m.Slips)))
	}
	return fmt.Sprintf("By what was measured it holds %.2f times what it must in %s, where it has least to spare. What burned it is not measured yet.", m.Ratio.Is, m.Name)
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
