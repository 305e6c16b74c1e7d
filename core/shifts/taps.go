package shifts

import (
	"math"
	"slices"
)

// Tapped is what the tap of an element showed over a drive, in the words of the fault table: "" where all was as it should be.
type Tapped struct {
	Element string
	State   string
	Seen    int // stretches and changes that it rests on
}

const (
	noPressure = 0.25 // of the line: less is none
	settles    = 0.5  // s of a stretch that are left out, until pressures have settled
	leads      = 0.5  // s before its end by which the next command may come
	shortest   = 1.0  // s of a stretch that counts
)

// shares are the pressures at the taps over that of the line, over a stretch; nil when it is too short or the line was not recorded.
func (d Drive) shares(from, to float64) map[string]float64 {
	to -= leads
	line := d.Line.mean(from+settles, to)
	if to-from < shortest || line < 1e5 || len(d.Pressures) == 0 {
		return nil
	}
	out := map[string]float64{}
	for id, p := range d.Pressures {
		out[id] = p.mean(from+settles, to) / line
	}
	return out
}

// commandedIn is the gear that was commanded all through a stretch; the one that was found where commands were not recorded, "" where they changed.
func (m measure) commandedIn(found string, from, to float64) string {
	c := m.d.Gear
	if len(c.Time) == 0 {
		return found
	}
	a, b := c.within(from, to-leads)
	if a >= b || slices.ContainsFunc(c.Value[a:b], func(x float64) bool { return math.Round(x) != math.Round(c.Value[a]) }) {
		return ""
	}
	return m.numbered(math.Round(c.Value[a]))
}

// Taps tells of each element whose pressure was recorded what its tap showed: in the stretches in a gear, in gears that never came, and as it came on and let go against sound shifts.
func (b Box) Taps(r Result, sound []Shift) []Tapped {
	var out []Tapped
	for _, id := range r.Recorded {
		out = append(out, b.tap(id, r, sound))
	}
	return out
}

func (b Box) tap(id string, r Result, sound []Shift) Tapped {
	var on, none, low, off, stays int
	stretch := func(gear string, shares map[string]float64) {
		share, ok := shares[id]
		g := b.gear(gear)
		switch {
		case !ok || g.ID == "":
		case !slices.Contains(g.Applied, id):
			off++
			stays += one(share > noPressure)
		default:
			on++
			none += one(share < noPressure)
			low += one(share < carriedLeast)
		}
	}
	for _, s := range r.Held {
		stretch(s.Commanded, s.Shares)
	}
	for _, x := range r.Missing {
		stretch(x.To, x.Shares)
	}
	var comes, late, hard, goes, slow int
	for _, s := range r.Shifts {
		w := WindowsOf(s, sound)
		if s.Unfinished || s.Down && w.Shifts == 0 {
			continue
		}
		c, f := b.Change(s.From, s.To), w.Held(s)
		if slices.Contains(c.On, id) {
			comes += one(f.FillKnown)
			late += one(f.FillsLate)
			hard += one(f.Hard && !s.Down)
		}
		if slices.Contains(c.Off, id) {
			goes += one(f.OverlapKnown)
			slow += one(f.Tied && !f.FillsLate)
		}
	}
	out := Tapped{Element: id, Seen: on + off + comes + goes}
	switch {
	case 2*stays > off:
		out.State = "stays"
	case 2*none > on:
		out.State = "none"
	case 2*low > on:
		out.State = "low"
	case 2*late > comes:
		out.State = "late"
	case 2*slow > goes:
		out.State = "slow"
	case 2*hard > comes:
		out.State = "hard"
	}
	return out
}

func one(b bool) int {
	if b {
		return 1
	}
	return 0
}
