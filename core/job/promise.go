package job

import (
	"cmp"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/estimate"
	"innercompass/core/pert"
	"innercompass/core/unitsheet"
	"innercompass/core/workhours"
)

// Promise is when the vehicle is done.
type Promise struct {
	Start  time.Time
	Plain  time.Time // if every task takes its likeliest time and nothing is found
	Half   time.Time // by then half of all such jobs are done
	Nine   time.Time // and nine in ten
	Days   []Day     // the chance of each day on which it may be done
	Waits  float64   // chance that it waits for a part that was not ordered
	Mean   float64   // hours of work, what is found with it
	Founds []Found   // what may be found and adds work, by chance times hours
}

// Day is a day on which the job may be done.
type Day struct {
	At    time.Time // its beginning
	Share float64
}

// Found is something that the work does not put right by itself and that would be done in the same visit.
type Found struct {
	Title  string
	Chance float64
	Hours  float64
	needs  []float64 // by hypothesis
}

// draws is how often a job is drawn: 90 in 100 are then known to half a point.
const draws = 4000

// leastFound is how likely something must be to be named; all of it is drawn.
const leastFound = 0.02

// Promise draws the job as planned from its start, what is to be ordered being ordered now. The same seed gives the same promise.
func (v Visit) Promise(p Plan, a *diagnose.Assessment, hours workhours.Week, now, start time.Time, seed uint64) (Promise, error) {
	if err := hours.Check(); err != nil {
		return Promise{}, err
	}
	shares := sharesOf(a)
	clock := hours.NewClock(start)
	d := &drawing{plan: p, shares: shares, founds: v.founds(a, p.Deepest, len(shares)), clock: clock, here: make([]int64, len(p.Parts))}
	for k, x := range p.Parts {
		if x.Stock.State == "ordered" || x.Order && !x.On() {
			d.here[k] = clock.At(now.Add(time.Duration(x.Lead * 24 * float64(time.Hour))))
		}
	}
	tasks := asPert(p.Tasks)
	ends, err := pert.Simulate(tasks, draws, seed, d.took)
	if err != nil {
		return Promise{}, err
	}
	plain, err := pert.Simulate(tasks, 1, seed, d.plain)
	if err != nil {
		return Promise{}, err
	}
	at := func(seconds float64) time.Time { return clock.End(int64(seconds)) }
	out := Promise{Start: clock.Begin(0), Plain: at(plain[0]), Half: at(pert.Quantile(ends, 0.5)), Nine: at(pert.Quantile(ends, 0.9)), Waits: float64(d.waited) / draws, Mean: d.worked / draws, Days: byDay(ends, at)}
	for _, f := range d.founds {
		if f.Chance >= leastFound {
			out.Founds = append(out.Founds, f)
		}
	}
	return out, nil
}

// drawing is a job as it is drawn, one case of many after the other; times are open seconds from its start.
type drawing struct {
	plan   Plan
	shares []float64
	founds []Found
	clock  *workhours.Clock
	here   []int64 // when what is on its way comes

	more, wait float64 // of this case: hours that what is found adds, days until what was not ordered comes
	until      int64   // and when the last that is on its way is here
	begun      bool    // whether its repair has
	waited     int     // cases that waited for what was not ordered
	worked     float64 // hours over all cases
}

// began draws what is wrong in a case, what is found of it, and what it has to wait for.
func (d *drawing) began(r *rand.Rand) {
	h := pick(d.shares, r)
	d.more, d.wait, d.until, d.begun = 0, 0, 0, false
	for _, f := range d.founds {
		if r.Float64() < f.needs[h] {
			d.more += pert.Spread(f.Hours, 0.2).Draw(r)
		}
	}
	for i, x := range d.plan.Parts {
		switch {
		case x.Lead == 0 || r.Float64() >= x.Needs[h]:
		case x.On() || x.Order:
			d.until = max(d.until, d.here[i])
		default:
			d.wait = max(d.wait, x.Lead)
		}
	}
	if d.wait > 0 {
		d.waited++
	}
}

// took is when a task ends. What is found is repaired with the first repair, after the parts that it waits for: days from the look on for what
// is ordered then, and until what is on its way is here.
func (d *drawing) took(r *rand.Rand, _, i int, from float64) float64 {
	if i == 0 {
		d.began(r)
	}
	t, at := d.plan.Tasks[i], int64(from)
	if t.Waits() {
		return float64(d.clock.Later(at, t.Days.Draw(r)))
	}
	hours := t.Time.Draw(r)
	if t.Kind != Open && t.Kind != Lift && t.Kind != Look && !d.begun {
		d.begun = true
		at = max(d.clock.Later(at, d.wait), d.until)
		hours += d.more
	}
	d.worked += hours
	return float64(at + int64(hours*3600))
}

// plain is when a task ends if every time is its likeliest and nothing is found.
func (d *drawing) plain(_ *rand.Rand, _, i int, from float64) float64 {
	t := d.plan.Tasks[i]
	if t.Waits() {
		return float64(d.clock.Later(int64(from), t.Days.Likely))
	}
	return from + math.Floor(t.Time.Likely*3600)
}

func pick(shares []float64, r *rand.Rand) int {
	u := r.Float64()
	for h, s := range shares {
		if u -= s; u < 0 {
			return h
		}
	}
	return len(shares) - 1
}

// byDay gathers the ends by their day.
func byDay(ends []float64, at func(seconds float64) time.Time) []Day {
	var out []Day
	for _, e := range ends {
		end := at(e)
		y, m, d := end.Date()
		day := time.Date(y, m, d, 0, 0, 0, 0, end.Location())
		if n := len(out); n > 0 && out[n-1].At.Equal(day) {
			out[n-1].Share += 1.0 / draws
		} else {
			out = append(out, Day{day, 1.0 / draws})
		}
	}
	return out
}

// founds are the causes and damages that the works do not put right and that this visit reaches, with the chance of each by hypothesis.
func (v Visit) founds(a *diagnose.Assessment, deepest unitsheet.Access, hypotheses int) []Found {
	n := v.Network
	chance := make([]float64, len(n.Causes))
	for _, w := range v.Works {
		one := make([]float64, len(n.Causes))
		n.SetCures(one, w.Option)
		for i, c := range one {
			chance[i] = max(chance[i], c)
		}
	}
	var out []Found
	shares := sharesOf(a)
	for node, x := range n.Nodes {
		if x.Kind == "fault" || x.Repair.Hours <= 0 || !within(x.Repair.Access, deepest) || node < len(n.Causes) && chance[node] >= covered || v.covers(x.ID) {
			continue
		}
		f := Found{Title: x.Title, Hours: x.Repair.Hours, needs: make([]float64, hypotheses)}
		for h := range a.Hypotheses {
			f.needs[h] = a.Present[h][node]
			f.Chance += shares[h] * f.needs[h]
		}
		if f.Chance > 1e-4 {
			out = append(out, f)
		}
	}
	slices.SortStableFunc(out, func(x, y Found) int { return cmp.Compare(y.Chance*y.Hours, x.Chance*x.Hours) })
	return out
}

// covered is the chance of cure from which the work counts as putting something right, so that finding it adds nothing.
const covered = 0.5

// covers reports whether a work names what it puts right: a damage, not a cause.
func (v Visit) covers(id string) bool {
	return slices.ContainsFunc(v.Works, func(w estimate.Work) bool {
		for _, c := range w.Option.Cures {
			prefix, many := strings.CutSuffix(c.Cause, "*")
			if c.Chance >= covered && (c.Cause == id || many && strings.HasPrefix(id, prefix)) {
				return true
			}
		}
		return false
	})
}
