package gearing

import (
	"errors"
	"math"
	"slices"
	"testing"
)

// Solve asks a train once; the program keeps the Machine.
func (t Train) Solve(s State) (Solution, error) {
	m, err := NewMachine(t)
	if err != nil {
		return Solution{}, err
	}
	return m.Solve(s)
}

func solve(t *testing.T, train Train, s State) Solution {
	t.Helper()
	r, err := train.Solve(s)
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// allStates are all combinations of applied elements, healthy freewheels.
func allStates(t Train) []State {
	var ids []string
	for _, e := range t.Elements {
		if e.Kind != Freewheel {
			ids = append(ids, e.ID)
		}
	}
	var out []State
	for _, set := range subsets(len(ids)) {
		var s State
		for _, i := range set {
			s.Applied = append(s.Applied, ids[i])
		}
		out = append(out, s)
	}
	return out
}

// Power in equals power out, and every member is in balance, in every state that drives.
func TestPowerBalancesInEveryDrivingState(t *testing.T) {
	driving := 0
	for _, train := range []Train{fourSpeed(), threeSpeed(), sixSpeed()} {
		for _, s := range allStates(train) {
			r := solve(t, train, s)
			if r.Outcome != Forward && r.Outcome != Reverse {
				continue
			}
			driving++
			if r.Torques == nil {
				t.Errorf("%v: no torque path found at ratio %v", s.Applied, r.Ratio)
				continue
			}
			if in, out := 1.0, r.OutputTorque*r.Speeds[train.Output]; math.Abs(in-out) > 1e-9 {
				t.Errorf("%v: power in 1, out %v", s.Applied, out)
			}
			if math.Abs(r.OutputTorque-r.Ratio) > 1e-9*math.Abs(r.Ratio) {
				t.Errorf("%v: output torque %v, ratio %v", s.Applied, r.OutputTorque, r.Ratio)
			}
			for id, slip := range r.Slip {
				e, _ := train.Element(id)
				if slices.Contains(s.Applied, id) && slip != 0 {
					t.Errorf("%v: applied %s slips %v", s.Applied, id, slip)
				}
				if e.Kind == Freewheel && slip < -1e-9 {
					t.Errorf("%v: freewheel %s runs backward %v", s.Applied, id, slip)
				}
			}
		}
	}
	if driving < 30 {
		t.Fatalf("only %d driving states met", driving)
	}
}

// The mesh rows say that tooth speeds agree; check it on the solution, tooth by tooth.
func TestTeethMeetAtTheSameSpeed(t *testing.T) {
	train := fourSpeed()
	r := solve(t, train, State{Applied: []string{"FC", "IC"}})
	for _, m := range train.Meshes {
		c := r.Speeds[m.Carrier]
		a := (r.Speeds[m.A] - c) * float64(m.TeethA)
		b := (r.Speeds[m.B] - c) * float64(m.TeethB)
		if !m.Internal {
			b = -b
		}
		if math.Abs(a-b) > 1e-9 {
			t.Errorf("%s–%s: %v and %v teeth per turn", m.A, m.B, a, b)
		}
	}
}

func TestOutcomesThatRankAloneMisses(t *testing.T) {
	train := fourSpeed()
	for _, c := range []struct {
		name  string
		state State
		want  Outcome
		ratio float64
		coast Coast
	}{
		{"nothing applied", State{}, Neutral, 0, CoastNone},
		{"two reactions at once", State{Applied: []string{"FC", "OB", "LB"}}, Bind, 0, CoastNone},
		{"two inputs and a reaction", State{Applied: []string{"FC", "DC", "OB"}}, Bind, 0, CoastNone},
		{"an extra element at no relative speed is harmless", State{Applied: []string{"FC", "RC", "DC"}}, Forward, 1, CoastBrakes},
		{"first by freewheel", State{Applied: []string{"FC"}}, Forward, 2.4, CoastFree},
		{"first with the brake", State{Applied: []string{"FC", "LB"}}, Forward, 2.4, CoastBrakes},
		{"second falls back to first when its freewheel slips", State{Applied: []string{"FC", "IC"}, Broken: []string{"IF"}}, Forward, 2.4, CoastFree},
		{"first has no reaction when its freewheel slips", State{Applied: []string{"FC"}, Broken: []string{"LF"}}, Neutral, 0, CoastNone},
		{"a seized first freewheel binds second", State{Applied: []string{"FC", "IC"}, Seized: []string{"LF"}}, Bind, 0, CoastNone},
	} {
		r := solve(t, train, c.state)
		if r.Outcome != c.want || math.Abs(r.Ratio-c.ratio) > 1e-9 || r.Coast != c.coast {
			t.Errorf("%s: %s %v %q, want %s %v %q", c.name, r.Outcome, r.Ratio, r.Coast, c.want, c.ratio, c.coast)
		}
	}
}

func TestTorqueThatTheModelCannotDivideIsSaid(t *testing.T) {
	r := solve(t, fourSpeed(), State{Applied: []string{"FC", "IC", "OB"}})
	if !slices.Contains(r.Shared, "OB") || slices.Contains(r.Shared, "FC") {
		t.Errorf("shared %v, want the band and the freewheel path but not the forward clutch", r.Shared)
	}
}

// In reverse the carrier pushes the way that its freewheel runs free, so the brake beside it carries all: with 36 teeth
// on the sun and 72 on the ring, 1 + 72/36 times the input torque.
func TestAFreewheelThatWouldPullTheWrongWayTakesNoShare(t *testing.T) {
	r := solve(t, fourSpeed(), State{Applied: []string{"RC", "LB"}})
	if len(r.Shared) != 0 || math.Abs(math.Abs(r.Torques["LB"])-3) > 1e-12 {
		t.Errorf("shared %v, brake %v", r.Shared, r.Torques["LB"])
	}
	first := solve(t, fourSpeed(), State{Applied: []string{"FC", "LB"}})
	if !slices.Contains(first.Shared, "LB") {
		t.Errorf("in manual first brake and freewheel share: %v", first.Shared)
	}
	if first.Overrun == nil || len(first.Overrun.Shared) != 0 || math.Abs(math.Abs(first.Overrun.Torques["LB"])-1.4) > 1e-12 {
		t.Errorf("with the foot off the brake holds alone: %+v", first.Overrun)
	}
}

func TestValidateNamesTheField(t *testing.T) {
	train := fourSpeed()
	if bad := train.Validate(); bad != nil {
		t.Fatal(bad)
	}
	train.Meshes[1].A = "nowhere"
	train.Meshes[0].TeethA = 2
	train.Elements[3].B = train.Elements[3].A
	train.ForwardSign = 0
	want := []string{"forward_sign", "meshes[0].teeth_a", "meshes[1].a", "elements[3]"}
	var got []string
	for _, b := range train.Validate() {
		got = append(got, b.Field)
	}
	if !slices.Equal(got, want) {
		t.Errorf("fields %v, want %v", got, want)
	}
	var se *SheetError
	if _, err := fourSpeed().Solve(State{Applied: []string{"XX"}}); !errors.As(err, &se) {
		t.Errorf("unknown element: %v", err)
	}
}

func TestSetsThatDoNotAssembleAreRefused(t *testing.T) {
	for _, c := range []struct {
		err  error
		fine bool
	}{
		{CheckSimpleSet(35, 20, 75, 2), true},
		{CheckSimpleSet(35, 20, 76, 3), false},
		{CheckSimpleSet(35, 20, 75, 3), false},
		{CheckCompoundSet(36, 30, 18, 18, 72, 3), true},
		{CheckCompoundSet(36, 31, 18, 18, 72, 3), false},
		{CheckCompoundSet(36, 9, 18, 9, 72, 3), false},
	} {
		if (c.err == nil) != c.fine {
			t.Errorf("%v, want fine %v", c.err, c.fine)
		}
	}
}
