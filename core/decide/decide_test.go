package decide_test

import (
	"math"
	"slices"
	"strings"
	"sync"
	"testing"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/estimate"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/pricebook"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

// loaded compiles the shipped knowledge once for all tests.
var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

var rates = pricebook.Rates{Labour: 84, FluidLitre: 11, Rediagnose: 1.5, Goodwill: 180, Trial: 60, Tax: 0.2, Consumables: 0.03, Guide: true, Currency: "€"}

type situation struct {
	unit     string
	readings []diagnose.Reading
	from     unitsheet.Access
	rates    pricebook.Rates
	book     pricebook.Book
}

func (s situation) network(t testing.TB) (*knowledge.Network, *diagnose.Assessment) {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	if s.unit == "" {
		s.unit = "norrad-h4"
	}
	n := c.Networks[s.unit]
	a, err := diagnose.Assess(n, diagnose.Situation{Readings: s.readings})
	if err != nil {
		t.Fatal(err)
	}
	return n, a
}

func (s situation) model(t testing.TB) *decide.Model {
	n, a := s.network(t)
	if s.rates == (pricebook.Rates{}) {
		s.rates = rates
	}
	return decide.NewModel(n, a, s.from, s.rates, s.book)
}

func (s situation) compare(t testing.TB, ch decide.Choices) decide.Comparison {
	t.Helper()
	c, err := s.model(t).Compare(ch)
	if err != nil {
		t.Fatal(err)
	}
	return c
}

func sure() []diagnose.Reading {
	return []diagnose.Reading{
		{ID: "1", Finding: "road.hot.D3.shift", State: "flare", Source: "seen"}, {ID: "2", Finding: "pressure-pattern", State: "low-DC", Source: "measured"},
		{ID: "3", Finding: "air-check.DC", State: "piston", Source: "measured"}, {ID: "4", Finding: "piston-seal.DC", State: "hard", Source: "seen"},
		// Heat hardens seals too: without these the root may lie in the cooling, and a reseal would not last.
		{ID: "5", Finding: "fluid-temperature", State: "usual", Source: "measured"}, {ID: "6", Finding: "cooler-flow", State: "full", Source: "measured"}, {ID: "7", Finding: "fluid-level", State: "ok", Source: "measured"},
		{ID: "8", Finding: "pressure-rise", State: "rises", Source: "measured"},
		// A burnt or worn pack is not resealed.
		{ID: "9", Finding: "plates.DC", State: "sound", Source: "seen"}, {ID: "10", Finding: "clearance-DC", State: "ok", Source: "measured"},
	}
}

var apart = situation{readings: sure(), from: unitsheet.UnitApart}

func TestASureCauseIsRepairedNotOverhauled(t *testing.T) {
	c := apart.compare(t, decide.Choices{})
	best := c.Rows[0]
	if best.Option.ID != "reseal.DC" || best.Cured < 0.8 || c.Headline != best.Option.Title {
		t.Errorf("best %s, cured %.2f, %q", best.Option.ID, best.Cured, c.Headline)
	}
	if len(c.Rows) < 3 {
		t.Errorf("%d rows", len(c.Rows))
	}
}

// What a ceiling rules out is not taken for doubt about the cause.
func TestACeilingIsNamedAsWhatHolds(t *testing.T) {
	free := apart.compare(t, decide.Choices{})
	reseal := free.Rows[0]
	for ceiling, want := range map[money.Amount]string{
		reseal.Pay:     reseal.Option.Title,
		reseal.Pay - 1: "Under the ceiling nothing is likely to cure it; “" + reseal.Option.Title + "”",
		1:              "Nothing under the ceiling",
	} {
		c := apart.compare(t, decide.Choices{Ceiling: ceiling})
		if !strings.HasPrefix(c.Headline, want) {
			t.Errorf("ceiling %d: %q, want %q", ceiling, c.Headline, want)
		}
		for _, r := range c.Rows {
			if r.Over != (r.Pay > ceiling) {
				t.Errorf("ceiling %d: %s at %d over: %v", ceiling, r.Option.ID, r.Pay, r.Over)
			}
		}
	}
}

func TestNothingKnownIsTooEarlyToDecide(t *testing.T) {
	c := situation{}.compare(t, decide.Choices{})
	if !strings.HasPrefix(c.Headline, "Too early") {
		t.Errorf("headline %q", c.Headline)
	}
	for _, always := range []string{"watch", "overhaul", "exchange"} {
		if _, ok := c.Find(always); !ok {
			t.Errorf("%s is not laid out", always)
		}
	}
}

// Lines close as on paper: each is its count times its price, rounded; net, tax and total follow from them.
func TestMoneyAddsUp(t *testing.T) {
	for _, s := range []situation{{readings: sure(), from: unitsheet.Lifted}, {}, {unit: "vantrice-t10"}, {unit: "ombrin-m5"}} {
		for _, r := range s.compare(t, decide.Choices{}).Rows {
			net := money.Amount(0)
			for _, l := range r.Lines {
				if l.Kind != estimate.Consumables {
					if want := money.Amount(math.Round(l.Count * l.Each.Major() * 100)); max(l.Total-want, want-l.Total) > 1 {
						t.Errorf("%s: %+v", r.Option.ID, l)
					}
				}
				net += l.Total
			}
			if net != r.Net || r.Tax != money.Amount(math.Round(float64(net)*0.2)) || r.Pay != r.Net+r.Tax || r.Expected != r.Pay+r.Return || r.Labour()+r.Parts()+r.Fluid() != r.Net {
				t.Errorf("%s: %+v", r.Option.ID, r)
			}
			if r.Cured < 0 || r.Cured > 1 || r.Low > r.High || r.Return < 0 {
				t.Errorf("%s: cured %v, span %v to %v", r.Option.ID, r.Cured, r.Low, r.High)
			}
		}
	}
}

// The expected cost of a return and the chance of none, summed by brute force over every set of causes, every way in which
// they are cured or not, and whether the part itself fails: a route that shares nothing with the package but the guide.
func TestExpectedCostIsTheSumOverAllOutcomes(t *testing.T) {
	fails := map[string]float64{"new": 0.01, "rebuilt": 0.03, "used": 0.1, "kit": 0.04}
	for _, s := range []situation{apart, {}, {unit: "ombrin-s6", readings: []diagnose.Reading{{ID: "1", Finding: "fluid-look", State: "milky", Source: "seen"}}}, {unit: "ombrin-m5"}} {
		n, a := s.network(t)
		for _, row := range s.compare(t, decide.Choices{}).Rows {
			// Whoever refills also sets the level, and the new fluid is the right one (common practice, no source).
			fluid := map[string]map[string]float64{"fill": {"fluid-wrong": 0.8, "fluid-worn": 0.85, "underfilled": 0.95, "fluid-over": 0.95, "never-topped": 0.9},
				"refill": {"fluid-wrong": 0.3, "fluid-worn": 0.5, "underfilled": 0.95, "fluid-over": 0.95, "never-topped": 0.9}}[row.Option.Fluid]
			chance := func(cause int) float64 {
				p := fluid[n.Causes[cause].ID]
				for _, cure := range row.Option.Cures {
					if slices.Contains(n.Matching(cure.Cause), cause) {
						p = cure.Chance
					}
				}
				return p
			}
			part, hasPart := 0.0, false
			for _, l := range row.Lines {
				if l.Kind == estimate.Parts {
					part, hasPart = l.Total.Major(), true
				}
			}
			climb := func(level string) float64 {
				to, err := unitsheet.ParseAccess(level)
				if err != nil {
					t.Fatal(err)
				}
				return n.Unit.AccessMinutes(unitsheet.Ground, to) / 60
			}
			back, cured := 0.0, 0.0
			for _, h := range a.Hypotheses {
				for ways := range 1 << len(h.Causes) { // a set bit: that cause was missed
					p, dearest := h.Share, 0.0
					for k, i := range h.Causes {
						c := n.Causes[i]
						missed := ways>>k&1 == 1
						x := chance(i)
						if c.ID == knowledge.NothingWrong {
							x = 1
						}
						if !missed {
							p *= x
							continue
						}
						p *= 1 - x
						cost := (84*(1.5+c.Repair.Hours+climb(c.Repair.Access))+c.Repair.Parts+60)*1.2 + 180 + c.Harm
						dearest = math.Max(dearest, cost)
					}
					switch {
					case dearest > 0:
						back += p * dearest
					case hasPart:
						back += p * fails[row.Quality] * (part + 84*(row.Option.Hours+climb(row.Option.Access)) + 180)
						cured += p * (1 - fails[row.Quality])
					default:
						cured += p
					}
				}
			}
			if math.Abs(back-row.Return.Major()) > 0.006 || math.Abs(cured-row.Cured) > 1e-9 {
				t.Errorf("%s: return %v, by brute force %v; cured %v, %v", row.Option.ID, row.Return.Major(), back, row.Cured, cured)
			}
		}
	}
}

// At each turn the two options cost the same, on either side of it each of them wins, and the order of the turns is that
// of their relative distance.
func TestTurnsAreWhereTheOrderTurns(t *testing.T) {
	for _, s := range []situation{apart, {readings: sure()}, {unit: "ombrin-s6", readings: []diagnose.Reading{{ID: "1", Finding: "fluid-look", State: "milky", Source: "seen"}, {ID: "2", Finding: "water-test", State: "crackles", Source: "seen"}}}} {
		m := s.model(t)
		c := s.compare(t, decide.Choices{})
		turns, err := m.BreakEvens(c.Rows, decide.Choices{})
		if err != nil {
			t.Fatal(err)
		}
		if len(turns) == 0 {
			t.Fatalf("no turns for %s", c.Headline)
		}
		last := 0.0
		for _, turn := range turns {
			at := func(v float64) (first, winner money.Amount) {
				t.Helper()
				got, err := m.Compare(decide.Choices{Set: map[string]float64{turn.ID: v}})
				if err != nil {
					t.Fatalf("%s at %v: %v", turn.ID, v, err)
				}
				a, ok1 := got.Find(c.Rows[0].Option.ID)
				for _, r := range got.Rows {
					if r.Option.Title == turn.Winner {
						return a.Expected, r.Expected
					}
				}
				t.Fatalf("%s at %v: %v, winner %q is not laid out", turn.ID, v, ok1, turn.Winner)
				return 0, 0
			}
			if a, b := at(turn.At); max(a-b, b-a) > 4 { // four cents: several lines round
				t.Errorf("%s at %v: %v against %v of %q", turn.ID, turn.At, a, b, turn.Winner)
			}
			before, beyond := turn.At+0.02*(turn.Now-turn.At), turn.At-0.02*(turn.Now-turn.At)
			if a, b := at(before); a > b {
				t.Errorf("%s at %v, before the turn at %v: %v against %v", turn.ID, before, turn.At, a, b)
			}
			if beyond > turn.Low && beyond < turn.High {
				if a, b := at(beyond); a < b {
					t.Errorf("%s at %v, beyond the turn at %v: %v against %v", turn.ID, beyond, turn.At, a, b)
				}
			}
			if turn.Change < last || math.Abs(turn.Change-math.Abs(turn.At-turn.Now)/turn.Now) > 1e-9 {
				t.Errorf("%s: change %v after %v", turn.ID, turn.Change, last)
			}
			last = turn.Change
		}
		if words := decide.Sentence(rates, turns, c.Headline); !strings.Contains(words, turns[0].Winner) {
			t.Errorf("%q", words)
		}
	}
}

// Every figure that is offered can be set over its whole span, and what cannot is refused by name.
func TestFiguresCanBeSet(t *testing.T) {
	m := apart.model(t)
	c := apart.compare(t, decide.Choices{})
	turns, err := m.BreakEvens(c.Rows, decide.Choices{Set: map[string]float64{"labour-rate": 120}})
	if err != nil || len(turns) == 0 {
		t.Fatal(turns, err)
	}
	for _, x := range turns {
		for _, v := range []float64{x.Low, x.Now, x.High} {
			if _, err := m.Compare(decide.Choices{Set: map[string]float64{x.ID: v}}); err != nil {
				t.Errorf("%s = %v: %v", x.ID, v, err)
			}
		}
	}
	dear := apart.compare(t, decide.Choices{Set: map[string]float64{"labour-rate": 168}})
	for _, r := range dear.Rows {
		if was, ok := c.Find(r.Option.ID); ok && max(r.Labour()-2*was.Labour(), 2*was.Labour()-r.Labour()) > 2 {
			t.Errorf("%s: labour %v at twice the rate of %v", r.Option.ID, r.Labour(), was.Labour())
		}
	}
	for id, v := range map[string]float64{"labour-rate": -1, "goodwill": math.NaN(), "share:nobody": 0.5, "share:piston-seal.DC": 1, "cure:nothing": 0.5, "luck": 1, "price:parts:pump|new": 1e9} {
		_, err := m.Compare(decide.Choices{Set: map[string]float64{id: v}})
		if fe, ok := err.(*decide.FigureError); !ok || fe.ID != id || fe.Accepted == "" {
			t.Errorf("%s = %v: %v", id, v, err)
		}
	}
	for option, q := range map[string]string{"nothing": "new", "reseal.DC": "used"} {
		if _, err := m.Compare(decide.Choices{Quality: map[string]string{option: q}}); err == nil {
			t.Errorf("quality %s of %s is taken", q, option)
		}
	}
}

// Access that is already paid for makes every deep repair cheaper by exactly its labour.
// Every line that names a figure follows it, and nothing else of the estimate does but what is a share of the sum.
func TestALineFollowsItsFigure(t *testing.T) {
	m := apart.model(t)
	before, err := m.Visit("overhaul", nil, decide.Choices{})
	if err != nil {
		t.Fatal(err)
	}
	named := 0
	for i, l := range before.Lines {
		id := l.Figure()
		if id == "" {
			continue
		}
		named++
		now := l.Each.Major()
		if strings.HasPrefix(id, "time:") {
			now = l.Count
		}
		after, err := m.Visit("overhaul", nil, decide.Choices{Set: map[string]float64{id: now + 1}})
		if err != nil || len(after.Lines) != len(before.Lines) {
			t.Fatalf("%s: %v, %d lines of %d", id, err, len(after.Lines), len(before.Lines))
		}
		for k, x := range after.Lines {
			if x.Kind != estimate.Consumables && (x.Total > before.Lines[k].Total) != (k == i) {
				t.Errorf("%s: %s from %d to %d", id, x.Title, before.Lines[k].Total, x.Total)
			}
		}
	}
	if named < 3 {
		t.Errorf("%d lines can be set", named)
	}
}

func TestAccessIsPaidOnce(t *testing.T) {
	plain := rates
	plain.Tax, plain.Consumables = 0, 0
	ground, _ := situation{readings: sure(), rates: plain}.compare(t, decide.Choices{}).Find("reseal.DC")
	open, _ := situation{readings: sure(), from: unitsheet.UnitApart, rates: plain}.compare(t, decide.Choices{}).Find("reseal.DC")
	if want := money.Of((10 + 25 + 45 + 170 + 110) / 60.0 * plain.Labour); ground.Pay-open.Pay != want {
		t.Errorf("difference %v, want %v", ground.Pay-open.Pay, want)
	}
}

// What is worth doing in the same visit costs its own lines and no opening up, and saves what it takes from the return: both
// by pricing the two by hand.
func TestAddOnsAreWorthMoreThanTheyCost(t *testing.T) {
	s := situation{readings: []diagnose.Reading{{ID: "1", Finding: "road.hot.D3.shift", State: "flare", Source: "seen"}}, from: unitsheet.Ground}
	m := s.model(t)
	c := s.compare(t, decide.Choices{})
	some := false
	for _, r := range c.Rows {
		adds, err := m.AddOns(r.Option.ID, decide.Choices{})
		if err != nil {
			t.Fatal(err)
		}
		for _, x := range adds {
			some = true
			if x.Saves <= x.Extra || x.Extra < 0 {
				t.Errorf("%s with %s: %+v", r.Option.ID, x.Option, x)
			}
			alone, ok := c.Find(x.Option)
			if ok && x.Extra > alone.Pay {
				t.Errorf("%s with %s costs %v, alone %v", r.Option.ID, x.Option, x.Extra, alone.Pay)
			}
		}
	}
	if !some {
		t.Error("nothing is worth doing with anything")
	}
	if _, err := m.AddOns("nothing", decide.Choices{}); err == nil {
		t.Error("an option that there is not is taken")
	}
}

// The low end of the span lies within the spread of the sure cost when most cases are cured.
func TestSpanFollowsTheSureCost(t *testing.T) {
	r, _ := apart.compare(t, decide.Choices{}).Find("overhaul")
	if want := r.Pay.Major() * (1 - 1.645*r.Option.Spread); math.Abs(r.Low.Major()-want) > 0.02*want {
		t.Errorf("5 in 100 cases at %v, want about %v", r.Low, want)
	}
}

// A line without a price is named and never counted as nothing: such an option is not recommended.
func TestWhatHasNoPriceIsNotSummedAsNothing(t *testing.T) {
	s := apart
	s.rates = rates
	s.rates.Guide = false
	c := s.compare(t, decide.Choices{})
	for _, r := range c.Rows {
		if r.Option.ID == "reseal.DC" && (len(r.Missing) != 1 || r.Recommendable()) {
			t.Errorf("%s: missing %v", r.Option.ID, r.Missing)
		}
	}
	if !strings.Contains(c.Headline, "without a price") && len(c.Rows[0].Missing) > 0 {
		t.Errorf("%q", c.Headline)
	}
	s.book = pricebook.Book{{Unit: "*", Item: "parts:reseal", Amount: money.Of(199.99)}}
	c = s.compare(t, decide.Choices{})
	r, _ := c.Find("reseal.DC")
	if len(r.Missing) != 0 || c.Rows[0].Option.ID != "reseal.DC" || !slices.ContainsFunc(r.Lines, func(l estimate.Line) bool {
		return l.Kind == estimate.Parts && l.Total == 19999 && l.From == pricebook.Shop
	}) {
		t.Errorf("with a price: %+v", r)
	}
}

// An option that leaves a hazard stands behind all that leave none, and the headline never names it.
func TestAHazardIsNeverRecommended(t *testing.T) {
	s := situation{readings: []diagnose.Reading{{ID: "1", Finding: "joints", State: "play", Source: "measured"}, {ID: "2", Finding: "says-clunk", State: "yes", Source: "customer"}}}
	c := s.compare(t, decide.Choices{})
	watch, ok := c.Find("watch")
	if !ok || watch.Hazard == "" || watch.Recommendable() {
		t.Fatalf("%+v", watch.Hazard)
	}
	seen := false
	for _, r := range c.Rows {
		seen = seen || r.Hazard != ""
		if seen && r.Hazard == "" {
			t.Errorf("%s stands behind an option with a hazard", r.Option.ID)
		}
	}
	if c.Watch.Interval != 0 || c.Watch.Hazard == "" || c.Headline == watch.Option.Title {
		t.Errorf("%+v %q", c.Watch, c.Headline)
	}
}

// The customer's ceiling, and the ways of deciding beside each other.
func TestPolicies(t *testing.T) {
	free := situation{readings: sure()}.compare(t, decide.Choices{})
	ceiling := free.Rows[0].Pay - 1
	c := situation{readings: sure()}.compare(t, decide.Choices{Ceiling: ceiling})
	for _, r := range c.Rows {
		if r.Over != (r.Pay > ceiling) || r.Over && r.Recommendable() {
			t.Errorf("%s at %v under %v: over %v", r.Option.ID, r.Pay, ceiling, r.Over)
		}
	}
	by := map[string]decide.Policy{}
	for _, p := range c.Policies {
		by[p.ID] = p
	}
	if by["targeted"].OptionID != "reseal.DC" || by["warranty"].Pay > by["targeted"].Pay || by["thorough"].OptionID == "" || by["ceiling"].Pay > ceiling {
		t.Errorf("%+v", c.Policies)
	}
}

// The interval between two looks, by search over the cost of each metre.
func TestIntervalIsTheCheapest(t *testing.T) {
	w := situation{readings: sure()[:1]}.compare(t, decide.Choices{}).Watch
	if len(w.Next) == 0 || w.Harm <= 0 || w.HarmBy(0) != 0 || w.HarmBy(8e6) != w.Harm.Part(money.FromFloat(1-1/math.E)) {
		t.Fatalf("%+v", w)
	}
	cost := func(i float64) float64 { return w.Look.Major()/i + w.Harm.Major()/1e6*(i/2)/8e6 }
	best := 300e3
	for i := 300e3; i <= 10e6; i += 10e3 {
		if cost(i) < cost(best) {
			best = i
		}
	}
	if math.Abs(best-w.Interval) > 60e3 {
		t.Errorf("%v, by search %v", w.Interval, best)
	}
}

// A quality is cheaper and fails more often; the price book goes before the guide.
func TestQualities(t *testing.T) {
	s := situation{readings: []diagnose.Reading{{ID: "1", Finding: "stall-speed", State: "much-low", Source: "measured"}}}
	c := s.compare(t, decide.Choices{})
	row, ok := c.Find("converter")
	if !ok || len(row.Qualities) < 2 {
		t.Fatalf("%v %+v", ok, row.Qualities)
	}
	other := row.Qualities[1].Quality.ID
	changed, _ := s.compare(t, decide.Choices{Quality: map[string]string{"converter": other}}).Find("converter")
	if changed.Pay != row.Qualities[1].Pay || changed.Expected != row.Qualities[1].Expected || changed.Quality != other || changed.Cured == row.Cured {
		t.Errorf("%+v against %+v", changed.Sum, row.Qualities)
	}
	s.book = pricebook.Book{{Unit: "norrad-h4", Item: "parts:converter", Quality: other, Amount: 12345}, {Unit: "*", Item: "parts:converter", Amount: 99999}}
	own, _ := s.compare(t, decide.Choices{Quality: map[string]string{"converter": other}}).Find("converter")
	if !slices.ContainsFunc(own.Lines, func(l estimate.Line) bool {
		return l.Item == "parts:converter" && l.Total == 12345 && l.From == pricebook.Shop
	}) {
		t.Errorf("%+v", own.Lines)
	}
}

// In a shop that charges nothing a return costs nothing, but the vehicle comes back all the same.
func TestAReturnThatCostsNothingIsNoCure(t *testing.T) {
	paid, _ := situation{readings: sure(), rates: rates}.compare(t, decide.Choices{}).Find("watch")
	free, _ := situation{readings: sure(), rates: pricebook.Rates{Guide: true, Currency: "€"}}.compare(t, decide.Choices{}).Find("watch")
	if free.Cured > 0.5 || math.Abs(free.Cured-paid.Cured) > 1e-9 {
		t.Errorf("left alone, it is cured in %.3f when all is free and in %.3f when it is not", free.Cured, paid.Cured)
	}
}

func TestAmounts(t *testing.T) {
	for text, want := range map[string]money.Amount{"1250": 125000, "1,250.00": 125000, "1.250,00": 125000, "12,5": 1250, "12.05": 1205, "1,250": 125000, "0": 0, " 7 000,10 ": 700010, ".5": 50} {
		if got, err := money.Parse(quantity.Style{}, text); err != nil || got != want {
			t.Errorf("%q: %v, want %v (%v)", text, got, want, err)
		}
	}
	for _, bad := range []string{"", "-1", "−2", "abc", "1.234", "12,345,6x", "1e5", "9999999999999999", "NaN", "."} {
		if got, err := money.Parse(quantity.Style{}, bad); err == nil {
			t.Errorf("%q is taken as %v", bad, got)
		}
	}
	if s := money.Amount(-123456789).Format("€"); s != "€\u00a0−1,234,567.89" {
		t.Error(s)
	}
	if money.Of(0.125) != 13 || money.Of(-0.125) != -13 || money.Amount(333).Part(money.FromFloat(0.5)) != 167 {
		t.Error("halves do not go away from zero")
	}
}

func TestPriceEntriesAreChecked(t *testing.T) {
	good := []pricebook.Price{{Unit: "*", Item: "parts:pump", Quality: "kit", Amount: 1}, {Unit: "x", Item: "hours:reseal.DC", Hours: 2}, {Unit: "*", Item: "access:unit-out", Hours: 3}, {Unit: "*", Item: "fluid", Amount: 900}, {Unit: "x", Item: "exchange", Quality: "used", Amount: 1}}
	for _, p := range good {
		if err := p.Check(); err != nil {
			t.Errorf("%+v: %v", p, err)
		}
	}
	for field, p := range map[string]pricebook.Price{
		"item":    {Unit: "*", Item: "parts:"},
		"unit":    {Item: "fluid", Amount: 1},
		"quality": {Unit: "*", Item: "fluid", Quality: "new"},
		"hours":   {Unit: "*", Item: "hours:pump", Hours: 500},
		"price":   {Unit: "*", Item: "fluid", Amount: -1},
	} {
		if pe, ok := p.Check().(*pricebook.PriceError); !ok || pe.Field != field || pe.Accepted == "" {
			t.Errorf("%+v: %v", p, p.Check())
		}
	}
	for _, p := range []pricebook.Price{{Unit: "*", Item: "access:ground", Hours: 1}, {Unit: "*", Item: "luck", Amount: 1}, {Unit: "*", Item: "hours:pump", Amount: 5}, {Unit: "*", Item: "parts:pump", Hours: 1}, {Unit: "*", Item: "parts:pump", Quality: "shiny"}} {
		if p.Check() == nil {
			t.Errorf("%+v is taken", p)
		}
	}
}

// A changed price re-ranks; the turns are asked for apart.
func BenchmarkCompare(b *testing.B) {
	for name, s := range map[string]situation{"four-speed": {readings: sure()}, "ten-speed": {unit: "vantrice-t10"}} {
		m := s.model(b)
		b.Run(name, func(b *testing.B) {
			b.ReportAllocs()
			for b.Loop() {
				if _, err := m.Compare(decide.Choices{Set: map[string]float64{"labour-rate": 90}}); err != nil {
					b.Fatal(err)
				}
			}
		})
		c := s.compare(b, decide.Choices{})
		b.Run(name+"/turns", func(b *testing.B) {
			for b.Loop() {
				if _, err := m.BreakEvens(c.Rows, decide.Choices{}); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// A burnt pack is not resealed, whatever it would cost: it is not offered, and the reason is said (common practice, no source). Where most
// likely nothing is wrong, nothing is sold.
func TestWhatIsKnownToFailIsNotOffered(t *testing.T) {
	burnt := slices.Clone(sure())
	burnt[8] = diagnose.Reading{ID: "9", Finding: "plates.DC", State: "burnt", Source: "seen"}
	c := situation{readings: burnt, from: unitsheet.UnitApart}.compare(t, decide.Choices{})
	if _, offered := c.Find("reseal.DC"); offered {
		t.Error("a burnt pack is offered to be resealed")
	}
	at := slices.IndexFunc(c.Refused, func(r decide.Refused) bool { return r.Option.ID == "reseal.DC" })
	if at < 0 || !strings.Contains(c.Refused[at].Why, "slips again") || c.Rows[0].Option.ID != "pack.DC" {
		t.Errorf("refused %+v, first %s", c.Refused, c.Rows[0].Option.ID)
	}
	sound := situation{unit: "vantrice-a6", readings: []diagnose.Reading{{ID: "1", Finding: "since", State: "always", Source: "customer"}, {ID: "2", Finding: "sister", State: "same", Source: "seen"}, {ID: "3", Finding: "pull-gap", State: "yes", Source: "customer"}}}
	if c := sound.compare(t, decide.Choices{}); c.Rows[0].Option.Strategy != "watch" && c.Rows[0].Option.ID != "explain" {
		t.Errorf("a sound vehicle is sold %s", c.Rows[0].Option.ID)
	}
}

// Where nothing leads, the unit is neither overhauled nor exchanged.
func TestNothingIsOpenedForAnUnclearCause(t *testing.T) {
	c := situation{readings: []diagnose.Reading{{ID: "1", Finding: "says-slips", State: "yes", Source: "customer"}}}.compare(t, decide.Choices{})
	for _, r := range c.Rows {
		if r.Option.Strategy != "targeted" && r.Option.Strategy != "watch" && r.Recommendable() {
			t.Errorf("%s may be advised", r.Option.ID)
		}
	}
}

// A shaft joint that is worn beside a failed clutch is put right in the same visit, named in the row and paid for in it: alone, the clutch
// would leave a hazard behind. What the two cost together is what the visit of both costs.
func TestWhatStandsBesideTheLeaderIsPutRightWithIt(t *testing.T) {
	two := append(sure(), diagnose.Reading{ID: "11", Finding: "joints", State: "play", Source: "measured"})
	s := situation{readings: two, from: unitsheet.UnitApart}
	c := s.compare(t, decide.Choices{})
	best := c.Rows[0]
	if best.Option.ID != "reseal.DC" || len(best.With) == 0 || !strings.Contains(best.Title(), "; also ") || best.Hazard != "" || c.Headline != best.Title() {
		t.Fatalf("%s, with %v, hazard %q, %q", best.Option.ID, best.With, best.Hazard, c.Headline)
	}
	m := s.model(t)
	if v, err := m.Visit("reseal.DC", []string{best.With[0].ID}, decide.Choices{}); err != nil || v.Pay != best.Pay || len(v.With) != len(best.With) {
		t.Errorf("the visit costs %v with %d, the row %v with %d: %v", v.Pay, len(v.With), best.Pay, len(best.With), err)
	}
	adds, err := m.AddOns("reseal.DC", decide.Choices{})
	if err != nil || slices.ContainsFunc(adds, func(a decide.AddOn) bool { return a.Option == best.With[0].ID }) {
		t.Errorf("what goes with it is offered again: %+v, %v", adds, err)
	}
	if alone := apart.compare(t, decide.Choices{}).Rows[0]; len(alone.With) != 0 || alone.Pay >= best.Pay {
		t.Errorf("with sound joints: with %v, %v against %v", alone.With, alone.Pay, best.Pay)
	}
}
