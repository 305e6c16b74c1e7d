package live

import (
	"bytes"
	"context"
	"slices"
	"strings"
	"time"

	"innercompass/core/roadlog"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
)

// recorded is a recording that runs.
type recorded struct {
	channels []int
	from     float64
	rows     []Row
	marks    []mark
	full     bool
}

type mark struct {
	at   float64
	note string
}

// Record begins to record what is watched.
func (s *Service) Record() (State, error) {
	x, err := s.current()
	if err != nil {
		return State{}, err
	}
	x.mu.Lock()
	if x.recording != nil || !x.connected {
		x.mu.Unlock()
		return State{}, problem.Field("recording", "one runs, or the vehicle does not answer", "one at a time, of a vehicle that answers")
	}
	x.recording = &recorded{channels: slices.Clone(x.watched), from: time.Since(x.begun).Seconds()}
	x.mu.Unlock()
	return x.state(), nil
}

// Mark marks the moment in the recording.
func (s *Service) Mark(note string) (State, error) {
	x, err := s.current()
	if err != nil {
		return State{}, err
	}
	if err := problem.CheckText("note", note, problem.MaxShort, true); err != nil {
		return State{}, err
	}
	x.mu.Lock()
	if x.recording == nil {
		x.mu.Unlock()
		return State{}, problem.Field("note", "nothing is recorded", "a mark while a recording runs")
	}
	x.recording.marks = append(x.recording.marks, mark{time.Since(x.begun).Seconds(), strings.TrimSpace(note)})
	x.mu.Unlock()
	return x.state(), nil
}

// Kept is what is said of a recording that is kept.
type Kept struct{ Title, Case, Vehicle, By string }

// Keep stops the recording and keeps it as one; Drop stops it and keeps nothing.
func (s *Service) Keep(ctx context.Context, k Kept) (recordings.Recording, error) {
	x, err := s.current()
	if err != nil {
		return recordings.Recording{}, err
	}
	x.mu.Lock()
	r := x.recording
	x.mu.Unlock()
	if r == nil || len(r.rows) < 2 {
		return recordings.Recording{}, problem.Field("recording", "nothing is recorded", "a recording of some seconds")
	}
	if err := problem.CheckText("title", k.Title, problem.MaxShort, true); err != nil {
		return recordings.Recording{}, err
	}
	var file bytes.Buffer
	if err := r.log(x.all).Write(&file); err != nil {
		return recordings.Recording{}, err
	}
	rec, err := s.Recordings.Bring(ctx, &file, recordings.Bring{File: "live.csv", Title: k.Title, Case: k.Case, Vehicle: k.Vehicle, Unit: x.unit.Sheet.ID, By: k.By})
	if err != nil {
		return rec, err
	}
	channels := slices.Clone(rec.Channels)
	for i, c := range r.channels {
		if i < len(channels) {
			channels[i].Role, channels[i].Of, channels[i].From = x.all[c].Role, x.all[c].Of, x.all[c].Source
		}
	}
	if rec, err = s.Recordings.Change(ctx, rec.ID, rec.Revision, recordings.Said{Channels: channels}); err != nil {
		return rec, err
	}
	for _, m := range r.marks {
		if at := m.at - r.rows[0].At; at >= 0 && at <= rec.Seconds {
			if rec, err = s.Recordings.Mark(ctx, rec.ID, rec.Revision, at, m.note, k.By); err != nil {
				return rec, err
			}
		}
	}
	x.mu.Lock()
	x.recording = nil
	x.mu.Unlock()
	return rec, nil
}

// Drop stops the recording and keeps nothing of it.
func (s *Service) Drop() (State, error) {
	x, err := s.current()
	if err != nil {
		return State{}, err
	}
	x.mu.Lock()
	x.recording = nil
	x.mu.Unlock()
	return x.state(), nil
}

// log is what was recorded, as a table.
func (r *recorded) log(all []Channel) roadlog.Log {
	out := roadlog.Log{}
	for _, c := range r.channels {
		out.Columns = append(out.Columns, roadlog.Column{Name: all[c].Name, Unit: all[c].Unit, Decimals: max(all[c].Decimals, 1)})
	}
	for _, row := range r.rows {
		out.Time = append(out.Time, row.At-r.rows[0].At)
		for k, v := range row.Value {
			out.Columns[k].Value = append(out.Columns[k].Value, v)
		}
	}
	return out
}
