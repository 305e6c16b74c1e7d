package gearing

import "math"

// OrderKind says what makes an order.
type OrderKind string

// The kinds of order.
const (
	ToothMesh  OrderKind = "mesh"        // teeth that meet
	PlanetPass OrderKind = "planet-pass" // pinions that pass one place of a sun or ring
	Shaft      OrderKind = "shaft"       // a member's own turning
)

// Order is a frequency of the train in one state, as events per turn of the input and of the output.
// Multiplied by the shaft's speed in rev/s it is a frequency in hertz.
type Order struct {
	Kind      OrderKind
	A, B      string // the gears that meet; for a shaft, A alone
	PerInput  float64
	PerOutput float64 // 0 while the output stands
	Loaded    bool    // the gears carry torque in this state
}

// Orders lists the orders of a flow whose members are determined: one for each tooth mesh that turns, one
// for each place that pinions pass, one for each turning member that bears no pinion.
func (t Train) Orders(f Flow) []Order {
	var out []Order
	vOut := math.Abs(f.Speeds[t.Output])
	add := func(kind OrderKind, a, b string, perInput float64, loaded bool) {
		if perInput <= eps {
			return
		}
		o := Order{Kind: kind, A: a, B: b, PerInput: perInput, Loaded: loaded}
		if vOut > eps {
			o.PerOutput = perInput / vOut
		}
		out = append(out, o)
	}
	for i, m := range t.Meshes {
		wa, okA := t.speedIn(f, m.A)
		wc, okC := t.speedIn(f, m.Carrier)
		if !okA || !okC {
			continue
		}
		loaded := i < len(f.Teeth) && math.Abs(f.Teeth[i]) > eps
		add(ToothMesh, m.A, m.B, math.Abs(wa-wc)*float64(m.TeethA), loaded)
		if m.Pinions > 1 {
			add(PlanetPass, m.A, m.Carrier, math.Abs(wa-wc)*float64(m.Pinions), loaded)
		}
	}
	for _, m := range t.Members {
		if w, ok := f.Speeds[m]; ok && !t.pinion(m) {
			add(Shaft, m, "", math.Abs(w), true)
		}
	}
	return out
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
