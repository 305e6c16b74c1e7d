// Package fasteners says what a torque makes of a bolt: its tension, the torque that gives the same tension with another
// lubricant, the correction for a tool beside the wrench, what a further angle adds, and in which order to tighten.
//
// Model: T = F·(p/2π + μt·rt/cos β + μh·rh), the balance of the screw as an inclined plane with friction at thread and
// head [1], β half the flank angle (30°). SI units (N·m, N, m, rad).
//
// Reference: [1] VDI 2230 part 1 and textbooks of machine elements (Shigley, power screws and threaded fasteners), recalled
// from memory; the tests integrate the work of one turn instead. Which coefficient a lubricant gives is common practice.
package fasteners

import (
	"errors"
	"fmt"
	"math"
)

// Bolt is what torque is turned into tension by.
type Bolt struct {
	Pitch      float64 // of the thread
	ThreadMean float64 // flank (pitch) diameter
	HeadMean   float64 // mean diameter of the face under the head
}

// Metric is a bolt of ISO metric thread with a hexagon head: flank diameter d − 0.6495·p (ISO 724), head face between a
// hole of 1.1·d and a rim of 1.5·d (common practice, no source).
func Metric(diameter, pitch float64) (Bolt, error) {
	if !(diameter > 0) || !(pitch > 0) || pitch > diameter/2 {
		return Bolt{}, fmt.Errorf("fasteners: diameter %v m and pitch %v m; want both above 0 and the pitch under half the diameter", diameter, pitch)
	}
	return Bolt{pitch, diameter - 0.6495*pitch, 1.3 * diameter}, nil
}

const flank = math.Pi / 6 // half the flank angle of ISO and unified threads

// PerTension is the torque for each newton of tension with friction coefficients of thread and head.
func (b Bolt) PerTension(thread, head float64) (float64, error) {
	for _, mu := range []float64{thread, head} {
		if !(mu >= 0) || mu > 1 {
			return 0, fmt.Errorf("fasteners: a friction coefficient of %v; want 0 to 1", mu)
		}
	}
	return b.Pitch/(2*math.Pi) + thread*b.ThreadMean/2/math.Cos(flank) + head*b.HeadMean/2, nil
}

// StressArea is the tensile stress area of the thread (ISO 898-1: π/4·(d − 0.9382·p)²).
func StressArea(diameter, pitch float64) float64 {
	d := diameter - 0.9382*pitch
	return math.Pi / 4 * d * d
}

// Crowfoot is the torque to set on a wrench of this length when a tool sets the bolt off by extension at an angle: 0
// straight ahead, 90° beside it, where nothing changes.
func Crowfoot(torque, length, extension, angle float64) (float64, error) {
	if !(length > 0) || extension < 0 || !(torque > 0) {
		return 0, errors.New("fasteners: torque and wrench length must be above 0, the offset not below 0")
	}
	reach := length + extension*math.Cos(angle)
	if !(reach > 0.1*length) {
		return 0, errors.New("fasteners: the tool brings the bolt back to the hand: no torque comes of it")
	}
	return torque * length / reach, nil
}

// AngleTension is the tension that turning a seated bolt by an angle adds, for a joint of this stiffness (N/m).
func AngleTension(angle, pitch, stiffness float64) float64 {
	return angle / (2 * math.Pi) * pitch * stiffness
}

// BoltStiffness is that of a bolt of stress area a and grip length, steel of 205 GPa, in a joint that gives as much as a
// third of what the bolt gives (common practice, no source).
func BoltStiffness(area, grip float64) float64 {
	const steel, joint = 205e9, 3.0
	bolt := steel * area / grip
	return bolt * joint / (1 + joint)
}

// Most bolts of a circle for which an order is given.
const MostBolts = 48

// StarOrder is the order in which to tighten bolts on a circle, numbered round it from 0: each next one keeps what is
// tight as evenly spread as can be, and lies as far as can be from the one before.
func StarOrder(bolts int) ([]int, error) {
	if bolts < 2 || bolts > MostBolts {
		return nil, fmt.Errorf("fasteners: %d bolts; want 2 to %d", bolts, MostBolts)
	}
	order, done := []int{0}, make([]bool, bolts)
	done[0] = true
	x, y := 1.0, 0.0
	for len(order) < bolts {
		best, bestPull, bestFar := -1, math.Inf(1), 0.0
		for i := range bolts {
			if done[i] {
				continue
			}
			a := 2 * math.Pi * float64(i) / float64(bolts)
			pull := math.Hypot(x+math.Cos(a), y+math.Sin(a))
			steps := abs(i - order[len(order)-1])
			far := float64(min(steps, bolts-steps))
			if pull < bestPull-1e-9 || pull < bestPull+1e-9 && far > bestFar {
				best, bestPull, bestFar = i, pull, far
			}
		}
		a := 2 * math.Pi * float64(best) / float64(bolts)
		x, y = x+math.Cos(a), y+math.Sin(a)
		order, done[best] = append(order, best), true
	}
	return order, nil
}

func abs(i int) int {
	if i < 0 {
		return -i
	}
	return i
}
