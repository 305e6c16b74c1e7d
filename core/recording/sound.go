package recording

import (
	"encoding/binary"
	"fmt"
	"io"
	"math"

	"golang.org/x/image/riff"
)

// Format is how sound is written.
type Format struct {
	Channels, Rate, Bits int
	Float                bool
}

const (
	integers   = 1
	floating   = 3
	extensible = 0xFFFE
)

const acceptedSound = "WAV of 1 to 64 channels. Whole numbers of 8, 16, 24 or 32 bits, or floating ones of 32 or 64. Its header gives its length"

var (
	isWave = riff.FourCC{'W', 'A', 'V', 'E'}
	isFmt  = riff.FourCC{'f', 'm', 't', ' '}
	isData = riff.FourCC{'d', 'a', 't', 'a'}
)

// Sound gives the samples of a WAV, full scale as 1.
type Sound struct {
	Format  Format
	data    io.Reader
	counted *counted
	left    int64 // bytes of samples that the header announces and that were not read yet
	buf     []byte
	told    Told
}

// counted counts what was read.
type counted struct {
	r io.Reader
	n int64
}

func (c *counted) Read(p []byte) (int, error) {
	n, err := c.r.Read(p)
	c.n += int64(n)
	return n, err
}

// NewSound reads up to the first sample.
func NewSound(r io.Reader) (*Sound, error) {
	s := &Sound{counted: &counted{r: r}}
	bad := func(reason string) error { return &Error{Byte: s.counted.n, Reason: reason, Accepted: acceptedSound} }
	form, chunks, err := riff.NewReader(s.counted)
	if err != nil {
		return nil, bad("this is no WAV: " + err.Error())
	}
	if form != isWave {
		return nil, bad(fmt.Sprintf("it holds %q, not sound", string(form[:])))
	}
	known := false
	for {
		id, size, data, err := chunks.Next()
		if err == io.EOF {
			return nil, bad("there are no samples in it")
		}
		if err != nil {
			return nil, bad("the header: " + err.Error())
		}
		switch id {
		case isFmt:
			if s.Format, err = readFormat(data, size); err != nil {
				return nil, bad(err.Error())
			}
			known = true
		case isData:
			if !known {
				return nil, bad("samples before what they are")
			}
			frame := s.Format.Channels * s.Format.Bits / 8
			if size == 0 {
				return nil, bad("there are no samples in it")
			}
			s.data, s.left = data, int64(size)/int64(frame)*int64(frame)
			s.buf = make([]byte, frame*4096)
			return s, nil
		}
	}
}

func readFormat(r io.Reader, size uint32) (Format, error) {
	if size < 16 || size > 1024 {
		return Format{}, fmt.Errorf("a format of %d bytes", size)
	}
	b := make([]byte, size)
	if _, err := io.ReadFull(r, b); err != nil {
		return Format{}, fmt.Errorf("the format is cut off")
	}
	tag := binary.LittleEndian.Uint16(b)
	f := Format{Channels: int(binary.LittleEndian.Uint16(b[2:])), Rate: int(binary.LittleEndian.Uint32(b[4:])), Bits: int(binary.LittleEndian.Uint16(b[14:]))}
	if tag == extensible && size >= 26 {
		tag = binary.LittleEndian.Uint16(b[24:])
	}
	f.Float = tag == floating
	whole := tag == integers && (f.Bits == 8 || f.Bits == 16 || f.Bits == 24 || f.Bits == 32)
	real := tag == floating && (f.Bits == 32 || f.Bits == 64)
	switch align := int(binary.LittleEndian.Uint16(b[12:])); {
	case !whole && !real:
		return f, fmt.Errorf("samples of kind %d with %d bits", tag, f.Bits)
	case f.Channels < 1 || f.Channels > 64:
		return f, fmt.Errorf("%d channels", f.Channels)
	case f.Rate < 1 || f.Rate > 10_000_000:
		return f, fmt.Errorf("%d samples a second", f.Rate)
	case align != f.Channels*f.Bits/8:
		return f, fmt.Errorf("%d bytes for each moment, and %d channels of %d bits", align, f.Channels, f.Bits)
	}
	return f, nil
}

// Columns are its channels.
func (s *Sound) Columns() []Column {
	out := make([]Column, s.Format.Channels)
	for i := range out {
		out[i] = Column{Name: fmt.Sprintf("channel %d", i+1)}
	}
	return out
}

// Rate is its samples a second.
func (s *Sound) Rate() float64 { return float64(s.Format.Rate) }

// Told is what was noticed so far.
func (s *Sound) Told() Told { return s.told }

// Read fills values, channel by channel, and returns how many moments it read; io.EOF after the last.
func (s *Sound) Read(_ []float64, values [][]float64) (int, error) {
	if s.left == 0 {
		return 0, io.EOF
	}
	frame := s.Format.Channels * s.Format.Bits / 8
	want := min(int64(len(s.buf)), int64(len(values[0])*frame), s.left)
	got, err := io.ReadFull(s.data, s.buf[:want])
	if err != nil {
		return 0, s.cut(err, int64(got))
	}
	s.left -= want
	n := int(want) / frame
	for i := range n {
		for c := range s.Format.Channels {
			v := s.sample(s.buf[i*frame+c*s.Format.Bits/8:])
			if math.IsNaN(v) || math.IsInf(v, 0) {
				return 0, &Error{Byte: s.counted.n - want + int64(i*frame), Reason: fmt.Sprintf("a sample of %v", v), Accepted: "numbers"}
			}
			if !s.Format.Float && (v <= -1 || v >= 1-2/math.Pow(2, float64(s.Format.Bits))) {
				s.told.Clipped++
			}
			values[c][i] = v
		}
	}
	s.told.Rows += n
	return n, nil
}

func (s *Sound) cut(err error, got int64) error {
	if err == io.EOF || err == io.ErrUnexpectedEOF {
		return &Error{Byte: s.counted.n, Reason: fmt.Sprintf("the sound ends %d bytes before its header says", s.left-got), Accepted: "the whole file"}
	}
	return err
}

func (s *Sound) sample(b []byte) float64 {
	switch {
	case s.Format.Float && s.Format.Bits == 64:
		return math.Float64frombits(binary.LittleEndian.Uint64(b))
	case s.Format.Float:
		return float64(math.Float32frombits(binary.LittleEndian.Uint32(b)))
	case s.Format.Bits == 8:
		return (float64(b[0]) - 128) / 128
	case s.Format.Bits == 16:
		return float64(int16(binary.LittleEndian.Uint16(b))) / (1 << 15)
	case s.Format.Bits == 24:
		return float64(int32(uint32(b[0])<<8|uint32(b[1])<<16|uint32(b[2])<<24)) / (1 << 31)
	}
	return float64(int32(binary.LittleEndian.Uint32(b))) / (1 << 31)
}

// WriteSound writes a WAV of floating samples; blocks gives them piece by piece, channel by channel, and nothing at the end. frames is how
// many there are, notes stand in the header.
func WriteSound(w io.Writer, channels, rate, frames int, notes string, blocks func() ([][]float32, error)) error {
	const bits = 32
	size := int64(frames) * int64(channels) * bits / 8
	note := append([]byte(notes), 0)
	if len(note)%2 == 1 {
		note = append(note, 0)
	}
	total := 4 + 8 + 16 + 8 + 4 + 8 + int64(len(note)) + 8 + size
	if total > math.MaxUint32 {
		return &Error{Byte: -1, Reason: fmt.Sprintf("%.0f s of sound in %d channels are more than a WAV holds", float64(frames)/float64(rate), channels), Accepted: "4 GiB at most"}
	}
	head := []any{
		[]byte("RIFF"), uint32(total), []byte("WAVE"),
		[]byte("fmt "), uint32(16), uint16(floating), uint16(channels), uint32(rate), uint32(rate * channels * bits / 8), uint16(channels * bits / 8), uint16(bits),
		[]byte("LIST"), uint32(4 + 8 + len(note)), []byte("INFO"), []byte("ICMT"), uint32(len(note)), note,
		[]byte("data"), uint32(size),
	}
	for _, part := range head {
		if err := binary.Write(w, binary.LittleEndian, part); err != nil {
			return err
		}
	}
	var buf []byte
	for {
		block, err := blocks()
		if err != nil {
			return err
		}
		if len(block) == 0 {
			return nil
		}
		buf = buf[:0]
		for i := range block[0] {
			for c := range block {
				buf = binary.LittleEndian.AppendUint32(buf, math.Float32bits(block[c][i]))
			}
		}
		if _, err := w.Write(buf); err != nil {
			return err
		}
	}
}
