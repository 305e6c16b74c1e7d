package httpapi

import (
	"context"
	"encoding/json"
	"fmt"
	"math"

	"innercompass/core/builder"
	"innercompass/core/scheme"
	"innercompass/core/teeth"
	"innercompass/core/unitsheet"
	"innercompass/internal/building"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/library"
)

func (h *handlers) ListSchemes(context.Context, gen.ListSchemesRequestObject) (gen.ListSchemesResponseObject, error) {
	out := gen.ListSchemes200JSONResponse{}
	for _, x := range h.App.Building.Schemes {
		sheet, err := object(x.Sheet())
		if err != nil {
			return nil, err
		}
		out = append(out, gen.Scheme{ID: x.ID, Name: x.Name, Hint: x.Hint, Kind: x.Kind, Sheet: sheet})
	}
	return out, nil
}

// object is a value in its own JSON form.
func object(v any) (map[string]any, error) {
	text, err := json.Marshal(v)
	if err != nil {
		return nil, err
	}
	out := map[string]any{}
	return out, json.Unmarshal(text, &out)
}

func (h *handlers) ListDrafts(ctx context.Context, _ gen.ListDraftsRequestObject) (gen.ListDraftsResponseObject, error) {
	all, err := h.App.Building.List(ctx)
	return gen.ListDrafts200JSONResponse(list(all, func(k building.Kept) gen.DraftItem {
		return gen.DraftItem{ID: k.ID, Title: k.Title, Revision: k.Revision, At: k.At}
	})), err
}

func (h *handlers) StartDraft(ctx context.Context, r gen.StartDraftRequestObject) (gen.StartDraftResponseObject, error) {
	o, err := h.App.Building.Start(ctx, r.Body.Kind, text(r.Body.Scheme), text(r.Body.Copy))
	if err != nil {
		return nil, err
	}
	v, err := h.draftView(ctx, o)
	return gen.StartDraft201JSONResponse(v), err
}

func (h *handlers) GetDraft(ctx context.Context, r gen.GetDraftRequestObject) (gen.GetDraftResponseObject, error) {
	o, err := h.App.Building.Open(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	v, err := h.draftView(ctx, o)
	return gen.GetDraft200JSONResponse(v), err
}

func (h *handlers) ChangeDraft(ctx context.Context, r gen.ChangeDraftRequestObject) (gen.ChangeDraftResponseObject, error) {
	content, err := json.Marshal(r.Body.Draft)
	if err != nil {
		return nil, err
	}
	d, err := building.Read(content)
	if err != nil {
		return nil, err
	}
	o, err := h.App.Building.Change(ctx, r.ID, r.Body.Revision, d, yes(r.Body.Fill))
	if err != nil {
		return nil, err
	}
	v, err := h.draftView(ctx, o)
	return gen.ChangeDraft200JSONResponse(v), err
}

func (h *handlers) PasteTable(ctx context.Context, r gen.PasteTableRequestObject) (gen.PasteTableResponseObject, error) {
	o, err := h.App.Building.Paste(ctx, r.ID, r.Body.Revision, r.Body.Text)
	if err != nil {
		return nil, asField(err)
	}
	v, err := h.draftView(ctx, o)
	return gen.PasteTable200JSONResponse(v), err
}

func (h *handlers) TakeOffer(ctx context.Context, r gen.TakeOfferRequestObject) (gen.TakeOfferResponseObject, error) {
	o, err := h.App.Building.Take(ctx, r.ID, r.Body.Revision, r.Body.Path, by(ctx, r.Body.By))
	if err != nil {
		return nil, asField(err)
	}
	v, err := h.draftView(ctx, o)
	return gen.TakeOffer200JSONResponse(v), err
}

func (h *handlers) SayNumber(ctx context.Context, r gen.SayNumberRequestObject) (gen.SayNumberResponseObject, error) {
	source := unitsheet.SourceSheet{From: string(r.Body.From), Why: text(r.Body.Why), By: by(ctx, r.Body.By)}
	o, err := h.App.Building.Say(ctx, r.ID, r.Body.Revision, r.Body.Path, r.Body.Value, source)
	if err != nil {
		return nil, asField(err)
	}
	v, err := h.draftView(ctx, o)
	return gen.SayNumber200JSONResponse(v), err
}

func (h *handlers) ListNumbers(ctx context.Context, r gen.ListNumbersRequestObject) (gen.ListNumbersResponseObject, error) {
	n, err := h.App.Library.Unit(ctx, r.ID, number(r.Params.Version))
	if err != nil {
		return nil, err
	}
	s := n.Unit.Sheet
	return gen.ListNumbers200JSONResponse{Author: s.Author, Version: s.Version, Numbers: list(unitsheet.Numbers(s), numberView)}, nil
}

func (h *handlers) RemoveDraft(ctx context.Context, r gen.RemoveDraftRequestObject) (gen.RemoveDraftResponseObject, error) {
	return gen.RemoveDraft204Response{}, h.App.Building.Remove(ctx, r.ID)
}

func (h *handlers) ProposeSchemes(ctx context.Context, r gen.ProposeSchemesRequestObject) (gen.ProposeSchemesResponseObject, error) {
	found, err := h.App.Building.Propose(ctx, r.ID)
	return gen.ProposeSchemes200JSONResponse(list(found, func(p scheme.Proposal) gen.Proposal {
		return gen.Proposal{Scheme: p.Scheme, Fits: int(p.Fits), Places: p.Places}
	})), err
}

func (h *handlers) SaveDraft(ctx context.Context, r gen.SaveDraftRequestObject) (gen.SaveDraftResponseObject, error) {
	n, err := h.App.Building.Save(ctx, r.ID, by(ctx, r.Body.By))
	if err != nil {
		return nil, err
	}
	s := n.Unit.Sheet
	return gen.SaveDraft201JSONResponse{ID: s.ID, Name: s.Name, Summary: s.Summary, Version: s.Version, Own: true, Versions: []int{s.Version}, Zones: [][]float64{}, Facts: []string{}}, nil
}

func (h *handlers) draftView(ctx context.Context, o building.Opened) (gen.Draft, error) {
	st, err := h.App.Store.Settings(ctx)
	if err != nil {
		return gen.Draft{}, err
	}
	draft, err := object(o.Draft.Sheet)
	if err != nil {
		return gen.Draft{}, err
	}
	sheet, err := object(o.View.Sheet)
	if err != nil {
		return gen.Draft{}, err
	}
	v := o.View
	out := gen.Draft{ID: o.ID, Revision: o.Revision, Sheet: sheet, Depth: string(v.Depth), Ready: v.Ready(), Faults: v.Faults, Apart: v.Apart, Cannot: texts(v.Cannot), Taken: o.Taken,
		Draft:   gen.DraftContent{Kind: o.Draft.Kind, Scheme: o.Draft.Scheme, Lies: (*gen.DraftContentLies)(&o.Draft.Lies), Final: &o.Draft.Final, Counted: &o.Draft.Counted, Fit: &o.Draft.Fit, Sheet: draft},
		Members: []gen.Member{}, Lever: []gen.LeverPoint{}, Ranges: []gen.UnitRange{}}
	out.Flaws = list(v.Flaws, func(f builder.Flaw) gen.Flaw {
		return gen.Flaw{Path: f.Path, Reason: f.Reason, Accepted: f.Accepted, Range: f.Range, Element: f.Element, Doubt: f.Doubt}
	})
	out.Rows = list(v.Rows, draftRow)
	out.Assumed = list(v.Assumed, sourceView)
	out.Offers = list(o.Offers, func(x building.Offer) gen.MeasuredOffer {
		return gen.MeasuredOffer{Path: x.Path, Topic: x.Topic, Window: x.Window, Words: x.Words, Stands: x.Stands}
	})
	out.Limits = list(v.Limits, func(l unitsheet.LimitSheet) gen.SheetLimit {
		return gen.SheetLimit{ID: l.ID, Name: l.Name, Element: l.Element, Dimension: l.Dimension}
	})
	out.Numbers = list(unitsheet.Numbers(v.Sheet), numberView)
	out.Questions = list(v.Questions, func(q builder.Question) gen.LogicQuestion {
		return gen.LogicQuestion{Selector: q.Selector, Bits: q.Bits, Words: q.Words, Answer: q.Answer}
	})
	out.Patterns = list(v.Patterns, func(p builder.Pattern) gen.ControlPattern {
		return gen.ControlPattern{Control: p.Control, Element: p.Element}
	})
	out.Kinds = list(builder.Kinds, func(k builder.Kind) gen.UnitKind { return gen.UnitKind{ID: k.ID, Name: k.Name, Layout: k.Layout} })
	if v.Unit != nil {
		out.Members = members(v.Unit.Sheet)
		out.Lever = leverView(v.Unit, out.Members)
		out.Ranges = rangeViews(v.Unit, out.Members, st)
	}
	if v.Teeth != nil {
		out.Teeth = teethView(v, o.Draft.Fit)
	}
	return out, nil
}

func sourceView(s unitsheet.SourceSheet) gen.SheetSource {
	return gen.SheetSource{Of: s.Of, From: s.From, Value: s.Value, Why: s.Why, For: texts(s.For)}
}

func numberView(n unitsheet.Number) gen.SheetNumber {
	return gen.SheetNumber{Path: n.Path, Topic: n.Topic, Words: n.Words, Value: n.Value, From: n.Source.From, Why: n.Source.Why, By: n.Source.By, Given: n.Given}
}

func draftRow(r builder.Row) gen.DraftRow {
	out := gen.DraftRow{ID: r.ID, Outcome: string(r.Outcome), Holding: texts(r.Holding), Printed: r.Printed, Decimals: r.Decimals, Fits: r.Fits, Wrong: r.Wrong}
	if r.Ratio != 0 {
		out.Ratio = fmt.Sprintf("%.3f", math.Abs(r.Ratio))
	}
	return out
}

func teethView(v builder.View, chosen int) *gen.Teeth {
	a := *v.Teeth
	out := gen.Teeth{Words: scheme.FitsWords(a), Cut: a.Cut, Bounds: a.Bounds, Enough: scheme.EnoughWords(a), Differs: scheme.DiffersWords(a), Chosen: min(chosen, max(0, len(a.Fits)-1)), Fits: []gen.TeethFit{}, Nearest: []gen.FitSet{}}
	for _, f := range a.Fits {
		out.Fits = append(out.Fits, gen.TeethFit{Sets: fitSets(v.Sheet, f), Words: scheme.FitWords(v.Sheet, f), Loose: texts(f.Loose), Final: f.Final})
	}
	if a.Nearest != nil {
		out.Nearest = fitSets(v.Sheet, *a.Nearest)
	}
	out.Suspects = list(a.Suspects, func(s teeth.Suspect) gen.RatioDoubt {
		return gen.RatioDoubt{Range: s.ID, Words: scheme.SuspectWords(s)}
	})
	out.Misses = list(a.Misses, func(m teeth.Miss) gen.RatioDoubt { return gen.RatioDoubt{Range: m.ID, Words: scheme.MissWords(m)} })
	return &out
}

func fitSets(s unitsheet.Sheet, f teeth.Fit) []gen.FitSet {
	return list(scheme.Counts(s, f), func(c scheme.SetCounts) gen.FitSet {
		return gen.FitSet{Name: c.Name, Teeth: list(c.Teeth, func(t scheme.Count) gen.ToothCount { return gen.ToothCount{Part: t.Part, Teeth: t.Teeth} })}
	})
}

func (h *handlers) BringInSheets(ctx context.Context, r gen.BringInSheetsRequestObject) (gen.BringInSheetsResponseObject, error) {
	files := list(r.Body.Files, func(f gen.SheetFile) library.SheetFile { return library.SheetFile{Name: f.Name, Text: f.Text} })
	out, err := h.App.Library.BringIn(ctx, files, yes(r.Body.Store), by(ctx, r.Body.By))
	if err != nil {
		return nil, err
	}
	return gen.BringInSheets200JSONResponse(list(out, func(b library.Brought) gen.BroughtSheet {
		return gen.BroughtSheet{File: b.File, ID: b.ID, Name: b.Name, Version: b.Version, State: gen.BroughtSheetState(b.State), Stored: b.Stored, Problems: problems(b.Problems), Differences: list(b.Differences, unitsheet.Difference.String)}
	})), nil
}

func (h *handlers) CompareVersions(ctx context.Context, r gen.CompareVersionsRequestObject) (gen.CompareVersionsResponseObject, error) {
	out, err := h.App.Library.Differences(ctx, r.ID, r.Params.From, r.Params.To)
	return gen.CompareVersions200JSONResponse(list(out, unitsheet.Difference.String)), err
}

func (h *handlers) MergeSheet(ctx context.Context, r gen.MergeSheetRequestObject) (gen.MergeSheetResponseObject, error) {
	o, clash, err := h.App.Building.Merge(ctx, r.ID, []byte(r.Body.Text))
	if err != nil {
		return nil, err
	}
	return gen.MergeSheet201JSONResponse{Draft: o.ID, Clash: list(clash, unitsheet.Difference.String)}, nil
}
