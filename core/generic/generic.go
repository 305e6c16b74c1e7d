// Package generic makes units of which nobody knows yet what they are: one for each kind, number of gears and way of lying in the vehicle.
package generic

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/builder"
	"innercompass/core/unitsheet"
)

// Unit is a unit of which nobody knows yet what it is: its kind, how many gears, whether it lies across the vehicle. It is known by a
// chart that stands for any of its kind, and says so.
type Unit struct {
	ID, Name, Kind string
	Gears          int
	Across         bool
}

// Units are those that are offered at take-in.
var Units = units()

// Is reports whether an id is that of a unit that nobody knows yet.
func Is(id string) bool {
	return slices.ContainsFunc(Units, func(g Unit) bool { return g.ID == id })
}

func units() []Unit {
	var out []Unit
	add := func(id, name, kind string, gears int, across bool) {
		out = append(out, Unit{id, name, kind, gears, across})
	}
	for n := 3; n <= 10; n++ {
		add(fmt.Sprintf("any-automatic-%d", n), fmt.Sprintf("Some automatic, %d gears", n), "automatic", n, false)
	}
	for n := 3; n <= 9; n++ {
		add(fmt.Sprintf("any-transaxle-%d", n), fmt.Sprintf("Some automatic transaxle, %d gears", n), "automatic", n, true)
	}
	for n := 4; n <= 6; n++ {
		add(fmt.Sprintf("any-parallel-%d", n), fmt.Sprintf("Some automatic with a clutch for each gear, %d gears", n), "parallel", n, true)
	}
	add("any-two-speed", "Some two-speed", "two-speed", 2, false)
	for n := 4; n <= 6; n++ {
		add(fmt.Sprintf("any-manual-%d", n), fmt.Sprintf("Some manual, %d gears", n), "manual", n, false)
	}
	for n := 5; n <= 7; n++ {
		add(fmt.Sprintf("any-automated-%d", n), fmt.Sprintf("Some automated manual, %d gears", n), "automated", n, false)
	}
	return out
}

// Sheet is the generic unit's sheet, its places taken from the nearest of those that ship.
func (g Unit) Sheet(shipped []*unitsheet.Unit) unitsheet.Sheet {
	s := unitsheet.Sheet{Format: unitsheet.Format, ID: g.ID, Version: 1, Name: g.Name, Control: "electronic",
		Summary: "not known yet which: told by its kind alone, until a better sheet is chosen"}
	for _, k := range builder.Kinds {
		if k.ID == g.Kind {
			s.Layout = k.Layout
		}
	}
	if g.Kind == "automatic" && g.Gears == 3 { // of the time before solenoids
		s.Control = "hydraulic"
	}
	b := &sheetMaker{s: s}
	switch g.Kind {
	case "two-speed":
		b.twoSpeed()
	case "manual", "automated":
		b.sleeves(g.Gears, g.Kind == "manual")
	case "parallel":
		b.eachGear(g.Gears)
	default:
		b.automatic(g.Gears)
	}
	b.s.Sources = []unitsheet.SourceSheet{{Of: "chart", From: "assumed", Why: "one element for each gear, as nobody has said which are on when"}}
	out := b.s
	if like := builder.Nearest(shipped, builder.Wanted{Kind: g.Kind, Gears: g.Gears, Across: g.Across, Lies: true}); like != nil {
		full := like.Sheet
		full.Engine.MaxTorque = ""
		out = builder.Fill(out, g.Kind, full)
		out.Ranges = bare(out.Ranges)
		out.Sources = slices.DeleteFunc(out.Sources, func(x unitsheet.SourceSheet) bool { return x.Of == "pressures" || x.Of == "engine" })
		out.Engine = unitsheet.EngineSheet{}
	}
	return out
}

// bare leaves pressures out: windows of another unit are no help while nobody knows which unit it is.
func bare(ranges []unitsheet.RangeSheet) []unitsheet.RangeSheet {
	out := slices.Clone(ranges)
	for i := range out {
		out[i].LineIdle, out[i].LineFull = "", ""
	}
	return out
}

type sheetMaker struct{ s unitsheet.Sheet }

func (b *sheetMaker) element(id, name, kind string, more ...string) {
	e := unitsheet.ElementSheet{ID: id, Name: name, Kind: kind}
	if len(more) > 0 {
		e.Group = more[0]
	}
	b.s.Elements = append(b.s.Elements, e)
}

func (b *sheetMaker) row(id, selector, name, outcome, from string, applied ...string) {
	b.s.Ranges = append(b.s.Ranges, unitsheet.RangeSheet{ID: id, Selector: selector, Name: name, Outcome: outcome, From: from, Applied: append([]string{}, applied...)})
}

// automatic has one clutch for all forward gears, one element for each gear, and one for reverse.
func (b *sheetMaker) automatic(gears int) {
	b.element("FC", "forward clutch", "clutch")
	b.element("RC", "reverse clutch", "clutch")
	b.element("E1", "low and reverse brake", "brake")
	for n := 2; n <= gears; n++ {
		b.element(fmt.Sprintf("E%d", n), "what comes on for "+builder.Ordinals[n-1], "clutch")
	}
	b.row("P", "P", "Park", "neutral", "")
	b.row("R", "R", "Reverse", "reverse", "", "RC", "E1")
	b.row("N", "N", "Neutral", "neutral", "")
	b.ladder(gears, "D", "Drive", func(n int) []string { return []string{"FC", fmt.Sprintf("E%d", n)} })
}

func (b *sheetMaker) ladder(gears int, selector, word string, on func(n int) []string) {
	for n := 1; n <= gears; n++ {
		from := ""
		if n > 1 {
			from = fmt.Sprintf("D%d", n-1)
		}
		b.row(fmt.Sprintf("D%d", n), selector, word+" "+builder.Ordinals[n-1], "forward", from, on(n)...)
	}
}

func (b *sheetMaker) eachGear(gears int) {
	for n := 1; n <= gears; n++ {
		b.element(fmt.Sprintf("C%d", n), builder.Ordinals[n-1]+" clutch", "clutch")
	}
	b.element("SR", "reverse sleeve", "selector")
	b.row("P", "P", "Park", "neutral", "")
	b.row("R", "R", "Reverse", "reverse", "", fmt.Sprintf("C%d", min(gears, 4)), "SR")
	b.row("N", "N", "Neutral", "neutral", "")
	b.ladder(gears, "D", "Drive", func(n int) []string { return []string{fmt.Sprintf("C%d", n)} })
}

func (b *sheetMaker) twoSpeed() {
	b.element("LB", "low band", "band")
	b.element("DC", "direct clutch", "clutch")
	b.element("RB", "reverse brake", "brake")
	b.row("P", "P", "Park", "neutral", "")
	b.row("R", "R", "Reverse", "reverse", "", "RB")
	b.row("N", "N", "Neutral", "neutral", "")
	b.row("D1", "D", "Drive low", "forward", "", "LB")
	b.row("D2", "D", "Drive direct", "forward", "D1", "DC")
}

func (b *sheetMaker) sleeves(gears int, hand bool) {
	if hand {
		b.s.Control = "hand"
	}
	b.element("CL", "dry clutch", "clutch")
	for n := 1; n <= gears; n++ {
		first := n - (n+1)%2
		b.element(fmt.Sprintf("G%d", n), builder.Ordinals[n-1]+" synchro", "selector", fmt.Sprintf("%d–%d sleeve", first, first+1))
	}
	b.element("GR", "reverse dogs", "selector", "reverse sleeve")
	if !hand {
		b.row("N", "N", "Neutral", "neutral", "", "CL")
		b.row("R", "R", "Reverse", "reverse", "", "CL", "GR")
		b.ladder(gears, "A", "Automatic", func(n int) []string { return []string{"CL", fmt.Sprintf("G%d", n)} })
		return
	}
	b.row("N", "N", "Neutral, pedal up", "neutral", "", "CL")
	b.row("NP", "N pedal", "Neutral, pedal down", "neutral", "")
	for n := 1; n <= gears; n++ {
		b.row(fmt.Sprintf("G%d", n), fmt.Sprint(n), strings.ToUpper(builder.Ordinals[n-1][:1])+builder.Ordinals[n-1][1:], "forward", "", "CL", fmt.Sprintf("G%d", n))
	}
	b.row("R", "R", "Reverse", "reverse", "", "CL", "GR")
	b.row("GP", "1 pedal", "First, pedal down", "neutral", "", "G1")
}
