package httpapi

import (
	"bytes"
	"context"
	"fmt"
	"strconv"
	"time"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/estimate"
	"innercompass/core/money"
	"innercompass/core/pricebook"
	"innercompass/internal/cases"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/paper"
	"innercompass/internal/present"
	"innercompass/internal/quoting"
	"innercompass/internal/records"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
)

func minor(a money.Amount) int64 { return int64(a) }

func optionsView(d quoting.OptionComparison) gen.Options {
	st := d.Settings
	out := gen.Options{Currency: st.Currency, TaxRate: st.Tax, Ceiling: minor(d.Ceiling), Headline: d.Headline, Sentence: d.Sentence, Rows: list(d.Rows, optionRowView),
		Refused: list(d.Refused, func(x decide.Refused) gen.RefusedOption {
			return gen.RefusedOption{ID: x.Option.ID, Title: x.Option.Title, Why: x.Why}
		}),
		Quiet: d.Quiet, AheadRests: decide.AheadRests, AheadOf: st.DistanceText(1e3 * d.LookedAhead), Ahead: list(d.Ahead, func(p decide.Prevention) gen.Prevention { return preventionView(p, st) }),
		Turns: list(d.Turns, func(t decide.BreakEven) gen.BreakEven {
			return gen.BreakEven{Figure: figureOfMoney(t.Assumption), At: t.At, Winner: t.Winner, Change: t.Change}
		}),
		Policies: list(d.Policies, func(p decide.Policy) gen.Policy {
			return gen.Policy{ID: p.ID, Title: p.Title, Why: p.Why, Option: p.Option, OptionID: p.OptionID, Pay: minor(p.Pay), Expected: minor(p.Expected)}
		}),
		AddOns: list(d.AddOns, func(a decide.AddOn) gen.AddOn {
			return gen.AddOn{Option: a.Option, Title: a.Title, Extra: minor(a.Extra), Saves: minor(a.Saves), Access: a.Access}
		}),
		Watch: gen.Deferral{Harm: minor(d.Watch.Harm), Hazard: d.Watch.Hazard, Next: list(d.Watch.Next, func(x decide.Next) gen.NextDamage {
			return gen.NextDamage{Title: x.Title, By: x.By, Probability: x.Probability, Cost: minor(x.Cost)}
		}), HarmBy: list(decide.HarmDistances, func(m float64) gen.HarmBy {
			return gen.HarmBy{Distance: st.DistanceText(m), Cost: minor(d.Watch.HarmBy(m))}
		})},
		Figures: list(d.Figures, figureOfMoney)}
	if d.Watch.Interval > 0 {
		out.Watch.Interval = st.DistanceText(d.Watch.Interval)
	}
	if d.Visit.Option.ID != "" {
		visit := optionRowView(d.Visit)
		out.Visit = &visit
	}
	if d.Check.Check != "" {
		out.First = &gen.CheckFirst{Check: d.Check.Check, Title: d.Check.Title, Saves: minor(money.Of(d.Check.Saves))}
	}
	return out
}

func preventionView(p decide.Prevention, st shop.Settings) gen.Prevention {
	return gen.Prevention{Cause: p.Cause.ID, Title: p.Cause.Title, Note: p.Note, Window: st.DistanceText(1e3*p.From) + " to " + st.DistanceText(1e3*p.To), Chance: p.Chance, Option: p.Option.ID, OptionTitle: p.Option.Title,
		Open: p.Open, Now: minor(p.Now), Later: minor(p.Later), Expected: minor(p.Expected()), Saves: minor(p.Saves()), Due: p.Due(), Priced: !p.Missing}
}

func figureOfMoney(f decide.Assumption) gen.MoneyFigure {
	return gen.MoneyFigure{ID: f.ID, Title: f.Title, Kind: gen.MoneyFigureKind(f.Kind), Now: f.Now, Low: f.Low, High: f.High, Offered: decide.Offered(f.ID)}
}

func optionRowView(r decide.Row) gen.OptionRow {
	return gen.OptionRow{ID: r.Option.ID, Title: r.Title(), School: r.Option.Strategy, Note: r.Option.Note, Access: r.Option.Access, Labour: minor(r.Labour()), Parts: minor(r.Parts()), Fluid: minor(r.Fluid()),
		Net: minor(r.Net), Tax: minor(r.Tax), Pay: minor(r.Pay), Cured: r.Cured, ExpectedReturn: minor(r.Return), Expected: minor(r.Expected), Low: minor(r.Low), High: minor(r.High), Cures: r.Cures, Of: r.Of,
		Quality: r.Quality, Missing: texts(r.Missing), Hazard: r.Hazard, Over: r.Over, Able: r.Recommendable(),
		Qualities: list(r.Qualities, func(v decide.Variant) gen.Variant {
			return gen.Variant{ID: v.Quality.ID, Title: v.Quality.Title, Pay: minor(v.Pay), Expected: minor(v.Expected), From: string(v.From)}
		}),
		Lines: list(r.Lines, func(l estimate.Line) gen.Line {
			return gen.Line{Item: l.Item, Title: l.Title, Kind: gen.LineKind(l.Kind), Count: l.Count, Per: l.Per, Each: minor(l.Each), Total: minor(l.Total), From: gen.LineFrom(l.From), Quality: l.Quality, Figure: l.Figure(), Timed: l.Timed()}
		})}
}

// choices reads what was set by hand, as the shop writes numbers.
func (h *handlers) choices(ctx context.Context, quality *gen.Qualities, set *gen.Figures, ceiling *string) (decide.Choices, error) {
	st, err := h.App.Store.Settings(ctx)
	if err != nil {
		return decide.Choices{}, err
	}
	var ch decide.Choices
	if quality != nil {
		ch.Quality = *quality
	}
	if set != nil {
		if ch.Set, err = st.Figures(*set); err != nil {
			return ch, err
		}
	}
	ch.Ceiling, err = st.Ceiling(text(ceiling))
	return ch, err
}

func (h *handlers) ListOptions(ctx context.Context, r gen.ListOptionsRequestObject) (gen.ListOptionsResponseObject, error) {
	d, err := h.App.Quoting.Options(ctx, r.ID, decide.Choices{}, "", nil, true)
	if err != nil {
		return nil, err
	}
	return gen.ListOptions200JSONResponse(optionsView(d)), nil
}

func (h *handlers) WeighOptions(ctx context.Context, r gen.WeighOptionsRequestObject) (gen.WeighOptionsResponseObject, error) {
	b := r.Body
	ch, err := h.choices(ctx, b.Quality, b.Set, b.Ceiling)
	if err != nil {
		return nil, err
	}
	st, err := h.App.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	if ch.Ahead, err = st.Ahead(text(b.Ahead)); err != nil {
		return nil, err
	}
	var addOns []string
	if b.AddOns != nil {
		addOns = *b.AddOns
	}
	d, err := h.App.Quoting.Options(ctx, r.ID, ch, text(b.Option), addOns, b.Full != nil && *b.Full)
	if err != nil {
		return nil, err
	}
	return gen.WeighOptions200JSONResponse(optionsView(d)), nil
}

func (h *handlers) Decide(ctx context.Context, r gen.DecideRequestObject) (gen.DecideResponseObject, error) {
	b := r.Body
	ch, err := h.choices(ctx, b.Quality, b.Set, nil)
	if err != nil {
		return nil, err
	}
	d := quoting.NewDecision{Option: b.Option, Choice: string(b.Choice), Words: text(b.Words), Ceiling: text(b.Ceiling), By: by(ctx, b.By), Name: text(b.Name), Signature: text(b.Signature), Choices: ch}
	if b.How != nil {
		d.How = string(*b.How)
	}
	if b.AddOns != nil {
		d.AddOns = *b.AddOns
	}
	v, err := h.news(ctx)(h.App.Quoting.Decide(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), d))
	return gen.Decide201JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) MakeEstimate(ctx context.Context, r gen.MakeEstimateRequestObject) (gen.MakeEstimateResponseObject, error) {
	ch, err := h.choices(ctx, r.Body.Quality, r.Body.Set, nil)
	if err != nil {
		return nil, err
	}
	v, err := h.news(ctx)(h.App.Quoting.Estimate(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), by(ctx, r.Body.By), time.Duration(r.Body.Hours*float64(time.Hour)), ch))
	return gen.MakeEstimate201JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) GetApproval(ctx context.Context, r gen.GetApprovalRequestObject) (gen.GetApprovalResponseObject, error) {
	a, err := h.App.Quoting.EstimateByToken(ctx, r.Token)
	if err != nil {
		return nil, err
	}
	return gen.GetApproval200JSONResponse(approvalView(a)), nil
}

func (h *handlers) Approve(ctx context.Context, r gen.ApproveRequestObject) (gen.ApproveResponseObject, error) {
	b := r.Body
	d := quoting.NewDecision{Option: b.Option, Choice: string(b.Choice), Name: b.Name, Words: text(b.Words), Ceiling: text(b.Ceiling), Signature: text(b.Signature)}
	if d.Signature != "" {
		d.How = "signed"
	}
	a, err := h.App.Quoting.Answer(ctx, r.Token, cases.Guard{Key: text(r.Params.IdempotencyKey)}, d)
	if err != nil {
		return nil, err
	}
	h.App.Floor.Ask() // nobody looks at the case here: its row follows
	return gen.Approve200JSONResponse(approvalView(a)), nil
}

// approvalView is an estimate as the customer sees it: what was found, what can be done, and nothing of the shop's figures.
func approvalView(a quoting.Answerable) gen.Approval {
	s := a.Snapshot
	if a.Over || a.State != cases.EstimateOpen && a.State != cases.EstimateAnswered {
		state := a.State
		if a.Over {
			state = cases.EstimateExpired
		}
		return gen.Approval{State: gen.ApprovalState(state), Shop: s.Shop, Numbers: s.Numbers, Zone: s.Zone, Expires: a.Expires, Options: []gen.OfferedOption{}, Cautions: []string{}}
	}
	out := gen.Approval{Numbers: s.Numbers, Zone: s.Zone, State: gen.ApprovalState(a.State), Shop: s.Shop, Address: a.Address, Words: s.Words, Vehicle: s.Vehicle, Currency: s.Currency, Expires: a.Expires, By: s.By, Warranty: s.Warranty, Cautions: texts(records.CautionsOf(s)),
		Options: list(s.Options, func(o cases.SnapshotOption) gen.OfferedOption {
			return gen.OfferedOption{ID: o.ID, Title: o.Title, Pay: o.Pay, Tax: o.Tax, Cured: o.Cured, Advised: o.ID == s.Advised, Hazard: o.Hazard, Missing: texts(o.Missing), Lines: list(o.Lines, func(l cases.SnapshotLine) gen.OfferedLine {
				return gen.OfferedLine{Title: l.Title, Count: l.Count, Per: l.Per, Total: l.Total}
			})}
		})}
	if len(s.Suspects) > 0 {
		out.Root, out.RootShare, out.Sure = s.Suspects[0].Title, s.Suspects[0].Probability, diagnose.SureWords(s.Suspects[0].Probability)
	}
	if a.Decision != nil {
		d := decisionView(*a.Decision)
		out.Answered = &d
	}
	return out
}

func decisionView(d present.DecisionView) gen.Decision {
	return gen.Decision{ID: d.ID, Option: d.Option, Title: d.Title, Choice: d.Choice, Words: d.Words, Ceiling: d.Ceiling, By: d.By, Digest: d.Digest, At: d.At, Sure: d.Sure, Root: d.Root, RootShare: d.RootShare, Estimate: d.Estimate, How: d.How, Name: d.Name, AddOns: texts(d.AddOns), Waiting: d.Waiting, Countersigned: maybe(d.Countersigned)}
}

func newRecord(ctx context.Context, b *gen.NewRecord) records.NewRecord {
	in := records.NewRecord{By: by(ctx, b.By), Parts: text(b.Parts), Work: text(b.Work), Amends: text(b.Amends), Why: text(b.Why)}
	if b.LeaveOut != nil {
		in.LeaveOut = *b.LeaveOut
	}
	return in
}

func (h *handlers) IssueRecord(ctx context.Context, r gen.IssueRecordRequestObject) (gen.IssueRecordResponseObject, error) {
	v, err := h.news(ctx)(h.App.Records.Issue(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), newRecord(ctx, r.Body)))
	return gen.IssueRecord201JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) DraftRecord(ctx context.Context, r gen.DraftRecordRequestObject) (gen.DraftRecordResponseObject, error) {
	release, err := rendering(ctx)
	if err != nil {
		return nil, err
	}
	defer release()
	content, err := h.App.Records.DraftRecord(ctx, r.ID, newRecord(ctx, r.Body))
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := paper.HTML(ctx, &b, paper.Issued{RecordContent: content}, h.App.Records.Files(ctx)); err != nil {
		return nil, err
	}
	odd, err := paper.Unprintable(content, h.App.Records.Files(ctx))
	return gen.DraftRecord200JSONResponse{HTML: b.String(), NotPrintable: texts(odd)}, err
}

func (h *handlers) VerifyRecord(ctx context.Context, r gen.VerifyRecordRequestObject) (gen.VerifyRecordResponseObject, error) {
	var v records.Verified
	var err error
	if r.Body.Document != nil {
		v, err = h.App.Records.VerifyFile(ctx, *r.Body.Document)
	} else if file := text(r.Body.File); file != "" {
		v, err = h.App.Records.VerifyFile(ctx, []byte(file))
	} else {
		v, err = h.App.Records.VerifyDigest(ctx, text(r.Body.Digest))
	}
	if err != nil {
		return nil, err
	}
	return gen.VerifyRecord200JSONResponse{Digest: v.Digest, Whole: v.Whole, Kept: v.Kept, Case: v.Case, Number: v.Content.Number, Vehicle: v.Content.Vehicle, Genuine: v.Whole && (v.Kept || v.Ours), Says: v.Says()}, nil
}

func (h *handlers) WithdrawPhoto(ctx context.Context, r gen.WithdrawPhotoRequestObject) (gen.WithdrawPhotoResponseObject, error) {
	v, err := h.news(ctx)(h.App.Records.WithdrawPhoto(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), r.Photo))
	return gen.WithdrawPhoto200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) SetFollowUp(ctx context.Context, r gen.SetFollowUpRequestObject) (gen.SetFollowUpResponseObject, error) {
	v, err := h.news(ctx)(h.App.Verification.FollowUp(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), r.Body.Day, r.Body.Distance, r.Body.Note))
	return gen.SetFollowUp200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) LinkCase(ctx context.Context, r gen.LinkCaseRequestObject) (gen.LinkCaseResponseObject, error) {
	v, err := h.news(ctx)(h.App.Intake.Link(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), r.Body.ID))
	return gen.LinkCase200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) ListVisits(ctx context.Context, r gen.ListVisitsRequestObject) (gen.ListVisitsResponseObject, error) {
	visits, err := h.App.Intake.EarlierVisits(ctx, r.Params.Vehicle, text(r.Params.Customer))
	if err != nil {
		return nil, err
	}
	return gen.ListVisits200JSONResponse(list(visits, visitView)), nil
}

func (h *handlers) ListVehicles(ctx context.Context, _ gen.ListVehiclesRequestObject) (gen.ListVehiclesResponseObject, error) {
	vehicles, err := h.App.Intake.Vehicles(ctx)
	if err != nil {
		return nil, err
	}
	return gen.ListVehicles200JSONResponse(list(vehicles, func(v takein.Vehicle) gen.KnownVehicle {
		return gen.KnownVehicle{Vehicle: v.Vehicle, Customer: v.Customer, Unit: v.Unit, UnitName: v.UnitName, Distance: v.Distance, At: v.At}
	})), nil
}

func visitView(v present.Visit) gen.Visit {
	return gen.Visit{ID: v.ID, Words: v.Words, Vehicle: v.Vehicle, Outcome: v.Outcome, Root: v.Root, At: v.At, Closed: v.Closed, Declined: texts(v.Declined), Agreed: v.Agreed}
}

func (h *handlers) GetPrices(ctx context.Context, _ gen.GetPricesRequestObject) (gen.GetPricesResponseObject, error) {
	b, err := h.App.Shop.Prices(ctx)
	if err != nil {
		return nil, err
	}
	view, err := h.bookView(ctx, b)
	return gen.GetPrices200JSONResponse(view), err
}

func (h *handlers) PutPrices(ctx context.Context, r gen.PutPricesRequestObject) (gen.PutPricesResponseObject, error) {
	st, err := h.App.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	var book pricebook.Book
	for i, p := range r.Body.Prices {
		made := pricebook.Price{Unit: p.Unit, Item: p.Item, Quality: p.Quality, Note: p.Note}
		if made.Timed() && p.Price == "" {
			made.Hours, err = st.ParseRate(fmt.Sprintf("prices[%d].hours", i), p.Hours, pricebook.MostHours)
		} else if made.Amount, err = st.ParseAmount(fmt.Sprintf("prices[%d].price", i), p.Price); err == nil && p.Hours != "" {
			made.Hours, err = st.ParseRate(fmt.Sprintf("prices[%d].hours", i), p.Hours, pricebook.MostHours)
		}
		if err != nil {
			return nil, err
		}
		book = append(book, made)
	}
	b, err := h.App.Shop.SavePrices(ctx, book, unquoted(r.Params.IfMatch))
	if err != nil {
		return nil, err
	}
	view, err := h.bookView(ctx, b)
	return gen.PutPrices200JSONResponse(view), err
}

func (h *handlers) ImportPrices(ctx context.Context, r gen.ImportPricesRequestObject) (gen.ImportPricesResponseObject, error) {
	b, err := h.App.Shop.ImportPrices(ctx, r.Body.Text)
	if err != nil {
		return nil, err
	}
	view, err := h.bookView(ctx, b)
	return gen.ImportPrices200JSONResponse(view), err
}

func (h *handlers) bookView(ctx context.Context, b shop.PriceBook) (gen.PriceBook, error) {
	st, err := h.App.Store.Settings(ctx)
	if err != nil {
		return gen.PriceBook{}, err
	}
	titles, err := h.App.Shop.Titles(ctx, b.Prices)
	return gen.PriceBook{Titles: titles, Rev: b.Rev, Currency: st.Currency, Prices: list(b.Prices, func(p pricebook.Price) gen.Price {
		out := gen.Price{Unit: p.Unit, Item: p.Item, Quality: p.Quality, Note: p.Note}
		if p.Timed() {
			out.Hours = st.Style().Write(strconv.FormatFloat(p.Hours, 'f', -1, 64))
		} else {
			out.Price = p.Amount.In(st.Style(), "")
		}
		return out
	})}, err
}

func (h *handlers) ListPriceItems(ctx context.Context, r gen.ListPriceItemsRequestObject) (gen.ListPriceItemsResponseObject, error) {
	items, err := h.App.Shop.PriceItems(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	return gen.ListPriceItems200JSONResponse(list(items, func(i shop.PriceItem) gen.PriceItem {
		return gen.PriceItem{Item: i.Item, Title: i.Title, Timed: i.Timed, Qualities: texts(i.Qualities), Guide: i.Guide}
	})), nil
}
