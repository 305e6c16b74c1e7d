package listen_test

import (
	"math"
	"math/rand/v2"
	"sync"
	"testing"

	"innercompass/core/gearing"
	"innercompass/core/listen"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	"innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(knowledge.FS) })

func units(t testing.TB) map[string]*unitsheet.Unit {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c.Units
}

// In every range of every design the speeds that follow from input and output are those of the solver; in neutral with the clutch closed the
// countershaft of the five-speed turns with its engine, with the pedal down it does not.
func TestTurningAgreesWithTheSolver(t *testing.T) {
	for id, u := range units(t) {
		if u.Machine == nil {
			continue
		}
		for _, r := range u.Ranges {
			if !r.Driving() {
				continue
			}
			sol, err := u.Machine.Solve(gearing.State{Applied: r.Applied})
			if err != nil {
				t.Fatal(err)
			}
			tr := u.Machine.Train()
			got := u.Machine.Turning(r.Applied, map[string]float64{tr.Input: sol.Flow.Speeds[tr.Input]})
			for m, w := range sol.Flow.Speeds {
				if g, ok := got[m]; ok && math.Abs(g-w) > 1e-9 {
					t.Errorf("%s %s: %s turns %v, by the solver %v", id, r.ID, m, g, w)
				}
			}
			if g, ok := got[tr.Output]; id == "ombrin-m5" && (!ok || math.Abs(g-sol.Flow.Speeds[tr.Output]) > 1e-9) {
				t.Errorf("%s %s: the output is left out", id, r.ID)
			}
		}
	}
	m5 := units(t)["ombrin-m5"]
	up, down := m5.Machine.Turning([]string{"CL"}, map[string]float64{"E": 1, "O": 0}), m5.Machine.Turning(nil, map[string]float64{"E": 1, "O": 0})
	if math.Abs(up["CS"]+24.0/37) > 1e-9 || math.Abs(up["g1"]-24.0/37*16/39) > 1e-9 {
		t.Errorf("pedal up: %v", up)
	}
	if _, ok := down["CS"]; ok {
		t.Errorf("pedal down the countershaft turns: %v", down)
	}
}

func leads(t *testing.T, s listen.Scene, marks ...listen.Mark) listen.Heard {
	t.Helper()
	h, err := s.Hear(marks)
	if err != nil {
		t.Fatal(err)
	}
	sum := h.Else
	for _, x := range h.Sources {
		sum += x.Share
	}
	if math.Abs(sum-1) > 1e-9 {
		t.Errorf("all of it is %v", sum)
	}
	return h
}

// What the trade says of sounds (common practice, no source): with the pedal down alone, the release bearing; with it up in neutral and gone
// when it is pressed, a bearing of the box; in one gear under load, that gear; in a bend at the wheel on the outside, its bearing; standing at
// the front of an automatic, its pump; with the vehicle held in a range, the converter's bearing.
func TestSoundsOfTheTrade(t *testing.T) {
	m5, s6, f3 := units(t)["ombrin-m5"], units(t)["ombrin-s6"], units(t)["tessaly-f3"]
	L, F, N := listen.Loud, listen.Faint, listen.None
	for name, c := range map[string]struct {
		u     *unitsheet.Unit
		in    string
		marks []listen.Mark
		want  []string
	}{
		"pedal down":       {m5, "G3", []listen.Mark{{"neutral", "bell", N}, {"pedal", "bell", L}, {"pedal", "case", N}}, []string{"release-bearing"}},
		"neutral":          {m5, "G3", []listen.Mark{{"neutral", "front", L}, {"neutral", "bell", F}, {"pedal", "front", N}, {"pull", "front", L}}, []string{"bearing-input"}},
		"one gear":         {m5, "G3", []listen.Mark{{"pull", "case", L}, {"coast", "case", F}, {"neutral", "case", N}, {"roll", "case", N}}, []string{"mesh:CS/g3", "mesh:M/CS"}},
		"in a right bend":  {s6, "D6", []listen.Mark{{"right", "wheel-left", L}, {"left", "wheel-left", F}, {"roll", "wheel-left", L}, {"right", "wheel-right", N}, {"neutral", "wheel-left", N}, {"lifted", "wheel-left", L}}, []string{"wheel-bearing-left"}},
		"whine at rest":    {s6, "D6", []listen.Mark{{"neutral", "front", L}, {"neutral", "engine", N}, {"held", "front", L}, {"pull", "front", L}}, []string{"pump"}},
		"held in a range":  {s6, "D6", []listen.Mark{{"neutral", "bell", N}, {"held", "bell", L}, {"pull", "bell", N}}, []string{"converter-bearing"}},
		"bends, both ways": {f3, "D3", []listen.Mark{{"left", "drive-right", L}, {"right", "drive-right", L}, {"pull", "drive-right", N}, {"roll", "drive-right", N}}, []string{"side-gears"}},
	} {
		h := leads(t, listen.NewScene(c.u, c.in), c.marks...)
		got := h.Sources[0].ID
		ok := false
		for _, w := range c.want {
			ok = ok || got == w
		}
		if !ok || h.Sources[0].Share < 0.25 {
			t.Errorf("%s: %s %.2f, then %s %.2f; want %v", name, got, h.Sources[0].Share, h.Sources[1].ID, h.Sources[1].Share, c.want)
		}
	}
}

// Scenes drawn from the model on all designs: after eight places listened to in the order that is proposed, the true source leads, or stands
// where nothing but it and its like sounds, in most; and what is said above nine in ten is right.
func TestScenesDrawnFromTheModel(t *testing.T) {
	r := rand.New(rand.NewPCG(21, 4))
	right, said, saidRight, n := 0, 0, 0, 0
	for _, id := range []string{"norrad-h4", "ombrin-m5", "ombrin-s6", "tessaly-e4t", "tessaly-p5", "vantrice-a6"} {
		u := units(t)[id]
		in := ""
		for _, x := range u.Ranges {
			if x.Driving() && x.Healthy.Outcome == gearing.Forward {
				in = x.ID
			}
		}
		s := listen.NewScene(u, in)
		for range 20 {
			truth := s.Sources[r.IntN(len(s.Sources))]
			var marks []listen.Mark
			for range 8 {
				h := leads(t, s, marks...)
				try := h.Next[0]
				marks = append(marks, listen.Mark{State: try.State, Place: try.Place, Level: s.Draw(r, truth, try.State, try.Place)})
			}
			h := leads(t, s, marks...)
			n++
			if h.Sources[0].ID == truth.ID {
				right++
			}
			if h.Sources[0].Share > 0.9 {
				said++
				if h.Sources[0].ID == truth.ID {
					saidRight++
				}
			}
		}
	}
	t.Logf("of %d scenes the source leads in %d; above 90 %% said %d, right %d", n, right, said, saidRight)
	if right < n*65/100 || saidRight < said*85/100 {
		t.Errorf("of %d scenes the source leads in %d; above 90 %% said %d, right %d", n, right, said, saidRight)
	}
}

func TestMarksThatCannotBe(t *testing.T) {
	s := listen.NewScene(units(t)["ombrin-s6"], "D6")
	for _, m := range []listen.Mark{{"flying", "case", 1}, {"pull", "roof", 1}, {"pull", "case", 9}} {
		if _, err := s.Hear([]listen.Mark{m}); err == nil {
			t.Errorf("%+v was taken", m)
		}
	}
	if h := leads(t, s); h.Sources[0].Share > 0.3 || len(h.Next) == 0 {
		t.Errorf("before anything was heard %+v", h.Sources[0])
	}
}
