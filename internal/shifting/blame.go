package shifting

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/shifts"
	"innercompass/core/unitsheet"
)

// A shift upward is long when it takes more than this, or flares by more (judgment: sound simulated units stay below both).
const (
	longInertia = 0.75 // s
	flareNoted  = 90.0 // rev/min
)

// suspects lays the shifts upward at what comes on for them. From speeds alone no dip is told, and what lets go slowly is hardly seen.
func suspects(u *unitsheet.Unit, found []shifts.Shift) []shifts.Suspect {
	var marks []shifts.Mark
	most := 0.0
	for _, s := range found {
		if s.Down || s.Unfinished || s.Skips {
			continue
		}
		from, _ := u.Range(s.From)
		to, _ := u.Range(s.To)
		m := shifts.Mark{Change: changeOf(u, from, to), Dipless: true, Long: s.Inertia-s.InertiaU > longInertia || s.Flare > flareNoted}
		most = math.Max(most, m.Demand)
		marks = append(marks, m)
	}
	if len(marks) == 0 {
		return nil
	}
	for i := range marks {
		if most > 0 {
			marks[i].Demand /= most
		}
	}
	return shifts.WhoIsToBlame(marks)
}

// changeOf is what comes on and what lets go between two ranges, and how much of its hold what comes on needs at one pressure.
func changeOf(u *unitsheet.Unit, from, to unitsheet.Range) shifts.Change {
	var c shifts.Change
	for _, id := range to.Applied {
		if slices.Contains(from.Applied, id) {
			continue
		}
		c.On = append(c.On, id)
		e, _ := u.Element(id)
		if hold, known := e.Hold(1e6); known && hold > 0 {
			c.Demand = math.Max(c.Demand, math.Abs(to.Healthy.Torques[id])/hold)
		}
	}
	for _, id := range from.Applied {
		if !slices.Contains(to.Applied, id) {
			c.Off = append(c.Off, id)
		}
	}
	return c
}

// sure is how likely a suspect has to be to be named alone.
const sure = 0.75

// Blamed says in words what may be behind the shifts.
func (t Told) Blamed() string {
	if len(t.Suspects) == 0 {
		return ""
	}
	first := t.Suspects[0]
	switch {
	case first.Blame == shifts.Sound && first.Probability >= 0.4:
		return "Nothing stands out in these shifts."
	case first.Probability >= sure:
		return fmt.Sprintf("Behind them: %s (%.0f in 100).", t.word(first), 100*first.Probability)
	}
	text := "These shifts do not tell it alone:"
	for i, s := range t.Suspects[:min(3, len(t.Suspects))] {
		if i > 0 {
			text += ","
		}
		text += fmt.Sprintf(" %s (%.0f in 100)", t.word(s), 100*s.Probability)
	}
	return text + ". One more drive, with other shifts, parts them."
}

func (t Told) word(s shifts.Suspect) string {
	name := s.Element
	if e, ok := t.Unit.Element(s.Element); ok {
		name = e.Name
	}
	switch s.Blame {
	case shifts.LateOn:
		return name + " comes on late or weak"
	case shifts.SlowOff:
		return name + " lets go slowly"
	case shifts.LineLow:
		return "line pressure low"
	}
	return "nothing wrong"
}
