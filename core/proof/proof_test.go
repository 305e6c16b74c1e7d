package proof_test

import (
	"slices"
	"strings"
	"sync"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/proof"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

func network(t *testing.T, unit string) *knowledge.Network {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c.Networks[unit]
}

func option(t *testing.T, n *knowledge.Network, id string) knowledge.Option {
	t.Helper()
	i := slices.IndexFunc(n.Options, func(o knowledge.Option) bool { return o.ID == id })
	if i < 0 {
		t.Fatalf("no option %s", id)
	}
	return n.Options[i]
}

func of(items []proof.Item, kind string) []string {
	var out []string
	for _, i := range items {
		if i.Kind == kind {
			out = append(out, i.Title)
		}
	}
	return out
}

// On every unit, for every option: each item is there once, in a kind that is known, a value has a window; deeper work
// leaves no less to be tightened (what was loosened must be tightened again: common practice, no source).
func TestEveryOptionOfEveryUnit(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for unit, n := range c.Networks {
		tightened := map[unitsheet.Access]int{}
		for _, o := range n.Options {
			items := proof.List(n, []knowledge.Option{o}, nil)
			seen := map[string]bool{}
			for _, i := range items {
				if seen[i.ID] || i.Title == "" || !slices.Contains([]string{proof.Repeat, proof.Set, proof.Value, proof.Tighten, proof.Tell}, i.Kind) || (i.Kind == proof.Value) != (i.Window != nil) {
					t.Errorf("%s, %s: %+v", unit, o.ID, i)
				}
				seen[i.ID] = true
			}
			if !seen["fluid"] || !seen["customer"] || seen["codes"] != n.Unit.Electric() {
				t.Errorf("%s, %s: %v", unit, o.ID, seen)
			}
			level, err := unitsheet.ParseAccess(o.Access)
			if err != nil {
				t.Fatal(err)
			}
			now := len(of(items, proof.Tighten))
			if before, ok := tightened[level]; ok && before != now {
				t.Errorf("%s: %d and %d joints at %s", unit, before, now, o.Access)
			}
			tightened[level] = now
		}
		for a, x := range tightened {
			for b, y := range tightened {
				if a < b && x > y {
					t.Errorf("%s: %d joints at %s, %d at %s", unit, x, a, y, b)
				}
			}
		}
		if got := proof.List(n, nil, nil); len(of(got, proof.Tighten)) > 0 || len(of(got, proof.Value)) > 0 {
			t.Errorf("%s: without work %v", unit, got)
		}
	}
}

// A resealed clutch is measured as it is put together, and end play with it; a level set from outside leaves neither.
func TestWorkIsMeasuredAgain(t *testing.T) {
	n := network(t, "norrad-h4")
	items := proof.List(n, []knowledge.Option{option(t, n, "reseal.DC")}, nil)
	i := slices.IndexFunc(items, func(x proof.Item) bool { return x.ID == "limit.clearance-DC" })
	if i < 0 || !slices.ContainsFunc(items, func(x proof.Item) bool { return x.ID == "limit.end-play" }) {
		t.Fatalf("%v", of(items, proof.Value))
	}
	w := items[i].Window
	for v, want := range map[float64]bool{w.Low.SI: true, w.High.SI: true, w.Low.SI - 1e-6: false, w.High.SI + 1e-6: false} {
		if got := items[i].Passes(quantity.Quantity{SI: v, Dimension: w.Low.Dimension}); got != want {
			t.Errorf("%g m in %g to %g: %v", v, w.Low.SI, w.High.SI, got)
		}
	}
	if q := (proof.Item{}); q.Passes(w.Low) {
		t.Error("passes without a window")
	}
	for _, o := range n.Options {
		if o.Access == "ground" {
			if got := proof.List(n, []knowledge.Option{o}, nil); len(of(got, proof.Value)) > 0 {
				t.Errorf("%s: %v", o.ID, of(got, proof.Value))
			}
		}
	}
}

// What failed is driven again: by the last look of the trade at it, not by what the customer told, nor by an earlier look.
func TestWhatFailedIsDoneAgain(t *testing.T) {
	n := network(t, "norrad-h4")
	look := func(state, source string) diagnose.Reading {
		return diagnose.Reading{Finding: "road.hot.D3.shift", State: state, Source: source}
	}
	good := func() string { f, _ := n.Finding("road.hot.D3.shift"); return f.States[0].ID }()
	for name, c := range map[string]struct {
		readings []diagnose.Reading
		again    bool
	}{
		"seen":                 {[]diagnose.Reading{look("flare", "seen")}, true},
		"told alone":           {[]diagnose.Reading{look("flare", "customer")}, false},
		"good since":           {[]diagnose.Reading{look("flare", "seen"), look(good, "seen")}, false},
		"bad since":            {[]diagnose.Reading{look(good, "seen"), look("flare", "seen")}, true},
		"good, told otherwise": {[]diagnose.Reading{look(good, "seen"), look("flare", "customer")}, false},
	} {
		items := proof.List(n, nil, c.readings)
		i := slices.IndexFunc(items, func(x proof.Item) bool { return x.ID == "repeat.road.hot.D3.shift" })
		if (i >= 0) != c.again {
			t.Errorf("%s: %v", name, of(items, proof.Repeat))
		}
		if i >= 0 && (items[i].Failing == "" || !strings.HasPrefix(items[i].Title, "Repeat: ")) {
			t.Errorf("%+v", items[i])
		}
	}
}

// A judder is proven by creeping, not by looking for drips: what is repeated is what failed in this case.
func TestAJudderIsProvenByWhatJuddered(t *testing.T) {
	n := network(t, "vantrice-a6")
	items := proof.List(n, []knowledge.Option{option(t, n, "teach")}, []diagnose.Reading{
		{ID: "1", Finding: "says-judder", State: "yes", Source: "customer"}, {ID: "2", Finding: "since", State: "after-work", Source: "customer"},
		{ID: "3", Finding: "creep-trace", State: "hunts", Source: "measured"}, {ID: "4", Finding: "slip-point", State: "off", Source: "measured"}, {ID: "5", Finding: "fluid-look", State: "dark", Source: "seen"},
	})
	var ids []string
	for _, i := range items {
		if i.Kind == proof.Repeat {
			ids = append(ids, i.ID)
		}
	}
	slices.Sort(ids)
	if want := []string{"gone.says-judder", "repeat.creep-trace", "repeat.slip-point"}; !slices.Equal(ids, want) {
		t.Errorf("%v, want %v", ids, want)
	}
}
