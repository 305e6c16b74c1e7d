package shifting_test

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/recordings"
	"innercompass/internal/shifting"
)

// crept is a creep as a logger would write it: the actuator closes a millimeter a second, the engine gives what the clutch takes from a touch point on.
func crept(touch float64, seed uint64) string {
	r := rand.New(rand.NewPCG(seed, 5))
	var b strings.Builder
	b.WriteString("Time (s),Turbine speed (rpm),Output speed (rpm),Clutch actuator travel (mm),Engine torque (N·m)\n")
	for i := range 500 {
		t := float64(i) / 50
		x := math.Min(8, math.Max(0, t-1))
		fmt.Fprintf(&b, "%.3f,%.0f,%.0f,%.2f,%.1f\n", t, 40*x, 10*x, x+0.02*r.NormFloat64(), 14+9*math.Pow(math.Max(0, x-touch), 1.5)+2*r.NormFloat64())
	}
	return b.String()
}

// The touch point of an automated clutch stands in its sheet's window, and what it has moved since another drive is its wear over that way.
func TestTheTouchPointWearsAlongItsWindow(t *testing.T) {
	s := apptest.New(t)
	ctx := context.Background()
	bring := func(touch float64, seed uint64) recordings.Recording {
		t.Helper()
		rec, err := s.Recordings.Bring(ctx, strings.NewReader(crept(touch, seed)), recordings.Bring{File: "creep.csv", Title: "Creep", Unit: "vantrice-a6", Vehicle: "Bus", By: "Ines"})
		if err != nil {
			t.Fatal(err)
		}
		return rec
	}
	set, now := bring(4.8, 1), bring(6.3, 2)
	told, err := s.Shifting.Shifts(ctx, now.ID, shifting.Asked{Sound: set.ID})
	if err != nil {
		t.Fatal(err)
	}
	touch := told.Touch
	if touch == nil || math.Abs(touch.Point-6.3) > 0.15 || !touch.Window.Holds(touch.Point, 0) {
		t.Fatalf("%+v, %v", touch, told.Limits)
	}
	if m := touch.Since; m == nil || math.Abs(m.By-1.5) > 2*m.U || math.Abs(m.Wear-0.5) > 2*m.Sure || m.Unlike {
		t.Errorf("%+v; 1.5 mm of the 3.0 of the sheet's window", m)
	}
	if told, err := s.Shifting.Shifts(ctx, set.ID, shifting.Asked{}); err != nil || told.Touch == nil || told.Touch.Since != nil {
		t.Errorf("held against nothing: %+v, %v", told.Touch, err)
	}
}
