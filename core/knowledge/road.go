package knowledge

import (
	"fmt"
	"strings"

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
	return drivePrefix + temperature + "." + c.Range + "." + string(c.Behaviour)
}

// roadBaseline is how often a cell is abnormal whatever the cause.
const roadBaseline = 0.008

// PressurePattern is the finding that a pressure test by range yields.
const PressurePattern = "pressure-pattern"

// addPressurePattern adds the states that this unit's feeds allow.
func (n *Network) addPressurePattern(add func(Finding)) {
	if !n.Has("pump") {
		return
	}
	f := Finding{ID: PressurePattern, Title: "Line pressure by range", Stage: "checks", Help: "Read every range at idle and at full throttle against the sheet; what is low tells which circuit loses oil.", States: []FindingState{
		{ID: "as-expected", Title: "as expected in every range"}, {ID: "low-all", Title: "low in every range", Baseline: 0.012}, {ID: "high-all", Title: "high in every range", Baseline: 0.004}, {ID: "erratic", Title: "no pattern, or the needle swings", Baseline: 0.008}}}
	for _, e := range n.Unit.Elements {
		if e.Pressed() {
			f.States = append(f.States, FindingState{ID: "low-" + e.ID, Title: "low only where the " + e.Name + " is fed", Baseline: 0.004})
		}
	}
	add(f)
}

func (n *Network) addRoad(add func(Finding)) {
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
			add(f)
		}
	}
}

// cellTitle names a cell as a practitioner would say it.
func (n *Network) cellTitle(temp string, c faultmap.Cell) string {
	words := map[faultmap.Behaviour]string{faultmap.Engages: "%s engages", faultmap.Drives: "%s drives", faultmap.Shift: "Shift into %s", faultmap.Down: "Shift down into %s", faultmap.Slips: "%s under load", faultmap.Brakes: "%s engine braking", faultmap.Noise: "%s gear noise", faultmap.Lockup: "Converter clutch in %s"}
	return fmt.Sprintf(words[c.Behaviour], c.Range) + ", " + temp
}

// driveMinutes is what a road test through all ranges takes (common practice, no source).
const driveMinutes = 12

// Forbidden reports whether the control keeps a cell from being driven: cold, the converter clutch stays open.
func Forbidden(temperature string, c faultmap.Cell) bool {
	return temperature == "cold" && c.Behaviour == faultmap.Lockup
}

// addDrives adds the road test, hot and cold, as one check each, and its cells one by one: to be looked at again, or shown as what
// matters most in the drive.
func (n *Network) addDrives(add func(Check), caution Caution) {
	for _, temp := range Temperatures {
		whole := Check{ID: drivePrefix + temp, Title: "Road test, fluid " + temp, Tells: "Fills the road test: which ranges slip, flare, bang or stay away.", Minutes: driveMinutes, Access: "ground", Until: "lifted", Fluid: temp,
			Cautions: []Caution{caution}, Steps: []string{"Fluid " + temp + " and at its level.", "Drive through all ranges, light and under load, up and down; set each cell on the road test."}}
		for _, cell := range faultmap.Grid(n.Unit) {
			if !Forbidden(temp, cell) {
				whole.Yields = append(whole.Yields, RoadID(temp, cell))
			}
		}
		if len(whole.Yields) > 0 {
			add(whole)
		}
		for _, cell := range faultmap.Grid(n.Unit) {
			if Forbidden(temp, cell) {
				continue
			}
			add(Check{
				ID: DriveID(temp, cell), Title: "Drive: " + n.cellTitle(temp, cell),
				Tells: "Fills one cell of the road test.", Minutes: 6, Access: "ground", Until: "lifted", Fluid: temp,
				Yields:   []string{RoadID(temp, cell)},
				Cautions: []Caution{caution},
				Steps:    []string{"Fluid " + temp + " and at its level.", "Drive it, watch the engine speed, set the cell on the road test."},
			})
		}
	}
}

func IsRoad(finding string) bool { return len(finding) > 5 && finding[:5] == "road." }

// IsHot reports whether a finding is a cell of the road test with hot fluid.
func IsHot(finding string) bool { return strings.HasPrefix(finding, "road.hot.") }

// CodePrefix begins the id of the finding of a fault code; StoredCodes is the finding that says whether any is stored.
const (
	CodePrefix  = "code."
	StoredCodes = "codes"
)

// IsCode reports whether a finding is a fault code, or says whether any is stored.
func IsCode(finding string) bool {
	return finding == StoredCodes || strings.HasPrefix(finding, CodePrefix)
}

// Drive reports whether a check is the road test, or a cell of it.
func (k Check) Drive() bool { return strings.HasPrefix(k.ID, drivePrefix) }

// drivePrefix begins the id of the check that fills a cell of the road test.
const drivePrefix = "drive."

// Question reports whether a check is a question to the customer: what is asked when a vehicle is taken in.
func (n *Network) Question(k Check) bool {
	for _, y := range k.Yields {
		if n.Findings[n.FindingAt[y]].Stage != "complaint" {
			return false
		}
	}
	return true
}
