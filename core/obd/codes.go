package obd

import (
	"fmt"
	"strconv"
	"strings"
)

// Code is a trouble code in its two bytes.
type Code uint16

// String is the code as it is written: a letter and four digits, such as P0730 (SAE J2012: the two upper bits say P, C, B or U).
func (c Code) String() string {
	return fmt.Sprintf("%c%04X", "PCBU"[c>>14], uint16(c)&0x3FFF)
}

// ParseCode reads one as it is written. It fails for what has another form.
func ParseCode(text string) (Code, error) {
	t := strings.ToUpper(strings.TrimSpace(text))
	if len(t) != 5 {
		return 0, fmt.Errorf("%q is no code; accepted: a letter P, C, B or U and four digits, such as P0730", text)
	}
	letter := strings.IndexByte("PCBU", t[0])
	n, err := strconv.ParseUint(t[1:], 16, 16)
	if letter < 0 || err != nil || n > 0x3FFF {
		return 0, fmt.Errorf("%q is no code; accepted: a letter P, C, B or U and four digits, such as P0730", text)
	}
	return Code(uint64(letter)<<14 | n), nil //nolint:gosec // sixteen bits
}

// Codes reads an answer to service 03, 07 or 0A, after its first byte: on a CAN bus their count comes first, on a serial line three pairs come at a time, filled up with nothing.
func Codes(body []byte, counted bool) ([]Code, error) {
	if counted {
		if len(body) == 0 {
			return nil, fmt.Errorf("an answer of codes without their count")
		}
		if n := int(body[0]); len(body) < 1+2*n {
			return nil, fmt.Errorf("an answer of %d codes has %d bytes", n, len(body))
		}
		body = body[1 : 1+2*int(body[0])]
	}
	var out []Code
	for i := 0; i+1 < len(body); i += 2 {
		if c := Code(body[i])<<8 | Code(body[i+1]); c != 0 {
			out = append(out, c)
		}
	}
	return out, nil
}

// PutCodes is the body of such an answer.
func PutCodes(codes []Code, counted bool) []byte {
	var out []byte
	if counted {
		out = append(out, byte(len(codes))) //nolint:gosec // a module keeps some dozens
	}
	for _, c := range codes {
		out = append(out, byte(c>>8), byte(c))
	}
	for !counted && len(out) < 6 {
		out = append(out, 0)
	}
	return out
}
