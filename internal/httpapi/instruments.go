package httpapi

import (
	"context"
	"slices"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/leak"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/measuring"
	"innercompass/internal/shop"
)

func (h *handlers) ListGauges(ctx context.Context, _ gen.ListGaugesRequestObject) (gen.ListGaugesResponseObject, error) {
	all, err := h.gauges(ctx)
	return gen.ListGauges200JSONResponse(all), err
}

func (h *handlers) PutGauges(ctx context.Context, r gen.PutGaugesRequestObject) (gen.PutGaugesResponseObject, error) {
	_, err := h.App.Shop.SaveGauges(ctx, list(r.Body.Gauges, func(g gen.NewGauge) shop.Gauge {
		return shop.Gauge{ID: text(g.ID), Name: g.Name, Dimension: g.Dimension, Resolution: text(g.Resolution), Uncertainty: text(g.Uncertainty), Until: text(g.Until)}
	}), unquoted(r.Params.IfMatch))
	if err != nil {
		return nil, err
	}
	all, err := h.gauges(ctx)
	return gen.PutGauges200JSONResponse(all), err
}

func (h *handlers) gauges(ctx context.Context) (gen.GaugeList, error) {
	b, err := h.App.Shop.Gauges(ctx)
	return gen.GaugeList{Rev: b.Rev, Gauges: list(b.Gauges, func(g shop.Gauge) gen.Gauge { return gaugeView(g, g.Overdue(b.Today)) })}, err
}

func gaugeView(g shop.Gauge, overdue bool) gen.Gauge {
	return gen.Gauge{ID: g.ID, Name: g.Name, Dimension: g.Dimension, Resolution: g.Resolution, Uncertainty: g.Uncertainty, Until: g.Until, Overdue: overdue}
}

func (h *handlers) ListInstruments(context.Context, gen.ListInstrumentsRequestObject) (gen.ListInstrumentsResponseObject, error) {
	return gen.ListInstruments200JSONResponse{Groups: list(instrument.Groups, namedView), Hands: list(instrument.Hands, func(x instrument.Hand) gen.Named { return gen.Named{ID: x.ID, Title: x.Title} }), Instruments: list(instruments.All(), func(d instrument.Definition) gen.InstrumentItem {
		return gen.InstrumentItem{ID: d.ID, Title: d.Title, Answers: d.Answers, Group: d.Group, Hand: texts(d.Hand), HeldIn: texts(d.HeldIn())}
	})}, nil
}

func namedView(o instrument.Option) gen.Named { return gen.Named{ID: o.ID, Title: o.Title} }

// instrumentAt names an instrument with its part, and what it is used on.
func instrumentAt(id string, part, unit, caseID *string) measuring.InstrumentAt {
	at := measuring.InstrumentAt{Name: id, Unit: text(unit), Case: text(caseID)}
	if p := text(part); p != "" {
		at.Name += ":" + p
	}
	return at
}

func (h *handlers) GetInstrument(ctx context.Context, r gen.GetInstrumentRequestObject) (gen.GetInstrumentResponseObject, error) {
	v, err := h.App.Measuring.Instrument(ctx, instrumentAt(r.ID, r.Params.Part, r.Params.Unit, r.Params.Case))
	if err != nil {
		return nil, err
	}
	return gen.GetInstrument200JSONResponse(instrumentView(v)), nil
}

func (h *handlers) Calculate(ctx context.Context, r gen.CalculateRequestObject) (gen.CalculateResponseObject, error) {
	at := instrumentAt(r.ID, r.Params.Part, r.Params.Unit, r.Params.Case)
	result, d, err := h.App.Measuring.Calculate(ctx, at, text(r.Body.Gauge), r.Body.Values)
	if err != nil {
		return nil, err
	}
	view, err := h.resultView(ctx, at.Case, result, d)
	return gen.Calculate200JSONResponse(view), err
}

func (h *handlers) PutCalculated(ctx context.Context, r gen.PutCalculatedRequestObject) (gen.PutCalculatedResponseObject, error) {
	v, err := h.news(ctx)(h.App.Measuring.PutCalculated(ctx, measuring.InstrumentAt{Name: r.Instrument, Case: r.ID}, guard(r.Params.IfMatch, r.Params.IdempotencyKey), use(ctx, *r.Body)))
	return gen.PutCalculated200JSONResponse{CaseNewsJSONResponse: v}, err
}

func use(ctx context.Context, b gen.Values) measuring.Use {
	return measuring.Use{Gauge: text(b.Gauge), By: by(ctx, b.By), Again: yes(b.Again), Values: b.Values}
}

func (h *handlers) ListMeasurements(ctx context.Context, r gen.ListMeasurementsRequestObject) (gen.ListMeasurementsResponseObject, error) {
	all, err := h.App.Measuring.Measurements(ctx, r.ID)
	return gen.ListMeasurements200JSONResponse(list(all, keptView)), err
}

func keptView(k measuring.KeptView) gen.Measurement {
	return gen.Measurement{ID: k.ID, Instrument: k.Instrument, Title: k.Title, Value: k.Value, Says: k.Says, By: k.By, At: k.At, Gauge: k.GaugeName, Stands: k.Stands, Reading: k.Reading}
}

func (h *handlers) WithdrawMeasurement(ctx context.Context, r gen.WithdrawMeasurementRequestObject) (gen.WithdrawMeasurementResponseObject, error) {
	v, err := h.news(ctx)(h.App.Measuring.WithdrawMeasurement(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), r.Measurement, by(ctx, r.Params.By)))
	return gen.WithdrawMeasurement200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) Measure(ctx context.Context, r gen.MeasureRequestObject) (gen.MeasureResponseObject, error) {
	result, d, err := h.App.Checks.Measure(ctx, r.ID, r.Check, use(ctx, *r.Body))
	if err != nil {
		return nil, err
	}
	view, err := h.resultView(ctx, r.ID, result, d)
	return gen.Measure200JSONResponse(view), err
}

func (h *handlers) PutMeasured(ctx context.Context, r gen.PutMeasuredRequestObject) (gen.PutMeasuredResponseObject, error) {
	v, err := h.news(ctx)(h.App.Checks.PutMeasured(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), r.Check, use(ctx, *r.Body)))
	return gen.PutMeasured200JSONResponse{CaseNewsJSONResponse: v}, err
}

func instrumentView(v measuring.InstrumentView) gen.Instrument {
	d := v.Definition
	out := gen.Instrument{ID: d.ID, Name: d.Name(), Part: d.Part, Parts: list(v.Parts, namedView), Title: d.Title, Answers: d.Answers, Source: d.Source, Limits: d.Limits, Gauge: d.Gauge, Cautions: texts(d.Cautions), Steps: texts(d.Steps),
		Inputs: list(d.Inputs, func(in instrument.Input) gen.InstrumentInput { return inputView(in, v.Values[in.ID], v.From[in.ID]) }), States: texts(v.States),
		History: list(v.History, keptView),
		Gauges:  list(v.Gauges, func(g shop.Gauge) gen.Gauge { return gaugeView(g, v.Overdue(g)) }), UnitName: v.UnitName}
	if v.Unit != nil && v.Unit.Leaks != nil && d.ID == "leak-map" {
		places := leakPlaces(v.Unit)
		out.Leaks = &places
	}
	return out
}

// leakPlaces are the zones of a unit, with its parts as they stand in the side elevation.
func leakPlaces(u *unitsheet.Unit) gen.LeakPlaces {
	return gen.LeakPlaces{Across: u.Leaks.Across,
		Zones: list(u.Leaks.Zones, func(z leak.Zone) gen.LeakZone {
			return gen.LeakZone{ID: z.ID, Name: z.Name, Hidden: z.Hidden, Floor: z.Floor, Box: []float64{z.Box.X, z.Box.Y, z.Box.Z, z.Box.W, z.Box.H, z.Box.D}}
		}),
		Parts: list(u.Sheet.Parts, func(p unitsheet.PartSheet) gen.LeakPart { return gen.LeakPart{Name: p.Name, Zone: p.Zone} })}
}

func inputView(in instrument.Input, typed, from string) gen.InstrumentInput {
	out := gen.InstrumentInput{ID: in.ID, Label: in.Label, Kind: gen.InstrumentInputKind(in.Kind), Dimension: string(in.Dimension), Unit: in.Unit, Help: in.Help, Example: in.Example, Optional: in.Optional, Gauged: in.Gauged, Shown: gen.InstrumentInputShown(in.Shown), Of: in.Of,
		Options: list(in.Options, namedView), Feeds: texts(in.Feeds), Typed: typed, From: from, Units: list(quantity.UnitsOf(in.Dimension), func(u quantity.Unit) string { return u.Symbol })}
	if in.Window != nil {
		low, _ := in.Window.Low.In(in.Unit) // the unit is one of the dimension's own
		high, _ := in.Window.High.In(in.Unit)
		out.Window = &gen.Window{Low: low, High: high, Unit: in.Unit}
	}
	return out
}

// resultView writes a result in the shop's units; the titles of what it states are those of the case.
func (h *handlers) resultView(ctx context.Context, caseID string, r instrument.Result, d instrument.Definition) (gen.Result, error) {
	st, err := h.App.Store.Settings(ctx)
	if err != nil {
		return gen.Result{}, err
	}
	titles, err := h.App.Measuring.StatedTitles(ctx, caseID, r.Stated)
	if err != nil {
		return gen.Result{}, err
	}
	inputs := map[string]string{}
	for _, in := range d.Inputs {
		inputs[in.ID] = in.Unit
	}
	return gen.Result{Read: understood(r.Read), Causes: h.causesOf(ctx, r, d), Headline: r.Headline, Detail: r.Detail, Unstable: r.Unstable,
		Outputs: list(r.Outputs, func(o instrument.Output) gen.Output { return outputView(o, st) }),
		Matters: list(r.Matters, func(s instrument.Share) gen.Share { return gen.Share{Input: s.Input, Label: s.Label, Share: s.Share} }),
		Points: list(r.Points, func(p instrument.Point) gen.Point {
			unit := inputs[p.Input]
			value, err := p.Value.In(unit)
			if err != nil {
				value = p.Value.SI // an input without a unit
			}
			return gen.Point{Input: p.Input, Verdict: p.Verdict, Value: gen.Quantity{Value: value, Unit: unit}}
		}),
		Figures: list(r.Figures, func(f instrument.Chart) gen.Chart { return figureView(f, st) }),
		Next: list(r.Next, func(f instrument.Follow) gen.Follow {
			return gen.Follow{Name: f.Name, Title: f.Title, Values: f.Values}
		}),
		Stated: list(titles, func(s measuring.StatedTitle) gen.DerivedReading {
			return gen.DerivedReading{Finding: s.Finding, State: s.State, Title: s.Title}
		})}, nil
}

// causesOf are the causes that a result names, as far as the knowledge of its unit has them; nil when it names none.
func (h *handlers) causesOf(ctx context.Context, r instrument.Result, d instrument.Definition) *[]gen.CauseRef {
	if len(r.Causes) == 0 || d.On == nil {
		return nil
	}
	n, err := h.App.Library.Unit(ctx, d.On.Sheet.ID, 0)
	if err != nil {
		return nil // a sheet that is only looked at has no knowledge yet
	}
	var out []gen.CauseRef
	for _, c := range n.Causes {
		if slices.Contains(r.Causes, c.ID) {
			out = append(out, gen.CauseRef{Unit: d.On.Sheet.ID, ID: c.ID, Title: c.Title})
		}
	}
	return &out
}

func outputView(o instrument.Output, st shop.Settings) gen.Output {
	unit := st.Unit(o.Dimension, o.Unit)
	q := quantity.Measured{Quantity: quantity.Quantity{SI: o.Value, Dimension: o.Dimension}, U: o.U}
	s := scaleOf(instrument.Axis{Dimension: o.Dimension, Unit: o.Unit}, st)
	out := gen.Output{ID: o.ID, Label: o.Label, Text: o.Text(instrument.Terms{Units: st.Unit, Style: st.Style()}), Verdict: string(o.Verdict), Sampled: o.Sampled, Value: s.at(o.Value), Half: 2 * o.U / s.factor}
	out.Others = []string{}
	for _, other := range quantity.OtherSystem(o.Dimension, unit) {
		out.Others = append(out.Others, st.Style().FormatMeasured(q, other))
	}
	if o.Window != nil {
		text, low, high := st.Style().FormatWindow(*o.Window, unit), s.at(o.Window.Low.SI), s.at(o.Window.High.SI)
		switch o.OneSided {
		case "most":
			text = "at most " + st.Style().Format(o.Window.High, unit)
		case "least":
			text = "at least " + st.Style().Format(o.Window.Low, unit)
		}
		out.Window, out.Low, out.High = &text, &low, &high
	}
	return out
}

// figureView puts a figure into the shop's units.
func figureView(f instrument.Chart, st shop.Settings) gen.Chart {
	x, y := scaleOf(f.X, st), scaleOf(f.Y, st)
	return gen.Chart{Kind: gen.ChartKind(f.Kind), Title: f.Title, Words: f.Words, X: gen.Axis{Label: f.X.Label, Unit: x.unit}, Y: gen.Axis{Label: f.Y.Label, Unit: y.unit},
		Series: list(f.Series, func(s instrument.Series) gen.Series {
			return gen.Series{Name: s.Name, Role: gen.SeriesRole(s.Role), Points: list(s.Points, func(p [2]float64) []float64 { return []float64{x.at(p[0]), y.at(p[1])} })}
		}),
		Marks: list(f.Marks, func(m instrument.Mark) gen.ChartMark {
			return gen.ChartMark{X: x.at(m.X), Y: y.at(m.Y), Label: m.Label}
		}),
		Layers: list(f.Layers, func(l instrument.Layer) gen.Layer { return gen.Layer{Label: l.Label, Kind: l.Kind, Size: y.at(l.Size)} }),
		Spots:  append([]int{}, f.Spots...),
		Arrows: list(f.Arrows, func(a instrument.Arrow) gen.Arrow {
			return gen.Arrow{Label: a.Label, Role: gen.ArrowRole(a.Role), Size: a.Size, Angle: a.Angle}
		}),
		Ways: list(f.Ways, func(w instrument.Way) gen.Way { return gen.Way{Source: w.Source, Zones: texts(w.Zones)} }),
		Bars: list(f.Bars, func(b instrument.Bar) gen.Bar {
			out := gen.Bar{Label: b.Label, Value: y.at(b.Value), Text: b.Text, Emphasised: b.Emphasised}
			if b.Need != 0 {
				need := y.at(b.Need)
				out.Need = &need
			}
			if b.Low != 0 || b.High != 0 {
				low, high := y.at(b.Low), y.at(b.High)
				out.Low, out.High = &low, &high
			}
			return out
		})}
}

// scale turns SI into the numbers along an axis.
type scale struct {
	unit           string
	factor, offset float64
}

func scaleOf(a instrument.Axis, st shop.Settings) scale {
	unit := st.Unit(a.Dimension, a.Unit)
	u, ok := quantity.FindUnit(a.Dimension, unit)
	if !ok {
		return scale{"", 1, 0}
	}
	return scale{u.Symbol, u.Factor, u.Offset}
}

func (s scale) at(si float64) float64 { return (si - s.offset) / s.factor }

// understood never leaves the map out: the page looks an input up in it.
func understood(m map[string]string) map[string]string {
	if m == nil {
		return map[string]string{}
	}
	return m
}
