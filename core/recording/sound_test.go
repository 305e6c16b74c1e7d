package recording

import (
	"bytes"
	"compress/gzip"
	"encoding/binary"
	"errors"
	"io"
	"math"
	"strings"
	"testing"
)

// wave writes a WAV by the published layout of its chunks, samples as they are.
func wave(tag, channels, rate, bits int, samples []byte, other ...string) []byte {
	var b bytes.Buffer
	put := func(parts ...any) {
		for _, p := range parts {
			if s, ok := p.(string); ok {
				p = []byte(s)
			}
			binary.Write(&b, binary.LittleEndian, p)
		}
	}
	extra := strings.Join(other, "")
	put("RIFF", uint32(4+24+len(extra)+8+len(samples)+len(samples)%2), "WAVE", "fmt ", uint32(16), uint16(tag), uint16(channels), uint32(rate), uint32(rate*channels*bits/8), uint16(channels*bits/8), uint16(bits), extra, "data", uint32(len(samples)), samples)
	if len(samples)%2 == 1 {
		put(uint8(0))
	}
	return b.Bytes()
}

func readAll(t *testing.T, o Opened) [][]float64 {
	t.Helper()
	n := len(o.Columns())
	out, block, at := make([][]float64, n), make([][]float64, n), make([]float64, 100)
	for i := range block {
		block[i] = make([]float64, 100)
	}
	for {
		k, err := o.Read(at, block)
		if err == io.EOF {
			return out
		}
		if err != nil {
			t.Fatal(err)
		}
		for i := range block {
			out[i] = append(out[i], block[i][:k]...)
		}
	}
}

// Full scale, half of it, nothing, in every width that is written: whole numbers by two's complement (8 bits from the middle up), floating
// ones by IEEE 754; other chunks are passed over.
func TestSoundOfEveryWidth(t *testing.T) {
	le := binary.LittleEndian
	f32 := func(v float32) []byte { return le.AppendUint32(nil, math.Float32bits(v)) }
	f64 := func(v float64) []byte { return le.AppendUint64(nil, math.Float64bits(v)) }
	for name, c := range map[string]struct {
		tag, bits int
		samples   []byte
	}{
		"8":        {1, 8, []byte{128, 192, 64, 0}},
		"16":       {1, 16, []byte{0, 0, 0, 0x40, 0, 0xC0, 0, 0x80}},
		"24":       {1, 24, []byte{0, 0, 0, 0, 0, 0x40, 0, 0, 0xC0, 0, 0, 0x80}},
		"32":       {1, 32, []byte{0, 0, 0, 0, 0, 0, 0, 0x40, 0, 0, 0, 0xC0, 0, 0, 0, 0x80}},
		"float 32": {3, 32, bytes.Join([][]byte{f32(0), f32(0.5), f32(-0.5), f32(-1)}, nil)},
		"float 64": {3, 64, bytes.Join([][]byte{f64(0), f64(0.5), f64(-0.5), f64(-1)}, nil)},
	} {
		o, err := Open(bytes.NewReader(wave(c.tag, 1, 8000, c.bits, c.samples, "LIST\x04\x00\x00\x00INFO")), nil)
		if err != nil {
			t.Fatal(name, err)
		}
		got := readAll(t, o)[0]
		if o.Kind != IsSound || o.Rate() != 8000 || len(got) != 4 || got[0] != 0 || got[1] != 0.5 || got[2] != -0.5 || got[3] != -1 {
			t.Errorf("%s: %v at %v", name, got, o.Rate())
		}
	}
	// Two channels take turns; the last sample may be at full scale.
	o, _ := Open(bytes.NewReader(wave(1, 2, 44100, 16, []byte{0, 0x40, 0, 0xC0, 0xFF, 0x7F, 0, 0})), nil)
	if got := readAll(t, o); got[0][0] != 0.5 || got[1][0] != -0.5 || o.Told().Clipped != 1 || o.Told().Rows != 2 {
		t.Errorf("%v %+v", got, o.Told())
	}
}

// What is written reads back the same, packed or not.
func TestSoundComesBack(t *testing.T) {
	want := [][]float32{{0, 0.25, -0.125}, {1, -1, 0.75}}
	var b bytes.Buffer
	done := false
	err := WriteSound(&b, 2, 48000, 3, "seat rail; floor", func() ([][]float32, error) {
		if done {
			return nil, nil
		}
		done = true
		return want, nil
	})
	if err != nil {
		t.Fatal(err)
	}
	var packed bytes.Buffer
	z := gzip.NewWriter(&packed)
	z.Write(b.Bytes())
	z.Close()
	for _, file := range [][]byte{b.Bytes(), packed.Bytes()} {
		o, err := Open(bytes.NewReader(file), nil)
		if err != nil {
			t.Fatal(err)
		}
		got := readAll(t, o)
		for c := range want {
			for i, v := range want[c] {
				if got[c][i] != float64(v) {
					t.Errorf("channel %d: %v, want %v", c, got[c], want[c])
				}
			}
		}
	}
	if _, err := Open(bytes.NewReader(packed.Bytes()[:packed.Len()/2]), nil); err == nil {
		t.Error("half a packed file was taken")
	}
}

func TestSoundThatCannotBeReadSaysWhere(t *testing.T) {
	whole := wave(1, 1, 8000, 16, make([]byte, 4000))
	for name, c := range map[string]struct {
		file []byte
		want string
	}{
		"cut off":            {whole[:3000], "ends 1044 bytes before"},
		"no samples":         {wave(1, 1, 8000, 16, nil), "no samples"},
		"no sound at all":    {append([]byte("RIFF\x04\x00\x00\x00"), "AVI "...), `"AVI "`},
		"another kind":       {wave(85, 1, 8000, 16, make([]byte, 8)), "kind 85"},
		"12 bits":            {wave(1, 1, 8000, 12, make([]byte, 8)), "12 bits"},
		"no rate":            {wave(1, 1, 0, 16, make([]byte, 8)), "0 samples"},
		"no length":          {append([]byte("RIFF\xff\xff\xff\xffWAVEfmt \x10\x00\x00\x00"), append(whole[20:36:36], "data\xff\xff\xff\xff"...)...), "header"},
		"nothing":            {nil, "empty"},
		"a number that isnt": {wave(3, 1, 8000, 32, []byte{0, 0, 0xC0, 0x7F}), "NaN"},
	} {
		o, err := Open(bytes.NewReader(c.file), nil)
		if err == nil {
			_, err = o.Read(nil, [][]float64{make([]float64, 5000)})
		}
		var e *Error
		if !errors.As(err, &e) || !strings.Contains(e.Error(), c.want) || e.Accepted == "" {
			t.Errorf("%s: %v", name, err)
		}
	}
}

func FuzzSound(f *testing.F) {
	f.Add(wave(1, 2, 8000, 16, make([]byte, 64)))
	f.Add(wave(3, 1, 8000, 64, make([]byte, 64)))
	f.Fuzz(func(t *testing.T, file []byte) {
		o, err := Open(bytes.NewReader(file), nil)
		if err != nil {
			return
		}
		block := make([][]float64, len(o.Columns()))
		for i := range block {
			block[i] = make([]float64, 16)
		}
		for range 1000 {
			if _, err := o.Read(make([]float64, 16), block); err != nil {
				return
			}
		}
	})
}
