package shifting

import (
	"math"

	"innercompass/core/creep"
	"innercompass/core/quantity"
	"innercompass/core/shifts"
	"innercompass/core/unitsheet"
)

// touchLimit is the limit of a sheet that gives where an automated clutch begins to take hold.
const touchLimit = "kiss-travel"

// Touched is where an automated clutch takes hold, against its sheet and against another drive.
type Touched struct {
	creep.Result
	Window shifts.Window // of the sheet, mm; nothing where it gives none
	Since  *Moved        // since the drive that it is held against
}

// Moved is how far a touch point has moved between two drives.
type Moved struct {
	By, U      float64 // mm
	Wear, Sure float64 // the same over the way in the sheet's window, and half of its 95 % interval; nothing without one
	Unlike     bool    // the ramps were not as slow as each other: the point moves with them
}

// likeRamps is how far two ramps may differ to be held against each other, as a share.
const likeRamps = 0.3

// touched puts a touch point beside the sheet's window.
func touched(u *unitsheet.Unit, r creep.Result) *Touched {
	t := &Touched{Result: r}
	for _, l := range u.Sheet.Limits {
		if l.ID != touchLimit {
			continue
		}
		if w, err := quantity.ParseWindow(l.Window, quantity.Length, "mm"); err == nil {
			t.Window = shifts.Window{Low: w.Low.SI * 1e3, High: w.High.SI * 1e3}
		}
	}
	return t
}

// since says how far it has moved since another drive.
func (t *Touched) since(other *Touched) {
	if t == nil || other == nil {
		return
	}
	a, b := t.Ramps[0].Ramp, other.Ramps[0].Ramp
	m := &Moved{By: t.Point - other.Point, U: math.Hypot(t.U, other.U), Unlike: math.Abs(a-b) > likeRamps*math.Max(a, b)}
	if wear, u, err := t.Wear(other.Point, t.Window.High-t.Window.Low); err == nil {
		m.Wear, m.Sure = wear, math.Hypot(u, other.U/(t.Window.High-t.Window.Low))
	}
	t.Since = m
}
