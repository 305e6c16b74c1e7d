package diagnose

import (
	"fmt"
	"strings"

	"innercompass/core/bayes"
	"innercompass/core/knowledge"
)

// Reading is one observed finding. Likelihood, when given, replaces the reliability of the source: the
// probability of what was measured for each state (an instrument that cannot tell two states apart gives them
// the same).
type Reading struct {
	ID         string
	Finding    string
	State      string
	Source     string
	Likelihood []float64
}

// Situation is everything that the suspects depend on.
type Situation struct {
	Readings []Reading
	Distance float64  // km that the unit has run; 0 when not known
	Repaired []string // causes that were put right in vain: the complaint is still there
}

// ReadingError names the reading that does not fit the network.
type ReadingError struct {
	ID, Field, Reason, Accepted string
}

func (e *ReadingError) Error() string {
	return fmt.Sprintf("reading %s: %s: %s; accepted: %s", e.ID, e.Field, e.Reason, e.Accepted)
}

// evidence is a situation translated to numbers.
type evidence struct {
	n       *knowledge.Network
	s       Situation
	groups  [][]bayes.Reading
	history []bool        // by reading
	looked  map[int][]int // by finding: see looks
}

func newEvidence(n *knowledge.Network, s Situation) (*evidence, error) {
	e := &evidence{n: n, s: s, groups: make([][]bayes.Reading, len(s.Readings)), history: make([]bool, len(s.Readings)), looked: map[int][]int{}}
	read := map[int]bool{}
	for _, r := range s.Readings {
		if f, ok := n.FindingAt[r.Finding]; ok {
			read[f] = true
		}
	}
	for i, r := range s.Readings {
		f, ok := n.FindingAt[r.Finding]
		if !ok {
			return nil, &ReadingError{r.ID, "finding", fmt.Sprintf("no finding %q for unit %s", r.Finding, n.Unit.Sheet.ID), "an id listed by: innercompass findings --unit " + n.Unit.Sheet.ID}
		}
		lambda, err := likelihood(n, r, f)
		if err != nil {
			return nil, err
		}
		inTheHand(n, r, f, lambda, s.Readings)
		if r.Source != "customer" || n.Findings[f].Stage == "complaint" {
			e.looked[f] = append(e.looked[f], i)
		}
		e.history[i] = n.Findings[f].History
		switch {
		case n.Findings[f].Members == "":
			e.groups[i] = []bayes.Reading{{Finding: f, Likelihood: lambda}}
			for _, x := range n.Implied(r.Finding, r.State) {
				if !read[x.Finding] {
					e.groups[i] = append(e.groups[i], bayes.Reading{Finding: x.Finding, Likelihood: x.Likelihood})
				}
			}
		case n.Findings[f].StateAt(r.State) == 0:
			for _, m := range n.Members[f] {
				if !read[m] {
					e.groups[i] = append(e.groups[i], bayes.Reading{Finding: m, Likelihood: reliable(n.Findings[m], 0, Sources[r.Source])})
				}
			}
		}
	}
	return e, nil
}

// CheckReading returns a ReadingError when a reading does not fit the network.
func CheckReading(n *knowledge.Network, r Reading) error {
	_, err := newEvidence(n, Situation{Readings: []Reading{r}})
	return err
}

// weigh joins the readings, all but one (−1: all), to the network.
func (e *evidence) weigh(without int) (*bayes.Evidence, error) {
	var all []bayes.Reading
	for i, g := range e.groups {
		if i != without && !e.history[i] {
			all = append(all, g...)
		}
	}
	ev, err := e.n.Bayes.Weigh(e.odds(without), all)
	if err != nil {
		reason, f := strings.TrimPrefix(err.Error(), "bayes: "), 0
		if k, _ := fmt.Sscanf(reason, "readings of finding %d:", &f); k == 1 && f >= 0 && f < len(e.n.Findings) {
			reason = strings.Replace(reason, fmt.Sprintf("finding %d", f), e.n.Findings[f].ID, 1)
		}
		return nil, &ReadingError{"", "readings", reason, "readings that can be true together"}
	}
	return ev, nil
}
