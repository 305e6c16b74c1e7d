package recording

import (
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"
	"strings"
	"testing"
)

// What is read here is the number that strconv reads, to the last bit.
func TestPlainNumbersAreTheNearest(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	read := 0
	for range 20000 {
		c := strconv.FormatFloat((r.Float64()-0.5)*math.Pow(10, float64(r.IntN(20)-6)), 'f', r.IntN(14), 64)
		got, ok := plain(c, '.')
		want, err := strconv.ParseFloat(c, 64)
		if ok {
			read++
		}
		if ok && (err != nil || got != want) {
			t.Fatalf("%s: %v, by strconv %v", c, got, want)
		}
	}
	if read < 10000 {
		t.Errorf("only %d of 20000 were read", read)
	}
	for _, c := range []string{"", "-", ".", "+.", "1e3", "1.2.3", "0x10", "12 ", "nan", "99999999999999999999"} {
		if v, ok := plain(c, '.'); ok {
			t.Errorf("%q was read as %v", c, v)
		}
	}
}

// Rows are those of encoding/csv, with quotes anywhere, lines of every length and either ending.
func TestRowsAreThoseOfCSV(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	for k := range 200 {
		var b strings.Builder
		for range 20 {
			for c := range 1 + r.IntN(5) {
				if c > 0 {
					b.WriteByte(';')
				}
				switch x := r.IntN(60); {
				case x == 0 && k%2 == 0:
					b.WriteString(`"a;""b"` + "\n" + `c"`[1:])
				case x == 1 && k%2 == 0:
					b.WriteString(`"x;y"`)
				case x == 2 && k%5 == 0:
					b.WriteString(strings.Repeat("7", 70000))
				default:
					fmt.Fprint(&b, r.IntN(1000))
				}
			}
			b.WriteString([]string{"\n", "\r\n", "\n\n"}[r.IntN(3)])
		}
		text := b.String()
		want := csv.NewReader(strings.NewReader(text))
		want.Comma, want.FieldsPerRecord, want.LazyQuotes, want.TrimLeadingSpace = ';', -1, true, true
		got := newRows(strings.NewReader(text), ';')
		for {
			w, werr := want.Read()
			g, _, gerr := got.next()
			if (werr == nil) != (gerr == nil) || !slices.Equal(w, g) {
				t.Fatalf("%q %v, by encoding/csv %q %v", g, gerr, w, werr)
			}
			if werr == io.EOF {
				break
			}
		}
	}
}
