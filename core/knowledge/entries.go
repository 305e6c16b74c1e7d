package knowledge

import (
	"fmt"
	"slices"
	"strings"
)

// EntryKinds are the kinds of entry of a compiled knowledge base, as they are browsed.
var EntryKinds = []string{"cause", "damage", "fault", "finding", "check", "option", "school"}

// EntryRef names an entry.
type EntryRef struct{ Kind, ID, Title, Note string }

// Entry is one entry with every sentence that speaks of it.
type Entry struct {
	EntryRef
	Facts    []string // what is said of it alone
	Sections []Section
}

// Section is a list of sentences of one sort.
type Section struct {
	Title     string
	Sentences []Sentence
}

// Sentence links an entry to another.
type Sentence struct {
	To       EntryRef
	State    string // words for a finding's state
	Strength string
	Why      string
}

func (n *Network) nodeRef(v int) EntryRef {
	x := n.Nodes[v]
	return EntryRef{x.Kind, x.ID, x.Title, x.System}
}

func (n *Network) findingRef(f int) EntryRef {
	x := n.Findings[f]
	return EntryRef{"finding", x.ID, x.Title, x.Stage}
}

func checkRef(c Check) EntryRef { return EntryRef{"check", c.ID, c.Title, c.Access} }

func optionRef(o Option) EntryRef { return EntryRef{"option", o.ID, o.Title, o.Strategy} }

// Entries lists everything that is known for this unit, by kind.
func (n *Network) Entries() []EntryRef {
	var out []EntryRef
	for v := range n.Nodes {
		if v < len(n.Causes) && n.Causes[v].Unlisted() {
			continue // it says only what its damage says
		}
		out = append(out, n.nodeRef(v))
	}
	for f := range n.Findings {
		out = append(out, n.findingRef(f))
	}
	for _, c := range n.Checks {
		out = append(out, checkRef(c))
	}
	for _, o := range n.Options {
		out = append(out, optionRef(o))
	}
	for _, s := range n.Schools {
		out = append(out, EntryRef{"school", s.ID, s.Question, ""})
	}
	return out
}

// Find returns the entries of a kind ("" for all) in which every word of a text occurs: in the title, the id, or a
// sentence that leaves it. Those with all of them in the title come first.
func (n *Network) Find(text, kind string) []EntryRef {
	words := strings.Fields(strings.ToLower(text))
	var first, rest []EntryRef
	for _, e := range n.Entries() {
		if kind != "" && e.Kind != kind {
			continue
		}
		title := strings.ToLower(e.Title + " " + e.ID)
		switch {
		case containsAll(title, words):
			first = append(first, e)
		case len(words) > 0 && containsAll(title+" "+n.saidOf(e), words):
			rest = append(rest, e)
		}
	}
	return append(first, rest...)
}

func containsAll(text string, words []string) bool {
	for _, w := range words {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}

// saidOf is the text that is searched besides the title.
func (n *Network) saidOf(e EntryRef) string {
	var b strings.Builder
	switch v, ok := n.NodeAt[e.ID]; {
	case e.Kind == "check":
		c, _ := n.Check(e.ID)
		fmt.Fprintln(&b, c.Tells, strings.Join(c.Steps, " "))
	case e.Kind == "finding":
		f, _ := n.Finding(e.ID)
		fmt.Fprintln(&b, f.Help, f.Sets, f.Ask)
		for _, s := range f.States {
			fmt.Fprintln(&b, s.Title)
		}
	case e.Kind == "school":
		for _, s := range n.Schools {
			if s.ID == e.ID {
				fmt.Fprintln(&b, s.Follows)
				for _, x := range s.Sides {
					fmt.Fprintln(&b, x.Title, x.Says, x.Risk)
				}
			}
		}
	case ok:
		for _, l := range n.Out[v] {
			fmt.Fprintln(&b, l.Why)
		}
	}
	return strings.ToLower(b.String())
}

// Entry returns one entry; false when there is none.
func (n *Network) Entry(kind, id string) (Entry, bool) {
	at := slices.IndexFunc(n.Entries(), func(e EntryRef) bool { return e.Kind == kind && e.ID == id })
	if at < 0 {
		return Entry{}, false
	}
	e := Entry{EntryRef: n.Entries()[at]}
	switch kind {
	case "finding":
		n.finish(&e, n.FindingAt[id])
	case "check":
		n.finishCheck(&e)
	case "option":
		n.finishOption(&e)
	case "school":
		n.finishSchool(&e)
	default:
		n.finishNode(&e, n.NodeAt[id])
	}
	return e, true
}

func (e *Entry) section(title string, sentences []Sentence) {
	if len(sentences) > 0 {
		e.Sections = append(e.Sections, Section{title, sentences})
	}
}

func (n *Network) finishNode(e *Entry, v int) {
	x := n.Nodes[v]
	if v < len(n.Causes) {
		c := n.Causes[v]
		e.Facts = append(e.Facts, fmt.Sprintf("Met %s, because %s.", c.Met.Level, c.Met.Why))
		var when []Sentence
		for _, w := range n.History[v] {
			f := n.Findings[w.Finding]
			when = append(when, Sentence{n.findingRef(w.Finding), f.States[w.State].Title, factorName(w.Factor), w.Why})
		}
		e.section("After this in the history", when)
	}
	if x.Kind != "fault" {
		e.Facts = append(e.Facts, fmt.Sprintf("Put right by itself: %.1f h beyond access (%s).", x.Repair.Hours, x.Repair.Access))
	}
	var from, nodes, shows []Sentence
	for p := range n.Out {
		for _, l := range n.Out[p] {
			if l.Node == v && n.Nodes[p].Kind != "cause" || l.Node == v && !n.Causes[p].Unlisted() {
				from = append(from, Sentence{n.nodeRef(p), "", l.Strength, l.Why})
			}
		}
	}
	for _, l := range n.Out[v] {
		if l.Node >= 0 {
			nodes = append(nodes, Sentence{n.nodeRef(l.Node), "", l.Strength, l.Why})
			continue
		}
		shows = append(shows, Sentence{n.findingRef(l.Finding), n.Findings[l.Finding].States[l.State].Title, l.Strength, l.Why})
	}
	var cured []Sentence
	for _, o := range n.Options {
		if chance := n.cures(o); v < len(n.Causes) && chance[v] > 0 {
			cured = append(cured, Sentence{optionRef(o), "", fmt.Sprintf("%.0f\u00a0%%", 100*chance[v]), ""})
		}
	}
	e.section("Brought about by", from)
	e.section("Brings about", nodes)
	e.section("Shows", shows)
	e.section("Cured by, with this chance", cured)
}

func factorName(factor float64) string {
	for name, f := range Factors {
		if f == factor {
			return name
		}
	}
	return fmt.Sprintf("%.2g times", factor)
}

func (n *Network) finish(e *Entry, f int) {
	x := n.Findings[f]
	if x.Sets != "" {
		e.Facts = append(e.Facts, "Usually set by: "+x.Sets+".")
	}
	if x.Help != "" {
		e.Facts = append(e.Facts, x.Help)
	}
	var states []string
	for i, s := range x.States {
		text := s.Title
		if i > 0 {
			text += fmt.Sprintf(" (%.2g\u00a0%% of vehicles show it anyway)", 100*s.Baseline)
		}
		states = append(states, text)
	}
	e.Facts = append(e.Facts, "States: "+strings.Join(states, "; ")+".")
	if x.Ask != "" {
		e.Facts = append(e.Facts, "Asked as “"+x.Ask+"”")
	}
	var from, found []Sentence
	for _, l := range n.In[f] {
		if l.From < len(n.Causes) && n.Causes[l.From].Unlisted() {
			continue
		}
		from = append(from, Sentence{n.nodeRef(l.From), x.States[l.State].Title, l.Strength, l.Why})
	}
	for _, c := range n.Checks {
		if slices.Contains(c.Yields, x.ID) {
			found = append(found, Sentence{checkRef(c), "", "", c.Tells})
		}
	}
	e.section("Brought about by", from)
	e.section("Found by", found)
}

func (n *Network) finishCheck(e *Entry) {
	c, _ := n.Check(e.ID)
	e.Facts = append(e.Facts, c.Tells, fmt.Sprintf("%.0f min, access: %s.", c.Minutes, c.Access))
	for _, x := range c.Cautions {
		e.Facts = append(e.Facts, x.Title+": "+x.Text)
	}
	e.Facts = append(e.Facts, c.Steps...)
	var yields []Sentence
	for _, y := range c.Yields {
		yields = append(yields, Sentence{n.findingRef(n.FindingAt[y]), "", "", ""})
	}
	e.section("Answers", yields)
	for _, s := range n.Schools {
		if s.ID == c.School {
			e.section("Practitioners differ", []Sentence{{EntryRef{"school", s.ID, s.Question, ""}, "", "", s.Follows}})
		}
	}
}

func (n *Network) finishOption(e *Entry) {
	for _, o := range n.Options {
		if o.ID != e.ID {
			continue
		}
		if o.Note != "" {
			e.Facts = append(e.Facts, o.Note)
		}
		var cures []Sentence
		for c, chance := range n.cures(o) {
			if chance > 0 && !n.Causes[c].Unlisted() {
				cures = append(cures, Sentence{n.nodeRef(c), "", fmt.Sprintf("%.0f\u00a0%%", 100*chance), ""})
			}
		}
		e.section("Cures, with this chance", cures)
	}
}

func (n *Network) finishSchool(e *Entry) {
	for _, s := range n.Schools {
		if s.ID != e.ID {
			continue
		}
		for _, x := range s.Sides {
			e.Facts = append(e.Facts, fmt.Sprintf("%s: %s Risk: %s", x.Title, x.Says, x.Risk))
		}
		e.Facts = append(e.Facts, "Followed here: "+s.Follows)
		var checks []Sentence
		for _, c := range n.Checks {
			if c.School == s.ID {
				checks = append(checks, Sentence{checkRef(c), "", "", c.Tells})
			}
		}
		e.section("Where it matters", checks)
	}
}
