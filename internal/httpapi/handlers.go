package httpapi

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"innercompass/internal/app"
	"innercompass/internal/cases"
	"innercompass/internal/floor"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
	"innercompass/internal/verification"
)

type handlers struct{ Options }

var _ gen.StrictServerInterface = (*handlers)(nil)

func etag(rev int) string { return fmt.Sprintf(`"%d"`, rev) }

// whole is a case as it is loaded, or just made.
func whole(v present.View) gen.CaseJSONResponse {
	tag := etag(v.Case.Rev)
	return gen.CaseJSONResponse{Body: caseView(v), Headers: gen.CaseResponseHeaders{ETag: &tag}}
}

// news takes what a change came to, and answers with what is new in the case.
func (h *handlers) news(ctx context.Context) func(cases.Saved, error) (gen.CaseNewsJSONResponse, error) {
	return func(saved cases.Saved, err error) (gen.CaseNewsJSONResponse, error) {
		if err != nil {
			return gen.CaseNewsJSONResponse{}, err
		}
		news, err := newsOf(ctx, h.App, saved)
		tag := etag(news.Rev)
		return gen.CaseNewsJSONResponse{Body: news, Headers: gen.CaseNewsResponseHeaders{ETag: &tag}}, err
	}
}

// newsOf is what a change has made new in a case: the whole of it when the change was made before, by the same request.
func newsOf(ctx context.Context, a *app.App, saved cases.Saved) (gen.CaseNews, error) {
	v, err := a.Overview.After(ctx, saved)
	if err != nil {
		return gen.CaseNews{}, err
	}
	if saved.Again {
		return newsView(v, 0), nil
	}
	return newsView(v, saved.Was.Rev), nil
}

// made is a case that was just opened; its row of the Floor is kept.
func made(ctx context.Context, a *app.App, saved cases.Saved, err error) (present.View, error) {
	if err != nil {
		return present.View{}, err
	}
	saved.Again = true // all of it is new
	return a.Overview.After(ctx, saved)
}

// unquoted is a revision out of an entity tag; the contract has checked its form.
func unquoted(tag string) string { return strings.Trim(tag, `"`) }

// guard is what a change is held against; the contract has checked the form of both.
func guard(match *gen.IfMatch, key *gen.IdempotencyKey) cases.Guard {
	rev, _ := strconv.Atoi(unquoted(text(match)))
	return cases.Guard{Rev: rev, Key: text(key)}
}

func yes(p *bool) bool { return p != nil && *p }

func text(p *string) string {
	if p == nil {
		return ""
	}
	return *p
}

func (h *handlers) GetSettings(ctx context.Context, _ gen.GetSettingsRequestObject) (gen.GetSettingsResponseObject, error) {
	s, err := h.settings(ctx)
	return gen.GetSettings200JSONResponse(s), err
}

func (h *handlers) settings(ctx context.Context) (gen.Settings, error) {
	s, err := h.App.Store.Settings(ctx)
	if err != nil {
		return gen.Settings{}, err
	}
	staff, err := h.App.People.List(ctx)
	return settingsView(s, staff, h.Customers), err
}

func (h *handlers) PutSettings(ctx context.Context, r gen.PutSettingsRequestObject) (gen.PutSettingsResponseObject, error) {
	b := r.Body
	n, err := h.App.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	n.Shop, n.Currency = b.Shop, b.Currency
	n.Rev, _ = strconv.Atoi(unquoted(r.Params.IfMatch)) // what is no number is no revision of the settings
	put(&n.Numbers, b.Numbers)
	put(&n.Zone, b.Zone)
	if err := n.Read(shop.TypedFigures{LabourRate: &b.LabourRate, FluidLitre: &b.FluidLitre, Goodwill: &b.Goodwill, Tax: b.Tax, Consumables: b.Consumables}); err != nil {
		return nil, err
	}
	n.Pressure, n.Length, n.Torque, n.Volume, n.Temperature, n.Distance = b.Pressure, b.Length, b.Torque, b.Volume, b.Temperature, b.Distance
	put(&n.Guide, b.Guide)
	put(&n.Warranty, b.Warranty)
	put(&n.Address, b.Address)
	if _, err := h.App.Shop.SaveSettings(ctx, n); err != nil {
		return nil, err
	}
	s, err := h.settings(ctx)
	return gen.PutSettings200JSONResponse(s), err
}

func (h *handlers) ReadNumber(ctx context.Context, r gen.ReadNumberRequestObject) (gen.ReadNumberResponseObject, error) {
	st, err := h.App.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	put(&st.Numbers, r.Body.Numbers)
	read, err := st.Understood(r.Body.Kind, text(r.Body.Unit), r.Body.Text)
	if err != nil {
		return nil, err
	}
	return gen.ReadNumber200JSONResponse{Text: read}, nil
}

// put takes what was given and leaves the rest.
func put[T any](to, given *T) {
	if given != nil {
		*to = *given
	}
}

func (h *handlers) ListCases(ctx context.Context, r gen.ListCasesRequestObject) (gen.ListCasesResponseObject, error) {
	after, err := floorCursor(text(r.Params.After))
	if err != nil {
		return nil, err
	}
	page, err := h.App.Floor.List(ctx, floor.Query{Closed: yes(r.Params.Closed), Search: text(r.Params.Q), Limit: number(r.Params.Limit), After: after})
	if err != nil {
		return nil, err
	}
	return gen.ListCases200JSONResponse{Items: list(page.Rows, floorView), Open: page.Open, Closed: page.Closed, Next: cursorText(page.Next)}, nil
}

// cursorText writes where a page ends, so that it can be asked for by an address.
func cursorText(c floor.Cursor) string {
	if c.ID == "" {
		return ""
	}
	return c.Opened.UTC().Format(time.RFC3339Nano) + "~" + c.ID
}

func floorCursor(text string) (floor.Cursor, error) {
	if text == "" {
		return floor.Cursor{}, nil
	}
	at, id, ok := strings.Cut(text, "~")
	opened, err := time.Parse(time.RFC3339Nano, at)
	if !ok || err != nil {
		return floor.Cursor{}, &problem.FieldError{Field: "after", Reason: fmt.Sprintf("%q", text), Accepted: "next of the page before"}
	}
	return floor.Cursor{Opened: opened.UTC(), ID: id}, nil
}

func (h *handlers) TakeIn(ctx context.Context, r gen.TakeInRequestObject) (gen.TakeInResponseObject, error) {
	b := r.Body
	saved, err := h.App.Intake.TakeIn(ctx, takein.Intake{Key: text(r.Params.IdempotencyKey), Words: b.Words, Vehicle: b.Vehicle, Customer: text(b.Customer), Distance: text(b.Distance), UnitID: b.Unit, Bay: text(b.Bay), Owner: text(b.Owner), Preventive: yes(b.Preventive), Nearest: yes(b.Nearest)})
	v, err := made(ctx, h.App, saved, err)
	return gen.TakeIn201JSONResponse{CaseJSONResponse: whole(v)}, err
}

func (h *handlers) MakeSample(ctx context.Context, _ gen.MakeSampleRequestObject) (gen.MakeSampleResponseObject, error) {
	id, err := h.Sample(ctx)
	return gen.MakeSample201JSONResponse{ID: id}, err
}

func (h *handlers) RemoveSample(ctx context.Context, r gen.RemoveSampleRequestObject) (gen.RemoveSampleResponseObject, error) {
	return gen.RemoveSample204Response{}, h.App.Intake.RemoveSample(ctx, r.ID)
}

func (h *handlers) GetCase(ctx context.Context, r gen.GetCaseRequestObject) (gen.GetCaseResponseObject, error) {
	v, err := h.App.Overview.View(ctx, r.ID)
	return gen.GetCase200JSONResponse{CaseJSONResponse: whole(v)}, err
}

func (h *handlers) LookAtMove(ctx context.Context, r gen.LookAtMoveRequestObject) (gen.LookAtMoveResponseObject, error) {
	m, err := h.App.Intake.Moving(ctx, r.ID, r.Params.Unit)
	return gen.LookAtMove200JSONResponse{Unit: m.Unit, UnitName: m.UnitName, Fits: m.Fits, Left: texts(m.Left)}, err
}

func (h *handlers) MoveCase(ctx context.Context, r gen.MoveCaseRequestObject) (gen.MoveCaseResponseObject, error) {
	if _, err := h.App.Intake.MoveTo(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), r.Body.Unit, by(ctx, r.Body.By)); err != nil {
		return nil, err
	}
	v, err := h.App.Overview.View(ctx, r.ID)
	return gen.MoveCase200JSONResponse{CaseJSONResponse: whole(v)}, err
}

func (h *handlers) GetRanking(ctx context.Context, r gen.GetRankingRequestObject) (gen.GetRankingResponseObject, error) {
	v, err := h.App.Overview.Ranking(ctx, r.ID)
	return gen.GetRanking200JSONResponse(rankingView(v)), err
}

func (h *handlers) UpdateCase(ctx context.Context, r gen.UpdateCaseRequestObject) (gen.UpdateCaseResponseObject, error) {
	b := r.Body
	v, err := h.news(ctx)(h.App.Intake.Update(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), takein.Change{Words: b.Words, Vehicle: b.Vehicle, Customer: b.Customer, Distance: b.Distance, Stage: b.Stage, Access: b.Access, Bay: b.Bay, Owner: b.Owner, WaitsFor: b.WaitsFor}))
	return gen.UpdateCase200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) AddReadings(ctx context.Context, r gen.AddReadingsRequestObject) (gen.AddReadingsResponseObject, error) {
	v, err := h.news(ctx)(h.App.Readings.AddReadings(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), list(r.Body.Readings, func(n gen.NewReading) readings.NewReading {
		return readings.NewReading{Key: text(n.Key), Finding: text(n.Finding), State: text(n.State), Source: text(n.Source), Stage: text(n.Stage), Check: text(n.Check), Value: text(n.Value), Note: text(n.Note), By: by(ctx, n.By), Withdraws: text(n.Withdraws), Again: yes(n.Again)}
	})))
	return gen.AddReadings200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) ListFindings(ctx context.Context, r gen.ListFindingsRequestObject) (gen.ListFindingsResponseObject, error) {
	f, err := h.App.Checks.Findings(ctx, r.ID, string(r.Params.Stage))
	return gen.ListFindings200JSONResponse(list(f, findingView)), err
}

func (h *handlers) ListWordless(ctx context.Context, _ gen.ListWordlessRequestObject) (gen.ListWordlessResponseObject, error) {
	notes, count, err := h.App.Readings.Wordless(ctx)
	return gen.ListWordless200JSONResponse{Count: count, Notes: list(notes, func(w cases.Wordless) gen.WordlessNote {
		return gen.WordlessNote{Case: w.Case, Vehicle: w.Vehicle, Unit: w.Unit, Stage: w.Stage, Note: w.Note, By: w.By, At: w.At}
	})}, err
}

func (h *handlers) ListChecks(ctx context.Context, r gen.ListChecksRequestObject) (gen.ListChecksResponseObject, error) {
	items, err := h.App.Checks.Checks(ctx, r.ID)
	return gen.ListChecks200JSONResponse(list(items, checkItemView)), err
}

func (h *handlers) GetCheck(ctx context.Context, r gen.GetCheckRequestObject) (gen.GetCheckResponseObject, error) {
	v, err := h.App.Checks.Check(ctx, r.ID, r.Check)
	if err != nil {
		return nil, err
	}
	return gen.GetCheck200JSONResponse(checkView(v)), nil
}

func (h *handlers) MarkCheck(ctx context.Context, r gen.MarkCheckRequestObject) (gen.MarkCheckResponseObject, error) {
	b := r.Body
	v, err := h.news(ctx)(h.App.Readings.Mark(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), cases.Mark{Kind: string(b.Kind), Ref: r.Check, Note: text(b.Note), By: by(ctx, b.By)}, yes(b.Undo)))
	return gen.MarkCheck200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) SetProof(ctx context.Context, r gen.SetProofRequestObject) (gen.SetProofResponseObject, error) {
	v, err := h.news(ctx)(h.App.Verification.SetProof(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), cases.Proof{Item: r.Body.Item, Result: string(r.Body.Result), Note: text(r.Body.Note), By: by(ctx, r.Body.By)}))
	return gen.SetProof200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) CloseCase(ctx context.Context, r gen.CloseCaseRequestObject) (gen.CloseCaseResponseObject, error) {
	in := verification.Closing{Root: text(r.Body.Root), Outcome: string(r.Body.Outcome), CuredBy: text(r.Body.CuredBy), Learnt: text(r.Body.Learnt), Why: text(r.Body.Why)}
	if r.Body.Damages != nil {
		in.Damages = *r.Body.Damages
	}
	v, err := h.news(ctx)(h.App.Verification.Close(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), in))
	return gen.CloseCase200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) ReopenCase(ctx context.Context, r gen.ReopenCaseRequestObject) (gen.ReopenCaseResponseObject, error) {
	v, err := h.news(ctx)(h.App.Verification.Reopen(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey)))
	return gen.ReopenCase200JSONResponse{CaseNewsJSONResponse: v}, err
}
