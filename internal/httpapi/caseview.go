package httpapi

import (
	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/quantity"
	"innercompass/internal/cases"
	"innercompass/internal/checks"
	"innercompass/internal/floor"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/people"
	"innercompass/internal/present"
	"innercompass/internal/shop"
)

// list maps a slice; its result is never nil, so that JSON has [] and not null.
func list[A, B any](in []A, f func(A) B) []B {
	out := make([]B, len(in))
	for i, x := range in {
		out[i] = f(x)
	}
	return out
}

func texts(in []string) []string { return append([]string{}, in...) }

func caseView(v present.View) gen.Case {
	return gen.Case{ID: v.Case.ID, Rev: v.Case.Rev, Head: headView(v), Ranking: rankingView(v), Decisions: list(v.Decisions, decisionView), Estimates: list(v.Estimates, estimateView), Proof: proofsView(v), Records: recordsView(v.Case), Photos: photosView(v.Case)}
}

// newsView has the parts that a change has made new.
func newsView(v present.View, before int) gen.CaseNews {
	return gen.CaseNews{Rev: v.Case.Rev, Before: before, Head: part(v.Parts.Head, headView, v), Ranking: part(v.Parts.Ranking, rankingView, v),
		Decisions: part(v.Parts.Decisions, func(v present.View) []gen.Decision { return list(v.Decisions, decisionView) }, v),
		Estimates: part(v.Parts.Estimates, func(v present.View) []gen.Estimate { return list(v.Estimates, estimateView) }, v),
		Proof:     part(v.Parts.Proof, proofsView, v), Records: part(v.Parts.Records, recordsView, v.Case), Photos: part(v.Parts.Photos, photosView, v.Case)}
}

// part is a part that is there, or nil.
func part[V, T any](there bool, f func(V) T, v V) *T {
	if !there {
		return nil
	}
	out := f(v)
	return &out
}

func headView(v present.View) gen.CaseHead {
	c := v.Case
	out := gen.CaseHead{
		ID: c.ID, Words: c.Words, Vehicle: c.Vehicle, Customer: c.Customer, Distance: c.Distance, Unit: c.UnitID, UnitName: v.UnitName, UnitVersion: c.UnitVer, UnitNewest: v.UnitNewest, UnitNote: v.UnitNote,
		Stage: c.Stage, Access: c.Access, Bay: c.Bay, Owner: c.Owner, WaitsFor: c.WaitsFor, Opened: c.Opened, Closed: c.Closed != nil, Root: c.Root, Outcome: c.Outcome,
		Ladder: list(v.Ladder, rungView), Later: list(v.Later, visitView), DueAt: c.DueAt, DueDistance: c.DueDistance, DueNote: c.DueNote, Damages: texts(c.Damages), CuredBy: c.CuredBy, Learnt: c.Learnt, Sample: c.Sample, Nearest: c.Nearest,
	}
	if v.Earlier != nil {
		earlier := visitView(*v.Earlier)
		out.Earlier = &earlier
	}
	return out
}

func rankingView(v present.View) gen.Ranking {
	return gen.Ranking{Rev: v.Case.Rev, Trail: list(v.Trail, trailView), Rose: roseView(v.Rose), Suspects: list(v.Suspects, suspectView), Suspicion: suspicionView(v.Suspicion), Weighed: v.Weighed,
		Heading:  gen.Recommendation{Best: list(v.Heading.Best, adviceView), Stop: v.Heading.Stop, InVain: v.Heading.InVain, Doubt: v.Heading.Doubt, RepairBy: v.Heading.RepairBy},
		Surprise: gen.Surprise{Outside: v.Surprise.Outside, Sentence: v.Surprise.Sentence, Limits: v.Surprise.Limits},
		Road:     roadView(v.Road)}
}

func estimateView(e present.EstimateView) gen.Estimate {
	return gen.Estimate{ID: e.ID, Token: e.Token, By: e.By, State: e.State, At: e.At, Expires: e.Expires, Options: texts(e.Options)}
}

func proofsView(v present.View) []gen.Proof {
	return list(v.Proof, func(p present.ProofView) gen.Proof { return proofView(p, v.Style) })
}

func recordsView(c cases.Case) []gen.IssuedRecord {
	return list(c.Records, func(r cases.Record) gen.IssuedRecord {
		return gen.IssuedRecord{ID: r.ID, Number: cases.RecordNumber(c.ID, r.Seq), By: r.By, At: r.At, Amends: r.Amends, Why: r.Why, Digest: r.Digest}
	})
}

func photosView(c cases.Case) []gen.Photo {
	return list(c.Pictures(), func(p cases.Photo) gen.Photo {
		return gen.Photo{ID: p.ID, Caption: p.Caption, Stage: p.Stage, Part: p.Part, By: p.By, At: p.At, Width: p.Width, Height: p.Height}
	})
}

func rungView(r present.Rung) gen.Rung {
	return gen.Rung{Level: r.Level, Minutes: r.Minutes, State: r.State}
}

func trailView(t present.TrailItem) gen.TrailItem {
	return gen.TrailItem{ID: t.ID, Stage: t.Stage, Source: t.Source, Finding: t.Finding, Title: t.Title, State: t.State, StateTitle: t.StateTitle, Value: t.Value, Note: t.Note, By: t.By, At: t.At,
		Normal: t.Normal, Weight: t.Weight, WithoutLeader: t.WithoutLeader, WithoutShare: t.WithoutShare, LeaderWithout: t.LeaderWithout, Again: t.Again, HangsOn: t.HangsOn, Unexplained: t.Unexplained, Code: t.Code}
}

func roseView(r present.Rose) gen.Rose {
	return gen.Rose{Leader: r.Leader, Doubt: r.Doubt, Systems: list(r.Systems, func(s present.SystemShare) gen.SystemShare {
		return gen.SystemShare{ID: s.ID, Title: s.Title, Share: s.Share}
	})}
}

func weighted(w present.WeightedReading) gen.WeightedReading {
	return gen.WeightedReading{ID: w.ID, Title: w.Title, Weight: w.Weight}
}

func suspectView(s present.SuspectView) gen.Suspect {
	return gen.Suspect{ID: s.ID, Title: s.Title, System: s.System, Probability: s.Probability, Change: s.Change, Reason: s.Reason, For: list(s.For, weighted), Against: list(s.Against, weighted)}
}

func cautionView(c knowledge.Caution) gen.Caution {
	return gen.Caution{Hazard: c.Hazard, Title: c.Title, Text: c.Text}
}

func adviceView(a present.AdviceView) gen.Advice {
	return gen.Advice{Again: a.Again, Check: a.Check, Title: a.Title, Tells: a.Tells, Why: a.Why, Access: a.Access, Minutes: a.Minutes, Climb: a.Climb, Along: texts(a.Along), AlongMinutes: a.AlongMinutes, Saves: a.Saves, First: texts(a.First), Fluid: a.Fluid, Cautions: list(a.Cautions, cautionView), Drive: a.Drive}
}

func roadView(r present.Road) gen.Road {
	return gen.Road{Ranges: texts(r.Ranges), Sentence: r.Sentence, DriveNext: r.DriveNext, DriveText: r.DriveText, Caution: r.Caution, Driven: r.Driven, Cells: r.Cells,
		Legs: list(r.Legs, func(l present.RoadLeg) gen.RoadLeg {
			return gen.RoadLeg{Title: l.Title, How: l.How, Hot: texts(l.Hot), Cold: texts(l.Cold)}
		}),
		Rows: list(r.Rows, func(row present.RoadRow) gen.RoadRow {
			return gen.RoadRow{Behaviour: row.Behaviour, Title: row.Title,
				States: list(row.States, func(s faultmap.State) gen.CellState {
					return gen.CellState{ID: s.ID, Title: s.Title, Key: s.Key, Word: s.Word}
				}),
				Cells: list(row.Cells, func(c present.RoadCell) gen.RoadCell {
					return gen.RoadCell{Range: c.Range, Temperature: c.Temperature, Finding: c.Finding, State: c.State, StateTitle: c.StateTitle, Reading: c.Reading, Source: c.Source, Abnormal: c.Abnormal}
				})}
		}),
		Predicted: list(r.Predicted, func(p plan.PredictedRow) gen.PredictedRow {
			return gen.PredictedRow{Title: p.Title, Kind: p.Kind, Part: p.Part, Share: p.Share, Agree: p.Agree, Against: p.Against, Like: texts(p.Like), Split: p.Split, Does: list(p.Does, doingView), Cells: list(p.Cells, predictedView)}
		})}
}

func doingView(d plan.Doing) gen.CellDoing {
	return gen.CellDoing{Cell: d.Cell.Range + "." + string(d.Cell.Behaviour), Words: d.Words}
}

func predictedView(c plan.PredictedCell) gen.PredictedCell {
	return gen.PredictedCell{Range: c.Range, Text: c.Text, Mark: c.Mark, Detail: c.Detail}
}

func proofView(p present.ProofView, style quantity.Style) gen.Proof {
	out := gen.Proof{Item: p.ID, Title: p.Title, Result: p.Result, Note: p.Note, By: p.By, Failing: p.Failing, Kind: gen.ProofKind(p.Kind), Unit: p.Unit}
	if p.Window != nil {
		out.Window, out.Dimension = style.FormatWindow(*p.Window, p.Unit), string(p.Window.Low.Dimension)
	}
	return out
}

func floorView(f floor.Row) gen.FloorItem {
	c := f.Case
	return gen.FloorItem{Sample: c.Sample, ID: c.ID, Words: c.Words, Vehicle: c.Vehicle, Distance: c.Distance, UnitName: f.UnitName, Stage: c.Stage, Access: c.Access, Owner: c.Owner, Bay: c.Bay, WaitsFor: c.WaitsFor,
		Opened: c.Opened, Closed: c.Closed != nil, Rose: roseView(f.Rose()), Next: f.Next, NextNote: f.NextNote, Suspect: f.Suspect, Share: f.Share, Returned: c.Earlier != ""}
}

func findingView(f checks.FindingView) gen.Finding {
	return gen.Finding{ID: f.Finding.ID, Title: f.Finding.Title, Ask: f.Finding.Ask, About: f.Finding.About, Stage: f.Finding.Stage, State: f.State, Reading: f.Reading, Source: f.Source, Before: f.Before, Again: f.Again, Several: f.Finding.Several,
		States: list(f.Finding.States, func(s knowledge.FindingState) gen.FindingState {
			return gen.FindingState{ID: s.ID, Title: s.Title, Reading: f.Noted[s.ID]}
		})}
}

func checkItemView(c checks.CheckItem) gen.CheckItem {
	return gen.CheckItem{ID: c.ID, Title: c.Title, Access: c.Access, Tells: c.Tells, Minutes: c.Minutes, Climb: c.Climb, Tools: texts(c.Tools), Hazard: c.Hazard, Fluid: c.Fluid, Instrument: c.Instrument, Done: c.Done, Skipped: c.Skipped, Why: c.Why, Beyond: c.Beyond, Telling: c.Telling}
}

func checkView(v checks.CheckView) gen.Check {
	k := v.Check
	out := gen.Check{ID: k.ID, Title: k.Title, Tells: k.Tells, Access: k.Access, Minutes: k.Minutes, Climb: v.Climb, Tools: texts(k.Tools), Fluid: k.Fluid, School: k.School, Codes: v.Codes, Steps: texts(k.Steps),
		First: list(v.First, func(f checks.FirstKnown) gen.FirstKnown {
			return gen.FirstKnown{ID: f.ID, Title: f.Title, Known: f.Known}
		}), Cautions: list(k.Cautions, cautionView),
		Findings: list(v.Findings, findingView), Acknowledged: v.Acknowledged, Skipped: v.Skipped}
	if v.Instrument != nil {
		shown := instrumentView(*v.Instrument)
		out.Instrument = &shown
	}
	return out
}

func settingsView(s shop.Settings, staff []people.Person, customers string) gen.Settings {
	labour, fluid, goodwill, tax, consumables := s.Typed()
	return gen.Settings{Shop: s.Shop, Currency: s.Currency, LabourRate: labour, FluidLitre: fluid, Goodwill: goodwill, Tax: tax, Consumables: consumables, Numbers: s.Numbers, Styles: list(quantity.Styles, quantity.Style.Sample), Zone: s.Zone, Customers: customers, Guide: s.Guide, Warranty: s.Warranty, Address: s.Address, Pressure: s.Pressure, Length: s.Length, Torque: s.Torque,
		Volume: s.Volume, Temperature: s.Temperature, Distance: s.Distance, Rev: s.Rev,
		Systems: list(shop.Systems, func(m shop.System) gen.MeasureSystem {
			return gen.MeasureSystem{ID: m.ID, Title: m.Title, Pressure: m.Pressure, Length: m.Length, Torque: m.Torque, Volume: m.Volume, Temperature: m.Temperature, Distance: m.Distance}
		}),
		People: list(staff, func(p people.Person) gen.Person { return gen.Person{ID: p.ID, Name: p.Name, Role: gen.Role(p.Role)} })}
}
