// Package demo fills an empty data folder with the demo shop: its people, its prices, nine cases at different
// stages and two that are closed, built through the use cases as a user would, with dates relative to today. All of it is made up.
package demo

import (
	"context"
	"fmt"
	"time"

	"innercompass/core/knowledge"
	"innercompass/core/workbench"
	"innercompass/internal/app"
	"innercompass/internal/cases"
	"innercompass/internal/measuring"
	"innercompass/internal/people"
	"innercompass/internal/quoting"
	"innercompass/internal/readings"
	"innercompass/internal/records"
	"innercompass/internal/shop"
	"innercompass/internal/takein"
	"innercompass/internal/verification"
)

type read struct{ finding, state, source, value, by string }

// measurement is a check done with its instrument, or an instrument used without a check.
type measurement struct {
	check, instrument string
	values            map[string]string
}

type visit struct {
	intake   takein.Intake
	ago      time.Duration
	stage    string
	access   string
	waitsFor string
	readings []read
	measured []measurement
	apart    string           // id of the part up to which the unit is apart; "" when it is not
	bench    []workbench.Note // what was found then
}

var staff = []people.Change{{Name: "Ines", Role: people.Diagnostician}, {Name: "Tobin", Role: people.Apprentice}, {Name: "Marit", Role: people.FrontDesk}}

func drive(temp, by string, cells map[string]string, order ...string) []read {
	var out []read
	for _, c := range order {
		out = append(out, read{"road." + temp + "." + c, cells[c], "seen", "", by})
	}
	return out
}

var visits = []visit{
	{
		intake: takein.Intake{Words: "It revs up going into third once it’s warm", Vehicle: "School minibus", Customer: "Skerry Point school", Distance: "142,310 km", UnitID: "norrad-h4", Bay: "bay 2", Owner: "Ines"},
		ago:    2*time.Hour + 10*time.Minute, stage: "checks", access: "lifted",
		readings: append([]read{
			{"road.hot.D3.shift", "flare", "customer", "", "Marit"}, {"worse-when", "hot", "customer", "", "Marit"}, {"prior-work", "fluid", "customer", "last spring", "Marit"},
		}, append(drive("hot", "Ines", map[string]string{"D1.drives": "normal", "D2.shift": "normal", "D3.shift": "flare", "D3.slips": "no", "D4.shift": "normal", "R.drives": "normal", "R.engages": "normal", "M2.drives": "normal"},
			"R.engages", "R.drives", "D1.drives", "D2.shift", "D3.shift", "D4.shift", "M2.drives"),
			read{"fluid-look", "clear", "seen", "", "Ines"})...),
		measured: []measurement{{check: "fluid-level", values: map[string]string{"height": "11 mm"}}, {check: "cable-slack", values: map[string]string{"value": "0.4 mm"}}, {instrument: "plate-capacity:DC"}},
	},
	{
		intake: takein.Intake{Words: "Pan gasket replaced twice and it still drips", Vehicle: "Forestry four-wheel drive", Customer: "Skerry forestry", Distance: "188,000 km", UnitID: "norrad-h4", Bay: "bay 1", Owner: "Tobin"},
		ago:    26 * time.Hour, stage: "checks", access: "lifted",
		readings: []read{{"says-leak", "yes", "customer", "", "Marit"}, {"prior-work", "gasket", "customer", "twice this year", "Marit"}, {"topped-up", "once", "customer", "", "Marit"}, {"wet-rail", "wet", "seen", "", "Tobin"}, {"wet-tail", "dry", "seen", "", "Tobin"}},
	},
	{
		intake: takein.Intake{Words: "Shifts up far too late with a load", Vehicle: "Harbour tow tractor", Customer: "harbour office", Distance: "6120 h", UnitID: "norrad-v3", Bay: "bay 3", Owner: "Ines"},
		ago:    3*time.Hour + 20*time.Minute, stage: "road", access: "ground",
		readings: append([]read{{"says-shift-timing", "late", "customer", "", "Marit"}, {"duty", "heavy", "customer", "", "Marit"}},
			drive("hot", "Ines", map[string]string{"D1.drives": "normal", "D2.shift": "late", "D3.shift": "late", "R.drives": "normal"}, "D1.drives", "D2.shift", "D3.shift", "R.drives")...),
	},
	{
		intake: takein.Intake{Words: "Takes ages to move off in the morning", Vehicle: "Library bus", Customer: "island library", Distance: "211,000 km", UnitID: "norrad-d2", Owner: "Tobin"},
		ago:    20 * time.Minute, stage: "complaint", access: "ground",
		readings: []read{{"says-late-engage", "yes", "customer", "", "Marit"}, {"worse-when", "morning", "customer", "", "Marit"}},
	},
	{
		intake: takein.Intake{Words: "Water got in, now it slips in everything", Vehicle: "Fire tender", Customer: "the fire chief", Distance: "41,900 km", UnitID: "ombrin-s6", Bay: "yard", Owner: "Ines"},
		ago:    4*24*time.Hour + 3*time.Hour, stage: "decision", access: "pan-off", waitsFor: "the fire chief",
		readings: append([]read{{"says-slips", "yes", "customer", "", "Marit"}, {"duty", "water", "customer", "boat ramp in the storm", "Marit"}},
			append(drive("hot", "Ines", map[string]string{"D2.slips": "yes", "D3.slips": "yes", "R.slips": "yes"}, "D2.slips", "D3.slips", "R.slips"),
				read{"fluid-look", "milky", "seen", "", "Ines"}, read{"water-test", "crackles", "seen", "", "Ines"}, read{"pan-debris", "friction", "seen", "", "Ines"})...),
	},
	{
		intake: takein.Intake{Words: "It hesitates into some gears, into others it’s perfect", Vehicle: "Taxi", Customer: "the taxi stand", Distance: "96,400 km", UnitID: "vantrice-t10", Bay: "bay 2", Owner: "Ines"},
		ago:    75 * time.Minute, stage: "road", access: "ground",
		readings: append([]read{{"worse-when", "hot", "customer", "", "Marit"}, {"since", "gradually", "customer", "", "Marit"}},
			drive("hot", "Ines", map[string]string{"R.engages": "late", "D1.engages": "normal", "D2.shift": "normal", "D4.shift": "normal", "D5.shift": "flare", "D6.shift": "normal", "D7.shift": "flare", "D9.shift": "normal"},
				"R.engages", "D1.engages", "D2.shift", "D4.shift", "D5.shift", "D6.shift", "D7.shift", "D9.shift")...),
	},
	{
		intake: takein.Intake{Words: "No reverse again, and you said it was mended", Vehicle: "Ice-cream van", Customer: "the ice-cream seller", Distance: "164,800 km", UnitID: "tessaly-e4t", Bay: "bay 3", Owner: "Tobin"},
		ago:    5 * time.Hour, stage: "teardown", access: "valve-body-off", waitsFor: "plates and rings from the ferry",
		readings: append([]read{{"since", "after-work", "customer", "a repair elsewhere", "Marit"}},
			drive("hot", "Tobin", map[string]string{"R.drives": "none", "D1.drives": "normal", "D3.shift": "normal", "D4.shift": "normal", "M1.brakes": "normal"}, "R.drives", "D1.drives", "D3.shift", "D4.shift", "M1.brakes")...),
		apart: "k3-pack",
		bench: []workbench.Note{
			{Kind: workbench.Found, Part: "pan", Ref: "kept"},
			{Kind: workbench.Found, Part: "end-cover-rings", Ref: "wrong", Words: "the thinner one sits in the middle groove"},
			{Kind: workbench.Found, Part: "k2-pack", Ref: "kept"},
			{Kind: workbench.Size, Part: "k2-pack", Ref: "clearance-K2", Value: "1.42 ± 0.05 mm"},
			{Kind: workbench.Found, Part: "k3-drum", Ref: "kept"},
			{Kind: workbench.Found, Part: "k3-pack", Ref: "burnt", Words: "black, no lining left on two"},
			{Kind: workbench.Size, Part: "k3-pack", Ref: "piece 1", Value: "1.79 mm"},
			{Kind: workbench.Size, Part: "k3-pack", Ref: "piece 2", Value: "1.38 mm"},
			{Kind: workbench.Size, Part: "k3-pack", Ref: "piece 3", Value: "1.80 mm"},
			{Kind: workbench.Size, Part: "k3-pack", Ref: "piece 4", Value: "1.22 mm"},
			{Kind: workbench.Size, Part: "k3-pack", Ref: "piece 5", Value: "1.76 mm"},
			{Kind: workbench.Size, Part: "k3-pack", Ref: "piece 6", Value: "1.31 mm"},
			{Kind: workbench.Size, Part: "k3-pack", Ref: "piece 7", Value: "4.00 mm"},
			{Kind: workbench.Size, Part: "k3-pack", Ref: "depth", Value: "16.60 mm"},
			{Kind: workbench.Found, Part: "k3-pack", Ref: "burnt", Value: "5"},
		},
	},
	{
		intake: takein.Intake{Words: "Booms in the cabin until I press the clutch", Vehicle: "Estate", Customer: "the school cook", Distance: "173,200 km", UnitID: "ombrin-m5", Bay: "yard", Owner: "Tobin"},
		ago:    50 * time.Minute, stage: "checks", access: "ground",
		readings: []read{{"says-vibration", "engine-speed", "customer", "", "Marit"}, {"noise-pedal", "goes", "seen", "", "Tobin"}},
	},
	{
		intake: takein.Intake{Words: "It whirrs when I back up to the quay", Vehicle: "Courier van", Customer: "the courier", Distance: "58,300 km", UnitID: "tessaly-p5", Owner: "Ines"},
		ago:    30 * time.Hour, stage: "road", access: "ground",
		readings: append([]read{{"since", "always", "customer", "", "Marit"}},
			drive("hot", "Ines", map[string]string{"R.noise": "noisy", "R.drives": "normal", "D1.noise": "normal", "D2.noise": "normal", "D4.noise": "normal"}, "R.noise", "R.drives", "D1.noise", "D2.noise", "D4.noise")...),
	},
}

// gauges are the demo shop's, one of them overdue.
func gauges(now time.Time) []shop.Gauge {
	until := func(days int) string { return now.AddDate(0, 0, days).Format(time.DateOnly) }
	return []shop.Gauge{
		{ID: "dial", Name: "dial indicator, bench 1", Dimension: "length", Resolution: "0.01 mm", Uncertainty: "0.012 mm", Until: until(210)},
		{ID: "micrometer", Name: "micrometer 0 to 25", Dimension: "length", Resolution: "0.01 mm", Uncertainty: "0.004 mm", Until: until(80)},
		{ID: "gauge-300", Name: "pressure gauge to 300 psi", Dimension: "pressure", Resolution: "5 psi", Uncertainty: "4 psi", Until: until(-24)},
		{ID: "gauge-module", Name: "pressure pick-up", Dimension: "pressure", Resolution: "0.1 psi", Uncertainty: "0.8 psi", Until: until(300)},
		{ID: "wrench", Name: "torque wrench to 60 N·m", Dimension: "torque", Resolution: "0.5 N·m", Uncertainty: "1.2 N·m", Until: until(120)},
	}
}

// Fill builds the demo in an empty data folder.
func Fill(ctx context.Context, s *app.App) error {
	ctx = people.With(ctx, people.AtTheMachine("demo"))
	clock := s.Now
	defer func() { s.Now = clock }()
	start := clock()
	settings := shop.DefaultSettings()
	settings.Shop, settings.Address = "Tarn & Tiller Drivetrain, Skerry Point", "Boat Yard 3\nSkerry Point"
	settings.Tax, settings.Consumables = 0.2, 0.03
	settings.Warranty = "Twelve months or 20,000 km on the work and on the parts that we put in, whichever comes first. What is driven on against our advice is outside it."
	if _, err := s.Shop.SaveSettings(ctx, settings); err != nil {
		return err
	}
	for _, p := range staff {
		if _, err := s.People.Save(ctx, p); err != nil {
			return err
		}
	}
	if _, err := s.Shop.SaveWorkshop(ctx, workshop()); err != nil {
		return err
	}
	if _, err := s.Shop.SaveGauges(ctx, gauges(start), ""); err != nil {
		return err
	}
	if _, err := s.Shop.ImportPrices(ctx, prices); err != nil {
		return err
	}
	for i := len(closed) - 1; i >= 0; i-- {
		if err := finish(ctx, s, start, closed[i]); err != nil {
			return fmt.Errorf("demo case %q: %w", closed[i].intake.Vehicle, err)
		}
	}
	open := map[string]string{}
	for i := len(visits) - 1; i >= 0; i-- {
		id, err := fill(ctx, s, start, visits[i])
		if err != nil {
			return fmt.Errorf("demo case %q: %w", visits[i].intake.Vehicle, err)
		}
		open[visits[i].intake.Vehicle] = id
	}
	id, err := rebuilt(ctx, s, start)
	if err != nil {
		return fmt.Errorf("demo case %q: %w", parcelVan.intake.Vehicle, err)
	}
	open[parcelVan.intake.Vehicle] = id
	s.Now = func() time.Time { return start }
	if err := planJobs(ctx, s, start, open); err != nil {
		return err
	}
	if err := record(ctx, s, start, open); err != nil {
		return err
	}
	return simulate(ctx, s, start, open)
}

// prices are some of the demo shop's own; the rest goes by the guide.
const prices = `unit,item,quality,price,hours,note
*,fluid,,9.80,,by the drum
*,parts:pack,,212.40,,plates, seals and filter
*,parts:converter,rebuilt,586.00,,exchange
*,parts:converter,new,940.00,,
*,parts:pan-and-selector,,38.50,,
norrad-h4,exchange,rebuilt,2290.00,,with 12 months
norrad-h4,hours:reseal,,,2.6,
ombrin-s6,exchange,rebuilt,3240.00,,
`

// done is a visit that was carried to its end.
type done struct {
	visit
	option, choice, how, name string
	closing                   verification.Closing
	work                      string
}

var closed = []done{
	{
		visit: visit{
			intake: takein.Intake{Words: "It drips where it stands, red drops", Vehicle: "Forestry four-wheel drive", Customer: "Skerry forestry", Distance: "181,500 km", UnitID: "norrad-h4", Bay: "bay 1", Owner: "Tobin"},
			ago:    94 * 24 * time.Hour, stage: "proof", access: "lifted",
			readings: []read{{"says-leak", "yes", "customer", "", "Marit"}, {"wet-rail", "wet", "seen", "", "Tobin"}},
		},
		option: "pan-and-selector", choice: "declined", how: "phone", name: "the forestry office",
		closing: verification.Closing{Outcome: "declined"},
	},
	{
		visit: visit{
			intake: takein.Intake{Words: "It chatters since it got a new clutch", Vehicle: "Veterinary van", Customer: "the vet", Distance: "88,700 km", UnitID: "vantrice-a6", Bay: "bay 2", Owner: "Ines"},
			ago:    12 * 24 * time.Hour, stage: "proof", access: "ground",
			readings: []read{{"since", "after-work", "customer", "new clutch elsewhere", "Marit"}, {"slip-point", "off", "measured", "", "Ines"}},
		},
		option: "teach", choice: "accepted", how: "signed", name: "the vet",
		closing: verification.Closing{Root: "slip-point-untaught", Outcome: "cured", CuredBy: "teach", Learnt: "Ask whether the wear index was reset before anything is taken out."},
		work:    "Point of initial slip taught on the warm clutch, wear index reset, creeping tried on the ramp.",
	},
}

// finish takes a visit to its end: decided, proven as far as it was cured, closed, with its record.
func finish(ctx context.Context, s *app.App, start time.Time, d done) error {
	id, err := fill(ctx, s, start, d.visit)
	if err != nil {
		return err
	}
	decision := quoting.NewDecision{Option: d.option, Choice: d.choice, How: d.how, Name: d.name, By: "Marit"}
	if d.how == "signed" {
		decision.Signature = "M120 250L160 140L200 260L250 180L300 250L380 170L420 240L520 200L560 230L700 180"
	}
	if _, err := s.Quoting.Decide(ctx, id, cases.Guard{}, decision); err != nil {
		return err
	}
	if d.closing.Outcome == "cured" {
		view, err := s.Overview.View(ctx, id)
		if err != nil {
			return err
		}
		for _, p := range view.Proof {
			note := ""
			if p.Window != nil {
				note = p.Window.Low.Format(p.Unit)
			}
			if _, err := s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: p.ID, Result: "pass", Note: note, By: d.intake.Owner}); err != nil {
				return err
			}
		}
	}
	if _, err := s.Verification.Close(ctx, id, cases.Guard{}, d.closing); err != nil {
		return err
	}
	_, err = s.Records.Issue(ctx, id, cases.Guard{}, records.NewRecord{By: "Marit", Work: d.work})
	return err
}

// fill takes a visit in and reads what was read; it returns the case's id.
func fill(ctx context.Context, s *app.App, start time.Time, v visit) (string, error) {
	at := start.Add(-v.ago)
	s.Now = func() time.Time { return at }
	return play(ctx, s, v, func(step time.Duration) { at = at.Add(step) })
}

// Sample makes the first case of the demo in the shop at hand, as a sample, and returns its id: it happens now, by the shop's own clock.
func Sample(ctx context.Context, s *app.App) (string, error) {
	v := visits[0]
	v.intake.Sample = true
	id, err := play(ctx, s, v, func(time.Duration) {})
	if err != nil {
		return "", err
	}
	return id, s.Floor.Refresh(ctx) // its row: what changes a case for a page leaves it behind, play does not
}

// play takes a visit in and reads what was read, with a pause before each.
func play(ctx context.Context, s *app.App, v visit, pause func(time.Duration)) (string, error) {
	view, err := s.Intake.TakeIn(ctx, v.intake)
	if err != nil {
		return "", err
	}
	id := view.Case.ID
	// The newest visit is this one. A sample is of nobody's vehicle, whatever it is called.
	if before, err := s.Intake.EarlierVisits(ctx, v.intake.Vehicle, v.intake.Customer); err == nil && len(before) > 1 && !v.intake.Sample {
		if _, err := s.Intake.Link(ctx, id, cases.Guard{}, before[1].ID); err != nil {
			return "", err
		}
	}
	n, err := s.Library.Unit(ctx, v.intake.UnitID, 0)
	if err != nil {
		return "", err
	}
	step := min(v.ago, 6*time.Hour) / time.Duration(len(v.readings)+len(v.measured)+4)
	for _, r := range v.readings {
		pause(step)
		if _, err := s.Readings.AddReadings(ctx, id, cases.Guard{}, []readings.NewReading{{Finding: r.finding, State: r.state, Source: r.source, Value: r.value, By: r.by, Stage: stageOf(n, r)}}); err != nil {
			return "", err
		}
	}
	for _, m := range v.measured {
		pause(step)
		use := measuring.Use{By: v.intake.Owner, Values: m.values}
		if m.check != "" {
			_, err = s.Checks.PutMeasured(ctx, id, cases.Guard{}, m.check, use)
		} else {
			_, err = s.Measuring.PutCalculated(ctx, measuring.InstrumentAt{Name: m.instrument, Case: id}, cases.Guard{}, use)
		}
		if err != nil {
			return "", err
		}
	}
	if _, err = s.Intake.Update(ctx, id, cases.Guard{}, takein.Change{Stage: &v.stage, Access: &v.access, WaitsFor: &v.waitsFor}); err != nil || v.apart == "" {
		return id, err
	}
	return id, takeApart(ctx, s, id, v)
}

// takeApart takes the unit of a case apart by its list up to a part, traps read and marks made, and notes what was found.
func takeApart(ctx context.Context, s *app.App, id string, v visit) error {
	for {
		at, err := s.Teardown.View(ctx, id)
		if err != nil {
			return err
		}
		next, _ := at.Bench.Next(at.Level)
		if next < 0 {
			return fmt.Errorf("demo: the work ends before %s comes out", v.apart)
		}
		part := at.Unit.Stack.Parts[next]
		if part.ID == v.apart {
			_, err := s.Teardown.Write(ctx, id, cases.Guard{}, v.intake.Owner, v.bench)
			return err
		}
		var notes []workbench.Note
		for _, trap := range at.Bench.TrapsOf(next, "out") {
			notes = append(notes, workbench.Note{Kind: workbench.Trap, Part: part.ID, Ref: fmt.Sprint(trap)})
		}
		if part.Mark != "" {
			notes = append(notes, workbench.Note{Kind: workbench.Marked, Part: part.ID})
		}
		if _, err := s.Teardown.Write(ctx, id, cases.Guard{}, v.intake.Owner, append(notes, workbench.Note{Kind: workbench.Out, Part: part.ID})); err != nil {
			return err
		}
	}
}

func stageOf(n *knowledge.Network, r read) string {
	if r.source == "customer" {
		return "complaint"
	}
	f, _ := n.Finding(r.finding)
	return f.Stage
}
