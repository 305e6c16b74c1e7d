package recording

import (
	"bytes"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"math"
	"strings"
	"testing"
)

// read takes a table in the layout that is found for it: times and values, row by row.
func read(t *testing.T, text string) (Layout, [][]float64, Told) {
	t.Helper()
	l, err := Sniff([]byte(text))
	if err != nil {
		t.Fatal(err)
	}
	rows, told, err := all(text, l)
	if err != nil {
		t.Fatal(err)
	}
	return l, rows, told
}

func all(text string, l Layout) ([][]float64, Told, error) {
	x, err := NewTable(strings.NewReader(text), l)
	if err != nil {
		return nil, Told{}, err
	}
	var out [][]float64
	for {
		at, err := x.Next()
		if err == io.EOF {
			return out, x.Told(), nil
		}
		if err != nil {
			return nil, x.Told(), err
		}
		out = append(out, append([]float64{at}, x.Values...))
	}
}

// The same drive as loggers write it: comma or decimal comma, tabs, bars, heads of any length, units in the name or in a row of their own,
// seconds, milliseconds, a clock. Each is read to the same numbers.
func TestTheSameTableInManyLayouts(t *testing.T) {
	want := "[[0 800 12.5] [0.5 1250 14] [1 1900.5 NaN] [1.5 2000 17.25]]"
	for name, text := range map[string]string{
		"plain":           "Time (s),Engine (rpm),Road (km/h)\n10,800,12.5\n10.5,1250,14\n11,1900.5,\n11.5,2000,17.25\n",
		"decimal comma":   "Time [s];Engine [rpm];Road [km/h]\n10,0;800;12,5\n10,5;1250;14,0\n11,0;1900,5;\n11,5;2000;17,25\n",
		"tabs":            "time\tEngine\tRoad\ns\trpm\tkm/h\n0\t800\t12.5\n0.5\t1250\t14\n1\t1900.5\t\n1.5\t2000\t17.25\n",
		"bars":            "Time|Engine|Road\n0|800|12.5\n0.5|1250|14\n1|1900.5|-\n1.5|2000|17.25\n",
		"a long head":     "Logger, version 3\nVehicle: estate\n\nTime,Engine,Road\ns,rpm,km/h\n0,800,12.5\n0.5,1250,14\n1,1900.5,NaN\n1.5,2000,17.25\n",
		"milliseconds":    "t (ms),Engine,Road\n500,800,12.5\n1000,1250,14\n1500,1900.5,\n2000,2000,17.25\n",
		"a clock":         "Clock,Engine,Road\n08:00:00.000,800,12.5\n08:00:00.500,1250,14\n08:00:01.000,1900.5,\n08:00:01.500,2000,17.25\n",
		"past midnight":   "Clock;Engine;Road\n23:59:59,5;800;12,5\n00:00:00,0;1250;14\n00:00:00,5;1900,5;\n00:00:01,0;2000;17,25\n",
		"dates":           "Timestamp,Engine,Road\n2026-03-01T08:00:00.0,800,12.5\n2026-03-01T08:00:00.5,1250,14\n2026-03-01T08:00:01.0,1900.5,\n2026-03-01T08:00:01.5,2000,17.25\n",
		"quotes and BOM":  "\xef\xbb\xbf\"Time\",\"Engine, crank\",\"Road\"\r\n\"0\",\"800\",\"12.5\"\r\n\"0.5\",\"1250\",\"14\"\r\n\"1\",\"1900.5\",\"\"\r\n\"1.5\",\"2000\",\"17.25\"\r\n",
		"no names at all": "0,800,12.5\n0.5,1250,14\n1,1900.5,\n1.5,2000,17.25\n",
		"repeated, back":  "Time,Engine,Road\n0,800,12.5\n0.5,1250,14\n0.5,9,9\n0.2,9,9\n1,1900.5,\n1.5,2000,17.25\n",
	} {
		t.Run(name, func(t *testing.T) {
			l, rows, told := read(t, text)
			if got := fmt.Sprint(rows); got != want {
				t.Errorf("%s\n%+v", got, l)
			}
			if told.Rows != 4 || told.Empty != 1 {
				t.Errorf("%+v", told)
			}
			if name == "repeated, back" && (told.Repeated != 1 || told.Back != 1 || told.FirstOff != 4) {
				t.Errorf("%+v", told)
			}
		})
	}
}

func TestNamesAndUnits(t *testing.T) {
	l, _, _ := read(t, "Time (s),Engine speed [rpm],Oil_temp (°C),Lamp\n0,800,60,0\n1,900,61,0\n2,950,61,1\n")
	got := fmt.Sprint(l.Channels())
	if want := "[{Engine speed rpm} {Oil_temp °C} {Lamp }]"; got != want || l.Time != 0 || l.Kind != Seconds {
		t.Errorf("%s %+v", got, l)
	}
	other, _, _ := read(t, "Time (s),Engine speed [rpm],Oil_temp (°C),Lamp\n5,1,2,3\n6,1,2,3\n7,2,3,4\n")
	if l.Shape() != other.Shape() {
		t.Errorf("%q and %q", l.Shape(), other.Shape())
	}
}

// A logger that stops for a while, and one whose channels come at their own rates.
func TestGapsAndSeveralRates(t *testing.T) {
	text := "Time,Engine,Oil\n"
	for i := range 60 {
		oil := ""
		if i%10 == 0 {
			oil = fmt.Sprint(60 + i/10)
		}
		at := float64(i) * 0.1
		if i >= 30 {
			at += 5
		}
		text += fmt.Sprintf("%.1f,%d,%s\n", at, 800+i, oil)
	}
	_, rows, told := read(t, text)
	if told.Gaps != 1 || math.Abs(told.Longest-5.1) > 1e-9 || math.Abs(told.Step-0.1) > 1e-6 || told.Empty != 54 || len(rows) != 60 {
		t.Errorf("%+v", told)
	}
}

func TestWhatIsWrongIsSaidWithItsPlace(t *testing.T) {
	l, err := Sniff([]byte("Time,Engine\n0,800\n1,900\n2,950\n"))
	if err != nil {
		t.Fatal(err)
	}
	for text, want := range map[string]Error{
		"Time,Engine\n0,800\n1,lots\n":       {Row: 3, Byte: 18, Column: "Engine"},
		"Time,Engine\n0,800\nlate,900\n":     {Row: 3, Byte: 18, Column: "Time"},
		"Time,Engine\n0,800\n1,900,7\n":      {Row: 3, Byte: 18},
		"Time,Engine\n0,800\n1\n":            {Row: 3, Byte: 18},
		"Time,Engine\n0,800\n1,900\n2,Inf\n": {Row: 4, Byte: 24, Column: "Engine"},
	} {
		_, _, err := all(text, l)
		var e *Error
		if !errors.As(err, &e) || e.Row != want.Row || e.Byte != want.Byte || e.Column != want.Column || e.Reason == "" || e.Accepted == "" {
			t.Errorf("%q: %v, want %+v", text, err, want)
		}
	}
	for _, text := range []string{"", "hello\nworld\n", "RIFF\x00\x00WAVE", "a,b\nc,d\n"} {
		if _, err := Sniff([]byte(text)); err == nil {
			t.Errorf("%q is a table", text)
		}
	}
	for what, l := range map[string]Layout{"nothing": {}, "a quote": {Separator: '"', Decimal: '.', Columns: []Column{{}}, Time: 0, Kind: Seconds}, "one sign twice": {Separator: ',', Decimal: ',', Columns: []Column{{}}, Time: 0, Kind: Seconds},
		"no such column": {Separator: ';', Decimal: '.', Columns: []Column{{}}, Time: 3, Kind: Seconds}, "no step": {Separator: ';', Decimal: '.', Columns: []Column{{}}, Time: -1, Kind: ByRow}} {
		if _, err := NewTable(strings.NewReader(""), l); err == nil {
			t.Errorf("%s was taken", what)
		}
	}
}

// A table without times follows its rows.
func TestRowsWithoutTimes(t *testing.T) {
	text := "Knock,Lamp\n3,0\n1,0\n4,1\n1,0\n"
	l, err := Sniff([]byte(text))
	if err != nil || l.Time != -1 || l.Kind != ByRow {
		t.Fatalf("%+v %v", l, err)
	}
	l.Step = 0.02
	rows, _, err := all(text, l)
	if err != nil || len(rows) != 4 || math.Abs(rows[3][0]-0.06) > 1e-12 {
		t.Errorf("%v %v", rows, err)
	}
}

// lines makes a table of any length as it is read.
type lines struct {
	left int
	rest []byte
}

func (l *lines) Read(p []byte) (int, error) {
	n := 0
	for n < len(p) {
		if len(l.rest) == 0 {
			if l.left == 0 {
				if n == 0 {
					return 0, io.EOF
				}
				return n, nil
			}
			l.left--
			l.rest = fmt.Appendf(nil, "%d.%02d,812.5,33.25,1.75,60.5,0.5,1200,14.1,3.25,7.5,88.25,0.125\n", (1000000-l.left)/100, (1000000-l.left)%100)
		}
		k := copy(p[n:], l.rest)
		n, l.rest = n+k, l.rest[k:]
	}
	return n, nil
}

// A million rows of twelve columns against a bare read of the same text by encoding/csv: `go test -bench Rows ./core/recording`.
func BenchmarkRows(b *testing.B) {
	text, err := io.ReadAll(&lines{left: 100000})
	if err != nil {
		b.Fatal(err)
	}
	b.Run("bare", func(b *testing.B) {
		for b.Loop() {
			r := csv.NewReader(bytes.NewReader(text))
			r.ReuseRecord = true
			for {
				if _, err := r.Read(); err != nil {
					break
				}
			}
		}
	})
	b.Run("read", func(b *testing.B) {
		l := Layout{Separator: ',', Decimal: '.', Columns: make([]Column, 12), Time: 0, Kind: Seconds}
		for b.Loop() {
			x, err := NewTable(bytes.NewReader(text), l)
			if err != nil {
				b.Fatal(err)
			}
			for {
				if _, err := x.Next(); err != nil {
					break
				}
			}
			if x.Told().Rows != 100000 {
				b.Fatalf("%+v", x.Told())
			}
		}
	})
}
