package httpapi

import (
	"context"
	"slices"

	"innercompass/core/fasteners"
	"innercompass/core/money"
	"innercompass/core/pricebook"
	"innercompass/core/quantity"
	"innercompass/core/stack"
	"innercompass/core/workbench"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
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
	out := gen.Build{Currency: st.Currency, Parts: []gen.BuildPart{}, Whole: list(b.Checks[0], check), Plays: list(b.Grown(), func(g workbench.Grown) gen.BuildPlay { return playView(st, s, g) })}
	built := map[int]int{}
	for n, i := range b.Built {
		built[i] = n + 1
	}
	for i, p := range s.Parts {
		one := gen.BuildPart{ID: p.ID, Handled: i > 0 && (b.Gone[i] || built[i] > 0), Built: built[i], Work: b.Works[i].Ref, Checks: list(b.Checks[i], check), Choices: []gen.BuildChoice{}, Shelf: []gen.BuildSize{}}
		if price, from := v.Book.Part(v.Unit.Sheet.ID, p.ID, p.Kind); one.Handled && (from == pricebook.Shop || from == pricebook.Guide && st.Guide) {
			one.Price, one.From = minor(money.Of(price)), string(from)
		}
		if p.Fit != nil && one.Handled {
			shelf := b.OnShelf(i)
			for _, size := range p.Sizes {
				one.Shelf = append(one.Shelf, gen.BuildSize{Size: si(st, size, quantity.Length, st.Length), On: slices.Contains(shelf, size)})
			}
		}
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

func playView(st shop.Settings, s *stack.Stack, g workbench.Grown) gen.BuildPlay {
	return gen.BuildPlay{Limit: g.Limit, Name: g.Name, Part: s.Parts[g.Part].ID, Value: st.Style().FormatMeasured(g.Value, st.Length), Window: givenWindow(st, g.Window, st.Length), Verdict: string(g.Verdict.Verdict), Told: g.Told, Members: len(g.Members), Measured: len(g.Measured),
		At: 1000 * g.Value.SI, Unsure: 1000 * g.Value.U, Low: 1000 * g.Window.Low.SI, High: 1000 * g.Window.High.SI}
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
