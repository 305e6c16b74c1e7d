package unitsheet

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/quantity"
)

// Doubts lists what can be built and solved but does not fit together: an element that would slip in
// health, plates that do not leave their clearance, springs that do not give their pressure, shift points
// out of their windows, fail-safe logic that binds. They are cautions for whoever writes a sheet, not errors.
func (u *Unit) Doubts() []*Problem {
	d := &doubts{u: u}
	for i, e := range u.Elements {
		d.element(fmt.Sprintf("elements[%d]", i), e)
	}
	d.pressures()
	d.shifts()
	if t := d.u.LockupTorque; Known(t) && t.SI < math.Max(1, d.u.Sheet.Engine.Margin)*d.u.MaxTorque.SI {
		d.say("converter.lockup_torque", "the converter clutch holds "+t.Format("N·m")+" of the engine's "+d.u.MaxTorque.Format("N·m"), fmt.Sprintf("at least %.2f times the engine's torque", math.Max(1, d.u.Sheet.Engine.Margin)))
	}
	for i, l := range u.Sheet.Limp {
		r, err := u.Result(u.Limp(l.Selector))
		if err == nil && r.Outcome == "bind" {
			d.say(fmt.Sprintf("limp[%d]", i), "without power the unit binds in "+l.Selector, "elements that drive or leave neutral")
		}
	}
	return d.found
}

type doubts struct {
	u     *Unit
	found []*Problem
}

func (d *doubts) say(path, reason, accepted string) {
	d.found = append(d.found, &Problem{Path: path, Reason: reason, Accepted: accepted})
}

func (d *doubts) element(path string, e Element) {
	margin := math.Max(1, d.u.Sheet.Engine.Margin)
	if Known(d.u.MaxTorque) && e.hold != nil {
		for _, r := range d.u.Ranges {
			if !slices.Contains(r.Applied, e.ID) && !slices.Contains(r.Healthy.Holding, e.ID) || e.pressed && !Known(r.LineFull.Low) {
				continue
			}
			load := d.u.Load(r, e.ID) * d.u.EngineTorque(r, 1)
			if can := e.hold(r.LineFull.Low.SI); load > 0 && can < margin*load {
				d.say(path, fmt.Sprintf("%s holds %.0f N·m in %s and has to hold %.0f N·m", e.Name, can, r.ID, load), fmt.Sprintf("at least %.2f times the load", margin))
				continue
			}
			d.partThrottle(path, r, e)
		}
	}
	for _, l := range d.u.Sheet.Limits {
		w := d.u.Limits[l.ID]
		if l.Element != e.ID || w.Low.Dimension != quantity.Length || !Known(e.Clear) || l.ID != "clearance-"+e.ID {
			continue
		}
		if e.Clear.SI < w.Low.SI-1e-9 || e.Clear.SI > w.High.SI+1e-9 {
			d.say(path+".plates", fmt.Sprintf("the plates leave %s", e.Clear.Format("mm")), "within "+w.Format("mm"))
		}
	}
	for _, r := range d.u.Ranges {
		if e.pressed && slices.Contains(r.Applied, e.ID) && Known(r.LineIdle.Low) && e.Touch.SI > 0.7*r.LineIdle.Low.SI {
			d.say(path, fmt.Sprintf("%s begins to hold at %s", e.Name, e.Touch.Format("bar")), fmt.Sprintf("well below the idle line pressure of %s in %s", r.LineIdle.Format("bar"), r.ID))
		}
	}
}

// partThrottle looks between idle and full throttle, where pressure may not have risen with the torque.
func (d *doubts) partThrottle(path string, r Range, e Element) {
	for i := range 20 {
		throttle := float64(i) / 20
		line, known := r.Line(throttle)
		if !known && e.pressed {
			return
		}
		if load := d.u.Load(r, e.ID) * d.u.EngineTorque(r, throttle); load > e.hold(line) {
			d.say(path, fmt.Sprintf("%s holds %.0f N·m in %s at %.0f %% throttle and has to hold %.0f N·m", e.Name, e.hold(line), r.ID, 100*throttle, load), "more pressure at part throttle, or less torque")
			return
		}
	}
}

// pressures holds the regulator's springs and areas against the pressures that the ranges ask for.
func (d *doubts) pressures() {
	if d.u.Regulator == nil {
		return
	}
	closed, full := 0.0, 0.0
	if t := d.u.Throttle; t != nil {
		closed, full = t.Closed, t.Full
	}
	for i, r := range d.u.Ranges {
		for _, x := range []struct {
			name     string
			w        quantity.Window
			throttle float64
		}{{"line_idle", r.LineIdle, closed}, {"line_full", r.LineFull, full}} {
			if !Known(x.w.Low) {
				continue
			}
			plain, boosted := d.u.Regulator.Line(x.throttle, false), d.u.Regulator.Line(x.throttle, true)
			if !inside(plain, x.w) && !inside(boosted, x.w) {
				d.say(fmt.Sprintf("ranges[%d].%s", i, x.name), fmt.Sprintf("regulator gives %s, boosted %s", bar(plain), bar(boosted)), "one of them within "+x.w.Format("bar"))
			}
		}
	}
}

func inside(si float64, w quantity.Window) bool { return si >= w.Low.SI && si <= w.High.SI }

func bar(pa float64) string {
	return quantity.Quantity{SI: pa, Dimension: quantity.Pressure}.Format("bar")
}

func (d *doubts) shifts() {
	last := map[string]ShiftPoint{}
	for i, s := range d.u.Shifts {
		at := fmt.Sprintf("hydraulics.shifts[%d]", i)
		for _, x := range []struct {
			name    string
			v       quantity.Quantity
			w       quantity.Window
			reached bool
		}{{"light", s.Light, s.LightWindow, s.LightReached}, {"full", s.Full, s.FullWindow, s.FullReached}} {
			if !x.reached || Known(x.w.Low) && !inside(x.v.SI, x.w) {
				d.say(at+"."+x.name, "the valve moves at "+x.v.Format("km/h"), "within "+x.w.Format("km/h"))
			}
		}
		r, _ := d.u.Range(s.To)
		if before, ok := last[r.From]; ok && s.Full.SI <= before.Full.SI {
			d.say(at, "it moves before the valve below it", "a higher road speed than the shift into "+r.From)
		}
		last[s.To] = s
	}
}
