// Package traces keeps the samples of a recording so that any part of any channel is read in a moment, and drawn at any width: samples by
// channel in blocks, and the least and greatest of ever longer pieces over them.
//
// The file follows from the recording and can be made anew: blocks of rows, each with its times (where rows carry them) as float64 and then
// channel after channel as float32, all little-endian; the levels; a JSON trailer, its length, a mark. Samples that are missing are NaN.
package traces

import (
	"bufio"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"math"
)

const (
	blockRows = 4096
	firstRows = 64  // rows in a piece of the first level
	nextUp    = 4   // pieces in one of the next
	fewest    = 512 // pieces at which no further level is worth it
	mark      = "compass1"
)

// Mostly is how many values a recording may have in all.
const Mostly = 400_000_000

// trailer says what is in a file and where.
type trailer struct {
	Channels int
	Rate     float64 // 0: rows carry their times
	Rows     int
	Firsts   []float64 // of each block, when rows carry times
	End      float64   // time of the last row
	Levels   []level
}

// level is where the pieces of a level stand: for each piece its time (where rows carry them), then channel after channel its least and greatest.
type level struct {
	Rows, Pieces int
	At           int64
}

// piece is the least and greatest of some rows.
type piece struct{ low, high float32 }

func (p *piece) take(q piece) {
	if math.IsNaN(float64(p.low)) {
		*p = q
		return
	}
	if q.low < p.low {
		p.low = q.low
	}
	if q.high > p.high {
		p.high = q.high
	}
}

var nothing = float32(math.NaN())

// Writer takes rows in order and writes the file.
type Writer struct {
	w      *bufio.Writer
	t      trailer
	at     int64
	times  []float64
	block  [][]float32
	pieces [][]piece // of the first level, by channel
	begun  []float64 // times of the pieces
	Kept   []Range   // by channel
}

// Range is what a channel holds.
type Range struct {
	Values    int
	Low, High float64
}

// NewWriter begins a file of so many channels; a rate of 0 says that rows carry their times.
func NewWriter(w io.Writer, channels int, rate float64) *Writer {
	x := &Writer{w: bufio.NewWriterSize(w, 1<<20), t: trailer{Channels: channels, Rate: rate}, block: make([][]float32, channels), pieces: make([][]piece, channels), Kept: make([]Range, channels)}
	for c := range x.block {
		x.block[c] = make([]float32, 0, blockRows)
		x.Kept[c] = Range{Low: math.Inf(1), High: math.Inf(-1)}
	}
	return x
}

// Rows takes n rows: their times, unless there is a rate, and values by channel.
func (x *Writer) Rows(n int, at []float64, values [][]float64) error {
	if (x.t.Rows+n)*max(1, x.t.Channels) > Mostly {
		return fmt.Errorf("traces: more than %d values; want a shorter recording, or fewer channels", Mostly)
	}
	for i := range n {
		t := float64(x.t.Rows) / math.Max(x.t.Rate, 1e-9)
		if x.t.Rate == 0 {
			t = at[i]
			x.times = append(x.times, t)
		}
		if x.t.Rows%blockRows == 0 && x.t.Rate == 0 {
			x.t.Firsts = append(x.t.Firsts, t)
		}
		if x.t.Rows%firstRows == 0 {
			for c := range x.pieces {
				x.pieces[c] = append(x.pieces[c], piece{nothing, nothing})
			}
			x.begun = append(x.begun, t)
		}
		x.t.End = t
		for c := range x.block {
			v := values[c][i]
			x.block[c] = append(x.block[c], float32(v))
			if math.IsNaN(v) {
				continue
			}
			x.pieces[c][len(x.pieces[c])-1].take(piece{float32(v), float32(v)})
			k := &x.Kept[c]
			k.Values++
			k.Low, k.High = math.Min(k.Low, v), math.Max(k.High, v)
		}
		x.t.Rows++
		if x.t.Rows%blockRows == 0 {
			if err := x.flush(); err != nil {
				return err
			}
		}
	}
	return nil
}

func (x *Writer) put(v any, size int) error {
	x.at += int64(size)
	return binary.Write(x.w, binary.LittleEndian, v)
}

func (x *Writer) flush() error {
	if x.t.Rate == 0 {
		if err := x.put(x.times, 8*len(x.times)); err != nil {
			return err
		}
		x.times = x.times[:0]
	}
	for c := range x.block {
		if err := x.put(x.block[c], 4*len(x.block[c])); err != nil {
			return err
		}
		x.block[c] = x.block[c][:0]
	}
	return nil
}

// Close writes what is left, the levels and the trailer. The writer beneath stays open.
func (x *Writer) Close() error {
	if x.t.Rows%blockRows != 0 {
		if err := x.flush(); err != nil {
			return err
		}
	}
	pieces, begun, rows := x.pieces, x.begun, firstRows
	for len(begun) > 0 {
		x.t.Levels = append(x.t.Levels, level{rows, len(begun), x.at})
		if x.t.Rate == 0 {
			if err := x.put(begun, 8*len(begun)); err != nil {
				return err
			}
		}
		flat := make([]float32, 2*len(begun))
		for _, p := range pieces {
			for i, q := range p {
				flat[2*i], flat[2*i+1] = q.low, q.high
			}
			if err := x.put(flat, 4*len(flat)); err != nil {
				return err
			}
		}
		if len(begun) <= fewest {
			break
		}
		pieces, begun, rows = above(pieces, begun), everyNth(begun), rows*nextUp
	}
	text, err := json.Marshal(x.t)
	if err != nil {
		return err
	}
	if _, err := x.w.Write(text); err != nil {
		return err
	}
	if err := binary.Write(x.w, binary.LittleEndian, uint64(len(text))); err != nil {
		return err
	}
	if _, err := x.w.WriteString(mark); err != nil {
		return err
	}
	return x.w.Flush()
}

func above(pieces [][]piece, begun []float64) [][]piece {
	out := make([][]piece, len(pieces))
	for c, p := range pieces {
		out[c] = make([]piece, (len(begun)+nextUp-1)/nextUp)
		for i := range out[c] {
			out[c][i] = piece{nothing, nothing}
		}
		for i, q := range p {
			if !math.IsNaN(float64(q.low)) {
				out[c][i/nextUp].take(q)
			}
		}
	}
	return out
}

func everyNth(at []float64) []float64 {
	var out []float64
	for i := 0; i < len(at); i += nextUp {
		out = append(out, at[i])
	}
	return out
}
