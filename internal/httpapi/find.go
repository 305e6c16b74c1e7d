package httpapi

import (
	"context"

	"innercompass/internal/httpapi/gen"
	"innercompass/internal/search"
)

// How many of a kind are sent: a glance while all kinds are asked for, everything when it is one.
const (
	foundOfEach = 6
	foundOfOne  = 200
)

func (h *handlers) Find(ctx context.Context, r gen.FindRequestObject) (gen.FindResponseObject, error) {
	q := search.Query{Text: r.Params.Q, Case: text(r.Params.Case), Kind: text(r.Params.Kind), Each: foundOfEach}
	if q.Kind != "" {
		q.Each = foundOfOne
	}
	hits, err := h.App.Search.Find(ctx, q)
	return gen.Find200JSONResponse(list(hits, func(x search.Hit) gen.Hit {
		return gen.Hit{Kind: gen.HitKind(x.Kind), ID: x.ID, Unit: x.Unit, Case: x.Case, Title: x.Title, Detail: x.Detail}
	})), err
}
