package knowledge_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/internal/trial"
)

func TestEveryUnitCompilesWithEnoughToSay(t *testing.T) {
	c := trial.Load(t)
	if len(c.Knowledge.Causes) < 25 || len(c.Knowledge.Findings) < 45 || len(c.Knowledge.Checks) < 25 {
		t.Errorf("%d causes, %d findings, %d checks", len(c.Knowledge.Causes), len(c.Knowledge.Findings), len(c.Knowledge.Checks))
	}
	for id, n := range c.Networks {
		if _, err := diagnose.Assess(n, diagnose.Situation{}); err != nil || len(n.Causes) < 25 {
			t.Errorf("%s: %d causes, %v", id, len(n.Causes), err)
		}
	}
	for _, check := range c.Knowledge.Checks {
		if len(check.Steps) == 0 || check.Minutes <= 0 || check.Tells == "" {
			t.Errorf("check %s lacks steps, minutes or what it tells", check.ID)
		}
	}
}

// Whatever is shown anywhere can be looked up: every entry opens, and every sentence leads to an entry.
func TestEverySentenceOfTheKnowledgeCanBeReached(t *testing.T) {
	for id, n := range trial.Load(t).Networks {
		known := map[string]bool{}
		for _, e := range n.Entries() {
			if known[e.Kind+" "+e.ID] {
				t.Errorf("%s: %s %s twice", id, e.Kind, e.ID)
			}
			known[e.Kind+" "+e.ID] = true
		}
		if id != "norrad-h4" && id != "vantrice-a6" {
			continue // the sentences of two units, one with each kind of clutch, stand for all
		}
		for _, ref := range n.Entries() {
			e, ok := n.Entry(ref.Kind, ref.ID)
			if !ok || len(e.Facts)+len(e.Sections) == 0 {
				t.Fatalf("%s: %s %s says nothing", id, ref.Kind, ref.ID)
			}
			for _, s := range e.Sections {
				for _, x := range s.Sentences {
					if !known[x.To.Kind+" "+x.To.ID] {
						t.Errorf("%s: %s leads to %s %s, which is no entry", id, ref.ID, x.To.Kind, x.To.ID)
					}
				}
			}
		}
	}
}

// An option's page names a cause once, with the chance of the last of its entries that names it, and no cause that it never cures.
func TestAnOptionsPageGivesTheChanceThatCounts(t *testing.T) {
	overridden := 0
	for id, n := range trial.Load(t).Networks {
		for _, o := range n.Options {
			last := map[string]float64{}
			for _, cure := range o.Cures {
				for _, c := range n.Matching(cure.Cause) {
					if _, twice := last[n.Causes[c].ID]; twice {
						overridden++
					}
					last[n.Causes[c].ID] = cure.Chance
				}
			}
			e, _ := n.Entry("option", o.ID)
			seen := map[string]bool{}
			for _, s := range e.Sections {
				if s.Title != "Cures, with this chance" {
					continue
				}
				for _, x := range s.Sentences {
					if want := fmt.Sprintf("%.0f\u00a0%%", 100*last[x.To.ID]); seen[x.To.ID] || x.Strength != want || last[x.To.ID] == 0 {
						t.Errorf("%s: %s cures %s with %s, not once with %s", id, o.ID, x.To.ID, x.Strength, want)
					}
					seen[x.To.ID] = true
				}
			}
			for cause, chance := range last {
				if i := n.NodeAt[cause]; chance > 0 && !seen[cause] && !n.Causes[i].Unlisted() {
					t.Errorf("%s: %s does not say that it cures %s", id, o.ID, cause)
				}
			}
		}
	}
	if overridden == 0 {
		t.Error("no entry overrides another: this proves nothing")
	}
}

func TestFindLooksForEveryWord(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	found := n.Find("piston SEAL direct", "cause")
	if len(found) == 0 || found[0].ID != "piston-seal.DC" {
		t.Errorf("found %v", found)
	}
	if all, none := n.Find("", ""), n.Find("xyzzy", ""); len(all) != len(n.Entries()) || len(none) != 0 {
		t.Errorf("no words find %d of %d, unknown words %d", len(all), len(n.Entries()), len(none))
	}
}

// A perturbed knowledge base has the same links, each one level off, and is still sound.
func TestPerturbedStrengthsAreOneLevelOff(t *testing.T) {
	k := trial.Load(t).Knowledge
	p := k.Perturbed(rand.New(rand.NewPCG(1, 2)))
	if bad := p.Validate(); len(bad) > 0 {
		t.Fatal(bad[0])
	}
	level := func(name string) int {
		return slices.IndexFunc(knowledge.Strengths, func(s knowledge.Strength) bool { return s.Name == name })
	}
	up, down, same := 0, 0, 0
	for i, c := range k.Causes {
		for j, l := range c.Shows {
			switch level(p.Causes[i].Shows[j].Strength) - level(l.Strength) {
			case 1:
				down++
			case -1:
				up++
			case 0:
				same++
				if s := l.Strength; s != "always" && s != "rarely" {
					t.Errorf("%s stayed %s", c.ID, s)
				}
			default:
				t.Errorf("%s: %s became %s", c.ID, l.Strength, p.Causes[i].Shows[j].Strength)
			}
		}
	}
	if up < 50 || down < 50 || same == 0 {
		t.Errorf("%d up, %d down, %d at the end of the scale", up, down, same)
	}
}
