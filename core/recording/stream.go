package recording

import (
	"bufio"
	"bytes"
	"compress/gzip"
	"errors"
	"io"
)

// Stream gives a recording block by block, in bounded memory.
type Stream interface {
	Columns() []Column
	Rate() float64 // samples a second; 0 when each row has its time
	// Read fills at, unless there is a rate, and values by channel, all of one length. It returns how many moments it read; io.EOF after the last.
	Read(at []float64, values [][]float64) (int, error)
	Told() Told
}

// Kind is what a recording was brought as.
type Kind string

// The kinds.
const (
	IsTable Kind = "table"
	IsSound Kind = "sound"
)

// Opened is what a recording is.
type Opened struct {
	Stream
	Kind   Kind
	Packed bool    // by gzip
	Layout *Layout // of a table
	Format *Format // of sound
}

// Open finds what a recording is from how it begins: sound as WAV, a table of any layout, either of them packed by gzip. choose may answer
// another layout than the one that was found; nil takes that one.
func Open(r io.Reader, choose func(Layout) Layout) (Opened, error) {
	b := bufio.NewReaderSize(r, sniffed)
	begin, err := b.Peek(4)
	if err != nil && err != io.EOF {
		return Opened{}, err
	}
	if len(begin) == 0 {
		return Opened{}, &Error{Byte: -1, Reason: "the file is empty", Accepted: acceptedFile}
	}
	if bytes.HasPrefix(begin, []byte{0x1f, 0x8b}) {
		z, err := gzip.NewReader(b)
		if err != nil {
			return Opened{}, &Error{Byte: 0, Reason: "it begins as if packed, but is not: " + err.Error(), Accepted: acceptedFile}
		}
		o, err := open(bufio.NewReaderSize(unpacked{z}, sniffed), choose)
		o.Packed = true
		return o, err
	}
	return open(b, choose)
}

const acceptedFile = "a table as text, or sound as WAV, either of them packed by gzip or not"

// unpacked says in words what is wrong with a packed file.
type unpacked struct{ z *gzip.Reader }

func (u unpacked) Read(p []byte) (int, error) {
	n, err := u.z.Read(p)
	if errors.Is(err, gzip.ErrChecksum) || errors.Is(err, gzip.ErrHeader) || errors.Is(err, io.ErrUnexpectedEOF) {
		err = &Error{Byte: -1, Reason: "the packed file is damaged or cut off: " + err.Error(), Accepted: "the whole file"}
	}
	return n, err
}

func open(b *bufio.Reader, choose func(Layout) Layout) (Opened, error) {
	begin, err := b.Peek(sniffed)
	if err != nil && err != io.EOF && len(begin) == 0 {
		return Opened{}, err
	}
	if len(begin) == 0 {
		return Opened{}, &Error{Byte: -1, Reason: "there is nothing in it", Accepted: acceptedFile}
	}
	if bytes.HasPrefix(begin, []byte("RIFF")) || bytes.HasPrefix(begin, []byte("RF64")) {
		s, err := NewSound(b)
		if err != nil {
			return Opened{}, err
		}
		return Opened{Stream: s, Kind: IsSound, Format: &s.Format}, nil
	}
	l, err := Sniff(begin)
	if err != nil {
		return Opened{}, err
	}
	if choose != nil {
		l = choose(l)
	}
	t, err := NewTable(b, l)
	if err != nil {
		return Opened{}, err
	}
	return Opened{Stream: t, Kind: IsTable, Layout: &l}, nil
}
