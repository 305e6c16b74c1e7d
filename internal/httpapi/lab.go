package httpapi

import (
	"context"

	"innercompass/core/fluid"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/measuring"
)

func (h *handlers) ReadLab(ctx context.Context, r gen.ReadLabRequestObject) (gen.ReadLabResponseObject, error) {
	var fields []string
	if r.Body.Fields != nil {
		fields = append([]string{}, *r.Body.Fields...)
	}
	v, err := h.App.Measuring.ReadLab(ctx, r.Body.Text, fields)
	if err != nil {
		return nil, err
	}
	return gen.ReadLab200JSONResponse{Heads: texts(v.Heads), Fields: texts(v.Fields), Remembered: v.Remembered,
		Choices: list(measuring.LabFields(), func(f [2]string) gen.Named { return gen.Named{ID: f[0], Title: f[1]} }),
		Samples: list(v.Samples, func(x measuring.LabSample) gen.LabSample { return gen.LabSample{Name: x.Name, Values: x.Values} }),
		Trends: list(v.Trends, func(x measuring.LabTrend) gen.LabTrend {
			return gen.LabTrend{Measure: x.Measure, Title: x.Title, Values: x.Values}
		}),
		Errors: list(v.Errors, func(e fluid.CellError) gen.LabError {
			return gen.LabError{Row: e.Row, Column: e.Column, Reason: e.Reason, Accepted: e.Accepted}
		})}, nil
}
