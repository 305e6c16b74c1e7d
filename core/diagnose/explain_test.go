package diagnose_test

import (
	"fmt"
	"testing"

	"innercompass/core/diagnose"
)

func TestZ(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	a := rank(t, n, flare())
	c, err := a.Chain("piston-seal.DC")
	if err != nil {
		t.Fatal(err)
	}
	for i, x := range c.Nodes {
		fmt.Println(i, x)
	}
	for _, l := range c.Links {
		fmt.Println(l)
	}
	fmt.Println(c.Left)
	for _, s := range c.Sentences() {
		fmt.Println(s)
	}
	w, _ := a.Weigh(5)
	x := a.Contrast(w, 0, 1, diagnose.Stand{})
	fmt.Println(x.Against.Cause.Title, x.Readings, x.Check.Check.Title, n.Why(*x.Check))
	c, _ = n2(t).Chain("water-entry")
	for _, s := range c.Sentences() {
		fmt.Println(s)
	}
	for i, x := range c.Nodes {
		fmt.Println(i, x)
	}
}

func n2(t *testing.T) *diagnose.Assessment {
	n := load(t).Networks["ombrin-s6"]
	return rank(t, n, []diagnose.Reading{{ID: "1", Finding: "says-slips", State: "yes", Source: "customer"}, {ID: "2", Finding: "fluid-look", State: "milky", Source: "seen"}, {ID: "3", Finding: "road.hot.D2.slips", State: "yes", Source: "seen"}, {ID: "4", Finding: "pan-debris", State: "friction", Source: "seen"}})
}
