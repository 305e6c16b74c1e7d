package recordings

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strings"

	"innercompass/core/recording"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/traces"
)

// LargestFile is how large a file may be, in bytes.
const LargestFile = 4 << 30

// Bring is what is said of a recording that is brought in.
type Bring struct {
	File, Title, Case, By string
	Unit, Vehicle         string // without a case, which says both
	Made                  string // how it was made here
	Driven                Driven
	Roles                 []recording.Role // of its channels, when it was made here
	Froms                 []string
}

// Bring reads a recording once, from its first byte to its last, and keeps it: the file as it came, its samples, what it is. When anything is
// wrong with it, or whoever sends it stops, nothing is kept. A file that is there already is not kept twice.
func (s *Service) Bring(ctx context.Context, r io.Reader, b Bring) (Recording, error) {
	if err := errors.Join(problem.CheckText("file", b.File, problem.MaxShort, true), problem.CheckText("title", b.Title, problem.MaxShort, false), problem.CheckText("by", b.By, problem.MaxShort, false), problem.CheckText("vehicle", b.Vehicle, problem.MaxShort, false), problem.CheckText("made", b.Made, problem.MaxNote, false)); err != nil {
		return Recording{}, err
	}
	rec := Recording{ID: cases.NewID("s"), Title: strings.TrimSpace(b.Title), File: path.Base(strings.ReplaceAll(b.File, `\`, "/")), Case: b.Case, Unit: b.Unit, Vehicle: strings.TrimSpace(b.Vehicle), Made: b.Made, Driven: b.Driven, By: b.By, At: s.Now(), Revision: 1}
	if rec.Title == "" {
		rec.Title = strings.TrimSuffix(rec.File, path.Ext(rec.File))
	}
	if err := s.about(ctx, &rec); err != nil {
		return Recording{}, err
	}
	if err := s.driven(ctx, rec, rec.Driven); err != nil {
		return Recording{}, err
	}
	for _, r := range b.Roles {
		if !slices.Contains(recording.Roles, r) {
			return Recording{}, problem.Field("roles", fmt.Sprintf("%q", r), "one of the roles")
		}
	}
	file, err := s.Store.NewFile()
	if err != nil {
		return Recording{}, err
	}
	defer file.Drop() // once kept there is nothing to drop
	sum := sha256.New()
	counted := &counter{}
	stream := io.TeeReader(live{ctx, io.LimitReader(r, LargestFile+1)}, io.MultiWriter(sum, counted, file))
	var mapping *Mapping
	opened, err := recording.Open(stream, func(l recording.Layout) recording.Layout {
		rec.Shape = l.Shape()
		m, ok, err := s.Store.Mapping(ctx, rec.Shape)
		if err != nil || !ok || len(m.Layout.Columns) != len(l.Columns) {
			return l
		}
		mapping = &m
		m.Layout.Heads = l.Heads // a head may be longer each time
		return m.Layout
	})
	if err != nil {
		return Recording{}, asField(err)
	}
	rec.Kind, rec.Packed, rec.Layout = opened.Kind, opened.Packed, opened.Layout
	rec.channels(opened.Columns(), mapping, b)
	kept, err := s.keep(&rec, opened, stream)
	if err != nil {
		return Recording{}, asField(err)
	}
	defer kept.Drop()
	rec.Digest, rec.Size = hex.EncodeToString(sum.Sum(nil)), counted.n
	if rec.Size > LargestFile {
		return Recording{}, problem.Field("file", "more than 4 GiB", "a shorter recording")
	}
	rec.Kept = keptName(rec)
	if err := errors.Join(file.Keep(rec.Digest), kept.Keep(rec.Kept)); err != nil {
		return Recording{}, err
	}
	if err := s.Store.PutRecording(ctx, rec); err != nil {
		return Recording{}, err
	}
	s.Tell("recordings", 0)
	return rec, nil
}

// about takes over from a case what its recording is of.
func (s *Service) about(ctx context.Context, rec *Recording) error {
	if rec.Case == "" {
		return nil
	}
	c, err := s.Cases.Case(ctx, rec.Case)
	if err != nil {
		return err
	}
	rec.Vehicle, rec.Unit = c.Vehicle, c.UnitID
	return nil
}

// keptName is that of a recording's samples: they follow from the file and from how it is read.
func keptName(r Recording) string {
	layout, err := json.Marshal(r.Layout)
	if err != nil {
		layout = nil // a layout has no values that JSON has not
	}
	sum := sha256.Sum256(layout)
	return r.Digest + "-" + hex.EncodeToString(sum[:6])
}

// keep writes the samples of a stream, and reads what is left of it.
func (s *Service) keep(rec *Recording, opened recording.Opened, rest io.Reader) (Spool, error) {
	file, err := s.Store.NewFile()
	if err != nil {
		return nil, err
	}
	failed := func(err error) (Spool, error) { return nil, errors.Join(err, file.Drop()) }
	w := traces.NewWriter(file, len(rec.Channels), opened.Rate())
	const rows = 4096
	at, values := make([]float64, rows), make([][]float64, len(rec.Channels))
	for i := range values {
		values[i] = make([]float64, rows)
	}
	last := 0.0
	for {
		n, err := opened.Read(at, values)
		if err == io.EOF {
			break
		}
		if err != nil {
			return failed(err)
		}
		if err := w.Rows(n, at, values); err != nil {
			return failed(problem.Field("file", err.Error(), fmt.Sprintf("at most %d values", traces.Mostly)))
		}
		last = at[n-1]
	}
	if _, err := io.Copy(io.Discard, rest); err != nil {
		return failed(err)
	}
	if err := w.Close(); err != nil {
		return failed(err)
	}
	rec.Told = opened.Told()
	rec.Rows = rec.Told.Rows
	rec.Rate, rec.Seconds = opened.Rate(), last
	if rec.Rate > 0 {
		rec.Seconds = float64(rec.Rows) / rec.Rate
	} else if last > 0 {
		rec.Rate = float64(rec.Rows-1) / last
	}
	if rec.Rows == 0 {
		return failed(problem.Field("file", "no rows with values", "a recording of a drive"))
	}
	for i, k := range w.Kept {
		rec.Channels[i].Values = k.Values
		if k.Values > 0 {
			rec.Channels[i].Low, rec.Channels[i].High = k.Low, k.High
		}
	}
	return file, nil
}

// channels are named by who knows better: the mapping of a like table, or whoever made it; else by their heads.
func (rec *Recording) channels(columns []recording.Column, m *Mapping, b Bring) {
	rec.Channels = make([]Channel, len(columns))
	for i, c := range columns {
		ch := Channel{Name: c.Name, Unit: c.Unit, Role: recording.RoleOf(c)}
		if rec.Kind == recording.IsSound && ch.Role == recording.Other {
			ch.Role = recording.Hearing
		}
		if m != nil && i < len(m.Channels) {
			k := m.Channels[i]
			ch.Name, ch.Unit, ch.Role, ch.From, ch.Turns, ch.Of = k.Name, k.Unit, k.Role, k.From, k.Turns, k.Of
		}
		if i < len(b.Roles) {
			ch.Role = b.Roles[i]
		}
		if i < len(b.Froms) {
			ch.From = b.Froms[i]
		}
		rec.Channels[i] = ch
	}
}

// live ends reading when whoever asked is gone.
type live struct {
	ctx context.Context
	r   io.Reader
}

func (l live) Read(p []byte) (int, error) {
	if err := l.ctx.Err(); err != nil {
		return 0, err
	}
	return l.r.Read(p)
}

type counter struct{ n int64 }

func (c *counter) Write(p []byte) (int, error) {
	c.n += int64(len(p))
	return len(p), nil
}

// asField says what is wrong with a file as with any other value.
func asField(err error) error {
	var e *recording.Error
	if errors.As(err, &e) {
		where := ""
		if e.Row > 0 {
			where = fmt.Sprintf("row %d, byte %d: ", e.Row, e.Byte)
		} else if e.Byte > 0 {
			where = fmt.Sprintf("byte %d: ", e.Byte)
		}
		if e.Column != "" {
			where += e.Column + ": "
		}
		return problem.Field("file", where+e.Reason, e.Accepted)
	}
	return err
}

// Reread reads a table again in another layout, and remembers it for tables of its shape.
func (s *Service) Reread(ctx context.Context, id string, revision int, l recording.Layout) (Recording, error) {
	rec, err := s.at(ctx, id, revision)
	if err != nil {
		return rec, err
	}
	if rec.Kind != recording.IsTable {
		return rec, problem.Field("layout", "this is sound", "a table")
	}
	f, err := s.Store.OpenFile(rec.Digest)
	if err != nil {
		return rec, err
	}
	defer f.Close()
	opened, err := recording.Open(live{ctx, f}, func(found recording.Layout) recording.Layout {
		rec.Shape = found.Shape()
		return l
	})
	if err != nil {
		return rec, asField(err)
	}
	old := rec.Channels
	rec.Layout = opened.Layout
	rec.channels(opened.Columns(), nil, Bring{})
	for i := range rec.Channels { // what was said of a column that is still there stays
		if k := slices.IndexFunc(old, func(c Channel) bool { return c.Name == rec.Channels[i].Name }); k >= 0 {
			rec.Channels[i].Role, rec.Channels[i].From, rec.Channels[i].Turns, rec.Channels[i].Of = old[k].Role, old[k].From, old[k].Turns, old[k].Of
		}
	}
	kept, err := s.keep(&rec, opened, strings.NewReader(""))
	if err != nil {
		return rec, asField(err)
	}
	defer kept.Drop()
	rec.Kept = keptName(rec)
	if err := kept.Keep(rec.Kept); err != nil {
		return rec, err
	}
	rec.Revision++
	if err := errors.Join(s.Store.PutRecording(ctx, rec), s.Store.PutMapping(ctx, rec.Shape, Mapping{l, rec.Channels})); err != nil {
		return rec, err
	}
	s.Tell("recordings", 0)
	return rec, nil
}

// at is a recording at the revision that whoever changes it has seen.
func (s *Service) at(ctx context.Context, id string, revision int) (Recording, error) {
	rec, err := s.Store.Recording(ctx, id)
	if err != nil {
		return rec, err
	}
	if rec.Revision != revision {
		return rec, problem.ErrChanged
	}
	return rec, nil
}
