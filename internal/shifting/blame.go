package shifting

import (
	"cmp"
	"fmt"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/shifts"
	"innercompass/core/unitsheet"
)

// sure is how likely a suspect has to be to be named alone, and quiet how likely nothing has to be.
const (
	sure  = 0.75
	quiet = 0.4
)

// Blamed says in words what may be behind the shifts.
func (t Told) Blamed() string {
	if len(t.Suspects) == 0 {
		return ""
	}
	first := t.Suspects[0]
	switch {
	case first.Blame == shifts.Sound && first.Probability >= quiet:
		return "Nothing stands out in these shifts."
	case first.Probability >= sure:
		return fmt.Sprintf("Behind them: %s (%.0f in 100).", t.Word(first), 100*first.Probability)
	}
	text := "These shifts do not tell it alone:"
	for i, s := range t.Suspects[:min(3, len(t.Suspects))] {
		if i > 0 {
			text += ","
		}
		text += fmt.Sprintf(" %s (%.0f in 100)", t.Word(s), 100*s.Probability)
	}
	return text + ". One more drive, with other shifts, parts them."
}

// Word is a suspect in words.
func (t Told) Word(s shifts.Suspect) string {
	name := elementName(t.Unit, s.Element)
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

// Look says where the trade looks for a suspect (common practice, no source).
func Look(s shifts.Suspect) string {
	switch s.Blame {
	case shifts.LateOn:
		return "Look at clearance, seal lips, the feed orifice and the check ball."
	case shifts.NeverOn:
		return "Look at its solenoid, its valve, its feed passage, then the piston."
	case shifts.Weak:
		return "Look at plates and lining, the fluid, a wave plate put in wrong."
	case shifts.Leaking:
		return "Air check it; look at seal rings, their bores, the piston seal."
	case shifts.SlowOff:
		return "Look at the exhaust of its valve, return springs, burnt or warped plates."
	case shifts.LineLow:
		return "Gauge on the line tap: idle and full throttle; filter, pump, regulator."
	}
	return ""
}

// TapWords is what a tap showed, in words.
func TapWords(x shifts.Tapped) string {
	return faultmap.Info(faultmap.Tap).StateTitle(cmp.Or(x.State, faultmap.Info(faultmap.Tap).Normal()))
}

// ElementName is an element's name on the sheet.
func (t Told) ElementName(id string) string { return elementName(t.Unit, id) }

func elementName(u *unitsheet.Unit, id string) string {
	if e, ok := u.Element(id); ok {
		return e.Name
	}
	return id
}

// Said says in a sentence or two what a shift shows.
func (t Told) Said(i int) string {
	s, a := t.Shifts[i], t.Against[i]
	c := t.Box.Change(s.From, s.To)
	on, off := names(t.Unit, c.On), names(t.Unit, c.Off)
	switch {
	case s.Unfinished:
		return "Begun and given up: it came back to its gear."
	case s.Down && a.Shifts == 0:
		return "A downshift is held against nothing but a sound unit's own."
	case a.LowPressure:
		return fmt.Sprintf("Once on, the tap of %s shows less than the line: oil is lost on the way, or past its rings.", on)
	case a.FillsLate && a.Flared:
		return fmt.Sprintf("%s bites late: %s has let go before it holds, and the turbine runs up.", title(on), orNothing(off))
	case a.FillsLate:
		return title(on) + " fills late, and is just caught."
	case a.Tied:
		return fmt.Sprintf("%s still holds while %s takes hold: both at once.", title(orNothing(off)), on)
	case a.Flared && a.Long:
		return title(on) + " slips on its way: it holds too little, or its oil is lost."
	case a.Flared && a.FillKnown:
		return fmt.Sprintf("The turbine runs up though %s fills in time: it holds too little, or %s lets go early.", on, orNothing(off))
	case a.Flared:
		return fmt.Sprintf("The turbine runs up between two gears: %s comes late or weak, or %s lets go early.", on, orNothing(off))
	case a.Long:
		return title(on) + " takes too long to bring the gear: weak, or little pressure."
	case a.SlipsAfter:
		return title(on) + " slips on in the new gear."
	case a.Hard:
		return title(on) + " gets more pressure at once than in a sound unit: nothing cushions it."
	case a.Quick:
		return "Quicker than a sound one: it will be felt as hard."
	}
	return "In its windows."
}

func orNothing(s string) string {
	if s == "" {
		return "the one-way clutch"
	}
	return s
}

func title(s string) string {
	if s == "" {
		return s
	}
	return strings.ToUpper(s[:1]) + s[1:]
}

func names(u *unitsheet.Unit, ids []string) string {
	var out []string
	for _, id := range ids {
		out = append(out, elementName(u, id))
	}
	return strings.Join(out, " and ")
}
