// Package jobs plans the work of a case and of the week: the job of one vehicle with its tasks, parts and promise, and all jobs over the
// shop's bays and people. What a person settles about a job is kept: bay, person, day, where its parts are.
package jobs

import (
	"context"
	"fmt"
	"hash/fnv"
	"maps"
	"slices"
	"time"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/estimate"
	"innercompass/core/job"
	"innercompass/core/knowledge"
	"innercompass/core/pricebook"
	"innercompass/core/unitsheet"
	"innercompass/core/week"
	"innercompass/core/workbench"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// Store keeps what was settled about jobs.
type Store interface {
	// Job is what was settled about the job of a case; false when nothing was.
	Job(ctx context.Context, caseID string) (Settled, bool, error)
	// SaveJob replaces it if it is still of the revision that it carries.
	SaveJob(ctx context.Context, j Settled) error
	// OpenJobs are the open cases whose work was agreed or that something was settled about, the oldest first, and a stamp that
	// changes with anything that their plan is made from.
	OpenJobs(ctx context.Context, most int) (ids []string, stamp string, err error)
}

// Service plans jobs.
type Service struct {
	Store     Store
	Cases     *cases.Service
	Shop      *shop.Service
	Assessing *assessing.Service
	Now       func() time.Time
	Tell      func(what string, rev int)

	last lastWeek
}

// Settled is what a person settled about a job.
type Settled struct {
	Case   string           `json:"-"`
	Option string           `json:"option,omitempty"` // planned before the customer has agreed; empty: what was agreed
	Bay    string           `json:"bay,omitempty"`
	Person string           `json:"person,omitempty"`
	From   string           `json:"from,omitempty"` // not before, RFC 3339
	Due    string           `json:"due,omitempty"`  // promised for, RFC 3339
	Stock  map[string]Stock `json:"stock,omitempty"`
	By     string           `json:"by,omitempty"`
	At     time.Time        `json:"at"`
	Rev    int              `json:"-"`
}

// Stock is where a part is.
type Stock struct {
	State string `json:"state"` // one of job.Stocks
	Due   string `json:"due,omitempty"`
}

// Job is the work of a case.
type Job struct {
	Case     cases.Case
	Network  *knowledge.Network
	Visit    job.Visit
	Plan     job.Plan
	Promise  job.Promise
	Slot     *week.Slot // its place in the week; nil when it is not planned there
	Settled  Settled
	Agreed   bool // the customer has agreed to this work
	Options  []knowledge.Option
	Settings shop.Settings
	Workshop shop.Workshop
}

// at is everything that a job is planned from.
type at struct {
	c        cases.Case
	n        *knowledge.Network
	settled  Settled
	settings shop.Settings
	workshop shop.Workshop
	book     shop.Book
}

func (s *Service) at(ctx context.Context, id string) (at, error) {
	st, err := s.Cases.Standing(ctx, id, cases.Guard{})
	if err != nil {
		return at{}, err
	}
	out := at{c: st.Case, settings: st.Settings, book: st.Book}
	if out.n, err = s.Cases.Network(ctx, out.c); err != nil {
		return out, err
	}
	if out.workshop, err = s.Shop.Workshop(ctx); err != nil {
		return out, err
	}
	out.settled, _, err = s.Store.Job(ctx, id)
	out.settled.Case = id
	return out, err
}

// works are what the job is: what was agreed, else what was planned; agreed says which.
func (x at) works(option string) (works []knowledge.Option, agreed bool) {
	if option == "" {
		if works = x.c.AgreedWork(x.n); len(works) > 0 {
			return works, true
		}
		option = x.settled.Option
	}
	if i := slices.IndexFunc(x.n.Options, func(o knowledge.Option) bool { return o.ID == option }); i >= 0 {
		works = x.n.Options[i : i+1]
	}
	return works, false
}

// visit is the work as it is planned.
func (s *Service) visit(x at, works []knowledge.Option) job.Visit {
	now := s.Now()
	rates := x.settings.Rates()
	v := job.Visit{
		Network: x.n, Bench: workbench.New(x.n.Unit, x.c.BenchNotes()), Terms: x.workshop.Terms(), Stock: map[string]job.Stock{},
		Price:   estimate.Estimator{Unit: x.n.Unit, From: assessing.Stand(x.c, x.n, now).Access, Book: x.book, Rates: rates},
		Figures: estimate.Figures{Rates: rates},
	}
	for _, o := range works {
		level, _ := unitsheet.ParseAccess(o.Access)
		v.Works = append(v.Works, estimate.Work{Option: o, Level: level, Quality: pricebook.UsualQuality(o)})
	}
	for id, st := range x.settled.Stock {
		v.Stock[id] = job.Stock{State: st.State, Days: daysUntil(st.Due, now)}
	}
	return v
}

// daysUntil a day of the calendar, 0 when it is past, −1 for none.
func daysUntil(due string, now time.Time) float64 {
	t, err := time.Parse(time.DateOnly, due)
	if err != nil {
		return -1
	}
	return max(0, t.Sub(now).Hours()/24)
}

// Job plans the work of a case: what was agreed, or an option that is named.
func (s *Service) Job(ctx context.Context, id, option string) (Job, error) {
	x, err := s.at(ctx, id)
	if err != nil {
		return Job{}, err
	}
	a, err := s.Assessing.Assess(ctx, x.n, x.c.Situation(x.c.Valid()), false)
	if err != nil {
		return Job{}, err
	}
	works, agreed := x.works(option)
	if len(works) == 0 && option != "" {
		return Job{}, problem.Field("option", fmt.Sprintf("no option %q for this unit", option), "the id of an option of the case")
	}
	offered := s.offered(x, a.Assessment)
	if len(works) == 0 && len(offered) > 0 {
		works = offered[:1]
	}
	out := Job{Case: x.c, Network: x.n, Settled: x.settled, Agreed: agreed, Options: slices.Clone(works), Settings: x.settings, Workshop: x.workshop}
	for _, o := range offered {
		if !slices.ContainsFunc(out.Options, func(have knowledge.Option) bool { return have.ID == o.ID }) {
			out.Options = append(out.Options, o)
		}
	}
	if len(works) == 0 {
		return out, nil
	}
	out.Visit = s.visit(x, works)
	if out.Plan, err = out.Visit.Make(a.Assessment); err != nil {
		return out, err
	}
	start := s.Now()
	if w, err := s.Week(ctx); err != nil {
		return out, err
	} else if i := slices.IndexFunc(w.Slots, func(p week.Slot) bool { return p.Job == id }); i >= 0 {
		out.Slot = &w.Slots[i]
		start = w.Slots[i].From
	} else if from, err := time.Parse(time.RFC3339, x.settled.From); err == nil && from.After(start) {
		start = from
	}
	out.Promise, err = out.Visit.Promise(out.Plan, a.Assessment, x.workshop.Hours(x.settings.Location()), s.Now(), start, seed(id))
	return out, err
}

// seed is a case's own, so that its promise moves with what is known and not by chance.
func seed(id string) uint64 {
	h := fnv.New64a()
	h.Write([]byte(id))
	return h.Sum64()
}

// offered are the options that are work, the first before the others.
func (s *Service) offered(x at, a *diagnose.Assessment) []knowledge.Option {
	m := decide.NewModel(x.n, a, assessing.Stand(x.c, x.n, s.Now()).Access, x.settings.Rates(), x.book)
	c, err := m.Compare(decide.Choices{})
	if err != nil {
		return nil
	}
	var out []knowledge.Option
	for _, r := range c.Rows {
		if r.Option.Strategy != "watch" {
			out = append(out, r.Option)
		}
	}
	return out
}

// mostStock is how many parts may have a state.
const mostStock = 400

// Settle keeps what a person settled about a job.
func (s *Service) Settle(ctx context.Context, id string, in Settled) (Settled, error) {
	x, err := s.at(ctx, id)
	if err != nil {
		return Settled{}, err
	}
	if x.c.Closed != nil {
		return Settled{}, &problem.StateError{Reason: "the case is closed", Accepted: "an open case"}
	}
	if err := s.check(x, in); err != nil {
		return Settled{}, err
	}
	in.Case, in.At, in.Stock = id, s.Now(), x.dated(in.Stock, s.Now())
	if err := s.Store.SaveJob(ctx, in); err != nil {
		return Settled{}, err
	}
	s.Tell("week", 0)
	in.Rev++
	return in, nil
}

// dated gives what is ordered without a day the one on which it is here by the shop's usual lead.
func (x at) dated(stock map[string]Stock, now time.Time) map[string]Stock {
	out := maps.Clone(stock)
	day := shop.DayOf(now.Add(time.Duration(x.workshop.Lead*24*float64(time.Hour))), x.settings.Location()).Format(time.DateOnly)
	for part, st := range out {
		if st.State == "ordered" && st.Due == "" {
			out[part] = Stock{st.State, day}
		}
	}
	return out
}

func (s *Service) check(x at, in Settled) error {
	if in.Option != "" && !slices.ContainsFunc(x.n.Options, func(o knowledge.Option) bool { return o.ID == in.Option }) {
		return problem.Field("option", fmt.Sprintf("no option %q for this unit", in.Option), "the id of an option of the case")
	}
	if in.Bay != "" && x.workshop.Bay(in.Bay) < 0 {
		return problem.Field("bay", fmt.Sprintf("no bay %q", in.Bay), fmt.Sprint(x.workshop.Bays))
	}
	if in.Person != "" && x.workshop.Person(in.Person) < 0 {
		return problem.Field("person", fmt.Sprintf("nobody called %q", in.Person), fmt.Sprint(x.workshop.People))
	}
	for field, at := range map[string]string{"from": in.From, "due": in.Due} {
		if _, err := time.Parse(time.RFC3339, at); at != "" && err != nil {
			return problem.Field(field, fmt.Sprintf("%q", at), "a moment such as 2026-12-01T08:00:00+01:00")
		}
	}
	if len(in.Stock) > mostStock {
		return problem.Field("stock", fmt.Sprintf("%d parts", len(in.Stock)), fmt.Sprintf("at most %d", mostStock))
	}
	for part, st := range in.Stock {
		at := "stock." + part
		if !slices.Contains(job.Stocks, st.State) {
			return problem.Field(at, fmt.Sprintf("%q", st.State), fmt.Sprint(job.Stocks))
		}
		if _, err := time.Parse(time.DateOnly, st.Due); st.Due != "" && err != nil {
			return problem.Field(at, fmt.Sprintf("%q", st.Due), "a day such as 2026-12-03")
		}
		if !known(x.n, part) {
			return problem.Field(at, fmt.Sprintf("no part or kit %q", part), "the id of a part of the stack, or kit. and its id")
		}
	}
	return problem.CheckText("by", in.By, problem.MaxShort, false)
}

func known(n *knowledge.Network, part string) bool {
	if n.Unit.Stack == nil {
		return false
	}
	if n.Unit.Stack.Index(part) > 0 {
		return true
	}
	for _, k := range n.Unit.Stack.Sheet.Kits {
		if part == "kit."+k.ID {
			return true
		}
	}
	return false
}
