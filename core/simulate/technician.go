package simulate

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
)

// Policy is a way of choosing the next check. All stop at the same point: when no check is worth its cost.
type Policy struct {
	Name, Title string
	// choose returns the place of the check to do among those that would tell anything.
	choose func(a []plan.Advice, r *rand.Rand) int
	once   bool // does no check twice
}

// Policies are those that are compared, the app's own first.
var Policies = []Policy{
	{"worth", "information per minute, if worth its cost", by(func(a plan.Advice) float64 {
		if a.Saves <= 0 {
			return 0
		}
		return a.InformationGain / a.Spent()
	}), false},
	{"value-per-minute", "saving per minute", by(func(a plan.Advice) float64 { return a.Saves / a.Spent() }), false},
	{"value", "saving", by(func(a plan.Advice) float64 { return a.Saves }), false},
	{"information", "information per minute", by(func(a plan.Advice) float64 { return a.InformationGain / a.Spent() }), false},
	{"cheapest", "cheapest first", by(func(a plan.Advice) float64 { return -a.Spent() }), true},
	{"random", "random order", func(a []plan.Advice, r *rand.Rand) int { return r.IntN(len(a)) }, true},
}

func by(score func(plan.Advice) float64) func([]plan.Advice, *rand.Rand) int {
	return func(a []plan.Advice, _ *rand.Rand) int {
		best := 0
		for i := range a {
			if score(a[i]) > score(a[best]) {
				best = i
			}
		}
		return best
	}
}

// Job is one vehicle to work on.
type Job struct {
	World World
	Seed  uint64 // of what is reported: every policy that looks at a finding is told the same
}

// Result is how a job went.
type Result struct {
	Rank     int      // of the best placed cause that is really there, 1 for the leader, at the stop
	Sure     float64  // probability of the leader at the stop
	Right    bool     // the leader is there
	Shown    []Shown  // suspects at the stop, for the calibration
	Checks   int      // done
	Looking  float64  // money for the checks
	Cost     float64  // money for checks and repairs until the vehicle is in order
	Known    float64  // money for the repairs had the truth been known
	Repairs  int      // attempts
	Exchange bool     // the unit was exchanged
	Leader   string   // cause that led at the stop
	Truth    []string // causes that are there
}

// Shown is a probability and whether it came true.
type Shown struct {
	P    float64
	True bool
}

// Limits of a job: a technician who is still checking or repairing then has lost the thread.
const (
	mostChecks  = 40 // on one visit
	mostRepairs = 8
	shownFrom   = 0.05 // suspects below are not held against the calibration: nobody reads them
)

// NewJob draws a vehicle that its driver complains of: at least one thing that a driver notices was brought about by
// what is wrong, else it would not have come. Every vehicle depends on the seed and the number alone.
func NewJob(truth *knowledge.Network, seed uint64, number int) Job {
	r := rand.New(rand.NewPCG(seed, uint64(number)))
	for {
		w := Sample(truth, r, 40_000+220_000*r.Float64())
		if complains(truth, w) {
			return Job{w, r.Uint64()}
		}
	}
}

// complains reports whether what is wrong with a vehicle brings about something that its driver notices.
func complains(n *knowledge.Network, w World) bool {
	return slices.ContainsFunc(complaints(n, w), func(id string) bool { return w.Caused(id) && !slices.Contains(circumstances, id) })
}

// complaints are the abnormal findings that a driver can notice: what is asked at take-in, and how it drives hot.
func complaints(n *knowledge.Network, w World) []string {
	return slices.DeleteFunc(w.Abnormal(), func(id string) bool {
		f, _ := n.Finding(id)
		return f.History || f.Stage != "complaint" && !(f.Stage == "road" && knowledge.IsHot(id))
	})
}

// circumstances are told with a complaint and are none by themselves.
var circumstances = []string{"since", "worse-when", "topped-up"}

// volunteered is how many abnormal things a driver tells at most.
const volunteered = 3

// Work does a job by a policy, advised by a network.
func Work(advisor *knowledge.Network, job Job, p Policy, eco plan.Economics) (Result, error) {
	t := &bench{n: advisor, job: job, eco: eco, r: rand.New(rand.NewPCG(job.Seed, 1))}
	t.take()
	a, err := t.check(p)
	if err != nil {
		return Result{}, err
	}
	t.judge(a)
	return t.out, t.repair(a, p)
}

// bench is a job in hand.
type bench struct {
	n        *knowledge.Network
	job      Job // its world changes as causes are put right
	visit    int
	checks   int // of this visit
	eco      plan.Economics
	r        *rand.Rand
	stand    plan.VehicleState
	readings []diagnose.Reading
	repaired []string
	out      Result
}

// take hears the complaint.
func (t *bench) take() {
	t.visit, t.checks = t.visit+1, 0
	told := complaints(t.n, t.job.World)
	t.r.Shuffle(len(told), func(i, j int) { told[i], told[j] = told[j], told[i] })
	for _, id := range told[:min(volunteered, len(told))] {
		t.look(id, "customer")
	}
}

func (t *bench) assess() (*diagnose.Assessment, error) {
	return diagnose.Assess(t.n, diagnose.Situation{Readings: t.readings, Distance: t.job.World.Distance, Repaired: t.repaired})
}

// look reads a finding. What is reported depends on the vehicle, the visit, the finding and how often it was looked at, not
// on when it is asked.
func (t *bench) look(finding, source string) {
	h := t.job.Seed + uint64(t.visit)<<32
	for _, r := range t.readings {
		if r.Finding == finding && r.Source == source {
			h++
		}
	}
	for _, c := range source + finding {
		h = (h ^ uint64(c)) * 0x100000001b3
	}
	for _, r := range t.job.World.Look(rand.New(rand.NewPCG(h, 2)), finding, source) {
		// What the advisor has no word for cannot be noted: a lesser sheet does not know every part.
		if f, ok := t.n.Finding(r.Finding); ok && f.StateAt(r.State) >= 0 {
			t.readings = append(t.readings, r)
		}
	}
}

// check works through the checks until none is worth its cost.
func (t *bench) check(p Policy) (*diagnose.Assessment, error) {
	for {
		a, err := t.assess()
		if err != nil {
			return nil, err
		}
		list := plan.Advise(a, t.stand, t.eco)
		if p.once {
			list = slices.DeleteFunc(list, func(x plan.Advice) bool { return x.Again })
		}
		if t.checks >= mostChecks || !slices.ContainsFunc(list, func(x plan.Advice) bool { return x.Saves > 0 }) {
			return a, nil
		}
		x := list[p.choose(list, t.r)]
		t.out.Checks, t.checks = t.out.Checks+1, t.checks+1
		t.out.Looking += (x.Minutes + x.AccessMinutes) / 60 * t.eco.LabourRate
		if need, _ := unitsheet.ParseAccess(x.Check.Access); need > t.stand.Access {
			t.stand.Access = need
		}
		t.stand.Warm = t.stand.Warm && x.Check.Fluid != "cold" || x.Check.Fluid == "hot"
		source := "seen"
		if x.Check.Instrument != "" {
			source = "measured"
		}
		for _, id := range append(slices.Clone(x.First), x.Check.Yields...) {
			t.look(id, source)
		}
	}
}

// judge compares the suspects with the truth.
func (t *bench) judge(a *diagnose.Assessment) {
	truth := t.job.World.CauseIDs()
	t.out.Truth = truth
	lead := a.Suspects[0]
	t.out.Leader, t.out.Sure = lead.Cause.ID, lead.Probability
	for i, s := range a.Suspects {
		there := slices.ContainsFunc(truth, func(id string) bool { return t.n.Unit.SameAt(id, s.Cause.ID) })
		if there && t.out.Rank == 0 {
			t.out.Rank = i + 1
		}
		if s.Probability >= shownFrom {
			t.out.Shown = append(t.out.Shown, Shown{s.Probability, there})
		}
	}
	t.out.Right = t.out.Rank == 1
}

// stale reports whether a reading must be made anew after a repair: what was wrong may be right now, what was right still is.
func (t *bench) stale(r diagnose.Reading) bool {
	f, _ := t.n.Finding(r.Finding)
	return !f.History && r.State != f.States[0].ID
}

// repair puts right what is advised. When the driver still complains after that, the vehicle comes back.
func (t *bench) repair(a *diagnose.Assessment, p Policy) error {
	t.out.Known = plan.KnownCost(t.n, t.needed(), t.eco)
	for {
		next := plan.PlanRepair(a, t.stand.Access, t.eco)
		t.out.Repairs++
		if t.out.Repairs >= mostRepairs {
			next = plan.RepairPlan{Exchange: true, Cost: plan.ExchangeCost(t.n, t.stand.Access, t.eco)}
		}
		t.out.Cost += next.Cost
		if next.Exchange {
			t.out.Exchange = true
			// What an exchange does not cure is found then: by now nearly everything else is new.
			gone := slices.DeleteFunc(t.job.World.CauseIDs(), func(id string) bool { return t.r.Float64() >= plan.ExchangeCures(t.n, id) })
			t.job.World = t.job.World.Without(gone)
			t.out.Cost += plan.KnownCost(t.n, t.needed(), t.eco)
			break
		}
		t.job.World = t.job.World.Without(next.Causes)
		if !complains(t.n, t.job.World) {
			break
		}
		t.repaired = append(t.repaired, next.Causes...)
		t.stand = plan.VehicleState{}
		t.readings = slices.DeleteFunc(t.readings, t.stale)
		t.take()
		var err error
		if a, err = t.check(p); err != nil {
			return err
		}
	}
	t.out.Cost += t.out.Looking
	return nil
}

// needed are the causes that bring about a complaint by themselves.
func (t *bench) needed() []string {
	var out []string
	all := t.job.World.CauseIDs()
	for _, id := range all {
		others := slices.DeleteFunc(slices.Clone(all), func(o string) bool { return o == id })
		if complains(t.n, t.job.World.Without(others)) {
			out = append(out, id)
		}
	}
	return out
}

// Summary is what many results say together. Every mean has its standard error.
type Summary struct {
	Jobs             int
	First, Three     Mean // share with the right cause first, and among the first three
	Cost, Known      Mean // money
	Looking          Mean
	Checks, Repairs  Mean
	Wrong            Mean // share in which the leader was thought likely and was not there
	Exchanged        Mean
	Brier            Mean // of the leader
	Reliability      []Bin
	CalibrationError float64 // mean distance of said and true over the bins, by how many there are in each
}

// Mean is a mean with its standard error.
type Mean struct{ Value, Error float64 }

// Bin is one row of the reliability table.
type Bin struct {
	From, To   float64
	Count      int
	Said, True float64
}

// likely is the probability from which a leader that is not there counts as a wrong verdict.
const likely = 0.5

// Summarise adds results up.
func Summarise(results []Result) Summary {
	out := Summary{Jobs: len(results)}
	mean := func(f func(Result) float64) Mean {
		xs := make([]float64, len(results))
		for i, r := range results {
			xs[i] = f(r)
		}
		return MeanOf(xs)
	}
	share := func(f func(Result) bool) Mean {
		return mean(func(r Result) float64 {
			if f(r) {
				return 1
			}
			return 0
		})
	}
	out.First = share(func(r Result) bool { return r.Rank == 1 })
	out.Three = share(func(r Result) bool { return r.Rank >= 1 && r.Rank <= 3 })
	out.Wrong = share(func(r Result) bool { return !r.Right && r.Sure >= likely })
	out.Exchanged = share(func(r Result) bool { return r.Exchange })
	out.Cost, out.Known, out.Looking = mean(func(r Result) float64 { return r.Cost }), mean(func(r Result) float64 { return r.Known }), mean(func(r Result) float64 { return r.Looking })
	out.Checks, out.Repairs = mean(func(r Result) float64 { return float64(r.Checks) }), mean(func(r Result) float64 { return float64(r.Repairs) })
	out.Brier = mean(func(r Result) float64 {
		if r.Right {
			return (1 - r.Sure) * (1 - r.Sure)
		}
		return r.Sure * r.Sure
	})
	out.Reliability, out.CalibrationError = reliability(results)
	return out
}

// MeanOf returns the mean of values with its standard error.
func MeanOf(xs []float64) Mean {
	if len(xs) == 0 {
		return Mean{}
	}
	sum, squares := 0.0, 0.0
	for _, x := range xs {
		sum += x
	}
	m := sum / float64(len(xs))
	for _, x := range xs {
		squares += (x - m) * (x - m)
	}
	if len(xs) < 2 {
		return Mean{m, 0}
	}
	return Mean{m, math.Sqrt(squares / float64(len(xs)-1) / float64(len(xs)))}
}

// reliability sorts everything that was said into bins of a tenth.
func reliability(results []Result) ([]Bin, float64) {
	var all []Shown
	for _, r := range results {
		all = append(all, r.Shown...)
	}
	slices.SortFunc(all, func(a, b Shown) int { return cmp.Compare(a.P, b.P) })
	var out []Bin
	off := 0.0
	for i := range 10 {
		b := Bin{From: float64(i) / 10, To: float64(i+1) / 10}
		for _, s := range all {
			if s.P >= b.From && (s.P < b.To || i == 9) {
				b.Count++
				b.Said += s.P
				if s.True {
					b.True++
				}
			}
		}
		if b.Count > 0 {
			b.Said /= float64(b.Count)
			b.True /= float64(b.Count)
			off += math.Abs(b.Said-b.True) * float64(b.Count) / float64(len(all))
		}
		out = append(out, b)
	}
	return out, off
}
