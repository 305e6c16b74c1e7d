// Package wordbench measures the reader of customers' words on texts that were annotated by hand: what it finds of what is said,
// and how much of what it finds is right.
package wordbench

import (
	"fmt"
	"strings"

	"innercompass/core/intake"
)

// Case is a text with what it states.
type Case struct {
	ID    string      `yaml:"id"`
	Unit  string      `yaml:"unit"`
	Text  string      `yaml:"text"`
	Says  []Statement `yaml:"says"`
	Spent string      `yaml:"spent"` // why it measures no more: it led to a change
}

// Statement is one thing that a text states: role, label, its words, and the label of the statement that it belongs to. The words
// stand in the text; the first place counts.
type Statement []string

// Validate returns what is wrong with a case.
func (c Case) Validate() error {
	for _, s := range c.Says {
		if len(s) < 3 || len(s) > 4 {
			return fmt.Errorf("%s: %q: role, label, words and, if it belongs to one, the label of another", c.ID, s)
		}
		if !strings.Contains(c.Text, s[2]) {
			return fmt.Errorf("%s: %q is not in the text", c.ID, s[2])
		}
	}
	return nil
}

// Count is how many statements there are, how many of them were found, how many spans were given and how many of them are right.
type Count struct{ Said, Found, Given, Right int }

// Recall and Precision are shares; 1 where there is nothing to find or nothing was given.
func (c Count) Recall() float64    { return share(c.Found, c.Said) }
func (c Count) Precision() float64 { return share(c.Right, c.Given) }

func share(a, b int) float64 {
	if b == 0 {
		return 1
	}
	return float64(a) / float64(b)
}

func (c *Count) add(o Count) {
	c.Said, c.Found, c.Given, c.Right = c.Said+o.Said, c.Found+o.Found, c.Given+o.Given, c.Right+o.Right
}

// Report is what was counted over cases.
type Report struct {
	Cases                int
	Symptoms, Everything Count
	Roles                map[intake.Role]Count
	Hung                 Count // conditions, ranges, times and hedges that were found: those that hang on the right statement
	Misses               []Miss
}

// Miss is a statement that was not found, or a span that is not right.
type Miss struct {
	Case, Role, Label, Text string
	False                   bool // a span that the text does not state
	Rule                    string
}

// Roles are the roles in the order in which they are shown.
var Roles = []intake.Role{intake.Find, intake.Denied, intake.Gone, intake.Fine, intake.RangeOf, intake.When, intake.Since, intake.Often, intake.Place, intake.History, intake.Hearsay, intake.Guess, intake.Wish, intake.Hedge}

// Measure reads every case with the reader of its unit and counts.
func Measure(cases []Case, reader func(unit string) (*intake.Reader, error)) (Report, error) {
	out := Report{Roles: map[intake.Role]Count{}}
	for _, c := range cases {
		if err := c.Validate(); err != nil {
			return out, err
		}
		r, err := reader(c.Unit)
		if err != nil {
			return out, fmt.Errorf("%s: %w", c.ID, err)
		}
		out.Cases++
		out.count(c, r.Read(c.Text))
	}
	for _, role := range Roles {
		n := out.Roles[role]
		out.Everything.add(n)
		if (intake.Span{Role: role}).Symptom() {
			out.Symptoms.add(n)
		}
	}
	return out, nil
}

// count compares what was read with what is stated.
func (r *Report) count(c Case, spans []intake.Span) {
	add := func(role string, n Count) {
		sum := r.Roles[intake.Role(role)]
		sum.add(n)
		r.Roles[intake.Role(role)] = sum
	}
	right := make([]bool, len(spans))
	for _, s := range c.Says {
		from := strings.Index(c.Text, s[2])
		found, hung := false, false
		for i, sp := range spans {
			if sp.Start < from+len(s[2]) && from < sp.End && agrees(s, sp) {
				found, right[i] = true, true
				hung = hung || len(s) == 4 && sp.Of >= 0 && belongs(s[3], spans[sp.Of])
			}
		}
		add(s[0], Count{Said: 1, Found: one(found)})
		if !found {
			r.Misses = append(r.Misses, Miss{Case: c.ID, Role: s[0], Label: s[1], Text: s[2]})
		} else if len(s) == 4 {
			r.Hung.add(Count{Said: 1, Found: one(hung)})
		}
	}
	for i, sp := range spans {
		if sp.Role == intake.RangeOf && !right[i] && sp.Of >= 0 && spans[sp.Of].Role == intake.Fine {
			continue // the annotation names it by the label of what works
		}
		add(string(sp.Role), Count{Given: 1, Right: one(right[i])})
		if !right[i] {
			r.Misses = append(r.Misses, Miss{c.ID, string(sp.Role), sp.Kind, c.Text[sp.Start:sp.End], true, sp.Rule})
		}
	}
}

func one(b bool) int {
	if b {
		return 1
	}
	return 0
}

// agrees reports whether a span has the role and the label of a statement. What is denied or goes is named by its kind without its
// shade; what works by its range; opinions and wishes have no label.
func agrees(s Statement, sp intake.Span) bool {
	if s[0] != string(sp.Role) {
		return false
	}
	label, kind := s[1], sp.Kind
	switch sp.Role {
	case intake.Hearsay, intake.Guess, intake.Wish, intake.Hedge:
		return true
	case intake.Denied, intake.Gone:
		return label == "any" || base(label) == base(kind)
	case intake.Fine:
		if kind == "range" {
			for _, r := range sp.Range {
				if r == label {
					return true
				}
			}
			return false
		}
	}
	return label == kind || base(kind) == label || strings.HasPrefix(kind, label+".")
}

// belongs reports whether a span is the statement of a label.
func belongs(label string, sp intake.Span) bool {
	if label == "fine" {
		return sp.Role == intake.Fine
	}
	return label == "any" || base(label) == base(sp.Kind)
}

func base(kind string) string {
	b, _, _ := strings.Cut(kind, ".")
	return b
}
