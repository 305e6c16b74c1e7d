package gearing

import (
	"fmt"
	"math"
)

// Outcome says what a state does to the vehicle.
type Outcome string

// The outcomes of a state.
const (
	Forward Outcome = "forward" // input drives the output forward at a ratio
	Reverse Outcome = "reverse"
	Neutral Outcome = "neutral" // the input runs free
	Bind    Outcome = "bind"    // the output cannot be turned
)

// Coast says what happens with the foot off.
type Coast string

// The kinds of coasting.
const (
	CoastBrakes Coast = "brakes"     // the engine brakes in this gear
	CoastFree   Coast = "free"       // a freewheel lets go
	CoastOther  Coast = "other-gear" // the engine brakes through another gear
	CoastNone   Coast = ""           // not driving
)

// Result is what a state does, in short.
type Result struct {
	Outcome    Outcome
	Ratio      float64 // input/output, negative in reverse; 0 unless Forward or Reverse
	Coast      Coast
	CoastRatio float64 // input/output while the engine brakes; 0 when it does not
}

// Solution is what a state does in full. The embedded Flow is that of driving.
type Solution struct {
	Result
	Flow
	Overrun *Flow // with the foot off, per unit of engine braking; nil where the engine does not brake, and for a slipping converter
	Freedom int   // how many more speeds could be chosen freely (idle members) once input and output are set
}

// Flow is speeds and torques of one way of driving. Speeds are relative to the input at one; a
// member that nothing determines is missing from Speeds.
type Flow struct {
	Speeds       map[string]float64 // by member
	Torques      map[string]float64 // on member A of each element that holds, per unit of input torque
	Members      map[string]float64 // torque that gears and links put on each member, per unit of input torque; nil when the rigid model cannot say
	Teeth        []float64          // by mesh: torque on its member A, per unit of input torque; nil as above
	Shared       []string           // elements whose torque the rigid model cannot divide: one of them is spare
	Holding      []string           // freewheels that hold
	OutputTorque float64            // on the output shaft, in its own sense of turning, per unit of input torque
	Slip         map[string]float64 // wa − wb of every element whose members are determined
	Loss         float64            // power lost in the converter, as a share of input power
}

// Result returns outcome, ratio and kind of coasting. It fails for ids that the train does not have.
func (m *Machine) Result(s State) (Result, error) {
	st, err := m.state(s)
	if err != nil {
		return Result{}, err
	}
	out := m.result(st, m.left(st))
	return out, plausible(out)
}

// plausible refuses a ratio that no gears of the trade have: beyond it, rounding decides.
func plausible(r Result) error {
	if x := math.Abs(r.Ratio); x != 0 && (x > mostRatio || x < 1/mostRatio) {
		return &SheetError{"state", fmt.Sprintf("a ratio of %.3g", r.Ratio), "a ratio between a millionth and a million"}
	}
	return nil
}

// left is what the elements of a state leave free before any freewheel holds.
func (m *Machine) left(s state) []vec { return nullSpace(m.rows(s, nil), len(m.in)) }

// Solve returns what the train does in state s. It fails for ids that the train does not have; it does not
// change its arguments.
func (m *Machine) Solve(s State) (Solution, error) {
	st, err := m.state(s)
	if err != nil {
		return Solution{}, err
	}
	null := m.left(st)
	out := Solution{Result: m.result(st, null)}
	if err := plausible(out.Result); err != nil {
		return Solution{}, err
	}
	if out.Outcome != Forward && out.Outcome != Reverse {
		return out, nil
	}
	var ok bool
	if out.Flow, out.Freedom, ok = m.flow(st, null, out.Ratio, 1); !ok {
		return Solution{}, &SheetError{"state", "it drives, but no one-way clutches can be found that carry the torque", "a state in which each one-way clutch holds or runs free"}
	}
	if out.CoastRatio != 0 && st.slip == 0 {
		if f, _, ok := m.flow(st, null, out.CoastRatio, -1); ok {
			out.Overrun = &f
		}
	}
	return out, nil
}

// window is what the rows and freewheels of a state leave of the two speeds that matter.
type window struct {
	in, out vec
	slips   []vec
}

// result reads the outcome from the interval of input speeds for output speeds +1, 0 and −1 [3].
func (m *Machine) result(s state, null []vec) Result {
	w := window{in: through(m.in, null), out: through(m.out, null)}
	for _, e := range s.free {
		if r := through(m.ends[e], null); !zero(r) {
			w.slips = append(w.slips, r)
		}
	}
	sign := float64(m.train.ForwardSign)
	forward, backward := w.inputs(sign), w.inputs(-sign)
	if forward.empty && backward.empty {
		return Result{Outcome: Bind}
	}
	if standing := w.inputs(0); !standing.empty && math.IsInf(standing.hi, 1) {
		return Result{Outcome: Neutral}
	}
	switch {
	case !forward.empty && forward.hi > eps && !math.IsInf(forward.hi, 1):
		return driving(Forward, 1, forward)
	case !backward.empty && backward.hi > eps && !math.IsInf(backward.hi, 1):
		return driving(Reverse, -1, backward)
	}
	return Result{Outcome: Bind}
}

func driving(o Outcome, sign float64, r interval) Result {
	out := Result{Outcome: o, Ratio: sign * r.hi}
	switch {
	case math.IsInf(r.lo, -1) || r.lo <= eps:
		out.Coast = CoastFree
	case r.hi-r.lo <= eps*math.Max(1, r.hi):
		out.Coast, out.CoastRatio = CoastBrakes, out.Ratio
	default:
		out.Coast, out.CoastRatio = CoastOther, sign*r.lo
	}
	return out
}

// inputs returns the input speeds that are possible while the output turns at v.
func (w window) inputs(v float64) interval {
	if len(w.slips) == 0 {
		return w.bound(v)
	}
	k := len(w.in)
	p := newPolyhedron(k + 1) // the last unknown is the input speed
	row := make(vec, k+1)
	copy(row, w.in)
	row[k] = -1
	p.equal(row, 0)
	copy(row, w.out)
	row[k] = 0
	p.equal(row, v)
	for _, s := range w.slips {
		copy(row, s)
		p.atLeast(row, 0)
	}
	return p.project(k)
}

// bound is inputs without freewheels: the input is tied to the output, or free of it.
func (w window) bound(v float64) interval {
	oo := dot(w.out, w.out)
	if oo <= eps*eps {
		if v != 0 {
			return interval{empty: true}
		}
		if zero(w.in) {
			return interval{}
		}
		return interval{lo: math.Inf(-1), hi: math.Inf(1)}
	}
	ratio := dot(w.in, w.out) / oo
	for i, x := range w.in {
		if math.Abs(x-ratio*w.out[i]) > eps {
			return interval{lo: math.Inf(-1), hi: math.Inf(1)}
		}
	}
	return interval{lo: ratio * v, hi: ratio * v}
}

// through maps a row of the free coordinates to what a further null space leaves of it.
func through(row vec, null []vec) vec {
	if len(null) == 0 {
		return nil
	}
	out := make(vec, len(null[0]))
	for i, x := range row {
		if x == 0 {
			continue
		}
		for j, y := range null[i] {
			out[j] += x * y
		}
	}
	for j := range out {
		out[j] = clean(out[j])
	}
	return out
}
