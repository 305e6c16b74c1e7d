package httpapi

import (
	"context"
	"encoding/json"
	"slices"

	"innercompass/core/knowledge"
	"innercompass/core/orders"
	"innercompass/core/recording"
	"innercompass/core/signal"
	"innercompass/internal/hearing"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
)

func (h *handlers) ListRecordings(ctx context.Context, r gen.ListRecordingsRequestObject) (gen.ListRecordingsResponseObject, error) {
	all, err := h.App.Recordings.List(ctx, text(r.Params.Case))
	if err != nil {
		return nil, err
	}
	out := gen.ListRecordings200JSONResponse{}
	for _, x := range all {
		item := gen.RecordingItem{ID: x.ID, Title: x.Title, Kind: gen.RecordingItemKind(x.Kind), Vehicle: x.Vehicle, Unit: x.Unit, UnitName: h.unitName(ctx, x.Unit), Case: x.Case, Seconds: x.Seconds, Rate: x.Rate, Range: x.Driven.Range, Made: x.Made != "", Marks: len(x.Marks), At: x.At, Channels: []string{}}
		if n, err := h.App.Library.Unit(ctx, x.Unit, 0); x.Unit != "" && err == nil {
			if in, ok := n.Unit.Range(x.Driven.Range); ok {
				item.RangeName = in.Name
			}
		}
		turbine, output := false, false
		for _, c := range x.Channels {
			item.Channels = append(item.Channels, c.Name)
			item.Heard = item.Heard || c.Role.Heard()
			turbine, output = turbine || c.Role == recording.Turbine, output || c.Role == recording.Output
		}
		item.Shifts = turbine && output
		out = append(out, item)
	}
	return out, nil
}

// unitName is what a unit is called; its id when it is gone.
func (h *handlers) unitName(ctx context.Context, id string) string {
	if id == "" {
		return ""
	}
	n, err := h.App.Library.Unit(ctx, id, 0)
	if err != nil {
		return id
	}
	return n.Unit.Sheet.Name
}

func (h *handlers) recordingView(ctx context.Context, r recordings.Recording) gen.Recording {
	v := gen.Recording{ID: r.ID, Revision: r.Revision, Title: r.Title, File: r.File, Size: r.Size, Kind: gen.RecordingKind(r.Kind), Packed: r.Packed, Rows: r.Rows, Seconds: r.Seconds, Rate: r.Rate,
		Case: r.Case, Vehicle: r.Vehicle, Unit: r.Unit, UnitName: h.unitName(ctx, r.Unit), Made: r.Made, By: r.By, At: r.At, Told: list(recordings.Noticed(r), same[string]),
		Ranges: []gen.DrivenRange{}, Channels: []gen.Channel{}, Marks: []gen.RecordingMark{}, Driven: drivenView(r.Driven)}
	for _, c := range r.Channels {
		rate := 0.0
		if r.Seconds > 0 {
			rate = float64(c.Values) / r.Seconds
		}
		v.Channels = append(v.Channels, gen.Channel{Name: c.Name, Unit: c.Unit, Role: gen.ChannelRole(c.Role), From: c.From, Turns: c.Turns, Of: c.Of, Values: c.Values, Low: c.Low, High: c.High, Rate: rate})
	}
	for _, m := range r.Marks {
		v.Marks = append(v.Marks, gen.RecordingMark{ID: m.ID, At: m.At, Note: m.Note, By: m.By})
	}
	if l := r.Layout; l != nil {
		v.Layout = &gen.Layout{Separator: string(l.Separator), Decimal: string(l.Decimal), Heads: l.Heads, Time: l.Time, Kind: gen.LayoutKind(l.Kind), Step: l.Step, Columns: list(l.Columns, func(c recording.Column) gen.Column { return gen.Column{Name: c.Name, Unit: c.Unit} })}
	}
	if j := r.Joined; j != nil {
		v.Joined = &gen.JoinedRecording{ID: j.ID, Offset: j.Offset}
		if other, err := h.App.Recordings.Store.Recording(ctx, j.ID); err == nil {
			v.Joined.Title = other.Title
		}
	}
	if t := r.Trial; t != nil {
		v.Trial = &gen.RecordingTrial{Since: t.Since, Note: &t.Note, Changed: &[]gen.RecordingTrialChanged{}}
		for _, c := range t.Changed {
			*v.Trial.Changed = append(*v.Trial.Changed, gen.RecordingTrialChanged(c))
		}
		if other, err := h.App.Recordings.Store.Recording(ctx, t.Since); err == nil {
			v.Trial.SinceTitle = &other.Title
		}
	}
	if n, err := h.App.Library.Unit(ctx, r.Unit, 0); r.Unit != "" && err == nil {
		for _, x := range n.Unit.Ranges {
			if x.Driving() {
				v.Ranges = append(v.Ranges, gen.DrivenRange{ID: x.ID, Name: x.Name})
			}
		}
	}
	return v
}

func same[T any](v T) T { return v }

func drivenView(d recordings.Driven) gen.Driven {
	out := gen.Driven{}
	set := func(to **float64, v float64) {
		if v != 0 {
			*to = &v
		}
	}
	if d.Range != "" {
		out.Range = &d.Range
	}
	if d.Load != "" {
		load := gen.DrivenLoad(d.Load)
		out.Load = &load
	}
	set(&out.Road, d.Road)
	set(&out.Engine, d.Engine)
	set(&out.Slip, d.Slip)
	return out
}

func drivenOf(d *gen.Driven) *recordings.Driven {
	if d == nil {
		return nil
	}
	out := recordings.Driven{Range: text(d.Range), Road: value(d.Road), Engine: value(d.Engine), Slip: value(d.Slip)}
	if d.Load != nil {
		out.Load = string(*d.Load)
	}
	return &out
}

func value(p *float64) float64 {
	if p == nil {
		return 0
	}
	return *p
}

func (h *handlers) GetRecording(ctx context.Context, r gen.GetRecordingRequestObject) (gen.GetRecordingResponseObject, error) {
	rec, err := h.App.Recordings.Store.Recording(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	return gen.GetRecording200JSONResponse(h.recordingView(ctx, rec)), nil
}

func (h *handlers) ChangeRecording(ctx context.Context, r gen.ChangeRecordingRequestObject) (gen.ChangeRecordingResponseObject, error) {
	b := r.Body
	said := recordings.Said{Title: b.Title, Case: b.Case, Unit: b.Unit, Vehicle: b.Vehicle, Driven: drivenOf(b.Driven), Trial: trialOf(b.Trial)}
	if b.Channels != nil {
		for _, c := range *b.Channels {
			said.Channels = append(said.Channels, recordings.Channel{Name: c.Name, Unit: c.Unit, Role: recording.Role(c.Role), From: text(c.From), Turns: value(c.Turns), Of: text(c.Of)})
		}
	}
	rec, err := h.App.Recordings.Change(ctx, r.ID, b.Revision, said)
	if err != nil {
		return nil, err
	}
	return gen.ChangeRecording200JSONResponse(h.recordingView(ctx, rec)), nil
}

func (h *handlers) RemoveRecording(ctx context.Context, r gen.RemoveRecordingRequestObject) (gen.RemoveRecordingResponseObject, error) {
	return gen.RemoveRecording204Response{}, h.App.Recordings.Remove(ctx, r.ID, r.Params.Revision)
}

func (h *handlers) RereadRecording(ctx context.Context, r gen.RereadRecordingRequestObject) (gen.RereadRecordingResponseObject, error) {
	l := r.Body.Layout
	layout := recording.Layout{Heads: l.Heads, Time: l.Time, Kind: recording.TimeKind(l.Kind), Step: l.Step}
	for _, c := range l.Separator {
		layout.Separator = c
	}
	if l.Decimal != "" {
		layout.Decimal = l.Decimal[0]
	}
	for _, c := range l.Columns {
		layout.Columns = append(layout.Columns, recording.Column{Name: c.Name, Unit: c.Unit})
	}
	rec, err := h.App.Recordings.Reread(ctx, r.ID, r.Body.Revision, layout)
	if err != nil {
		return nil, err
	}
	return gen.RereadRecording200JSONResponse(h.recordingView(ctx, rec)), nil
}

func (h *handlers) JoinRecording(ctx context.Context, r gen.JoinRecordingRequestObject) (gen.JoinRecordingResponseObject, error) {
	rec, err := h.App.Hearing.Join(ctx, r.ID, r.Body.Revision, r.Body.With, r.Body.Offset)
	if err != nil {
		return nil, err
	}
	return gen.JoinRecording200JSONResponse(h.recordingView(ctx, rec)), nil
}

func (h *handlers) MarkRecording(ctx context.Context, r gen.MarkRecordingRequestObject) (gen.MarkRecordingResponseObject, error) {
	rec, err := h.App.Recordings.Mark(ctx, r.ID, r.Body.Revision, r.Body.At, r.Body.Note, by(ctx, r.Body.By))
	if err != nil {
		return nil, err
	}
	return gen.MarkRecording200JSONResponse(h.recordingView(ctx, rec)), nil
}

func (h *handlers) UnmarkRecording(ctx context.Context, r gen.UnmarkRecordingRequestObject) (gen.UnmarkRecordingResponseObject, error) {
	rec, err := h.App.Recordings.Unmark(ctx, r.ID, r.Params.Revision, r.Mark)
	if err != nil {
		return nil, err
	}
	return gen.UnmarkRecording200JSONResponse(h.recordingView(ctx, rec)), nil
}

// usualWidth is how many moments a trace has when nobody says.
const usualWidth = 1200

func (h *handlers) GetTrace(ctx context.Context, r gen.GetTraceRequestObject) (gen.GetTraceResponseObject, error) {
	most := usualWidth
	put(&most, r.Params.Most)
	_, t, err := h.App.Recordings.Trace(ctx, r.ID, r.Params.Channels, value(r.Params.From), value(r.Params.To), most)
	if err != nil {
		return nil, err
	}
	out := gen.GetTrace200JSONResponse{At: list(t.At, same[float64]), Each: t.Each}
	doubles := func(v []*float32) []*float64 {
		out := make([]*float64, len(v))
		for i, p := range v {
			if p != nil {
				x := float64(*p)
				out[i] = &x
			}
		}
		return out
	}
	for c := range t.Low {
		out.Channels = append(out.Channels, gen.TraceChannel{High: doubles(t.High[c]), Low: doubles(t.Low[c])})
	}
	return out, nil
}

func (h *handlers) GetSpectrum(ctx context.Context, r gen.GetSpectrumRequestObject) (gen.GetSpectrumResponseObject, error) {
	p := r.Params
	s, err := h.App.Hearing.Spectrum(ctx, r.ID, p.Channel, value(p.From), value(p.To), value(p.Top), value(p.Low), value(p.High))
	if err != nil {
		return nil, err
	}
	out := gen.GetSpectrum200JSONResponse{Step: s.Step, Unit: s.Unit, Rate: s.Rate, Amplitude: []float64{}}
	for i := range s.Power {
		if p.Top != nil && float64(i)*s.Step > *p.Top {
			break
		}
		out.Amplitude = append(out.Amplitude, s.Amplitude(i))
	}
	out.Peaks = list(s.Peaks, func(k signal.Peak) gen.SoundPeak {
		return gen.SoundPeak{Amplitude: k.Amplitude, Hertz: k.Frequency, Ratio: k.Ratio}
	})
	return out, nil
}

func (h *handlers) GetOrders(ctx context.Context, r gen.GetOrdersRequestObject) (gen.GetOrdersResponseObject, error) {
	x, err := h.App.Hearing.Orders(ctx, r.ID, askedOf(r.Params))
	if err != nil {
		return nil, err
	}
	return gen.GetOrders200JSONResponse(ordersView(x)), nil
}

func askedOf(p gen.GetOrdersParams) hearing.Asked {
	return hearing.Asked{Channel: p.Channel, Speed: p.Speed, From: value(p.From), To: value(p.To), Range: text(p.Range), Slip: value(p.Slip), Road: value(p.Road), Engine: value(p.Engine),
		Whine: yes(p.Whine), Doubt: value(p.Doubt), Line: value(p.Line), Known: text(p.Known), Low: value(p.Low), High: value(p.High), With: text(p.With), Unit: text(p.Unit)}
}

func (h *handlers) NoteOrders(ctx context.Context, r gen.NoteOrdersRequestObject) (gen.NoteOrdersResponseObject, error) {
	p := r.Params
	a := gen.GetOrdersParams{Channel: p.Channel, Speed: p.Speed, From: p.From, To: p.To, Range: p.Range, Slip: p.Slip, Road: p.Road, Engine: p.Engine, Whine: p.Whine, Doubt: p.Doubt, Line: p.Line, Known: p.Known, Low: p.Low, High: p.High, With: p.With, Unit: p.Unit}
	saved, said, err := h.App.Hearing.Note(ctx, r.ID, askedOf(a), p.Ridge, by(ctx, p.By))
	if err != nil {
		return nil, err
	}
	if _, err := newsOf(ctx, h.App, saved); err != nil {
		return nil, err
	}
	return gen.NoteOrders201JSONResponse{Case: saved.Case.ID, Said: said}, nil
}

func ordersView(x hearing.Heard) gen.Orders {
	at := x.Reference()
	out := gen.Orders{Channel: x.Channel, Speed: x.Speed, Range: x.State.Range, RangeName: rangeName(x), Doubt: x.Doubt, From: x.From, To: x.To, Reference: at, Span: x.Span, Late: x.Late, Top: x.Top, Headline: x.Headline(),
		Limits: list(x.Limited(), same[string]), Assumed: list(x.Assumed(), same[string]), Ridges: list(x.Found, func(f orders.Found) gen.Ridge { return ridgeView(x, f) }),
		Sources: []gen.SoundSource{}, Drives: list(x.Parts, func(p orders.Parting) gen.PartingDrive { return partingView(x, p) })}
	if v := x.Vehicle; v.Axle > 0 && v.Circumference > 0 {
		out.PerOutput = v.Circumference / v.Axle
	}
	if x.List.Output > 0 {
		out.EnginePerOutput = x.List.Engine / x.List.Output
	}
	for i, c := range x.Classes {
		s := gen.SoundSource{Ids: c.IDs, Name: hearing.Source(c), Family: string(c.Family), Orders: c.Orders, Hertz: c.Orders[0] * at, Quiet: c.Quiet[0], Tolerance: c.Tolerance, Harmonics: c.Harmonics, Present: x.Present[i]}
		out.Sources = append(out.Sources, s)
	}
	out.Levels = list(x.Levels, func(l signal.Level) gen.SoundLevel { return gen.SoundLevel{Hertz: l.Hertz, Sure: l.Sure} })
	out.Picture = gen.Picture{XFrom: x.Picture.XFrom, XStep: x.Picture.XStep, YStep: x.Picture.YStep}
	for _, column := range x.Picture.Cells {
		digits := make([]byte, len(column))
		for i, v := range column {
			digits[i] = '0' + v
		}
		out.Picture.Cells = append(out.Picture.Cells, string(digits))
	}
	if x.Other != nil {
		out.Other = &x.Other.Title
	}
	return out
}

func rangeName(x hearing.Heard) string {
	if r, ok := x.Unit.Range(x.State.Range); ok {
		return r.Name
	}
	return ""
}

func ridgeView(x hearing.Heard, f orders.Found) gen.Ridge {
	return gen.Ridge{Order: f.Order, Sd: f.SD, Sure: f.Sure, Turning: gen.RidgeTurning(f.Turning), Hertz: f.Order * x.Reference(), Unknown: f.Unknown, Drive: f.Drive, Words: x.Ridge(f), Given: x.Given(f),
		Could: list(f.Could, func(c orders.Could) gen.Could {
			return gen.Could{Class: c.Class, Probability: c.Probability, Off: c.Off, Multiple: c.Multiple, Causes: list(x.Causes(c), func(e knowledge.EntryRef) gen.SourceCause { return gen.SourceCause{ID: e.ID, Title: e.Title} })}
		})}
}

func partingView(x hearing.Heard, p orders.Parting) gen.PartingDrive {
	return gen.PartingDrive{Way: string(p.Way), Range: p.Range, Title: x.Drive(p), Caution: hearing.Caution(p.Way), Minutes: p.Minutes, Bits: p.Bits, Right: p.Right, Leaders: slices.Clone(p.Leaders[:]), At: slices.Clone(p.Stand[:]), Words: x.Parting(p)}
}

func (h *handlers) GetVehicleSheet(ctx context.Context, r gen.GetVehicleSheetRequestObject) (gen.GetVehicleSheetResponseObject, error) {
	v, err := h.App.Recordings.Vehicle(ctx, r.Params.Vehicle)
	if err != nil {
		return nil, err
	}
	out, err := vehicleView(v)
	return gen.GetVehicleSheet200JSONResponse(out), err
}

func (h *handlers) PutVehicleSheet(ctx context.Context, r gen.PutVehicleSheetRequestObject) (gen.PutVehicleSheetResponseObject, error) {
	b := r.Body
	sheet := recordings.VehicleSheet{Tire: text(b.Sheet.Tire), By: by(ctx, b.Sheet.By), Revision: b.Sheet.Revision}
	if err := recast(b.Sheet.Vehicle, &sheet.Vehicle); err != nil {
		return nil, problem.Field("sheet.vehicle", err.Error(), "")
	}
	v, err := h.App.Recordings.SaveVehicle(ctx, b.Vehicle, sheet)
	if err != nil {
		return nil, err
	}
	out, err := vehicleView(v)
	return gen.PutVehicleSheet200JSONResponse(out), err
}

// vehicleView is a sheet in its own JSON form, which is that of the contract.
func vehicleView(v recordings.VehicleSheet) (gen.VehicleSheet, error) {
	out := gen.VehicleSheet{Revision: v.Revision}
	if v.Tire != "" {
		out.Tire = &v.Tire
	}
	if v.By != "" {
		out.By = &v.By
	}
	return out, recast(v.Vehicle, &out.Vehicle)
}

// recast reads a value as another of the same JSON form.
func recast(from, to any) error {
	text, err := json.Marshal(from)
	if err != nil {
		return err
	}
	return json.Unmarshal(text, to)
}
