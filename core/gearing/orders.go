package gearing

import (
	"math"
	"slices"
)

// OrderKind says what makes an order.
type OrderKind string

// The kinds of order.
const (
	ToothMesh  OrderKind = "mesh"        // teeth that meet
	PlanetPass OrderKind = "planet-pass" // pinions that pass one place of a sun, a ring or the case
	PlanetSpin OrderKind = "planet-spin" // a pinion turning on its pin; one tooth of it strikes sun and ring once each in a turn
	Shaft      OrderKind = "shaft"       // a member's own turning
)

// Order is a frequency of the train in one state, as events per turn of the input and of the output.
// Multiplied by the shaft's speed in rev/s it is a frequency in hertz.
type Order struct {
	Kind      OrderKind
	A, B      string // the gears that meet; what pinions pass and their carrier; a pinion and its carrier; for a shaft, A alone
	PerInput  float64
	PerOutput float64 // 0 while the output stands
	Loaded    bool    // the gears carry torque in this state; of a planetary set when any of its meshes does
}

// Orders lists the orders of a flow whose members are determined: one for each tooth mesh that turns, one for each place that pinions
// pass (sun, ring, and the case with the carrier's own speed), one for each pinion on its pin, one for each turning member that bears
// no pinion.
func (t Train) Orders(f Flow) []Order {
	var out []Order
	vOut := math.Abs(f.Speeds[t.Output])
	add := func(kind OrderKind, a, b string, perInput float64, loaded bool) {
		if perInput <= eps || slices.ContainsFunc(out, func(o Order) bool { return o.Kind == kind && o.A == a && o.B == b && kind != ToothMesh }) {
			return
		}
		o := Order{Kind: kind, A: a, B: b, PerInput: perInput, Loaded: loaded}
		if vOut > eps {
			o.PerOutput = perInput / vOut
		}
		out = append(out, o)
	}
	for _, m := range t.Meshes {
		wa, okA := t.speedIn(f, m.A)
		wc, okC := t.speedIn(f, m.Carrier)
		if !okA || !okC {
			continue
		}
		loaded := t.loaded(f, m)
		add(ToothMesh, m.A, m.B, math.Abs(wa-wc)*float64(m.TeethA), loaded)
		if m.Carrier == "" || m.Carrier == Case {
			continue
		}
		if !t.pinion(m.A) && m.Pinions > 1 {
			add(PlanetPass, m.A, m.Carrier, math.Abs(wa-wc)*float64(m.Pinions), loaded)
			add(PlanetPass, Case, m.Carrier, math.Abs(wc)*float64(m.Pinions), loaded)
		}
		if wp, ok := f.Speeds[m.B]; ok {
			add(PlanetSpin, m.B, m.Carrier, math.Abs(wp-wc), loaded)
		}
	}
	for _, m := range t.Members {
		if w, ok := f.Speeds[m]; ok && !t.pinion(m) {
			add(Shaft, m, "", math.Abs(w), true)
		}
	}
	return out
}

// loaded reports whether a mesh carries torque, of a planetary set whether any mesh of its carrier does: its pinions pass it on.
func (t Train) loaded(f Flow, m Mesh) bool {
	for i, o := range t.Meshes {
		same := o == m || m.Carrier != "" && m.Carrier != Case && o.Carrier == m.Carrier
		if same && i < len(f.Teeth) && math.Abs(f.Teeth[i]) > eps {
			return true
		}
	}
	return false
}

func (t Train) speedIn(f Flow, member string) (float64, bool) {
	if member == Case || member == "" {
		return 0, true
	}
	w, ok := f.Speeds[member]
	return w, ok
}

// pinion reports whether a member turns on a carrier.
func (t Train) pinion(member string) bool {
	for _, m := range t.Meshes {
		if m.Carrier != "" && m.B == member {
			return true
		}
	}
	return false
}
