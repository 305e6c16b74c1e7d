package httpapi

import (
	"context"
	"errors"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"

	"github.com/gin-gonic/gin"

	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/core/quantity"
	"innercompass/core/roadtest"
	"innercompass/core/unitsheet"
	"innercompass/internal/app"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/library"
	"innercompass/internal/problem"
)

func number(p *int) int {
	if p == nil {
		return 0
	}
	return *p
}

func unitItem(u library.UnitItem) gen.UnitItem {
	return gen.UnitItem{ID: u.ID, Name: u.Name, Summary: u.Summary, Version: u.Version, Own: u.Own, Generic: u.Generic, Versions: append([]int{}, u.Versions...), Zones: append([][]float64{}, u.Zones...), Facts: texts(u.Facts)}
}

// asField turns a problem of a value into the error that the API answers with.
func asField(err error) error {
	var p *unitsheet.Problem
	if errors.As(err, &p) {
		return &problem.FieldError{Field: p.Path, Reason: p.Reason, Accepted: p.Accepted}
	}
	return err
}

func (h *handlers) ListUnits(ctx context.Context, _ gen.ListUnitsRequestObject) (gen.ListUnitsResponseObject, error) {
	items, err := h.App.Library.UnitList(ctx)
	return gen.ListUnits200JSONResponse(list(items, unitItem)), err
}

func (h *handlers) GetUnit(ctx context.Context, r gen.GetUnitRequestObject) (gen.GetUnitResponseObject, error) {
	n, err := h.App.Library.Unit(ctx, r.ID, number(r.Params.Version))
	if err != nil {
		return nil, err
	}
	items, err := h.App.Library.UnitList(ctx)
	if err != nil {
		return nil, err
	}
	i := slices.IndexFunc(items, func(x library.UnitItem) bool { return x.ID == r.ID })
	s, err := h.App.Store.Settings(ctx)
	return gen.GetUnit200JSONResponse(unitView(n, items[i], s)), err
}

func (h *handlers) GetPower(ctx context.Context, r gen.GetPowerRequestObject) (gen.GetPowerResponseObject, error) {
	n, err := h.App.Library.Unit(ctx, r.ID, number(r.Params.Version))
	if err != nil {
		return nil, err
	}
	s, err := h.App.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	speed, err := s.ParseQuantity("speed", r.Params.Speed, quantity.RotationalSpeed, "rpm")
	if err != nil {
		return nil, err
	}
	in := unitsheet.Running{Range: r.Params.Range, Speed: speed.SI, Throttle: r.Params.Load / 100}
	if r.Params.Slip != nil {
		in.Slip = *r.Params.Slip / 100
	}
	p, err := n.Unit.Power(in)
	if err != nil {
		return nil, asField(err)
	}
	return gen.GetPower200JSONResponse(powerView(n.Unit, p, in, s)), nil
}

func (h *handlers) CompareFaults(ctx context.Context, r gen.CompareFaultsRequestObject) (gen.CompareFaultsResponseObject, error) {
	n, err := h.App.Library.Unit(ctx, r.ID, number(r.Params.Version))
	if err != nil {
		return nil, err
	}
	a, err := findFault(n, "a", r.Params.A)
	if err != nil {
		return nil, err
	}
	b, err := findFault(n, "b", r.Params.B)
	if err != nil {
		return nil, err
	}
	return gen.CompareFaults200JSONResponse(compareView(n.Unit, a, b)), nil
}

func findFault(n *knowledge.Network, field, id string) (faultmap.Row, error) {
	for _, f := range n.Faults {
		if faultID(f.Fault) == id {
			return f, nil
		}
	}
	return faultmap.Row{}, &problem.FieldError{Field: field, Reason: fmt.Sprintf("no failure %q", id), Accepted: "kind:part as listed with the unit, such as never-applies:" + n.Unit.Elements[0].ID}
}

func (h *handlers) FindGear(ctx context.Context, r gen.FindGearRequestObject) (gen.FindGearResponseObject, error) {
	n, err := h.App.Library.Unit(ctx, r.ID, number(r.Params.Version))
	if err != nil {
		return nil, err
	}
	const rpm = 60 / (2 * math.Pi)
	st, err := h.App.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	in, err := st.ParseQuantity("in", r.Params.In, quantity.RotationalSpeed, "rpm")
	if err != nil {
		return nil, err
	}
	out, err := st.ParseQuantity("out", r.Params.Out, quantity.RotationalSpeed, "rpm")
	if err != nil {
		return nil, err
	}
	seen := unitsheet.Seen{In: in.SI * rpm, Out: out.SI * rpm}
	if r.Params.Window != nil {
		seen.Window = *r.Params.Window
	}
	found, err := n.Unit.FindGear(seen)
	if err != nil {
		return nil, asField(err)
	}
	return gen.FindGear200JSONResponse(gearView(n.Unit, found)), nil
}

func (h *handlers) CheckSheet(ctx context.Context, r gen.CheckSheetRequestObject) (gen.CheckSheetResponseObject, error) {
	c, err := h.App.Library.CheckSheet(ctx, []byte(r.Body.Text))
	if err != nil {
		return nil, err
	}
	out := gen.SheetCheck{Good: c.Network != nil, Problems: problems(c.Problems), Doubts: problems(c.Doubts), Taken: c.Taken, Shipped: c.Shipped, Ranges: []gen.SolvedRange{}}
	if c.Network != nil {
		u := c.Network.Unit
		out.ID, out.Name, out.Version = u.Sheet.ID, u.Sheet.Name, u.Sheet.Version
		out.Ranges = list(u.Ranges, func(r unitsheet.Range) gen.SolvedRange {
			return gen.SolvedRange{ID: r.ID, Name: r.Name, Outcome: string(r.Healthy.Outcome), Ratio: u.RatioOf(r), Coast: string(r.Healthy.Coast), Holding: texts(r.Healthy.Holding)}
		})
		out.Faults, out.Groups = len(c.Network.Faults), len(roadtest.Groups(c.Network.Faults))
	}
	return gen.CheckSheet200JSONResponse(out), nil
}

func (h *handlers) SaveSheet(ctx context.Context, r gen.SaveSheetRequestObject) (gen.SaveSheetResponseObject, error) {
	n, err := h.App.Library.SaveSheet(ctx, []byte(r.Body.Text), by(ctx, r.Body.By))
	if err != nil {
		return nil, err
	}
	s := n.Unit.Sheet
	return gen.SaveSheet201JSONResponse{ID: s.ID, Name: s.Name, Summary: s.Summary, Version: s.Version, Own: true, Versions: []int{s.Version}}, nil
}

// sheets hands out sheets as files. They are not in the strict contract because their form is that of
// docs/unit-sheet.schema.json.
type sheets struct{ cases *app.App }

func (s *sheets) get(c *gin.Context) {
	format := c.DefaultQuery("format", "yaml")
	if format != "yaml" && format != "json" {
		fail(c, &problem.FieldError{Field: "format", Reason: fmt.Sprintf("%q", format), Accepted: "yaml, json"})
		return
	}
	version := 0
	if v := c.Query("version"); v != "" {
		if _, err := fmt.Sscanf(v, "%d", &version); err != nil || version < 1 {
			fail(c, &problem.FieldError{Field: "version", Reason: fmt.Sprintf("%q", v), Accepted: "a whole number from 1"})
			return
		}
	}
	text, err := s.cases.Library.SheetText(c.Request.Context(), c.Param("id"), version, format)
	if err != nil {
		fail(c, err)
		return
	}
	c.Header("Content-Disposition", `attachment; filename="`+strings.ReplaceAll(c.Param("id"), `"`, "")+"."+format+`"`)
	c.Data(http.StatusOK, map[string]string{"yaml": "application/yaml; charset=utf-8", "json": "application/json"}[format], text)
}

// blank hands out the sheet that a new one starts from.
func (s *sheets) blank(text []byte) gin.HandlerFunc {
	return func(c *gin.Context) {
		c.Header("Content-Type", "application/yaml; charset=utf-8")
		_, _ = c.Writer.Write(text)
	}
}
