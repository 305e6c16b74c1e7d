package shifting

import (
	"fmt"

	"innercompass/core/shifts"
)

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
		return name + " bites late"
	case shifts.NeverOn:
		return name + " does not come on"
	case shifts.Weak:
		return name + " holds too little"
	case shifts.Leaking:
		return name + " loses its oil"
	case shifts.SlowOff:
		return name + " lets go slowly"
	case shifts.LineLow:
		return "line pressure low"
	}
	return "nothing wrong"
}
