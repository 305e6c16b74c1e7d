// Package teardown notes what is done and found while a unit is apart: parts taken out, marks, traps read, findings, sizes. What they say to
// the diagnosis becomes readings in the same write.
package teardown

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/knowledge"
	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/shop"
)

// Service notes what is done at the bench.
type Service struct {
	Cases     *cases.Service
	Shop      *shop.Service
	Readings  *readings.Service
	Assessing *assessing.Service
	Now       func() time.Time
}

// MostNotes is how many notes a case may have: a unit of 200 parts taken apart and built ten times.
const MostNotes = 20000

// View is a unit on the bench as a case has it; Bench is nil when its sheet has no stack.
type View struct {
	Case     cases.Case
	Unit     *unitsheet.Unit
	Bench    *workbench.Bench
	Level    unitsheet.Access
	Settings shop.Settings
	Book     shop.Book
}

// View looks at the bench of a case.
func (s *Service) View(ctx context.Context, id string) (View, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return View{}, err
	}
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return View{}, err
	}
	book, err := s.Shop.Prices(ctx)
	level, _ := unitsheet.ParseAccess(c.Access)
	return View{c, n.Unit, workbench.New(n.Unit, c.BenchNotes()), level, st, book.Prices}, err
}

// OwnSheet is the text of the sheet of a case's unit with what was found different on it, as a new sheet: what a sheet cannot say stands above
// it as remarks.
func (s *Service) OwnSheet(ctx context.Context, id string) ([]byte, error) {
	v, err := s.View(ctx, id)
	if err != nil {
		return nil, err
	}
	if v.Bench == nil || len(v.Bench.Owns) == 0 {
		return nil, &problem.StateError{Reason: "nothing was noted as this unit's own", Accepted: "a difference noted at a part first"}
	}
	sheet, left := workbench.InSheet(v.Unit.Sheet, v.Bench.Owns)
	sheet.ID, sheet.Name, sheet.Version = "my-"+sheet.ID, sheet.Name+", own", 1
	text, err := s.Cases.Library.Sheets.Write(sheet, "yaml")
	if err != nil || len(left) == 0 {
		return text, err
	}
	var b strings.Builder
	b.WriteString("# Found on this unit, to be written in below:\n")
	for _, l := range left {
		b.WriteString("# " + strings.ReplaceAll(l, "\n", " ") + "\n")
	}
	return append([]byte(b.String()), text...), nil
}

// Gauged gives sizes that were read with a gauge of the shop what it leaves unsure, and its name; what carries its own ± stays as it is.
func (s *Service) Gauged(ctx context.Context, notes []workbench.Note, gauge string) ([]workbench.Note, error) {
	if gauge == "" || !slices.ContainsFunc(notes, func(n workbench.Note) bool { return n.Kind == workbench.Size }) {
		return notes, nil
	}
	terms, err := s.Shop.Terms(ctx, gauge)
	if err != nil {
		return nil, err
	}
	g := terms.Gauge
	out := slices.Clone(notes)
	for i, n := range out {
		if n.Kind != workbench.Size || g.Dimension != quantity.Length {
			continue
		}
		m, err := terms.Style.ParseMeasured(n.Value, g.Dimension, terms.Units(g.Dimension, "mm"))
		if err != nil || m.U > 0 {
			continue // what is wrong with it is said when it is noted
		}
		m.U = measure.Standard(g.Resolution, g.Own)
		out[i].Value = terms.Style.FormatMeasured(m, terms.Units(g.Dimension, "mm"))
		if out[i].Words == "" {
			out[i].Words = "with the " + g.Name
		}
	}
	return out, nil
}

// Write adds notes to a case, all or none, with the readings that they make. One that takes another back takes back its readings too.
func (s *Service) Write(ctx context.Context, id string, g cases.Guard, by string, in []workbench.Note) (cases.Saved, error) {
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, err
	}
	if err := problem.CheckText("by", by, problem.MaxShort, false); err != nil {
		return cases.Saved{}, err
	}
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return cases.Saved{}, err
	}
	for i := range in {
		at := fmt.Sprintf("notes[%d].", i)
		if err := errors.Join(problem.CheckText(at+"words", in[i].Words, problem.MaxNote, false), problem.CheckText(at+"value", in[i].Value, problem.MaxShort, false)); err != nil {
			return cases.Saved{}, err
		}
		switch in[i].Kind {
		case workbench.Size:
			in[i].Value = st.Style().Canonical(in[i].Value)
		case workbench.Shelf:
			sizes := strings.Split(in[i].Value, ";")
			for k := range sizes {
				sizes[k] = st.Style().Canonical(strings.TrimSpace(sizes[k]))
			}
			in[i].Value = strings.Join(sizes, "; ")
		}
	}
	return s.Cases.Change(ctx, id, g, "bench", []any{in, by}, func(h cases.Held) (cases.Changes, error) {
		if err := cases.MustBeOpen(h.Case); err != nil {
			return cases.Changes{}, err
		}
		if n.Unit.Stack == nil {
			return cases.Changes{}, &problem.StateError{Reason: "the sheet of this unit has no stack", Accepted: "a sheet with its parts, or findings noted in words"}
		}
		h.Case.Bench = slices.Clone(h.Case.Bench) // it grows here
		w := writer{Service: s, n: n, c: h.Case, bench: workbench.New(n.Unit, h.Case.BenchNotes()), by: by}
		for i, note := range in {
			if err := w.add(fmt.Sprintf("notes[%d].", i), note); err != nil {
				return cases.Changes{}, err
			}
		}
		return w.out, nil
	})
}

// writer adds notes to a case one after the other.
type writer struct {
	*Service
	n   *knowledge.Network
	c   cases.Case // as it stands with what was added
	by  string
	out cases.Changes

	bench *workbench.Bench // of the case as it stands
}

func (w *writer) add(at string, note workbench.Note) error {
	if len(w.c.Bench) >= MostNotes {
		return &problem.StateError{Reason: fmt.Sprintf("the case has %d notes of its bench", MostNotes), Accepted: "a new case"}
	}
	level, _ := unitsheet.ParseAccess(w.c.Access)
	note.ID = cases.NewID("b")
	if err := w.bench.Check(note, level); err != nil {
		var bad *workbench.Problem
		if errors.As(err, &bad) {
			return problem.Field(at+bad.Field, bad.Reason, bad.Accepted)
		}
		return err
	}
	made := cases.BenchNote{ID: note.ID, Key: note.ID, Kind: note.Kind, Part: note.Part, Ref: note.Ref, Value: note.Value, Words: note.Words, By: w.by, At: w.Now(), Withdraws: note.Withdraws}
	if note.Withdraws != "" {
		w.back(note.Withdraws)
	}
	if old, ok := w.bench.Before(note); ok {
		w.back(old.ID) // what was found at another look counts, not both
	}
	w.c.Bench = append(w.c.Bench, made)
	w.bench = w.bench.Add(note)
	said, err := w.read(at, note)
	if err != nil {
		return err
	}
	made.Readings = said
	w.c.Bench[len(w.c.Bench)-1] = made
	w.out.Bench = append(w.out.Bench, made)
	return nil
}

// back takes back the readings of a note that is taken back.
func (w *writer) back(id string) {
	i := slices.IndexFunc(w.c.Bench, func(n cases.BenchNote) bool { return n.ID == id })
	if i < 0 {
		return
	}
	for _, r := range w.c.Valid() {
		if slices.Contains(w.c.Bench[i].Readings, r.ID) {
			w.reading(cases.Reading{ID: cases.NewID("r"), By: w.by, At: w.Now(), Withdraws: r.ID})
		}
	}
}

func (w *writer) reading(r cases.Reading) {
	if r.Key == "" {
		r.Key = r.ID
	}
	w.c.Readings = append(slices.Clip(w.c.Readings), r)
	w.out.Readings = append(w.out.Readings, r)
}

// read makes the readings of a note, and returns their ids.
func (w *writer) read(at string, note workbench.Note) ([]string, error) {
	var ids []string
	state := func(in readings.NewReading) error {
		in.Stage, in.By, in.Key = "teardown", w.by, note.ID+"."+in.Finding
		r, err := w.Readings.New(w.c, w.n, at, in)
		if err != nil {
			return err
		}
		ids = append(ids, r.ID)
		w.reading(r)
		return nil
	}
	for _, s := range w.bench.Says(note, w.has) {
		if err := state(readings.NewReading{Finding: s.Finding, State: s.State, Source: "seen", Note: note.Words}); err != nil {
			return nil, err
		}
	}
	for _, m := range w.bench.Tells(note) {
		f, ok := w.n.Finding(m.Limit)
		if !ok || !w.has(m.Limit, "ok") {
			continue
		}
		likelihood := make([]float64, len(f.States))
		for i, st := range f.States {
			likelihood[i] = map[string]float64{"ok": m.Verdict.Inside, "below": m.Verdict.Below, "above": m.Verdict.Above}[st.ID]
		}
		in := readings.NewReading{Finding: m.Limit, State: m.State(), Source: "measured", Likelihood: likelihood, Value: m.Value.FormatMeasured("mm")}
		if m.Value.Dimension != quantity.Length {
			in.Value = note.Value
		}
		if err := state(in); err != nil {
			return nil, err
		}
	}
	return ids, nil
}

// has reports whether this unit's diagnosis knows a state of a finding.
func (w *writer) has(finding, state string) bool {
	f, ok := w.n.Finding(finding)
	return ok && slices.ContainsFunc(f.States, func(s knowledge.FindingState) bool { return s.ID == state })
}
