// Package week lays the shop's jobs over its bays and people.
//
// Model. A job holds one bay from its first phase to its last, waits included, since a vehicle with its unit out does not move. Each phase
// takes so many hours of so many people who may do it, one after the other; a person does one phase at a time. Jobs are placed one by one,
// each in the bay where it is done first (serial schedule generation, R. Kolisch, Serial and parallel resource-constrained project
// scheduling methods revisited, European Journal of Operational Research 90, 1996), in several orders of priority; the best is then improved
// by placing one job earlier in the order. Best is the least sum of lateness, then the earliest ends.
//
// A job that a person has set stays where it was set: its bay, its person, not before its day. Those are placed first.
package week

import (
	"cmp"
	"fmt"
	"math/rand/v2"
	"slices"
	"time"

	"innercompass/core/workhours"
)

// Shop is what there is to work with.
type Shop struct {
	Bays   []string
	People []string
	Hours  workhours.Week
}

// Phase is a piece of a job: hours of work of so many people, after a wait that nobody works on.
type Phase struct {
	Title  string
	Hours  float64
	People int
	Wait   float64 // days of the calendar before it, in which the bay is held
}

// Job is what is to be done on one vehicle.
type Job struct {
	ID     string
	Phases []Phase
	Ready  time.Time // not before; zero for now
	Due    time.Time // zero for none
	InBay  bool      // the vehicle holds its bay already, waiting or not
	Set    *Set
}

// Set is what a person has settled; a negative bay or person is open.
type Set struct {
	Bay, Person int
	From        time.Time // not before; zero for none
}

// Slot is a job in its place.
type Slot struct {
	Job    string
	Bay    int
	From   time.Time
	To     time.Time
	Phases []Placed
	Late   float64 // hours of work past its due time
}

// Placed is a phase in its place; nobody works on it when it is a wait alone.
type Placed struct {
	Phase
	From, To time.Time
	By       []int // people
}

// Error says what is wrong with a shop or a job.
type Error struct{ Job, Reason, Accepted string }

func (e *Error) Error() string { return e.Job + ": " + e.Reason + "; want " + e.Accepted }

const (
	mostJobs  = 400
	mostTries = 200 // orders that are tried at most
)

func check(s Shop, jobs []Job) error {
	if err := s.Hours.Check(); err != nil {
		return err
	}
	if len(s.Bays) == 0 || len(s.People) == 0 {
		return &Error{"shop", fmt.Sprintf("%d bays, %d people", len(s.Bays), len(s.People)), "at least one of each"}
	}
	if len(jobs) > mostJobs {
		return &Error{"shop", fmt.Sprintf("%d jobs", len(jobs)), fmt.Sprintf("at most %d", mostJobs)}
	}
	for _, j := range jobs {
		if len(j.Phases) == 0 {
			return &Error{j.ID, "nothing to do", "at least one phase"}
		}
		for _, p := range j.Phases {
			if !(p.Hours >= 0 && p.Hours < 1000 && p.Wait >= 0 && p.Wait < 1000) || p.People < 0 || p.People > len(s.People) {
				return &Error{j.ID, fmt.Sprintf("%s: %g hours, %d people, %g days of waiting", p.Title, p.Hours, p.People, p.Wait), fmt.Sprintf("up to 1000 hours and days, up to %d people", len(s.People))}
			}
		}
		if s := j.Set; s != nil && (s.Bay >= mostJobs || s.Person >= mostJobs) {
			return &Error{j.ID, "set to a bay or person that there is not", "one of the shop's"}
		}
	}
	return nil
}

// Plan lays jobs over bays and people from now on. Slots come by bay, then by time. The same jobs give the same plan.
func Plan(s Shop, jobs []Job, now time.Time) ([]Slot, error) {
	if err := check(s, jobs); err != nil {
		return nil, err
	}
	f := &finder{shop: s, jobs: jobs, left: mostTries, clock: s.Hours.NewClock(now), due: make([]int64, len(jobs)), ready: make([]int64, len(jobs))}
	for i, j := range jobs {
		f.due[i] = -1
		if !j.Due.IsZero() {
			f.due[i] = f.clock.At(j.Due)
		}
		f.ready[i] = f.clock.At(j.Ready)
		if j.Set != nil {
			f.ready[i] = max(f.ready[i], f.clock.At(j.Set.From))
		}
	}
	for _, o := range f.orders() {
		f.try(o)
	}
	f.improve()
	return f.slots(), nil
}

// finder holds the best plan so far, and the order that it came from. Times are open seconds from now.
type finder struct {
	shop       Shop
	jobs       []Job
	clock      *workhours.Clock
	due, ready []int64 // due is −1 for none
	left       int
	best       []laid
	order      []int
	cost       price
}

// try lays the jobs in an order, and keeps the plan when it is better.
func (f *finder) try(order []int) bool {
	f.left--
	all := f.lay(order)
	c := priceOf(all)
	if f.best != nil && !c.less(f.cost) {
		return false
	}
	f.best, f.cost, f.order = all, c, slices.Clone(order)
	return true
}

// slots are the best plan by the calendar.
func (f *finder) slots() []Slot {
	var out []Slot
	for _, x := range f.best {
		s := Slot{Job: f.jobs[x.job].ID, Bay: x.bay, From: f.clock.Begin(x.from), To: f.clock.End(x.to), Late: float64(x.late) / 3600}
		for k, p := range x.phases {
			s.Phases = append(s.Phases, Placed{f.jobs[x.job].Phases[k], f.clock.Begin(p.from), f.clock.End(p.to), p.by})
		}
		out = append(out, s)
	}
	slices.SortFunc(out, func(a, b Slot) int { return cmp.Or(cmp.Compare(a.Bay, b.Bay), a.From.Compare(b.From)) })
	return out
}

// improve places one job earlier in the order as long as that helps; where nothing does, two jobs change places at random and it goes on,
// until nothing is late or tries are left.
func (f *finder) improve() {
	first := 0
	for first < len(f.order) && (f.jobs[f.order[first]].Set != nil || f.jobs[f.order[first]].InBay) {
		first++
	}
	if len(f.order)-first < 2 {
		return
	}
	r := rand.New(rand.NewPCG(uint64(len(f.jobs)), 0x5eed))
	from := slices.Clone(f.order)
	for f.left > 0 && f.cost.late > 0 {
		for at := len(from) - 1; at > first && f.left > 0; at-- {
			for to := at - 1; to >= first && f.left > 0; to-- {
				moved := slices.Insert(slices.Delete(slices.Clone(from), at, at+1), to, from[at])
				if f.try(moved) {
					from = moved
					break
				}
			}
		}
		from = slices.Clone(f.order)
		for range 2 {
			a, b := first+r.IntN(len(from)-first), first+r.IntN(len(from)-first)
			from[a], from[b] = from[b], from[a]
		}
	}
}

// price of a plan: seconds late in all, then the sum of the ends.
type price struct{ late, ends int64 }

func (p price) less(o price) bool { return p.late < o.late || p.late == o.late && p.ends < o.ends }

func priceOf(all []laid) price {
	var p price
	for _, x := range all {
		p.late += x.late
		p.ends += x.to
	}
	return p
}

// orders of priority: what a person set first in each, then by due time, by slack, the shortest, the longest, as they came.
func (f *finder) orders() [][]int {
	s, jobs := f.shop, f.jobs
	far := time.Unix(1<<40, 0)
	due := func(j Job) time.Time {
		if j.Due.IsZero() {
			return far
		}
		return j.Due
	}
	work := func(j Job) float64 {
		sum := 0.0
		for _, p := range j.Phases {
			sum += p.Hours + p.Wait*s.Hours.PerDay()
		}
		return sum
	}
	slack := func(j Job) time.Time {
		return due(j).Add(-time.Duration(work(j) * 24 / max(1, s.Hours.PerDay()) * float64(time.Hour)))
	}
	rules := []func(a, b Job) int{
		func(a, b Job) int { return due(a).Compare(due(b)) },
		func(a, b Job) int { return slack(a).Compare(slack(b)) },
		func(a, b Job) int { return cmp.Compare(work(a), work(b)) },
		func(a, b Job) int { return cmp.Compare(work(b), work(a)) },
		func(Job, Job) int { return 0 },
	}
	set := func(j Job) int {
		switch {
		case j.InBay:
			return 0 // it stands where it stands
		case j.Set != nil:
			return 1
		}
		return 2
	}
	var out [][]int
	for _, rule := range rules {
		order := make([]int, len(jobs))
		for i := range order {
			order[i] = i
		}
		slices.SortStableFunc(order, func(a, b int) int {
			x, y := jobs[a], jobs[b]
			if c := cmp.Compare(set(x), set(y)); c != 0 {
				return c
			}
			if set(x) == 1 {
				return x.Set.From.Compare(y.Set.From)
			}
			return rule(x, y)
		})
		out = append(out, order)
	}
	return out
}
