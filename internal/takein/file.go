package takein

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
	"innercompass/internal/cases"
	"innercompass/internal/measuring"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/shop"
)

// FileFormat is the first field of an open case file of this version.
const FileFormat = "inner-compass-case/1"

// File is a case as an open file. Its JSON Schema stands in docs/case-file.schema.json.
type File struct {
	Format       string                      `json:"format"`
	Unit         string                      `json:"unit"`
	Words        string                      `json:"words,omitempty"`
	Vehicle      string                      `json:"vehicle,omitempty"`
	Distance     string                      `json:"distance,omitempty"`
	Access       string                      `json:"access,omitempty"`
	Stage        string                      `json:"stage,omitempty"`
	Readings     []FileReading               `json:"readings"`
	Measurements []measuring.FileMeasurement `json:"measurements,omitempty"`
	Bench        []FileNote                  `json:"bench,omitempty"`
	Skipped      []string                    `json:"skipped,omitempty"`
}

// FileNote is one note of the bench of a file, in the order in which they were made; what was taken back is left out. What they said to
// the diagnosis stands among the readings.
type FileNote struct {
	Kind  string `json:"kind"`
	Part  string `json:"part"`
	Ref   string `json:"ref,omitempty"`
	Value string `json:"value,omitempty"`
	Words string `json:"words,omitempty"`
	By    string `json:"by,omitempty"`
}

// FileReading is one reading of a file. A cell of the road test may be written with its range
// apart: finding "road.hot.shift", range "D3".
type FileReading struct {
	Finding     string    `json:"finding"`
	State       string    `json:"state"`
	Range       string    `json:"range,omitempty"`
	Source      string    `json:"source,omitempty"`
	Value       string    `json:"value,omitempty"`
	Note        string    `json:"note,omitempty"`
	Likelihood  []float64 `json:"likelihood,omitempty"`
	Measurement string    `json:"measurement,omitempty"` // id of the measurement that stated it
}

// Bounds of a file: a long case has some sixty readings, and a unit taken apart and built again some five hundred notes.
const (
	maxReadings = 500
	maxNotes    = 4000
)

// ParseFile reads an open case file strictly. Errors name the line or the field.
func ParseFile(data []byte) (File, error) {
	var f File
	dec := json.NewDecoder(bytes.NewReader(data))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&f); err != nil {
		return f, jsonError(data, err, dec.InputOffset())
	}
	if _, err := dec.Token(); err != io.EOF {
		return f, problem.Field(fmt.Sprintf("line %d", lineAt(data, dec.InputOffset())), "something follows the case", "one JSON object")
	}
	if f.Format != FileFormat {
		return f, problem.Field("format", fmt.Sprintf("%q is not a case file of this version", f.Format), FileFormat)
	}
	if len(f.Readings) > maxReadings {
		return f, problem.Field("readings", fmt.Sprintf("%d readings", len(f.Readings)), fmt.Sprintf("at most %d", maxReadings))
	}
	if len(f.Measurements) > maxReadings {
		return f, problem.Field("measurements", fmt.Sprintf("%d measurements", len(f.Measurements)), fmt.Sprintf("at most %d", maxReadings))
	}
	if len(f.Bench) > maxNotes {
		return f, problem.Field("bench", fmt.Sprintf("%d notes", len(f.Bench)), fmt.Sprintf("at most %d", maxNotes))
	}
	if f.Access == "" {
		f.Access = unitsheet.AccessNames[0]
	}
	if _, err := unitsheet.ParseAccess(f.Access); err != nil {
		return f, problem.Field("access", fmt.Sprintf("%q", f.Access), strings.Join(unitsheet.AccessNames, ", "))
	}
	if f.Stage != "" && !slices.Contains(cases.Stages, f.Stage) {
		return f, problem.Field("stage", fmt.Sprintf("%q", f.Stage), strings.Join(cases.Stages, ", "))
	}
	for i := range f.Readings {
		r := &f.Readings[i]
		if r.Source == "" {
			r.Source = "seen"
		}
		if r.Range != "" {
			parts := strings.SplitN(r.Finding, ".", 3)
			if len(parts) != 3 || parts[0] != "road" {
				return f, problem.Field(fmt.Sprintf("readings[%d].range", i), "a range goes with a road test finding only", "finding road.hot.shift with range D3")
			}
			r.Finding, r.Range = parts[0]+"."+parts[1]+"."+r.Range+"."+parts[2], ""
		}
	}
	return f, nil
}

func jsonError(data []byte, err error, offset int64) error {
	var syntax *json.SyntaxError
	var kind *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax):
		return problem.Field(fmt.Sprintf("line %d", lineAt(data, syntax.Offset)), syntax.Error(), "JSON")
	case errors.As(err, &kind):
		return problem.Field(fmt.Sprintf("line %d, %s", lineAt(data, kind.Offset), kind.Field), "a "+kind.Value, kind.Type.String())
	case errors.Is(err, io.EOF), errors.Is(err, io.ErrUnexpectedEOF):
		return problem.Field(fmt.Sprintf("line %d", lineAt(data, int64(len(data)))), "the file ends too early", "JSON")
	}
	return problem.Field(fmt.Sprintf("line %d", lineAt(data, offset)), strings.TrimPrefix(err.Error(), "json: "), "see docs/case-file.schema.json")
}

func lineAt(data []byte, offset int64) int {
	return 1 + bytes.Count(data[:min(max(offset, 0), int64(len(data)))], []byte("\n"))
}

// Evidence returns the readings for the computation; ids are r1, r2, … in the order of the file.
func (f File) Evidence() []diagnose.Reading {
	out := make([]diagnose.Reading, len(f.Readings))
	for i, r := range f.Readings {
		out[i] = diagnose.Reading{ID: fmt.Sprintf("r%d", i+1), Finding: r.Finding, State: r.State, Source: r.Source, Likelihood: r.Likelihood}
	}
	return out
}

// Situation is what the suspects of a file depend on.
func (f File) Situation() diagnose.Situation {
	return diagnose.Situation{Readings: f.Evidence(), Distance: shop.Kilometres(f.Distance)}
}

// Export writes a case as an open file.
func (s *Service) Export(ctx context.Context, id string) (File, error) {
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		return File{}, err
	}
	f := File{Format: FileFormat, Unit: c.UnitID, Words: c.Words, Vehicle: c.Vehicle, Distance: c.Distance, Access: c.Access, Stage: c.Stage, Readings: []FileReading{}, Measurements: measuring.FileMeasurements(c), Skipped: c.Marked("skip")}
	for _, r := range c.Valid() {
		f.Readings = append(f.Readings, FileReading{Finding: r.Finding, State: r.State, Source: r.Source, Value: r.Value, Note: r.Note, Likelihood: r.Likelihood, Measurement: r.Measurement})
	}
	by := map[string]string{}
	for _, n := range c.Bench {
		by[n.ID] = n.By
	}
	for _, n := range workbench.Standing(c.BenchNotes()) {
		f.Bench = append(f.Bench, FileNote{n.Kind, n.Part, n.Ref, n.Value, n.Words, by[n.ID]})
	}
	return f, nil
}

// takeBench reads the notes of a file's bench into a case, each checked on what those before it left.
func (s *Service) takeBench(c *cases.Case, u *unitsheet.Unit, notes []FileNote) error {
	bench := workbench.New(u, nil)
	if bench == nil && len(notes) > 0 {
		return problem.Field("bench", "the sheet of this unit has no parts in order", "no bench, or a unit whose sheet has them")
	}
	for i, n := range notes {
		at := fmt.Sprintf("bench[%d].", i)
		if err := errors.Join(problem.CheckText(at+"words", n.Words, problem.MaxNote, false), problem.CheckText(at+"value", n.Value, problem.MaxShort, false), problem.CheckText(at+"by", n.By, problem.MaxShort, false)); err != nil {
			return err
		}
		id := cases.NewID("b")
		note := workbench.Note{ID: id, Kind: n.Kind, Part: n.Part, Ref: n.Ref, Value: n.Value, Words: n.Words}
		if err := bench.Check(note, unitsheet.ConverterOpen); err != nil {
			var bad *workbench.Problem
			if errors.As(err, &bad) {
				return problem.Field(at+bad.Field, bad.Reason, bad.Accepted)
			}
			return err
		}
		bench = bench.Add(note)
		c.Bench = append(c.Bench, cases.BenchNote{ID: id, Key: id, Kind: n.Kind, Part: n.Part, Ref: n.Ref, Value: n.Value, Words: n.Words, By: n.By, At: s.Now()})
	}
	return nil
}

// Import opens a new case from a file; all of it or nothing.
func (s *Service) Import(ctx context.Context, f File) (cases.Saved, error) {
	run, err := shop.ReadDistance("distance", quantity.Style{}, f.Distance, "km")
	if err != nil {
		return cases.Saved{}, err
	}
	c := cases.Case{ID: cases.NewID("c"), Words: f.Words, Vehicle: f.Vehicle, Distance: run, UnitID: f.Unit, Stage: f.Stage, Access: f.Access, Opened: s.Now(), Rev: 1}
	if c.Words == "" {
		c.Words = "Imported case"
	}
	if c.Vehicle == "" {
		c.Vehicle = "Vehicle not named"
	}
	if c.Stage == "" {
		c.Stage = "checks"
	}
	if err := s.checkCase(ctx, &c); err != nil {
		return cases.Saved{}, err
	}
	n, err := s.Cases.Network(ctx, c)
	if err != nil {
		return cases.Saved{}, err
	}
	measured, err := s.Measuring.TakeMeasurements(ctx, &c, n, f.Measurements)
	if err != nil {
		return cases.Saved{}, err
	}
	for i, r := range f.Readings {
		if r.Measurement != "" && measured[r.Measurement] == "" {
			return cases.Saved{}, problem.Field(fmt.Sprintf("readings[%d].measurement", i), fmt.Sprintf("no measurement %q", r.Measurement), "the id of one in measurements, or nothing")
		}
		stage := "checks"
		if fd, ok := n.Finding(r.Finding); ok {
			stage = fd.Stage
		}
		made, err := s.Readings.New(c, n, fmt.Sprintf("readings[%d].", i), readings.NewReading{Finding: r.Finding, State: r.State, Source: r.Source, Stage: stage, Value: r.Value, Note: r.Note, Likelihood: r.Likelihood})
		if err != nil {
			return cases.Saved{}, err
		}
		made.Measurement = measured[r.Measurement]
		c.Readings = append(c.Readings, made)
	}
	if err := s.takeBench(&c, n.Unit, f.Bench); err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Create(ctx, c, cases.Done{})
}
