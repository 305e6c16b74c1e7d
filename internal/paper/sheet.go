package paper

import (
	"context"
	"fmt"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"github.com/go-fonts/dejavu/dejavusans"
	"github.com/go-fonts/dejavu/dejavusansbold"
)

// Measures of a page, in millimetres and points.
const (
	margin   = 18.0
	foot     = 16.0
	textSize = 10.0
	smallest = 8.0
	lineMM   = 4.9
	family   = "DejaVu"
)

// sheet lays the record out. Its helpers take text and keep what belongs together on one page.
type sheet struct {
	*fpdf.Fpdf
	ctx   context.Context //nolint:containedctx // a sheet lives as long as one call of PDF
	width float64         // of the text
	foot  [2]string
	issue Issued
	files Files
	err   error
	// The PDF library orders pictures by their width and leaves those of one width to chance: each has a width of its own, so
	// that the same record makes the same bytes.
	widths map[int]bool
}

// newSheet is an empty document with its fonts, and at the foot of each page two lines.
func newSheet(ctx context.Context, paper string, at time.Time, title, author, foot1, foot2 string) *sheet {
	f := fpdf.New("P", "mm", paper, "")
	f.SetCatalogSort(true)
	f.SetCreationDate(at)
	f.SetModificationDate(at)
	f.SetTitle(printable(title), true)
	f.SetAuthor(printable(author), true)
	f.SetProducer("Inner Compass", true)
	f.AddUTF8FontFromBytes(family, "", dejavusans.TTF)
	f.AddUTF8FontFromBytes(family, "B", dejavusansbold.TTF)
	f.SetMargins(margin, margin, margin)
	f.SetAutoPageBreak(true, foot+6)
	f.SetCellMargin(0)
	f.AliasNbPages("")
	page, _ := f.GetPageSize()
	s := &sheet{Fpdf: f, ctx: ctx, width: page - 2*margin, foot: [2]string{foot1, foot2}, widths: map[int]bool{}}
	f.SetFooterFunc(s.footer)
	f.AddPage()
	return s
}

func (s *sheet) footer() {
	s.SetY(-foot)
	s.font("", smallest)
	s.ink(0x56, 0x62, 0x6b)
	s.CellFormat(s.width-24, 4, s.foot[0], "", 0, "L", false, 0, "")
	s.CellFormat(24, 4, fmt.Sprintf("page %d of {nb}", s.PageNo()), "", 1, "R", false, 0, "")
	s.CellFormat(s.width, 4, s.foot[1], "", 0, "L", false, 0, "") // a line of its own: it is nearly as wide as the page
	s.ink(0x1c, 0x26, 0x2d)
}

func (s *sheet) font(style string, size float64) { s.SetFont(family, style, size) }
func (s *sheet) ink(r, g, b int)                 { s.SetTextColor(r, g, b) }

// room begins a page when fewer than so many millimetres are left on this one.
func (s *sheet) room(mm float64) {
	_, height := s.GetPageSize()
	if s.GetY()+mm > height-foot-6 {
		s.AddPage()
	}
}

func (s *sheet) title(text string) {
	s.room(22)
	s.Ln(3.5)
	s.font("B", 11.5)
	s.MultiCell(s.width, 5.4, text, "B", "L", false)
	s.Ln(1.2)
	s.font("", textSize)
}

func (s *sheet) text(style string, size float64, text string) {
	s.font(style, size)
	s.MultiCell(s.width, size*0.49, text, "", "L", false)
	s.font("", textSize)
}

func (s *sheet) quiet(text string) {
	s.ink(0x56, 0x62, 0x6b)
	s.text("", smallest+0.5, text)
	s.ink(0x1c, 0x26, 0x2d)
}

func (s *sheet) bullets(items []string) {
	for _, x := range items {
		s.room(lineMM)
		s.CellFormat(4, lineMM, "•", "", 0, "L", false, 0, "")
		s.MultiCell(s.width-4, lineMM, x, "", "L", false)
	}
}

// warned is text on a tinted ground, for what can hurt.
func (s *sheet) warned(items []string) {
	s.SetFillColor(0xf7, 0xe6, 0xe4)
	for _, x := range items {
		s.room(2 * lineMM)
		s.MultiCell(s.width, lineMM+0.8, "! "+x, "", "L", true)
	}
}

// column of a table: its share of the width, right-aligned or not.
type column struct {
	head  string
	share float64
	right bool
}

type tableRow struct {
	bold  bool
	cells []string
}

func (s *sheet) table(columns []column, rows []tableRow) {
	const size, line, gap = 9.0, 4.3, 4.0
	draw := func(cells []string, style string, grey bool) {
		s.font(style, size)
		high := 1
		split := make([][]string, len(cells))
		for i, c := range cells {
			split[i] = s.SplitText(c, columns[i].share*s.width-gap)
			high = max(high, len(split[i]))
		}
		s.room(float64(high)*line + 1.6)
		if grey {
			s.ink(0x56, 0x62, 0x6b)
		}
		x, y := s.GetXY()
		for i, c := range columns {
			align := "L"
			if c.right {
				align = "R"
			}
			for k, text := range split[i] {
				s.SetXY(x, y+float64(k)*line)
				s.CellFormat(c.share*s.width-gap, line, text, "", 0, align, false, 0, "")
			}
			x += c.share * s.width
		}
		bottom := y + float64(high)*line + 0.8
		s.SetDrawColor(0xdd, 0xd8, 0xcd)
		s.Line(margin, bottom, margin+s.width, bottom)
		s.SetDrawColor(0, 0, 0)
		s.SetXY(margin, bottom+0.8)
		s.ink(0x1c, 0x26, 0x2d)
	}
	heads := make([]string, len(columns))
	for i, c := range columns {
		heads[i] = c.head
	}
	draw(heads, "", true)
	for _, r := range rows {
		style := ""
		if r.bold {
			style = "B"
		}
		draw(r.cells, style, false)
	}
	s.font("", textSize)
}

func joined(between string, parts ...string) string {
	var out []string
	for _, p := range parts {
		if p != "" {
			out = append(out, p)
		}
	}
	return strings.Join(out, between)
}
