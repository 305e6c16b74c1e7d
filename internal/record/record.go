// Package record writes the customer's record from its frozen content: what a layman understands first, what an expert can
// check after it. The same content makes a page that opens anywhere, a PDF and an open JSON file; none of them looks at
// anything else, so that a record comes out to the letter whenever it is written.
package record

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	"image/color"
	"strings"
	"time"

	"github.com/disintegration/imaging"

	"innercompass/core/decide"
	"innercompass/internal/casework"
)

// Files gives the file of a picture by its digest.
type Files func(digest string) ([]byte, error)

// Issued is a record with what is printed beside its content.
type Issued struct {
	casework.RecordContent
	Digest string // of the content; empty for a draft
}

// JSON is the record as an open file, with its digest.
func JSON(content []byte, digest string) ([]byte, error) {
	var b bytes.Buffer
	// Written by hand around the content as it is kept: encoding it again could change a byte, and the digest with it.
	fmt.Fprintf(&b, "{\"digest\":%q,\"content\":%s}\n", digest, content)
	if !json.Valid(b.Bytes()) {
		return nil, fmt.Errorf("record: the content is no JSON")
	}
	return b.Bytes(), nil
}

// percent never rounds doubt away: what is not certain is not written as 100 %.
func percent(p float64) string {
	switch {
	case p > 0.995 && p < 1:
		return "over 99\u00a0%"
	case p > 0 && p < 0.005:
		return "under 1\u00a0%"
	}
	return fmt.Sprintf("%.0f\u00a0%%", 100*p)
}

// noticed is the chain that ends in what the customer told, else the last; rest are the others, for the expert.
func noticed(r casework.RecordContent) (chain string, rest []string) {
	if len(r.Chain) == 0 {
		return "", nil
	}
	at := len(r.Chain) - 1
	for i, c := range r.Chain {
		for _, told := range r.Told {
			if strings.Contains(strings.ToLower(c), strings.ToLower(told.Title)) {
				at = i
			}
		}
	}
	for i, c := range r.Chain {
		if i != at {
			rest = append(rest, c)
		}
	}
	return r.Chain[at], rest
}

func amount(currency string, minor int64) string { return decide.Amount(minor).Format(currency) }

func date(t time.Time) string { return t.Format("2 January 2006") }

// hows say how a decision was given.
var hows = map[string]string{"in-person": "in person", "phone": "by telephone", "signed": "signed on the screen", "link": "by the private link"}

// howText says who decided, and how.
func howText(d casework.RecordDecision) string {
	var parts []string
	for _, x := range []string{d.Name, hows[d.How], date(d.At)} {
		if x != "" {
			parts = append(parts, x)
		}
	}
	return strings.Join(parts, ", ")
}

// sources say how a reading was come by.
var sources = map[string]string{"customer": "told by the customer", "seen": "seen", "measured": "measured"}

// results say what became of an item of the proof.
var results = map[string]string{"pass": "good", "fail": "not good", "open": "not shown yet"}

// outcomes say how a case ended.
var outcomes = map[string]string{"cured": "Cured, and proven by the items below.", "not-cured": "Not cured yet.", "declined": "Nothing was repaired: the customer declined.", "no-fault": "No fault was found."}

// Pictures on a record are made no larger than they are printed.
const (
	pictureSide    = 1100 // pixels
	pictureQuality = 82
)

// small is a picture as it is printed.
type small struct {
	jpeg       []byte
	wide, high int // pixels
}

// picture is a file as a JPEG of a size to print, the way up that the camera noted, and without what else the camera noted. It
// is a pixel narrower where its width is taken; taken may be nil.
func picture(file []byte, taken map[int]bool) (small, error) {
	src, err := imaging.Decode(bytes.NewReader(file), imaging.AutoOrientation(true))
	if err != nil {
		return small{}, err
	}
	size := src.Bounds().Size()
	scale := min(1, float64(pictureSide)/float64(max(size.X, size.Y)))
	wide, high := max(1, int(float64(size.X)*scale)), max(1, int(float64(size.Y)*scale))
	for taken[wide] && wide > 1 {
		wide--
	}
	if taken != nil {
		taken[wide] = true
	}
	if wide != size.X {
		src = imaging.Resize(src, wide, high, imaging.Linear)
	}
	if o, ok := src.(interface{ Opaque() bool }); ok && !o.Opaque() { // a PNG may be clear
		src = imaging.Overlay(imaging.New(wide, high, color.White), src, image.Point{}, 1)
	}
	var b bytes.Buffer
	err = imaging.Encode(&b, src, imaging.JPEG, imaging.JPEGQuality(pictureQuality))
	return small{b.Bytes(), wide, high}, err
}
