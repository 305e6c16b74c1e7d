package traces

import (
	"bytes"
	"math"
	"testing"
)

// kept writes rows whose values are known and opens them again.
func kept(t testing.TB, rows int, rate float64, at func(i int) float64) *File {
	t.Helper()
	var b bytes.Buffer
	w := NewWriter(&b, 2, rate)
	for i := range rows {
		values := [][]float64{{float64(i)}, {math.NaN()}}
		if i%10 == 0 {
			values[1][0] = -float64(i) // a channel that comes seldom
		}
		if err := w.Rows(1, []float64{at(i)}, values); err != nil {
			t.Fatal(err)
		}
	}
	if err := w.Close(); err != nil {
		t.Fatal(err)
	}
	if w.Kept[0].Values != rows || w.Kept[1].Values != (rows+9)/10 || w.Kept[0].High != float64(rows-1) {
		t.Errorf("%+v", w.Kept)
	}
	f, err := Open(bytes.NewReader(b.Bytes()), int64(b.Len()))
	if err != nil {
		t.Fatal(err)
	}
	return f
}

// Every part comes back as it was, whether rows carry their times or follow a rate.
func TestWhatWasKeptComesBack(t *testing.T) {
	for _, rate := range []float64{100, 0} {
		f := kept(t, 10_000, rate, func(i int) float64 { return float64(i) / 100 })
		for _, part := range [][2]float64{{0, 1e9}, {12.34, 12.4}, {40.955, 40.965}, {99.99, 99.99}, {200, 300}} {
			n := 0
			err := f.Each([]int{1, 0}, part[0], part[1], func(at []float64, v [][]float32) error {
				for i := range at {
					row := int(math.Round(at[i] * 100))
					if v[1][i] != float32(row) || (row%10 == 0) == math.IsNaN(float64(v[0][i])) {
						t.Fatalf("at %v: %v %v", at[i], v[0][i], v[1][i])
					}
					if at[i] < part[0]-1e-9 || at[i] > part[1]+1e-9 {
						t.Fatalf("%v is outside %v", at[i], part)
					}
					n++
				}
				return nil
			})
			want := 0
			for i := range 10_000 {
				if s := float64(i) / 100; s >= part[0] && s <= part[1] {
					want++
				}
			}
			if err != nil || n != want {
				t.Errorf("rate %v, %v: %d rows, want %d, %v", rate, part, n, want, err)
			}
		}
	}
}

// What is drawn reaches what the samples reach: the least and greatest over every piece, at every width.
func TestWhatIsDrawnReachesTheSamples(t *testing.T) {
	f := kept(t, 200_000, 0, func(i int) float64 { return float64(i) / 1000 })
	for _, most := range []int{100, 700, 5000} {
		for _, part := range [][2]float64{{0, 199.999}, {50, 60}, {50, 50.05}} {
			d, err := f.Drawn([]int{0, 1}, part[0], part[1], most)
			if err != nil {
				t.Fatal(err)
			}
			low, high := math.Inf(1), math.Inf(-1)
			for i := range d.At {
				if d.Low[0][i] == nil {
					t.Fatalf("nothing at %v", d.At[i])
				}
				if v := float64(*d.High[0][i] - *d.Low[0][i]); v != float64(min(d.Each, 200_000-int(*d.Low[0][i]))-1) {
					t.Fatalf("a piece of %d rows reaches over %v", d.Each, v)
				}
				low, high = math.Min(low, float64(*d.Low[0][i])), math.Max(high, float64(*d.High[0][i]))
			}
			if low > part[0]*1000 || high < math.Floor(part[1]*1000) || len(d.At) > 4*most+4 && d.Each > 1 {
				t.Errorf("at most %d of %v: %d moments from %v to %v", most, part, len(d.At), low, high)
			}
		}
	}
}

// Where the logger stopped for a while there is a moment without values.
func TestAGapIsABreak(t *testing.T) {
	f := kept(t, 1000, 0, func(i int) float64 { return float64(i)/100 + map[bool]float64{true: 3}[i >= 500] })
	d, err := f.Drawn([]int{0}, 0, 20, 5000)
	if err != nil || len(d.At) != 1001 || d.Low[0][500] != nil || d.At[500] < 5 || d.At[500] > 8 {
		t.Errorf("%d moments, %v, %v", len(d.At), d.Low[0][500], err)
	}
}

func TestWhatIsNoKeptRecordingIsRefused(t *testing.T) {
	for _, b := range [][]byte{nil, []byte("short"), bytes.Repeat([]byte{255}, 100), append(bytes.Repeat([]byte{255}, 24), mark...)} {
		if _, err := Open(bytes.NewReader(b), int64(len(b))); err == nil {
			t.Errorf("%d bytes were opened", len(b))
		}
	}
}

// `go test -bench Drawn ./internal/traces`: a million rows of two channels at the width of a screen.
func BenchmarkDrawn(b *testing.B) {
	f := kept(b, 1_000_000, 1000, func(int) float64 { return 0 })
	for b.Loop() {
		if _, err := f.Drawn([]int{0, 1}, 0, 1000, 1200); err != nil {
			b.Fatal(err)
		}
	}
}
