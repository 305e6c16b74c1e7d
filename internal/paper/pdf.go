package paper

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"strconv"
	"strings"

	"codeberg.org/go-pdf/fpdf"

	"innercompass/core/money"
	"innercompass/internal/records"
)

// Papers that a record is printed on.
var Papers = []string{"A4", "Letter"}

// PDF writes the record as pages of a paper, with its fonts inside and its text to be selected. The same record makes the
// same bytes.
func PDF(ctx context.Context, w io.Writer, r Issued, files Files, paper string) error {
	digest := "draft, not issued"
	if r.Digest != "" {
		digest = "SHA-256 " + r.Digest
		if r.KeyID != "" {
			digest += " · key " + r.KeyID
		}
	}
	s := newSheet(ctx, paper, r.At, "Record "+r.Number+": "+r.Vehicle, r.Shop, "Record "+r.Number, digest)
	s.issue, s.files = r, files
	s.head()
	s.findings()
	s.choices()
	s.ending()
	if s.err != nil {
		return s.err
	}
	return s.Output(w)
}

func (s *sheet) head() {
	r := s.issue
	s.font("B", textSize+1)
	s.CellFormat(s.width/2, 5, r.Shop, "", 0, "L", false, 0, "")
	s.font("", textSize-1)
	s.ink(0x56, 0x62, 0x6b)
	s.CellFormat(s.width/2, 5, "Record "+r.Number+" · "+r.Date(r.At), "", 1, "R", false, 0, "")
	if r.Address != "" {
		s.MultiCell(s.width, 4.2, r.Address, "", "L", false)
	}
	s.ink(0x1c, 0x26, 0x2d)
	s.Ln(4)
	if r.Digest == "" {
		s.warned([]string{"A draft: it was not issued."})
	}
	if r.Amends != "" {
		s.warned([]string{"Amends record " + r.Amends + ": " + r.Why})
	}
	name := r.Vehicle
	if r.Words != "" {
		name = "“" + r.Words + "”"
	}
	s.text("B", 17, name)
	s.Ln(1)
	s.text("", textSize, joined(" · ", r.Vehicle, r.Distance, r.UnitName, r.Customer))
}

func (s *sheet) findings() {
	r := s.issue
	if r.Root != nil {
		s.title("What is wrong")
		s.text("B", 13, r.Root.Title)
		if r.Root.Confirmed {
			s.text("", textSize, "Confirmed when it was repaired.")
		} else {
			s.text("", textSize, fmt.Sprintf("This is %s: %s.", r.Root.Sure, percent(r.Root.Probability)))
		}
	}
	if chain, _ := noticed(r.RecordContent); chain != "" {
		s.text("", textSize, "How it comes to what was noticed: "+chain+".")
	}
	if len(r.Damages) > 0 {
		var all []string
		for _, d := range r.Damages {
			how := "found"
			if !d.Confirmed {
				how = d.Sure + ", " + percent(d.Probability)
			}
			all = append(all, d.Title+" ("+how+")")
		}
		s.text("", textSize, "What it damaged: "+strings.Join(all, "; ")+".")
	}
	if len(r.NoRoot) > 0 {
		s.warned([]string{"Damaged, and what brought it about is not found: " + strings.Join(r.NoRoot, ", ") + ". Until it is, the repair may not last."})
	}
	if len(r.Told) > 0 {
		s.title("What we were told")
		var told []string
		for _, x := range r.Told {
			told = append(told, x.Title+": "+withValue(x))
		}
		s.bullets(told)
	}
	if len(r.Verified) > 0 {
		s.title("What we found out")
		var rows []tableRow
		for _, x := range r.Verified {
			rows = append(rows, tableRow{!x.Normal, []string{x.Title, withValue(x), joined(", ", sources[x.How], x.By)}})
		}
		s.table([]column{{"what", 0.42, false}, {"result", 0.36, false}, {"how", 0.22, false}}, rows)
	}
	if len(r.Measured) > 0 {
		s.title("Measurements")
		var rows []tableRow
		for _, m := range r.Measured {
			rows = append(rows, tableRow{false, []string{joined(", ", m.Title, m.Gauge), m.Value, m.Says}})
		}
		s.table([]column{{"measurement", 0.36, false}, {"value", 0.22, true}, {"what it says", 0.42, false}}, rows)
	}
	s.pictures()
}

func withValue(x records.RecordReading) string {
	if x.Value == "" {
		return x.Words
	}
	return x.Words + " (" + x.Value + ")"
}

// pictures stand two abreast, each with its caption.
func (s *sheet) pictures() {
	if len(s.issue.Photos) == 0 {
		return
	}
	s.title("Pictures")
	const gap, tallest = 6.0, 95.0
	wide := (s.width - gap) / 2
	for i := 0; i < len(s.issue.Photos); i += 2 {
		pair := s.issue.Photos[i:min(i+2, len(s.issue.Photos))]
		var made []printed
		tall := 0.0
		for _, p := range pair {
			m, err := pictureOf(s.ctx, s.files, p, s.widths)
			if err != nil {
				s.err = err
				return
			}
			made = append(made, m)
			tall = max(tall, min(tallest, wide*float64(m.Height)/float64(m.Width)))
		}
		s.room(tall + 10)
		x, y := margin, s.GetY()
		for k, m := range made {
			high := min(tall, wide*float64(m.Height)/float64(m.Width))
			if m.missing {
				s.Rect(x, y, high*float64(m.Width)/float64(m.Height), high, "D")
				s.SetXY(x+3, y+3)
				s.MultiCell(wide-6, 3.8, "This picture is missing.", "", "L", false)
			} else {
				name := pair[k].Digest + strconv.Itoa(i+k)
				s.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "JPG"}, bytes.NewReader(m.JPEG))
				s.ImageOptions(name, x, y, high*float64(m.Width)/float64(m.Height), high, false, fpdf.ImageOptions{ImageType: "JPG"}, 0, "")
			}
			s.SetXY(x, y+high+0.8)
			s.font("", smallest+0.5)
			s.MultiCell(wide, 3.8, pair[k].Caption, "", "L", false)
			x += wide + gap
		}
		s.SetXY(margin, y+tall+9)
	}
	s.font("", textSize)
}

func (s *sheet) choices() {
	r := s.issue
	if len(r.Options) > 0 {
		s.title("What can be done")
		var rows []tableRow
		for _, o := range r.Options {
			name, pay := o.Title, r.Amount(o.Pay)
			advised := o.Title == r.Advised
			if advised {
				name += " (advised)"
			}
			if o.Hazard != "" {
				name += "\nLeaves a hazard: " + o.Hazard
			}
			if len(o.Missing) > 0 {
				pay = "not priced"
			}
			rows = append(rows, tableRow{advised, []string{name, pay, percent(o.Cured), r.Amount(int64(money.Of(o.Expected)))}})
		}
		head := "to pay"
		if r.TaxRate > 0 {
			head = "to pay, with tax"
		}
		s.table([]column{{"option", 0.46, false}, {head, 0.2, true}, {"cured in", 0.14, true}, {"expected in all", 0.2, true}}, rows)
		s.quiet("Expected in all: what is paid now and the average cost of coming back. " + r.BreakEven)
	}
	if len(r.Decisions) > 0 {
		s.title("What was decided")
		for _, d := range r.Decisions {
			s.decision(d)
		}
	}
	if len(r.Cautions) > 0 {
		s.title("If it is driven on")
		s.warned(r.Cautions)
	}
}

func (s *sheet) decision(d records.RecordDecision) {
	s.room(30)
	word := map[string]string{"accepted": "Agreed", "declined": "Declined"}[d.Choice]
	line := word + ": " + joined(", with ", append([]string{d.Title}, d.AddOns...)...)
	if d.Pay > 0 {
		line += " · " + s.issue.Amount(d.Pay)
	}
	s.text("B", textSize, line)
	shop := ""
	if d.By != "" {
		shop = "for the shop " + d.By
	}
	if d.Signed != "" {
		shop += ", countersigned by " + d.Signed
	}
	s.quiet(joined("; ", s.issue.How(d), shop))
	if d.Said != "" {
		s.text("", textSize, "The customer said: “"+d.Said+"”")
	}
	if d.Ceiling != "" {
		s.text("", textSize, "Ceiling named: "+d.Ceiling)
	}
	s.signature(d.Signature)
}

// signature draws strokes of a grid of 1000 by 400.
func (s *sheet) signature(strokes string) {
	if strokes == "" {
		return
	}
	const scale = 0.055 // millimetres
	s.room(26)
	x0, y0 := margin, s.GetY()+1
	s.SetLineWidth(0.35)
	s.SetLineCapStyle("round")
	for _, stroke := range strings.Split(strokes, "M")[1:] {
		var from [2]float64
		for i, point := range strings.Split(stroke, "L") {
			var to [2]float64
			if _, err := fmt.Sscan(point, &to[0], &to[1]); err != nil {
				continue // checked when it was taken
			}
			if i > 0 {
				s.Line(x0+from[0]*scale, y0+from[1]*scale, x0+to[0]*scale, y0+to[1]*scale)
			}
			from = to
		}
	}
	s.SetLineWidth(0.2)
	s.Line(x0, y0+400*scale, x0+1000*scale, y0+400*scale)
	s.SetXY(margin, y0+400*scale+2)
}

func (s *sheet) ending() {
	r := s.issue
	if r.Work != "" || r.Outcome != "" || len(r.Renewed) > 0 {
		s.title("What was done")
		if r.Work != "" {
			s.text("", textSize, r.Work)
		}
		if len(r.Renewed) > 0 {
			s.text("", textSize, "Renewed: "+strings.Join(r.Renewed, ", ")+".")
		}
		if r.Outcome != "" {
			s.text("B", textSize, outcomes[r.Outcome])
		}
		var rows []tableRow
		for _, p := range r.Proof {
			rows = append(rows, tableRow{p.Result == "fail", []string{p.Title, joined(": ", results[p.Result], p.Note)}})
		}
		s.table([]column{{"proof", 0.64, false}, {"result", 0.36, false}}, rows)
	}
	if r.Recheck != "" {
		s.text("", textSize, "To be looked at again: "+r.Recheck+".")
	}
	if r.Parts != "" {
		s.title("Old parts")
		s.text("", textSize, r.Parts)
	}
	if r.Warranty != "" {
		s.title("Warranty")
		s.text("", textSize, r.Warranty)
	}
	if len(r.Glossary) > 0 {
		s.title("Words")
		var all []string
		for _, t := range r.Glossary {
			all = append(all, t.Term+": "+t.Means)
		}
		s.text("", textSize-1, strings.Join(all, " · ")+".")
	}
	if len(r.Suspects) > 0 {
		s.title("For the expert")
		s.font("", textSize-1)
		_, rest := noticed(r.RecordContent)
		s.bullets(rest)
		var all []string
		for _, x := range r.Suspects {
			all = append(all, x.Title+" "+percent(x.Probability))
		}
		s.text("", textSize-1, "Suspects: "+strings.Join(all, "; ")+".")
	}
	left := ""
	if len(r.LeftOut) > 0 {
		left = " Left out of this copy: " + strings.Join(r.LeftOut, ", ") + "."
	}
	s.Ln(2)
	s.quiet(fmt.Sprintf("%s Unit sheet %s version %d, knowledge %s.%s", r.Limits, r.Unit, r.UnitVer, r.Knowledge, left))
	s.room(30)
	s.Ln(16)
	half := s.width/2 - 8
	y := s.GetY()
	s.Line(margin, y, margin+half, y)
	s.Line(margin+half+16, y, margin+s.width, y)
	s.font("", textSize-1)
	s.CellFormat(half+16, 5, joined(", ", r.By, "for the shop"), "", 0, "L", false, 0, "")
	s.CellFormat(half, 5, "Customer, date", "", 1, "L", false, 0, "")
}
