package obd

import (
	"bytes"
	"errors"
	"fmt"
	"slices"
)

// A message on a serial line (the form of ISO 9141-2): three bytes of head, up to seven of data, the sum of all.
const (
	askHead     byte = 0x68
	answerHead  byte = 0x48
	askTarget   byte = 0x6A
	answerTo    byte = 0x6B
	testerID    byte = 0xF1
	mostOnALine      = 7
)

// ErrSum is returned for a message whose checksum is wrong.
var ErrSum = errors.New("obd: the checksum of a message is wrong")

// Line puts a message onto a serial line, from the tester or from a module.
func Line(message []byte, module byte, answer bool) ([]byte, error) {
	if len(message) == 0 || len(message) > mostOnALine {
		return nil, fmt.Errorf("a message on a serial line has 1 to %d bytes; it has %d", mostOnALine, len(message))
	}
	out := []byte{askHead, askTarget, testerID}
	if answer {
		out = []byte{answerHead, answerTo, module}
	}
	out = append(out, message...)
	return append(out, sum(out)), nil
}

// FromLine takes one from a serial line, with its sender.
func FromLine(b []byte) (message []byte, sender byte, err error) {
	if len(b) < 5 || len(b) > mostOnALine+4 {
		return nil, 0, fmt.Errorf("a message on a serial line has 5 to %d bytes; it has %d", mostOnALine+4, len(b))
	}
	if sum(b[:len(b)-1]) != b[len(b)-1] {
		return nil, 0, ErrSum
	}
	return b[3 : len(b)-1], b[2], nil
}

// numberPieces are the messages that a vehicle's number takes on a serial line: four characters each, the first filled up with nothing before them (SAE J1979, from memory).
const (
	numberPieces = 5
	pieceChars   = 4
)

// Pieces divides an answer that is too long for a serial line: codes come three at a time, a vehicle's number in numbered pieces. It fails for what has no such form.
func Pieces(answer []byte) ([][]byte, error) {
	switch {
	case len(answer) <= mostOnALine && len(answer) > 0:
		return [][]byte{answer}, nil
	case len(answer) > 0 && (answer[0] == Stored+Positive || answer[0] == Pending+Positive):
		var out [][]byte
		for rest := answer[1:]; len(rest) > 0; rest = rest[min(6, len(rest)):] {
			piece := append([]byte{answer[0]}, rest[:min(6, len(rest))]...)
			for len(piece) < mostOnALine {
				piece = append(piece, 0)
			}
			out = append(out, piece)
		}
		return out, nil
	case len(answer) > 3 && answer[0] == Vehicle+Positive && len(answer)-3 <= numberPieces*pieceChars:
		text := make([]byte, numberPieces*pieceChars)
		copy(text[len(text)-len(answer)+3:], answer[3:])
		var out [][]byte
		for i := range numberPieces {
			out = append(out, append([]byte{answer[0], answer[1], byte(i + 1)}, text[i*pieceChars:(i+1)*pieceChars]...))
		}
		return out, nil
	}
	return nil, fmt.Errorf("an answer of %d bytes to service %02X has no form on a serial line", len(answer), first(answer)-Positive)
}

// Joined puts pieces together again: the answer as a CAN bus would bring it, but for the count of codes. It fails when a numbered piece is missing.
func Joined(pieces [][]byte) ([]byte, error) {
	if len(pieces) == 0 {
		return nil, fmt.Errorf("no answer")
	}
	out := slices.Clone(pieces[0])
	if first(out) != Vehicle+Positive {
		for _, p := range pieces[1:] {
			out = append(out, p[1:]...)
		}
		return out, nil
	}
	text := []byte{}
	for i, p := range pieces {
		if len(p) != 3+pieceChars || int(p[2]) != i+1 {
			return nil, fmt.Errorf("piece %d of the vehicle's number is missing", i+1)
		}
		text = append(text, p[3:]...)
	}
	return append(out[:3], bytes.TrimLeft(text, "\x00")...), nil
}

// Messages divides what came on a serial line without a pause: an answer of several messages has them of full length.
func Messages(b []byte) [][]byte {
	const full = mostOnALine + 4
	if len(b) <= full || len(b)%full != 0 {
		return [][]byte{b}
	}
	return slices.Collect(slices.Chunk(b, full))
}

func first(b []byte) byte {
	if len(b) == 0 {
		return 0
	}
	return b[0]
}

func sum(b []byte) byte {
	s := byte(0)
	for _, x := range b {
		s += x
	}
	return s
}
