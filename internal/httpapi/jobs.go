package httpapi

import (
	"context"
	"maps"
	"math"
	"slices"
	"strconv"
	"time"

	"innercompass/core/job"
	"innercompass/core/knowledge"
	"innercompass/core/money"
	"innercompass/core/quantity"
	"innercompass/core/week"
	"innercompass/core/workhours"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/jobs"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

func (h *handlers) GetWorkshop(ctx context.Context, _ gen.GetWorkshopRequestObject) (gen.GetWorkshopResponseObject, error) {
	v, err := h.workshop(ctx)
	return gen.GetWorkshop200JSONResponse(v), err
}

func (h *handlers) workshop(ctx context.Context) (gen.Workshop, error) {
	st, err := h.App.Shop.Settings(ctx)
	if err != nil {
		return gen.Workshop{}, err
	}
	w, err := h.App.Shop.Workshop(ctx)
	number := func(v float64) string { return st.Style().Write(strconv.FormatFloat(v, 'f', -1, 64)) }
	return gen.Workshop{Bays: texts(w.Bays), People: texts(w.People), Days: list(w.Days[:], dayView), Break: dayView(w.Break), Closed: texts(w.Closed), BayRate: number(w.BayRate), Lead: number(w.Lead), Machine: number(w.Machine),
		Restock: number(math.Round(w.Restock*1e8) / 1e6), SendBack: number(w.SendBack), Currency: st.Currency, Rev: w.Rev}, err
}

func (h *handlers) PutWorkshop(ctx context.Context, r gen.PutWorkshopRequestObject) (gen.PutWorkshopResponseObject, error) {
	st, err := h.App.Shop.Settings(ctx)
	if err != nil {
		return nil, err
	}
	b := r.Body
	w := shop.Workshop{Bays: b.Bays, People: b.People, Closed: b.Closed}
	w.Rev, _ = strconv.Atoi(unquoted(r.Params.IfMatch))
	if len(b.Days) != len(w.Days) {
		return nil, problem.Field("days", strconv.Itoa(len(b.Days))+" of them", "seven, Sunday first")
	}
	for i, d := range b.Days {
		if w.Days[i], err = shop.ReadSpan("days["+strconv.Itoa(i)+"]", d.From, d.To); err != nil {
			return nil, err
		}
	}
	if w.Break, err = shop.ReadSpan("break", b.Break.From, b.Break.To); err != nil {
		return nil, err
	}
	if err := w.Read(st, b.BayRate, b.Lead, b.Machine, b.Restock, b.SendBack); err != nil {
		return nil, err
	}
	if _, err := h.App.Shop.SaveWorkshop(ctx, w); err != nil {
		return nil, err
	}
	v, err := h.workshop(ctx)
	return gen.PutWorkshop200JSONResponse(v), err
}

func dayView(s workhours.Span) gen.WorkshopDay {
	return gen.WorkshopDay{From: workhours.Minute(s.From), To: workhours.Minute(s.To)}
}

func (h *handlers) GetJob(ctx context.Context, r gen.GetJobRequestObject) (gen.GetJobResponseObject, error) {
	j, err := h.App.Jobs.Job(ctx, r.ID, text(r.Params.Option))
	if err != nil {
		return nil, err
	}
	return gen.GetJob200JSONResponse(jobView(j)), nil
}

func (h *handlers) SettleJob(ctx context.Context, r gen.SettleJobRequestObject) (gen.SettleJobResponseObject, error) {
	b := r.Body
	in := jobs.Settled{Option: text(b.Option), Bay: text(b.Bay), Person: text(b.Person), From: text(b.From), Due: text(b.Due), By: by(ctx, b.By), Stock: map[string]jobs.Stock{}}
	in.Rev, _ = strconv.Atoi(unquoted(r.Params.IfMatch))
	if b.Stock != nil {
		for _, s := range *b.Stock {
			in.Stock[s.Part] = jobs.Stock{State: string(s.State), Due: s.Due}
		}
	}
	kept, err := h.App.Jobs.Settle(ctx, r.ID, in)
	return gen.SettleJob200JSONResponse(settledView(kept)), err
}

func settledView(s jobs.Settled) gen.JobSettled {
	out := gen.JobSettled{Option: s.Option, Bay: s.Bay, Person: s.Person, From: s.From, Due: s.Due, By: s.By, Rev: s.Rev, Stock: []gen.JobStock{}}
	for _, part := range slices.Sorted(maps.Keys(s.Stock)) {
		out.Stock = append(out.Stock, gen.JobStock{Part: part, State: gen.JobStockState(s.Stock[part].State), Due: s.Stock[part].Due})
	}
	return out
}

func workView(o knowledge.Option) gen.JobWork { return gen.JobWork{ID: o.ID, Title: o.Title} }

func jobView(j jobs.Job) gen.Job {
	st := j.Settings
	out := gen.Job{Case: j.Case.ID, Unit: j.Network.Unit.Sheet.Name, Vehicle: j.Case.Vehicle, Words: j.Case.Words, Agreed: j.Agreed, Works: []gen.JobWork{}, Options: list(j.Options, workView), Tasks: list(j.Plan.Tasks, func(t job.Task) gen.JobTask { return taskView(j, t) }),
		Hours: j.Plan.Hours, Opening: j.Plan.Open, Apart: j.Plan.Apart, HasParts: j.Network.Unit.Stack != nil, Ordering: minor(money.Of(j.Plan.Ordering)), Without: minor(money.Of(j.Plan.Without)), Currency: st.Currency, Settled: settledView(j.Settled), Bays: texts(j.Workshop.Bays), People: texts(j.Workshop.People),
		Parts: list(j.Plan.Parts, func(p job.Part) gen.JobPart {
			return gen.JobPart{ID: p.ID, Name: p.Name, Kind: p.Kind, Kit: p.Kit, Holds: texts(p.Holds), Count: p.Count, Why: gen.JobPartWhy(p.Why), With: p.With, School: p.School, Need: p.Need, Critical: p.Share, Order: p.Order, Saves: minor(money.Of(p.Saves)), Price: minor(money.Of(p.Price)), From: gen.JobPartFrom(p.From),
				State: p.Stock.State, Due: j.Settled.Stock[p.ID].Due, Lead: p.Lead}
		})}
	for _, w := range j.Visit.Works {
		out.Works = append(out.Works, workView(w.Option))
	}
	if len(j.Plan.Tasks) > 0 {
		p := j.Promise
		out.Promise = &gen.JobPromise{Start: p.Start, Plain: p.Plain, Half: p.Half, Nine: p.Nine, Waits: p.Waits, Hours: p.Mean, Days: list(p.Days, func(d job.Day) gen.JobDay { return gen.JobDay{Day: d.At.Format(time.DateOnly), Share: d.Share} }),
			Founds: list(p.Founds, func(f job.Found) gen.JobFound { return gen.JobFound{Title: f.Title, Chance: f.Chance, Hours: f.Hours} })}
	}
	if j.Slot != nil {
		s := slotView(*j.Slot, j.Workshop)
		out.Slot = &s
	}
	return out
}

func taskView(j jobs.Job, t job.Task) gen.JobTask {
	st := j.Settings
	out := gen.JobTask{ID: t.ID, Title: t.Title, Kind: gen.JobTaskKind(t.Kind), Low: t.Time.Low, Likely: t.Time.Likely, High: t.Time.High, Mean: t.Time.Mean(), Days: t.Days.Likely, People: t.People, Level: t.Level, Start: t.Start, End: t.End, Slack: max(0, t.Slack), Critical: t.Critical, After: append([]int{}, t.After...), Parts: []string{},
		Tools:   list(t.Tools, func(x job.Tool) gen.JobTool { return gen.JobTool{Name: x.Name, Instead: x.Instead} }),
		Torques: list(t.Torques, func(x job.Torque) gen.JobTorque { return torqueView(st, x) }),
		Cautions: list(t.Cautions, func(c knowledge.Caution) gen.JobCaution {
			return gen.JobCaution{Title: c.Title, Text: c.Text, High: c.Hazard == "high"}
		}),
		Heeds: list(t.Heeds, func(x job.Heed) gen.JobHeed { return gen.JobHeed{Part: x.Part, Text: x.Text} })}
	for _, i := range t.Parts {
		out.Parts = append(out.Parts, j.Network.Unit.Stack.Parts[i].Name)
	}
	return out
}

func torqueView(st shop.Settings, x job.Torque) gen.JobTorque {
	out := gen.JobTorque{Part: x.Part, Count: x.Count, Thread: x.Thread, Stages: []string{}, Pattern: x.Pattern, With: x.With, Once: x.Once}
	for _, v := range x.Stages {
		out.Stages = append(out.Stages, si(st, v, quantity.Torque, st.Torque))
	}
	if x.Turn > 0 {
		out.Turn = si(st, x.Turn, quantity.Angle, "°")
	}
	return out
}

func slotView(s week.Slot, w shop.Workshop) gen.JobSlot {
	return gen.JobSlot{Case: s.Job, Bay: w.Bays[s.Bay], From: s.From, To: s.To, Late: s.Late, Phases: list(s.Phases, func(p week.Placed) gen.JobPhase {
		out := gen.JobPhase{Title: p.Title, From: p.From, To: p.To, By: []string{}, Wait: p.Wait}
		for _, i := range p.By {
			out.By = append(out.By, w.People[i])
		}
		return out
	})}
}

func (h *handlers) GetWeek(ctx context.Context, _ gen.GetWeekRequestObject) (gen.GetWeekResponseObject, error) {
	w, err := h.App.Jobs.Week(ctx)
	if err != nil {
		return nil, err
	}
	out := gen.Week{Now: w.Now, Bays: texts(w.Workshop.Bays), People: texts(w.Workshop.People), Days: list(w.Days(), func(d workhours.Day) gen.WeekDay { return gen.WeekDay{From: d.From, To: d.To} }), Left: w.Left, Jobs: []gen.WeekJob{}}
	for _, s := range w.Slots {
		p := w.Jobs[s.Job]
		for _, x := range s.Phases {
			out.Hours += x.Hours * float64(len(x.By))
		}
		if s.Late > 0 {
			out.Late++
		}
		out.Jobs = append(out.Jobs, gen.WeekJob{Case: s.Job, Vehicle: p.Case.Vehicle, Customer: p.Case.Customer, Unit: p.Unit, Work: p.Work, Agreed: p.Agreed, Set: p.Settled.Bay != "" || p.Settled.From != "" || p.Settled.Person != "", Due: p.Settled.Due, Missing: p.Missing, Lacks: p.Lacks, Settled: settledView(p.Settled), Slot: slotView(s, w.Workshop)})
	}
	return gen.GetWeek200JSONResponse(out), nil
}
