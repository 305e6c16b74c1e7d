// Package scan reads a vehicle's modules through an adapter: what they support, current values, codes, the vehicle's number; and clears codes. It keeps to the protocol's own
// times, asks again what was lost or busy, and says what a module refuses. The adapter is whatever carries frames: a socket here, a real bus behind the same interface elsewhere.
package scan

import (
	"context"
	"errors"
	"io"
	"net"
	"time"

	"innercompass/core/obd"
)

// Times of the protocol (ISO 15765-4, from memory).
const (
	answerTime = 50 * time.Millisecond  // until the first answer
	pauseTime  = 5 * time.Second        // after a module has said that it works on it
	frameTime  = 150 * time.Millisecond // between frames of a message: the standard's second would hold up everything else when one is lost
)

// ErrSilent is returned when no module answers in time.
var ErrSilent = errors.New("scan: no answer in time")

// Bus carries frames.
type Bus interface {
	Send(f obd.Frame) error
	// Receive waits for a frame until a time; os.ErrDeadlineExceeded when none came.
	Receive(until time.Time) (obd.Frame, error)
	Close() error
}

// Link carries whole messages to a module and its answer back.
type Link interface {
	// Ask sends a request and returns the answer of one module, after its service's byte has been checked. It fails with *obd.RefusedError for a no.
	Ask(ctx context.Context, module uint16, request []byte) ([]byte, error)
	// Counted reports whether codes come with their count.
	Counted() bool
	// Several reports whether one request may ask for several values.
	Several() bool
	Close() error
}

// socket carries frames over a connection, each as 12 bytes: identifier, length, data, the sum of those.
type socket struct{ c net.Conn }

// Frames makes a bus of a connection.
func Frames(c net.Conn) Bus { return socket{c} }

// packet is the size of a frame on a connection.
const packet = 12

// Pack is a frame as it goes over a connection.
func Pack(f obd.Frame) [packet]byte {
	var b [packet]byte
	b[0], b[1], b[2] = byte(f.ID>>8), byte(f.ID), byte(f.Len) //nolint:gosec // 8 at most
	copy(b[3:11], f.Data[:])
	for _, x := range b[:11] {
		b[11] += x
	}
	return b
}

// ErrBroken is returned for a frame whose sum is wrong.
var ErrBroken = errors.New("scan: a frame came broken")

// Unpack takes one.
func Unpack(b [packet]byte) (obd.Frame, error) {
	s := byte(0)
	for _, x := range b[:11] {
		s += x
	}
	if s != b[11] || b[2] > 8 {
		return obd.Frame{}, ErrBroken
	}
	f := obd.Frame{ID: uint16(b[0])<<8 | uint16(b[1]), Len: int(b[2])}
	copy(f.Data[:], b[3:11])
	return f, nil
}

func (s socket) Send(f obd.Frame) error {
	b := Pack(f)
	if err := s.c.SetWriteDeadline(time.Now().Add(frameTime)); err != nil {
		return err
	}
	_, err := s.c.Write(b[:])
	return err
}

func (s socket) Receive(until time.Time) (obd.Frame, error) {
	if err := s.c.SetReadDeadline(until); err != nil {
		return obd.Frame{}, err
	}
	var b [packet]byte
	if _, err := io.ReadFull(s.c, b[:]); err != nil {
		return obd.Frame{}, err
	}
	return Unpack(b)
}

func (s socket) Close() error { return s.c.Close() }
