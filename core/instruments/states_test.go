package instruments_test

import (
	"errors"
	"math"
	"strings"
	"testing"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
)

// What a practitioner would write down after each reading: common practice, no source, beside the limits that stand there.
func TestWhatAReadingStates(t *testing.T) {
	for _, c := range []struct {
		name    string
		typed   map[string]string
		finding string
		state   string
	}{
		{"hot-cold", map[string]string{"cold": "60 psi", "hot": "57 psi"}, "pressure-cold", "alike"},
		{"hot-cold", map[string]string{"cold": "60 psi", "hot": "30 psi"}, "pressure-cold", "falls"},
		{"pump-turning", map[string]string{"port": "no"}, "port-flow", "none"},
		{"pump-turning", map[string]string{"port": "yes"}, "port-flow", "force"},
		{"seating-depth", map[string]string{"depth": "25.3; 25.5 mm", "wanted": "25.4 mm"}, "seating-depth", "right"},
		{"seating-depth", map[string]string{"depth": "19.0; 19.4 mm", "wanted": "25.4 mm"}, "seating-depth", "short"},
		{"converter-form", map[string]string{"play": "0.2 mm"}, "converter-play", "in"},
		{"converter-form", map[string]string{"play": "1.1 mm"}, "converter-play", "above"},
		{"converter-form", map[string]string{"play": "0.2 mm", "thick": "121; 121.4 mm", "new": "120 mm"}, "converter-body", "balloon"},
		{"reverse-boost", map[string]string{"drive": "60 psi", "reverse": "78 psi"}, "pressure-reverse", "boosted"},
		{"reverse-boost", map[string]string{"drive": "60 psi", "reverse": "61 psi"}, "pressure-reverse", "same"},
		{"feed-limit", map[string]string{"line": "160 psi", "feed": "118 psi"}, "feed-pressure", "limited"},
		{"feed-limit", map[string]string{"line": "160 psi", "feed": "60 psi"}, "feed-pressure", "low"},
		{"feed-limit", map[string]string{"line": "160 psi", "feed": "158 psi", "line2": "200 psi", "feed2": "197 psi"}, "feed-pressure", "high"},
		// above the window, but it stands still: another limit, not a stuck valve
		{"feed-limit", map[string]string{"line": "160 psi", "feed": "140 psi", "line2": "200 psi", "feed2": "141 psi"}, "feed-pressure", "limited"},
		{"pump-clearance", map[string]string{"side": "0.03 mm"}, "pump-clearance", "in"},
		{"pump-clearance", map[string]string{"side": "0.03 mm", "pocket": "0.30 mm"}, "pump-clearance", "above"},
		{"vacuum", map[string]string{"engine": "66 kPa", "modulator": "65 kPa"}, "modulator-vacuum", "ok"},
		{"vacuum", map[string]string{"engine": "66 kPa", "modulator": "20 kPa"}, "modulator-vacuum", "low"},
		{"vacuum", map[string]string{"engine": "66 kPa", "modulator": "20 kPa"}, "engine-vacuum", "strong"},
		{"vacuum", map[string]string{"engine": "40 kPa"}, "engine-vacuum", "weak"},
		// at 3 km the air has 70.1 kPa (ISO 2533): the same engine shows less and is as strong
		{"vacuum", map[string]string{"engine": "43 kPa", "height": "3 km"}, "engine-vacuum", "strong"},
		{"cooler-heat", map[string]string{"in": "95 °C", "out": "78 °C"}, "cooler-drop", "good"},
		{"cooler-heat", map[string]string{"in": "95 °C", "out": "94 °C"}, "cooler-drop", "none"},
		{"cooler-heat", map[string]string{"in": "95 °C", "out": "40 °C"}, "cooler-drop", "great"},
		{"pressure-rise", map[string]string{"idle": "60 psi", "full": "150 psi"}, "pressure-rise", "rises"},
		{"pressure-rise", map[string]string{"idle": "60 psi", "full": "80 psi"}, "pressure-rise", "flat"},
		{"pressure-rise", map[string]string{"idle": "110 psi", "full": "150 psi"}, "pressure-rise", "high"},
		{"flatness:body", map[string]string{"heights": "0; 0.01; 0.02; 0.01; 0 mm"}, "body-flat", "flat"},
		{"flatness:pump", map[string]string{"heights": "0; 0.1; 0.15; 0.1; 0 mm"}, "pump-faces", "warped"},
		{"runout:hub", map[string]string{"readings": "0; 0.1; 0.3; 0.4; 0.3; 0.1 mm"}, "hub-runout", "above"},
		{"drain-back", map[string]string{"before": "60 mm", "after": "-2 mm"}, "fluid-level-standing", "very-high"},
		{"drain-back", map[string]string{"before": "30 mm", "after": "30 mm"}, "level-falls", "stays"},
		{"drain-back", map[string]string{"before": "4 mm", "after": "-6 mm"}, "fluid-level-standing", "usual"},
		{"debris", map[string]string{"kind-lining": "much-pieces", "kind-film": "some-fine"}, "pan-debris", "friction"},
		{"debris", map[string]string{"kind-needles": "some-pieces", "kind-film": "much-fine"}, "pan-debris", "needles"},
		{"debris", map[string]string{"kind-film": "some-fine", "kind-steel": "none"}, "pan-debris", "film"},
		{"fluid-report", map[string]string{"glycol": "yes"}, "glycol-test", "glycol"},
		{"joint-angles", map[string]string{"unit": "3", "front": "6.5", "axle": "3"}, "shaft-angle", "equal"},
		{"joint-angles", map[string]string{"unit": "3", "front": "6.5", "axle": "-1"}, "shaft-angle", "unequal"},
		{"fluid-report", map[string]string{"water": "0.5"}, "water-test", "crackles"},
		{"fluid-report", map[string]string{"water": "0.02"}, "water-test", "quiet"},
		{"debris", map[string]string{"magnet": "chips"}, "magnet", "chips"},
		{"band-adjust:OB", map[string]string{"turns": "2 turn"}, "band-turns.OB", "right"},
		{"band-adjust:OB", map[string]string{"turns": "3.25 turn"}, "band-turns.OB", "off"},
		{"fill-time:DC", map[string]string{"read": "150 ms", "usual": "145 ms"}, "fill-time.DC", "usual"},
		{"fill-time:DC", map[string]string{"read": "260 ms", "usual": "145 ms"}, "fill-time.DC", "long"},
	} {
		d, err := instruments.For(c.name, h4(t))
		if err != nil {
			t.Fatal(err)
		}
		r, err := d.Run(c.typed, instrument.Terms{})
		if err != nil {
			t.Errorf("%s %v: %v", c.name, c.typed, err)
			continue
		}
		got, sum := "", 0.0
		for _, s := range r.Stated {
			if s.Finding == c.finding {
				got = s.State
				for _, p := range s.Likelihood {
					sum += p
				}
			}
		}
		if got != c.state || math.Abs(sum-1) > 1e-9 {
			t.Errorf("%s %v: %s is %q with likelihoods that add up to %v, want %q: %s", c.name, c.typed, c.finding, got, sum, c.state, r.Headline)
		}
	}
}

// There is no clearance of less than none, and what is far off is shown as it was typed.
func TestAClearanceIsNeverNegative(t *testing.T) {
	d, err := instruments.For("window:clearance-DC", h4(t))
	if err != nil {
		t.Fatal(err)
	}
	for _, bad := range []string{"-3 mm", "9e99"} {
		_, err := d.Run(map[string]string{"value": bad}, instrument.Terms{})
		var ie *instrument.InputError
		if !errors.As(err, &ie) || ie.Input != "value" || !strings.Contains(ie.Reason, bad) || !strings.HasPrefix(ie.Accepted, "0 to 500 mm") {
			t.Errorf("%s: %v", bad, err)
		}
	}
}

// A servo is told by its area and by its travel; the sheet of this unit gives both.
func TestAServoIsHeldAgainstItsSheet(t *testing.T) {
	u := h4(t)
	d, err := instruments.For("servo:OB", u)
	if err != nil {
		t.Fatal(err)
	}
	right := d.Inputs[0].Example
	for typed, want := range map[[2]string][2]string{{right, "2.6 mm"}: {"right", "right"}, {"60 mm", "2.6 mm"}: {"other", "right"}, {right, "4.5 mm"}: {"right", "short"}, {right, "1.2 mm"}: {"right", "right"}} {
		r, err := d.Run(map[string]string{"piston": typed[0], "travel": typed[1]}, instrument.Terms{})
		if err != nil || len(r.Stated) != 2 || r.Stated[0].State != want[0] || r.Stated[1].State != want[1] {
			t.Errorf("%v: %+v %v, want %v", typed, r.Stated, err, want)
		}
	}
}

// The governor of the sheet against readings made from its own weights: exact, a fifth low, and hanging on the way down.
func TestAGovernorIsHeldAgainstItsWeights(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	u := c.Units["norrad-v3"]
	d, err := instruments.For("governor", u)
	if err != nil {
		t.Fatal(err)
	}
	speeds := []float64{30, 50, 70}
	list := func(part float64) string {
		out := ""
		for _, s := range speeds {
			out += instrumentNumber(part*u.Governor.Pressure(s/3.6*u.PerMetre)/1000) + " kPa; "
		}
		return out[:len(out)-2]
	}
	for want, typed := range map[string]map[string]string{
		"follows": {"up": list(1), "down": list(0.99)},
		"low":     {"up": list(0.7)},
		"sticks":  {"up": list(1), "down": list(1.6)},
	} {
		typed["speeds"] = "30; 50; 70 km/h"
		r, err := d.Run(typed, instrument.Terms{})
		if err != nil {
			t.Fatal(err)
		}
		if r.Stated[0].State != want {
			t.Errorf("%v: %q (%s), want %q", typed, r.Stated[0].State, r.Headline, want)
		}
		if want == "follows" && math.Abs(r.Outputs[0].Value-1) > 0.002 {
			t.Errorf("its own weights make %v of themselves", r.Outputs[0].Value)
		}
	}
}

// Unit 3° down to the back, axle 2° down: the axle is parallel to the unit when its nose comes up by a degree (common practice, no source).
func TestTheAxleIsTurnedTheRightWay(t *testing.T) {
	for axle, want := range map[string]string{"2": "nose up by 1.0 °", "4": "nose down by 1.0 °"} {
		d, err := instruments.For("joint-angles", nil)
		if err != nil {
			t.Fatal(err)
		}
		r, err := d.Run(map[string]string{"unit": "3", "front": "6.5", "axle": axle}, instrument.Terms{})
		if err != nil || !strings.Contains(r.Detail, want) {
			t.Errorf("axle %s°: %q, want %q (%v)", axle, r.Detail, want, err)
		}
	}
}

// What stands on one order here may do so in every range: the drive is chosen for the next that does not.
func TestTheDrivePartsWhatCanBeParted(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	d, err := instruments.For("pitch:D6", c.Units["ombrin-s6"])
	if err != nil {
		t.Fatal(err)
	}
	r, err := d.Run(map[string]string{"heard": "78.31 ± 0.1 Hz", "how": "drive", "road": "80 km/h", "tire": "2100 mm", "axle": "3.7", "cylinders": "4", "shaft": "one"}, instrument.Terms{})
	if err != nil || !strings.Contains(r.Headline, "joints of the driveshaft") || !strings.Contains(r.Detail, "Drive fourth parts") || !strings.Contains(r.Detail, "planets") {
		t.Errorf("%q %q %v", r.Headline, r.Detail, err)
	}
}
