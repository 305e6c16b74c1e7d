package obd_test

import (
	"bytes"
	"encoding/hex"
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"innercompass/core/obd"
)

func unhex(t *testing.T, s string) []byte {
	t.Helper()
	b, err := hex.DecodeString(strings.ReplaceAll(s, " ", ""))
	if err != nil {
		t.Fatal(err)
	}
	return b
}

// Answers byte by byte, recalled from memory of the standards: engine speed, three codes over two frames, a vehicle's number over three.
func TestKnownFrames(t *testing.T) {
	one, err := obd.Split(0x7E8, unhex(t, "41 0C 1A F8"))
	if err != nil || len(one) != 1 || !bytes.Equal(one[0].Data[:], unhex(t, "04 41 0C 1A F8 AA AA AA")) {
		t.Errorf("%v %v", one, err)
	}
	rpm, _ := obd.ParameterOf(0x0C)
	if v, err := rpm.Read(unhex(t, "1A F8")); err != nil || v != 1726 {
		t.Errorf("engine speed %v %v", v, err)
	}
	codes, err := obd.Split(0x7E8, unhex(t, "43 03 07 30 07 41 C1 23"))
	if err != nil || len(codes) != 2 || !bytes.Equal(codes[0].Data[:], unhex(t, "10 08 43 03 07 30 07 41")) || !bytes.Equal(codes[1].Data[:], unhex(t, "21 C1 23 AA AA AA AA AA")) {
		t.Errorf("%v %v", codes, err)
	}
	list, err := obd.Codes(unhex(t, "03 07 30 07 41 C1 23"), true)
	if err != nil || len(list) != 3 || list[0].String() != "P0730" || list[1].String() != "P0741" || list[2].String() != "U0123" {
		t.Errorf("%v %v", list, err)
	}
	if got := obd.SupportedIDs(0, unhex(t, "BE 1F A8 13")); !slices.Equal(got, unhex(t, "01 03 04 05 06 07 0C 0D 0E 0F 10 11 13 15 1C 1F 20")) {
		t.Errorf("supported: %X", got)
	}
	if b, err := obd.Line(unhex(t, "41 0C 1A F8"), 0x10, true); err != nil || !bytes.Equal(b, unhex(t, "48 6B 10 41 0C 1A F8 22")) {
		t.Errorf("line: %X %v", b, err)
	}
	if f := (obd.Flow{}).Frame(0x7E0); !bytes.Equal(f.Data[:3], unhex(t, "30 00 00")) {
		t.Errorf("flow: %v", f)
	}
}

// Scales at their ends, from memory of SAE J1979: A·100/255, A − 40, (256A + B)/4, A, (256A + B)/1000, A − 125, 256A + B.
func TestScales(t *testing.T) {
	for id, c := range map[byte]struct {
		bytes string
		want  float64
	}{0x04: {"FF", 100}, 0x05: {"00", -40}, 0x0C: {"FF FF", 16383.75}, 0x0D: {"FF", 255}, 0x11: {"00", 0}, 0x42: {"FF FF", 65.535}, 0x5C: {"FA", 210}, 0x62: {"00", -125}, 0x63: {"01 00", 256}} {
		p, ok := obd.ParameterOf(id)
		if v, err := p.Read(unhex(t, c.bytes)); !ok || err != nil || math.Abs(v-c.want) > 1e-9 {
			t.Errorf("%02X: %v %v, want %v", id, v, err, c.want)
		}
		if !bytes.Equal(p.Put(c.want), unhex(t, c.bytes)) {
			t.Errorf("%02X: %v is put as %X", id, c.want, p.Put(c.want))
		}
		if _, err := p.Read(nil); err == nil {
			t.Errorf("%02X of nothing is taken", id)
		}
	}
}

// Every message comes back whole, of whatever length; a frame that is lost, doubled or out of turn is told and nothing half is handed out.
func TestMessagesComeBack(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for n := 1; n <= 4095; n += 1 + n/9 {
		m := make([]byte, n)
		for i := range m {
			m[i] = byte(r.IntN(256))
		}
		frames, err := obd.Split(0x7E9, m)
		if err != nil {
			t.Fatal(err)
		}
		var j obd.Join
		var got []byte
		for i, f := range frames {
			out, flow, err := j.Take(f)
			if err != nil || flow != (i == 0 && n > 7) {
				t.Fatalf("%d bytes, frame %d: flow %v %v", n, i, flow, err)
			}
			if out != nil {
				got = out
			}
		}
		if !bytes.Equal(got, m) {
			t.Fatalf("%d bytes come back as %d", n, len(got))
		}
		if len(frames) > 3 {
			var lost obd.Join
			for i, f := range slices.Delete(slices.Clone(frames), 2, 3) {
				out, _, err := lost.Take(f)
				var bad *obd.FrameError
				if out != nil || i == 2 && !errors.As(err, &bad) {
					t.Fatalf("%d bytes with a frame lost: %v %v", n, out, err)
				}
			}
		}
	}
	if _, err := obd.Split(1, nil); err == nil {
		t.Error("an empty message is split")
	}
	if _, err := obd.Split(1, make([]byte, 4096)); err == nil {
		t.Error("a message that is too long is split")
	}
}

func FuzzJoin(f *testing.F) {
	f.Add([]byte{0x10, 0x14, 1, 2, 3, 4, 5, 6, 0x21, 1, 2, 3, 4, 5, 6, 7})
	f.Fuzz(func(t *testing.T, b []byte) {
		var j obd.Join
		for len(b) > 0 {
			x := obd.Frame{ID: 1, Len: min(8, len(b))}
			b = b[copy(x.Data[:], b):]
			if m, _, err := j.Take(x); m != nil && (err != nil || len(m) > 4095) {
				t.Fatal("a message and an error")
			}
		}
	})
}

func TestCodesAsWritten(t *testing.T) {
	for text, want := range map[string]obd.Code{"P0730": 0x0730, "c0123": 0x4123, "B1A2F": 0x9A2F, "U3FFF": 0xFFFF} {
		c, err := obd.ParseCode(text)
		if err != nil || c != want || c.String() != strings.ToUpper(text) {
			t.Errorf("%s: %04X %v %s", text, uint16(c), err, c)
		}
	}
	for _, text := range []string{"", "0730", "X0730", "P4000", "P07", "P07G0"} {
		if _, err := obd.ParseCode(text); err == nil {
			t.Errorf("%q is taken", text)
		}
	}
	if got, err := obd.Codes(obd.PutCodes([]obd.Code{0x0730}, false), false); err != nil || len(got) != 1 {
		t.Errorf("three pairs filled up: %v %v", got, err)
	}
	if _, err := obd.Codes([]byte{3, 7, 0x30}, true); err == nil {
		t.Error("codes that are not there are counted")
	}
}

func TestFlowControls(t *testing.T) {
	for _, f := range []obd.Flow{{}, {Status: obd.Wait}, {Status: obd.Overflow}, {Block: 8, Separate: 20_000}, {Separate: 300}} {
		if got, ok := obd.FlowOf(f.Frame(1)); !ok || got != f {
			t.Errorf("%+v comes back as %+v", f, got)
		}
	}
	if _, ok := obd.FlowOf(obd.Frame{Len: 8, Data: [8]byte{0x04}}); ok {
		t.Error("a single frame is a flow control")
	}
	if _, _, err := obd.FromLine([]byte{0x48, 0x6B, 0x10, 0x41, 0x0C, 0x1A, 0xF8, 0x23}); !errors.Is(err, obd.ErrSum) {
		t.Errorf("a wrong sum: %v", err)
	}
}

// A vehicle's number on a serial line comes in five pieces, the first with one character behind three of nothing (SAE J1979, from memory); a piece that is missing is told, and so is an
// answer that has no such form.
func TestPiecesOnASerialLine(t *testing.T) {
	answer := append([]byte{obd.Vehicle + obd.Positive, 2, 1}, "XYZSTAND1N0000001"...)
	pieces, err := obd.Pieces(answer)
	if err != nil || len(pieces) != 5 || !bytes.Equal(pieces[0], []byte{0x49, 2, 1, 0, 0, 0, 'X'}) || !bytes.Equal(pieces[4][2:], []byte{5, '0', '0', '0', '1'}) {
		t.Fatalf("%q %v", pieces, err)
	}
	if back, err := obd.Joined(pieces); err != nil || !bytes.Equal(back, answer) {
		t.Errorf("%q %v", back, err)
	}
	if _, err := obd.Joined(append(pieces[:1:1], pieces[2:]...)); err == nil {
		t.Error("a missing piece is not noticed")
	}
	codes, err := obd.Pieces([]byte{0x43, 7, 0x30, 7, 0x41, 8, 0x68, 2, 0x18})
	if err != nil || len(codes) != 2 || !bytes.Equal(codes[1], []byte{0x43, 2, 0x18, 0, 0, 0, 0}) {
		t.Errorf("%x %v", codes, err)
	}
	if _, err := obd.Pieces(make([]byte, 9)); err == nil {
		t.Error("nine bytes to no service have a form")
	}
}
