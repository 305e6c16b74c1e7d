package demo

import (
	"context"
	"fmt"
	"time"

	"innercompass/core/workbench"
	"innercompass/core/workhours"
	"innercompass/internal/app"
	"innercompass/internal/cases"
	"innercompass/internal/jobs"
	"innercompass/internal/quoting"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
)

// workshop is the demo shop's: three bays, two at the bench, parts by the ferry.
func workshop() shop.Workshop {
	w := shop.Workshop{Bays: []string{"Bay 1", "Bay 2", "Bay 3"}, People: []string{"Ines", "Tobin"}, Break: workhours.Span{From: 12 * 60, To: 12*60 + 45}, BayRate: 38, Lead: 3, Machine: 4, Restock: 0.15, SendBack: 14}
	for d := time.Monday; d <= time.Friday; d++ {
		w.Days[d] = workhours.Span{From: 8 * 60, To: 17 * 60}
	}
	w.Days[time.Saturday] = workhours.Span{From: 9 * 60, To: 12 * 60}
	return w
}

// planned is what was settled about the job of a vehicle; Due counts days from the start of the demo.
type planned struct {
	vehicle string
	settled jobs.Settled
	due     int
	state   string // of the parts that it surely takes; "" when nobody has ordered any
	days    int    // until they are here, when ordered
}

var plannedJobs = []planned{
	{vehicle: "School minibus", settled: jobs.Settled{Option: "pack.DC"}, due: 7},
	{vehicle: "Harbour tow tractor", settled: jobs.Settled{Option: "modulator"}, due: 2, state: "shelf"},
	{vehicle: "Forestry four-wheel drive", settled: jobs.Settled{Option: "pan-and-selector", Bay: "Bay 1"}, due: 1, state: "shelf"},
	{vehicle: "Fire tender", settled: jobs.Settled{Option: "linings"}, due: 11, state: "ordered", days: 2},
	{vehicle: "Ice-cream van", settled: jobs.Settled{Option: "pack.K3", Bay: "Bay 3"}, due: 4, state: "ordered", days: 2},
	{vehicle: "Parcel van", due: 3, state: "here"},
}

// planJobs settles what the shop has planned: the work first, then where its parts are.
func planJobs(ctx context.Context, s *app.App, start time.Time, open map[string]string) error {
	for _, p := range plannedJobs {
		in := p.settled
		in.By = "Marit"
		in.Due = time.Date(start.Year(), start.Month(), start.Day()+p.due, 17, 0, 0, 0, start.Location()).Format(time.RFC3339)
		kept, err := s.Jobs.Settle(ctx, open[p.vehicle], in)
		if err != nil {
			return fmt.Errorf("demo job of %q: %w", p.vehicle, err)
		}
		if p.state == "" {
			continue
		}
		j, err := s.Jobs.Job(ctx, open[p.vehicle], "")
		if err != nil {
			return err
		}
		kept.Stock = map[string]jobs.Stock{}
		for _, part := range j.Plan.Parts {
			if part.Sure() {
				kept.Stock[part.ID] = jobs.Stock{State: p.state}
				if p.days > 0 {
					kept.Stock[part.ID] = jobs.Stock{State: p.state, Due: start.AddDate(0, 0, p.days).Format(time.DateOnly)}
				}
			}
		}
		if _, err := s.Jobs.Settle(ctx, open[p.vehicle], kept); err != nil {
			return err
		}
	}
	return nil
}

// parcelVan is a unit on its way back together.
var parcelVan = visit{
	intake: takein.Intake{Words: "It shudders at seventy, like driving over corrugated iron", Vehicle: "Parcel van", Customer: "the parcel office", Distance: "261,400 km", UnitID: "ombrin-s6", Bay: "bay 2", Owner: "Ines"},
	ago:    3*24*time.Hour + 2*time.Hour, stage: "teardown", access: "unit-apart",
	readings: []read{{"says-shudder", "yes", "customer", "", "Marit"}, {"tcc-brake-test", "jumps", "seen", "", "Ines"}, {"shudder-gear", "locked", "seen", "", "Ines"}, {"tcc-slip", "surging", "measured", "", "Ines"}, {"converter-drain", "friction", "seen", "", "Ines"}},
	apart:    "park-pawl",
	bench: []workbench.Note{
		{Kind: workbench.Found, Part: "converter", Ref: "worn", Words: "lining of its clutch in what drains"},
		{Kind: workbench.Found, Part: "ca-pack", Ref: "kept"},
		{Kind: workbench.Found, Part: "cb-pack", Ref: "worn"},
		{Kind: workbench.Found, Part: "ce-pack", Ref: "kept"},
		{Kind: workbench.Found, Part: "bc-pack", Ref: "kept"},
		{Kind: workbench.Found, Part: "bd-pack", Ref: "kept"},
		{Kind: workbench.Found, Part: "pump-vanes", Ref: "kept"},
		{Kind: workbench.Renew, Part: "converter", Ref: "renew"},
		{Kind: workbench.Renew, Part: "cb-pack", Ref: "renew"},
		{Kind: workbench.Renew, Part: "ca-pack", Ref: "reuse"},
		{Kind: workbench.Renew, Part: "ce-pack", Ref: "reuse"},
		{Kind: workbench.Renew, Part: "pump-bushing", Ref: "renew"},
		{Kind: workbench.Renew, Part: "front-drum", Ref: "machine"},
	},
}

// builtUpTo is the part of the parcel van's unit that goes back next.
const builtUpTo = "front-drum"

// rebuilt is the parcel van: agreed, taken apart, and built again as far as it is.
func rebuilt(ctx context.Context, s *app.App, start time.Time) (string, error) {
	id, err := fill(ctx, s, start, parcelVan)
	if err != nil {
		return "", err
	}
	if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, quoting.NewDecision{Option: "overhaul", Choice: "accepted", How: "phone", Name: "the parcel office", By: "Marit"}); err != nil {
		return "", err
	}
	at, err := s.Teardown.View(ctx, id)
	if err != nil {
		return "", err
	}
	parts := at.Unit.Stack.Parts
	for bench := at.Bench; ; {
		build := bench.Build()
		next := build.NextIn()
		if next < 0 || parts[next].ID == builtUpTo {
			return id, nil
		}
		notes := builtIn(build, next, parts[next].ID)
		if _, err := s.Teardown.Write(ctx, id, cases.Guard{}, parcelVan.intake.Owner, notes); err != nil {
			return "", err
		}
		if at, err = s.Teardown.View(ctx, id); err != nil {
			return "", err
		}
		bench = at.Bench
	}
}

// builtIn are the notes with which a part goes back, its checks made.
func builtIn(build *workbench.Building, i int, part string) []workbench.Note {
	var notes, after []workbench.Note
	for _, c := range build.Checks[i] {
		done := workbench.Note{Kind: workbench.Done, Part: part, Ref: c.ID}
		switch {
		case c.State != "open":
		case c.ID == "once":
			notes = append(notes, workbench.Note{Kind: workbench.Renew, Part: part, Ref: "renew"})
		case c.When == workbench.Before:
			notes = append(notes, done)
		default:
			done.Value = "as it should be"
			after = append(after, done)
		}
	}
	return append(append(notes, workbench.Note{Kind: workbench.In, Part: part}), after...)
}
