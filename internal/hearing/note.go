package hearing

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/knowledge"
	"innercompass/core/orders"
	"innercompass/core/signal"
	"innercompass/core/vibration"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/recordings"
)

// counted is the finding that says what shakes and sounds keep time with, and the check that yields it.
const (
	countedFinding = "shakes-per-turn"
	countedCheck   = "shakes"
	noOrder        = "none"
	ringing        = "rings"
)

// stateOf is the state of that finding which a source stands for, at one of its multiples; nothing for what it has no state for.
func stateOf(c vibration.Class, multiple int) string {
	id, _, _ := strings.Cut(c.IDs[0], ":")
	switch {
	case id == "wheel" && multiple == 3 || id == "tripod":
		return "wheel-three"
	case id == "wheel":
		return "wheel"
	case id == "shaft" && multiple == 2 || id == "joint":
		return "shaft-twice"
	case id == "shaft":
		return "shaft"
	case id == "engine-half":
		return "engine-half"
	case id == "engine" && multiple == 1 || id == "turbine":
		return "engine"
	case id == "firing":
		return "firing"
	case id == "turn":
		return "mesh" // a member of the gears that runs out is of the unit, too
	}
	switch c.Family {
	case vibration.Pump:
		return "pump"
	case vibration.Gears:
		return "mesh"
	case vibration.Planets:
		return "planets"
	case vibration.Bearings:
		return "bearing"
	case vibration.Axles:
		return "axle"
	case vibration.Drives:
		return "belt"
	}
	return ""
}

// worthLinking is the probability from which what a source could come from is named (judgment).
const worthLinking = 0.3

// Causes are what of the unit's knowledge brings about what a ridge could be; none for what is hardly likely.
func (h Heard) Causes(could orders.Could) []knowledge.EntryRef {
	n := h.network
	f, ok := n.FindingAt[countedFinding]
	if !ok || could.Probability < worthLinking {
		return nil
	}
	state := slices.IndexFunc(n.Findings[f].States, func(s knowledge.FindingState) bool { return s.ID == stateOf(h.Classes[could.Class], could.Multiple) })
	if state < 1 {
		return nil
	}
	var out []knowledge.EntryRef
	for _, e := range n.In[f] {
		if e.State == state && e.From < len(n.Causes) && !n.Causes[e.From].Unlisted() {
			out = append(out, knowledge.EntryRef{Kind: "cause", ID: n.Causes[e.From].ID, Title: n.Causes[e.From].Title})
		}
	}
	return out
}

// least is the likelihood of a state that the ridge speaks against: what a recording says is never beyond doubt.
const least = 0.02

// likelihood is how well each state of the finding agrees with a ridge. The match held every class equally likely; what is known of causes
// comes in with the reading, so each state counts by the mean of its classes.
func likelihood(states []knowledge.FindingState, h Heard, f orders.Found) []float64 {
	sum, n := map[string]float64{}, map[string]float64{}
	for c := range h.Classes {
		n[stateOf(h.Classes[c], 1)]++
	}
	for _, c := range f.Could {
		sum[stateOf(h.Classes[c.Class], c.Multiple)] += c.Probability
	}
	sum[noOrder], n[noOrder] = f.Unknown, vibration.UsualModel.Unknown
	if f.Turning == signal.Stays {
		sum[ringing], n[ringing] = 1, 1
	}
	out, top := make([]float64, len(states)), 0.0
	for i, s := range states {
		if n[s.ID] > 0 || sum[s.ID] > 0 {
			out[i] = sum[s.ID] / math.Max(1, n[s.ID])
		}
		top = math.Max(top, out[i])
	}
	for i := range out {
		out[i] = math.Max(least, out[i]/math.Max(top, 1e-9))
	}
	return out
}

// Note puts what a ridge could be into the recording's case, as a reading with its reliability. It returns the case and the state that leads.
func (s *Service) Note(ctx context.Context, id string, a Asked, ridge int, by string) (cases.Saved, string, error) {
	rec, err := s.Recordings.Store.Recording(ctx, id)
	if err != nil {
		return cases.Saved{}, "", err
	}
	if rec.Case == "" {
		return cases.Saved{}, "", problem.Field("case", "the recording is of no case", "say first of which")
	}
	h, err := s.Orders(ctx, id, a)
	if err != nil {
		return cases.Saved{}, "", err
	}
	if ridge < 0 || ridge >= len(h.Found) {
		return cases.Saved{}, "", problem.Field("ridge", fmt.Sprint(ridge), fmt.Sprintf("one of %d", len(h.Found)))
	}
	n, err := s.Cases.NetworkOf(ctx, rec.Case)
	if err != nil {
		return cases.Saved{}, "", err
	}
	f, ok := n.FindingAt[countedFinding]
	if !ok {
		return cases.Saved{}, "", problem.Field("unit", "its knowledge has no such finding", "a unit of the app's knowledge")
	}
	found := h.Found[ridge]
	if h.Given(found) {
		return cases.Saved{}, "", problem.Field("ridge", "the speed was taken from this line: it proves nothing", "another ridge")
	}
	states := n.Findings[f].States
	weights := likelihood(states, h, found)
	lead := 0
	for i, w := range weights {
		if w > weights[lead] {
			lead = i
		}
	}
	value := fmt.Sprintf("order %.3f ± %.3f of the output, %s Hz", found.Order, 2*found.Order*math.Hypot(found.SD, h.Doubt), recordings.Short(found.Order*h.Reference()))
	if found.Order >= 10 {
		value = fmt.Sprintf("order %.2f of the output, %s Hz", found.Order, recordings.Short(found.Order*h.Reference()))
	}
	note := rec.Title + ": " + h.Headline()
	saved, err := s.Readings.AddReadings(ctx, rec.Case, cases.Guard{}, []readings.NewReading{{Finding: countedFinding, State: states[lead].ID, Source: "measured", Check: countedCheck, Value: value, Note: note, Likelihood: weights, By: by}})
	return saved, states[lead].Title, err
}

// known are sources that somebody may know a line to be, and say by name.
var known = []string{"firing", "engine", "joint", "shaft", "wheel", "pump"}

// knownOrder is the order of a source that is known, in the range that was driven.
func knownOrder(h *Heard, s vibration.State, id string) (float64, error) {
	s.Road = 20 // an order is the same at every speed
	l, err := vibration.Sources(h.Unit, h.Vehicle, s)
	if err != nil {
		return 0, asked(err)
	}
	if hz := l.Hertz(id); slices.Contains(known, id) && hz > 0 && l.Output > 0 {
		return hz / l.Output, nil
	}
	var have []string
	for _, k := range known {
		if l.Hertz(k) > 0 {
			have = append(have, k)
		}
	}
	return 0, problem.Field("known", fmt.Sprintf("%q is not there, or its speed is not known", id), "one of "+strings.Join(have, ", ")+"; the vehicle's sheet gives more")
}
