package casework

import (
	"context"
	"errors"
	"slices"
	"strings"

	"innercompass/core/instrument"
	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

// CheckItem is a check in the list of a case.
type CheckItem struct {
	ID, Title, Access, Tells string
	Minutes, Climb           float64
	Instrument               bool
	Tools                    []string
	Hazard                   string // high, plain, or "" when nothing about it can hurt
	Fluid                    string // hot or cold, when it must be
	Done, Skipped, Beyond    bool   // Beyond: the vehicle is opened up too far for it
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
	Instrument   *InstrumentView
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
	Before  string // title of the state that the look before showed; "" when there was one look only
	Again   bool   // it was looked at once and may be looked at a second time
}

// Checks lists the checks of a case, shallow access first. Cells of the road test are left out: they
// have a place of their own.
func (s *Service) Checks(ctx context.Context, id string) ([]CheckItem, error) {
	c, n, err := s.load(ctx, id)
	if err != nil {
		return nil, err
	}
	stand := c.stand(n, s.Now())
	seen := seenFindings(c)
	var out []CheckItem
	for _, k := range n.Checks {
		if strings.HasPrefix(k.ID, "drive.") {
			continue
		}
		need, _ := unitsheet.ParseAccess(k.Access)
		item := CheckItem{ID: k.ID, Title: k.Title, Access: k.Access, Tells: k.Tells, Minutes: k.Minutes, Climb: n.Unit.AccessMinutes(stand.Access, need), Instrument: k.Instrument != "", Tools: k.Tools, Hazard: hazard(k), Fluid: k.Fluid,
			Skipped: slices.Contains(stand.Skipped, k.ID)}
		if k.Until != "" {
			until, _ := unitsheet.ParseAccess(k.Until)
			item.Beyond = stand.Access > until
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

func seenFindings(c Case) map[string]bool {
	seen := map[string]bool{}
	for _, r := range c.Valid() {
		if r.Source != "customer" {
			seen[r.Finding] = true
		}
	}
	return seen
}

func (s *Service) load(ctx context.Context, id string) (Case, *knowledge.Network, error) {
	c, err := s.Store.Case(ctx, id)
	if err != nil {
		return c, nil, err
	}
	n, err := s.network(ctx, c)
	return c, n, err
}

// networkOf is the network of a case, which never changes.
func (s *Service) networkOf(ctx context.Context, id string) (*knowledge.Network, error) {
	_, n, err := s.load(ctx, id)
	return n, err
}

// Check returns one check ready to be done.
func (s *Service) Check(ctx context.Context, id, check string) (CheckView, error) {
	c, n, err := s.load(ctx, id)
	if err != nil {
		return CheckView{}, err
	}
	k, ok := n.Check(check)
	if !ok {
		return CheckView{}, &NotFoundError{"check", check, "an id listed by: innercompass checks --unit " + c.UnitID}
	}
	need, _ := unitsheet.ParseAccess(k.Access)
	stand := c.stand(n, s.Now())
	out := CheckView{Check: k, Climb: n.Unit.AccessMinutes(stand.Access, need), Skipped: slices.Contains(stand.Skipped, k.ID),
		Acknowledged: slices.Contains(c.marked("acknowledge"), k.ID)}
	seen := seenFindings(c)
	for _, id := range k.First {
		if f, ok := n.Finding(id); ok {
			out.First = append(out.First, FirstKnown{id, f.Title, seen[id]})
		}
	}
	for _, y := range k.Yields {
		f, _ := n.Finding(y)
		out.Codes = out.Codes || y == StoredCodes
		out.Findings = append(out.Findings, findingView(n, f, c))
	}
	if k.Instrument != "" {
		v, err := s.Instrument(ctx, InstrumentAt{Name: k.Instrument, Case: id})
		switch {
		case err == nil:
			out.Instrument = &v
		case !errors.Is(err, ErrNotFound): // a check whose limit this unit's sheet does not give is done without its instrument
			return out, err
		}
	}
	return out, nil
}

func findingView(n *knowledge.Network, f knowledge.Finding, c Case) FindingView {
	out := FindingView{Finding: f}
	for _, r := range c.Valid() {
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
	c, n, err := s.load(ctx, id)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(knowledge.Stages, stage) {
		return nil, &FieldError{"stage", stage, strings.Join(knowledge.Stages, ", ")}
	}
	var out []FindingView
	if stage == "teardown" && c.stand(n, s.Now()).Access < unitsheet.UnitOut {
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
func (s *Service) Measure(ctx context.Context, id, check string, use Use) (instrument.Result, instrument.Definition, error) {
	at, err := s.instrumentOf(ctx, id, check)
	if err != nil {
		return instrument.Result{}, instrument.Definition{}, err
	}
	return s.Calculate(ctx, at, use.Gauge, use.Values)
}

// PutMeasured runs the instrument of a check and puts what it states into the case.
func (s *Service) PutMeasured(ctx context.Context, id string, g Guard, check string, use Use) (View, error) {
	at, err := s.instrumentOf(ctx, id, check)
	if err != nil {
		return View{}, err
	}
	use.Check = check
	return s.PutCalculated(ctx, at, g, use)
}

func (s *Service) instrumentOf(ctx context.Context, id, check string) (InstrumentAt, error) {
	c, n, err := s.load(ctx, id)
	if err != nil {
		return InstrumentAt{}, err
	}
	k, ok := n.Check(check)
	if !ok {
		return InstrumentAt{}, &NotFoundError{"check", check, "an id listed by: innercompass checks --unit " + c.UnitID}
	}
	if k.Instrument == "" {
		return InstrumentAt{}, &StateError{"check " + check + " has no instrument", "note its findings instead"}
	}
	return InstrumentAt{Name: k.Instrument, Case: id}, nil
}
