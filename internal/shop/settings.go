// Package shop holds what is the shop's own: how it counts and measures, its prices, its gauges.
package shop

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/plan"
	"innercompass/core/pricebook"
	"innercompass/core/quantity"
	"innercompass/internal/library"
	"innercompass/internal/problem"
)

// Store keeps what is the shop's own.
type Store interface {
	Settings(ctx context.Context) (Settings, error)
	SaveSettings(ctx context.Context, s Settings, rev int) error
	Prices(ctx context.Context) (Book, error)
	// SavePrices replaces the price book if same, which is given the one stored now, does not object.
	SavePrices(ctx context.Context, b Book, same func(now Book) error) error
	// Gauges are the measuring tools of the shop, by name; SaveGauges replaces them, if same does not object to those that are
	// stored now.
	Gauges(ctx context.Context) ([]Gauge, error)
	SaveGauges(ctx context.Context, gauges []Gauge, same func(now []Gauge) error) error
	// Workshop is what there is to work with, false as long as nobody has said; SaveWorkshop replaces it if it is still of revision rev.
	Workshop(ctx context.Context) (Workshop, bool, error)
	SaveWorkshop(ctx context.Context, w Workshop, rev int) error
}

// Service reads and changes what is the shop's own.
type Service struct {
	Store   Store
	Library *library.Service
	Now     func() time.Time
	Names   func(ctx context.Context) ([]string, error) // who works in the shop
	Tell    func(what string, rev int)                  // told after every change: settings or prices
}

// Settings are the shop's settings as they stand.
func (s *Service) Settings(ctx context.Context) (Settings, error) { return s.Store.Settings(ctx) }

// Settings are the shop's.
type Settings struct {
	Shop        string
	Currency    string
	LabourRate  float64 // per hour
	FluidLitre  float64 // per litre
	Goodwill    float64 // what a return costs beyond the work
	Tax         float64 // share on top of an estimate's sum
	Consumables float64 // share of an estimate for small parts, cleaning, disposal
	Guide       bool    // the app's guide prices count where the price book has none
	Warranty    string  // what the shop promises, as it stands on its records
	Address     string  // of the shop, as it stands on its records
	Pressure    string  // units of measure in use
	Length      string
	Torque      string
	Volume      string
	Temperature string
	Distance    string
	Numbers     string // how numbers are written, by a sample: 1,234.5
	Zone        string // in which its days begin and end, such as Europe/Oslo
	Rev         int
}

// Unit returns the unit in use for a dimension, or fallback where the shop has no choice. A vacuum, a stress and a small
// volume keep their own unit; what the shop has no choice for follows its lengths into feet and pounds.
func (s Settings) Unit(d quantity.Dimension, fallback string) string {
	customary := s.Length == "in"
	switch {
	case fallback == "kPa" && customary:
		return "inHg"
	case fallback == "kPa", fallback == "MPa", fallback == "cc":
		return fallback
	}
	switch d {
	case quantity.Pressure:
		return s.Pressure
	case quantity.Length:
		return s.Length
	case quantity.Torque:
		return s.Torque
	case quantity.Volume:
		return s.Volume
	case quantity.Temperature:
		return s.Temperature
	case quantity.Distance:
		return s.Distance
	}
	if other := quantity.OtherSystem(d, fallback); customary && len(other) > 0 && fallback != "g" && !quantity.Customary(d, fallback) {
		return other[0]
	}
	return fallback
}

// DefaultSettings are those of a new data folder.
func DefaultSettings() Settings {
	return Settings{Shop: "", Currency: "€", LabourRate: 84, FluidLitre: 11, Goodwill: 180,
		Guide: true, Numbers: quantity.Styles[0].Sample(), Zone: MachineZone(), Pressure: "psi", Length: "mm", Torque: "N·m", Volume: "L", Temperature: "°C", Distance: "km"}
}

// System is a set of units of measure as shops use them together.
type System struct{ ID, Title, Pressure, Length, Torque, Volume, Temperature, Distance string }

// Systems are offered when a shop is set up; each unit can be chosen by itself later.
var Systems = []System{
	{"us", "US: psi, in, mi", "psi", "in", "lbf·ft", "qt", "°F", "mi"},
	{"metric", "metric: bar, mm, km", "bar", "mm", "N·m", "L", "°C", "km"},
	{"mixed", "psi, mm, km", "psi", "mm", "N·m", "L", "°C", "km"},
}

// Most that the shop's figures may be: there are currencies whose unit is worth little.
const (
	MostRate        = 1e6
	MostGoodwill    = 1e8
	MostTax         = 0.5
	MostConsumables = 0.3
)

// SaveSettings checks and stores the shop's settings.
func (s *Service) SaveSettings(ctx context.Context, n Settings) (Settings, error) {
	if err := problem.CheckText("shop", n.Shop, problem.MaxShort, false); err != nil {
		return n, err
	}
	for field, text := range map[string]string{"warranty": n.Warranty, "address": n.Address} {
		if err := problem.CheckText(field, text, problem.MaxNote, false); err != nil {
			return n, err
		}
	}
	if err := problem.CheckText("currency", n.Currency, 4, true); err != nil {
		return n, err
	}
	for _, f := range []struct {
		name string
		v    float64
		most float64
	}{{"labourRate", n.LabourRate, MostRate}, {"fluidLitre", n.FluidLitre, MostRate}, {"goodwill", n.Goodwill, MostGoodwill}, {"tax", n.Tax, MostTax}, {"consumables", n.Consumables, MostConsumables}} {
		if !(f.v >= 0 && f.v <= f.most) {
			return n, problem.Field(f.name, fmt.Sprint(f.v), fmt.Sprintf("0 to %v", f.most))
		}
	}
	if _, ok := quantity.FindStyle(n.Numbers); !ok {
		var samples []string
		for _, x := range quantity.Styles {
			samples = append(samples, x.Sample())
		}
		return n, problem.Field("numbers", fmt.Sprintf("%q", n.Numbers), "as one of these: "+strings.Join(samples, "; "))
	}
	if _, err := time.LoadLocation(n.Zone); err != nil || n.Zone == "" || n.Zone == "Local" {
		return n, problem.Field("zone", fmt.Sprintf("%q", n.Zone), "the name of a time zone, such as Europe/Oslo or America/Chicago")
	}
	for name, unit := range map[string][2]string{"pressure": {n.Pressure, "psi bar kPa"}, "length": {n.Length, "mm in thou"}, "torque": {n.Torque, "N·m lbf·ft"},
		"volume": {n.Volume, "L qt pt"}, "temperature": {n.Temperature, "°C °F"}, "distance": {n.Distance, "km mi"}} {
		if !slices.Contains(strings.Fields(unit[1]), unit[0]) {
			return n, problem.Field(name, fmt.Sprintf("%q", unit[0]), strings.ReplaceAll(unit[1], " ", ", "))
		}
	}
	if err := s.Store.SaveSettings(ctx, n, n.Rev); err != nil {
		return n, err
	}
	s.Tell("settings", 0)
	return s.Store.Settings(ctx)
}

// Economics are the figures of the settings that decide what a check is worth.
func (s Settings) Economics() plan.Economics {
	return plan.At(s.LabourRate)
}

// Rates are the figures of the settings that options are priced with.
func (s Settings) Rates() pricebook.Rates {
	return pricebook.Rates{Labour: s.LabourRate, FluidLitre: s.FluidLitre, Rediagnose: pricebook.RediagnoseHours, Goodwill: s.Goodwill, Trial: plan.TrialHours * s.LabourRate, Tax: s.Tax, Consumables: s.Consumables, Guide: s.Guide, Currency: s.Currency, Style: s.Style()}
}

// DayOf is the day that a moment falls on in a zone, as days are compared: midnight in UTC.
func DayOf(at time.Time, zone *time.Location) time.Time {
	y, m, d := at.In(zone).Date()
	return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
}
