package recording

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
)

// Layout is how a table is written.
type Layout struct {
	Separator rune
	Decimal   byte // '.' or ','
	Heads     int  // rows before the first one with values
	Columns   []Column
	Time      int // the column of times; -1 when rows follow each other at Step
	Kind      TimeKind
	Step      float64 // s from row to row, without a column of times
}

// Column is one column, by its name and the unit that stands with it.
type Column struct{ Name, Unit string }

// TimeKind is how times are written.
type TimeKind string

// The ways in which times are written.
const (
	Seconds TimeKind = "s"
	Millis  TimeKind = "ms"
	Minutes TimeKind = "min"
	Clock   TimeKind = "clock" // 13:04:05.250, a date before it or not
	ByRow   TimeKind = "row"   // none: the rows follow each other
)

// TimeKinds lists them.
var TimeKinds = []TimeKind{Seconds, Millis, Minutes, Clock, ByRow}

// Error is what is wrong with a table, and where.
type Error struct {
	Row      int   // counted from 1
	Byte     int64 // at which the row begins; -1 when the whole is meant
	Column   string
	Reason   string
	Accepted string
}

func (e *Error) Error() string {
	where := ""
	if e.Row > 0 {
		where = fmt.Sprintf("row %d, byte %d: ", e.Row, e.Byte)
	}
	if e.Column != "" {
		where += e.Column + ": "
	}
	return "recording: " + where + e.Reason + "; accepted: " + e.Accepted
}

const (
	mostColumns = 200
	mostHeads   = 60
	sniffed     = 64 << 10
	unitWords   = `(?i)^\[?(s|sec|ms|min|rpm|1/min|min-1|hz|km/h|kmh|mph|m/s|°c|°f|c|f|v|mv|a|ma|bar|kpa|psi|%|g|m/s²|m/s2|nm|n·m|lbf·ft|ohm|l/h|deg|°|hh:mm:ss(\.\w+)?)\]?$`
)

var (
	isUnit    = regexp.MustCompile(unitWords)
	inside    = regexp.MustCompile(`^(.*?)[\s_]*[(\[]([^)\]]{1,16})[)\]]\s*$`)
	isClock   = regexp.MustCompile(`^(\d{4}-\d\d-\d\d[T ]|\d{1,2}[./]\d{1,2}[./]\d{2,4} )?(\d{1,2}):(\d\d):(\d\d)([.,]\d+)?(Z|[+-]\d\d:?\d\d)?$`)
	namesTime = regexp.MustCompile(`(?i)^(time|timestamp|t|seconds|sec|elapsed|clock|offset)([^a-z].*)?$`)
)

// Sniff finds the layout of a table from how it begins.
func Sniff(begin []byte) (Layout, error) {
	begin = bytes.TrimPrefix(begin[:min(len(begin), sniffed)], []byte("\xef\xbb\xbf"))
	if bytes.IndexByte(begin, 0) >= 0 {
		return Layout{}, &Error{Byte: int64(bytes.IndexByte(begin, 0)), Reason: "this is no text", Accepted: "a table as text, or sound as WAV"}
	}
	best, most := Layout{}, 0
	for _, sep := range []rune{';', '\t', '|', ','} {
		for _, decimal := range []byte{'.', ','} {
			if sep == ',' && decimal == ',' {
				continue
			}
			l, score := try(begin, sep, decimal)
			if score > most {
				best, most = l, score
			}
		}
	}
	if most == 0 {
		return Layout{}, &Error{Byte: -1, Reason: "no rows of numbers were found", Accepted: "a table: a line with the names of its columns, then a line for each moment"}
	}
	return best, nil
}

// try reads the beginning in one way; the score is how many values it gives.
func try(begin []byte, sep rune, decimal byte) (Layout, int) {
	l := Layout{Separator: sep, Decimal: decimal, Time: -1}
	rows := rowsOf(begin, sep)
	first := -1
	for i, row := range rows[:min(len(rows), mostHeads)] {
		if len(row) >= 2 && values(row, decimal)*2 > filled(row) && (i+1 >= len(rows) || len(rows[i+1]) == len(row)) {
			first = i
			break
		}
	}
	if first < 0 || len(rows[first]) > mostColumns {
		return l, 0
	}
	width := len(rows[first])
	l.Heads = first
	l.Columns = names(rows[:first], width)
	score := 0
	for _, row := range rows[first:] {
		if len(row) == width {
			score += values(row, decimal)
		} else {
			score -= width
		}
	}
	l.times(rows[first:])
	return l, score
}

func rowsOf(text []byte, sep rune) [][]string {
	if cut := bytes.LastIndexByte(text, '\n'); cut > 0 {
		text = text[:cut+1] // the last line may be cut off
	}
	r := csv.NewReader(bytes.NewReader(text))
	r.Comma, r.FieldsPerRecord, r.LazyQuotes, r.TrimLeadingSpace = sep, -1, true, true
	var out [][]string
	for {
		row, err := r.Read()
		if err != nil {
			return out
		}
		out = append(out, row)
	}
}

func filled(row []string) int {
	n := 0
	for _, c := range row {
		if strings.TrimSpace(c) != "" {
			n++
		}
	}
	return n
}

// values counts the cells that are numbers or clock times.
func values(row []string, decimal byte) int {
	n := 0
	for _, c := range row {
		c = strings.TrimSpace(c)
		if _, ok := number(c, decimal); ok || isClock.MatchString(c) {
			n++
		}
	}
	return n
}

// number reads a cell. Grouping is not read: a logger writes none.
func number(c string, decimal byte) (float64, bool) {
	if c == "" {
		return 0, false
	}
	if v, ok := plain(c, decimal); ok {
		return v, true
	}
	if decimal == ',' {
		if strings.IndexByte(c, '.') >= 0 {
			return 0, false
		}
		c = strings.Replace(c, ",", ".", 1)
	}
	v, err := strconv.ParseFloat(c, 64)
	return v, err == nil && !math.IsInf(v, 0) && !math.IsNaN(v)
}

// names finds the columns' names and units: in the last rows before the values that have as many cells.
func names(heads [][]string, width int) []Column {
	out := make([]Column, width)
	var rows [][]string
	for _, row := range heads {
		if len(row) == width {
			rows = append(rows, row)
		}
	}
	if n := len(rows); n > 1 && units(rows[n-1]) {
		for i, c := range rows[n-1] {
			out[i].Unit = strings.Trim(strings.TrimSpace(c), "[]()")
		}
		rows = rows[:n-1]
	}
	for i := range out {
		if n := len(rows); n > 0 {
			out[i].Name = strings.TrimSpace(rows[n-1][i])
		}
		if m := inside.FindStringSubmatch(out[i].Name); m != nil && out[i].Unit == "" {
			out[i] = Column{m[1], strings.TrimSpace(m[2])}
		}
		if out[i].Name == "" {
			out[i].Name = fmt.Sprintf("column %d", i+1)
		}
	}
	return out
}

// units reports whether a row says units.
func units(row []string) bool {
	n := 0
	for _, c := range row {
		if isUnit.MatchString(strings.TrimSpace(c)) {
			n++
		}
	}
	return 2*n >= filled(row) && n > 0
}

// times finds the column of times: one that is named so, else the first that only rises.
func (l *Layout) times(rows [][]string) {
	l.Kind, l.Step = ByRow, 0.1
	at := slices.IndexFunc(l.Columns, func(c Column) bool { return namesTime.MatchString(c.Name) })
	if at < 0 {
		for i := range l.Columns {
			if rises(rows, i, l.Decimal) {
				at = i
				break
			}
		}
	}
	if at < 0 {
		return
	}
	l.Time, l.Kind = at, Seconds
	switch unit := strings.ToLower(l.Columns[at].Unit); {
	case len(rows) > 0 && at < len(rows[0]) && isClock.MatchString(strings.TrimSpace(rows[0][at])):
		l.Kind = Clock
	case unit == "ms" || strings.HasPrefix(unit, "milli"):
		l.Kind = Millis
	case unit == "min":
		l.Kind = Minutes
	}
}

// rises reports whether a column only goes up.
func rises(rows [][]string, at int, decimal byte) bool {
	last, n := math.Inf(-1), 0
	for _, row := range rows {
		if at >= len(row) {
			return false
		}
		c := strings.TrimSpace(row[at])
		v, ok := number(c, decimal)
		if !ok {
			if v, ok = clock(c); !ok {
				return false
			}
		}
		if v < last {
			return false
		}
		if v > last {
			n++
		}
		last = v
	}
	return n > 2 && 2*n > len(rows)
}

// clock reads a time of day, in seconds; a date before it does not count.
func clock(c string) (float64, bool) {
	m := isClock.FindStringSubmatch(c)
	if m == nil {
		return 0, false
	}
	part := func(s string) float64 { v, _ := strconv.ParseFloat(s, 64); return v }
	return part(m[2])*3600 + part(m[3])*60 + part(m[4]) + part("0"+strings.Replace(m[5], ",", ".", 1)), true
}

// Shape is what tables of one logger have in common: by it a layout that was set once is found again.
func (l Layout) Shape() string {
	var names []string
	for _, c := range l.Columns {
		names = append(names, c.Name+"/"+c.Unit)
	}
	return fmt.Sprintf("%c %c %s", l.Separator, l.Decimal, strings.Join(names, "|"))
}

// Check reports what of a layout cannot be.
func (l Layout) Check() error {
	bad := func(reason, accepted string) error { return &Error{Byte: -1, Reason: reason, Accepted: accepted} }
	switch {
	case l.Separator == 0 || l.Separator == '\n' || l.Separator == '"' || l.Separator == rune(l.Decimal):
		return bad(fmt.Sprintf("the separator %q", l.Separator), "a sign that is no quote and not the decimal sign")
	case l.Decimal != '.' && l.Decimal != ',':
		return bad(fmt.Sprintf("the decimal sign %q", l.Decimal), ". or ,")
	case len(l.Columns) < 1 || len(l.Columns) > mostColumns:
		return bad(fmt.Sprintf("%d columns", len(l.Columns)), fmt.Sprintf("1 to %d", mostColumns))
	case l.Time >= len(l.Columns) || l.Time < -1:
		return bad(fmt.Sprintf("times in column %d", l.Time+1), "one of the columns, or none")
	case !slices.Contains(TimeKinds, l.Kind) || (l.Kind == ByRow) != (l.Time < 0):
		return bad(fmt.Sprintf("times as %q", l.Kind), "s, ms, min or clock with a column, row without")
	case l.Kind == ByRow && !(l.Step > 0 && l.Step < 3600):
		return bad(fmt.Sprintf("a row every %v s", l.Step), "more than 0 s")
	}
	return nil
}
