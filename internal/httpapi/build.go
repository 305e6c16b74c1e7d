package httpapi

import (
	"context"

	"innercompass/core/fasteners"
	"innercompass/core/quantity"
	"innercompass/core/stack"
	"innercompass/core/workbench"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/problem"
	"innercompass/internal/teardown"
)

func (h *handlers) GetBuild(ctx context.Context, r gen.GetBuildRequestObject) (gen.GetBuildResponseObject, error) {
	v, err := h.App.Teardown.View(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	if v.Bench == nil {
		return nil, &problem.NotFoundError{Kind: "stack of unit", ID: v.Case.UnitID}
	}
	return gen.GetBuild200JSONResponse(buildView(v)), nil
}

func buildView(v teardown.View) gen.Build {
	b, s, st := v.Bench.Build(), v.Unit.Stack, v.Settings
	check := func(c workbench.Check) gen.BuildCheck {
		return gen.BuildCheck{ID: c.ID, Part: s.Parts[c.Part].ID, Title: c.Title, When: gen.BuildCheckWhen(c.When), State: gen.BuildCheckState(c.State), Says: c.Says}
	}
	out := gen.Build{Parts: []gen.BuildPart{}, Whole: list(b.Checks[0], check)}
	built := map[int]int{}
	for n, i := range b.Built {
		built[i] = n + 1
	}
	for i, p := range s.Parts {
		one := gen.BuildPart{ID: p.ID, Handled: i > 0 && (b.Gone[i] || built[i] > 0), Built: built[i], Work: b.Works[i].Ref, Checks: list(b.Checks[i], check), Choices: []gen.BuildChoice{}}
		if b.Gone[i] {
			if err := b.Keeps(i); err != nil {
				one.Keeps = err.(*workbench.Problem).Reason
			}
		}
		if choices, ok := b.Choices(i); ok {
			one.Choices = list(choices, func(c workbench.Choice) gen.BuildChoice {
				return gen.BuildChoice{Size: si(st, c.Size, quantity.Length, st.Length), Gives: st.Style().FormatMeasured(c.Gives, st.Length), Verdict: string(c.Verdict)}
			})
		}
		if one.Handled {
			out.Of++
		}
		if built[i] > 0 {
			out.Back++
		}
		out.Parts = append(out.Parts, one)
	}
	if next := b.NextIn(); next >= 0 {
		out.Next = s.Parts[next].ID
	}
	parts, checks := b.Open()
	out.OpenParts, out.Open = len(parts), list(checks, check)
	out.Finished = out.Of > 0 && len(parts) == 0 && len(checks) == 0
	return out
}

// boltPlaces are the places of bolts with the turn of each.
func boltPlaces(b stack.Bolts) []gen.BoltPlace {
	places, err := fasteners.Lay(b.Count, b.Lie)
	if err != nil {
		return []gen.BoltPlace{}
	}
	out := make([]gen.BoltPlace, len(places))
	for turn, i := range fasteners.Order(places, b.Pattern) {
		out[i] = gen.BoltPlace{X: places[i].X, Y: places[i].Y, Turn: turn + 1}
	}
	return out
}
