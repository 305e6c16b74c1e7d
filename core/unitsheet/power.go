package unitsheet

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/gearing"
)

// Running is how the unit is driven while its power flow is looked at.
type Running struct {
	Range    string
	Speed    float64 // of the input, rad/s
	Throttle float64 // 0 to 1; −1 to 0 is the engine braking with that share of a tenth of its torque
	Slip     float64 // of a converter inside the train
}

// Slips reports whether the element has to hold more than it can.
func (p ElementPower) Slips() bool {
	return p.Hold > 0 && !p.Shared && math.Abs(p.Torque) > p.Hold
}

// EngineDrag is the torque with which an engine brakes, as a share of its greatest torque (common
// practice, no source).
const EngineDrag = 0.1

// Power is what runs through the unit.
type Power struct {
	Range     Range
	Input     float64 // torque at the gear train's input, N·m
	Output    float64 // torque on the output shaft, N·m
	OutSpeed  float64 // rad/s, in its own sense of turning
	Line      float64 // line pressure, Pa; 0 when not known
	Loss      float64 // power lost in a converter inside the train, W
	Members   []MemberPower
	Elements  []ElementPower
	Orders    []gearing.Order
	Overrun   bool
	Undecided bool // the engine brakes nothing here: a freewheel lets go
}

// MemberPower is one named member.
type MemberPower struct {
	ID    string
	Speed float64 // rad/s
	Known bool
	Gears float64 // torque that gears put on it, N·m
	Split bool    // Gears cannot be said: a spare path is on
}

// ElementPower is one element.
type ElementPower struct {
	ID      string
	On      bool
	Torque  float64 // that it carries, N·m
	Hold    float64 // that it can hold at this line pressure, N·m; 0 when not known
	Across  float64 // relative speed of its two sides, rad/s
	Known   bool    // of Across
	Shared  bool
	Holding bool // a freewheel that carries torque
}

// Power solves a range at a speed and load. It fails for an unknown range and for values out of bounds.
func (u *Unit) Power(in Running) (Power, error) {
	r, ok := u.Range(in.Range)
	switch {
	case u.Machine == nil:
		return Power{}, &Problem{Path: "range", Reason: "the gears of this unit are not in its sheet", Accepted: "a unit whose gears are known"}
	case !ok:
		return Power{}, &Problem{Path: "range", Reason: fmt.Sprintf("no range %q", in.Range), Accepted: u.rangeIDs()}
	case !(in.Speed >= 0 && in.Speed <= 2000):
		return Power{}, &Problem{Path: "speed", Reason: fmt.Sprint(in.Speed), Accepted: "0 to 2000 rad/s"}
	case !(in.Throttle >= -1 && in.Throttle <= 1):
		return Power{}, &Problem{Path: "throttle", Reason: fmt.Sprint(in.Throttle), Accepted: "-1 to 1"}
	case !(in.Slip >= 0 && in.Slip < 1):
		return Power{}, &Problem{Path: "slip", Reason: fmt.Sprint(in.Slip), Accepted: "0 to below 1"}
	}
	out := Power{Range: r, Overrun: in.Throttle < 0}
	out.Line, _ = r.Line(math.Max(0, in.Throttle))
	if !r.Driving() {
		return out, nil
	}
	s, err := u.Solve(gearing.State{Applied: r.Applied, Slip: in.Slip})
	if err != nil {
		return Power{}, err
	}
	flow := s.Flow
	out.Input = u.EngineTorque(r, math.Max(0, in.Throttle))
	if out.Overrun {
		out.Input = in.Throttle * EngineDrag * u.EngineTorque(r, 1)
		if s.Overrun == nil {
			out.Undecided, out.Input = true, 0
		} else {
			flow = *s.Overrun
		}
	}
	u.fill(&out, flow, in.Speed)
	return out, nil
}

// fill turns a flow of unit speed and torque into one of this speed and torque. An overrun flow is already
// for an input torque of minus one.
func (u *Unit) fill(out *Power, flow gearing.Flow, speed float64) {
	torque := math.Abs(out.Input)
	t := u.Machine.Train()
	out.Output, out.OutSpeed = flow.OutputTorque*torque, flow.Speeds[t.Output]*speed
	out.Loss = flow.Loss * torque * speed
	for _, m := range u.Sheet.Gearing.Members {
		w, known := flow.Speeds[m]
		out.Members = append(out.Members, MemberPower{ID: m, Speed: w * speed, Known: known, Gears: flow.Members[m] * torque, Split: flow.Members == nil})
	}
	for _, e := range u.Elements {
		p := ElementPower{ID: e.ID, On: slices.Contains(out.Range.Applied, e.ID), Holding: slices.Contains(flow.Holding, e.ID), Shared: slices.Contains(flow.Shared, e.ID), Torque: flow.Torques[e.ID] * torque}
		across, known := flow.Slip[e.ID]
		p.Across, p.Known = across*speed, known
		if hold, ok := e.Hold(out.Line); ok && (out.Line > 0 || !e.Pressed()) {
			p.Hold = hold
		}
		out.Elements = append(out.Elements, p)
	}
	out.Orders = t.Orders(flow)
}

func (u *Unit) rangeIDs() string {
	out := make([]string, len(u.Ranges))
	for i, r := range u.Ranges {
		out[i] = r.ID
	}
	return fmt.Sprint(out)
}
