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
	csv    *csv.Reader
	row    int
	begun  bool
	first  float64
	last   float64
	day    float64 // seconds to add since a clock passed midnight
	clock  float64
	Values []float64 // of the row at hand, by column without that of times; NaN where the cell is empty
	Told   Told
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
	Step     float64
}

// NewTable reads a table in a layout. The text is read as it comes: memory does not grow with its length.
func NewTable(r io.Reader, l Layout) (*Table, error) {
	if err := l.Check(); err != nil {
		return nil, err
	}
	c := csv.NewReader(r)
	c.Comma, c.FieldsPerRecord, c.LazyQuotes, c.TrimLeadingSpace, c.ReuseRecord = l.Separator, -1, true, true, true
	n := len(l.Columns)
	if l.Time >= 0 {
		n--
	}
	return &Table{l: l, csv: c, Values: make([]float64, n)}, nil
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

// Next reads one more row: its time in seconds from the first one. It returns io.EOF after the last, and an *Error for a row that is none.
func (t *Table) Next() (float64, error) {
	for {
		from := t.csv.InputOffset()
		cells, err := t.csv.Read()
		if err == io.EOF {
			return 0, io.EOF
		}
		t.row++
		bad := func(column, reason, accepted string) error {
			return &Error{Row: t.row, Byte: from, Column: column, Reason: reason, Accepted: accepted}
		}
		var broken *csv.ParseError
		if errors.As(err, &broken) {
			return 0, bad("", broken.Err.Error(), "cells divided by the separator, quotes in pairs")
		}
		if err != nil {
			return 0, err
		}
		if t.row <= t.l.Heads {
			continue
		}
		if len(cells) == 1 && strings.TrimSpace(cells[0]) == "" {
			continue
		}
		if len(cells) != len(t.l.Columns) {
			return 0, bad("", fmt.Sprintf("%d cells", len(cells)), fmt.Sprintf("%d, as in the other rows", len(t.l.Columns)))
		}
		at, err := t.cells(cells, bad)
		if err != nil {
			return 0, err
		}
		if !t.follows(at) {
			continue
		}
		t.Told.Rows++
		return at - t.first, nil
	}
}

// cells reads the values of a row, and its time.
func (t *Table) cells(cells []string, bad func(column, reason, accepted string) error) (float64, error) {
	at, k := float64(t.row)*t.l.Step, 0
	for i, c := range cells {
		c = strings.TrimSpace(c)
		if i == t.l.Time {
			v, ok := t.time(c)
			if !ok {
				return 0, bad(t.l.Columns[i].Name, fmt.Sprintf("%q is no time", cut(c)), string(t.l.Kind))
			}
			at = v
			continue
		}
		v, ok := number(c, t.l.Decimal)
		if !ok {
			if c != "" && !strings.EqualFold(c, "nan") && c != "-" && !strings.EqualFold(c, "n/a") {
				return 0, bad(t.l.Columns[i].Name, fmt.Sprintf("%q is no number", cut(c)), "a number with "+string(t.l.Decimal)+" as its decimal sign, or nothing")
			}
			v = math.NaN()
			t.Told.Empty++
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
			t.Told.Repeated++
		} else {
			t.Told.Back++
		}
		if t.Told.FirstOff == 0 {
			t.Told.FirstOff = t.row
		}
		return false
	}
	t.Told.Longest = math.Max(t.Told.Longest, step)
	switch {
	case t.Told.Step == 0:
		t.Told.Step = step
	case step > 10*t.Told.Step:
		t.Told.Gaps++
	default:
		t.Told.Step += (step - t.Told.Step) / 64
	}
	t.last = at
	return true
}
