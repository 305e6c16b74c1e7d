package burnt

import (
	"fmt"
	"math"
	"strings"
)

// From which probability of slip an answer names it, and calls it likely: judgment, no source.
const (
	maySlip = 0.05
	slips   = 0.5
)

// Says is the answer in one or two sentences.
func (a Answer) Says() string {
	switch {
	case !a.Model:
		return "The sheet does not give what it holds: no margin can be computed."
	case len(a.Margins) == 0:
		return "It carries no load that the gears can tell."
	}
	m := a.Margins[0]
	where := strings.ToLower(m.Name[:1]) + m.Name[1:]
	var alone []string
	for _, c := range a.Conditions {
		if c.Alone {
			alone = append(alone, c.Title)
		}
	}
	does := strings.Join(alone, ", ")
	switch {
	case does != "" && m.Throttle > 0:
		return fmt.Sprintf("In %s it holds %.2f times what it must, from %.0f %% throttle on it slips. By itself that does: %s.", where, m.Ratio.Is, 100*m.Throttle, does)
	case does != "" && m.Ratio.Is >= 1:
		return fmt.Sprintf("In %s it holds %.2f times what it must, as other readings make up for it. By itself it would slip from: %s.", where, m.Ratio.Is, does)
	case does != "":
		return fmt.Sprintf("In %s it holds %.2f times what it must. By itself that does: %s.", where, m.Ratio.Is, does)
	case m.Slips > slips:
		return fmt.Sprintf("Together, what was found takes it to %.2f times what it must hold in %s. No one condition does it alone.", m.Ratio.Is, where)
	case m.Slips > maySlip:
		return fmt.Sprintf("It may slip in %s: %d in 100, by what is known.", where, int(math.Round(100*m.Slips)))
	}
	return fmt.Sprintf("By what was measured it holds %.2f times what it must in %s, where it has least to spare. What burned it is not measured yet.", m.Ratio.Is, where)
}
