package knowledge_test

import (
	"strings"
	"testing"

	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/internal/trial"
)

// What was renewed in vain speaks against what it would have cured, and against nothing else.
func TestARepairInVainSpeaksAgainstWhatItCures(t *testing.T) {
	for unit, n := range trial.Load(t).Networks {
		at := n.FindingAt[knowledge.Tried]
		for _, o := range n.Options {
			s := n.Findings[at].StateAt(o.ID)
			if s < 0 {
				continue
			}
			chance := map[int]float64{}
			for _, cure := range o.Cures {
				for _, c := range n.Matching(cure.Cause) {
					chance[c] = cure.Chance
				}
			}
			for c := range n.Causes {
				factor := 1.0
				for _, w := range n.History[c] {
					if w.Finding == at && w.State == s {
						factor *= w.Factor
					}
				}
				if (chance[c] >= 0.3) != (factor < 1) || factor <= 0 {
					t.Fatalf("%s: %s in vain, cured with %v: %s times %v", unit, o.ID, chance[c], n.Causes[c].ID, factor)
				}
			}
		}
	}
}

// Whoever felt a shift into fourth had third: the cell before it drove. A shift that never came says nothing of it.
func TestAShiftThatWasFeltSaysWhatDroveBeforeIt(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	cell := func(b faultmap.Behaviour, id string) string {
		return knowledge.RoadID("hot", faultmap.Cell{Range: id, Behaviour: b})
	}
	drives := n.FindingAt[cell(faultmap.Drives, "D3")]
	said := n.Implied(cell(faultmap.Shift, "D4"), "flare")
	if len(said) != 1 || said[0].Finding != drives || said[0].Likelihood[0] < 10*said[0].Likelihood[n.Findings[drives].StateAt("none")] {
		t.Errorf("a flare into D4: %+v", said)
	}
	if got := n.Implied(cell(faultmap.Shift, "D4"), "missing"); len(got) != 0 {
		t.Errorf("a shift that never came: %+v", got)
	}
	if got := n.Implied("fluid-look", "dark"); got != nil {
		t.Errorf("dark fluid: %+v", got)
	}
}

// The words of a driver follow from the design (apply chart, common practice): the low-reverse brake that never applies takes reverse and
// nothing else, the forward clutch takes what goes forward, and what needs most of its capacity goes first.
func TestWhatADriverSaysFollowsFromTheDesign(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	shows := func(fault faultmap.Fault, finding string) map[string]float64 {
		out := map[string]float64{}
		node, ok := n.NodeAt[knowledge.FaultID(fault, "hot")]
		if !ok {
			t.Fatalf("no %v", fault)
		}
		for _, e := range n.Out[node] {
			if e.Node < 0 && n.Findings[e.Finding].ID == finding {
				out[n.Findings[e.Finding].States[e.State].ID] += e.P
			}
		}
		return out
	}
	for part, want := range map[string]string{"LB": "reverse", "FC": "forward"} {
		got := shows(faultmap.Fault{Kind: faultmap.NeverApplies, Part: part}, "says-no-drive")
		if len(got) != 1 || got[want] < 0.7 {
			t.Errorf("%s never applies: the driver says %v", part, got)
		}
	}
	if got := shows(faultmap.Fault{Kind: faultmap.ElementSlips, Part: "LB"}, knowledge.WentFirst); got["R"] < 0.4 {
		t.Errorf("the low-reverse brake slips: first goes %v", got)
	}
	if got := shows(faultmap.Fault{Kind: faultmap.ShiftsEarly}, "says-shift-timing"); got["early"] < 0.4 || got["late"] > 0 {
		t.Errorf("upshifts commanded early: the driver says %v", got)
	}
	// Every wildcard of a repair catches something, and no repair of mounts, wheels or engine catches the unit's insides.
	outside := map[string]bool{"driveline": true}
	for _, o := range n.Options {
		for _, cure := range o.Cures {
			for _, c := range n.Matching(cure.Cause) {
				if strings.Contains("engine wheels exhaust brakes tyres engine-mount", o.ID) && !outside[n.Causes[c].System] {
					t.Errorf("%s cures %s of the system %s", o.ID, n.Causes[c].ID, n.Causes[c].System)
				}
			}
		}
	}
}
