package plan

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/diagnose"
	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
)

// MostAsked is how many questions an interview has at most.
const MostAsked = 5

// Limits of an interview (judgement).
const (
	leastAsked   = 0.01 // nats that a question must tell to be asked
	likelyAnswer = 0.1  // an answer that is likelier is followed to the step behind it
	mostAnswers  = 9    // the keys 1 to 9
	followed     = 2    // questions of which the answers are followed
)

// Question is what to ask the customer next.
type Question struct {
	ID              string // of the finding; "where:" before it asks in which range what he told of it happens
	Finding         string
	Ask             string
	Answers         []Answer
	InformationGain float64
}

// Answer is one answer: what it would be noted as, how likely it is, and who would lead.
type Answer struct {
	Title       string
	Readings    []diagnose.Reading
	Probability float64
	Leader      string // cause
	LeaderShare float64
}

// Interview is what is worth asking.
type Interview struct {
	Ask    *Question  // nil when enough is asked
	Then   []Question // at most two, should they still be worth it
	Enough string     // why nothing more is asked
}

// Ask chooses the next question of an interview: of what the customer can tell and has not told, what separates the explanations of his
// complaint most. done are the questions that were asked or left out. It ends after five, and when no answer would change the next
// check or the leading suspect.
func Ask(a *diagnose.Assessment, stand VehicleState, eco Economics, done []string) Interview {
	p := newPlanner(a, stand, eco)
	all := p.questions(done)
	switch {
	case len(done) >= MostAsked:
		return Interview{Enough: "Five questions are asked. A check tells more now."}
	case len(all) == 0:
		return Interview{Enough: "The customer can tell nothing more that parts the suspects."}
	case !slices.ContainsFunc(all[:min(followed, len(all))], p.decides):
		return Interview{Enough: "No answer would change the next check."}
	}
	left := MostAsked - len(done)
	return Interview{Ask: &all[0], Then: all[1:min(len(all), 3, left)]}
}

// questions are what can still be asked, the most telling first.
func (p *planner) questions(done []string) []Question {
	var out []Question
	for f, x := range p.a.Network.Findings {
		if x.Stage != "complaint" || x.Ask == "" || len(x.States) > mostAnswers || slices.Contains(done, x.ID) || p.a.Read(x.ID) != "" {
			continue
		}
		if told := p.see.Of(f); told.InformationGain >= leastAsked {
			out = append(out, p.plain(x, told))
		}
	}
	for _, w := range whereAsked {
		if q, ok := p.where(w); ok && !slices.Contains(done, q.ID) {
			out = append(out, q)
		}
	}
	slices.SortStableFunc(out, func(a, b Question) int { return cmp.Compare(b.InformationGain, a.InformationGain) })
	return out
}

// QuestionOf returns a question by its id, with its answers but not what they would mean.
func QuestionOf(n *knowledge.Network, id string) (Question, bool) {
	if said, ok := strings.CutPrefix(id, wherePrefix); ok {
		for _, w := range whereAsked {
			if w.said == said {
				q := w.question(n)
				return q, len(q.Answers) > 1
			}
		}
		return Question{}, false
	}
	f, ok := n.Finding(id)
	if !ok || f.Stage != "complaint" || f.Ask == "" {
		return Question{}, false
	}
	q := Question{ID: id, Finding: id, Ask: f.Ask}
	for _, s := range f.States {
		q.Answers = append(q.Answers, Answer{Title: f.Answer(s.ID), Readings: []diagnose.Reading{{Finding: id, State: s.ID, Source: "customer"}}})
	}
	return q, true
}

// Speaks reports whether a reading is one that the answers of a question would be noted as.
func (q Question) Speaks(finding, state string) bool {
	return slices.ContainsFunc(q.Answers, func(a Answer) bool {
		return slices.ContainsFunc(a.Readings, func(r diagnose.Reading) bool { return r.Finding == finding && r.State == state })
	})
}

// plain asks for a finding as it stands.
func (p *planner) plain(f knowledge.Finding, told *diagnose.Prediction) Question {
	q := Question{ID: f.ID, Finding: f.ID, Ask: f.Ask, InformationGain: told.InformationGain}
	lead := p.leads()
	diagnose.EachOutcome([]*diagnose.Prediction{told}, p.weights, func(at diagnose.Outcome, mass float64, after []float64) {
		r := p.result(at, mass, after, lead)
		q.Answers = append(q.Answers, Answer{f.Answer(r.State), []diagnose.Reading{{Finding: f.ID, State: r.State, Source: "customer"}}, r.Probability, r.Leader, r.LeaderShare})
	})
	return q
}

// whereSymptom is a symptom that happens in a range.
type whereSymptom struct {
	said, ask string
	cells     [][2]string // behavior and state, the first that the range has
}

const (
	wherePrefix = "where:"
	allAlike    = "all alike"
)

// question asks in which range; "all alike" stands last.
func (w whereSymptom) question(n *knowledge.Network) Question {
	q := Question{ID: wherePrefix + w.said, Finding: w.said, Ask: w.ask}
	var all []diagnose.Reading
	for _, r := range n.Unit.Ranges {
		if !r.Driving() {
			continue
		}
		for _, c := range w.cells {
			id := knowledge.RoadID("hot", faultmap.Cell{Range: r.ID, Behaviour: faultmap.Behaviour(c[0])})
			if f, ok := n.Finding(id); ok && f.StateAt(c[1]) >= 0 {
				reading := diagnose.Reading{Finding: id, State: c[1], Source: "customer"}
				q.Answers = append(q.Answers, Answer{Title: r.Name, Readings: []diagnose.Reading{reading}})
				all = append(all, reading)
				break
			}
		}
	}
	q.Answers = append(q.Answers, Answer{Title: allAlike, Readings: all})
	return q
}

// whereAsked are symptoms that happen in a range: what the customer says of it, and the cells of the road test that it would be.
var whereAsked = []whereSymptom{
	{"says-slips", "In which range does it slip?", [][2]string{{"slips", "yes"}, {"shift", "flare"}}},
	{"says-late-engage", "Which range is slow to take up?", [][2]string{{"engages", "late"}}},
	{"says-harsh", "Into which range does it bang?", [][2]string{{"shift", "harsh"}, {"engages", "harsh"}}},
}

// where asks in which range a symptom is felt that was told without one. It is worth what its most telling range is.
func (p *planner) where(w whereSymptom) (Question, bool) {
	n := p.a.Network
	if f, ok := n.Finding(w.said); !ok || p.a.Read(w.said) != f.States[len(f.States)-1].ID {
		return Question{}, false
	}
	q, lead := w.question(n), p.leads()
	for i := range q.Answers {
		a := &q.Answers[i]
		if len(a.Readings) != 1 {
			continue
		}
		r := a.Readings[0]
		if p.a.Read(r.Finding) != "" {
			return q, false // he told it already
		}
		f := n.FindingAt[r.Finding]
		told, state := p.see.Of(f), n.Findings[f].StateAt(r.State)
		q.InformationGain = math.Max(q.InformationGain, told.InformationGain)
		diagnose.EachOutcome([]*diagnose.Prediction{told}, p.weights, func(at diagnose.Outcome, mass float64, after []float64) {
			if at.State == state {
				x := p.result(at, mass, after, lead)
				a.Probability, a.Leader, a.LeaderShare = x.Probability, x.Leader, x.LeaderShare
			}
		})
	}
	if len(q.Answers) < 3 || q.InformationGain < leastAsked {
		return q, false
	}
	all := q.Answers[len(q.Answers)-1]
	ranges := q.Answers[:len(q.Answers)-1]
	likely := slices.Clone(ranges)
	slices.SortStableFunc(likely, func(a, b Answer) int { return cmp.Compare(b.Probability, a.Probability) })
	likely = likely[:min(len(likely), mostAnswers-1)]
	// The likeliest ranges, in the order of the selector: an answer is found where the hand knows it.
	q.Answers = slices.DeleteFunc(ranges, func(a Answer) bool {
		return !slices.ContainsFunc(likely, func(l Answer) bool { return l.Title == a.Title })
	})
	q.Answers = append(q.Answers, all)
	return q, true
}

// decides reports whether an answer of a question would change the next check, or the leading suspect.
func (p *planner) decides(q Question) bool {
	now := p.step(p.weights)
	for _, a := range q.Answers {
		if a.Probability < likelyAnswer {
			continue
		}
		if a.Leader != p.a.Suspects[0].Cause.ID || p.step(p.after(a)) != now {
			return true
		}
	}
	return false
}

// after are the weights of the hypotheses once an answer is given.
func (p *planner) after(a Answer) []float64 {
	n, out := p.a.Network, slices.Clone(p.weights)
	for _, r := range a.Readings {
		told := p.see.Of(n.FindingAt[r.Finding])
		state := n.Findings[n.FindingAt[r.Finding]].StateAt(r.State)
		diagnose.EachOutcome([]*diagnose.Prediction{told}, out, func(at diagnose.Outcome, mass float64, after []float64) {
			if at.State == state && mass > 0 {
				for i, w := range after {
					out[i] = w / mass
				}
			}
		})
	}
	return out
}

// step is the check that saves most for its minutes under some weights, the basic looks and questions left aside: they come first
// whatever is answered.
func (p *planner) step(weights []float64) string {
	q := *p
	q.weights, q.p = weights, make([]float64, len(p.p))
	best, id := 0.0, ""
	for _, v := range q.advise(q.repairs.expected(weights, q.stand.Access)) {
		if worth := v.Saves / v.Spent(); v.Check.Basic == 0 && !q.a.Network.Question(v.Check) && worth > best {
			best, id = worth, v.Check.ID
		}
	}
	return id
}

// Because says why a question is asked: the two answers that part the suspects most, with who would lead after each.
func (q Question) Because(n *knowledge.Network) string {
	if len(q.Answers) == 0 {
		return ""
	}
	by := slices.Clone(q.Answers)
	slices.SortStableFunc(by, func(a, b Answer) int { return cmp.Compare(b.Probability, a.Probability) })
	first, other := by[0], Answer{}
	apart := func(a Answer) float64 { // another leader says more than another share
		if a.Leader != first.Leader {
			return 1 + a.Probability
		}
		return math.Abs(a.LeaderShare - first.LeaderShare)
	}
	for _, a := range by[1:] {
		if a.Leader != "" && (other.Leader == "" || apart(a) > apart(other)) {
			other = a
		}
	}
	name := func(a Answer) string {
		c, _ := n.Cause(a.Leader)
		return c.Title
	}
	say := func(a Answer) string { return fmt.Sprintf("%s: %.0f\u00a0%%", name(a), 100*a.LeaderShare) }
	if other.Leader == "" {
		return say(first) + "."
	}
	if other.Leader == first.Leader {
		return fmt.Sprintf("It moves “%s”: %.0f\u00a0%% if “%s”, %.0f\u00a0%% if “%s”.", name(first), 100*first.LeaderShare, first.Title, 100*other.LeaderShare, other.Title)
	}
	return fmt.Sprintf("It parts “%s” from “%s”. If “%s”, the first stands at %.0f\u00a0%%; if “%s”, the second at %.0f\u00a0%%.", name(first), strings.TrimSpace(name(other)), first.Title, 100*first.LeaderShare, other.Title, 100*other.LeaderShare)
}
