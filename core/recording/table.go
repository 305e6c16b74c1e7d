package recording

import (
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"strings"
)

// Table gives a table row by row.
type Table struct {
	l      Layout
	rows   *rows
	row    int
	begun  bool
	first  float64
	last   float64
	day    float64 // seconds to add since a clock passed midnight
	clock  float64
	Values []float64 // of the row at hand, by column without that of times; NaN where the cell is empty
	told   Told
}

// Told is what was noticed while reading.
type Told struct {
	Rows     int
	Repeated int // rows whose time repeats that of the row before
	Back     int // rows whose time goes back
	FirstOff int // the first of either
	Gaps     int // steps of more than ten times the usual
	Longest  float64
	Empty    int // cells
	Clipped  int // samples at full scale
	Step     float64
}

// NewTable reads a table in a layout. The text is read as it comes: memory does not grow with its length.
func NewTable(r io.Reader, l Layout) (*Table, error) {
	if err := l.Check(); err != nil {
		return nil, err
	}
	n := len(l.Columns)
	if l.Time >= 0 {
		n--
	}
	return &Table{l: l, rows: newRows(r, l.Separator), Values: make([]float64, n)}, nil
}

// Channels are the columns of the values, in their order.
func (l Layout) Channels() []Column {
	var out []Column
	for i, c := range l.Columns {
		if i != l.Time {
			out = append(out, c)
		}
	}
	return out
}

// Columns are the channels.
func (t *Table) Columns() []Column { return t.l.Channels() }

// Rate is 0: each row has its time.
func (t *Table) Rate() float64 { return 0 }

// Told is what was noticed so far.
func (t *Table) Told() Told { return t.told }

// Read fills times and values, channel by channel, and returns how many rows it read; io.EOF after the last.
func (t *Table) Read(at []float64, values [][]float64) (int, error) {
	for n := range at {
		s, err := t.Next()
		if err == io.EOF && n > 0 {
			return n, nil
		}
		if err != nil {
			return 0, err
		}
		at[n] = s
		for c, v := range t.Values {
			values[c][n] = v
		}
	}
	return len(at), nil
}

// Next reads one more row: its time in seconds from the first one. It returns io.EOF after the last, and an *Error for a row that is none.
func (t *Table) Next() (float64, error) {
	for {
		cells, from, err := t.rows.next()
		if err == io.EOF {
			return 0, io.EOF
		}
		t.row++
		if err != nil {
			var broken *csv.ParseError
			if errors.As(err, &broken) {
				return 0, t.bad(from, "", broken.Err.Error(), "cells divided by the separator, quotes in pairs")
			}
			return 0, err
		}
		if t.row <= t.l.Heads {
			continue
		}
		if len(cells) == 1 && strings.TrimSpace(cells[0]) == "" {
			continue
		}
		if len(cells) != len(t.l.Columns) {
			return 0, t.bad(from, "", fmt.Sprintf("%d cells", len(cells)), fmt.Sprintf("%d, as in the other rows", len(t.l.Columns)))
		}
		at, err := t.cells(cells, from)
		if err != nil {
			return 0, err
		}
		if !t.follows(at) {
			continue
		}
		t.told.Rows++
		return at - t.first, nil
	}
}

func (t *Table) bad(from int64, column, reason, accepted string) error {
	return &Error{Row: t.row, Byte: from, Column: column, Reason: reason, Accepted: accepted}
}

// cells reads the values of a row, and its time.
func (t *Table) cells(cells []string, from int64) (float64, error) {
	at, k := float64(t.row)*t.l.Step, 0
	for i, c := range cells {
		c = strings.TrimSpace(c)
		if i == t.l.Time {
			v, ok := t.time(c)
			if !ok {
				return 0, t.bad(from, t.l.Columns[i].Name, fmt.Sprintf("%q is no time", cut(c)), string(t.l.Kind))
			}
			at = v
			continue
		}
		v, ok := number(c, t.l.Decimal)
		if !ok {
			if c != "" && !strings.EqualFold(c, "nan") && c != "-" && !strings.EqualFold(c, "n/a") {
				return 0, t.bad(from, t.l.Columns[i].Name, fmt.Sprintf("%q is no number", cut(c)), "a number with "+string(t.l.Decimal)+" as its decimal sign, or nothing")
			}
			v = math.NaN()
			t.told.Empty++
		}
		t.Values[k] = v
		k++
	}
	return at, nil
}

func cut(c string) string {
	if len(c) > 24 {
		return c[:24] + "…"
	}
	return c
}

// time reads a time in seconds. A clock that passes midnight goes on.
func (t *Table) time(c string) (float64, bool) {
	if t.l.Kind == Clock {
		v, ok := clock(c)
		if ok && v < t.clock-43200 {
			t.day += 86400
		}
		t.clock = v
		return v + t.day, ok
	}
	v, ok := number(c, t.l.Decimal)
	switch t.l.Kind {
	case Millis:
		v /= 1000
	case Minutes:
		v *= 60
	}
	return v, ok
}

// follows reports whether a row's time comes after that of the one before, and notes what is odd.
func (t *Table) follows(at float64) bool {
	if !t.begun {
		t.begun, t.first, t.last = true, at, at
		return true
	}
	step := at - t.last
	if step <= 0 {
		if step == 0 {
			t.told.Repeated++
		} else {
			t.told.Back++
		}
		if t.told.FirstOff == 0 {
			t.told.FirstOff = t.row
		}
		return false
	}
	t.told.Longest = math.Max(t.told.Longest, step)
	switch {
	case t.told.Step == 0:
		t.told.Step = step
	case step > 10*t.told.Step:
		t.told.Gaps++
	default:
		t.told.Step += (step - t.told.Step) / 64
	}
	t.last = at
	return true
}
