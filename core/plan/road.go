package plan

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/core/roadtest"
	"innercompass/core/unitsheet"
)

// PredictedRow is a failure of the design held against what was observed.
type PredictedRow struct {
	Title, Kind, Part string
	Cells             []PredictedCell
	Share             float64  // of all failures of the design, each taken as likely beforehand
	Agree, Against    int      // abnormal cells that it explains, cells that speak against it
	Like              []string // others that nothing driven so far tells from it
	Split             string   // what would tell it from the first of them
	Does              []Doing  // cell by cell
}

// Doing is what a failure would do in one cell; now and then when it is not sure.
type Doing struct {
	Cell  faultmap.Cell
	Words string
}

// PredictedCell says what the failure would do in a range and how that agrees: agrees, quiet
// (both normal), conflict (one without the other), open (not driven yet).
type PredictedCell struct {
	Range, Text, Mark, Detail string
}

// shownRows is how many failures stand under the grid; when nothing is driven all would be alike.
const shownRows = 6

// HoldRoadTest holds every failure of the design against a road test over some ranges and keeps the likeliest, those together
// that nothing driven so far tells apart.
func HoldRoadTest(n *knowledge.Network, road roadtest.Observed, ranges []string) []PredictedRow {
	var out []PredictedRow
	driven := len(road.Hot)+len(road.Cold) > 0
	told := map[int]bool{}
	for _, m := range roadtest.Hold(n.Faults, road) {
		if told[m.Row] {
			continue
		}
		f := n.Faults[m.Row]
		row := PredictedRow{Title: f.Title, Kind: string(f.Fault.Kind), Part: f.Fault.Part, Share: m.Share, Agree: m.Agree, Against: m.Against}
		if driven {
			row.join(n, m, road, told)
		}
		for _, p := range f.Cells {
			row.Does = append(row.Does, Doing{p.Cell, does(p)})
		}
		for _, id := range ranges {
			row.Cells = append(row.Cells, hold(f, id, road))
		}
		out = append(out, row)
	}
	// Those that explain nothing of what was seen come last, however many of them there are.
	slices.SortStableFunc(out, func(a, b PredictedRow) int {
		if !driven {
			return 0
		}
		return cmp.Or(cmp.Compare(min(1, b.Agree), min(1, a.Agree)), cmp.Compare(b.Share, a.Share))
	})
	return out[:min(shownRows, len(out))]
}

// join names the failures that have done the same in every cell driven.
func (row *PredictedRow) join(n *knowledge.Network, m roadtest.Match, road roadtest.Observed, told map[int]bool) {
	same := roadtest.Together(n.Faults, m.Row, road)
	for _, j := range same {
		told[j] = true
		if j != m.Row {
			row.Like = append(row.Like, n.Faults[j].Title)
			if row.Split == "" {
				row.Split = roadtest.Split(n.Unit, n.Faults[m.Row], n.Faults[j])
			}
		}
	}
	row.Share *= float64(len(same))
}

// summary orders the behaviours by which says most in one word.
var summary = []faultmap.Behaviour{faultmap.Drives, faultmap.Shift, faultmap.Down, faultmap.Slips, faultmap.Engages, faultmap.Brakes, faultmap.Lockup, faultmap.Noise}

// hold says what a failure does in a range and how that agrees with what was driven there.
func hold(f faultmap.Row, rangeID string, road roadtest.Observed) PredictedCell {
	out := PredictedCell{Range: rangeID, Mark: "open"}
	agree, conflict, looked := false, false, false
	for _, b := range summary {
		cell := faultmap.Cell{Range: rangeID, Behaviour: b}
		p, says := f.At(cell)
		if says && out.Text == "" {
			out.Text, out.Detail = short(p), p.Detail
		}
		for _, side := range []struct {
			cells map[faultmap.Cell]string
			scale float64
		}{{road.Hot, 1}, {road.Cold, f.Cold}} {
			state, driven := side.cells[cell]
			if !driven || slices.Contains(f.Unknown, cell) {
				continue
			}
			looked = true
			normal := state == faultmap.Info(b).Normal()
			switch {
			case says && state == p.State:
				agree = true
			case says && normal:
				conflict = conflict || p.Certainty*side.scale > 0.5
			case !normal:
				conflict = true
			}
		}
	}
	switch {
	case conflict:
		out.Mark = "conflict"
	case agree:
		out.Mark = "agrees"
	case looked && out.Text == "":
		out.Mark = "quiet"
	}
	return out
}

func does(p faultmap.Prediction) string {
	words := faultmap.Info(p.Cell.Behaviour).StateTitle(p.State)
	if p.Certainty < 0.5 {
		return words + " now and then"
	}
	return words
}

// short is a prediction in a word or two.
func short(p faultmap.Prediction) string {
	switch {
	case p.State == "none" && p.Cell.Behaviour != faultmap.Lockup:
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
	case p.Cell.Behaviour == faultmap.Noise:
		return "whines"
	case p.Cell.Behaviour == faultmap.Lockup:
		return map[string]string{"none": "no lockup", "slips": "lockup slips", "stuck": "lockup stays"}[p.State]
	case p.Cell.Behaviour == faultmap.Brakes:
		return map[string]string{"missing": "no braking", "present": "brakes"}[p.State]
	}
	return p.State
}

// RoadVerdict says in a sentence which failures of the design fit best, held against a road test of which something was driven.
func RoadVerdict(rows []PredictedRow) string {
	switch {
	case len(rows) == 0 || rows[0].Agree == 0:
		return "No single failure of the design shows what was driven. Level, pressure, leaks or the driveline may still."
	}
	best := rows[0]
	switch {
	case len(best.Like) > 0:
		return fmt.Sprintf("%s fits best; so far the same in every cell: %s. To tell them apart: %s.", upperFirst(best.Title), inWords(best.Like), best.Split)
	case best.Share > 0.5 || len(rows) == 1:
		return fmt.Sprintf("One failure of the design fits best: %s.", best.Title)
	}
	return fmt.Sprintf("%s fits best, but %s is close.", upperFirst(best.Title), rows[1].Title)
}

func upperFirst(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

// inWords lists a few things and counts the rest.
func inWords(list []string) string {
	const most = 3
	if len(list) <= most {
		return strings.Join(list, ", ")
	}
	return fmt.Sprintf("%s and %d more", strings.Join(list[:most], ", "), len(list)-most)
}

// FaultCells sums up what a failure of the design does, range by range, for the unit's own page.
func FaultCells(u *unitsheet.Unit, f faultmap.Row) []PredictedCell {
	var out []PredictedCell
	for _, r := range u.Ranges {
		if faultmap.Shown(r, u) {
			out = append(out, hold(f, r.ID, roadtest.Observed{}))
		}
	}
	return out
}
