package shifting

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/core/shifts"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
)

// Temperatures between which a drive counts as neither cold nor hot, °C (common practice, no source).
const (
	coldBelow = 45.0
	hotFrom   = 55.0
)

// Noted is what goes into a case.
type Noted struct {
	Finding, State, Title, Value string
}

// leastSound is how many shifts of a kind have to be in their windows for it to be noted as normal.
const leastSound = 2

// Verdicts are the readings that the shifts come to: each kind of shift by the worst that several of it show, how it takes up, and the converter clutch.
func (t Told) Verdicts(n *knowledge.Network, temperature string) []Noted {
	var out []Noted
	add := func(finding, state, value string) {
		f, ok := n.Finding(finding)
		if !ok || f.StateAt(state) < 0 {
			return
		}
		out = append(out, Noted{finding, state, f.Title + ": " + f.StateTitle(state), value})
	}
	type seen struct {
		states map[string]int
		n      int
		value  string
		worst  float64
	}
	kinds := map[faultmap.Cell]*seen{}
	var order []faultmap.Cell
	for i, s := range t.Shifts {
		if s.Unfinished || s.Skips || s.Down && t.Against[i].Shifts == 0 {
			continue
		}
		cell := faultmap.Cell{Range: s.To, Behaviour: faultmap.Shift}
		if s.Down {
			cell.Behaviour = faultmap.Down
		}
		k := kinds[cell]
		if k == nil {
			k = &seen{states: map[string]int{}}
			kinds[cell], order = k, append(order, cell)
		}
		state := t.Against[i].State()
		k.states[state]++
		k.n++
		if x := math.Max(s.Flare/100, s.Inertia); x > k.worst {
			k.worst, k.value = x, fmt.Sprintf("%.2f s, flare %.0f rpm at %.0f %% throttle", s.Inertia, s.Flare, 100*s.Throttle)
		}
	}
	for _, cell := range order {
		k := kinds[cell]
		state, most := "", 0
		for _, id := range []string{"tie-up", "flare", "delay", "harsh", "normal"} { // in this order where as many are seen
			if k.states[id] > most {
				state, most = id, k.states[id]
			}
		}
		if state == "normal" && most < leastSound || 2*most < k.n {
			continue
		}
		add(knowledge.RoadID(temperature, cell), state, fmt.Sprintf("%d of %d; at worst %s", most, k.n, k.value))
	}
	for _, x := range t.Missing {
		add(knowledge.RoadID(temperature, faultmap.Cell{Range: x.To, Behaviour: faultmap.Shift}), "missing", fmt.Sprintf("commanded at %.1f s, never reached", x.At))
	}
	for _, e := range t.Engagements {
		id := e.Gear
		if id == "reverse" {
			id = t.reverse()
		}
		cell := faultmap.Cell{Range: id, Behaviour: faultmap.Engages}
		switch {
		case !e.Finished:
			add(knowledge.RoadID(temperature, cell), "none", "not caught in 4 s")
		case e.Delay-e.DelayU > shifts.UsualTake:
			add(knowledge.RoadID(temperature, cell), "late", fmt.Sprintf("%.2f ± %.2f s", e.Delay, e.DelayU))
		default:
			add(knowledge.RoadID(temperature, cell), "normal", fmt.Sprintf("%.2f ± %.2f s", e.Delay, e.DelayU))
		}
	}
	t.converter(add)
	if temperature == "hot" { // cold oil leaks less and comes later: its taps are read warm
		t.taps(add)
	}
	return out
}

// taps adds what the taps showed: what is wrong; and what is right where enough was seen, against a sound unit: usual windows are too wide to call a tap sound.
func (t Told) taps(add func(finding, state, value string)) {
	for _, x := range t.Taps {
		switch {
		case x.State != "":
			add(knowledge.TapID(x.Element), x.State, fmt.Sprintf("over %d stretches and changes", x.Seen))
		case x.Seen >= 2*leastSound && slices.ContainsFunc(t.Against, func(h Held) bool { return h.Windows.Shifts > 0 }):
			add(knowledge.TapID(x.Element), faultmap.Info(faultmap.Tap).Normal(), fmt.Sprintf("over %d stretches and changes", x.Seen))
		}
	}
}

// reverse is the range with the lever in reverse.
func (t Told) reverse() string {
	for _, r := range t.Unit.Ranges {
		if r.Driving() && t.Unit.RatioOf(r) < 0 {
			return r.ID
		}
	}
	return ""
}

// converter adds what the converter clutch shows: it shudders, it slips, it holds.
func (t Told) converter(add func(finding, state, value string)) {
	l := t.Lockup
	deepest := -1
	for i, s := range l.Shudders {
		if deepest < 0 || s.Depth > l.Shudders[deepest].Depth {
			deepest = i
		}
	}
	switch {
	case deepest >= 0:
		s := l.Shudders[deepest]
		add("tcc-slip", "surging", fmt.Sprintf("%.1f Hz, %.0f rpm deep and more, at %.0f %% throttle", s.Hertz, s.Depth, 100*s.Throttle))
	case l.OnFor > 5:
		worst := 0.0
		for _, c := range l.Cells {
			worst = math.Max(worst, c.Slip)
		}
		state := "small"
		if worst > fewest {
			state = "steady"
		}
		add("tcc-slip", state, fmt.Sprintf("%.0f rpm at most", worst))
	}
}

// Temperature is by the fluid how the drive counts; nothing when it is between, or was not recorded.
func (t Told) Temperature() string {
	sum, n := 0.0, 0.0
	for _, s := range t.Shifts {
		if s.Fluid != 0 {
			sum, n = sum+s.Fluid, n+1
		}
	}
	switch {
	case n == 0:
		return ""
	case sum/n < coldBelow:
		return "cold"
	case sum/n >= hotFrom:
		return "hot"
	}
	return ""
}

// Note puts the verdicts into the recording's case. Temperature is asked for where the fluid's was not recorded.
func (s *Service) Note(ctx context.Context, id string, a Asked, temperature, by string) (cases.Saved, []Noted, error) {
	t, err := s.Shifts(ctx, id, a)
	if err != nil {
		return cases.Saved{}, nil, err
	}
	if t.Recording.Case == "" {
		return cases.Saved{}, nil, problem.Field("case", "the recording is of no case", "say first of which")
	}
	if at := t.Temperature(); at != "" {
		temperature = at
	}
	if temperature != "hot" && temperature != "cold" {
		return cases.Saved{}, nil, problem.Field("temperature", fmt.Sprintf("%q", temperature), "hot or cold: the fluid's was not recorded, or lies between")
	}
	n, err := s.Cases.NetworkOf(ctx, t.Recording.Case)
	if err != nil {
		return cases.Saved{}, nil, err
	}
	if n.Unit.Sheet.ID != t.Unit.Sheet.ID {
		return cases.Saved{}, nil, problem.Field("unit", t.Unit.Sheet.Name, "the unit of the case: "+n.Unit.Sheet.Name)
	}
	noted := t.Verdicts(n, temperature)
	if len(noted) == 0 {
		return cases.Saved{}, nil, problem.Field("recording", "these shifts come to no reading", "more of them: two of a kind at least")
	}
	var list []readings.NewReading
	for _, x := range noted {
		list = append(list, readings.NewReading{Finding: x.Finding, State: x.State, Source: "measured", Value: short(x.Value), Note: "Recording: " + t.Recording.Title, By: by})
	}
	saved, err := s.Readings.AddReadings(ctx, t.Recording.Case, cases.Guard{}, list)
	return saved, noted, err
}

func short(s string) string {
	if len(s) > problem.MaxShort {
		return strings.TrimSpace(s[:problem.MaxShort-1]) + "…"
	}
	return s
}
