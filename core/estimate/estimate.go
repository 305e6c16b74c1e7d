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

// Estimator prices work on one vehicle from where it stands.
type Estimator struct {
	Unit  *unitsheet.Unit
	From  unitsheet.Access
	Book  pricebook.Book
	Rates pricebook.Rates
}

// Figures are the numbers that an estimate rests on, open to be changed one by one.
type Figures struct {
	Rates pricebook.Rates
	Price map[string]float64 // of items with their quality, major units
	Hours map[string]float64
}

// opening is the work of opening up from one access level to another.
func (e Estimator) opening(to unitsheet.Access, f Figures) []Line {
	unit := e.Unit
	var hours money.Fraction
	from := pricebook.Shop
	for l := e.From + 1; l <= to; l++ {
		if unit.ClimbMinutes[l] == 0 {
			continue
		}
		h, origin := e.Book.Hours(unit.Sheet.ID, "access:"+l.String(), money.FromFloat(unit.ClimbMinutes[l]).Over(60))
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
			if hours, from := e.Book.Hours(unit, item, money.FromFloat(guide)); !hours.Zero() || from == pricebook.Shop {
				if set, ok := f.Hours[item]; ok {
					hours = money.FromFloat(set)
				}
				out = append(out, work(item, title, kind, hours, from, f))
			}
		}
		guide := o.Hours
		if o.Strategy == "exchange" {
			guide += e.Unit.Sheet.Exchange.Hours
		}
		add("hours:"+o.ID, o.Title, Labour, guide)
		add("calibration:"+o.ID, "teaching and resets", Calibration, o.Calibration)
		if line, ok := e.Parts(o, w.Quality, f); ok {
			out = append(out, line)
		}
		if o.Machine > 0 {
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
