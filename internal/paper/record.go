// Package record writes the customer's record from its frozen content: what a layman understands first, what an expert can
// check after it. The same content makes a page that opens anywhere, a PDF and an open JSON file; none of them looks at
// anything else, so that a record comes out to the letter whenever it is written.
package paper

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"
	"time"

	"innercompass/core/money"
	"innercompass/core/quantity"
	"innercompass/internal/picture"
	"innercompass/internal/records"
)

// Files gives the file of a picture by its digest.
type Files func(digest string) ([]byte, error)

// Issued is a record with what is printed beside its content.
type Issued struct {
	records.RecordContent
	Digest string // of the content; empty for a draft
	KeyID  string // of the shop's key that it is signed with; empty when it was issued before there was one
}

// JSON is the record as an open file, with its digest and its signature; nil when it has none.
func JSON(content []byte, digest string, signature *records.Signature) ([]byte, error) {
	var b bytes.Buffer
	// Written by hand around the content as it is kept: encoding it again could change a byte, and the digest with it.
	fmt.Fprintf(&b, "{\"digest\":%q,", digest)
	if signature != nil {
		data, err := json.Marshal(signature)
		if err != nil {
			return nil, err
		}
		fmt.Fprintf(&b, "\"signature\":%s,", data)
	}
	fmt.Fprintf(&b, "\"content\":%s}\n", content)
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
func noticed(r records.RecordContent) (chain string, rest []string) {
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

// Amount writes money as the shop wrote numbers when the record was made.
func (r Issued) Amount(minor int64) string {
	style, _ := quantity.FindStyle(r.Numbers)
	return money.Amount(minor).In(style, r.Currency)
}

// Date writes the day that a moment fell on where the shop is; records of before the setting tell days in UTC.
func (r Issued) Date(t time.Time) string {
	zone, err := time.LoadLocation(r.Zone)
	if err != nil {
		zone = time.UTC
	}
	return t.In(zone).Format("2 January 2006")
}

// hows say how a decision was given.
var hows = map[string]string{"in-person": "in person", "phone": "by telephone", "signed": "signed on the screen", "link": "by the private link"}

// How says who decided, and how.
func (r Issued) How(d records.RecordDecision) string {
	var parts []string
	for _, x := range []string{d.Name, hows[d.How], r.Date(d.At)} {
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

// printed is a picture of a record as it is printed; what is missing or cannot be read leaves its place empty, so that a record
// can be opened whatever became of a file.
type printed struct {
	picture.Small
	missing bool
}

// pictureOf reads a picture for the page. It is a pixel narrower where its width is taken; taken may be nil.
func pictureOf(ctx context.Context, files Files, p records.RecordPhoto, taken map[int]bool) (printed, error) {
	file, err := files(p.Digest)
	if err == nil {
		var small picture.Small
		small, err = picture.Fit(ctx, file, pictureQuality, func(w, h int) (int, int) {
			scale := min(1, float64(pictureSide)/float64(max(w, h)))
			w, h = max(1, int(float64(w)*scale)), max(1, int(float64(h)*scale))
			for taken[w] && w > 1 {
				w--
			}
			if taken != nil {
				taken[w] = true
			}
			return w, h
		})
		if err == nil {
			return printed{Small: small}, nil
		}
	}
	if ctx.Err() != nil {
		return printed{}, ctx.Err()
	}
	return printed{picture.Small{Width: 4, Height: 3}, true}, nil
}

// Check renders a record in all its forms, so that none is issued that cannot be opened.
func Check(ctx context.Context, r records.RecordContent, files Files) error {
	issued := Issued{RecordContent: r}
	return errors.Join(HTML(ctx, io.Discard, issued, files), PDF(ctx, io.Discard, issued, files, Papers[0]))
}
