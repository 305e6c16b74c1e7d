package httpapi

import (
	"context"

	"innercompass/core/sim"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/live"
	"innercompass/internal/problem"
)

func (h *handlers) GetLive(_ context.Context, r gen.GetLiveRequestObject) (gen.GetLiveResponseObject, error) {
	after := 0
	put(&after, r.Params.After)
	st, rows, err := h.App.Live.Rows(after)
	if err != nil {
		return nil, err
	}
	return gen.GetLive200JSONResponse{State: liveView(st), Rows: list(rows, func(x live.Row) gen.LiveRow { return gen.LiveRow{At: x.At, Seq: x.Seq, Value: x.Value} })}, nil
}

func (h *handlers) ConnectLive(ctx context.Context, r gen.ConnectLiveRequestObject) (gen.ConnectLiveResponseObject, error) {
	b := r.Body
	a := live.Asked{Unit: b.Unit, Failure: text(b.Failure), Celsius: 75}
	if b.Celsius != nil {
		a.Celsius = *b.Celsius
	}
	if b.Seed != nil {
		if *b.Seed < 0 {
			return nil, problem.Field("seed", "below nothing", "a whole number from 0 on")
		}
		a.Seed = uint64(*b.Seed)
	}
	put(&a.Bad, b.Bad)
	put(&a.Serial, b.Serial)
	st, err := h.App.Live.Connect(ctx, a)
	return gen.ConnectLive200JSONResponse(liveView(st)), err
}

func (h *handlers) DisconnectLive(_ context.Context, r gen.DisconnectLiveRequestObject) (gen.DisconnectLiveResponseObject, error) {
	drop := false
	put(&drop, r.Params.Drop)
	return gen.DisconnectLive204Response{}, h.App.Live.Disconnect(drop)
}

func (h *handlers) ListLiveFailures(ctx context.Context, r gen.ListLiveFailuresRequestObject) (gen.ListLiveFailuresResponseObject, error) {
	all, err := h.App.Live.Failures(ctx, text(r.Params.Unit))
	return gen.ListLiveFailures200JSONResponse(list(all, same[string])), err
}

func (h *handlers) WatchLive(_ context.Context, r gen.WatchLiveRequestObject) (gen.WatchLiveResponseObject, error) {
	st, err := h.App.Live.Watch(r.Body.Channels)
	return gen.WatchLive200JSONResponse(liveView(st)), err
}

func (h *handlers) DriveLive(_ context.Context, r gen.DriveLiveRequestObject) (gen.DriveLiveResponseObject, error) {
	b := r.Body
	st, err := h.App.Live.Drive(func(in *sim.Input) {
		put(&in.Selector, b.Selector)
		put(&in.Throttle, b.Throttle)
		put(&in.Brake, b.Brake)
		put(&in.Grade, b.Grade)
	})
	return gen.DriveLive200JSONResponse(liveView(st)), err
}

func (h *handlers) RecordLive(context.Context, gen.RecordLiveRequestObject) (gen.RecordLiveResponseObject, error) {
	st, err := h.App.Live.Record()
	return gen.RecordLive200JSONResponse(liveView(st)), err
}

func (h *handlers) KeepLive(ctx context.Context, r gen.KeepLiveRequestObject) (gen.KeepLiveResponseObject, error) {
	b := r.Body
	rec, err := h.App.Live.Keep(ctx, live.Kept{Title: b.Title, Case: text(b.Case), Vehicle: text(b.Vehicle), By: by(ctx, b.By)})
	if err != nil {
		return nil, err
	}
	return gen.KeepLive200JSONResponse(h.recordingView(ctx, rec)), nil
}

func (h *handlers) DropLive(context.Context, gen.DropLiveRequestObject) (gen.DropLiveResponseObject, error) {
	st, err := h.App.Live.Drop()
	return gen.DropLive200JSONResponse(liveView(st)), err
}

func (h *handlers) MarkLive(_ context.Context, r gen.MarkLiveRequestObject) (gen.MarkLiveResponseObject, error) {
	st, err := h.App.Live.Mark(r.Body.Note)
	return gen.MarkLive200JSONResponse(liveView(st)), err
}

func (h *handlers) ReadLiveCodes(ctx context.Context, _ gen.ReadLiveCodesRequestObject) (gen.ReadLiveCodesResponseObject, error) {
	st, err := h.App.Live.Codes(ctx)
	return gen.ReadLiveCodes200JSONResponse(liveView(st)), err
}

func (h *handlers) NoteLiveCodes(ctx context.Context, r gen.NoteLiveCodesRequestObject) (gen.NoteLiveCodesResponseObject, error) {
	st, err := h.App.Live.NoteCodes(ctx, text(r.Body.Case), by(ctx, r.Body.By))
	return gen.NoteLiveCodes200JSONResponse(liveView(st)), err
}

func (h *handlers) ClearLiveCodes(ctx context.Context, _ gen.ClearLiveCodesRequestObject) (gen.ClearLiveCodesResponseObject, error) {
	st, err := h.App.Live.ClearCodes(ctx)
	return gen.ClearLiveCodes200JSONResponse(liveView(st)), err
}

func liveView(s live.State) gen.LiveState {
	v := gen.LiveState{Channels: []gen.LiveChannel{}, Watched: list(s.Watched, same[string]), Connected: s.Connected, Lost: s.Lost, Number: s.Number, Rate: s.Rate, Again: s.Again, Gaps: s.Gaps, Codes: []gen.LiveCode{}, CodesRead: s.CodesRead, CodesNoted: s.CodesNoted,
		Recording: s.Recording, Recorded: s.Recorded, Full: s.Full, Marks: s.Marks, Input: gen.LiveInput{Selector: s.Input.Selector, Throttle: s.Input.Throttle, Brake: s.Input.Brake, Grade: s.Input.Grade}, Range: s.Range, Selectors: list(s.Selectors, same[string]), At: s.At}
	if s.Unit == nil {
		return v
	}
	v.Unit, v.UnitName = s.Unit.Sheet.ID, s.Unit.Sheet.Name
	if r, ok := s.Unit.Range(s.Range); ok {
		v.Range = r.Name
	}
	for _, c := range s.Channels {
		v.Channels = append(v.Channels, gen.LiveChannel{ID: c.ID, Name: c.Name, Unit: c.Unit, Role: string(c.Role), Source: c.Source, Missing: c.Missing, Low: c.Low, High: c.High, Decimals: c.Decimals})
	}
	for _, c := range s.Codes {
		v.Codes = append(v.Codes, gen.LiveCode{Code: c.Code, Status: gen.LiveCodeStatus(c.Status), Module: c.Module})
	}
	return v
}
