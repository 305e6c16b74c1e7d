package burnt_test

import (
	"math"
	"strings"
	"sync"
	"testing"

	"innercompass/core/burnt"
	"innercompass/core/stack"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

func unit(t *testing.T, id string) *unitsheet.Unit {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c.Units[id]
}

func ask(t *testing.T, u *unitsheet.Unit, element string, f burnt.Found) burnt.Answer {
	t.Helper()
	a, err := burnt.Ask(u, element, f)
	if err != nil {
		t.Fatal(err)
	}
	return a
}

func near(t *testing.T, what string, got, want, tolerance float64) {
	t.Helper()
	if !(math.Abs(got-want) <= tolerance*math.Abs(want)) {
		t.Errorf("%s: %v, want %v", what, got, want)
	}
}

const psi = 6894.757293

// The direct clutch of the four-speed in fourth, recomputed from the numbers of its sheet with the closed forms of a worn-in plate clutch
// (Shigley, uniform wear): four friction plates 128 by 102 mm, friction 0.13, piston 61 cm², springs 660 N, 140 psi, all of 240 N·m.
func TestCapacityPressureAndPlatesAgainstTheClosedForm(t *testing.T) {
	u := unit(t, "norrad-h4")
	grip := 0.13 * 8 * (0.064 + 0.051) / 2 // N·m for each N
	hold := grip * (140*psi*61e-4 - 660)
	a := ask(t, u, "DC", burnt.Found{})
	m := a.Margins[0]
	if m.Range != "D4" {
		t.Fatalf("the least to spare in %s, want D4", m.Range)
	}
	near(t, "held in health", m.Healthy, hold, 1e-6)
	near(t, "load", m.Load, 240, 1e-6)
	needs := (240/grip + 660) / 61e-4
	near(t, "pressure below which it slips", m.Needs, needs, 1e-6)
	for _, c := range a.Conditions {
		switch c.ID {
		case "pressure", "leak":
			near(t, c.ID, c.Limit, needs/(140*psi), 1e-6)
		case "lining":
			near(t, c.ID, c.Limit, 240/hold, 1e-6)
		case "plates":
			near(t, c.ID, c.Limit, math.Ceil(4*240/hold), 1e-9)
		case "spring":
			near(t, c.ID, c.Limit, 140*psi*61e-4-240/grip, 1e-6)
		}
		if c.Known || c.Alone {
			t.Errorf("%s is known, or burns a healthy unit", c.ID)
		}
	}
	if m.Slips > 1e-3 || m.Throttle != 0 {
		t.Errorf("a healthy clutch slips: %v at throttle %v", m.Slips, m.Throttle)
	}
}

func TestWhatWasMeasuredTakesTheMarginBelowOne(t *testing.T) {
	u := unit(t, "norrad-h4")
	a := ask(t, u, "DC", burnt.Found{Pressure: &burnt.Value{Is: 0.7, U: 0.02}, Held: &burnt.Value{Is: 0.98, U: 0.01}})
	m := a.Margins[0]
	if !(m.Ratio.Is < 1) || m.Slips < 0.95 || !(m.Throttle > 0.5 && m.Throttle < 1) {
		t.Errorf("%+v", m)
	}
	// Where it begins to slip the hold is the load, to a hundredth of throttle.
	r, _ := u.Range("D4")
	line, _ := r.Line(m.Throttle)
	grip := 0.13 * 8 * (0.064 + 0.051) / 2
	near(t, "hold where it begins", grip*(line*0.7*0.98*61e-4-660), 240*m.Throttle, 0.03)
	if c := a.Conditions[0]; c.ID != "pressure" || !c.Known || !c.Alone {
		t.Errorf("first condition %+v, want the pressure that was read", c)
	}
	if c := a.Conditions[1]; c.ID != "leak" || !c.Known || c.Alone {
		t.Errorf("second condition %+v, want the leak, which does not do it alone", c)
	}
	fewer := ask(t, u, "DC", burnt.Found{Plates: 3}).Margins[0]
	near(t, "with one friction plate fewer", fewer.Now.Is, m.Healthy*3/4, 1e-6)
	glazed := ask(t, u, "DC", burnt.Found{Lining: &burnt.Value{Is: 0.75, U: 0.05}}).Margins[0]
	if !(glazed.Slips > 0.3 && glazed.Slips < 0.99) || glazed.Ratio.U <= 0 {
		t.Errorf("a glazed lining: %+v", glazed)
	}
}

// A band follows the rope equation: half the friction is much less than half the hold.
func TestABandLosesMoreThanItsFriction(t *testing.T) {
	u := unit(t, "norrad-h4")
	healthy := ask(t, u, "OB", burnt.Found{}).Margins[0]
	half := ask(t, u, "OB", burnt.Found{Lining: &burnt.Value{Is: 0.5}}).Margins[0]
	wrap := 0.12 * 290 * math.Pi / 180
	near(t, "band at half friction", half.Now.Is/healthy.Healthy, (math.Exp(wrap/2)-1)/(math.Exp(wrap)-1), 1e-6)
}

// The energy of a shift against an integration in small steps: inertia at the input, slip from the gears of the range before.
func TestHeatOfAShiftAgainstSteps(t *testing.T) {
	u := unit(t, "norrad-h4")
	a := ask(t, u, "DC", burnt.Found{Pressure: &burnt.Value{Is: 0.8}})
	for _, m := range a.Margins {
		if m.Shift == nil {
			continue
		}
		from, _ := u.Range("D2")
		into, _ := u.Range("D3")
		across := math.Abs(from.Healthy.Slip["DC"])
		change := math.Abs(1 - into.Healthy.Ratio/from.Healthy.Ratio)
		inertia := burnt.EngineInertia * (change / across) * (change / across)
		slip, energy, dt := m.Shift.Slip, 0.0, 1e-6
		for slip > 0 {
			energy += m.Now.Is * slip * dt
			slip -= (m.Now.Is - m.Load) / inertia * dt
		}
		near(t, "energy", m.Shift.Now.Energy, energy, 1e-3)
		if !(m.Shift.Now.Energy > m.Shift.Healthy.Energy && m.Shift.Now.Bulk > m.Shift.Healthy.Bulk) || !m.Shift.Now.Closes {
			t.Errorf("less pressure leaves less heat: %+v", m.Shift)
		}
		return
	}
	t.Error("no shift into third")
}

func TestAClutchThatHoldsTooLittleNeverCloses(t *testing.T) {
	u := unit(t, "norrad-h4")
	for _, m := range ask(t, u, "DC", burnt.Found{Pressure: &burnt.Value{Is: 0.4}}).Margins {
		if m.Shift != nil && m.Ratio.Is < 1 && (m.Shift.Now.Closes || m.Shift.Now.Bulk <= m.Shift.Healthy.Bulk || math.IsInf(m.Shift.Now.Surface, 0) || math.IsNaN(m.Shift.Now.Surface)) {
			t.Errorf("%+v", m.Shift.Now)
		}
	}
}

func TestWhatCannotBeComputedSaysSo(t *testing.T) {
	u := unit(t, "norrad-h4")
	if _, err := burnt.Ask(u, "XX", burnt.Found{}); err == nil {
		t.Error("an element that is not there was asked")
	}
	if a := ask(t, u, "IF", burnt.Found{}); a.Model {
		t.Error("a one-way clutch has a capacity by pressure")
	}
	if a := ask(t, unit(t, "ombrin-m5"), "CL", burnt.Found{}); a.Model || len(a.Margins) > 0 {
		t.Error("a dry clutch without plates in its sheet has margins")
	}
}

// Every element of every sheet that burns has a margin above one in health, as the sheets promise, and finite figures throughout.
func TestEveryElementHasFiniteFigures(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	asked := 0
	for id, u := range c.Units {
		for _, e := range u.Elements {
			if !burnt.Burns(e) {
				continue
			}
			a := ask(t, u, e.ID, burnt.Found{Pressure: &burnt.Value{Is: 0.6, U: 0.03}, Lining: &burnt.Value{Is: 0.8, U: 0.05}})
			for _, m := range a.Margins {
				asked++
				for _, v := range []float64{m.Load, m.Healthy, m.Now.Is, m.Now.U, m.Ratio.Is, m.Slips, m.Needs} {
					if math.IsNaN(v) || math.IsInf(v, 0) {
						t.Errorf("%s %s %s: %+v", id, e.ID, m.Range, m)
					}
				}
				if m.Healthy < m.Load {
					t.Errorf("%s %s slips in health in %s", id, e.ID, m.Range)
				}
			}
		}
	}
	if asked < 60 {
		t.Errorf("only %d margins", asked)
	}
}

// One friction plate more: a sixth more torque, the clearance of the thinner stack by plain addition, the touch unchanged.
func TestAnUpgradeAgainstPlainArithmetic(t *testing.T) {
	u := unit(t, "norrad-h4")
	b := stack.BetterPart{ID: "thin", Lined: 7, Steel: 7, LinedThin: "1.6 mm", SteelThin: "1.55 mm"}
	c, err := burnt.Upgrade(u, "FC", b)
	if err != nil {
		t.Fatal(err)
	}
	near(t, "margin", c.Margin[1]/c.Margin[0], 7.0/6, 1e-9)
	near(t, "clearance before", c.Clear[0], (27.55-4-6*1.9-6*1.8)*1e-3, 1e-9)
	near(t, "clearance after", c.Clear[1], (27.55-4-7*1.6-7*1.55)*1e-3, 1e-9)
	near(t, "touch", c.Touch[1], 870/76.5e-4, 1e-6)
	servo, err := burnt.Upgrade(u, "OB", stack.BetterPart{ID: "larger", Servo: "22.5 cm²"})
	if err != nil || !servo.NeedsNewPin || !(servo.Margin[1] > servo.Margin[0]) || !(servo.Touch[1] < servo.Touch[0]) {
		t.Errorf("%+v %v", servo, err)
	}
	p := 140.0 * psi
	near(t, "margin of the larger servo", servo.Margin[1]/servo.Margin[0], (p*22.5e-4-210)/(p*19.5e-4-210), 1e-6)
	if _, err := burnt.Upgrade(u, "FC", stack.BetterPart{ID: "x", Servo: "22 cm²"}); err == nil {
		t.Error("a servo at a clutch")
	}
	if _, err := burnt.Upgrade(u, "XX", b); err == nil {
		t.Error("an element that is not there")
	}
	faster, err := burnt.Upgrade(u, "DC", stack.BetterPart{ID: "grip", Friction: 0.15})
	if err != nil || !(faster.Time[1] < faster.Time[0]) {
		t.Errorf("more friction does not shorten the shift: %+v %v", faster, err)
	}
}

// The sentence says no more than the numbers: what does it alone, what others make up for, what is not known.
func TestTheAnswerInWords(t *testing.T) {
	u := unit(t, "norrad-h4")
	for _, c := range []struct {
		name  string
		found burnt.Found
		want  string
	}{
		{"pressure alone", burnt.Found{Pressure: &burnt.Value{Is: 0.7}}, "By itself that does: line pressure, of what the sheet expects."},
		{"a plate fewer, and pressure that makes up for it", burnt.Found{Plates: 3, Pressure: &burnt.Value{Is: 1.8}}, "make up for it. By itself it would slip from: friction plates."},
		{"together", burnt.Found{Pressure: &burnt.Value{Is: 0.87}, Held: &burnt.Value{Is: 0.87}}, "No one condition does it alone."},
		{"nothing measured", burnt.Found{}, "What burned it is not measured yet."},
	} {
		a := ask(t, u, "DC", c.found)
		if says := a.Says(); !strings.Contains(says, c.want) || strings.Contains(says, " 0 % throttle") {
			t.Errorf("%s: %q in %+v", c.name, says, a.Margins[0].Ratio)
		}
	}
	if says := (burnt.Answer{}).Says(); !strings.Contains(says, "no margin can be computed") {
		t.Error(says)
	}
}
