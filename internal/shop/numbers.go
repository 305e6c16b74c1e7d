package shop

import (
	"errors"
	"fmt"
	"math"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/money"
	"innercompass/core/pricebook"
	"innercompass/core/quantity"
	"innercompass/internal/problem"
)

// Style is how the shop writes numbers.
func (s Settings) Style() quantity.Style {
	style, ok := quantity.FindStyle(s.Numbers)
	if !ok { // a folder of before the setting
		return quantity.Styles[0]
	}
	return style
}

// Location is the zone in which the shop's days begin and end.
func (s Settings) Location() *time.Location {
	at, err := time.LoadLocation(s.Zone)
	if err != nil || s.Zone == "" {
		return time.UTC
	}
	return at
}

// MachineZone is the name of the zone that this machine is in: what a new shop starts with.
func MachineZone() string {
	if tz := os.Getenv("TZ"); tz != "" {
		if _, err := time.LoadLocation(tz); err == nil {
			return tz
		}
	}
	if target, err := filepath.EvalSymlinks("/etc/localtime"); err == nil {
		if _, name, ok := strings.Cut(target, "zoneinfo/"); ok {
			if _, err := time.LoadLocation(name); err == nil {
				return name
			}
		}
	}
	return "UTC"
}

// ParseAmount reads an amount of money that is typed in a field. It fails with a FieldError.
func (s Settings) ParseAmount(field, text string) (Amount, error) {
	a, err := money.Parse(s.Style(), text)
	return a, moneyField(field, err)
}

// ParseRate reads a rate, hours or litres from 0 to most. It fails with a FieldError.
func (s Settings) ParseRate(field, text string, most float64) (float64, error) {
	f, err := money.ParseFraction(s.Style(), text, most)
	return f.Float(), moneyField(field, err)
}

// ParseShare reads a share typed in percent, with or without the sign, from 0 to most (a share). It fails with a FieldError.
func (s Settings) ParseShare(field, text string, most float64) (float64, error) {
	f, err := money.ParseFraction(s.Style(), strings.TrimSuffix(strings.TrimSpace(text), "%"), 100*most)
	return f.Over(100).Float(), moneyField(field, err)
}

func moneyField(field string, err error) error {
	var me *money.Error
	if errors.As(err, &me) {
		return problem.Field(field, me.Reason, me.Accepted)
	}
	return err
}

// ParseQuantity reads a value as it is typed, a bare number in the shop's unit. It fails with a FieldError.
func (s Settings) ParseQuantity(field, text string, d quantity.Dimension, fallback string) (quantity.Quantity, error) {
	q, err := s.Style().Parse(text, d, s.Unit(d, fallback))
	var pe *quantity.ParseError
	if errors.As(err, &pe) {
		return q, problem.Field(field, fmt.Sprintf("%q: %s", pe.Text, pe.Reason), pe.Accepted)
	}
	return q, err
}

// Ceiling reads the amount that was named as the ceiling; empty text is none. It fails with a FieldError: a ceiling that the
// app reads otherwise than the customer meant it would be worse than none.
func (s Settings) Ceiling(text string) (Amount, error) {
	t := strings.TrimSpace(strings.ReplaceAll(text, s.Currency, " "))
	for _, sign := range []string{"€", "$", "£", "¥"} {
		t = strings.TrimSpace(strings.ReplaceAll(t, sign, " "))
	}
	if t == "" {
		return 0, nil
	}
	return s.ParseAmount("ceiling", t)
}

// Understood says how a text is read: "= 2,050 rpm". Kind is money, hours, percent or a dimension; unit is that of a bare
// number, empty for the shop's. It fails with a FieldError of the field text.
func (s Settings) Understood(kind, unit, text string) (string, error) {
	style := s.Style()
	switch kind {
	case "money":
		a, err := s.ParseAmount("text", text)
		return "= " + a.In(style, s.Currency), err
	case "hours":
		v, err := s.ParseRate("text", text, pricebook.MostHours)
		return "= " + style.Format(quantity.Quantity{SI: v * 3600, Dimension: quantity.Time}, "h"), err
	case "percent":
		v, err := s.ParseShare("text", text, 1)
		return "= " + style.Format(quantity.Quantity{SI: v, Dimension: quantity.Ratio}, "%"), err
	case "distance":
		d, err := ReadDistance("text", style, text, s.Distance)
		return "= " + style.Localise(d), err
	}
	d := quantity.Dimension(kind)
	units := quantity.UnitsOf(d)
	if len(units) == 0 {
		return "", problem.Field("kind", fmt.Sprintf("%q", kind), "money, hours, percent, distance or a dimension such as pressure")
	}
	if unit == "" {
		unit = units[0].Symbol
	}
	q, err := s.ParseQuantity("text", text, d, unit)
	if err != nil {
		return "", err
	}
	return "= " + style.Format(q, s.Unit(d, unit)), nil
}

// Most of what a vehicle has run that is taken: more than any has.
const (
	mostMetres = 1e10
	mostHours  = 1e6
)

// ReadDistance reads a distance or hours as typed in a style and returns it as files write it, "142,310 km" or "6,120 h"; a bare
// number is in unit. It fails with a FieldError.
func ReadDistance(field string, style quantity.Style, text, unit string) (string, error) {
	t := strings.TrimSpace(text)
	if t == "" {
		return "", nil
	}
	fail := func(err error) error {
		reason, accepted := fmt.Sprintf("%q", text), "a distance such as "+style.Number(142310, 0)+" km or "+style.Number(88000, 0)+" mi, or running hours such as "+style.Number(6120, 0)+" h"
		var pe *quantity.ParseError
		if errors.As(err, &pe) && strings.HasPrefix(pe.Reason, "it may be") {
			reason, accepted = fmt.Sprintf("%q: %s", text, pe.Reason), pe.Accepted
		}
		return problem.Field(field, reason, accepted)
	}
	if strings.HasSuffix(t, "h") && !strings.HasSuffix(t, "km/h") {
		q, err := style.Parse(t, quantity.Time, "h")
		h, _ := q.In("h")
		if err != nil || h < 0 || h > mostHours {
			return "", fail(err)
		}
		return quantity.Style{}.Number(h, 0) + " h", nil
	}
	q, err := style.Parse(t, quantity.Distance, unit)
	if err != nil || q.SI < 0 || q.SI > mostMetres {
		return "", fail(err)
	}
	switch {
	case strings.Contains(t, "mi"):
		unit = "mi"
	case strings.Contains(t, "km"):
		unit = "km"
	}
	v, err := q.In(unit)
	return quantity.Style{}.Number(v, 0) + " " + unit, err
}

// DistanceText writes a distance in metres in the shop's unit, whole.
func (s Settings) DistanceText(metres float64) string {
	v, err := quantity.Quantity{SI: metres, Dimension: quantity.Distance}.In(s.Distance)
	if err != nil {
		v = metres / 1e3 // impossible: settings are checked
	}
	return s.Style().Number(v, 0) + " " + s.Distance
}

// Ahead reads how far is looked ahead, in kilometres; 0 when nothing is said.
func (s Settings) Ahead(text string) (float64, error) {
	run, err := ReadDistance("ahead", s.Style(), text, s.Distance)
	return Kilometres(run), err
}

// Kilometres reads a distance as it is stored; hours of running count as kilometres; 0 when it is not known.
func Kilometres(text string) float64 {
	if h, ok := strings.CutSuffix(text, " h"); ok {
		q, err := quantity.Parse(h+" h", quantity.Time, "h")
		if err != nil {
			return 0
		}
		v, _ := q.In("h")
		return v * diagnose.KilometresPerHour
	}
	q, err := quantity.Parse(text, quantity.Distance, "km")
	if err != nil {
		return 0
	}
	v, _ := q.In("km")
	return v
}

// Figures reads figures that are set by hand, by their id: amounts, hours, chances in percent. It fails with a FieldError.
func (s Settings) Figures(typed map[string]string) (map[string]float64, error) {
	out := make(map[string]float64, len(typed))
	for id, text := range typed {
		var err error
		kind, _, _ := strings.Cut(id, ":")
		switch kind {
		case "time", "rediagnose":
			out[id], err = s.ParseRate(id, text, pricebook.MostHours)
		case "share", "cure":
			out[id], err = s.ParseShare(id, text, 10)
		default:
			var a Amount
			a, err = s.ParseAmount(id, text)
			out[id] = a.Major()
		}
		if err != nil {
			return nil, err
		}
	}
	return out, nil
}

// TypedFigures are the figures of the shop as they are typed; nil leaves one as it is.
type TypedFigures struct{ LabourRate, FluidLitre, Goodwill, Tax, Consumables *string }

// Read takes typed figures, as the settings say that numbers are written. It fails with a FieldError.
func (s *Settings) Read(t TypedFigures) error {
	for _, f := range []struct {
		field string
		text  *string
		to    *float64
		read  func(field, text string) (float64, error)
	}{
		{"labourRate", t.LabourRate, &s.LabourRate, func(field, text string) (float64, error) { return s.ParseRate(field, text, MostRate) }},
		{"fluidLitre", t.FluidLitre, &s.FluidLitre, func(field, text string) (float64, error) { return s.ParseRate(field, text, MostRate) }},
		{"goodwill", t.Goodwill, &s.Goodwill, func(field, text string) (float64, error) { return s.ParseRate(field, text, MostGoodwill) }},
		{"tax", t.Tax, &s.Tax, func(field, text string) (float64, error) { return s.ParseShare(field, text, MostTax) }},
		{"consumables", t.Consumables, &s.Consumables, func(field, text string) (float64, error) { return s.ParseShare(field, text, MostConsumables) }},
	} {
		if f.text == nil {
			continue
		}
		v, err := f.read(f.field, *f.text)
		if err != nil {
			return err
		}
		*f.to = v
	}
	return nil
}

// Typed are the figures of the shop as it would type them.
func (s Settings) Typed() (labourRate, fluidLitre, goodwill, tax, consumables string) {
	number := func(v float64) string { return s.Style().Write(strconv.FormatFloat(v, 'f', -1, 64)) }
	percent := func(v float64) string { return number(math.Round(v*1e8) / 1e6) }
	return number(s.LabourRate), number(s.FluidLitre), number(s.Goodwill), percent(s.Tax), percent(s.Consumables)
}
