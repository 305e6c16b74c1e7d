package friction

import "math"

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
