package measure

import (
	"math"
	"testing"
)

// ISO 14253-1: inside the guard band neither conformity nor non-conformity is proved. Limits 10
// and 20 with U = 1 (u = 0.5, k = 2) split the line at 9, 11, 19 and 21.
func TestGuardBandsOfISO14253(t *testing.T) {
	for value, want := range map[float64]Verdict{8.9: Below, 9.5: CannotTell, 10.5: CannotTell, 11: Conforms, 15: Conforms, 19: Conforms, 19.5: CannotTell, 21: CannotTell, 21.1: Above} {
		c, err := Compare(value, 0.5, 10, 20)
		if err != nil || c.Verdict != want {
			t.Errorf("%v: %v %v, want %v", value, c.Verdict, err, want)
		}
	}
}

// JCGM 100:2008, 4.3.7: a quantity known only to lie within ±a with equal probability has u = a/√3;
// a resolution r gives a = r/2, so u = 0.29 r (F.2.2.1 prints 0.29 δx).
func TestResolutionAsInJCGM100(t *testing.T) {
	if u := Standard(1, 0); math.Abs(u-0.29) > 0.005 || math.Abs(u-0.5/math.Sqrt(3)) > 1e-15 {
		t.Errorf("u = %v", u)
	}
	if u := Standard(0, 3); u != 3 {
		t.Errorf("u = %v", u)
	}
	if u := Standard(math.Sqrt(12)*3, 4); math.Abs(u-5) > 1e-12 {
		t.Errorf("3 and 4 give %v", u)
	}
}

// One and two standard deviations of the normal distribution: 68.27 % and 95.45 % (standard tables).
func TestProbabilityAgainstNormalTables(t *testing.T) {
	c, _ := Compare(0, 1, -1, 1)
	if math.Abs(c.Inside-0.6827) > 5e-5 {
		t.Errorf("inside one deviation %v", c.Inside)
	}
	c, _ = Compare(0, 1, -2, 2)
	if math.Abs(c.Inside-0.9545) > 5e-5 {
		t.Errorf("inside two %v", c.Inside)
	}
}

func TestPositionAndEdges(t *testing.T) {
	c, _ := Compare(12.5, 0, 10, 20)
	if c.Position != 0.25 || c.Inside != 1 || c.Verdict != Conforms {
		t.Errorf("%+v", c)
	}
	for _, bad := range [][4]float64{{math.NaN(), 1, 0, 1}, {0, -1, 0, 1}, {0, 1, 2, 1}, {0, math.Inf(1), 0, 1}} {
		if _, err := Compare(bad[0], bad[1], bad[2], bad[3]); err == nil {
			t.Errorf("%v gave no error", bad)
		}
	}
	if c, _ := Compare(5, 0, 5, 5); c.Verdict != Conforms {
		t.Errorf("a window of no width at its value: %v", c.Verdict)
	}
}
