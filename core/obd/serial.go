package obd

import (
	"errors"
	"fmt"
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

func sum(b []byte) byte {
	s := byte(0)
	for _, x := range b {
		s += x
	}
	return s
}
