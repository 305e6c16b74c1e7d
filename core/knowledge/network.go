package knowledge

import (
	"strings"

	"innercompass/core/bayes"
	"innercompass/core/faultmap"
	"innercompass/core/unitsheet"
)

// Network is the knowledge base compiled for one unit. It is never changed and may be shared.
type Network struct {
	Unit     *unitsheet.Unit
	Version  string
	Findings []Finding
	Causes   []Cause // those of the knowledge base, then one unlisted cause for each damage
	Checks   []Check
	Options  []Option
	Faults   []faultmap.Row // by the unit's design
	Nodes    []Node         // what can be present: causes first, then damages and faults of the design
	Schools  []Controversy
	Cautions []Caution

	FindingAt map[string]int
	NodeAt    map[string]int
	CheckAt   map[string]int
	Odds      []float64 // prior odds of the causes
	Level     []unitsheet.Access
	History   [][]Condition // by cause
	Out       [][]Effect    // by node
	In        [][]Effect    // by finding
	Members   map[int][]int // of findings that stand for others
	Reach     [][]bool      // by finding and cause: whether it can bring it about
	Bayes     *bayes.Network
	Itself    []map[int]float64 // by finding: states that are the fault itself, with how often one of the causes that they name is there

	alone *bayes.Forecast // what findings show when one cause alone is present
}

// Alone returns the distribution of a finding, by cause, when that cause and no other is present. It is not to be changed.
func (n *Network) Alone(finding int) [][]float64 { return n.alone.States(finding) }

// foreseeAlone prepares Alone.
func (n *Network) foreseeAlone() {
	present := make([][]float64, len(n.Causes))
	for c := range present {
		present[c] = n.Bayes.Expect([]int{c})
	}
	n.alone = n.Bayes.Forecast(present)
}

// Node is something that can be present: a cause, a damage, or a fault of the design hot or cold.
type Node struct {
	ID, Title string
	Kind      string // cause, damage, fault
	System    string
	Entry     string // id in the knowledge base, before it met the unit; of a fault its kind
	Repair    Repair
}

// Condition is a When of a cause.
type Condition struct {
	Finding, State int
	Factor         float64
	Why            string
}

// Effect is one link of the compiled network: to a finding's state, or to a node.
type Effect struct {
	From           int
	Node           int // −1 when to a finding
	Finding, State int
	P              float64
	Why, Strength  string
}

// Matching returns the causes that a cure names; a name may end in an asterisk. What cures a cause of a
// damage that is not listed is what puts the damage right.
func (n *Network) Matching(pattern string) []int {
	var out []int
	prefix, many := strings.CutSuffix(pattern, "*")
	for i, c := range n.Causes {
		id := strings.TrimPrefix(c.ID, unlisted)
		if id == pattern || many && strings.HasPrefix(id, prefix) {
			out = append(out, i)
		}
	}
	return out
}

// SetCures sets the chances, 0 to 1 by cause, that an option cures what it names, and leaves the others. A later entry of the
// option overrides an earlier one, so that "everything but" can be said.
func (n *Network) SetCures(chances []float64, o Option) {
	for _, cure := range o.Cures {
		for _, c := range n.Matching(cure.Cause) {
			chances[c] = cure.Chance
		}
	}
}

// cures are the chances that an option alone cures each cause.
func (n *Network) cures(o Option) []float64 {
	chances := make([]float64, len(n.Causes))
	n.SetCures(chances, o)
	return chances
}

// Finding returns a compiled finding by id.
func (n *Network) Finding(id string) (Finding, bool) {
	i, ok := n.FindingAt[id]
	if !ok {
		return Finding{}, false
	}
	return n.Findings[i], true
}

// Cause returns a compiled cause by id.
func (n *Network) Cause(id string) (Cause, bool) {
	i, ok := n.NodeAt[id]
	if !ok || i >= len(n.Causes) {
		return Cause{}, false
	}
	return n.Causes[i], true
}

// Check returns a compiled check by id.
func (n *Network) Check(id string) (Check, bool) {
	i, ok := n.CheckAt[id]
	if !ok {
		return Check{}, false
	}
	return n.Checks[i], true
}

func (f Finding) StateAt(id string) int { return stateIndex(f.States, id) }

func (f Finding) StateIDs() string {
	var out []string
	for _, s := range f.States {
		out = append(out, s.ID)
	}
	return strings.Join(out, ", ")
}

// StateTitle returns the words for a state, or its id if there are none.
func (f Finding) StateTitle(id string) string {
	if i := f.StateAt(id); i >= 0 && f.States[i].Title != "" {
		return f.States[i].Title
	}
	return id
}

// Baselines is the distribution of a finding whatever the cause, by state.
func (f Finding) Baselines() []float64 {
	out := make([]float64, len(f.States))
	out[0] = 1
	for s, st := range f.States[1:] {
		out[s+1] = st.Baseline
		out[0] -= st.Baseline
	}
	return out
}

// Repeatable reports whether a second look at a finding can show something else: what is told of the past, asked of the
// customer or stored stays as it is.
func (n *Network) Repeatable(finding string) bool {
	f, ok := n.FindingAt[finding]
	return ok && n.RepeatableAt(f)
}

// RepeatableAt is Repeatable for the finding at an index.
func (n *Network) RepeatableAt(f int) bool {
	x := n.Findings[f]
	return !x.History && x.Stage != "complaint" && x.Stage != "code" && x.Members == "" && n.Members[f] == nil
}

// Answer is what a customer would say for a state: "no" where the title speaks of having asked.
func (f Finding) Answer(state string) string {
	if title := f.StateTitle(state); title != askedAndDenied {
		return title
	}
	return "no"
}

// askedAndDenied is how the normal state of what a customer complains of is titled.
const askedAndDenied = "asked and denied"
