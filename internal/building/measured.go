package building

import (
	"context"
	"fmt"
	"math"

	"innercompass/core/gearing"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Measured is what an instrument was given in a case: values as they were typed, by input.
type Measured struct {
	Case   string
	Values map[string]string
}

// linePressure is the instrument whose inputs are the ranges of a unit, at hot idle.
const linePressure = "line-pressure"

// Offer is what was measured on vehicles with this unit, for a value of its sheet. It is never taken by itself: what was measured on a
// vehicle that is ill belongs into no sheet, and only a person knows.
type Offer struct {
	Range, Field string
	Window       string // lowest to highest
	Readings     int
	Cases        int
	Words        string
}

// offers gathers what was measured on a unit.
func (s *Service) offers(ctx context.Context, sheet unitsheet.Sheet) ([]Offer, error) {
	found, err := s.Store.MeasuredOn(ctx, sheet.ID, linePressure)
	if err != nil {
		return nil, err
	}
	var out []Offer
	for _, r := range sheet.Ranges {
		o := Offer{Range: r.ID, Field: "line_idle"}
		low, high := math.Inf(1), math.Inf(-1)
		cases := map[string]bool{}
		for _, m := range found {
			q, err := quantity.Parse(m.Values[r.ID], quantity.Pressure, "psi")
			if err != nil || m.Values[r.ID] == "" {
				continue
			}
			psi, _ := q.In("psi")
			low, high = math.Min(low, psi), math.Max(high, psi)
			o.Readings++
			cases[m.Case] = true
		}
		if o.Readings == 0 || r.Outcome == string(gearing.Neutral) && r.LineIdle == "" {
			continue
		}
		o.Cases = len(cases)
		o.Window = fmt.Sprintf("%.0f..%.0f psi", math.Floor(low), math.Ceil(high))
		readings, vehicles := "readings", "vehicles"
		if o.Readings == 1 {
			readings = "reading"
		}
		if o.Cases == 1 {
			vehicles = "vehicle"
		}
		o.Words = fmt.Sprintf("%s at idle: %d %s on %d %s, %.0f to %.0f psi", r.ID, o.Readings, readings, o.Cases, vehicles, low, high)
		out = append(out, o)
	}
	return out, nil
}
