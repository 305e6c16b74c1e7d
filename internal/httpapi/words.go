package httpapi

import (
	"context"

	"innercompass/core/plan"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/interview"
	"innercompass/internal/planning"
	"innercompass/internal/said"
)

func (h *handlers) ReadWords(ctx context.Context, r gen.ReadWordsRequestObject) (gen.ReadWordsResponseObject, error) {
	s, err := h.App.Said.Read(ctx, text(r.Params.Unit), r.Params.Text)
	if err != nil {
		return nil, err
	}
	return gen.ReadWords200JSONResponse(saidView(s)), nil
}

func (h *handlers) GetWords(ctx context.Context, r gen.GetWordsRequestObject) (gen.GetWordsResponseObject, error) {
	s, err := h.App.Said.Of(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	return gen.GetWords200JSONResponse(saidView(s)), nil
}

func (h *handlers) ChooseWords(ctx context.Context, r gen.ChooseWordsRequestObject) (gen.ChooseWordsResponseObject, error) {
	b := r.Body
	v, err := h.news(ctx)(h.App.Said.Choose(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), said.Choice{Take: refs(b.Take), Strike: refs(b.Strike), Back: refs(b.Back), All: yes(b.All), By: by(ctx, b.By)}))
	return gen.ChooseWords200JSONResponse{CaseNewsJSONResponse: v}, err
}

func (h *handlers) HearCalled(ctx context.Context, r gen.HearCalledRequestObject) (gen.HearCalledResponseObject, error) {
	cells, rest, err := h.App.Said.Called(ctx, r.ID, r.Params.Text, r.Params.At)
	if err != nil {
		return nil, err
	}
	return gen.HearCalled200JSONResponse{Cells: list(cells, offerView), Rest: texts(rest)}, nil
}

func offerView(o said.Offer) gen.SaidOffer {
	return gen.SaidOffer{Finding: o.Finding, Title: o.Title, State: o.State, StateTitle: o.StateTitle}
}

func refs(p *gen.PhraseRefs) []string {
	if p == nil {
		return nil
	}
	return *p
}

// saidView cuts a text into pieces, so that the page needs no offsets.
func saidView(s said.Said) gen.Said {
	out := gen.Said{Text: s.Text, Phrases: []gen.SaidPhrase{}, Pieces: []gen.SaidPiece{}}
	at := 0
	piece := func(to int, ref *string) {
		if to > at {
			out.Pieces = append(out.Pieces, gen.SaidPiece{Phrase: ref, Text: s.Text[at:to]})
			at = to
		}
	}
	for _, p := range s.Phrases {
		piece(p.Start, nil)
		piece(p.End, &p.Ref)
		x := gen.SaidPhrase{Ref: p.Ref, Text: s.Text[p.Start:p.End], Role: gen.SaidPhraseRole(p.Leader.Role), Title: p.Leader.Title, Details: texts(p.Details), Sure: p.Sure, Other: p.Leader.Other, State: gen.SaidPhraseState(p.State), Doubtful: p.Doubtful, Against: p.Against}
		if p.Leader.Mended != "" {
			x.ReadAs = &p.Leader.Mended
		}
		x.Offers = list(p.Offers, offerView)
		out.Phrases = append(out.Phrases, x)
	}
	piece(len(s.Text), nil)
	return out
}

func (h *handlers) GetInterview(ctx context.Context, r gen.GetInterviewRequestObject) (gen.GetInterviewResponseObject, error) {
	v, err := h.App.Interview.Of(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	return gen.GetInterview200JSONResponse(interviewView(v)), nil
}

func (h *handlers) AnswerQuestion(ctx context.Context, r gen.AnswerQuestionRequestObject) (gen.AnswerQuestionResponseObject, error) {
	b := r.Body
	v, err := h.news(ctx)(h.App.Interview.Put(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), interview.Answer{Question: b.Question, Answer: text(b.Answer), By: by(ctx, b.By)}))
	return gen.AnswerQuestion200JSONResponse{CaseNewsJSONResponse: v}, err
}

func interviewView(v interview.View) gen.Interview {
	out := gen.Interview{Most: v.Most, Then: texts(v.Then), Put: list(v.Put, func(p interview.Put) gen.PutQuestion {
		return gen.PutQuestion{ID: p.ID, Ask: p.Ask, Answer: p.Answer, Answers: answers(p.Answers)}
	})}
	if v.Ask != nil {
		out.Ask = &gen.NextQuestion{ID: v.Ask.ID, Ask: v.Ask.Ask, Because: v.Because, Answers: answers(v.Ask.Answers)}
	}
	if v.Enough != "" {
		out.Enough = &v.Enough
	}
	if v.Next != nil {
		out.Next = &gen.NextStep{ID: v.Next.ID, Title: v.Next.Title, Access: v.Next.Access, Minutes: v.Next.Minutes, Says: v.Next.Says}
	}
	return out
}

func answers(in []plan.Answer) []string {
	return list(in, func(a plan.Answer) string { return a.Title })
}

func (h *handlers) GetPlan(ctx context.Context, r gen.GetPlanRequestObject) (gen.GetPlanResponseObject, error) {
	v, err := h.App.Planning.Of(ctx, r.ID, planning.Result{Finding: text(r.Params.Finding), State: text(r.Params.State)})
	if err != nil {
		return nil, err
	}
	return gen.GetPlan200JSONResponse{Sentence: v.Sentence, Best: v.Best, Leader: v.Leader, Share: v.Share, AsIf: v.AsIf, End: list(v.End, planStop), Points: list(v.Points, func(p plan.Point) gen.PlanPoint {
		return gen.PlanPoint{Spent: p.Spent, Wrong: p.Wrong, Vain: p.Vain}
	}), Steps: list(v.Steps, func(s planning.Step) gen.PlanStep {
		return gen.PlanStep{ID: s.ID, Title: s.Title, Access: s.Access, Tells: s.Tells, Minutes: s.Minutes, Climb: s.Climb, Price: s.Price, Reach: s.Reach, On: s.On, OnSeen: s.OnSeen, Stops: list(s.Stops, planStop)}
	})}, nil
}

func planStop(s planning.Stop) gen.PlanStop {
	return gen.PlanStop{Share: s.Share, Right: s.Right, Price: s.Price, Seen: s.Seen, Repair: s.Repair, Joined: s.Joined, Finding: s.Finding, State: s.State}
}

func (h *handlers) ListOwnWords(ctx context.Context, _ gen.ListOwnWordsRequestObject) (gen.ListOwnWordsResponseObject, error) {
	out, err := h.ownWords(ctx)
	return gen.ListOwnWords200JSONResponse(out), err
}

func (h *handlers) TeachWord(ctx context.Context, r gen.TeachWordRequestObject) (gen.TeachWordResponseObject, error) {
	b := r.Body
	if err := h.App.Said.Teach(ctx, []said.OwnWord{{Say: b.Say, Finding: b.Finding, State: b.State, By: by(ctx, b.By), At: h.App.Now()}}); err != nil {
		return nil, err
	}
	out, err := h.ownWords(ctx)
	return gen.TeachWord200JSONResponse(out), err
}

func (h *handlers) ForgetWord(ctx context.Context, r gen.ForgetWordRequestObject) (gen.ForgetWordResponseObject, error) {
	return gen.ForgetWord204Response{}, h.App.Said.Forget(ctx, r.Word)
}

func (h *handlers) ImportWords(ctx context.Context, r gen.ImportWordsRequestObject) (gen.ImportWordsResponseObject, error) {
	if err := h.App.Said.ReadWordTable(ctx, r.Body.Text, h.App.Now()); err != nil {
		return nil, err
	}
	out, err := h.ownWords(ctx)
	return gen.ImportWords200JSONResponse(out), err
}

func (h *handlers) ownWords(ctx context.Context) ([]gen.OwnWord, error) {
	own, titles, err := h.App.Said.Own(ctx)
	out := make([]gen.OwnWord, len(own))
	for i, w := range own {
		out[i] = gen.OwnWord{ID: w.ID, Say: w.Say, Means: titles[i], Finding: w.Finding, State: w.State, By: w.By, At: w.At}
	}
	return out, err
}

func (h *handlers) GetMoves(ctx context.Context, r gen.GetMovesRequestObject) (gen.GetMovesResponseObject, error) {
	m, err := h.App.Interview.MovesOf(ctx, r.ID)
	return gen.GetMoves200JSONResponse{Columns: texts(m.Columns), Rows: list(m.Rows, func(x interview.Moved) gen.MovedSuspect {
		return gen.MovedSuspect{ID: x.ID, Title: x.Title, Shares: append([]float64{}, x.Shares...)}
	})}, err
}
