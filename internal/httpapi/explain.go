package httpapi

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/internal/assessing"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/overview"
	"innercompass/internal/problem"
)

func suspicionView(s assessing.Suspicion) gen.Suspicion {
	return gen.Suspicion{Exact: s.Exact, LeftOut: s.LeftOut, Causes: s.Causes, Several: s.Several, Other: s.Other, Damages: list(s.Damages, func(d assessing.DamageView) gen.Consequence {
		return gen.Consequence{ID: d.ID, Title: d.Title, Probability: d.Probability}
	})}
}

func (h *handlers) ExplainSuspect(ctx context.Context, r gen.ExplainSuspectRequestObject) (gen.ExplainSuspectResponseObject, error) {
	x, err := h.App.Overview.Explain(ctx, r.ID, r.Cause)
	if err != nil {
		return nil, err
	}
	return gen.ExplainSuspect200JSONResponse(explanationView(x)), nil
}

func explanationView(x overview.Explanation) gen.Explanation {
	out := gen.Explanation{ID: x.Cause.ID, Title: x.Cause.Title, Probability: x.Probability, Place: x.Place, Exact: x.Exact, Met: x.Cause.Met.Level, Reason: x.Cause.Met.Why, Sentences: texts(x.Sentences), Left: texts(x.Left),
		Circumstances: list(x.Circumstances, func(c diagnose.Circumstance) gen.Circumstance {
			return gen.Circumstance{Title: c.Title, Factor: c.Factor, Why: c.Why}
		}),
		Nodes: list(x.Chain.Nodes, func(n diagnose.ChainNode) gen.ChainNode {
			return gen.ChainNode{ID: n.ID, Title: n.Title, Kind: n.Kind, State: n.State, Probability: n.Probability, Depth: n.Depth}
		}),
		Links: list(x.Chain.Links, func(l diagnose.ChainLink) gen.ChainLink {
			return gen.ChainLink{From: l.From, To: l.To, Strength: l.Strength, Why: l.Why}
		}),
		Weights: list(x.Weights, weighted)}
	if c := x.Contrast; c != nil {
		out.Contrast = &gen.Contrast{First: c.First, FirstID: c.FirstID, Second: c.Second, SecondID: c.SecondID, Readings: list(c.Readings, weighted), Check: c.Check, Title: c.Title, Says: c.Says, Minutes: c.Minutes, Climb: c.Climb, Access: c.Access, Drive: c.Drive}
	}
	return out
}

func (h *handlers) WhatIf(ctx context.Context, r gen.WhatIfRequestObject) (gen.WhatIfResponseObject, error) {
	x, err := h.App.Overview.WhatIf(ctx, r.ID, r.Params.Reading)
	if err != nil {
		return nil, err
	}
	return gen.WhatIf200JSONResponse{Reading: x.Reading, Title: x.Title, Sentence: x.Sentence, Rows: list(x.Rows, func(w overview.WhatIfRow) gen.WhatIfRow {
		return gen.WhatIfRow{ID: w.ID, Title: w.Title, Now: w.Now, Without: w.Without}
	})}, nil
}

func (h *handlers) PutCodes(ctx context.Context, r gen.PutCodesRequestObject) (gen.PutCodesResponseObject, error) {
	v, err := h.news(ctx)(h.App.Readings.PutCodes(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), by(ctx, r.Body.By), r.Body.Codes))
	return gen.PutCodes200JSONResponse{CaseNewsJSONResponse: v}, err
}

// shownEntries is how many entries of the knowledge base are sent at once; who needs more narrows the search.
const shownEntries = 200

func (h *handlers) FindKnowledge(ctx context.Context, r gen.FindKnowledgeRequestObject) (gen.FindKnowledgeResponseObject, error) {
	n, err := h.App.Library.Unit(ctx, r.ID, number(r.Params.Version))
	if err != nil {
		return nil, err
	}
	kind := text(r.Params.Kind)
	if kind != "" && !slices.Contains(knowledge.EntryKinds, kind) {
		return nil, &problem.FieldError{Field: "kind", Reason: fmt.Sprintf("%q", kind), Accepted: strings.Join(knowledge.EntryKinds, ", ")}
	}
	all := n.Find(h.App.Search.Written(text(r.Params.Q)), "")
	out := gen.KnowledgeList{Version: n.Version}
	for _, k := range knowledge.EntryKinds {
		count := 0
		for _, e := range all {
			if e.Kind == k {
				count++
			}
		}
		out.Counts = append(out.Counts, gen.KnowledgeCount{Kind: k, Count: count})
	}
	all = slices.DeleteFunc(all, func(e knowledge.EntryRef) bool { return kind != "" && e.Kind != kind })
	out.Total = len(all)
	out.Entries = list(all[:min(shownEntries, len(all))], refView)
	return gen.FindKnowledge200JSONResponse(out), nil
}

func refView(e knowledge.EntryRef) gen.KnowledgeRef {
	return gen.KnowledgeRef{Kind: e.Kind, ID: e.ID, Title: e.Title, Note: e.Note}
}

func (h *handlers) GetKnowledge(ctx context.Context, r gen.GetKnowledgeRequestObject) (gen.GetKnowledgeResponseObject, error) {
	n, err := h.App.Library.Unit(ctx, r.ID, number(r.Params.Version))
	if err != nil {
		return nil, err
	}
	e, ok := n.Entry(r.Kind, r.Entry)
	if !ok {
		return nil, &problem.NotFoundError{Kind: r.Kind, ID: r.Entry, Accepted: "a kind and an id found by searching the knowledge"}
	}
	return gen.GetKnowledge200JSONResponse{Kind: e.Kind, ID: e.ID, Title: e.Title, Note: e.Note, Facts: texts(e.Facts), Sections: list(e.Sections, func(s knowledge.Section) gen.KnowledgeSection {
		return gen.KnowledgeSection{Title: s.Title, Sentences: list(s.Sentences, func(x knowledge.Sentence) gen.Sentence {
			return gen.Sentence{To: refView(x.To), State: x.State, Strength: x.Strength, Why: x.Why}
		})}
	})}, nil
}
