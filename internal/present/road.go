package present

import (
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/roadtest"
	"innercompass/core/unitsheet"
	"innercompass/internal/cases"
)

// Road is the road test grid with what each failure of the design would do.
type Road struct {
	Ranges    []string
	Rows      []RoadRow
	Predicted []plan.PredictedRow
	Sentence  string
	DriveNext string // id of the cell whose reading is worth most; "" when none is
	DriveText string
	Caution   string // before it is driven
	Driven    int    // cells read so far, of Cells
	Cells     int
	Legs      []RoadLeg
}

// RoadLeg is a stretch of the drive with the findings of its cells, in driving order.
type RoadLeg struct {
	Title, How string
	Hot, Cold  []string
}

// RoadRow is one behaviour.
type RoadRow struct {
	Behaviour, Title string
	States           []faultmap.State
	Cells            []RoadCell
}

// RoadCell is one place for one temperature; Finding is empty where the design has nothing to observe.
type RoadCell struct {
	Range, Temperature, Finding, State, StateTitle, Reading, Source string
	Abnormal                                                        bool
}

func road(n *knowledge.Network, readings []cases.Reading, drive plan.Advice) Road {
	var out Road
	observed := map[string]cases.Reading{}
	for _, r := range readings {
		if !strings.HasPrefix(r.Finding, "road.") {
			continue
		}
		// What was seen counts before what was told, and the last look before the one before it.
		if old, ok := observed[r.Finding]; !ok || old.Source == "customer" || r.Source != "customer" {
			observed[r.Finding] = r
		}
	}
	for _, r := range n.Unit.Ranges {
		if faultmap.Shown(r, n.Unit) {
			out.Ranges = append(out.Ranges, r.ID)
		}
	}
	for _, b := range faultmap.Behaviours {
		if !slices.ContainsFunc(n.Unit.Ranges, func(r unitsheet.Range) bool { return faultmap.Has(r, b.ID, n.Unit) }) {
			continue // no converter clutch, no automatic shift
		}
		row := RoadRow{Behaviour: string(b.ID), Title: b.Title, States: b.States}
		for _, temp := range knowledge.Temperatures {
			for _, id := range out.Ranges {
				row.Cells = append(row.Cells, roadCell(n, temp, faultmap.Cell{Range: id, Behaviour: b.ID}, observed))
			}
		}
		out.Rows = append(out.Rows, row)
	}
	out.Cells, out.Driven = len(knowledge.Temperatures)*len(faultmap.Grid(n.Unit)), len(observed)
	out.Legs = legs(n)
	out.Predicted = plan.HoldRoadTest(n, seen(observed), out.Ranges)
	if out.Driven < out.Cells {
		out.Caution = "Clear road, brakes proven, two people where readings are taken; the law of the road first."
	}
	if out.Driven == 0 {
		out.Sentence = "Nothing driven yet. Fill a cell and the failures that fit it come up."
		return out
	}
	out.Sentence = plan.RoadVerdict(out.Predicted)
	out.DriveNext, out.DriveText = splitter(n, drive)
	return out
}

func legs(n *knowledge.Network) []RoadLeg {
	var out []RoadLeg
	for _, l := range roadtest.Course(n.Unit) {
		leg := RoadLeg{Title: l.Title, How: l.How}
		for _, c := range l.Cells {
			leg.Hot = append(leg.Hot, knowledge.RoadID("hot", c))
			if !knowledge.Forbidden("cold", c) {
				leg.Cold = append(leg.Cold, knowledge.RoadID("cold", c))
			}
		}
		out = append(out, leg)
	}
	return out
}

func roadCell(n *knowledge.Network, temp string, cell faultmap.Cell, observed map[string]cases.Reading) RoadCell {
	out := RoadCell{Range: cell.Range, Temperature: temp}
	id := knowledge.RoadID(temp, cell)
	f, ok := n.Finding(id)
	if !ok {
		return out
	}
	out.Finding = id
	if r, ok := observed[id]; ok {
		out.State, out.StateTitle, out.Reading, out.Source = r.State, f.StateTitle(r.State), r.ID, r.Source
		out.Abnormal = r.State != f.States[0].ID
	}
	return out
}

// seen sorts readings into the road test that faultmap understands.
func seen(observed map[string]cases.Reading) roadtest.Observed {
	out := roadtest.Observed{Hot: map[faultmap.Cell]string{}, Cold: map[faultmap.Cell]string{}}
	for id, x := range observed {
		parts := strings.Split(id, ".")
		cell := faultmap.Cell{Range: parts[2], Behaviour: faultmap.Behaviour(parts[3])}
		if parts[1] == "cold" {
			out.Cold[cell] = x.State
		} else {
			out.Hot[cell] = x.State
		}
	}
	return out
}

// splitter is the undriven cell that would tell most about the suspects.
func splitter(n *knowledge.Network, adv plan.Advice) (finding, text string) {
	if adv.Check.ID == "" {
		return "", ""
	}
	return adv.Check.Yields[0], adv.Check.Title + ". " + adv.Why(n)
}
