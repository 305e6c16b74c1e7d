package job

import (
	"cmp"
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
	founds := v.founds(a, p.Deepest, len(shares))
	r := rand.New(rand.NewPCG(seed, 0x90b))
	clock := hours.NewClock(start)
	out := Promise{Start: clock.Begin(0)}
	here := make([]int64, len(p.Parts)) // when what is on its way comes
	for k, x := range p.Parts {
		if x.Stock.State == "ordered" || x.Order && !x.On() {
			here[k] = clock.At(now.Add(time.Duration(x.Lead * 24 * float64(time.Hour))))
		}
	}
	ends := make([]int64, draws)
	done := make([]int64, len(p.Tasks))
	waited, worked := 0, 0.0
	for k := range ends {
		h := pick(shares, r)
		more, wait, until := 0.0, 0.0, int64(0)
		for _, f := range founds {
			if r.Float64() < f.needs[h] {
				more += pert.Spread(f.Hours, 0.2).Draw(r)
			}
		}
		for i, x := range p.Parts {
			switch {
			case x.Lead == 0 || r.Float64() >= x.Needs[h]:
			case x.On() || x.Order:
				until = max(until, here[i])
			default:
				wait = max(wait, x.Lead)
			}
		}
		if wait > 0 {
			waited++
		}
		end, work := v.draw(p.Tasks, clock, r, done, more, wait, until)
		ends[k], worked = end, worked+work
	}
	slices.Sort(ends)
	out.Plain = clock.End(v.plain(p.Tasks, clock, done))
	out.Half, out.Nine = clock.End(quantile(ends, 0.5)), clock.End(quantile(ends, 0.9))
	out.Waits, out.Mean = float64(waited)/draws, worked/draws
	out.Days = byDay(ends, clock)
	for _, f := range founds {
		if f.Chance >= leastFound {
			out.Founds = append(out.Founds, f)
		}
	}
	return out, nil
}

// draw is one job of many: when it ends and how many hours were worked. What is found is repaired with the first repair, after the parts
// that it waits for: days from the look on for what is ordered then, and until what is on its way is here.
func (v Visit) draw(tasks []Task, clock *workhours.Clock, r *rand.Rand, done []int64, more, wait float64, until int64) (end int64, work float64) {
	first := true
	for i, t := range tasks {
		at := int64(0)
		for _, a := range t.After {
			at = max(at, done[a])
		}
		switch {
		case t.Waits():
			done[i] = clock.Later(at, t.Days.Draw(r))
		default:
			hours := t.Time.Draw(r)
			if t.Kind != Open && t.Kind != Lift && t.Kind != Look && first {
				first = false
				at = max(clock.Later(at, wait), until)
				hours += more
			}
			done[i] = at + int64(hours*3600)
			work += hours
		}
		end = max(end, done[i])
	}
	return end, work
}

// plain is when the job ends if every time is its likeliest.
func (v Visit) plain(tasks []Task, clock *workhours.Clock, done []int64) int64 {
	end := int64(0)
	for i, t := range tasks {
		at := int64(0)
		for _, a := range t.After {
			at = max(at, done[a])
		}
		if done[i] = at + int64(t.Time.Likely*3600); t.Waits() {
			done[i] = clock.Later(at, t.Days.Likely)
		}
		end = max(end, done[i])
	}
	return end
}

func quantile(ordered []int64, share float64) int64 {
	return ordered[min(len(ordered)-1, int(share*float64(len(ordered))))]
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
func byDay(ends []int64, clock *workhours.Clock) []Day {
	var out []Day
	for _, e := range ends {
		y, m, d := clock.End(e).Date()
		day := time.Date(y, m, d, 0, 0, 0, 0, clock.End(e).Location())
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
