package scan

import (
	"context"
	"errors"
	"net"
	"os"
	"time"

	"innercompass/core/obd"
)

// line is a link over a serial line: one message at a time, each closed by its sum and a pause.
type line struct{ c net.Conn }

// OverLine makes a link of a serial line. Answers of several messages are put together.
func OverLine(c net.Conn) Link { return line{c} }

func (l line) Counted() bool { return false }
func (l line) Several() bool { return false }
func (l line) Close() error  { return l.c.Close() }

// byteGap is the longest pause inside a message, and lineTime the longest until an answer begins (ISO 9141-2, from memory: 20 and 50 ms).
const (
	byteGap  = 20 * time.Millisecond
	lineTime = 60 * time.Millisecond
)

func (l line) Ask(ctx context.Context, module uint16, request []byte) ([]byte, error) {
	b, err := obd.Line(request, 0, false)
	if err != nil {
		return nil, err
	}
	if _, err := l.c.Write(b); err != nil {
		return nil, err
	}
	want := byte(0x10 + module - obd.FirstModule) //nolint:gosec // one of eight
	for {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		came, err := l.message()
		if err != nil {
			return nil, err
		}
		var pieces [][]byte
		for _, message := range obd.Messages(came) {
			body, sender, err := obd.FromLine(message)
			if err != nil {
				return nil, err
			}
			if module == obd.Functional || sender == want {
				pieces = append(pieces, body)
			}
		}
		if len(pieces) == 0 {
			continue
		}
		body, err := obd.Joined(pieces)
		if err != nil {
			return nil, &AnswerError{Service: request[0], Got: pieces[0][0]}
		}
		answer, err := checked(request[0], body)
		var no *obd.RefusedError
		if errors.As(err, &no) && no.Reason == obd.Pausing {
			continue
		}
		return answer, err
	}
}

// message reads bytes until the line is quiet.
func (l line) message() ([]byte, error) {
	var out []byte
	wait := lineTime
	for {
		if err := l.c.SetReadDeadline(time.Now().Add(wait)); err != nil {
			return nil, err
		}
		var b [16]byte
		n, err := l.c.Read(b[:])
		out = append(out, b[:n]...)
		switch {
		case errors.Is(err, os.ErrDeadlineExceeded) && len(out) > 0:
			return out, nil
		case errors.Is(err, os.ErrDeadlineExceeded):
			return nil, ErrSilent
		case err != nil:
			return nil, err
		}
		wait = byteGap
	}
}
