package unitsheet

import (
	"fmt"
	"strconv"
	"strings"

	"innercompass/core/chart"
	"innercompass/core/gearing"
)

// Depth is how much of a unit a sheet knows.
type Depth string

// The depths, from the least.
const (
	ByChart Depth = "chart" // ranges, elements and what is on: symptoms by reasoning on the chart
	ByGears Depth = "gears" // arrangement and teeth: everything that the gears give
	InFull  Depth = "full"  // capacities, pressures, leaks and access as well
)

// Depth of a sheet.
func (s Sheet) Depth() Depth {
	if len(s.Gearing.Members) == 0 {
		return ByChart
	}
	holds, pressed := false, s.Control == "hand"
	for _, e := range s.Elements {
		holds = holds || e.Plates != nil || e.Band != nil || e.Capacity != ""
	}
	for _, r := range s.Ranges {
		pressed = pressed || r.LineIdle != ""
	}
	if holds && (pressed || s.Hydraulics == nil) && s.Leaks != nil && len(s.Access) > 0 {
		return InFull
	}
	return ByGears
}

// Cannot says in words what a sheet of this unit's depth cannot tell.
func (u *Unit) Cannot() []string {
	var out []string
	if u.Chart != nil {
		out = append(out, "Which gear set or bearing a noise comes from: the gears are not in the sheet.", "How fast each part turns, and what torque it carries.")
		if !u.Chart.Known() {
			out = append(out, "Which gear a ratio is: the sheet has none printed.")
		}
	}
	holds := false
	for _, e := range u.Elements {
		holds = holds || e.hold != nil
	}
	if !holds {
		out = append(out, "Which clutch slips first, and at how much throttle: no capacities.")
	}
	if line := func(r Range) bool { return Known(r.LineIdle.Low) }; u.Sheet.Control != "hand" && !anyRange(u, line) {
		out = append(out, "Whether a line pressure is right: no window is given.")
	}
	if len(u.Controls) == 0 && u.Sheet.Control != "hand" {
		out = append(out, "What each stuck solenoid or valve does: no table of controls.")
	}
	if u.Leaks == nil {
		out = append(out, "Where a leak comes from by where it shows: no leak places.")
	}
	if len(u.Sheet.Access) == 0 {
		out = append(out, "How long it takes to reach a part: no access times.")
	}
	return out
}

func anyRange(u *Unit, f func(Range) bool) bool {
	for _, r := range u.Ranges {
		if f(r) {
			return true
		}
	}
	return false
}

// Result is what a state does, by the gears or by the chart.
func (u *Unit) Result(s gearing.State) (gearing.Result, error) {
	if u.Chart != nil {
		return u.Chart.Result(s)
	}
	return u.Machine.Result(s)
}

// Solve is Result in full. Of a chart, only the one-way clutches that carry are known besides.
func (u *Unit) Solve(s gearing.State) (gearing.Solution, error) {
	if u.Chart != nil {
		return u.Chart.Solve(s)
	}
	return u.Machine.Solve(s)
}

// RatioKnown reports whether the ratios are numbers and not only an order of the ranges.
func (u *Unit) RatioKnown() bool { return u.Chart == nil || u.Chart.Known() }

// RatioOf is the ratio of a range in health, 0 where it does not drive or where the sheet has none.
func (u *Unit) RatioOf(r Range) float64 {
	if !u.RatioKnown() {
		return 0
	}
	return r.Healthy.Ratio
}

// Gears are the ids of planetary sets and pairs of gears, by their place in the sheet. Where the gears are not known there is one for
// all planetary sets, or one for each gear of parallel shafts.
func (u *Unit) Gears() []string {
	var out []string
	for i := range u.Sheet.Gearing.Sets {
		out = append(out, fmt.Sprintf("set-%d", i+1))
	}
	for i := range u.Sheet.Gearing.Gears {
		out = append(out, fmt.Sprintf("gears-%d", i+1))
	}
	if u.Chart == nil {
		return out
	}
	if u.Sheet.Layout == "planetary" {
		return []string{"set-1"}
	}
	for i := range u.pairs() {
		out = append(out, fmt.Sprintf("gears-%d", i+1))
	}
	return out
}

// GearsName says what people call a part of Gears; "" when there is none of this id.
func (u *Unit) GearsName(id string) string {
	at := func(kind string, n int) int {
		k, err := strconv.Atoi(strings.TrimPrefix(id, kind+"-"))
		if err != nil || !strings.HasPrefix(id, kind+"-") || k < 1 || k > n {
			return -1
		}
		return k - 1
	}
	if i := at("set", len(u.Sheet.Gearing.Sets)); i >= 0 {
		return u.Sheet.Gearing.Sets[i].Name
	}
	if i := at("gears", len(u.Sheet.Gearing.Gears)); i >= 0 {
		return u.Sheet.Gearing.Gears[i].Name
	}
	if u.Chart == nil {
		return ""
	}
	if u.Sheet.Layout == "planetary" && id == "set-1" {
		return "gear sets"
	}
	if pairs := u.pairs(); u.Sheet.Layout == "parallel" && at("gears", len(pairs)) >= 0 {
		return "gears of " + pairs[at("gears", len(pairs))][0]
	}
	return ""
}

// pairs groups the driving ranges of a unit without gearing by their gear; direct has no pair of its own.
func (u *Unit) pairs() [][]string {
	var out [][]string
	seen := map[string]int{}
	for _, r := range u.Ranges {
		if !r.Driving() || u.Chart.Known() && r.Healthy.Ratio > 0.995 && r.Healthy.Ratio < 1.005 {
			continue
		}
		key := fmt.Sprintf("%.6f", r.Healthy.Ratio)
		if i, ok := seen[key]; ok {
			out[i] = append(out[i], r.ID)
			continue
		}
		seen[key] = len(out)
		out = append(out, []string{r.ID})
	}
	return out
}

// PairRanges are the ranges in which a pair of gears of a unit without gearing carries.
func (u *Unit) PairRanges(id string) []string {
	for i, p := range u.pairs() {
		if fmt.Sprintf("gears-%d", i+1) == id {
			return p
		}
	}
	return nil
}

// chart reads the unit as a chart.
func (c *compiler) chart() {
	var elements []chart.Element
	for _, e := range c.s.Elements {
		elements = append(elements, chart.Element{ID: e.ID, Kind: gearing.Kind(e.Kind), Beside: e.Beside, Series: e.Series})
	}
	var ranges []chart.Range
	for i, r := range c.s.Ranges {
		outcome := gearing.Outcome(r.Outcome)
		if outcome != gearing.Forward && outcome != gearing.Reverse && outcome != gearing.Neutral {
			c.oneOf(fmt.Sprintf("ranges[%d].outcome", i), r.Outcome, "forward", "reverse", "neutral")
			return
		}
		ranges = append(ranges, chart.Range{ID: r.ID, Applied: r.Applied, Holding: r.Holding, Outcome: outcome, From: r.From, Ratio: c.u.Ranges[i].Printed})
	}
	x, err := chart.New(elements, ranges)
	if err != nil {
		e := err.(*chart.Error)
		c.fail(e.At, e.Reason, e.Accepted)
		return
	}
	c.u.Chart = x
}

// printed reads the ratio of a range.
func (c *compiler) printed(path, text string) (ratio float64, decimals int) {
	ratio, decimals, err := PrintedRatio(text)
	if err != nil {
		c.fail(path, err.Error(), "a ratio as it is printed, 0.1 to 30 without a sign, such as 2.55")
	}
	return ratio, decimals
}

// PrintedRatio reads a ratio as it is printed and counts its decimals; an empty text is a ratio that is not known.
func PrintedRatio(text string) (ratio float64, decimals int, err error) {
	text = strings.TrimSpace(text)
	if text == "" {
		return 0, 0, nil
	}
	plain := strings.Replace(text, ",", ".", 1)
	v, err := strconv.ParseFloat(plain, 64)
	if err != nil || !(v >= 0.1 && v <= 30) || strings.ContainsAny(plain, "eExX+-_") {
		return 0, 0, fmt.Errorf("%q is no ratio", text)
	}
	if at := strings.IndexByte(plain, '.'); at >= 0 {
		decimals = len(plain) - at - 1
	}
	return v, decimals, nil
}

func kinds() []string {
	out := make([]string, len(gearing.Kinds))
	for i, k := range gearing.Kinds {
		out[i] = string(k)
	}
	return out
}
