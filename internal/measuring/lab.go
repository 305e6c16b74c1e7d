package measuring

import (
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"math"
	"slices"
	"strconv"
	"strings"

	"innercompass/core/fluid"
	"innercompass/core/quantity"
	"innercompass/internal/problem"
)

// LabView is a laboratory's table as it was read: what each column was taken for, and the samples or what is wrong.
type LabView struct {
	Heads, Fields []string
	Remembered    bool // the columns were taken as the last time with these heads
	Samples       []LabSample
	Trends        []LabTrend
	Errors        []fluid.CellError
}

// LabTrend is a value that several samples of one filling hold, as it would be typed into the instrument of the trend.
type LabTrend struct {
	Measure, Title string
	Values         map[string]string
}

// LabSample is one sample, with what it would be typed as into the report's instrument.
type LabSample struct {
	Name   string
	Values map[string]string
}

// ReadLab reads a laboratory's table. Without fields the columns are taken as they were the last time with the same heads,
// else as their heads seem to say; fields that were given and fit are remembered. All samples or none.
func (s *Service) ReadLab(ctx context.Context, text string, fields []string) (LabView, error) {
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return LabView{}, err
	}
	table, err := fluid.ReadTable(text)
	if err != nil {
		reason, accepted, _ := strings.Cut(strings.TrimPrefix(err.Error(), "fluid: "), "; want ")
		return LabView{}, problem.Field("text", reason, accepted)
	}
	digest := sha256.Sum256([]byte(strings.ToLower(strings.Join(table.Heads, "\x00"))))
	heads := hex.EncodeToString(digest[:])
	out := LabView{Heads: table.Heads, Fields: fields}
	if fields == nil {
		out.Fields = table.Guessed
		before, err := s.Store.LabLayout(ctx, heads)
		switch {
		case err == nil && len(before) == len(table.Heads):
			out.Fields, out.Remembered = before, true
		case err != nil && !errors.Is(err, problem.ErrNotFound):
			return out, err
		}
	}
	samples, wrong := table.Samples(out.Fields)
	out.Errors = wrong
	for _, x := range samples {
		out.Samples = append(out.Samples, LabSample{x.Name, labTyped(st.Style(), x)})
	}
	out.Trends = labTrends(samples)
	if fields != nil && len(wrong) == 0 {
		return out, s.Store.SaveLabLayout(ctx, heads, fields)
	}
	return out, nil
}

// labTrends are the values that make a line: held by two samples or more, in order of distance. Samples without a distance,
// or with the same one twice, are not of one filling that can be told, and make none.
func labTrends(samples []fluid.Sample) []LabTrend {
	samples = slices.Clone(samples)
	slices.SortStableFunc(samples, func(a, b fluid.Sample) int { return cmp.Compare(a.Distance, b.Distance) })
	for i, s := range samples {
		if s.Distance <= 0 || i > 0 && s.Distance == samples[i-1].Distance {
			return nil
		}
	}
	var out []LabTrend
	for _, m := range fluid.Measures {
		var distances, values []string
		for _, s := range samples {
			if v, ok := s.Values[m.ID]; ok {
				distances = append(distances, strconv.FormatFloat(s.Distance/1e3, 'g', 6, 64))
				values = append(values, strconv.FormatFloat(v, 'g', 6, 64))
			}
		}
		if len(values) > 1 {
			out = append(out, LabTrend{m.ID, m.Title, map[string]string{"measure": m.ID, "distances": strings.Join(distances, "; ") + " km", "values": strings.Join(values, "; ")}})
		}
	}
	return out
}

// labTyped writes a sample as it would be typed into the instrument of the report.
func labTyped(style quantity.Style, x fluid.Sample) map[string]string {
	write := func(v float64, unit string) string {
		text := strconv.FormatFloat(v, 'f', max(0, 5-int(math.Floor(math.Log10(math.Max(math.Abs(v), 1e-6))))), 64)
		if strings.Contains(text, ".") {
			text = strings.TrimRight(strings.TrimRight(text, "0"), ".")
		}
		return strings.TrimSpace(style.Write(text) + " " + unit)
	}
	out := map[string]string{}
	for id, v := range x.Values {
		out[id] = write(v, "")
	}
	if x.Viscosity > 0 {
		out["v100"] = write(x.Viscosity*1e6, "mm²/s")
	}
	if x.Distance > 0 {
		out["distance"] = write(x.Distance/1e3, "km")
	}
	if x.Glycol != "" {
		out["glycol"] = x.Glycol
	}
	return out
}

// LabFields are what a column may hold, in words.
func LabFields() [][2]string {
	var out [][2]string
	for _, f := range fluid.Fields {
		out = append(out, [2]string{f.ID, f.Title})
	}
	for _, m := range fluid.Measures {
		out = append(out, [2]string{m.ID, m.Title})
	}
	return out
}
