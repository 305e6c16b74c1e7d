package recording

import (
	"bufio"
	"bytes"
	"encoding/csv"
	"errors"
	"io"
	"slices"
	"strings"
	"unicode/utf8"
)

// rows gives the rows of a table. Loggers quote nothing as a rule: a line is divided here, some three times as quickly as by encoding/csv; from
// the first quote on that reads the rest.
type rows struct {
	r    *bufio.Reader
	sep  rune
	at   int64 // of the next byte
	base int64
	slow *csv.Reader
	row  []string
}

func newRows(r io.Reader, sep rune) *rows {
	x := &rows{r: bufio.NewReaderSize(r, sniffed), sep: sep}
	if sep >= utf8.RuneSelf {
		x.slowly(nil)
	}
	return x
}

// slowly hands a line that was begun and the rest to encoding/csv.
func (x *rows) slowly(begun []byte) {
	x.base = x.at
	x.slow = csv.NewReader(io.MultiReader(bytes.NewReader(slices.Clone(begun)), x.r))
	x.slow.Comma, x.slow.FieldsPerRecord, x.slow.LazyQuotes, x.slow.TrimLeadingSpace, x.slow.ReuseRecord = x.sep, -1, true, true, true
}

// next gives the cells of a row, valid up to the following call, and the byte at which it begins; empty lines are passed over.
func (x *rows) next() (cells []string, from int64, err error) {
	for x.slow == nil {
		line, err := x.r.ReadSlice('\n')
		if errors.Is(err, bufio.ErrBufferFull) || bytes.IndexByte(line, '"') >= 0 {
			x.slowly(line)
			break
		}
		if err != nil && (err != io.EOF || len(line) == 0) {
			return nil, x.at, err
		}
		from = x.at
		x.at += int64(len(line))
		if from == 0 {
			line = bytes.TrimPrefix(line, []byte("\xef\xbb\xbf"))
		}
		line = bytes.TrimRight(line, "\r\n")
		if len(line) == 0 {
			continue
		}
		return x.divided(string(line)), from, nil
	}
	from = x.base + x.slow.InputOffset()
	cells, err = x.slow.Read()
	return cells, from, err
}

func (x *rows) divided(line string) []string {
	x.row = x.row[:0]
	for {
		i := strings.IndexByte(line, byte(x.sep))
		if i < 0 {
			x.row = append(x.row, line)
			return x.row
		}
		x.row = append(x.row, line[:i])
		line = line[i+1:]
	}
}

// tens are the powers of ten that a float64 holds exactly.
var tens = [...]float64{1e0, 1e1, 1e2, 1e3, 1e4, 1e5, 1e6, 1e7, 1e8, 1e9, 1e10, 1e11, 1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22}

// plain reads a number of digits and a decimal sign alone. Both the digits and the power of ten are exact, so their quotient is rounded once
// and is the nearest number, as strconv has it.
func plain(c string, decimal byte) (float64, bool) {
	negative := false
	if c != "" && (c[0] == '-' || c[0] == '+') {
		negative, c = c[0] == '-', c[1:]
	}
	digits, after := uint64(0), -1
	for i := range len(c) {
		switch b := c[i]; {
		case b >= '0' && b <= '9':
			digits = digits*10 + uint64(b-'0')
			if digits >= 1<<53 {
				return 0, false
			}
		case b == decimal && after < 0:
			after = len(c) - i - 1
		default:
			return 0, false
		}
	}
	if after < 0 {
		after = 0
	}
	if len(c) == 0 || len(c) == 1 && c[0] == decimal || after >= len(tens) {
		return 0, false
	}
	v := float64(digits) / tens[after]
	if negative {
		v = -v
	}
	return v, true
}
