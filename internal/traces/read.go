package traces

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"sort"
)

// File is a kept recording, open for reading.
type File struct {
	r io.ReaderAt
	t trailer
}

// Open reads the trailer of a file of so many bytes. It fails for what is no such file, or not whole.
func Open(r io.ReaderAt, size int64) (*File, error) {
	end := make([]byte, 8+len(mark))
	if size < int64(len(end)) {
		return nil, fmt.Errorf("traces: %d bytes are no kept recording", size)
	}
	if _, err := r.ReadAt(end, size-int64(len(end))); err != nil {
		return nil, err
	}
	n := binary.LittleEndian.Uint64(end)
	if string(end[8:]) != mark || n > 64<<20 || int64(n) > size-int64(len(end)) {
		return nil, fmt.Errorf("traces: the file is no kept recording, or not whole")
	}
	text := make([]byte, n)
	if _, err := r.ReadAt(text, size-int64(len(end))-int64(n)); err != nil {
		return nil, err
	}
	f := &File{r: r}
	if err := json.Unmarshal(text, &f.t); err != nil {
		return nil, fmt.Errorf("traces: the trailer: %w", err)
	}
	return f, nil
}

// Rows is how many rows it has.
func (f *File) Rows() int { return f.t.Rows }

// Seconds is the time of the last row.
func (f *File) Seconds() float64 { return f.t.End }

// Rate is its samples a second, 0 when rows carry their times.
func (f *File) Rate() float64 { return f.t.Rate }

// offset is where a block begins, and where in it a channel does.
func (f *File) offset(block, channel int) int64 {
	each := int64(4 * f.t.Channels)
	if f.t.Rate == 0 {
		each += 8
	}
	rows := min(blockRows, f.t.Rows-block*blockRows)
	at := int64(block) * blockRows * each
	if channel >= 0 {
		if f.t.Rate == 0 {
			at += 8 * int64(rows)
		}
		at += 4 * int64(channel) * int64(rows)
	}
	return at
}

func (f *File) floats(at int64, n int) ([]float32, error) {
	buf := make([]byte, 4*n)
	if _, err := f.r.ReadAt(buf, at); err != nil {
		return nil, err
	}
	out := make([]float32, n)
	for i := range out {
		out[i] = math.Float32frombits(binary.LittleEndian.Uint32(buf[4*i:]))
	}
	return out, nil
}

func (f *File) doubles(at int64, n int) ([]float64, error) {
	buf := make([]byte, 8*n)
	if _, err := f.r.ReadAt(buf, at); err != nil {
		return nil, err
	}
	out := make([]float64, n)
	for i := range out {
		out[i] = math.Float64frombits(binary.LittleEndian.Uint64(buf[8*i:]))
	}
	return out, nil
}

// times of a block's rows.
func (f *File) times(block int) ([]float64, error) {
	rows := min(blockRows, f.t.Rows-block*blockRows)
	if f.t.Rate == 0 {
		return f.doubles(f.offset(block, -1), rows)
	}
	out := make([]float64, rows)
	for i := range out {
		out[i] = float64(block*blockRows+i) / f.t.Rate
	}
	return out, nil
}

// Each gives the values of channels block by block, between two times: times and values, valid until the next call of f.
func (f *File) Each(channels []int, from, to float64, take func(at []float64, values [][]float32) error) error {
	for _, c := range channels {
		if c < 0 || c >= f.t.Channels {
			return fmt.Errorf("traces: channel %d of %d", c+1, f.t.Channels)
		}
	}
	first, last := f.row(from), f.row(to)
	for b := first / blockRows; b*blockRows < f.t.Rows && b*blockRows <= last; b++ {
		at, err := f.times(b)
		if err != nil {
			return err
		}
		values := make([][]float32, len(channels))
		for i, c := range channels {
			if values[i], err = f.floats(f.offset(b, c), len(at)); err != nil {
				return err
			}
		}
		lo, hi := sort.SearchFloat64s(at, from), sort.SearchFloat64s(at, math.Nextafter(to, math.Inf(1)))
		for i := range values {
			values[i] = values[i][lo:hi]
		}
		if lo < hi {
			if err := take(at[lo:hi], values); err != nil {
				return err
			}
		}
	}
	return nil
}

// row is a row about a time: exact with a rate, else the first of its block.
func (f *File) row(t float64) int {
	if f.t.Rows == 0 {
		return 0
	}
	if f.t.Rate > 0 {
		return int(math.Max(0, math.Min(float64(f.t.Rows-1), t*f.t.Rate)))
	}
	b := sort.SearchFloat64s(f.t.Firsts, math.Nextafter(t, math.Inf(1))) - 1
	return max(0, b) * blockRows
}

// Trace is what is drawn: for each moment the least and greatest that a channel reached up to the next; nil where it has nothing.
type Trace struct {
	At   []float64
	Low  [][]*float32 // by channel
	High [][]*float32
	Each int // rows behind one moment; 1: the samples themselves
}

// Drawn are channels between two times with at most so many moments, from the shortest pieces that are few enough. A gap of more than ten
// usual steps has a moment without values in it.
func (f *File) Drawn(channels []int, from, to float64, most int) (Trace, error) {
	share := (to - from) / math.Max(f.t.End, 1e-9)
	rows := int(share * float64(f.t.Rows))
	if rows <= most || len(f.t.Levels) == 0 {
		return f.samples(channels, from, to)
	}
	k := 0
	for k+1 < len(f.t.Levels) && rows/f.t.Levels[k].Rows > most {
		k++
	}
	l := f.t.Levels[k]
	at := make([]float64, l.Pieces)
	where := l.At
	if f.t.Rate == 0 {
		var err error
		if at, err = f.doubles(where, l.Pieces); err != nil {
			return Trace{}, err
		}
		where += 8 * int64(l.Pieces)
	} else {
		for i := range at {
			at[i] = float64(i*l.Rows) / f.t.Rate
		}
	}
	lo, hi := max(0, sort.SearchFloat64s(at, from)-1), sort.SearchFloat64s(at, to)
	hi = min(len(at), hi+1)
	d := drawn{gap: gapOf(at), t: Trace{Each: l.Rows, Low: make([][]*float32, len(channels)), High: make([][]*float32, len(channels))}}
	flat := make([][]float32, len(channels))
	for i, c := range channels {
		if c < 0 || c >= f.t.Channels {
			return Trace{}, fmt.Errorf("traces: channel %d of %d", c+1, f.t.Channels)
		}
		var err error
		if flat[i], err = f.floats(where+8*(int64(c)*int64(l.Pieces)+int64(lo)), 2*(hi-lo)); err != nil {
			return Trace{}, err
		}
	}
	for i := lo; i < hi; i++ {
		d.moment(at[i])
		for c := range channels {
			d.value(c, flat[c][2*(i-lo)], flat[c][2*(i-lo)+1])
		}
	}
	return d.t, nil
}

func (f *File) samples(channels []int, from, to float64) (Trace, error) {
	d := drawn{t: Trace{Each: 1, Low: make([][]*float32, len(channels)), High: make([][]*float32, len(channels))}}
	err := f.Each(channels, from, to, func(at []float64, values [][]float32) error {
		if d.gap == 0 {
			d.gap = gapOf(at)
		}
		for i, t := range at {
			d.moment(t)
			for c := range channels {
				d.value(c, values[c][i], values[c][i])
			}
		}
		return nil
	})
	return d.t, err
}

// drawn puts a trace together.
type drawn struct {
	t    Trace
	gap  float64
	last float64
}

func (d *drawn) moment(t float64) {
	if len(d.t.At) > 0 && d.gap > 0 && t-d.last > d.gap {
		d.t.At = append(d.t.At, (t+d.last)/2)
		for c := range d.t.Low {
			d.t.Low[c], d.t.High[c] = append(d.t.Low[c], nil), append(d.t.High[c], nil)
		}
	}
	d.t.At, d.last = append(d.t.At, t), t
}

func (d *drawn) value(c int, low, high float32) {
	if math.IsNaN(float64(low)) {
		d.t.Low[c], d.t.High[c] = append(d.t.Low[c], nil), append(d.t.High[c], nil)
		return
	}
	d.t.Low[c], d.t.High[c] = append(d.t.Low[c], &low), append(d.t.High[c], &high)
}

// gapOf is what is more than a usual step between moments.
func gapOf(at []float64) float64 {
	if len(at) < 3 {
		return 0
	}
	steps := make([]float64, len(at)-1)
	for i := range steps {
		steps[i] = at[i+1] - at[i]
	}
	sort.Float64s(steps)
	return 10 * steps[len(steps)/2]
}
