package shop

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/job"
	"innercompass/core/plan"
	"innercompass/core/week"
	"innercompass/core/workhours"
	"innercompass/internal/problem"
)

// Workshop is what there is to work with, and what waiting costs.
type Workshop struct {
	Bays     []string
	People   []string
	Days     [7]workhours.Span // Sunday first; minutes of the day
	Break    workhours.Span
	Closed   []string // days, 2006-01-02
	BayRate  float64  // an hour in which a bay is held up
	Lead     float64  // days until a part that is ordered is there
	Machine  float64  // days that work at a machine shop takes
	Restock  float64  // share of a part's price that a return costs
	SendBack float64  // what a return costs besides
	Rev      int
}

// DefaultWorkshop is that of a new data folder: what it costs to wait is judgment, until the shop says.
func DefaultWorkshop(people []string) Workshop {
	w := Workshop{Bays: []string{"Bay 1", "Bay 2"}, Break: workhours.Span{From: 12 * 60, To: 13 * 60}, BayRate: 35, Lead: 2, Machine: 3, Restock: 0.15, SendBack: 12}
	for d := time.Monday; d <= time.Friday; d++ {
		w.Days[d] = workhours.Span{From: 8 * 60, To: 17 * 60}
	}
	if w.People = slices.Clone(people); len(w.People) == 0 {
		w.People = []string{"Mechanic"}
	}
	return w
}

// Most that a workshop may have.
const (
	mostBays   = 40
	mostClosed = 400
	mostDays   = 200 // of a lead
)

// Workshop is what there is to work with.
func (s *Service) Workshop(ctx context.Context) (Workshop, error) {
	w, ok, err := s.Store.Workshop(ctx)
	if err != nil || ok {
		return w, err
	}
	people, err := s.Names(ctx)
	return DefaultWorkshop(people), err
}

// SaveWorkshop checks and stores it, if nobody else has since its revision.
func (s *Service) SaveWorkshop(ctx context.Context, w Workshop) (Workshop, error) {
	for field, names := range map[string][]string{"bays": w.Bays, "people": w.People} {
		if len(names) == 0 || len(names) > mostBays {
			return w, problem.Field(field, fmt.Sprintf("%d of them", len(names)), fmt.Sprintf("1 to %d", mostBays))
		}
		for i, n := range names {
			if err := problem.CheckText(fmt.Sprintf("%s[%d]", field, i), n, problem.MaxShort, true); err != nil {
				return w, err
			}
			if slices.Contains(names[:i], n) {
				return w, problem.Field(fmt.Sprintf("%s[%d]", field, i), fmt.Sprintf("%q is there twice", n), "a name of its own")
			}
		}
	}
	if len(w.Closed) > mostClosed {
		return w, problem.Field("closed", fmt.Sprintf("%d days", len(w.Closed)), fmt.Sprintf("at most %d", mostClosed))
	}
	for i, d := range w.Closed {
		if _, err := time.Parse(time.DateOnly, d); err != nil {
			return w, problem.Field(fmt.Sprintf("closed[%d]", i), fmt.Sprintf("%q", d), "a day such as 2026-12-24")
		}
	}
	for _, f := range []struct {
		name string
		v    float64
		most float64
	}{{"bayRate", w.BayRate, MostRate}, {"lead", w.Lead, mostDays}, {"machine", w.Machine, mostDays}, {"restock", w.Restock, 1}, {"sendBack", w.SendBack, MostRate}} {
		if !(f.v >= 0 && f.v <= f.most) {
			return w, problem.Field(f.name, fmt.Sprint(f.v), fmt.Sprintf("0 to %v", f.most))
		}
	}
	if err := w.Hours(nil).Check(); err != nil {
		var bad *workhours.Error
		if errors.As(err, &bad) {
			return w, problem.Field(bad.Field, bad.Reason, bad.Accepted)
		}
		return w, err
	}
	if err := s.Store.SaveWorkshop(ctx, w, w.Rev); err != nil {
		return w, err
	}
	s.Tell("week", 0)
	return s.Workshop(ctx)
}

// Hours are the shop's, in a zone.
func (w Workshop) Hours(zone *time.Location) workhours.Week {
	out := workhours.Week{Days: w.Days, Break: w.Break, Closed: map[string]bool{}, Zone: zone}
	for _, d := range w.Closed {
		out.Closed[d] = true
	}
	return out
}

// Terms are what a job counts with.
func (w Workshop) Terms() job.Terms {
	return job.Terms{Bay: w.BayRate, Lead: w.Lead, Machine: w.Machine, Restock: w.Restock, SendBack: w.SendBack, Trial: plan.TrialHours, PerDay: w.Hours(nil).PerDay()}
}

// Week is the shop as its week is planned.
func (w Workshop) Week(zone *time.Location) week.Shop {
	return week.Shop{Bays: w.Bays, People: w.People, Hours: w.Hours(zone)}
}

// Bay is the place of a bay by its name, letters large or small; −1 when there is none.
func (w Workshop) Bay(name string) int { return place(w.Bays, name) }

// Person is the place of a person by name; −1 when there is none.
func (w Workshop) Person(name string) int { return place(w.People, name) }

func place(names []string, name string) int {
	return slices.IndexFunc(names, func(n string) bool { return strings.EqualFold(strings.TrimSpace(n), strings.TrimSpace(name)) })
}

// Read takes the figures as they are typed.
func (w *Workshop) Read(st Settings, bayRate, lead, machine, restock, sendBack string) error {
	for _, f := range []struct {
		field, text string
		to          *float64
		read        func(field, text string) (float64, error)
	}{
		{"bayRate", bayRate, &w.BayRate, func(field, text string) (float64, error) { return st.ParseRate(field, text, MostRate) }},
		{"lead", lead, &w.Lead, func(field, text string) (float64, error) { return st.ParseRate(field, text, mostDays) }},
		{"machine", machine, &w.Machine, func(field, text string) (float64, error) { return st.ParseRate(field, text, mostDays) }},
		{"restock", restock, &w.Restock, func(field, text string) (float64, error) { return st.ParseShare(field, text, 1) }},
		{"sendBack", sendBack, &w.SendBack, func(field, text string) (float64, error) { return st.ParseRate(field, text, MostRate) }},
	} {
		v, err := f.read(f.field, f.text)
		if err != nil {
			return err
		}
		*f.to = v
	}
	return nil
}

// ReadSpan reads a span of a day from two times such as 08:00 and 17:00; 24:00 ends a day.
func ReadSpan(field, from, to string) (workhours.Span, error) {
	var out workhours.Span
	for _, x := range []struct {
		text string
		to   *int
	}{{from, &out.From}, {to, &out.To}} {
		var h, m int
		if n, err := fmt.Sscanf(x.text, "%d:%d", &h, &m); err != nil || n != 2 || h < 0 || m < 0 || m > 59 || h*60+m > 24*60 {
			return out, problem.Field(field, fmt.Sprintf("%q", x.text), "a time of day such as 08:00")
		}
		*x.to = h*60 + m
	}
	return out, nil
}
