// Package estimate prices repair work line by line: opening up once for all that is done in one visit, labour, parts in a quality, fluid, machine
// work, teaching, consumables, tax; each rounded to minor units, as on paper. A line whose price is nowhere is missing and never counted as nothing.
package estimate

import (
	"slices"

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
	case l.Kind == Parts && l.Quality != "":
		return "price:" + l.Item + "|" + l.Quality
	case l.Kind == Parts, l.Kind == Machine, l.Kind == Fluid:
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

// Bill is an estimate.
type Bill struct {
	Lines []Line
	Sum
}

// Labour, Parts and Fluid are what the lines come to that belong there, before tax; machine work and consumables count with
// the parts, opening up and teaching with the labour.
func (b Bill) Labour() money.Amount { return b.of(Access, Labour, Calibration) }

// Parts: see Labour.
func (b Bill) Parts() money.Amount { return b.of(Parts, Machine, Consumables) }

// Fluid: see Labour.
func (b Bill) Fluid() money.Amount { return b.of(Fluid) }

func (b Bill) of(kinds ...string) money.Amount {
	sum := money.Amount(0)
	for _, l := range b.Lines {
		if slices.Contains(kinds, l.Kind) {
			sum += l.Total
		}
	}
	return sum
}

// Work is an option that is done, with its parts in one quality.
type Work struct {
	Option  knowledge.Option
	Level   unitsheet.Access // that it needs
	Quality string
}

// Piece is a part or a kit that is bought by itself, or machine work on one: a line of its own in place of the option's parts as a whole.
type Piece struct {
	Item, Title, Kind string
	Price             float64
	From              pricebook.From
}

// Estimator prices work on one vehicle from where it stands.
type Estimator struct {
	Unit   *unitsheet.Unit
	From   unitsheet.Access
	Book   pricebook.Book
	Rates  pricebook.Rates
	Listed map[string][]Piece // by option: its parts one by one, where they are known
}

// Figures are the numbers that an estimate rests on, open to be changed one by one.
type Figures struct {
	Rates pricebook.Rates
	Price map[string]float64 // of items with their quality, major units
	Hours map[string]float64
}

// opening is the work of opening up from one access level to another.
func (e Estimator) opening(to unitsheet.Access, f Figures) []Line {
	var hours money.Fraction
	unit := e.Unit
	from := pricebook.Shop
	for l := e.From + 1; l <= to; l++ {
		if unit.ClimbMinutes[l] == 0 {
			continue
		}
		h, origin := e.Climb(l)
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

// Climb is the time to open up to a level from the one before, and to close it.
func (e Estimator) Climb(l unitsheet.Access) (money.Fraction, pricebook.From) {
	return e.Book.Hours(e.Unit.Sheet.ID, "access:"+l.String(), money.FromFloat(e.Unit.ClimbMinutes[l]).Over(60))
}

// Times are the hours of an option beyond opening up: its work, and teaching and resets.
func (e Estimator) Times(o knowledge.Option, f Figures) (labour, teaching money.Fraction) {
	labour, _ = e.time("hours:"+o.ID, e.guide(o), f)
	teaching, _ = e.time("calibration:"+o.ID, o.Calibration, f)
	return labour, teaching
}

// guide is the guide's time for an option.
func (e Estimator) guide(o knowledge.Option) float64 {
	if o.Strategy == "exchange" {
		return o.Hours + e.Unit.Sheet.Exchange.Hours
	}
	return o.Hours
}

// time of an item: what is set by hand, else the book's, else the guide's.
func (e Estimator) time(item string, guide float64, f Figures) (money.Fraction, pricebook.From) {
	hours, from := e.Book.Hours(e.Unit.Sheet.ID, item, money.FromFloat(guide))
	if set, ok := f.Hours[item]; ok {
		return money.FromFloat(set), pricebook.Shop
	}
	return hours, from
}

// accessWords are the levels in words.
var accessWords = map[unitsheet.Access]string{unitsheet.Lifted: "vehicle raised", unitsheet.PanOff: "pan off", unitsheet.ValveBodyOff: "valve body off", unitsheet.UnitOut: "unit out and in", unitsheet.UnitApart: "unit out, apart and in", unitsheet.ConverterOpen: "converter opened"}

func work(item, title, kind string, hours money.Fraction, from pricebook.From, f Figures) Line {
	rate := money.FromFloat(f.Rates.Labour)
	return Line{Item: item, Title: title, Kind: kind, Count: hours.Float(), Per: "h", Each: money.Total(one, rate), Total: money.Total(hours, rate), From: from}
}

var one = money.FromFloat(1)

// Bill prices one or several options done in one visit: what opens the vehicle up is there once, as deep as the
// deepest needs; of two fills one is made.
func (e Estimator) Bill(works []Work, f Figures) Bill {
	unit := e.Unit.Sheet.ID
	deepest := unitsheet.Ground
	for _, w := range works {
		deepest = max(deepest, w.Level)
	}
	out := e.opening(deepest, f)
	fluid := ""
	for _, w := range works {
		o := w.Option
		add := func(item, title, kind string, guide float64) {
			hours, from := e.time(item, guide, f)
			if !hours.Zero() || from == pricebook.Shop {
				out = append(out, work(item, title, kind, hours, from, f))
			}
		}
		add("hours:"+o.ID, o.Title, Labour, e.guide(o))
		add("calibration:"+o.ID, "teaching and resets", Calibration, o.Calibration)
		if pieces, listed := e.Listed[o.ID]; listed {
			for _, p := range pieces {
				if !slices.ContainsFunc(out, func(l Line) bool { return l.Item == p.Item }) { // two works may need one seal
					out = append(out, e.priced(p.Item, p.Title, p.Kind, 1, "", p.Price, p.From, f))
				}
			}
		} else if line, ok := e.Parts(o, w.Quality, f); ok {
			out = append(out, line)
		}
		if o.Machine > 0 && !slices.ContainsFunc(e.Listed[o.ID], func(p Piece) bool { return p.Kind == Machine }) {
			item := "machine:" + o.ID
			price, from := e.Book.Price(unit, item, "", "", o.Machine)
			out = append(out, e.priced(item, "machine work", Machine, 1, "", price, from, f))
		}
		if o.Fluid == "fill" || fluid == "" && o.Fluid == "refill" {
			fluid = o.Fluid
		}
	}
	if l := litres(e.Unit, fluid); l > 0 {
		price, from := f.Rates.FluidLitre, pricebook.Shop
		if p, ok := e.Book.Find(unit, "fluid", ""); ok {
			price = p.Amount.Major()
		}
		out = append(out, e.priced("fluid", "fluid", Fluid, l, "L", price, from, f))
	}
	if e.Rates.Consumables > 0 {
		share := money.FromFloat(e.Rates.Consumables)
		base := money.Amount(0)
		for _, l := range out {
			base += l.Total
		}
		out = append(out, Line{Item: "consumables", Title: "small parts, cleaning, disposal, " + e.Rates.Percent(e.Rates.Consumables), Kind: Consumables, Count: 1, Each: base.Part(share), Total: base.Part(share), From: pricebook.Shop})
	}
	return Bill{out, e.Total(out)}
}

// Parts is the line of an option's parts, or of the exchange unit; there may be none.
func (e Estimator) Parts(o knowledge.Option, quality string, f Figures) (Line, bool) {
	item, title, guide := "parts:"+o.ID, "parts: "+knowledge.InSentence(o.Title), o.Parts
	if o.Strategy == "exchange" {
		item, title, guide = "exchange", "exchange unit", e.Unit.Sheet.Exchange.Price+o.Parts
	} else if _, own := e.Book.Find(e.Unit.Sheet.ID, item, quality); guide == 0 && !own {
		return Line{}, false // needs none
	}
	price, from := e.Book.Price(e.Unit.Sheet.ID, item, quality, pricebook.UsualQuality(o), guide)
	line := e.priced(item+"|"+quality, title, Parts, 1, "", price, from, f)
	line.Item, line.Quality = item, quality
	return line, true
}

// PartsPrice is what an option's parts come to, as a whole or one by one; false when it needs none.
func (e Estimator) PartsPrice(o knowledge.Option, quality string, f Figures) (money.Amount, bool) {
	pieces, listed := e.Listed[o.ID]
	if !listed {
		line, ok := e.Parts(o, quality, f)
		return line.Total, ok
	}
	sum := money.Amount(0)
	for _, p := range pieces {
		sum += e.priced(p.Item, p.Title, p.Kind, 1, "", p.Price, p.From, f).Total
	}
	return sum, len(pieces) > 0
}

// priced makes a line with a price; key finds a price that is set for the moment.
func (e Estimator) priced(key, title, kind string, count float64, per string, price float64, from pricebook.From, f Figures) Line {
	if set, ok := f.Price[key]; ok {
		price, from = set, pricebook.Shop
	}
	if from == pricebook.Guide && !e.Rates.Guide {
		price, from = 0, pricebook.None
	}
	return Line{Item: key, Title: title, Kind: kind, Count: count, Per: per, Each: money.Total(one, money.FromFloat(price)), Total: money.Total(money.FromFloat(count), money.FromFloat(price)), From: from}
}

// Total sums lines, with tax on the sum.
func (e Estimator) Total(lines []Line) Sum {
	var s Sum
	for _, l := range lines {
		s.Net += l.Total
		if l.From == pricebook.None {
			s.Missing = append(s.Missing, l.Title)
		}
	}
	s.Tax = s.Net.Part(money.FromFloat(e.Rates.Tax))
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
