package friction

import "math"

// Plates is a multi-plate clutch or brake.
type Plates struct {
	Faces        int     // friction faces: twice the number of lined plates
	Outer, Inner float64 // radii of the lining, m
	Mu           float64 // static coefficient
	Piston       float64 // effective area, m²
	Spring       float64 // force of the return springs with the plates closed, N
}

// Capacity is the torque that the pack holds at pressure p [1]; zero until the springs give way.
func (c Plates) Capacity(p float64) float64 {
	return c.Mu * float64(c.Faces) * math.Max(0, p*c.Piston-c.Spring) * (c.Outer + c.Inner) / 2
}

// Touch is the pressure at which the pack begins to hold.
func (c Plates) Touch() float64 { return c.Spring / c.Piston }

// Stack is a pack of plates between piston and stop.
type Stack struct {
	Lined, Steel int     // number of plates
	LinedThick   float64 // m
	SteelThick   float64 // m
	Backing      float64 // backing plate, m
	Depth        float64 // from the piston's face to the snap ring, m
}

// Clearance is the room that the pack leaves.
func (s Stack) Clearance() float64 {
	return s.Depth - s.Backing - float64(s.Lined)*s.LinedThick - float64(s.Steel)*s.SteelThick
}
