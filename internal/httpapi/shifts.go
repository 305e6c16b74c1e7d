package httpapi

import (
	"context"
	"math"
	"slices"

	"innercompass/core/shifts"
	"innercompass/core/trials"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/recordings"
	"innercompass/internal/shifting"
)

func trialOf(t *gen.RecordingTrial) *recordings.Trial {
	if t == nil {
		return nil
	}
	out := recordings.Trial{Since: t.Since, Note: text(t.Note)}
	if t.Changed != nil {
		for _, c := range *t.Changed {
			out.Changed = append(out.Changed, trials.Change(c))
		}
	}
	return &out
}

func (h *handlers) GetShifts(ctx context.Context, r gen.GetShiftsRequestObject) (gen.GetShiftsResponseObject, error) {
	p := r.Params
	t, err := h.App.Shifting.Shifts(ctx, r.ID, shifting.Asked{From: value(p.From), To: value(p.To), Selector: text(p.Selector), Sound: text(p.Sound)})
	if err != nil {
		return nil, err
	}
	v := shiftsView(t)
	if n, err := h.App.Library.Unit(ctx, t.Unit.Sheet.ID, 0); err == nil {
		temperature := t.Temperature()
		if temperature == "" {
			temperature = "hot"
		}
		for _, x := range t.Verdicts(n, temperature) {
			v.Verdicts = append(v.Verdicts, gen.ShiftVerdict{Finding: x.Finding, State: x.State, Title: x.Title, Value: x.Value})
		}
	}
	return gen.GetShifts200JSONResponse(v), nil
}

func (h *handlers) NoteShifts(ctx context.Context, r gen.NoteShiftsRequestObject) (gen.NoteShiftsResponseObject, error) {
	p := r.Params
	temperature := ""
	if p.Temperature != nil {
		temperature = string(*p.Temperature)
	}
	saved, noted, err := h.App.Shifting.Note(ctx, r.ID, shifting.Asked{From: value(p.From), To: value(p.To), Selector: text(p.Selector), Sound: text(p.Sound)}, temperature, by(ctx, p.By))
	if err != nil {
		return nil, err
	}
	return gen.NoteShifts200JSONResponse{Case: saved.Case.ID, Said: list(noted, func(x shifting.Noted) string { return x.Title })}, nil
}

func (h *handlers) CompareShifts(ctx context.Context, r gen.CompareShiftsRequestObject) (gen.CompareShiftsResponseObject, error) {
	p := r.Params
	c, err := h.App.Shifting.Compare(ctx, r.ID, p.After, shifting.Asked{From: value(p.From), To: value(p.To), Selector: text(p.Selector), Sound: text(p.Sound)})
	if err != nil {
		return nil, err
	}
	return gen.CompareShifts200JSONResponse(comparedView(c)), nil
}

func (h *handlers) ProveShifts(ctx context.Context, r gen.ProveShiftsRequestObject) (gen.ProveShiftsResponseObject, error) {
	p := r.Params
	saved, noted, err := h.App.Shifting.IntoProof(ctx, r.ID, p.After, shifting.Asked{From: value(p.From), To: value(p.To), Selector: text(p.Selector), Sound: text(p.Sound)}, by(ctx, p.By))
	if err != nil {
		return nil, err
	}
	return gen.ProveShifts200JSONResponse{Case: saved.Case.ID, Said: noted}, nil
}

func shiftsView(t shifting.Told) gen.ShiftsTold {
	v := gen.ShiftsTold{Unit: t.Unit.Sheet.ID, UnitName: t.Unit.Sheet.Name, Selector: t.Box.Selector, Selectors: []string{}, Rate: t.Rate, Offset: t.Offset, Worst: t.Worst(), Said: t.Blamed(), Limits: list(t.Limits, same[string]), Temperature: t.Temperature(),
		Gears: []gen.ShiftGear{}, Shifts: []gen.ShiftTold{}, Kinds: []gen.ShiftKind{}, Engagements: []gen.EngagementTold{}, Missing: []gen.MissingShift{}, Suspects: []gen.ShiftSuspect{}, Verdicts: []gen.ShiftVerdict{}, Taps: []gen.TapTold{}, Channels: []gen.ShiftChannel{}}
	v.Sure = len(t.Suspects) > 0 && t.Suspects[0].Probability >= 0.75 && t.Suspects[0].Blame != shifts.Sound
	for _, r := range t.Unit.Ranges {
		if r.Driving() && !slices.Contains(v.Selectors, r.Selector) && len(shifts.Of(t.Unit, r.Selector).Gears) > 1 {
			v.Selectors = append(v.Selectors, r.Selector)
		}
	}
	for _, g := range t.Box.Gears {
		v.Gears = append(v.Gears, gen.ShiftGear{ID: g.ID, Name: g.Name, Number: g.Number, Ratio: g.Ratio})
	}
	for i := range t.Shifts {
		v.Shifts = append(v.Shifts, shiftView(t, i))
	}
	for _, k := range t.Kinds() {
		v.Kinds = append(v.Kinds, gen.ShiftKind{From: k.From, To: k.To, FromName: gearName(t, k.From), ToName: gearName(t, k.To), Shifts: k.N, Out: k.Out, Inertia: k.Inertia, Scatter: k.InertiaScatter, Flare: k.Flare, Throttle: k.Throttle, Look: k.Look})
	}
	for _, e := range t.Engagements {
		v.Engagements = append(v.Engagements, gen.EngagementTold{At: e.At, Gear: e.Gear, Name: gearName(t, e.Gear), Delay: gen.Uncertain{Value: e.Delay, U: e.DelayU}, Finished: e.Finished, Late: e.Finished && e.Delay-e.DelayU > shifts.UsualTake})
	}
	for _, m := range t.Missing {
		v.Missing = append(v.Missing, gen.MissingShift{At: m.At, From: m.From, To: m.To, FromName: gearName(t, m.From), ToName: gearName(t, m.To)})
	}
	for _, s := range t.Suspects[:min(5, len(t.Suspects))] {
		v.Suspects = append(v.Suspects, gen.ShiftSuspect{Blame: string(s.Blame), Element: s.Element, Words: t.Word(s), Look: shifting.Look(s), Probability: s.Probability})
	}
	for _, x := range t.Taps {
		v.Taps = append(v.Taps, gen.TapTold{Element: x.Element, Name: t.ElementName(x.Element), State: x.State, Words: shifting.TapWords(x), Seen: x.Seen})
	}
	for role, i := range t.Channels {
		c := t.Recording.Channels[i]
		x := gen.ShiftChannel{Role: string(c.Role), Name: c.Name, Unit: c.Unit, Channel: i}
		if string(c.Role) != role {
			x.Element = role
		}
		v.Channels = append(v.Channels, x)
	}
	slices.SortFunc(v.Channels, func(a, b gen.ShiftChannel) int { return a.Channel - b.Channel })
	if l := t.Lockup; l.OnFor > 0 || len(l.Shudders) > 0 {
		v.Converter = converterView(t)
	}
	if t.Touch != nil {
		v.Touch = touchView(t.Touch)
	}
	return v
}

// touchView is where an automated clutch takes hold.
func touchView(t *shifting.Touched) *gen.TouchTold {
	out := &gen.TouchTold{Point: gen.Uncertain{Value: t.Point, U: t.U}, Ramps: len(t.Ramps), Ramp: t.Ramps[0].Ramp, Unlike: t.Unlike, Repeatable: t.Repeatable, JudderHertz: t.JudderHertz, JudderDepth: t.JudderDepth}
	if t.Window.High > 0 {
		inside := t.Window.Holds(t.Point, t.U)
		out.Inside = &inside
		out.Window = &gen.ShiftWindow{Low: t.Window.Low, High: t.Window.High}
	}
	if m := t.Since; m != nil {
		out.Since = &gen.TouchMoved{By: gen.Uncertain{Value: m.By, U: m.U}, Unlike: m.Unlike}
		if t.Window.High > 0 {
			out.Since.Wear = &gen.Uncertain{Value: m.Wear, U: m.Sure}
		}
	}
	return out
}

func gearName(t shifting.Told, id string) string {
	for _, g := range t.Box.Gears {
		if g.ID == id {
			return g.Name
		}
	}
	return id
}

func elementsView(t shifting.Told, ids []string) []gen.ShiftElement {
	return list(ids, func(id string) gen.ShiftElement {
		e, _ := t.Unit.Element(id)
		return gen.ShiftElement{ID: id, Name: e.Name}
	})
}

func shiftView(t shifting.Told, i int) gen.ShiftTold {
	s, a := t.Shifts[i], t.Against[i]
	c := t.Box.Change(s.From, s.To)
	v := gen.ShiftTold{From: s.From, To: s.To, FromName: gearName(t, s.From), ToName: gearName(t, s.To), Begin: s.Begin, End: s.End, Down: s.Down, Skips: s.Skips, Unfinished: s.Unfinished, Inertia: gen.Uncertain{Value: s.Inertia, U: s.InertiaU}, Flare: gen.Uncertain{Value: s.Flare, U: s.FlareU},
		FlareAt: s.FlareAt, FlareArea: s.FlareArea, After: gen.Uncertain{Value: s.After, U: s.AfterU}, Leaves: gen.ShiftMoment{At: s.Leaves.At, U: s.Leaves.U}, Arrives: gen.ShiftMoment{At: s.Arrives.At, U: s.Arrives.U}, Command: momentView(s.Command), Filled: momentView(s.Filled), Opens: momentView(s.Opens),
		Throttle: s.Throttle, Fluid: s.Fluid, Line: s.Line, Heat: []gen.ElementHeat{}, Way: list(s.Way, same[float64]), On: elementsView(t, c.On), Off: elementsView(t, c.Off), Said: t.Said(i), Windows: windowsView(a.Windows),
		Out: gen.ShiftOut{Any: a.Any(), Long: a.Long, Quick: a.Quick, Flared: a.Flared, FillsLate: a.FillsLate, Tied: a.Tied, SlipsAfter: a.SlipsAfter, LowPressure: a.LowPressure}}
	v.Fill, v.Torque, v.Overlap = uncertain(s.Fill()), uncertain(s.Phases.Torque()), uncertain(s.Tie())
	for _, id := range c.On {
		if h, ok := s.Heat[id]; ok {
			e, _ := t.Unit.Element(id)
			v.Heat = append(v.Heat, gen.ElementHeat{Element: id, Name: e.Name, Joules: h})
		}
	}
	return v
}

func momentView(m shifts.Moment) *gen.ShiftMoment {
	if !m.Known {
		return nil
	}
	return &gen.ShiftMoment{At: m.At, U: m.U}
}

func uncertain(x, u float64, ok bool) *gen.Uncertain {
	if !ok {
		return nil
	}
	return &gen.Uncertain{Value: x, U: u}
}

func windowView(w shifts.Window) gen.ShiftWindow { return gen.ShiftWindow{Low: w.Low, High: w.High} }

func windowsView(w shifts.Windows) gen.ShiftWindows {
	return gen.ShiftWindows{Inertia: windowView(w.Inertia), Fill: windowView(w.Fill), Overlap: windowView(w.Overlap), Flare: windowView(w.Flare), After: windowView(w.After), Shifts: w.Shifts}
}

func converterView(t shifting.Told) *gen.ConverterTold {
	l := t.Lockup
	v := &gen.ConverterTold{Applies: []gen.ConverterApply{}, Slips: []gen.ConverterSlip{}, Shudders: []gen.ConverterShudder{}, Rate: l.Rate, Seconds: l.OnFor, Said: t.Converted()}
	for _, a := range l.Applies {
		v.Applies = append(v.Applies, gen.ConverterApply{At: a.At, Took: a.Took, Gear: gearName(t, a.Gear), Slip: a.Slip, Throttle: a.Throttle, Fluid: a.Fluid, Seconds: a.For, LetGo: a.LetGo})
	}
	for _, c := range l.Cells {
		v.Slips = append(v.Slips, gen.ConverterSlip{Throttle: c.Throttle, Fluid: c.Fluid, Slip: gen.Uncertain{Value: c.Slip, U: c.U}, Seconds: c.Seconds})
	}
	for _, s := range l.Shudders {
		v.Shudders = append(v.Shudders, gen.ConverterShudder{From: s.From, To: s.To, Gear: gearName(t, s.Gear), Hertz: s.Hertz, Depth: s.Depth, AtLeast: s.AtLeast, Others: list(s.Others, same[float64]), Engine: s.Engine, Slip: s.Slip, Throttle: s.Throttle, Fluid: s.Fluid, PerEngine: s.PerEngine})
	}
	return v
}

func comparedView(c shifting.Compared) gen.ShiftCompared {
	v := gen.ShiftCompared{Before: recordingRef(c.Before), After: recordingRef(c.After), Headline: c.Headline(), Warnings: list(c.Warnings(), same[string]), Follows: c.Follows, Changed: []string{}, Kinds: []gen.TrialKind{}}
	if c.Follows {
		v.Note = c.After.Recording.Trial.Note
		for _, x := range c.Effect.Changed {
			v.Changed = append(v.Changed, string(x))
		}
	}
	foremost, most, told := trials.Foremost(c.Kinds)
	for i, k := range c.Kinds {
		x := gen.TrialKind{From: k.From, To: k.To, FromName: gearName(c.Before, k.From), ToName: gearName(c.Before, k.To), Down: k.Down, Before: len(k.Before), After: len(k.After), Unlike: k.Unlike, ThrottleApart: k.ThrottleApart, FluidApart: k.FluidApart, Differences: []gen.TrialDifference{}}
		for _, g := range c.Before.Box.Gears {
			if g.ID == k.From {
				x.FromRatio = g.Ratio
			}
			if g.ID == k.To {
				x.ToRatio = g.Ratio
			}
		}
		a, b := trials.Typical(k.Before), trials.Typical(k.After)
		x.TypicalBefore, x.TypicalAfter = gen.ShiftMoment{At: a.Leaves.At, U: a.Leaves.U}, gen.ShiftMoment{At: b.Leaves.At, U: b.Leaves.U}
		x.BeforeTime, x.AfterTime = a.Inertia, b.Inertia
		x.ThrottleLow, x.ThrottleHigh = 1, 0
		for _, s := range append(slices.Clone(k.Before), k.After...) {
			x.ThrottleLow, x.ThrottleHigh = math.Min(x.ThrottleLow, s.Throttle), math.Max(x.ThrottleHigh, s.Throttle)
		}
		for j, d := range k.Differences {
			x.Differences = append(x.Differences, differenceView(d))
			if told && k.From == foremost.From && k.To == foremost.To && d.Quantity == most.Quantity {
				v.Foremost = &gen.Foremost{Kind: i, Difference: j}
			}
		}
		v.Kinds = append(v.Kinds, x)
	}
	return v
}

func differenceView(d trials.Difference) gen.TrialDifference {
	name, unit, decimals := shifting.Named(d.Quantity)
	v := gen.TrialDifference{Quantity: string(d.Quantity), Name: name, Unit: unit, Decimals: decimals, Before: gen.TrialSide{Mean: d.Before.Mean, Scatter: d.Before.Scatter, Shifts: d.Before.N}, After: gen.TrialSide{Mean: d.After.Mean, Scatter: d.After.Scatter, Shifts: d.After.N},
		Change: d.Change, Verdict: gen.TrialDifferenceVerdict(d.Verdict), Needed: d.Needed, Said: shifting.Difference(d)}
	if !math.IsInf(d.Bound, 1) {
		v.Bound = &d.Bound
	}
	if d.Windowed {
		w := windowView(d.Window)
		v.Window = &w
	}
	return v
}

func recordingRef(t shifting.Told) gen.RecordingRef {
	return gen.RecordingRef{ID: t.Recording.ID, Title: t.Recording.Title, Turbine: t.Channels["turbine"], Output: t.Channels["output"], Offset: t.Offset}
}
