package decide

import (
	"strings"

	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/pricebook"
	"innercompass/core/unitsheet"
)

// Kinds of line, in the order of an estimate.
const (
	Access      = "access"
	Labour      = "labour"
	Parts       = "parts"
	Fluid       = "fluid"
	Machine     = "machine"
	Calibration = "calibration"
	Consumables = "consumables"
)

// Line is one line of an estimate. Count is in Per: hours, litres, or pieces.
type Line struct {
	Item, Title, Kind string
	Count             float64
	Per               string // h, L or empty
	Each, Total       money.Amount
	From              pricebook.From // of the time for labour, of the price else
	Quality           string
}

// Figure is the id of the figure behind the line that may be set by hand: a time or a price; empty for what follows from
// the rest.
func (l Line) Figure() string {
	switch {
	case l.Timed():
		return "time:" + l.Item
	case l.Kind == Parts:
		return "price:" + l.Item + "|" + l.Quality
	case l.Kind == Machine, l.Kind == Fluid:
		return "price:" + l.Item
	}
	return ""
}

// Timed reports whether hours are behind the line, not a price.
func (l Line) Timed() bool { return l.Kind == Labour || l.Kind == Calibration }

// Sum is what the lines of an estimate come to.
type Sum struct {
	Net, Tax, Pay money.Amount
	Missing       []string // lines without a price; Pay is without them
}

// figures are the numbers that an estimate and its outcomes rest on, open to be changed one by one.
type figures struct {
	rates  pricebook.Rates
	price  map[string]float64 // of items with their quality, major units
	hours  map[string]float64
	scale  map[int]float64 // of an option's chances of cure, by place
	cause  int             // whose probability is set to share; −1 for none
	share  float64
	before float64 // its probability as computed
}

// opening is the work of opening up from one access level to another.
func (m *Model) opening(to unitsheet.Access, f figures) []Line {
	unit := m.n.Unit
	var hours money.Fraction
	from := pricebook.Shop
	for l := m.from + 1; l <= to; l++ {
		if unit.ClimbMinutes[l] == 0 {
			continue
		}
		h, origin := m.book.Hours(unit.Sheet.ID, "access:"+l.String(), money.FromFloat(unit.ClimbMinutes[l]).Over(60))
		if origin == pricebook.Guide {
			from = pricebook.Guide
		}
		hours = hours.Plus(h)
	}
	if hours.Zero() {
		return nil
	}
	return []Line{work("access:"+to.String(), "opening up and closing: "+accessWords[to], Access, hours, from, f)}
}

// accessWords are the levels in words.
var accessWords = map[unitsheet.Access]string{unitsheet.Lifted: "vehicle raised", unitsheet.PanOff: "pan off", unitsheet.ValveBodyOff: "valve body off", unitsheet.UnitOut: "unit out and in", unitsheet.UnitApart: "unit out, apart and in", unitsheet.ConverterOpen: "converter opened"}

func work(item, title, kind string, hours money.Fraction, from pricebook.From, f figures) Line {
	rate := money.FromFloat(f.rates.Labour)
	return Line{Item: item, Title: title, Kind: kind, Count: hours.Float(), Per: "h", Each: money.Total(one, rate), Total: money.Total(hours, rate), From: from}
}

var one = money.FromFloat(1)

// lines are the lines of one or several options done in one visit: what opens the vehicle up is there once, as deep as the
// deepest needs; of two fills one is made.
func (m *Model) lines(options []pick, f figures) []Line {
	unit := m.n.Unit.Sheet.ID
	deepest := unitsheet.Ground
	for _, p := range options {
		deepest = max(deepest, m.options[p.option].level)
	}
	out := m.opening(deepest, f)
	fluid := ""
	for _, p := range options {
		o := m.options[p.option].Option
		add := func(item, title, kind string, guide float64) {
			if hours, from := m.book.Hours(unit, item, money.FromFloat(guide)); !hours.Zero() || from == pricebook.Shop {
				if set, ok := f.hours[item]; ok {
					hours = money.FromFloat(set)
				}
				out = append(out, work(item, title, kind, hours, from, f))
			}
		}
		guide := o.Hours
		if o.Strategy == "exchange" {
			guide += m.n.Unit.Sheet.Exchange.Hours
		}
		add("hours:"+o.ID, o.Title, Labour, guide)
		add("calibration:"+o.ID, "teaching and resets", Calibration, o.Calibration)
		if line, ok := m.parts(o, p.quality, f); ok {
			out = append(out, line)
		}
		if o.Machine > 0 {
			item := "machine:" + o.ID
			price, from := m.book.Price(unit, item, "", "", o.Machine)
			out = append(out, m.priced(item, "machine work", Machine, 1, "", price, from, f))
		}
		if o.Fluid == "fill" || fluid == "" && o.Fluid == "refill" {
			fluid = o.Fluid
		}
	}
	if l := litres(m.n.Unit, fluid); l > 0 {
		price, from := f.rates.FluidLitre, pricebook.Shop
		if p, ok := m.book.Find(unit, "fluid", ""); ok {
			price = p.Amount.Major()
		}
		out = append(out, m.priced("fluid", "fluid", Fluid, l, "L", price, from, f))
	}
	if m.rates.Consumables > 0 {
		share := money.FromFloat(m.rates.Consumables)
		base := money.Amount(0)
		for _, l := range out {
			base += l.Total
		}
		out = append(out, Line{Item: "consumables", Title: "small parts, cleaning, disposal, " + m.rates.Percent(m.rates.Consumables), Kind: Consumables, Count: 1, Each: base.Part(share), Total: base.Part(share), From: pricebook.Shop})
	}
	return out
}

// parts is the line of an option's parts, or of the exchange unit; there may be none.
func (m *Model) parts(o knowledge.Option, quality string, f figures) (Line, bool) {
	item, title, guide := "parts:"+o.ID, "parts: "+lowerFirst(o.Title), o.Parts
	if o.Strategy == "exchange" {
		item, title, guide = "exchange", "exchange unit", m.n.Unit.Sheet.Exchange.Price+o.Parts
	} else if _, own := m.book.Find(m.n.Unit.Sheet.ID, item, quality); guide == 0 && !own {
		return Line{}, false // needs none
	}
	price, from := m.book.Price(m.n.Unit.Sheet.ID, item, quality, pricebook.UsualQuality(o), guide)
	line := m.priced(item+"|"+quality, title, Parts, 1, "", price, from, f)
	line.Item, line.Quality = item, quality
	return line, true
}

// priced makes a line with a price; key finds a price that is set for the moment.
func (m *Model) priced(key, title, kind string, count float64, per string, price float64, from pricebook.From, f figures) Line {
	if set, ok := f.price[key]; ok {
		price, from = set, pricebook.Shop
	}
	if from == pricebook.Guide && !m.rates.Guide {
		price, from = 0, pricebook.None
	}
	return Line{Item: key, Title: title, Kind: kind, Count: count, Per: per, Each: money.Total(one, money.FromFloat(price)), Total: money.Total(money.FromFloat(count), money.FromFloat(price)), From: from}
}

// total sums lines, with tax on the sum.
func (m *Model) total(lines []Line) Sum {
	var s Sum
	for _, l := range lines {
		s.Net += l.Total
		if l.From == pricebook.None {
			s.Missing = append(s.Missing, l.Title)
		}
	}
	s.Tax = s.Net.Part(money.FromFloat(m.rates.Tax))
	s.Pay = s.Net + s.Tax
	return s
}

func litres(u *unitsheet.Unit, fluid string) float64 {
	switch fluid {
	case "refill":
		return u.Refill.SI * 1000
	case "fill":
		return u.Capacity.SI * 1000
	}
	return 0
}

func lowerFirst(s string) string {
	if s == "" || len(s) > 1 && strings.ToUpper(s[:2]) == s[:2] {
		return s // an abbreviation stays
	}
	return strings.ToLower(s[:1]) + s[1:]
}
