package job_test

import (
	"math"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/estimate"
	"innercompass/core/job"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/pert"
	"innercompass/core/pricebook"
	"innercompass/core/stack"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
	"innercompass/core/workhours"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

var (
	rates = pricebook.Rates{Labour: 84, FluidLitre: 11, Tax: 0.2, Guide: true, Currency: "€"}
	terms = job.Terms{Bay: 60, Lead: 3, Machine: 2, Restock: 0.2, SendBack: 15, Trial: 0.7, PerDay: 40.0 / 7}
)

// flare are readings of a four-speed whose direct clutch slips when hot.
var flare = []diagnose.Reading{{Finding: "plates.DC", State: "burnt", Source: "seen"}}

func visit(t testing.TB, unit string, readings []diagnose.Reading, notes []workbench.Note, options ...string) (job.Visit, *diagnose.Assessment) {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	n := c.Networks[unit]
	a, err := diagnose.Assess(n, diagnose.Situation{Readings: readings})
	if err != nil {
		t.Fatal(err)
	}
	v := job.Visit{Network: n, Price: estimate.Estimator{Unit: n.Unit, Rates: rates}, Figures: estimate.Figures{Rates: rates}, Bench: workbench.New(n.Unit, notes), Terms: terms, Stock: map[string]job.Stock{}}
	for _, id := range options {
		o := option(t, n, id)
		level, _ := unitsheet.ParseAccess(o.Access)
		v.Works = append(v.Works, estimate.Work{Option: o, Level: level, Quality: pricebook.UsualQuality(o)})
	}
	return v, a
}

func option(t testing.TB, n *knowledge.Network, id string) knowledge.Option {
	t.Helper()
	i := slices.IndexFunc(n.Options, func(o knowledge.Option) bool { return o.ID == id })
	if i < 0 {
		t.Fatalf("no option %s", id)
	}
	return n.Options[i]
}

func plan(t testing.TB, v job.Visit, a *diagnose.Assessment) job.Plan {
	t.Helper()
	p, err := v.Make(a)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// The work of a visit takes the hours of its estimate: likeliest times add up to its lines of labor, to a tenth of a minute, on every unit.
func TestHoursAreThoseOfTheEstimate(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for id, n := range c.Networks {
		v, _ := visit(t, id, nil, nil)
		v.Terms.Trial = 0
		for _, o := range n.Options {
			if o.Strategy == "watch" || !strings.HasPrefix(o.ID, "pack.") && strings.Contains(o.ID, ".") {
				continue
			}
			level, _ := unitsheet.ParseAccess(o.Access)
			v.Works = []estimate.Work{{Option: o, Level: level, Quality: pricebook.UsualQuality(o)}}
			want := 0.0
			for _, l := range v.Price.Bill(v.Works, v.Figures).Lines {
				if l.Kind == estimate.Access || l.Timed() {
					want += l.Count
				}
			}
			got := 0.0
			for _, x := range v.Steps() {
				if !x.Waits() {
					got += x.Time.Likely
				}
			}
			if math.Abs(got-want) > 0.002 {
				t.Errorf("%s, %s: tasks take %.3f h, the estimate counts %.3f", id, o.ID, got, want)
			}
		}
	}
}

func TestOpeningUpIsSharedByWhatIsDoneInOneVisit(t *testing.T) {
	one, a := visit(t, "norrad-h4", flare, nil, "pack.DC")
	alone := plan(t, one, a)
	two, _ := visit(t, "norrad-h4", flare, nil, "pack.DC", "valve-body")
	both := plan(t, two, a)
	if math.Abs(both.Open-alone.Open) > 1e-9 {
		t.Errorf("opening up takes %.2f h with the valve body and %.2f without", both.Open, alone.Open)
	}
	minutes := two.Network.Unit.AccessMinutes(unitsheet.Ground, unitsheet.ValveBodyOff) + two.Network.Unit.AccessMinutes(unitsheet.Ground, unitsheet.UnitApart)
	if math.Abs(both.Apart-minutes/60) > 1e-9 {
		t.Errorf("one by one they would open up for %.2f h, the sheet says %.2f", both.Apart, minutes/60)
	}
	// What was opened for the diagnosis is not opened again, and is closed.
	two.Price.From = unitsheet.PanOff
	begun := plan(t, two, a)
	if begun.Tasks[0].Level != "valve-body-off" || begun.Tasks[len(begun.Tasks)-2].ID != "close.lifted" {
		t.Errorf("with the pan off it begins with %s and ends with %s", begun.Tasks[0].ID, begun.Tasks[len(begun.Tasks)-2].ID)
	}
}

func TestTasksCarryWhatIsNeededAtThem(t *testing.T) {
	v, a := visit(t, "norrad-h4", flare, nil, "overhaul")
	p := plan(t, v, a)
	bolts, twice := 0, 0
	for _, x := range p.Tasks {
		for _, q := range x.Torques {
			bolts += q.Count
			if x.Kind != job.Close || len(q.Stages) == 0 {
				t.Errorf("%s tightens %v", x.ID, q)
			}
		}
		if x.People == 2 {
			twice++
			if !slices.ContainsFunc(x.Cautions, func(c knowledge.Caution) bool { return c.ID == "heavy" }) {
				t.Errorf("%s without the caution of a heavy unit", x.ID)
			}
		}
	}
	if want := v.Network.Unit.Stack.Tally().Bolts; bolts > want || bolts < want/2 || twice != 2 {
		t.Errorf("%d bolts of the unit's %d are tightened, two people are wanted %d times", bolts, want, twice)
	}
	wait := p.Tasks[slices.IndexFunc(p.Tasks, func(x job.Task) bool { return x.Kind == job.Machine })]
	if wait.Days.Likely != terms.Machine || wait.People != 0 || !wait.Critical {
		t.Errorf("machine work: %+v", wait)
	}
}

func part(p job.Plan, id string) (job.Part, bool) {
	i := slices.IndexFunc(p.Parts, func(x job.Part) bool { return x.ID == id })
	if i < 0 {
		return job.Part{}, false
	}
	return p.Parts[i], true
}

func TestPartsOfAPackAreSureAndOthersByTheDiagnosis(t *testing.T) {
	v, a := visit(t, "norrad-h4", flare, nil, "pack.DC")
	p := plan(t, v, a)
	for _, id := range []string{"dc-pack", "dc-seal-outer", "dc-seal-inner", "pan-gasket"} {
		if x, ok := part(p, id); !ok || !x.Sure() || !x.Order {
			t.Errorf("%s: %+v", id, x)
		}
	}
	for _, x := range p.Parts {
		if x.Why == job.Maybe && (x.Sure() || x.Need < 0.02) {
			t.Errorf("%s may be needed with %g", x.ID, x.Need)
		}
	}
	// The more a pack is suspected, the surer its plates are needed when the unit is apart for something else.
	gears, b := visit(t, "norrad-h4", nil, nil, "gears")
	burnt, d := visit(t, "norrad-h4", []diagnose.Reading{{Finding: "plates.DC", State: "burnt", Source: "seen"}, {Finding: "plates.FC", State: "sound", Source: "seen"}}, nil, "gears")
	dear := pricebook.Book{{Unit: "norrad-h4", Item: "kit:plates", Amount: money.Of(9999)}} // so that no kit takes their place
	gears.Price.Book, burnt.Price.Book = dear, dear
	few, _ := part(plan(t, gears, b), "dc-pack")
	many, _ := part(plan(t, burnt, d), "dc-pack")
	if many.Need < 0.5 || few.Need > many.Need/2 {
		t.Errorf("plates of the direct clutch are needed with %g, and %g once they were seen burnt", few.Need, many.Need)
	}
	// What was found sound is not needed, what was noted is.
	noted, e := visit(t, "norrad-h4", nil, []workbench.Note{{ID: "1", Kind: workbench.Found, Part: "dc-pack", Ref: "kept"}, {ID: "2", Kind: workbench.Renew, Part: "fc-pack", Ref: "renew"}}, "gears")
	noted.Price.Book = dear
	q := plan(t, noted, e)
	if x, ok := part(q, "dc-pack"); ok {
		t.Errorf("sound plates: %+v", x)
	}
	if x, _ := part(q, "fc-pack"); x.Why != job.Noted || !x.Sure() {
		t.Errorf("noted plates: %+v", x)
	}
}

// What is here in a kit is here; what is ordered is here on its day, today included.
func TestWhatIsHereIsNotWaitedFor(t *testing.T) {
	v, a := visit(t, "norrad-h4", flare, nil, "overhaul")
	if got := v.Lacks(); got != terms.Lead {
		t.Errorf("nothing is here, and it takes %g days", got)
	}
	all := map[string]job.Stock{}
	for _, p := range plan(t, v, a).Parts {
		if p.Sure() {
			all[p.ID] = job.Stock{State: "here"}
		}
	}
	v.Stock = all
	if got := v.Lacks(); got != 0 {
		t.Errorf("all that it surely needs is here, and it takes %g days", got)
	}
	v.Stock["kit.seals"] = job.Stock{State: "ordered", Days: 1.5}
	if got := v.Lacks(); got != 1.5 {
		t.Errorf("the seals come in 1.5 days, and it takes %g", got)
	}
	v.Stock["kit.seals"] = job.Stock{State: "ordered"}
	if got := v.Lacks(); got != 0 {
		t.Errorf("the seals come today, and it takes %g days", got)
	}
	v.Stock["kit.seals"] = job.Stock{State: "ordered", Days: -1}
	if got := v.Lacks(); got != terms.Lead {
		t.Errorf("the seals have no day, and it takes %g", got)
	}
}

// Every option that renews parts finds some on a unit that it is for.
func TestWhatOptionsRenewIsThere(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	found := map[string]bool{}
	for _, n := range c.Networks {
		for _, o := range n.Options {
			base, _, _ := strings.Cut(o.ID, ".")
			for _, r := range o.Renews {
				key := base + " " + r
				found[key] = found[key] || slices.ContainsFunc(n.Unit.Sheet.Stack.Parts, func(p stack.PartSheet) bool { return p.ID == r || p.Kind == r })
			}
		}
	}
	if len(found) < 60 {
		t.Fatalf("%d kinds of parts are renewed", len(found))
	}
	for key, ok := range found {
		if !ok {
			t.Errorf("%s: no unit has such a part", key)
		}
	}
}

func TestTheBenchListsWhatIsBought(t *testing.T) {
	v, _ := visit(t, "norrad-h4", nil, nil, "overhaul")
	o := v.Works[0].Option
	if got := v.Listed(o, unitsheet.UnitApart); got != nil {
		t.Fatalf("before anything was noted: %v", got)
	}
	notes := []workbench.Note{{ID: "1", Kind: workbench.Renew, Part: "dc-pack", Ref: "renew"}, {ID: "2", Kind: workbench.Renew, Part: "reverse-drum", Ref: "machine"}, {ID: "3", Kind: workbench.Renew, Part: "converter", Ref: "reuse"}}
	v, a := visit(t, "norrad-h4", nil, notes, "overhaul")
	got := v.Listed(o, unitsheet.UnitApart)
	has := func(item string) bool {
		return slices.ContainsFunc(got, func(p estimate.Piece) bool { return p.Item == item })
	}
	if !has("kit:seals") || !has("kit:plates") || !has("machine:reverse-drum") || has("part:converter") || has("part:dc-pack") {
		t.Errorf("an overhaul with its kits, a drum away, the converter again: %v", got)
	}
	if v.Listed(option(t, v.Network, "fluid-filter"), unitsheet.PanOff) != nil || v.Listed(option(t, v.Network, "exchange"), unitsheet.UnitOut) != nil {
		t.Error("an option that does not reach what was noted lists it")
	}
	// The estimate takes the list in place of the parts as a whole, each once.
	m := decide.NewModel(v.Network, a, unitsheet.Ground, rates, pricebook.Book{{Unit: "norrad-h4", Item: "kit:seals", Amount: money.Of(123)}})
	v.Price.Book = pricebook.Book{{Unit: "norrad-h4", Item: "kit:seals", Amount: money.Of(123)}}
	m.List(v.Listed)
	row, err := m.Visit("overhaul", nil, decide.Choices{})
	if err != nil {
		t.Fatal(err)
	}
	seals := 0
	for _, l := range row.Lines {
		if l.Item == "kit:seals" {
			seals++
			if l.Total != money.Of(123) || l.From != pricebook.Shop {
				t.Errorf("the shop's kit: %+v", l)
			}
		}
		if strings.HasPrefix(l.Item, "parts:") || l.Item == "machine:overhaul" {
			t.Errorf("the parts or the machine work as a whole are there too: %+v", l)
		}
	}
	if seals != 1 {
		t.Errorf("the kit is there %d times", seals)
	}
}

// With sure times, nothing to be found and all parts on the shelf the promise is the sum of the times by the calendar, in every draw.
func TestAPromiseWithoutDoubtIsTheSumOfTheTimes(t *testing.T) {
	v, a := visit(t, "norrad-h4", nil, nil, "pack.DC")
	p := plan(t, v, a)
	for i := range p.Tasks {
		p.Tasks[i].Time = pert.Sure(p.Tasks[i].Time.Likely)
	}
	for k := range p.Parts {
		p.Parts[k].Stock.State = "shelf"
	}
	none := &diagnose.Assessment{Network: a.Network}
	got, err := v.Promise(p, none, hours(), monday, monday, 1)
	if err != nil {
		t.Fatal(err)
	}
	sum := 0.0
	for _, x := range p.Tasks {
		sum += x.Time.Likely
	}
	want := hours().NewClock(monday).End(int64(sum * 3600))
	for _, at := range []time.Time{got.Plain, got.Half, got.Nine} {
		if at.Sub(want).Abs() > 30*time.Second { // whole seconds, task by task
			t.Errorf("promised %s, by hand %s", at, want)
		}
	}
	if got.Waits != 0 || math.Abs(got.Mean-sum) > 1e-6 || len(got.Days) != 1 {
		t.Errorf("%+v", got)
	}
}

// Of two jobs alike but for one part that is needed with a chance and not ordered, as many wait as the chance says (binomial, 4000 draws,
// five standard errors).
func TestAsManyWaitAsAPartIsNeeded(t *testing.T) {
	v, a := visit(t, "norrad-h4", flare, nil, "pack.DC")
	p := plan(t, v, a)
	p.Parts = []job.Part{{ID: "x", Needs: constant(0.3, len(a.Hypotheses)), Lead: 10}}
	got, err := v.Promise(p, a, hours(), monday, monday, 3)
	if err != nil {
		t.Fatal(err)
	}
	if math.Abs(got.Waits-0.3) > 5*math.Sqrt(0.3*0.7/4000) {
		t.Errorf("%g wait", got.Waits)
	}
	if got.Nine.Sub(got.Half) < 5*24*time.Hour {
		t.Errorf("half are done %s and nine in ten %s, though three in ten wait ten days", got.Half, got.Nine)
	}
	p.Parts[0].Order = true
	sooner, _ := v.Promise(p, a, hours(), monday, monday, 3)
	if sooner.Waits != 0 || !sooner.Nine.Before(got.Nine) || sooner.Half.After(got.Half) {
		t.Errorf("ordered: %+v", sooner)
	}
	share := 0.0
	for _, d := range got.Days {
		share += d.Share
	}
	if math.Abs(share-1) > 1e-9 {
		t.Errorf("the days come to %g", share)
	}
	if same, _ := v.Promise(p, a, hours(), monday, monday, 3); !same.Nine.Equal(sooner.Nine) {
		t.Error("the same seed promised another time")
	}
}

func constant(p float64, n int) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = p
	}
	return out
}

// BenchmarkJob: an overhaul of the four-speed from ranking to promise.
func BenchmarkJob(b *testing.B) {
	v, a := visit(b, "norrad-h4", flare, nil, "overhaul")
	for b.Loop() {
		p, err := v.Make(a)
		if err != nil {
			b.Fatal(err)
		}
		if _, err := v.Promise(p, a, hours(), monday, monday, 1); err != nil {
			b.Fatal(err)
		}
	}
}

var monday = time.Date(2026, 11, 30, 8, 0, 0, 0, time.UTC)

func hours() workhours.Week {
	w := workhours.Week{Break: workhours.Span{From: 720, To: 780}}
	for d := time.Monday; d <= time.Friday; d++ {
		w.Days[d] = workhours.Span{From: 480, To: 1020}
	}
	return w
}
