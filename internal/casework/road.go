package casework

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// Road is the road test grid with what each failure of the design would do.
type Road struct {
	Ranges    []string
	Rows      []RoadRow
	Predicted []PredictedRow
	Sentence  string
	DriveNext string // id of the cell whose reading is worth most; "" when none is
	DriveText string
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

// PredictedRow is a failure of the design held against what was observed.
type PredictedRow struct {
	Title string
	Cells []PredictedCell
	Score float64
}

// PredictedCell says what the failure would do in a range and how that agrees: agrees, quiet
// (both normal), conflict (one without the other), open (not driven yet).
type PredictedCell struct {
	Range, Text, Mark string
}

func road(n *diagnose.Network, readings []Reading, c Case) Road {
	var out Road
	observed := map[string]Reading{}
	for _, r := range readings {
		if !strings.HasPrefix(r.Finding, "road.") {
			continue
		}
		// What was seen counts before what was told.
		if old, ok := observed[r.Finding]; !ok || old.Source == "customer" {
			observed[r.Finding] = r
		}
	}
	for _, r := range n.Unit.Ranges {
		if r.Driving() || r.ID == "N" {
			out.Ranges = append(out.Ranges, r.ID)
		}
	}
	for _, b := range faultmap.Behaviours {
		row := RoadRow{Behaviour: string(b.ID), Title: b.Title, States: b.States}
		for _, temp := range diagnose.Temperatures {
			for _, id := range out.Ranges {
				row.Cells = append(row.Cells, roadCell(n, temp, faultmap.Cell{Range: id, Behaviour: b.ID}, observed))
			}
		}
		out.Rows = append(out.Rows, row)
	}
	out.predict(n, observed)
	out.say(n, readings, c)
	return out
}

func roadCell(n *diagnose.Network, temp string, cell faultmap.Cell, observed map[string]Reading) RoadCell {
	out := RoadCell{Range: cell.Range, Temperature: temp}
	id := diagnose.RoadID(temp, cell)
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

// predict scores every failure of the design against the observed cells, hot and cold together: a
// match adds its certainty, a contradiction takes twice that, silence nothing. The best are shown.
func (r *Road) predict(n *diagnose.Network, observed map[string]Reading) {
	seen := map[faultmap.Cell]string{} // the worst that was seen at either temperature
	for id, x := range observed {
		parts := strings.Split(id, ".")
		cell := faultmap.Cell{Range: parts[2], Behaviour: faultmap.Behaviour(parts[3])}
		if old, ok := seen[cell]; !ok || old == faultmap.Info(cell.Behaviour).Normal() {
			seen[cell] = x.State
		}
	}
	for _, f := range n.Faults {
		row := PredictedRow{Title: f.Title}
		for _, id := range r.Ranges {
			row.Cells = append(row.Cells, r.hold(f, id, seen, &row.Score))
		}
		r.Predicted = append(r.Predicted, row)
	}
	slices.SortStableFunc(r.Predicted, func(a, b PredictedRow) int {
		switch {
		case a.Score > b.Score:
			return -1
		case a.Score < b.Score:
			return 1
		}
		return 0
	})
	if len(seen) > 0 && len(r.Predicted) > 6 {
		r.Predicted = r.Predicted[:6]
	}
}

// summary orders the behaviours by which says most in one word.
var summary = []faultmap.Behaviour{faultmap.Drives, faultmap.Shift, faultmap.Slips, faultmap.Engages, faultmap.Brakes}

func (r *Road) hold(f faultmap.Row, rangeID string, seen map[faultmap.Cell]string, score *float64) PredictedCell {
	out := PredictedCell{Range: rangeID, Mark: "open"}
	agree, conflict, looked := false, false, false
	for _, b := range summary {
		cell := faultmap.Cell{Range: rangeID, Behaviour: b}
		p, says := f.At(cell)
		if says && out.Text == "" {
			out.Text = short(p)
		}
		state, ok := seen[cell]
		if !ok {
			continue
		}
		looked = true
		normal := state == faultmap.Info(b).Normal()
		switch {
		case says && state == p.State:
			agree = true
			*score += p.Certainty
		case says && normal:
			conflict = conflict || p.Certainty > 0.5
			*score -= 2 * p.Certainty
		case says && !normal:
			conflict = true
			*score -= p.Certainty
		case !says && !normal && !slices.Contains(f.Unknown, cell):
			conflict = true
			*score -= 2 * faultmap.Certain
		}
	}
	switch {
	case agree && !conflict:
		out.Mark = "agrees"
	case conflict:
		out.Mark = "conflict"
	case looked && out.Text == "":
		out.Mark = "quiet"
	}
	return out
}

// short is a prediction in a word or two.
func short(p faultmap.Prediction) string {
	switch {
	case p.State == "none":
		return "neutral"
	case p.State == "wrong" && strings.HasPrefix(p.Detail, "stays in "):
		return "stays " + strings.Fields(p.Detail)[2]
	case p.State == "wrong" && strings.HasPrefix(p.Detail, "drives as "):
		return "as " + strings.Fields(p.Detail)[2]
	case p.State == "wrong" && strings.HasPrefix(p.Detail, "creeps"):
		return "creeps"
	case p.State == "wrong":
		return "other ratio"
	case p.State == "bind":
		return "binds"
	case p.State == "yes":
		return "slips"
	case p.Cell.Behaviour == faultmap.Brakes:
		return map[string]string{"missing": "no braking", "present": "brakes"}[p.State]
	}
	return p.State
}

// say names the failures that fit best and the cell that would tell them apart.
func (r *Road) say(n *diagnose.Network, readings []Reading, c Case) {
	any := slices.ContainsFunc(readings, func(x Reading) bool { return strings.HasPrefix(x.Finding, "road.") })
	if !any {
		r.Sentence = "Nothing driven yet. Fill a cell and the failures that fit it come up."
		return
	}
	if len(r.Predicted) < 2 || r.Predicted[0].Score <= 0 {
		r.Sentence = "No single failure of the gears fits what was driven. Pressure, leaks or the driveline may still."
		return
	}
	best := r.Predicted[0]
	var equal []string
	for _, p := range r.Predicted {
		if p.Score > best.Score-0.15 && p.Score > 0 {
			equal = append(equal, p.Title)
		}
	}
	if len(equal) == 1 {
		r.Sentence = fmt.Sprintf("One failure fits best: %s.", best.Title)
	} else {
		r.Sentence = fmt.Sprintf("%d failures fit about equally: %s.", len(equal), strings.Join(equal, ", "))
	}
	r.DriveNext, r.DriveText = splitter(n, readings, c)
}

// splitter is the undriven cell that would tell most about the suspects.
func splitter(n *diagnose.Network, readings []Reading, c Case) (finding, text string) {
	adv, err := n.BestDrive(evidence(readings), c.stand())
	if err != nil || adv.Check.ID == "" {
		return "", ""
	}
	return adv.Check.Yields[0], adv.Check.Title + ". " + n.Why(adv)
}

// FaultCells sums up what a failure of the design does, range by range, for the unit's own page.
func FaultCells(u *unitsheet.Unit, f faultmap.Row) []PredictedCell {
	var out []PredictedCell
	for _, r := range u.Ranges {
		if !r.Driving() && r.ID != "N" {
			continue
		}
		cell := PredictedCell{Range: r.ID, Mark: "open"}
		for _, b := range summary {
			if p, says := f.At(faultmap.Cell{Range: r.ID, Behaviour: b}); says && cell.Text == "" {
				cell.Text = short(p)
			}
		}
		out = append(out, cell)
	}
	return out
}
