// Package friction says what torque a clutch or band holds at a pressure, and what room its plates leave.
//
// Model: dry Coulomb friction with one static coefficient; plates worn in, so that pressure times radius is
// even over the face (uniform wear) and the mean radius counts; the piston pushes with pressure times area
// less its return springs. Bands follow the rope (capstan) equation with the servo's force at one end. No
// centrifugal head, no heat. All values in SI units (m, m², N, Pa, N·m, rad); angles in radians.
//
// References: [1] J. E. Shigley, C. R. Mischke, Mechanical Engineering Design, frictional-contact axial
// clutches, uniform wear; [2] the same, band-type clutches and brakes, P1/P2 = exp(μφ).
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

// Band is a band round a drum with a servo at its end.
type Band struct {
	Radius float64 // of the drum, m
	Wrap   float64 // angle of contact, rad
	Mu     float64 // static coefficient
	Servo  float64 // effective area of the servo piston on the apply side, m²
	Lever  float64 // force at the band for each newton at the servo
	Spring float64 // force of the return spring with the band tight, N
	Eases  bool    // the drum's reaction unwinds the band instead of tightening it
}

// Capacity is the torque that the band holds at pressure p [2]; zero until the spring gives way.
func (b Band) Capacity(p float64) float64 {
	force := math.Max(0, p*b.Servo-b.Spring) * b.Lever
	grip := math.Exp(b.Mu * b.Wrap)
	if b.Eases {
		return force * b.Radius * (1 - 1/grip)
	}
	return force * b.Radius * (grip - 1)
}

// Touch is the pressure at which the band begins to hold.
func (b Band) Touch() float64 { return b.Spring / b.Servo }

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
