package decide

import (
	"fmt"
	"slices"
	"strings"
)

// surest brings a targeted repair that all but surely cures to the front, when the cheapest in expectation most likely does not: what is still
// in doubt is then reached by the same work, and to try the cheaper first would be to sell a repair that most likely fails.
func surest(rows []Row) {
	if len(rows) == 0 || rows[0].Settled() || !rows[0].Recommendable() {
		return
	}
	at := slices.IndexFunc(rows, func(r Row) bool {
		return r.Recommendable() && r.Option.Strategy == "targeted" && r.Cured >= curesAll
	})
	if at > 0 {
		r := rows[at]
		copy(rows[1:at+1], rows[:at])
		rows[0] = r
	}
}

// rank puts what may be recommended before the rest: too dear, then without a price, then a hazard.
func (r Row) rank() int {
	switch {
	case r.Hazard != "":
		return 4
	case r.Beside:
		return 3
	case len(r.Missing) > 0:
		return 2
	case r.Over:
		return 1
	}
	return 0
}

func headline(rows []Row) string {
	if len(rows) == 0 {
		return "No option is known for these suspects."
	}
	best := rows[0]
	switch {
	case best.Beside:
		return "Nothing here goes with what is known: what would cure the leader is not offered, or nothing leads yet."
	case best.Hazard != "":
		return "Not to be driven: every option here leaves a hazard. " + best.Hazard
	case len(best.Missing) > 0:
		return "No option is priced in full: " + strings.Join(best.Missing, ", ") + " without a price."
	case best.Over && best.Cured >= settled && slices.ContainsFunc(rows, func(r Row) bool { return !r.Over }):
		return fmt.Sprintf("Under the ceiling nothing is likely to cure it; “%s”, above it, is.", best.Title())
	case best.Over:
		return "Nothing under the ceiling: the cheapest in expectation is above it."
	case !best.Settled():
		if i := slices.IndexFunc(rows, func(r Row) bool { return r.rank() == 1 && r.Cured >= settled }); i >= 0 {
			return fmt.Sprintf("Under the ceiling nothing is likely to cure it; “%s”, above it, is.", rows[i].Title())
		}
		return fmt.Sprintf("Too early to decide: the cheapest option leaves %.0f of 100 such vehicles uncured.", 100*(1-best.Cured))
	}
	return best.Title()
}
