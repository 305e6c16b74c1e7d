package diagnose

import (
	"fmt"

	"innercompass/core/faultmap"
)

// Temperatures at which the road test grid is filled.
var Temperatures = []string{"hot", "cold"}

// RoadID is the id of the finding of a grid cell.
func RoadID(temperature string, c faultmap.Cell) string {
	return "road." + temperature + "." + c.Range + "." + string(c.Behaviour)
}

// DriveID is the id of the check that fills a grid cell.
func DriveID(temperature string, c faultmap.Cell) string {
	return "drive." + temperature + "." + c.Range + "." + string(c.Behaviour)
}

// roadBaseline is how often a cell is abnormal whatever the cause.
const roadBaseline = 0.03

// PressurePattern is the finding that a pressure test by range yields.
const PressurePattern = "pressure-pattern"

// addPressurePattern adds the states that this unit's feeds allow.
func (n *Network) addPressurePattern() {
	if !n.has("pump") {
		n.absent[PressurePattern] = true
		return
	}
	f := Finding{ID: PressurePattern, Title: "Line pressure by range", Stage: "checks", States: []FindingState{
		{"as-expected", "as expected in every range", 0}, {"low-all", "low in every range", 0.03}, {"high-all", "high in every range", 0.01}, {"erratic", "no pattern", 0.02}}}
	for _, e := range n.Unit.Elements {
		if e.Pressed() {
			f.States = append(f.States, FindingState{"low-" + e.ID, "low only where the " + e.Name + " is fed", 0.004})
		}
	}
	n.addFinding(f)
}

func (n *Network) addRoad() {
	for _, temp := range Temperatures {
		for _, cell := range faultmap.Grid(n.Unit) {
			info := faultmap.Info(cell.Behaviour)
			f := Finding{ID: RoadID(temp, cell), Title: n.cellTitle(temp, cell), Stage: "road"}
			share := roadBaseline / float64(len(info.States)-1)
			for i, s := range info.States {
				fs := FindingState{ID: s.ID, Title: s.Title}
				if i > 0 {
					fs.Baseline = share
				}
				f.States = append(f.States, fs)
			}
			n.addFinding(f)
		}
	}
}

// cellTitle names a cell as a practitioner would say it.
func (n *Network) cellTitle(temp string, c faultmap.Cell) string {
	words := map[faultmap.Behaviour]string{faultmap.Engages: "%s engages", faultmap.Drives: "%s drives", faultmap.Shift: "Shift into %s", faultmap.Slips: "%s under load", faultmap.Brakes: "%s engine braking", faultmap.Noise: "%s gear noise", faultmap.Lockup: "Converter clutch in %s"}
	return fmt.Sprintf(words[c.Behaviour], c.Range) + ", " + temp
}

func (n *Network) addDrives() {
	for _, temp := range Temperatures {
		for _, cell := range faultmap.Grid(n.Unit) {
			n.Checks = append(n.Checks, Check{
				ID: DriveID(temp, cell), Title: "Drive: " + n.cellTitle(temp, cell),
				Tells: "Fills one cell of the road test.", Minutes: 6, Access: "ground", Until: "lifted",
				Yields:   []string{RoadID(temp, cell)},
				Cautions: []Caution{{Hazard: "plain", Title: "Test drive.", Text: "Clear road, two people where readings are taken, the law of the road first."}},
				Steps:    []string{"Fluid " + temp + " and at its level.", "Drive it, watch the engine speed, set the cell on the road test."},
			})
		}
	}
}
