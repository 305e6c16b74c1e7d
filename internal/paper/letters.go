package paper

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"sync"

	"github.com/go-fonts/dejavu/dejavusans"
	"github.com/go-fonts/dejavu/dejavusansbold"
	"golang.org/x/image/font/sfnt"

	"innercompass/internal/records"
)

// fonts are those of the pages, to ask which characters they have.
var fonts = sync.OnceValue(func() []*sfnt.Font {
	var out []*sfnt.Font
	for _, ttf := range [][]byte{dejavusans.TTF, dejavusansbold.TTF} {
		f, err := sfnt.Parse(ttf)
		if err != nil {
			panic(fmt.Sprintf("record: a font that the app ships cannot be read: %v", err)) // our bug
		}
		out = append(out, f)
	}
	return out
})

// has reports whether the pages can print a character: both fonts have it, and it is one of those that the PDF writer knows.
func has(r rune) bool {
	if r == '\n' || r == '\t' || r == '\r' {
		return true
	}
	if r < ' ' || r > 0xffff || r >= 0xd800 && r <= 0xdfff || rightToLeft(r) {
		return false
	}
	var b sfnt.Buffer
	for _, f := range fonts() {
		if i, err := f.GlyphIndex(&b, r); err != nil || i == 0 {
			return false
		}
	}
	return true
}

// rightToLeft are letters that the font may have but that the PDF writer would set in the wrong order and shape.
func rightToLeft(r rune) bool {
	return r >= 0x0590 && r <= 0x08ff || r >= 0xfb1d && r <= 0xfdff || r >= 0xfe70 && r <= 0xfeff
}

// silent are characters that only change how their neighbours look.
func silent(r rune) bool { return r == 0x200d || r >= 0xfe00 && r <= 0xfe0f }

// box stands for a character that cannot be printed.
const box = '□'

// printable is a text as the pages print it.
func printable(text string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case has(r):
			return r
		case silent(r):
			return -1
		}
		return box
	}, text)
}

// parts of a record, in words.
var parts = map[string]string{"shop": "the name of the shop", "address": "the address of the shop", "currency": "the currency", "words": "the complaint", "vehicle": "the vehicle", "customer": "the name of the customer",
	"by": "who issues it", "why": "the reason for the amendment", "told": "what was told", "verified": "a reading", "measured": "a measurement", "photos": "a caption", "decisions": "a decision", "parts": "the old parts",
	"work": "the work", "warranty": "the warranty", "proof": "the proof", "recheck": "the recheck", "options": "an option"}

// Unprintable says what the PDF of a record cannot show as it is: characters that its font does not have, and pictures that are
// missing. It is empty when all of it can be printed.
func Unprintable(r records.RecordContent, files Files) ([]string, error) {
	data, err := json.Marshal(r)
	if err != nil {
		return nil, err
	}
	var all map[string]any
	if err := json.Unmarshal(data, &all); err != nil {
		return nil, err
	}
	var out []string
	for key, value := range all {
		var odd []string
		walk(value, func(text string) {
			for _, c := range text {
				if s := string(c); !has(c) && !silent(c) && !slices.Contains(odd, s) {
					odd = append(odd, s)
				}
			}
		})
		if len(odd) > 0 {
			where := parts[key]
			if where == "" {
				where = strings.ReplaceAll(key, "_", " ")
			}
			out = append(out, fmt.Sprintf("%s in %s is printed as %c", strings.Join(odd, " "), where, box))
		}
	}
	slices.Sort(out)
	for _, p := range r.Photos {
		if _, err := files(p.Digest); err != nil {
			out = append(out, fmt.Sprintf("the picture %q is missing; its place stays empty", p.Caption))
		}
	}
	return out, nil
}

func walk(value any, visit func(text string)) {
	switch v := value.(type) {
	case string:
		visit(v)
	case []any:
		for _, x := range v {
			walk(x, visit)
		}
	case map[string]any:
		for _, x := range v {
			walk(x, visit)
		}
	}
}

// CellFormat and MultiCell are the ways in which text gets onto a page: what the font does not have would end the PDF writer.
func (s *sheet) CellFormat(w, h float64, text, border string, ln int, align string, fill bool, link int, linkText string) {
	s.Fpdf.CellFormat(w, h, printable(text), border, ln, align, fill, link, linkText)
}

func (s *sheet) MultiCell(w, h float64, text, border, align string, fill bool) {
	s.Fpdf.MultiCell(w, h, printable(text), border, align, fill)
}
