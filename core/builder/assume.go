package builder

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// What is sized rather than known (common practice, no source): an element holds so many times what the engine can ask of it, a pressure
// window of another unit is widened by so much.
const (
	usualMargin  = 1.5
	usualStall   = 2.0 // torque ratio of a converter at stall
	widerWindow  = 0.15
	usualHours   = 0.8
	capacityText = "±30 %"
)

// byHydraulics are parts that only a unit has whose shifts are made by oil alone.
var byHydraulics = []string{"cable", "modulator", "governor"}

// Fill takes over from another unit what nobody has said of this one, and marks it as assumed: parts, access, leak places, fluid,
// engine, pressures. What is there already stays.
func Fill(s unitsheet.Sheet, kind string, like unitsheet.Sheet) unitsheet.Sheet {
	f := filler{s: s, like: like, why: "as in the " + like.Name}
	f.s.Sources = slices.Clone(s.Sources)
	if len(s.Access) == 0 {
		f.s.Access = slices.Clone(like.Access)
		f.assume("access", "", "")
	}
	if len(s.Parts) == 0 {
		f.s.Parts = partsOf(like, s.Control)
	}
	if s.Leaks == nil && like.Leaks != nil {
		leaks := leaksOf(like)
		f.s.Leaks = &leaks
		f.assume("leaks", "", "")
	}
	if s.Fluid.Kind == "" && s.Fluid.Level.At == "" {
		f.s.Fluid = unitsheet.FluidSheet{Level: like.Fluid.Level}
		f.s.Fluid.Level.Temperature, f.s.Fluid.Level.BetweenMarks, f.s.Fluid.Level.MarksApart = "", "", ""
		f.assume("fluid", "", "how its level is read; its kind and filling are not known")
	}
	if s.Engine.MaxTorque == "" {
		f.s.Engine = unitsheet.EngineSheet{MaxTorque: like.Engine.MaxTorque, IdleSpeed: like.Engine.IdleSpeed}
		f.assume("engine", like.Engine.MaxTorque, "")
	}
	f.elements(kind)
	f.sleeves()
	f.converter()
	f.pressures()
	f.stacked()
	return f.s
}

// partsOf are the parts of a unit that one of this control has as well.
func partsOf(like unitsheet.Sheet, control string) []unitsheet.PartSheet {
	return slices.DeleteFunc(slices.Clone(like.Parts), func(p unitsheet.PartSheet) bool {
		return control == "electronic" && slices.Contains(byHydraulics, p.ID)
	})
}

// leaksOf are the leak places of a unit, to be changed without changing its own.
func leaksOf(like unitsheet.Sheet) unitsheet.LeakSheet {
	out := *like.Leaks
	out.Zones, out.Sources, out.Paths = slices.Clone(out.Zones), slices.Clone(out.Sources), slices.Clone(out.Paths)
	return out
}

// Relaid is a sheet whose places are those of another unit, as far as they are assumed and still what was taken over from one of those that
// ship: the unit lies otherwise in the vehicle than was thought.
func Relaid(s unitsheet.Sheet, shipped []unitsheet.Sheet, like unitsheet.Sheet, across bool) unitsheet.Sheet {
	s.Sources = slices.Clone(s.Sources)
	again := func(topic string) {
		s.Sources = sourced(s.Sources, unitsheet.SourceSheet{Of: topic, From: "assumed", Why: "as in the " + like.Name})
	}
	// taken reports whether a part of the sheet is assumed and that of one that ships.
	taken := func(topic string, part func(of unitsheet.Sheet) unitsheet.Sheet) bool {
		assumed := slices.ContainsFunc(s.Sources, func(x unitsheet.SourceSheet) bool { return x.Of == topic && x.From == "assumed" })
		return assumed && slices.ContainsFunc(shipped, func(was unitsheet.Sheet) bool { return len(unitsheet.Differences(part(was), part(s))) == 0 })
	}
	if taken("access", func(of unitsheet.Sheet) unitsheet.Sheet { return unitsheet.Sheet{Access: of.Access} }) {
		s.Access = slices.Clone(like.Access)
		again("access")
	}
	if taken("access", func(of unitsheet.Sheet) unitsheet.Sheet { return unitsheet.Sheet{Parts: partsOf(of, s.Control)} }) {
		s.Parts = partsOf(like, s.Control)
	}
	if s.Leaks == nil || like.Leaks == nil {
		return s
	}
	leaks := *s.Leaks
	if taken("leaks", func(of unitsheet.Sheet) unitsheet.Sheet {
		if of.Leaks == nil {
			return unitsheet.Sheet{}
		}
		return unitsheet.Sheet{Leaks: &unitsheet.LeakSheet{Zones: of.Leaks.Zones, Sources: of.Leaks.Sources}}
	}) {
		leaks = leaksOf(like)
		again("leaks")
	}
	leaks.Across = across
	s.Leaks = &leaks
	return s
}

type filler struct {
	s, like unitsheet.Sheet
	why     string
}

func (f *filler) assume(topic, value, why string) {
	if slices.ContainsFunc(f.s.Sources, func(x unitsheet.SourceSheet) bool { return x.Of == topic }) {
		return
	}
	if why == "" {
		why = f.why
	} else {
		why = f.why + ": " + why
	}
	f.s.Sources = append(f.s.Sources, unitsheet.SourceSheet{Of: topic, From: "assumed", Value: value, Why: why})
}

// elements get a feed of their own, hours and access.
func (f *filler) elements(kind string) {
	f.s.Elements = slices.Clone(f.s.Elements)
	pressed := f.s.Control != "hand"
	feeds := len(f.s.Feeds) == 0 && pressed
	for i := range f.s.Elements {
		e := &f.s.Elements[i]
		wheel := gearing.Kind(e.Kind) == gearing.Freewheel
		if e.Hours == 0 {
			e.Hours = usualHours
		}
		if e.Access == "" {
			e.Access = f.deepest(kind, *e)
		}
		if !pressed && !wheel {
			e.Hand = true
		}
		if feeds && !wheel && !e.Hand {
			e.Feed = "feed-" + notID.ReplaceAllString(strings.ToLower(e.ID), "-")
			f.s.Feeds = append(f.s.Feeds, unitsheet.FeedSheet{ID: e.Feed, Name: nameOf(*e) + " feed", Serves: []string{e.ID}})
		}
	}
	if feeds && len(f.s.Feeds) > 0 {
		f.assume("feeds", "", "one for each element")
	}
}

// sleeves makes a part of each sleeve that moves two gears, with its fork: when it breaks, both are lost.
func (f *filler) sleeves() {
	if len(f.s.Shared) > 0 {
		return
	}
	for i, e := range f.s.Elements {
		first := func(o unitsheet.ElementSheet) bool { return o.Group == e.Group }
		if gearing.Kind(e.Kind) != gearing.Selector || e.Group == "" || slices.IndexFunc(f.s.Elements, first) != i {
			continue
		}
		var moves []string
		for _, o := range f.s.Elements {
			if first(o) {
				moves = append(moves, o.ID)
			}
		}
		if len(moves) > 1 {
			f.s.Shared = append(f.s.Shared, unitsheet.SharedSheet{ID: "sleeve-" + strings.Trim(notID.ReplaceAllString(strings.ToLower(e.Group), "-"), "-"), Name: e.Group + " and fork", Kind: "shaft", Serves: moves})
		}
	}
}

// deepest is where an element is reached: inside, but for a dry clutch before the unit.
func (f *filler) deepest(kind string, e unitsheet.ElementSheet) string {
	has := func(level string) bool {
		return slices.ContainsFunc(f.s.Access, func(a unitsheet.AccessSheet) bool { return a.Level == level })
	}
	switch {
	case (kind == "manual" || kind == "automated") && gearing.Kind(e.Kind) == gearing.Clutch && has("unit-out"):
		return "unit-out"
	case has("unit-apart"):
		return "unit-apart"
	}
	return ""
}

// converter is taken over where the other unit has one; its clutch applies in the upper half of the forward ranges.
func (f *filler) converter() {
	if f.s.Converter != nil || f.like.Converter == nil {
		return
	}
	f.s.Converter = &unitsheet.ConverterSheet{}
	if len(f.like.Converter.Lockup) == 0 {
		return
	}
	var ladder []string
	for _, r := range f.s.Ranges {
		if r.From != "" && r.Outcome == string(gearing.Forward) {
			ladder = append(ladder, r.ID)
		}
	}
	f.s.Converter.Lockup = ladder[len(ladder)/2:]
}

// pressures are those of the other unit, by direction, widened.
func (f *filler) pressures() {
	if slices.ContainsFunc(f.s.Ranges, func(r unitsheet.RangeSheet) bool { return r.LineIdle != "" || r.LineFull != "" }) {
		return
	}
	of := func(outcome string) (idle, full string) {
		for _, r := range f.like.Ranges {
			if r.Outcome == outcome && r.LineIdle != "" {
				return wider(r.LineIdle), wider(r.LineFull)
			}
		}
		return "", ""
	}
	f.s.Ranges = slices.Clone(f.s.Ranges)
	found := ""
	for i := range f.s.Ranges {
		r := &f.s.Ranges[i]
		r.LineIdle, r.LineFull = of(r.Outcome)
		if r.Outcome == string(gearing.Forward) && r.LineIdle != "" {
			found = r.LineIdle
		}
	}
	if found != "" {
		f.assume("pressures", strings.Replace(found, "..", " to ", 1)+" at idle", "")
	}
}

// wider widens a window of pressure on both sides.
func wider(text string) string {
	w, err := quantity.ParseWindow(text, quantity.Pressure, "psi")
	if err != nil {
		return ""
	}
	low, _ := w.Low.In("psi")
	high, _ := w.High.In("psi")
	return fmt.Sprintf("%.0f..%.0f psi", low*(1-widerWindow), high*(1+widerWindow))
}

// size gives friction elements without a capacity one that holds the engine, and says so. It needs solved gears.
func size(s unitsheet.Sheet, m *gearing.Machine) unitsheet.Sheet {
	torque, err := quantity.Parse(s.Engine.MaxTorque, quantity.Torque, "N·m")
	if err != nil || !(torque.SI > 0) || slices.ContainsFunc(s.Sources, func(x unitsheet.SourceSheet) bool { return x.Of == "capacities" && x.From != "assumed" }) {
		return s
	}
	stall := 1.0
	if s.Converter != nil {
		stall = usualStall
	}
	most := map[string]float64{}
	for _, r := range s.Ranges {
		sol, err := m.Solve(gearing.State{Applied: r.Applied})
		if err != nil || sol.Outcome != gearing.Forward && sol.Outcome != gearing.Reverse {
			continue
		}
		times := torque.SI
		if r.From == "" {
			times *= stall
		}
		for id, t := range sol.Torques {
			most[id] = math.Max(most[id], math.Abs(t)*times)
		}
	}
	s.Elements = slices.Clone(s.Elements)
	var sized []string
	for i := range s.Elements {
		e := &s.Elements[i]
		if e.Plates != nil || e.Band != nil || e.Capacity != "" || most[e.ID] < 1 {
			continue
		}
		e.Capacity = fmt.Sprintf("%.0f N·m", math.Round(usualMargin*most[e.ID]/10)*10)
		sized = append(sized, e.ID)
	}
	if len(sized) == 0 {
		return s
	}
	s.Sources = sourced(s.Sources, unitsheet.SourceSheet{Of: "capacities", For: sized, From: "assumed", Value: capacityText, Why: fmt.Sprintf("sized to hold %.1f times %s", usualMargin, s.Engine.MaxTorque)})
	return s
}
