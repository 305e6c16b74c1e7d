// Package pricebook holds what a shop charges: its rates, its own prices and hours for units, items and qualities, and the guide that
// counts where it has none.
package pricebook

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/unitsheet"
)

// From says where a figure of an estimate comes from.
type From string

// Origins of a figure: the shop's own rates and price book; the guide that the app comes with, which is judgement; nowhere.
const (
	Shop  From = "shop"
	Guide From = "guide"
	None  From = "none"
)

// Quality is how good a part is bought.
type Quality struct {
	ID, Title string
	Factor    float64 // of the price of a new one, where nothing else is known
	Fails     float64 // chance that it brings the vehicle back by itself within the warranty
}

// Qualities are the qualities that parts are bought in. Factors and chances are common practice, no source: a price book
// goes before the factors.
var Qualities = []Quality{{"new", "new", 1, 0.01}, {"rebuilt", "rebuilt", 0.65, 0.03}, {"used", "used", 0.4, 0.1}, {"kit", "reseal kit", 0.3, 0.04}}

// FindQuality is a quality by its id.
func FindQuality(id string) (Quality, bool) {
	for _, q := range Qualities {
		if q.ID == id {
			return q, true
		}
	}
	return Quality{}, false
}

// Price is one entry of the shop's price book: what an item costs, or how long it takes, on one unit or, with "*", on all.
//
// Items: parts:OPTION, machine:OPTION, exchange and fluid (a litre) have a price; hours:OPTION, calibration:OPTION and
// access:LEVEL (from the level before) have hours. OPTION is the id of an option; of one that is made for each element the
// beginning before the dot stands for all of them. part:PART and kit:KIT are of a unit's stack; with "*" part:KIND is of all parts of a kind.
type Price struct {
	Unit, Item string
	Quality    string // of parts and exchange; empty for the usual one
	Amount     money.Amount
	Hours      float64
	Note       string
}

// Timed reports whether the item takes hours and not money.
func (p Price) Timed() bool { return timed(p.Item) }

func timed(item string) bool {
	kind, _, _ := strings.Cut(item, ":")
	return kind == "hours" || kind == "calibration" || kind == "access"
}

// PriceError names the field of an entry that is wrong.
type PriceError struct{ Field, Reason, Accepted string }

func (e *PriceError) Error() string { return e.Field + ": " + e.Reason + "; want " + e.Accepted }

// MostHours is longer than any repair of one unit.
const MostHours = 200

// Check says what is wrong with an entry; whether its option exists depends on the unit and is left to whoever knows it.
func (p Price) Check() error {
	kind, of, _ := strings.Cut(p.Item, ":")
	switch kind {
	case "exchange", "fluid":
		if of != "" {
			return &PriceError{"item", fmt.Sprintf("%q", p.Item), kind}
		}
	case "parts", "machine", "hours", "calibration":
		if of == "" {
			return &PriceError{"item", fmt.Sprintf("%q names no option", p.Item), kind + ":OPTION"}
		}
	case "part", "kit":
		if of == "" {
			return &PriceError{"item", fmt.Sprintf("%q names no part", p.Item), "part:PART, kit:KIT, or part:KIND for all units"}
		}
	case "access":
		if l, err := unitsheet.ParseAccess(of); err != nil || l == unitsheet.Ground {
			return &PriceError{"item", fmt.Sprintf("%q is no level to be climbed to", of), strings.Join(unitsheet.AccessNames[1:], ", ")}
		}
	default:
		return &PriceError{"item", fmt.Sprintf("%q", p.Item), "parts:OPTION, machine:OPTION, hours:OPTION, calibration:OPTION, access:LEVEL, part:PART, kit:KIT, exchange, fluid"}
	}
	if p.Unit == "" {
		return &PriceError{"unit", "empty", "the id of a unit, or * for all"}
	}
	if _, ok := FindQuality(p.Quality); p.Quality != "" && (!ok || kind != "parts" && kind != "exchange") {
		return &PriceError{"quality", fmt.Sprintf("%q for %s", p.Quality, kind), "new, rebuilt, used or kit for parts and exchange; empty for the rest"}
	}
	if timed(p.Item) {
		if !(p.Hours >= 0 && p.Hours <= MostHours) {
			return &PriceError{"hours", fmt.Sprint(p.Hours), fmt.Sprintf("0 to %d", MostHours)}
		}
		if p.Amount != 0 {
			return &PriceError{"price", "it takes hours and has no price", "hours, or an item with a price"}
		}
		return nil
	}
	if p.Amount < 0 || p.Amount > money.Most {
		return &PriceError{"price", p.Amount.Format(""), "nothing to a thousand million"}
	}
	if p.Hours != 0 {
		return &PriceError{"hours", "it has a price and takes no hours", "a price, or an item with hours"}
	}
	return nil
}

// Book is a shop's price book; each unit, item and quality once.
type Book []Price

// Find returns the entry for an item on a unit, its own before the one for all units.
func (b Book) Find(unit, item, quality string) (Price, bool) {
	for _, u := range []string{unit, "*"} {
		for _, name := range names(item) {
			if i := slices.IndexFunc(b, func(p Price) bool { return p.Unit == u && p.Item == name && p.Quality == quality }); i >= 0 {
				return b[i], true
			}
		}
	}
	return Price{}, false
}

// names are what an item is listed under: itself, then its option without the element.
func names(item string) []string {
	if before, _, ok := strings.Cut(item, "."); ok {
		return []string{item, before}
	}
	return []string{item}
}

// Hours of an item: those of the book, else the guide's.
func (b Book) Hours(unit, item string, guide money.Fraction) (money.Fraction, From) {
	if p, ok := b.Find(unit, item, ""); ok {
		return money.FromFloat(p.Hours), Shop
	}
	return guide, Guide
}

// Price of parts or an exchange in a quality: that of the book; else of the book's usual one by factor; else the guide's by
// factor. guide is for the usual quality, the first of those that there are; 0 when there is none.
func (b Book) Price(unit, item, want, usual string, guide float64) (float64, From) {
	if p, ok := b.Find(unit, item, want); ok {
		return p.Amount.Major(), Shop
	}
	factor := 1.0
	if want != usual {
		q, _ := FindQuality(want)
		u, _ := FindQuality(usual)
		factor = q.Factor / u.Factor
	}
	if p, ok := b.Find(unit, item, ""); ok {
		if want == usual {
			return p.Amount.Major(), Shop
		}
		return p.Amount.Major() * factor, Guide
	}
	if guide <= 0 {
		return 0, None
	}
	return guide * factor, Guide
}

// UsualQuality is the first of the qualities that an option's parts come in.
func UsualQuality(o knowledge.Option) string {
	if len(o.Qualities) > 0 {
		return o.Qualities[0]
	}
	if o.Strategy == "exchange" {
		return "rebuilt"
	}
	return "new"
}

// QualitiesOf are the qualities that an option's parts come in.
func QualitiesOf(o knowledge.Option) []string {
	if len(o.Qualities) > 0 {
		return o.Qualities
	}
	return []string{UsualQuality(o)}
}
