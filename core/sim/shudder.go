package sim

import "math"

// The lining and the damper of a converter clutch that shudders (chosen; that such a damper's mode lies at 10 to 15 Hz is from memory).
const (
	grabSpeed  = 3.0  // rad/s of slip over which the lining's friction falls
	damperMode = 12.0 // Hz
	plateMass  = 0.25 // kg·m²
	damperLoss = 0.06 // of critical
	plateSteps = 10   // of the plate's own, in one step
	sticks     = 0.8  // rad/s within which the lining turns round
)

// plate is the clutch's lined plate on its damper spring, against the turbine.
type plate struct{ twist, speed float64 }

// grab is what the clutch carries when its lining grips less the faster it slips: the plate swings on its damper, since a plate that is ahead is pulled less than one that
// falls behind. The plate moves beside the step's own problem and a step behind it: its own energy of motion is not in the ledger, and what its spring hands on may for moments be more than the lining carries.
func (m *Sim) grab(h, capacity float64) float64 {
	slip := m.slips[m.train.Lockup]
	holds := math.Abs(slip) < 0.05
	comes := math.Min(math.Max(m.train.Tight.Impulses()[m.train.Lockup]/h, -capacity), capacity)
	w, mean := 2*math.Pi*damperMode, 0.0
	for range plateSteps {
		past := slip - m.plate.speed
		carried := comes // when it holds
		if !holds {
			carried = capacity * (1 - m.grabs*(1-math.Exp(-math.Abs(past)/grabSpeed))) * math.Tanh(past/sticks)
		}
		m.plate.speed += h / plateSteps * (carried/plateMass - w*w*m.plate.twist - 2*damperLoss*w*m.plate.speed)
		m.plate.twist += h / plateSteps * m.plate.speed
		mean += plateMass * w * (w*m.plate.twist + 2*damperLoss*m.plate.speed) / plateSteps // what the damper hands on
	}
	if holds {
		return capacity
	}
	return math.Max(0, mean*math.Copysign(1, slip))
}
