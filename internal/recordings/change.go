package recordings

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/recording"
	"innercompass/core/trials"
	"innercompass/core/vibration"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
)

// Said is what may be changed about a recording; nil leaves it.
type Said struct {
	Title    *string
	Case     *string
	Unit     *string
	Vehicle  *string
	Driven   *Driven
	Channels []Channel // names, units, roles and where they are from, all of them
	Trial    *Trial    // what was changed since another drive; one without a recording takes it back
	Joined   *Joined   // another recording of the same drive; one without an id parts them
}

// Change says something else of a recording. What its channels are is remembered for tables of its shape.
func (s *Service) Change(ctx context.Context, id string, revision int, n Said) (Recording, error) {
	rec, err := s.at(ctx, id, revision)
	if err != nil {
		return rec, err
	}
	if n.Title != nil {
		rec.Title = strings.TrimSpace(*n.Title)
	}
	if n.Vehicle != nil {
		rec.Vehicle = strings.TrimSpace(*n.Vehicle)
	}
	if err := errors.Join(problem.CheckText("title", rec.Title, problem.MaxShort, true), problem.CheckText("vehicle", rec.Vehicle, problem.MaxShort, false)); err != nil {
		return rec, err
	}
	if n.Unit != nil {
		if *n.Unit != "" {
			if _, err := s.Library.Unit(ctx, *n.Unit, 0); err != nil {
				return rec, err
			}
		}
		rec.Unit = *n.Unit
	}
	if n.Case != nil {
		rec.Case = *n.Case
		if err := s.about(ctx, &rec); err != nil {
			return rec, err
		}
	}
	if n.Driven != nil {
		if err := s.driven(ctx, rec, *n.Driven); err != nil {
			return rec, err
		}
		rec.Driven = *n.Driven
	}
	if n.Joined != nil {
		if err := s.join(ctx, &rec, *n.Joined); err != nil {
			return rec, err
		}
	}
	if n.Trial != nil {
		if err := s.trial(ctx, &rec, *n.Trial); err != nil {
			return rec, err
		}
	}
	if n.Channels != nil {
		if err := rec.rename(n.Channels); err != nil {
			return rec, err
		}
		if rec.Layout != nil {
			if err := s.Store.PutMapping(ctx, rec.Shape, Mapping{*rec.Layout, rec.Channels}); err != nil {
				return rec, err
			}
		}
	}
	rec.Revision++
	if err := s.Store.PutRecording(ctx, rec); err != nil {
		return rec, err
	}
	s.Tell("recordings", 0)
	return rec, nil
}

func (s *Service) join(ctx context.Context, rec *Recording, j Joined) error {
	if j.ID == "" {
		rec.Joined = nil
		return nil
	}
	other, err := s.Store.Recording(ctx, j.ID)
	if err != nil {
		return err
	}
	if j.ID == rec.ID || !slices.ContainsFunc(other.Channels, func(c Channel) bool { return c.Role.Speed() || c.Role == recording.Pulses }) {
		return problem.Field("with", other.Title, "another recording with a speed")
	}
	if !(j.Offset > -rec.Seconds && j.Offset < other.Seconds) {
		return problem.Field("offset", fmt.Sprintf("%v s", j.Offset), "one with which the two overlap")
	}
	rec.Joined = &j
	return nil
}

// mostTrials is how long a row of trials may be.
const mostTrials = 30

func (s *Service) trial(ctx context.Context, rec *Recording, t Trial) error {
	if t.Since == "" {
		rec.Trial = nil
		return nil
	}
	for _, c := range t.Changed {
		if !slices.Contains(trials.Changes, c) {
			return problem.Field("trial.changed", fmt.Sprintf("%q", c), "pressure, adaptation, fluid, valve, part, software")
		}
	}
	if err := problem.CheckText("trial.note", t.Note, problem.MaxShort, false); err != nil {
		return err
	}
	at := t.Since
	for range mostTrials {
		if at == rec.ID {
			return problem.Field("trial.since", "this recording comes before it", "a drive from before the change")
		}
		before, err := s.Store.Recording(ctx, at)
		if err != nil {
			return err
		}
		if before.Trial == nil {
			t.Note = strings.TrimSpace(t.Note)
			rec.Trial = &t
			return nil
		}
		at = before.Trial.Since
	}
	return problem.Field("trial.since", "a row of more than thirty trials", "a new row")
}

func (s *Service) driven(ctx context.Context, rec Recording, d Driven) error {
	within := func(field string, v, most float64, unit string) error {
		if !(v >= 0 && v <= most) {
			return problem.Field(field, fmt.Sprint(v), fmt.Sprintf("0 to %v %s", most, unit))
		}
		return nil
	}
	if !slices.Contains(Loads, d.Load) {
		return problem.Field("driven.load", fmt.Sprintf("%q", d.Load), strings.Join(Loads[1:], ", "))
	}
	if err := errors.Join(within("driven.road", d.Road, 110, "m/s"), within("driven.engine", d.Engine, 250, "rev/s"), within("driven.slip", d.Slip, 0.95, "")); err != nil {
		return err
	}
	if d.Range == "" || rec.Unit == "" {
		return nil
	}
	n, err := s.Library.Unit(ctx, rec.Unit, 0)
	if err != nil {
		return err
	}
	if _, ok := n.Unit.Range(d.Range); !ok {
		var ids []string
		for _, r := range n.Unit.Ranges {
			ids = append(ids, r.ID)
		}
		return problem.Field("driven.range", fmt.Sprintf("%q", d.Range), strings.Join(ids, ", "))
	}
	return nil
}

func (rec *Recording) rename(channels []Channel) error {
	if len(channels) != len(rec.Channels) {
		return problem.Field("channels", fmt.Sprintf("%d channels", len(channels)), fmt.Sprintf("all %d", len(rec.Channels)))
	}
	rec.Channels = slices.Clone(rec.Channels)
	for i, c := range channels {
		field := fmt.Sprintf("channels.%d", i)
		if err := errors.Join(problem.CheckText(field+".name", c.Name, problem.MaxShort, true), problem.CheckText(field+".unit", c.Unit, 16, false), problem.CheckText(field+".from", c.From, problem.MaxShort, false)); err != nil {
			return err
		}
		if !slices.Contains(recording.Roles, c.Role) {
			return problem.Field(field+".role", fmt.Sprintf("%q", c.Role), "one of the roles")
		}
		if _, ok := c.Role.Factor(c.Unit); c.Role.Speed() && !ok {
			return problem.Field(field+".unit", fmt.Sprintf("%q", c.Unit), strings.Join(c.Role.SpeedUnits(), ", "))
		}
		if _, _, ok := c.Role.Scale(c.Unit); c.Role.Scaled() && !ok {
			return problem.Field(field+".unit", fmt.Sprintf("%q", c.Unit), strings.Join(c.Role.Units(), ", "))
		}
		if c.Role == recording.Pulses && !(c.Turns >= 0.1 && c.Turns <= 1000) {
			return problem.Field(field+".turns", fmt.Sprint(c.Turns), "pulses in each turn, 0.1 to 1000")
		}
		if err := problem.CheckText(field+".of", c.Of, 40, false); err != nil {
			return err
		}
		if c.Of != "" && c.Role != recording.Pressure && c.Of != string(recording.Engine) {
			return problem.Field(field+".of", fmt.Sprintf("%q", c.Of), "engine, or nothing for the output")
		}
		k := &rec.Channels[i]
		k.Name, k.Unit, k.Role, k.From, k.Turns, k.Of = strings.TrimSpace(c.Name), strings.TrimSpace(c.Unit), c.Role, strings.TrimSpace(c.From), c.Turns, c.Of
	}
	return nil
}

// Mark marks a moment; a note of an open case goes with it there too when it is asked for.
func (s *Service) Mark(ctx context.Context, id string, revision int, at float64, note, by string) (Recording, error) {
	rec, err := s.at(ctx, id, revision)
	if err != nil {
		return rec, err
	}
	if err := errors.Join(problem.CheckText("note", note, problem.MaxWords, true), problem.CheckText("by", by, problem.MaxShort, false)); err != nil {
		return rec, err
	}
	if !(at >= 0 && at <= rec.Seconds) {
		return rec, problem.Field("at", fmt.Sprintf("%v s", at), fmt.Sprintf("0 to %.3f s", rec.Seconds))
	}
	if len(rec.Marks) >= mostMarks {
		return rec, problem.Field("at", fmt.Sprintf("%d marks", len(rec.Marks)), "take one out first")
	}
	rec.Marks = append(slices.Clone(rec.Marks), Mark{ID: cases.NewID("m"), At: at, Note: strings.TrimSpace(note), By: by, Time: s.Now()})
	slices.SortStableFunc(rec.Marks, func(a, b Mark) int { return int(math.Copysign(1, a.At-b.At)) })
	return s.put(ctx, rec)
}

const mostMarks = 200

// Unmark takes a mark out.
func (s *Service) Unmark(ctx context.Context, id string, revision int, mark string) (Recording, error) {
	rec, err := s.at(ctx, id, revision)
	if err != nil {
		return rec, err
	}
	marks := slices.DeleteFunc(slices.Clone(rec.Marks), func(m Mark) bool { return m.ID == mark })
	if len(marks) == len(rec.Marks) {
		return rec, problem.NotFound("mark", mark, "a mark of this recording")
	}
	rec.Marks = marks
	return s.put(ctx, rec)
}

func (s *Service) put(ctx context.Context, rec Recording) (Recording, error) {
	rec.Revision++
	if err := s.Store.PutRecording(ctx, rec); err != nil {
		return rec, err
	}
	s.Tell("recordings", 0)
	return rec, nil
}

// Remove takes a recording away, and its files when no other has them.
func (s *Service) Remove(ctx context.Context, id string, revision int) error {
	rec, err := s.at(ctx, id, revision)
	if err != nil {
		return err
	}
	if err := s.Store.RemoveRecording(ctx, id); err != nil {
		return err
	}
	s.Tell("recordings", 0)
	all, err := s.Store.Recordings(ctx)
	if err != nil {
		return err
	}
	for _, name := range []string{rec.Digest, rec.Kept} {
		if !slices.ContainsFunc(all, func(r Recording) bool { return r.Digest == name || r.Kept == name }) {
			err = errors.Join(err, s.Store.RemoveFile(name))
		}
	}
	return err
}

// Vehicle is what is known of a vehicle; an empty sheet when nothing is.
func (s *Service) Vehicle(ctx context.Context, name string) (VehicleSheet, error) {
	if strings.TrimSpace(name) == "" {
		return VehicleSheet{}, nil
	}
	v, _, err := s.Store.VehicleSheet(ctx, cases.Fold(name))
	return v, err
}

// SaveVehicle keeps what is known of a vehicle. A tire given by its size gives the circumference.
func (s *Service) SaveVehicle(ctx context.Context, name string, v VehicleSheet) (VehicleSheet, error) {
	if err := errors.Join(problem.CheckText("name", name, problem.MaxShort, true), problem.CheckText("tire", v.Tire, 40, false), problem.CheckText("by", v.By, problem.MaxShort, false)); err != nil {
		return v, err
	}
	if v.Tire = strings.TrimSpace(v.Tire); v.Tire != "" {
		c, err := vibration.ReadTire(v.Tire)
		if err != nil {
			return v, problem.Field("tire", fmt.Sprintf("%q", v.Tire), "a size such as 205/55 R16")
		}
		v.Vehicle.Circumference = c
	}
	if err := v.Vehicle.Check(); err != nil {
		return v, problem.Field("vehicle", strings.TrimPrefix(err.Error(), "vibration: "), "")
	}
	now, known, err := s.Store.VehicleSheet(ctx, cases.Fold(name))
	if err != nil {
		return v, err
	}
	if known && now.Revision != v.Revision || !known && v.Revision != 0 {
		return v, problem.ErrChanged
	}
	v.Revision++
	v.At = s.Now()
	if err := s.Store.PutVehicleSheet(ctx, cases.Fold(name), v); err != nil {
		return v, err
	}
	s.Tell("recordings", 0)
	return v, nil
}

// Surrounds is what is known of a vehicle, by the inputs of the instrument that asks what turns at a pitch.
func (s *Service) Surrounds(ctx context.Context, name string) (map[string]string, error) {
	sheet, err := s.Vehicle(ctx, name)
	if err != nil || sheet.Revision == 0 {
		return nil, err
	}
	v, out := sheet.Vehicle, map[string]string{}
	set := func(id string, known bool, text string) {
		if known {
			out[id] = text
		}
	}
	set("tire", v.Circumference > 0, fmt.Sprintf("%.0f mm", 1000*v.Circumference))
	set("axle", v.Axle > 0, fmt.Sprintf("%.4g", v.Axle))
	set("pinion", v.Pinion > 0, fmt.Sprint(v.Pinion))
	set("cylinders", v.Cylinders > 0, fmt.Sprint(v.Cylinders))
	set("shaft", true, []string{"none", "one", "two"}[v.Pieces])
	if len(v.Belts) > 0 {
		out["belt"] = fmt.Sprintf("%.4g", v.Belts[0].Ratio)
	}
	return out, nil
}
