package obd

import (
	"errors"
	"fmt"
)

// Frame is one of a CAN bus: an identifier of 11 bits, and up to 8 bytes.
type Frame struct {
	ID   uint16
	Data [8]byte
	Len  int
}

func (f Frame) String() string { return fmt.Sprintf("%03X %X", f.ID, f.Data[:f.Len]) }

// Identifiers (ISO 15765-4).
const (
	Functional  uint16 = 0x7DF // asks every module
	FirstModule uint16 = 0x7E0 // engine; the transmission is 7E1
	Answers     uint16 = 8     // what a module's answers are above its own identifier
	pad         byte   = 0xAA
	mostSingle         = 7
	mostMessage        = 4095
)

// FrameError says what is wrong with a frame.
type FrameError struct {
	Frame  Frame
	Reason string
}

func (e *FrameError) Error() string { return fmt.Sprintf("frame %s: %s", e.Frame, e.Reason) }

// ErrTooLong is returned for a message that no frames can carry.
var ErrTooLong = errors.New("obd: a message has 1 to 4095 bytes")

func frame(id uint16, head ...byte) Frame {
	f := Frame{ID: id, Len: 8}
	n := copy(f.Data[:], head)
	for i := n; i < 8; i++ {
		f.Data[i] = pad
	}
	return f
}

// Split puts a message into frames: one alone, or a first one and those that follow it, which wait for a flow control.
func Split(id uint16, message []byte) ([]Frame, error) {
	n := len(message)
	switch {
	case n == 0 || n > mostMessage:
		return nil, ErrTooLong
	case n <= mostSingle:
		return []Frame{frame(id, append([]byte{byte(n)}, message...)...)}, nil //nolint:gosec // up to seven
	}
	out := []Frame{frame(id, append([]byte{0x10 | byte(n>>8), byte(n)}, message[:6]...)...)} //nolint:gosec // up to twelve bits
	for at, count := 6, 1; at < n; at, count = at+7, count+1 {
		out = append(out, frame(id, append([]byte{0x20 | byte(count&0x0F)}, message[at:min(n, at+7)]...)...)) //nolint:gosec // four bits
	}
	return out, nil
}

// Flow is what a receiver says after a first frame.
type Flow struct {
	Status   FlowStatus
	Block    int // frames until the next flow control; 0 for all
	Separate int // µs between them, at least
}

// FlowStatus is the first half of it.
type FlowStatus byte

// The statuses.
const (
	Continue FlowStatus = iota
	Wait
	Overflow
)

// Frame makes a frame of it.
func (f Flow) Frame(id uint16) Frame {
	gap := byte(0)
	switch {
	case f.Separate >= 1000:
		gap = byte(min(f.Separate/1000, 0x7F)) //nolint:gosec // up to 127
	case f.Separate > 0:
		gap = 0xF0 + byte(max(1, min(f.Separate/100, 9))) //nolint:gosec // up to 9
	}
	return frame(id, 0x30|byte(f.Status), byte(min(f.Block, 255)), gap) //nolint:gosec // a byte
}

// FlowOf reads one; false for a frame that is none.
func FlowOf(f Frame) (Flow, bool) {
	if f.Len < 3 || f.Data[0]>>4 != 3 || f.Data[0]&0x0F > 2 {
		return Flow{}, false
	}
	out := Flow{Status: FlowStatus(f.Data[0] & 0x0F), Block: int(f.Data[1])}
	switch gap := f.Data[2]; {
	case gap <= 0x7F:
		out.Separate = int(gap) * 1000
	case gap >= 0xF1 && gap <= 0xF9:
		out.Separate = int(gap-0xF0) * 100
	default: // reserved: the longest
		out.Separate = 127_000
	}
	return out, true
}

// Join puts the frames of one sender together.
type Join struct {
	message []byte
	want    int
	next    byte
}

// Begun reports whether a first frame has come and the message is not whole: then a flow control is due, or more frames.
func (j *Join) Begun() bool { return j.want > 0 }

// Take takes a frame. It returns the message when it is whole, and whether a flow control has to be sent now. A frame out of its turn drops what was there: *FrameError.
func (j *Join) Take(f Frame) (message []byte, flow bool, err error) {
	bad := func(reason string) ([]byte, bool, error) {
		*j = Join{}
		return nil, false, &FrameError{f, reason}
	}
	if f.Len < 1 {
		return bad("it is empty")
	}
	switch f.Data[0] >> 4 {
	case 0:
		n := int(f.Data[0] & 0x0F)
		if n == 0 || n > mostSingle || n >= f.Len {
			return bad("its length does not fit it")
		}
		*j = Join{}
		return append([]byte(nil), f.Data[1:1+n]...), false, nil
	case 1:
		n := int(f.Data[0]&0x0F)<<8 | int(f.Data[1])
		if n <= mostSingle || f.Len < 8 {
			return bad("a first frame of what fits into one")
		}
		*j = Join{message: append([]byte(nil), f.Data[2:8]...), want: n, next: 1}
		return nil, true, nil
	case 2:
		if j.want == 0 {
			return bad("nothing has begun")
		}
		if f.Data[0]&0x0F != j.next {
			return bad(fmt.Sprintf("number %d, %d was due: one is lost", f.Data[0]&0x0F, j.next))
		}
		j.message = append(j.message, f.Data[1:min(f.Len, 1+j.want-len(j.message))]...)
		j.next = (j.next + 1) & 0x0F
		if len(j.message) < j.want {
			return nil, false, nil
		}
		message = j.message
		*j = Join{}
		return message, false, nil
	}
	return bad("no frame of a message")
}
