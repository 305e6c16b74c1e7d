package diagnose

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"innercompass/core/knowledge"
)

// Chain is how a cause brings about what was read: a graph from the root on the left to the readings on the right.
type Chain struct {
	Nodes []ChainNode
	Links []ChainLink
	Left  []string // ids of abnormal readings that the cause does not bring about
}

// ChainNode is the root, a damage, a fault of the design, or an abnormal reading.
type ChainNode struct {
	ID, Title, Kind string  // kind: cause, damage, fault, finding
	State           string  // of a finding: the words for what was read
	Probability     float64 // that it is there, given the root; 1 for what was read
	Depth           int     // links from the root at most
}

// ChainLink says why one node brings about another.
type ChainLink struct {
	From, To      int // indices of nodes
	Strength, Why string
	P             float64
}

// Limits of a chain that is to be read at a glance.
const (
	chainLeast   = 0.15 // a node less likely than this is left out
	chainParents = 2    // links that are shown into one node
	chainSecond  = 0.6  // the second only when it is at least this share of the first
)

// HypothesisOf returns the best hypothesis with a cause, or the cause by itself.
func (a *Assessment) HypothesisOf(cause int) (Hypothesis, []float64) {
	for i, h := range a.Hypotheses {
		if slices.Contains(h.Causes, cause) {
			return h, a.Present[i]
		}
	}
	return Hypothesis{Causes: []int{cause}}, a.ev.Given().Nodes([]int{cause})
}

// Chain explains how a cause brings about what was read, given that it is the only one.
func (a *Assessment) Chain(cause string) (Chain, error) {
	n := a.Network
	root, ok := n.NodeAt[cause]
	if !ok || root >= len(n.Causes) {
		return Chain{}, fmt.Errorf("no cause %q", cause)
	}
	present := a.ev.Given().Nodes([]int{root})
	read := a.abnormal()
	// Which nodes lead to an abnormal reading, from the last to the first.
	leads := make([]bool, len(n.Nodes))
	for v := len(n.Nodes) - 1; v >= 0; v-- {
		if present[v] < chainLeast {
			continue
		}
		for _, e := range n.Out[v] {
			if e.Node >= 0 && leads[e.Node] {
				leads[v] = true
			}
			if s, ok := read[e.Finding]; e.Node < 0 && ok && s == e.State && e.P > n.Findings[e.Finding].States[s].Baseline {
				leads[v] = true
			}
		}
	}
	leads[root] = true
	b := chainBuilder{n: n, present: present, leads: leads, at: map[string]int{}}
	b.add(ChainNode{ID: cause, Title: n.Causes[root].Title, Kind: "cause", Probability: 1})
	for v := len(n.Causes); v < len(n.Nodes); v++ {
		if leads[v] {
			b.add(ChainNode{ID: n.Nodes[v].ID, Title: n.Nodes[v].Title, Kind: n.Nodes[v].Kind, Probability: present[v]})
		}
	}
	// What several parents bring about is shown with its strongest.
	for v := len(n.Causes); v < len(n.Nodes); v++ {
		if leads[v] {
			b.join(n.Nodes[v].ID, func(e knowledge.Effect) bool { return e.Node == v })
		}
	}
	for _, f := range a.readOrder() {
		s, ok := read[f]
		if !ok {
			continue
		}
		id := n.Findings[f].ID
		b.add(ChainNode{ID: id, Title: n.Findings[f].Title, Kind: "finding", State: n.Findings[f].States[s].Title, Probability: 1})
		if !b.join(id, func(e knowledge.Effect) bool { return e.Node < 0 && e.Finding == f && e.State == s }) {
			b.drop(id)
			b.out.Left = append(b.out.Left, a.readingOf(f))
		}
	}
	return b.finish(), nil
}

// abnormal returns the state of every finding whose last reading is not normal.
func (a *Assessment) abnormal() map[int]int {
	out := map[int]int{}
	for i, r := range a.e.s.Readings {
		f := a.Network.FindingAt[r.Finding]
		if a.e.history[i] || a.Network.Members[f] != nil {
			continue
		}
		if s := a.Network.Findings[f].StateAt(r.State); s > 0 {
			out[f] = s
		} else {
			delete(out, f)
		}
	}
	return out
}

// readOrder are the findings that were read, in the order of the network.
func (a *Assessment) readOrder() []int {
	var out []int
	for _, r := range a.e.s.Readings {
		out = append(out, a.Network.FindingAt[r.Finding])
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// readingOf returns the id of the last reading of a finding.
func (a *Assessment) readingOf(f int) string {
	id := ""
	for _, r := range a.e.s.Readings {
		if a.Network.FindingAt[r.Finding] == f {
			id = r.ID
		}
	}
	return id
}

type chainBuilder struct {
	n       *knowledge.Network
	present []float64
	leads   []bool
	at      map[string]int
	out     Chain
}

func (b *chainBuilder) add(x ChainNode) {
	b.at[x.ID] = len(b.out.Nodes)
	b.out.Nodes = append(b.out.Nodes, x)
}

func (b *chainBuilder) drop(id string) {
	b.out.Nodes = b.out.Nodes[:len(b.out.Nodes)-1]
	delete(b.at, id)
}

// join links the strongest parents to a node.
func (b *chainBuilder) join(id string, into func(knowledge.Effect) bool) bool {
	type link struct {
		from int
		e    knowledge.Effect
	}
	var all []link
	for v, leads := range b.leads {
		if !leads {
			continue
		}
		for _, e := range b.n.Out[v] {
			if into(e) {
				all = append(all, link{v, e})
			}
		}
	}
	slices.SortStableFunc(all, func(x, y link) int {
		return cmp.Compare(y.e.P*b.present[y.from], x.e.P*b.present[x.from])
	})
	share := func(l link) float64 { return l.e.P * b.present[l.from] }
	for _, l := range all[:min(chainParents, len(all))] {
		if share(l) < chainSecond*share(all[0]) {
			break
		}
		b.out.Links = append(b.out.Links, ChainLink{From: b.at[b.n.Nodes[l.from].ID], To: b.at[id], Strength: l.e.Strength, Why: l.e.Why, P: l.e.P})
	}
	return len(all) > 0
}

// finish leaves out what leads to nothing shown, and counts the depth of the rest.
func (b *chainBuilder) finish() Chain {
	c := b.out
	useful := make([]bool, len(c.Nodes))
	useful[0] = true
	for i, x := range c.Nodes {
		useful[i] = useful[i] || x.Kind == "finding"
	}
	for range c.Nodes {
		for _, l := range c.Links {
			useful[l.From] = useful[l.From] || useful[l.To]
		}
	}
	to := make([]int, len(c.Nodes))
	out := Chain{Left: c.Left}
	for i, x := range c.Nodes {
		if to[i] = -1; useful[i] {
			to[i] = len(out.Nodes)
			out.Nodes = append(out.Nodes, x)
		}
	}
	for _, l := range c.Links {
		if to[l.From] >= 0 && to[l.To] >= 0 {
			l.From, l.To = to[l.From], to[l.To]
			out.Links = append(out.Links, l)
		}
	}
	for range out.Nodes {
		for _, l := range out.Links {
			out.Nodes[l.To].Depth = max(out.Nodes[l.To].Depth, out.Nodes[l.From].Depth+1)
		}
	}
	return out
}

// Sentences tell the chain in words, one for each reading that the cause brings about: the way by which it most
// likely came.
func (c Chain) Sentences() []string {
	var out []string
	for i, x := range c.Nodes {
		if x.Kind != "finding" {
			continue
		}
		var parts []string
		for at := i; at > 0; {
			best := -1
			for k, l := range c.Links {
				if l.To == at && (best < 0 || l.P*c.Nodes[l.From].Probability > c.Links[best].P*c.Nodes[c.Links[best].From].Probability) {
					best = k
				}
			}
			if best < 0 {
				break
			}
			l := c.Links[best]
			title := c.Nodes[at].Title
			if at == i && x.State != "" {
				title += ": " + x.State
			}
			parts = append(parts, fmt.Sprintf("%s (%s)", knowledge.InSentence(title), l.Why))
			at = l.From
		}
		slices.Reverse(parts)
		out = append(out, c.Nodes[0].Title+" → "+strings.Join(parts, " → "))
	}
	return out
}

// Circumstance is something besides the readings that makes a cause more or less likely here.
type Circumstance struct {
	Title  string
	Factor float64 // by which it changes the odds
	Why    string
}

// Circumstances returns what besides the readings makes a cause more or less likely in this vehicle: its distance,
// its history, what the unit is known for, repairs tried in vain.
func (a *Assessment) Circumstances(cause string) []Circumstance {
	n, s := a.Network, a.e.s
	c, ok := n.NodeAt[cause]
	if !ok || c >= len(n.Causes) {
		return nil
	}
	var out []Circumstance
	add := func(title string, factor float64, why string) {
		if factor > 1.05 || factor < 0.95 {
			out = append(out, Circumstance{title, factor, why})
		}
	}
	ages := n.Causes[c].Ages
	add("Distance run", hazard(ages, s.Distance), map[string]string{"wear": "it wears with distance", "early": "it fails early or not at all"}[ages])
	for _, k := range n.Unit.Known {
		if k.Cause == cause {
			from, to := KnownWindow(k)
			add("This unit is known for it", known(from, to, s.Distance), k.Note)
		}
	}
	past := a.e.past(-1)
	for f := range n.Findings {
		dist, ok := past[f]
		if !ok {
			continue
		}
		var why []string
		for _, w := range n.History[c] {
			if w.Finding == f && dist[w.State] > 0.3 {
				why = append(why, w.Why)
			}
		}
		add(n.Findings[f].Title, past.factor(n, f, n.History[c]), strings.Join(why, "; "))
	}
	if slices.Contains(s.Repaired, cause) {
		add("Put right already", 1-repairHolds, "a repair holds far more often than not")
	}
	return out
}
