package shifts_test

import (
	"math"
	"testing"

	"innercompass/core/shifts"
)

// five is a drive up through six gears: what comes on, what lets go.
func five(long ...int) []shifts.Mark {
	on := [][]string{{"C"}, {"B"}, {"E"}, {"B"}, {"C"}}
	off := [][]string{nil, {"C"}, {"B"}, {"A"}, {"B"}}
	var out []shifts.Mark
	for i := range on {
		out = append(out, shifts.Mark{Change: shifts.Change{On: on[i], Off: off[i], Demand: 1}})
	}
	for _, i := range long {
		out[i].Long = true
	}
	return out
}

func of(list []shifts.Suspect, b shifts.Blame, e string) float64 {
	for _, s := range list {
		if s.Blame == b && s.Element == e {
			return s.Probability
		}
	}
	return math.NaN()
}

// By hand: with both shifts long that B comes on for, its likelihood is 0.8²·0.94³ (and 0.96 for each shift that is not tied), that of nothing 0.06²·0.94³, that of the line 0.8²·0.2³.
func TestOneElementBehindTwoShifts(t *testing.T) {
	got := shifts.WhoIsToBlame(five(1, 3))
	if got[0].Blame != shifts.LateOn || got[0].Element != "B" || got[0].Probability < 0.95 {
		t.Errorf("%+v", got)
	}
	for _, c := range []struct {
		b         shifts.Blame
		e         string
		bad, good float64
	}{{shifts.Sound, "", 0.06 * 0.06, math.Pow(0.94, 3)}, {shifts.LineLow, "", 0.8 * 0.8, math.Pow(0.2, 3)}, {shifts.LateOn, "E", 0.06 * 0.06, 0.94 * 0.94 * 0.2}} {
		want := c.bad * c.good / (0.8 * 0.8 * math.Pow(0.94, 3))
		if x := of(got, c.b, c.e) / got[0].Probability; math.Abs(x-want) > 1e-12 {
			t.Errorf("%s %s: %g of the first, want %g", c.b, c.e, x, want)
		}
	}
}

// One bad shift of two does not tell; all of them are the line; a dip is of what lets go; none is nothing.
func TestWhatOtherDrivesTell(t *testing.T) {
	if got := shifts.WhoIsToBlame(five(1)); got[0].Element != "B" || got[0].Probability > 0.7 {
		t.Errorf("one of two: %+v", got[:3])
	}
	if got := shifts.WhoIsToBlame(five(0, 1, 2, 3, 4)); got[0].Blame != shifts.LineLow {
		t.Errorf("all: %+v", got[:3])
	}
	tied := five()
	tied[2].Tied, tied[4].Tied = true, true
	if got := shifts.WhoIsToBlame(tied); got[0].Blame != shifts.SlowOff || got[0].Element != "B" || got[0].Probability < 0.9 {
		t.Errorf("tied: %+v", got[:3])
	}
	if got := shifts.WhoIsToBlame(five()); got[0].Blame != shifts.Sound {
		t.Errorf("none: %+v", got[:3])
	}
	sum := 0.0
	for _, s := range shifts.WhoIsToBlame(five(1)) {
		sum += s.Probability
	}
	if math.Abs(sum-1) > 1e-12 {
		t.Errorf("they sum to %v", sum)
	}
}
