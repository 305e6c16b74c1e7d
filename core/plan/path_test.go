package plan_test

import (
	"math"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/plan"
	"innercompass/internal/trial"
)

// A path is of a hundred vehicles: those who reach a step leave there or go on; nobody is lost.
func TestNobodyIsLostOnAPath(t *testing.T) {
	for unit, readings := range map[string][]diagnose.Reading{
		"norrad-h4": {{ID: "a", Finding: "road.hot.D3.shift", State: "flare", Source: "seen"}, {ID: "b", Finding: "road.hot.D3.slips", State: "yes", Source: "seen"}},
		"ombrin-s6": {{ID: "a", Finding: "says-shudder", State: "yes", Source: "customer"}},
		"ombrin-m5": {{ID: "a", Finding: "says-grinds", State: "yes", Source: "customer"}},
		"norrad-d2": {{ID: "a", Finding: "says-leak", State: "yes", Source: "customer"}},
	} {
		n := trial.Load(t).Networks[unit]
		a, err := diagnose.Assess(n, diagnose.Situation{Readings: readings})
		if err != nil {
			t.Fatal(err)
		}
		path := plan.PathOf(a, plan.VehicleState{Warm: true}, plan.At(95))
		if len(path.Steps) == 0 || len(path.Steps) > plan.MostSteps || len(path.Points) != len(path.Steps)+1 || path.Points[0].Spent != 0 {
			t.Fatalf("%s: %d steps, %d points", unit, len(path.Steps), len(path.Points))
		}
		reach := 1.0
		for i, s := range path.Steps {
			leave := 0.0
			for _, x := range s.Stops {
				leave += x.Share
				if x.Right <= 0 || x.Right > 1+1e-9 || x.Price <= 0 {
					t.Errorf("%s step %d: stop %+v", unit, i, x)
				}
			}
			if math.Abs(s.Reach-reach) > 1e-6 || math.Abs(leave+s.On-s.Reach) > 1e-6 {
				t.Errorf("%s step %d: %.6f reach it, %.6f leave, %.6f go on, %.6f came", unit, i, s.Reach, leave, s.On, reach)
			}
			reach = s.On
		}
		ends := 0.0
		for _, x := range path.End {
			ends += x.Share
		}
		if math.Abs(ends-reach) > 1e-6 {
			t.Errorf("%s: %.6f come to the end, %.6f have one", unit, reach, ends)
		}
		for i, x := range path.Points {
			if x.Wrong < 0 || x.Wrong > 1+1e-9 || i > 0 && x.Sum() < path.Points[path.Best].Sum() || i > 0 && x.Spent < path.Points[i-1].Spent {
				t.Errorf("%s point %d: %+v", unit, i, x)
			}
		}
	}
}
