// Package checks lists what can be looked at in a case, and makes one check ready to be done.
package checks

import (
	"context"
	"errors"
	"slices"
	"strings"
	"time"

	"innercompass/core/instrument"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/unitsheet"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/measuring"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/shop"
)

// Service lists checks and does them.
type Service struct {
	Cases     *cases.Service
	Measuring *measuring.Service
	Shop      *shop.Service
	Assessing *assessing.Service
	Now       func() time.Time
}

// CheckItem is a check in the list of a case.
type CheckItem struct {
	ID, Title, Access, Tells string
	Minutes, Climb           float64
	Instrument               bool
	Tools                    []string
	Hazard                   string  // high, plain, or "" when nothing about it can hurt
	Fluid                    string  // hot or cold, when it must be
	Done, Skipped, Beyond    bool    // Beyond: the vehicle is opened up too far for it
	Why                      string  // it was set aside, as somebody said
	Telling                  float64 // of what the most telling check would tell, 0 to 1; 0 when it would tell next to nothing
}

// CheckView is one check ready to be done.
type CheckView struct {
	Check        knowledge.Check
	Climb        float64
	Acknowledged bool
	Skipped      bool
	Codes        bool // it reads fault codes
	First        []FirstKnown
	Findings     []FindingView
	Instrument   *measuring.InstrumentView
}

// FirstKnown is something that must be known before a check means anything.
type FirstKnown struct {
	ID, Title string
	Known     bool
}

// FindingView is a finding with what was read of it.
type FindingView struct {
	Finding knowledge.Finding
	State   string // of the last look; "" when not read
	Reading string
	Source  string
	Before  string            // title of the state that the look before showed; "" when there was one look only
	Again   bool              // it was looked at once and may be looked at a second time
	Noted   map[string]string // readings that stand, by state, of a finding with several states at once
}

// Checks lists the checks of a case, shallow access first. Cells of the road test are left out: they
// have a place of their own, unless they were set aside, which is taken back here.
func (s *Service) Checks(ctx context.Context, id string) ([]CheckItem, error) {
	at, err := s.Assessing.Look(ctx, s.Cases, s.Shop, id)
	if err != nil {
		return nil, err
	}
	c, n, stand := at.Case, at.Network, at.Stand
	tells := plan.Telling(at.Assessment.Assessment, stand)
	most := 0.0
	for _, t := range tells {
		most = max(most, t)
	}
	seen := readings.SeenFindings(c)
	var out []CheckItem
	for _, k := range n.Checks {
		skipped := slices.Contains(stand.Skipped, k.ID)
		if k.Drive() && !skipped {
			continue
		}
		need, _ := unitsheet.ParseAccess(k.Access)
		item := CheckItem{ID: k.ID, Title: k.Title, Access: k.Access, Tells: k.Tells, Minutes: k.Minutes, Climb: n.Unit.AccessMinutes(stand.Access, need), Instrument: k.Instrument != "", Tools: k.Tools, Hazard: hazard(k), Fluid: k.Fluid,
			Skipped: skipped, Why: c.NoteOf("skip", k.ID)}
		if k.Until != "" {
			until, _ := unitsheet.ParseAccess(k.Until)
			item.Beyond = stand.Access > until
		}
		if most > 0 {
			item.Telling = tells[k.ID] / most
		}
		item.Done = !slices.ContainsFunc(k.Yields, func(y string) bool { return !seen[y] })
		out = append(out, item)
	}
	slices.SortStableFunc(out, func(a, b CheckItem) int {
		return slices.Index(unitsheet.AccessNames, a.Access) - slices.Index(unitsheet.AccessNames, b.Access)
	})
	return out, nil
}

// hazard is that of the gravest caution of a check.
func hazard(k knowledge.Check) string {
	out := ""
	for _, c := range k.Cautions {
		if out != "high" {
			out = c.Hazard
		}
	}
	return out
}

// Check returns one check ready to be done.
func (s *Service) Check(ctx context.Context, id, check string) (CheckView, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return CheckView{}, err
	}
	k, ok := n.Check(check)
	if !ok {
		return CheckView{}, problem.NotFound("check", check, "an id listed by: innercompass checks --unit "+c.UnitID)
	}
	need, _ := unitsheet.ParseAccess(k.Access)
	stand := assessing.Stand(c, n, s.Now())
	out := CheckView{Check: k, Climb: n.Unit.AccessMinutes(stand.Access, need), Skipped: slices.Contains(stand.Skipped, k.ID),
		Acknowledged: slices.Contains(c.Marked("acknowledge"), k.ID)}
	seen := readings.SeenFindings(c)
	for _, id := range k.First {
		if f, ok := n.Finding(id); ok {
			out.First = append(out.First, FirstKnown{id, f.Title, seen[id]})
		}
	}
	for _, y := range k.Yields {
		f, _ := n.Finding(y)
		out.Codes = out.Codes || y == knowledge.StoredCodes
		out.Findings = append(out.Findings, findingView(n, f, c))
	}
	if k.Instrument != "" {
		v, err := s.Measuring.Instrument(ctx, measuring.InstrumentAt{Name: k.Instrument, Case: id})
		switch {
		case err == nil:
			out.Instrument = &v
		case !errors.Is(err, problem.ErrNotFound): // a check whose limit this unit's sheet does not give is done without its instrument
			return out, err
		}
	}
	return out, nil
}

func findingView(n *knowledge.Network, f knowledge.Finding, c cases.Case) FindingView {
	out := FindingView{Finding: f, Noted: map[string]string{}}
	for _, r := range c.Valid() {
		if r.Finding == f.ID && f.Several {
			out.Noted[r.State] = r.ID
		}
		if r.Finding == f.ID && (out.State == "" || r.Source != "customer") {
			if out.State != "" && out.Source != "customer" {
				out.Before = f.StateTitle(out.State)
			}
			out.State, out.Reading, out.Source = r.State, r.ID, r.Source
		}
	}
	out.Again = out.State != "" && out.Source != "customer" && out.Before == "" && n.Repeatable(f.ID)
	return out
}

// Findings lists what can be asked in a stage, with what was read. The parts of the unit can be looked at
// only once it is out: until then a teardown has no findings.
func (s *Service) Findings(ctx context.Context, id, stage string) ([]FindingView, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(knowledge.Stages, stage) {
		return nil, problem.Field("stage", stage, strings.Join(knowledge.Stages, ", "))
	}
	var out []FindingView
	if stage == "teardown" && assessing.Stand(c, n, s.Now()).Access < unitsheet.UnitOut {
		return out, nil
	}
	for _, f := range n.Findings {
		if f.Stage == stage {
			out = append(out, findingView(n, f, c))
		}
	}
	return out, nil
}

// Measure runs the instrument of a check on typed values; nothing is stored.
func (s *Service) Measure(ctx context.Context, id, check string, use measuring.Use) (instrument.Result, instrument.Definition, error) {
	at, err := s.instrumentOf(ctx, id, check)
	if err != nil {
		return instrument.Result{}, instrument.Definition{}, err
	}
	return s.Measuring.Calculate(ctx, at, use.Gauge, use.Values)
}

// PutMeasured runs the instrument of a check and puts what it states into the case.
func (s *Service) PutMeasured(ctx context.Context, id string, g cases.Guard, check string, use measuring.Use) (cases.Saved, error) {
	at, err := s.instrumentOf(ctx, id, check)
	if err != nil {
		return cases.Saved{}, err
	}
	use.Check = check
	return s.Measuring.PutCalculated(ctx, at, g, use)
}

func (s *Service) instrumentOf(ctx context.Context, id, check string) (measuring.InstrumentAt, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return measuring.InstrumentAt{}, err
	}
	k, ok := n.Check(check)
	if !ok {
		return measuring.InstrumentAt{}, problem.NotFound("check", check, "an id listed by: innercompass checks --unit "+c.UnitID)
	}
	if k.Instrument == "" {
		return measuring.InstrumentAt{}, &problem.StateError{Reason: "check " + check + " has no instrument", Accepted: "note its findings instead"}
	}
	return measuring.InstrumentAt{Name: k.Instrument, Case: id}, nil
}
