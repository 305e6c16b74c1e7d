package httpapi

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"

	"innercompass/internal/casework"
	"innercompass/internal/httpapi/gen"
)

type handlers struct{ Options }

var _ gen.StrictServerInterface = (*handlers)(nil)

func etag(rev int) string { return fmt.Sprintf(`"%d"`, rev) }

// answer is the case as every change returns it.
func answer(v casework.View) gen.CaseJSONResponse {
	tag := etag(v.Case.Rev)
	return gen.CaseJSONResponse{Body: caseView(v), Headers: gen.CaseResponseHeaders{ETag: &tag}}
}

// guard is what a change is held against; the contract has checked the form of both.
func guard(match *gen.IfMatch, key *gen.IdempotencyKey) casework.Guard {
	rev, _ := strconv.Atoi(strings.Trim(text(match), `"`))
	return casework.Guard{Rev: rev, Key: text(key)}
}

func said(p *bool) bool { return p != nil && *p }

func text(p *string) string {
	if p == nil {
		return ""
	}
	return *p
}

func (h *handlers) GetHealth(context.Context, gen.GetHealthRequestObject) (gen.GetHealthResponseObject, error) {
	return gen.GetHealth200JSONResponse{Status: "ok", Version: h.Version, Knowledge: h.Know}, nil
}

func (h *handlers) GetSettings(ctx context.Context, _ gen.GetSettingsRequestObject) (gen.GetSettingsResponseObject, error) {
	s, err := h.settings(ctx)
	return gen.GetSettings200JSONResponse(s), err
}

func (h *handlers) settings(ctx context.Context) (gen.Settings, error) {
	s, err := h.Cases.Store.Settings(ctx)
	if err != nil {
		return gen.Settings{}, err
	}
	people, err := h.Cases.Store.People(ctx)
	return settingsView(s, people, h.Customers), err
}

func (h *handlers) PutSettings(ctx context.Context, r gen.PutSettingsRequestObject) (gen.PutSettingsResponseObject, error) {
	b := r.Body
	n, err := h.Cases.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	n.Shop, n.Currency, n.Rev = b.Shop, b.Currency, b.Rev
	put(&n.Numbers, b.Numbers)
	put(&n.Zone, b.Zone)
	if err := n.Read(casework.TypedFigures{LabourRate: &b.LabourRate, FluidLitre: &b.FluidLitre, Goodwill: &b.Goodwill, Tax: b.Tax, Consumables: b.Consumables}); err != nil {
		return nil, err
	}
	n.Pressure, n.Length, n.Torque, n.Volume, n.Temperature, n.Distance = b.Pressure, b.Length, b.Torque, b.Volume, b.Temperature, b.Distance
	put(&n.Guide, b.Guide)
	put(&n.Warranty, b.Warranty)
	put(&n.Address, b.Address)
	if _, err := h.Cases.SaveSettings(ctx, n); err != nil {
		return nil, err
	}
	s, err := h.settings(ctx)
	return gen.PutSettings200JSONResponse(s), err
}

func (h *handlers) ReadNumber(ctx context.Context, r gen.ReadNumberRequestObject) (gen.ReadNumberResponseObject, error) {
	st, err := h.Cases.Store.Settings(ctx)
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
	page, err := h.Cases.Floor(ctx, casework.FloorQuery{Closed: said(r.Params.Closed), Search: text(r.Params.Q), Limit: number(r.Params.Limit), After: after})
	if err != nil {
		return nil, err
	}
	return gen.ListCases200JSONResponse{Items: list(page.Rows, floorView), Open: page.Open, Closed: page.Closed, Next: cursorText(page.Next)}, nil
}

// cursorText writes where a page ends, so that it can be asked for by an address.
func cursorText(c casework.FloorCursor) string {
	if c.ID == "" {
		return ""
	}
	return c.Opened.UTC().Format(time.RFC3339Nano) + "~" + c.ID
}

func floorCursor(text string) (casework.FloorCursor, error) {
	if text == "" {
		return casework.FloorCursor{}, nil
	}
	at, id, ok := strings.Cut(text, "~")
	opened, err := time.Parse(time.RFC3339Nano, at)
	if !ok || err != nil {
		return casework.FloorCursor{}, &casework.FieldError{Field: "after", Reason: fmt.Sprintf("%q", text), Accepted: "next of the page before"}
	}
	return casework.FloorCursor{Opened: opened.UTC(), ID: id}, nil
}

func (h *handlers) TakeIn(ctx context.Context, r gen.TakeInRequestObject) (gen.TakeInResponseObject, error) {
	b := r.Body
	v, err := h.Cases.TakeIn(ctx, casework.Intake{Key: text(r.Params.IdempotencyKey), Words: b.Words, Vehicle: b.Vehicle, Customer: text(b.Customer), Distance: text(b.Distance), UnitID: b.Unit, Bay: text(b.Bay), Owner: text(b.Owner)})
	if err != nil {
		return nil, err
	}
	return gen.TakeIn201JSONResponse{CaseJSONResponse: answer(v)}, nil
}

func (h *handlers) GetCase(ctx context.Context, r gen.GetCaseRequestObject) (gen.GetCaseResponseObject, error) {
	look := h.Cases.View
	if r.Params.Full != nil && *r.Params.Full {
		look = h.Cases.ViewInFull
	}
	v, err := look(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	return gen.GetCase200JSONResponse{CaseJSONResponse: answer(v)}, nil
}

func (h *handlers) UpdateCase(ctx context.Context, r gen.UpdateCaseRequestObject) (gen.UpdateCaseResponseObject, error) {
	b := r.Body
	v, err := h.Cases.Update(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), casework.Change{Words: b.Words, Vehicle: b.Vehicle, Customer: b.Customer, Distance: b.Distance, Stage: b.Stage, Access: b.Access, Bay: b.Bay, Owner: b.Owner, WaitsFor: b.WaitsFor})
	if err != nil {
		return nil, err
	}
	return gen.UpdateCase200JSONResponse{CaseJSONResponse: answer(v)}, nil
}

func (h *handlers) AddReadings(ctx context.Context, r gen.AddReadingsRequestObject) (gen.AddReadingsResponseObject, error) {
	v, err := h.Cases.AddReadings(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), list(r.Body.Readings, func(n gen.NewReading) casework.NewReading {
		return casework.NewReading{Key: text(n.Key), Finding: text(n.Finding), State: text(n.State), Source: text(n.Source), Stage: text(n.Stage), Check: text(n.Check), Value: text(n.Value), Note: text(n.Note), By: text(n.By), Withdraws: text(n.Withdraws), Again: said(n.Again)}
	}))
	if err != nil {
		return nil, err
	}
	return gen.AddReadings200JSONResponse{CaseJSONResponse: answer(v)}, nil
}

func (h *handlers) ListFindings(ctx context.Context, r gen.ListFindingsRequestObject) (gen.ListFindingsResponseObject, error) {
	f, err := h.Cases.Findings(ctx, r.ID, string(r.Params.Stage))
	return gen.ListFindings200JSONResponse(list(f, findingView)), err
}

func (h *handlers) ListChecks(ctx context.Context, r gen.ListChecksRequestObject) (gen.ListChecksResponseObject, error) {
	items, err := h.Cases.Checks(ctx, r.ID)
	return gen.ListChecks200JSONResponse(list(items, checkItemView)), err
}

func (h *handlers) GetCheck(ctx context.Context, r gen.GetCheckRequestObject) (gen.GetCheckResponseObject, error) {
	v, err := h.Cases.Check(ctx, r.ID, r.Check)
	if err != nil {
		return nil, err
	}
	return gen.GetCheck200JSONResponse(checkView(v)), nil
}

func (h *handlers) MarkCheck(ctx context.Context, r gen.MarkCheckRequestObject) (gen.MarkCheckResponseObject, error) {
	b := r.Body
	v, err := h.Cases.Mark(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), casework.Mark{Kind: string(b.Kind), Ref: r.Check, Note: text(b.Note), By: text(b.By)}, said(b.Undo))
	if err != nil {
		return nil, err
	}
	return gen.MarkCheck200JSONResponse{CaseJSONResponse: answer(v)}, nil
}

func (h *handlers) SetProof(ctx context.Context, r gen.SetProofRequestObject) (gen.SetProofResponseObject, error) {
	v, err := h.Cases.SetProof(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), casework.Proof{Item: r.Body.Item, Result: string(r.Body.Result), Note: text(r.Body.Note), By: text(r.Body.By)})
	if err != nil {
		return nil, err
	}
	return gen.SetProof200JSONResponse{CaseJSONResponse: answer(v)}, nil
}

func (h *handlers) CloseCase(ctx context.Context, r gen.CloseCaseRequestObject) (gen.CloseCaseResponseObject, error) {
	in := casework.Closing{Root: text(r.Body.Root), Outcome: string(r.Body.Outcome), CuredBy: text(r.Body.CuredBy), Learnt: text(r.Body.Learnt)}
	if r.Body.Damages != nil {
		in.Damages = *r.Body.Damages
	}
	v, err := h.Cases.Close(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), in)
	if err != nil {
		return nil, err
	}
	return gen.CloseCase200JSONResponse{CaseJSONResponse: answer(v)}, nil
}

func (h *handlers) ReopenCase(ctx context.Context, r gen.ReopenCaseRequestObject) (gen.ReopenCaseResponseObject, error) {
	v, err := h.Cases.Reopen(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey))
	if err != nil {
		return nil, err
	}
	return gen.ReopenCase200JSONResponse{CaseJSONResponse: answer(v)}, nil
}
