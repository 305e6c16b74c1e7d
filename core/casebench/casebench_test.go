package casebench_test

import (
	"context"
	"fmt"
	"testing"

	"innercompass/core/casebench"
	"innercompass/internal/catalog"
	"innercompass/internal/trial"
	embedded "innercompass/knowledge"
)

var shop = casebench.Shop{Economics: trial.Shop}

// Every case of the bench is about findings, causes, checks and options that there are.
func TestTheCasesAreReadable(t *testing.T) {
	know := trial.Load(t)
	seen := map[string]bool{}
	for _, name := range []string{"even", "odd"} {
		cases, err := catalog.LoadBench(embedded.Bench, "bench/"+name+".yaml")
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range cases {
			if err := c.Check(know.Networks[c.Unit]); err != nil {
				t.Error(err)
			}
			if seen[c.ID] {
				t.Errorf("case %s is there twice", c.ID)
			}
			seen[c.ID] = true
			var number int
			if _, err := fmt.Sscanf(c.ID, "c%d", &number); err != nil || (number%2 == 0) != (name == "even") {
				t.Errorf("case %s stands in %s", c.ID, name)
			}
		}
	}
	if len(seen) < 42 {
		t.Errorf("%d cases", len(seen))
	}
}

// A case that is as plain as can be goes right, and its places are counted as they stand.
func TestAPlainCaseGoesRight(t *testing.T) {
	n := trial.Load(t).Networks["norrad-h4"]
	plain := casebench.Case{ID: "plain", Unit: "norrad-h4", Truth: [][]string{{"cable-slack"}}, SureAfter: "ground", Do: []string{"tv-cable"}, Never: []string{"overhaul"},
		Lines: map[string][]casebench.Line{
			"words":  {{Finding: "says-slips", State: "yes"}, {Lacks: "changes softly"}},
			"ground": {{Finding: "cable-slack", State: "above", Source: "measured"}, {Finding: "pressure-rise", State: "flat", Source: "measured"}},
		}}
	if err := plain.Check(n); err != nil {
		t.Fatal(err)
	}
	r, err := casebench.Run(context.Background(), n, plain, shop)
	if err != nil {
		t.Fatal(err)
	}
	if r.Sure.Stage != "ground" || r.Sure.Rank != 1 || !r.Sure.Right || r.Sure.Probability < 0.9 || r.Lines != 4 || len(r.Lacks) != 1 {
		t.Errorf("%+v", r)
	}
	two := plain
	two.Truth = [][]string{{"cable-slack"}, {"fluid-wrong"}}
	if r, err = casebench.Run(context.Background(), n, two, shop); err != nil || r.Sure.Rank < 2 {
		t.Errorf("the second root stands at %d, %v", r.Sure.Rank, err)
	}
	none := plain
	none.Truth = [][]string{{}}
	if r, err = casebench.Run(context.Background(), n, none, shop); err != nil || r.Sure.Rank != 0 || r.Sure.Right {
		t.Errorf("a root without an entry: %+v, %v", r.Sure, err)
	}
	sum := casebench.Add([]casebench.Result{{Sure: casebench.Standing{Rank: 1}, NextIs: "good", OptionIs: "do"}, {Sure: casebench.Standing{Rank: 3}, NextIs: "bad", Lines: 3, Lacks: []string{"x"}}, {}})
	if sum.First != 1 || sum.Three != 2 || sum.Unlisted != 1 || sum.NextGood != 1 || sum.NextBad != 1 || sum.OptionDo != 1 || sum.Lacks != 1 {
		t.Errorf("%+v", sum)
	}
	odd := plain
	odd.SureAfter = "lunch"
	odd.Truth = [][]string{{"gremlins"}}
	if err := odd.Check(n); err == nil {
		t.Error("a stage and a cause that are not there")
	}
}
