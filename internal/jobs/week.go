package jobs

import (
	"context"
	"sync"
	"time"

	"innercompass/core/job"
	"innercompass/core/unitsheet"
	"innercompass/core/week"
	"innercompass/core/workhours"
	"innercompass/internal/cases"
	"innercompass/internal/shop"
)

// Week is the jobs of the shop over its bays.
type Week struct {
	Slots    []week.Slot
	Jobs     map[string]Planned // by case
	Settings shop.Settings
	Workshop shop.Workshop
	Now      time.Time
	Left     int // jobs beyond what is planned at once
}

// Planned is what a week says of a job.
type Planned struct {
	Case    cases.Case
	Unit    string
	Work    string
	Agreed  bool
	Settled Settled
	Due     time.Time
	Missing int     // parts that are ordered and not here
	Lacks   float64 // days until all is here that is needed whatever is found
}

// mostPlanned is how many jobs are planned at once.
const mostPlanned = 120

// lastWeek is the week as it was planned last: nothing is planned anew as long as nothing that it is made from has changed.
type lastWeek struct {
	sync.Mutex
	stamp string
	at    time.Time
	week  Week
}

// stays is how long a plan stands when nothing changes: what is over moves out of it.
const stays = 5 * time.Minute

// Week plans all open jobs.
func (s *Service) Week(ctx context.Context) (Week, error) {
	s.last.Lock()
	defer s.last.Unlock() // whoever asks meanwhile gets the same plan
	ids, stamp, err := s.Store.OpenJobs(ctx, mostPlanned+1)
	if err != nil {
		return Week{}, err
	}
	if now := s.Now(); stamp == s.last.stamp && now.Sub(s.last.at) < stays && !now.Before(s.last.at) {
		return s.last.week, nil
	}
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return Week{}, err
	}
	w, err := s.Shop.Workshop(ctx)
	if err != nil {
		return Week{}, err
	}
	out := Week{Jobs: map[string]Planned{}, Settings: st, Workshop: w, Now: s.Now(), Left: max(0, len(ids)-mostPlanned)}
	jobs, err := s.jobs(ctx, w, ids[:len(ids)-out.Left], out.Jobs)
	if err != nil {
		return out, err
	}
	if out.Slots, err = week.Plan(w.Week(st.Location()), jobs, out.Now); err != nil {
		return out, err
	}
	s.last.stamp, s.last.at, s.last.week = stamp, out.Now, out
	return out, nil
}

// The days of a week that are shown.
const (
	leastDays = 5
	mostDays  = 30
)

// Days are the open days as far as anything is planned.
func (w Week) Days() []workhours.Day {
	last := w.Now
	for _, s := range w.Slots {
		if s.To.After(last) {
			last = s.To
		}
	}
	return w.Workshop.Hours(w.Settings.Location()).OpenDays(w.Now, last, leastDays, mostDays)
}

// jobs are the open jobs as the week plans them, and what is said of each.
func (s *Service) jobs(ctx context.Context, w shop.Workshop, ids []string, about map[string]Planned) ([]week.Job, error) {
	var out []week.Job
	for _, id := range ids {
		x, err := s.at(ctx, id)
		if err != nil {
			return nil, err
		}
		works, agreed := x.works("")
		if len(works) == 0 {
			continue
		}
		v := s.visit(x, works)
		j := week.Job{ID: id, Phases: phases(v, len(w.People))}
		p := Planned{Case: x.c, Unit: x.n.Unit.Sheet.Name, Work: works[0].Title, Agreed: agreed, Settled: x.settled}
		for _, part := range x.settled.Stock {
			if part.State == "ordered" {
				p.Missing++
			}
		}
		// A vehicle that is not open yet is opened once its parts are here; one that is waits open.
		j.InBay = v.Price.From >= unitsheet.PanOff
		if p.Lacks = v.Lacks(); p.Lacks > 0 {
			if !j.InBay {
				j.Ready = s.Now().Add(time.Duration(p.Lacks * 24 * float64(time.Hour)))
			} else {
				waitForParts(j.Phases, p.Lacks)
			}
		}
		if due, err := time.Parse(time.RFC3339, x.settled.Due); err == nil {
			j.Due, p.Due = due, due
		}
		set := week.Set{Bay: -1, Person: -1}
		if x.settled.Bay != "" {
			set.Bay = w.Bay(x.settled.Bay)
		}
		if x.settled.Person != "" {
			set.Person = w.Person(x.settled.Person)
		}
		if j.InBay && set.Bay < 0 {
			set.Bay = w.Bay(x.c.Bay)
		}
		set.From, _ = time.Parse(time.RFC3339, x.settled.From)
		if set.Bay >= 0 || set.Person >= 0 || !set.From.IsZero() {
			j.Set = &set
			if !set.From.IsZero() && set.From.Before(j.Ready) {
				j.Ready = time.Time{} // whoever set a day before the parts are there wants it so
			}
		}
		about[id] = p
		out = append(out, j)
	}
	return out, nil
}

// waitForParts lets the first phase that puts something in wait for it.
func waitForParts(in []week.Phase, days float64) {
	for k := range in {
		if name := in[k].Title; name == phaseNames[job.Repair] || name == phaseNames[job.Close] {
			in[k].Wait = max(in[k].Wait, days)
			return
		}
	}
}

// phases are a visit's tasks as the week sees them: what follows each other and takes the same people is one.
func phases(v job.Visit, people int) []week.Phase {
	var out []week.Phase
	wait := 0.0
	for _, t := range v.Steps() {
		if t.Waits() {
			wait = max(wait, t.Days.Likely)
			continue
		}
		n := min(t.People, people)
		name := phaseNames[t.Kind]
		if k := len(out) - 1; k >= 0 && wait == 0 && out[k].People == n && out[k].Title == name {
			out[k].Hours += t.Time.Mean()
			continue
		}
		out = append(out, week.Phase{Title: name, Hours: t.Time.Mean(), People: n, Wait: wait})
		wait = 0
	}
	return out
}

// phaseNames are what tasks are called in the week.
var phaseNames = map[string]string{job.Open: "opened", job.Lift: "unit down or up, two people", job.Look: "looked at", job.Repair: "repaired", job.Close: "closed", job.Teach: "taught", job.Prove: "proven"}
