package diagnose_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/simulate"
	"innercompass/core/unitsheet"
)

// Every link of a chain is a sentence of the knowledge, it runs from the root to readings, and what it cannot explain
// is left over.
func TestAChainRunsFromTheRootToTheReadings(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	a := rank(t, n, append(flare(), diagnose.Reading{ID: "odd", Finding: "wet-rail", State: "wet", Source: "seen"}))
	c, err := a.Chain("piston-seal.DC")
	if err != nil {
		t.Fatal(err)
	}
	if c.Nodes[0].ID != "piston-seal.DC" || c.Nodes[0].Depth != 0 || !slices.Contains(c.Left, "odd") {
		t.Errorf("begins with %+v, leaves over %v", c.Nodes[0], c.Left)
	}
	reached := map[int]bool{0: true}
	for range c.Nodes {
		for _, l := range c.Links {
			if reached[l.From] {
				reached[l.To] = true
			}
			if c.Nodes[l.To].Depth <= c.Nodes[l.From].Depth || l.Why == "" {
				t.Errorf("link %+v", l)
			}
			if from := c.Nodes[l.From]; from.Kind != "fault" {
				e, ok := n.Entry(from.Kind, from.ID)
				if !ok || !slices.ContainsFunc(e.Sections, func(s knowledge.Section) bool {
					return slices.ContainsFunc(s.Sentences, func(x knowledge.Sentence) bool { return x.To.ID == c.Nodes[l.To].ID && x.Why == l.Why })
				}) {
					t.Errorf("the knowledge does not say that %s brings about %s because %s", from.ID, c.Nodes[l.To].ID, l.Why)
				}
			}
		}
	}
	if len(reached) != len(c.Nodes) {
		t.Errorf("%d of %d nodes hang on the root", len(reached), len(c.Nodes))
	}
	said := strings.Join(c.Sentences(), "\n")
	if !strings.Contains(said, "Shift into D3, hot: flares") && !strings.Contains(said, "shift into D3, hot: flares") {
		t.Errorf("the flare is not told:\n%s", said)
	}
	if _, err := a.Chain("gremlins"); err == nil {
		t.Error("a chain from a cause that is not there")
	}
}

func TestAContrastNamesWhatSeparates(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	a := rank(t, n, flare())
	w, err := a.Weigh(6)
	if err != nil {
		t.Fatal(err)
	}
	for second := 1; second < 6; second++ {
		x := plan.Contrasted(a, w, 0, second, plan.VehicleState{})
		if x.Against.Cause.ID != a.Suspects[second].Cause.ID {
			t.Errorf("against %s, want %s", x.Against.Cause.ID, a.Suspects[second].Cause.ID)
		}
		for i, r := range x.Readings {
			at := slices.IndexFunc(flare(), func(y diagnose.Reading) bool { return y.ID == r.Reading })
			if d := w.Suspects[0][at] - w.Suspects[second][at]; math.Abs(d-r.Weight) > 1e-12 || i > 0 && math.Abs(x.Readings[i-1].Weight) < math.Abs(r.Weight) {
				t.Errorf("reading %s weighs %v, want %v, strongest first", r.Reading, r.Weight, d)
			}
		}
		// Of two causes that are both possible the check must make one of them likely, whatever it shows.
		if x.Check != nil && !slices.ContainsFunc(x.Check.Results, func(r plan.Result) bool { return r.LeaderShare > 0.6 }) {
			t.Errorf("%s tells nothing: %+v", x.Check.Check.Title, x.Check.Results)
		}
	}
}

func TestCircumstancesAreWhatTheOddsAreMultipliedBy(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	told := []diagnose.Reading{{ID: "1", Finding: "prior-work", State: "opened", Source: "measured"}}
	a, err := diagnose.Assess(n, diagnose.Situation{Readings: told, Distance: 240_000})
	if err != nil {
		t.Fatal(err)
	}
	for _, cause := range []string{"piston-seal.DC", "trap-missed", "clearance.DC"} {
		product := 1.0
		for _, c := range a.Circumstances(cause) {
			product *= c.Factor
			if c.Why == "" {
				t.Errorf("%s: %s has no reason", cause, c.Title)
			}
		}
		// Relative to a cause that neither wears nor depends on history the ratio of odds is that product.
		odds := func(x *diagnose.Assessment, id string) float64 {
			for _, s := range x.Suspects {
				if s.Cause.ID == id {
					return s.Probability / (1 - s.Probability)
				}
			}
			return math.NaN()
		}
		const steady = "mount-soft"
		rest := 1.0
		for _, c := range a.Circumstances(steady) {
			rest *= c.Factor
		}
		got := odds(a, cause) / n.Odds[n.NodeAt[cause]] / (odds(a, steady) / n.Odds[n.NodeAt[steady]])
		if math.Abs(math.Log(got/(product/rest))) > 0.15 { // "something is wrong" couples causes a little
			t.Errorf("%s: odds changed by %.3f, circumstances say %.3f", cause, got, product/rest)
		}
	}
}

// A design that is known to fail between 140,000 and 220,000 km is suspected more there than at 20,000, whichever unit the sheet
// is written in: the same window in miles, and in hours at 40 km each, weighs the same.
func TestAKnownFailureCountsWhereItIsKnown(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	factor := func(n *knowledge.Network, km float64) float64 {
		t.Helper()
		a, err := diagnose.Assess(n, diagnose.Situation{Readings: flare(), Distance: km})
		if err != nil {
			t.Fatal(err)
		}
		for _, c := range a.Circumstances("piston-seal.DC") {
			if c.Title == "This unit is known for it" {
				return c.Factor
			}
		}
		return 1
	}
	if inside, before := factor(n, 180_000), factor(n, 20_000); inside < 4.9 || before > 1.2 {
		t.Errorf("factor %.2f inside the window, %.2f long before it", inside, before)
	}
	at := slices.IndexFunc(n.Unit.Known, func(k unitsheet.KnownFailure) bool { return k.Cause == "piston-seal.DC" })
	if k := n.Unit.Known[at]; k.From != 140_000 || k.To != 220_000 || k.InHours {
		t.Errorf("140000..220000 km was read as %+v", k)
	}
	for text, want := range map[string]unitsheet.KnownFailure{"100000..200000 mi": {From: 160934.4, To: 321868.8}, "2000..4000 h": {From: 2000, To: 4000, InHours: true}} {
		sheet := n.Unit.Sheet
		sheet.Known = []unitsheet.KnownSheet{{Title: "x", Cause: "piston-seal.DC", Distance: text}}
		u, bad := unitsheet.Compile(sheet)
		if len(bad) > 0 || math.Abs(u.Known[0].From-want.From) > 1e-6 || math.Abs(u.Known[0].To-want.To) > 1e-6 || u.Known[0].InHours != want.InHours {
			t.Errorf("%s: %v %+v", text, bad, u)
		}
	}
}

// The needle shows how sure the ranking is: nothing read leaves much doubt, readings that settle it leave little.
func TestDoubtFallsAsItIsSettled(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	before := 1.1
	for _, readings := range [][]diagnose.Reading{nil, flare()[:3], flare()} {
		a, err := diagnose.Assess(n, diagnose.Situation{Readings: readings, Distance: 142_310})
		if err != nil {
			t.Fatal(err)
		}
		if !(a.Entropy > 0 && a.Entropy < before) {
			t.Errorf("doubt %.3f after %d readings, %.3f before", a.Entropy, len(readings), before)
		}
		before = a.Entropy
	}
}

func TestWordsOfACustomerOfferFindings(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	for text, want := range map[string]string{
		"It REVS UP going into third, once it’s warm!": "says-slips yes",
		"drips on the drive; getting worse":            "says-leak yes",
		"won't reverse":                                "says-no-drive reverse",
		"takes ages to move off in the morning":        "worse-when morning",
	} {
		offers := n.Offers(text)
		if !slices.ContainsFunc(offers, func(o knowledge.Offer) bool { return o.Finding+" "+o.State == want }) {
			t.Errorf("%q offers %v, want %s", text, offers, want)
		}
		for _, o := range offers {
			f, ok := n.Finding(o.Finding)
			if !ok || f.StateTitle(o.State) != o.StateTitle || o.StateTitle == "" {
				t.Errorf("%q: %+v is no state of a finding", text, o)
			}
		}
	}
	for _, text := range []string{"", "   ", "the weather is fine", "revsup", strings.Repeat("x ", 5000)} {
		if offers := n.Offers(text); len(offers) != 0 {
			t.Errorf("%.20q offers %v", text, offers)
		}
	}
}

// Whatever is shown anywhere can be looked up: every entry opens, and every sentence leads to an entry.
func TestEverySentenceOfTheKnowledgeCanBeReached(t *testing.T) {
	for id, n := range load(t).Networks {
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

func TestFindLooksForEveryWord(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
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
	k := load(t).Knowledge
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

// A vehicle of chance shows what the network says: how often each strong link came true, over many vehicles.
func TestSampledVehiclesFollowTheNetwork(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	r := rand.New(rand.NewPCG(2, 3))
	const many = 3000
	met, shown := 0, 0
	for range many {
		w := simulate.Sample(n, r, 150_000)
		if len(w.Causes) == 0 {
			t.Fatal("a vehicle without a cause")
		}
		if slices.Contains(w.CauseIDs(), "underfilled") {
			met++
			if slices.Contains(w.Abnormal(), "fluid-level") {
				shown++
			}
		}
	}
	share := n.Odds[n.NodeAt["underfilled"]] / (1 + n.Odds[n.NodeAt["underfilled"]])
	some := 1.0
	for _, c := range n.Causes {
		some *= 1 / (1 + n.Odds[n.NodeAt[c.ID]])
	}
	want := share / (1 - some)
	// Five standard errors of a share: by chance in one of a million seeds.
	if off := math.Abs(float64(met)/many - want); off > 5*math.Sqrt(want/many) {
		t.Errorf("met in %d of %d, prior %.4f", met, many, want)
	}
	if met < 10 || float64(shown) < 0.8*float64(met) {
		t.Errorf("underfilled %d times, and the level abnormal in %d of them", met, shown)
	}
}

// Two looks that agree weigh more than one, two that differ much less; and a reading that nothing else supports is worth a
// second look, while one that all the others support is not.
func TestAReadingIsLookedAtAgain(t *testing.T) {
	n := load(t).Networks["norrad-h4"]
	share := func(looks ...string) float64 {
		var s diagnose.Situation
		for i, state := range looks {
			s.Readings = append(s.Readings, diagnose.Reading{ID: fmt.Sprint(i), Finding: "filter", State: state, Source: "seen"})
		}
		a, err := diagnose.Assess(n, s)
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range a.Suspects {
			if x.Cause.ID == "filter-blocked" {
				return x.Probability
			}
		}
		t.Fatal("no such cause")
		return 0
	}
	one, two, split := share("blocked"), share("blocked", "blocked"), share("blocked", "clean")
	if !(two > one && one > 3*split) {
		t.Errorf("blocked once %.3f, twice %.3f, once each %.3f", one, two, split)
	}
	const cell = "road.hot.D3.shift"
	tells := func(readings ...diagnose.Reading) float64 {
		a := rank(t, n, readings)
		for _, x := range plan.Advise(a, plan.VehicleState{}, shop) {
			if len(x.Check.Yields) == 1 && x.Check.Yields[0] == cell {
				if !x.Again {
					t.Errorf("%s is not said to be a second look", x.Check.ID)
				}
				return x.InformationGain
			}
		}
		return 0
	}
	odd := diagnose.Reading{ID: "1", Finding: cell, State: "flare", Source: "seen"}
	same := odd
	same.ID = "2"
	low := diagnose.Reading{ID: "3", Finding: "pressure-pattern", State: "low-DC", Source: "measured"}
	if alone, supported := tells(odd), tells(odd, low); !(alone > supported && supported >= 0) {
		t.Errorf("a second look at what nothing supports tells %.4f, at what another reading supports %.4f", alone, supported)
	}
	if third := tells(odd, same); third != 0 {
		t.Errorf("a third look tells %.4f", third)
	}
}
