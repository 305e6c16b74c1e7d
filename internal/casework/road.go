package casework

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
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
	Caution   string // before it is driven
	Driven    int    // cells read so far, of Cells
	Cells     int
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
	Title, Kind, Part string
	Cells             []PredictedCell
	Share             float64  // of all failures of the design, each taken as likely beforehand
	Agree, Against    int      // abnormal cells that it explains, cells that speak against it
	Like              []string // others that nothing driven so far tells from it
	Split             string   // what would tell it from the first of them
}

// PredictedCell says what the failure would do in a range and how that agrees: agrees, quiet
// (both normal), conflict (one without the other), open (not driven yet).
type PredictedCell struct {
	Range, Text, Mark, Detail string
}

func road(n *knowledge.Network, readings []Reading, c Case, drive plan.Advice) Road {
	var out Road
	observed := map[string]Reading{}
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
	out.predict(n, observed)
	out.say(n, drive, c)
	return out
}

func roadCell(n *knowledge.Network, temp string, cell faultmap.Cell, observed map[string]Reading) RoadCell {
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

// shownRows is how many failures stand under the grid; when nothing is driven all would be alike.
const shownRows = 6

// seen sorts readings into the road test that faultmap understands.
func seen(observed map[string]Reading) faultmap.Observed {
	out := faultmap.Observed{Hot: map[faultmap.Cell]string{}, Cold: map[faultmap.Cell]string{}}
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

// predict holds every failure of the design against the road test and keeps the likeliest, those together
// that nothing driven so far tells apart.
func (r *Road) predict(n *knowledge.Network, observed map[string]Reading) {
	road := seen(observed)
	told := map[int]bool{}
	for _, m := range faultmap.Hold(n.Faults, road) {
		if told[m.Row] {
			continue
		}
		f := n.Faults[m.Row]
		row := PredictedRow{Title: f.Title, Kind: string(f.Fault.Kind), Part: f.Fault.Part, Share: m.Share, Agree: m.Agree, Against: m.Against}
		if len(observed) > 0 {
			row.join(n, m, road, told)
		}
		for _, id := range r.Ranges {
			row.Cells = append(row.Cells, hold(f, id, road))
		}
		r.Predicted = append(r.Predicted, row)
	}
	// Those that explain nothing of what was seen come last, however many of them there are.
	slices.SortStableFunc(r.Predicted, func(a, b PredictedRow) int {
		if len(observed) == 0 {
			return 0
		}
		return cmp.Or(cmp.Compare(min(1, b.Agree), min(1, a.Agree)), cmp.Compare(b.Share, a.Share))
	})
	r.Predicted = r.Predicted[:min(shownRows, len(r.Predicted))]
}

// join names the failures that have done the same in every cell driven.
func (row *PredictedRow) join(n *knowledge.Network, m faultmap.Match, road faultmap.Observed, told map[int]bool) {
	same := faultmap.Together(n.Faults, m.Row, road)
	for _, j := range same {
		told[j] = true
		if j != m.Row {
			row.Like = append(row.Like, n.Faults[j].Title)
			if row.Split == "" {
				row.Split = faultmap.Split(n.Unit, n.Faults[m.Row], n.Faults[j])
			}
		}
	}
	row.Share *= float64(len(same))
}

// summary orders the behaviours by which says most in one word.
var summary = []faultmap.Behaviour{faultmap.Drives, faultmap.Shift, faultmap.Slips, faultmap.Engages, faultmap.Brakes, faultmap.Lockup, faultmap.Noise}

// hold says what a failure does in a range and how that agrees with what was driven there.
func hold(f faultmap.Row, rangeID string, road faultmap.Observed) PredictedCell {
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

// say names the failures that fit best and the cell that would tell them apart.
func (r *Road) say(n *knowledge.Network, drive plan.Advice, c Case) {
	if r.Driven == 0 {
		r.Sentence = "Nothing driven yet. Fill a cell and the failures that fit it come up."
		return
	}
	best := r.Predicted[0]
	switch {
	case best.Agree == 0:
		r.Sentence = "No single failure of the design shows what was driven. Level, pressure, leaks or the driveline may still."
	case len(best.Like) > 0:
		r.Sentence = fmt.Sprintf("%s fits best; so far the same in every cell: %s. To tell them apart: %s.", upperFirst(best.Title), inWords(best.Like), best.Split)
	case best.Share > 0.5:
		r.Sentence = fmt.Sprintf("One failure of the design fits best: %s.", best.Title)
	default:
		r.Sentence = fmt.Sprintf("%s fits best, but %s is close.", upperFirst(best.Title), r.Predicted[1].Title)
	}
	r.DriveNext, r.DriveText = splitter(n, drive)
	if r.DriveNext != "" {
		r.Caution = "Clear road, brakes proven, two people where readings are taken; the law of the road first."
	}
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

// splitter is the undriven cell that would tell most about the suspects.
func splitter(n *knowledge.Network, adv plan.Advice) (finding, text string) {
	if adv.Check.ID == "" {
		return "", ""
	}
	return adv.Check.Yields[0], adv.Check.Title + ". " + adv.Why(n)
}

// FaultCells sums up what a failure of the design does, range by range, for the unit's own page.
func FaultCells(u *unitsheet.Unit, f faultmap.Row) []PredictedCell {
	var out []PredictedCell
	for _, r := range u.Ranges {
		if faultmap.Shown(r, u) {
			out = append(out, hold(f, r.ID, faultmap.Observed{}))
		}
	}
	return out
}
