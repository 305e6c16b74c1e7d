// Package search finds anything in the shop by the words of the trade: cases, vehicles, checks, causes, codes, repairs, instruments, units
// and records.
package search

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"innercompass/core/find"
	"innercompass/core/instrument"
	"innercompass/core/knowledge"
	"innercompass/internal/cases"
	"innercompass/internal/floor"
	"innercompass/internal/library"
	"innercompass/internal/problem"
	"innercompass/internal/takein"
)

// Kinds of what is found, in the order in which it is shown.
var Kinds = []string{"case", "vehicle", "check", "cause", "code", "option", "instrument", "unit", "record"}

// Hit is something that was found. Unit and Case say where it is looked at, as far as it needs them.
type Hit struct{ Kind, ID, Unit, Case, Title, Detail string }

// RecordHit is a record that was issued, with its case.
type RecordHit struct {
	ID, Case, Vehicle string
	Seq               int
	At                time.Time
}

// Store is what a search needs of the store besides the Floor.
type Store interface {
	// FindRecords lists the records in whose case every word occurs, newest first.
	FindRecords(ctx context.Context, words string, most int) ([]RecordHit, error)
}

// Service searches.
type Service struct {
	Store       Store
	Cases       *cases.Service
	Floor       *floor.Service
	Intake      *takein.Service
	Library     *library.Service
	Instruments []instrument.Definition
	Alike       find.Alike

	mu      sync.Mutex
	indexes map[string]*find.Index // by the unit that it is of; "" for all units together
	of      string                 // what is on file, as it was when the indexes were made
}

// Query asks for what every word of Text occurs in.
type Query struct {
	Text string
	Case string // whose unit the checks, causes and codes are of; any unit when it is empty
	Kind string // one kind alone; all when it is empty
	Each int    // at most so many of a kind
}

// Find returns what is found, by kind, the best of each first.
func (s *Service) Find(ctx context.Context, q Query) ([]Hit, error) {
	if err := problem.CheckText("q", q.Text, problem.MaxShort, false); err != nil {
		return nil, err
	}
	if q.Kind != "" && !slices.Contains(Kinds, q.Kind) {
		return nil, problem.Field("kind", fmt.Sprintf("%q", q.Kind), strings.Join(Kinds, ", "))
	}
	var out []Hit
	for _, part := range []struct {
		kinds []string
		find  func(context.Context, Query) ([]Hit, error)
	}{{[]string{"case"}, s.cases}, {[]string{"vehicle"}, s.vehicles}, {[]string{"record"}, s.records}, {Kinds, s.known}} {
		if q.Kind != "" && !slices.Contains(part.kinds, q.Kind) || strings.TrimSpace(q.Text) == "" {
			continue
		}
		hits, err := part.find(ctx, q)
		if err != nil {
			return nil, err
		}
		out = append(out, hits...)
	}
	out = slices.DeleteFunc(out, func(h Hit) bool { return q.Kind != "" && h.Kind != q.Kind })
	slices.SortStableFunc(out, func(a, b Hit) int { return cmp.Compare(slices.Index(Kinds, a.Kind), slices.Index(Kinds, b.Kind)) })
	return out, nil
}

// Written puts a text into the words that the app writes.
func (s *Service) Written(text string) string { return s.Alike.Written(text) }

// cases are the open ones, then the closed ones.
func (s *Service) cases(ctx context.Context, q Query) ([]Hit, error) {
	var out []Hit
	for _, closed := range []bool{false, true} {
		page, err := s.Floor.List(ctx, floor.Query{Closed: closed, Search: q.Text, Limit: q.Each})
		if err != nil {
			return nil, err
		}
		for _, r := range page.Rows {
			state := cases.StageTitle(r.Case.Stage)
			if closed {
				state = "closed"
			}
			out = append(out, Hit{Kind: "case", ID: r.Case.ID, Case: r.Case.ID, Title: "“" + r.Case.Words + "”", Detail: strings.Join([]string{r.Case.Vehicle, r.UnitName, state}, ", ")})
		}
	}
	return out[:min(q.Each, len(out))], nil
}

// vehicles that were here before.
func (s *Service) vehicles(ctx context.Context, q Query) ([]Hit, error) {
	all, err := s.Intake.Vehicles(ctx)
	if err != nil {
		return nil, err
	}
	var out []Hit
	words := strings.Fields(cases.Fold(q.Text))
	for _, v := range all {
		text := cases.Fold(strings.Join([]string{v.Vehicle, v.Customer, v.UnitName}, " "))
		if len(out) < q.Each && !slices.ContainsFunc(words, func(w string) bool { return !strings.Contains(text, w) }) {
			out = append(out, Hit{Kind: "vehicle", ID: v.Vehicle, Unit: v.Unit, Title: v.Vehicle, Detail: strings.Join([]string{v.UnitName, v.Customer, v.Distance}, ", ")})
		}
	}
	return out, nil
}

func (s *Service) records(ctx context.Context, q Query) ([]Hit, error) {
	// The word itself finds all of them.
	words := slices.DeleteFunc(strings.Fields(cases.Fold(q.Text)), func(w string) bool { return len(w) > 2 && strings.HasPrefix("records", w) })
	found, err := s.Store.FindRecords(ctx, strings.Join(words, " "), q.Each)
	if err != nil {
		return nil, err
	}
	var out []Hit
	for _, r := range found {
		out = append(out, Hit{Kind: "record", ID: r.ID, Case: r.Case, Title: fmt.Sprintf("Record %d, %s", r.Seq, r.Vehicle), Detail: "issued " + r.At.Format("2 Jan 2006")})
	}
	return out, nil
}

// known is what the knowledge base, the instruments and the sheets have.
func (s *Service) known(ctx context.Context, q Query) ([]Hit, error) {
	unit := ""
	if q.Case != "" {
		c, err := s.Cases.Case(ctx, q.Case)
		if err != nil {
			return nil, err
		}
		unit = c.UnitID
	}
	ix, err := s.index(ctx, unit)
	if err != nil {
		return nil, err
	}
	var out []Hit
	for _, e := range ix.Search(q.Text, q.Each) {
		h := Hit{Kind: e.Kind, ID: e.ID, Unit: e.Unit, Title: e.Title, Detail: e.Detail}
		if unit != "" && e.Kind == "check" {
			h.Case = q.Case
		}
		out = append(out, h)
	}
	return out, nil
}

// index of one unit, or of all, made when it is first asked for and again when a sheet came in.
func (s *Service) index(ctx context.Context, unit string) (*find.Index, error) {
	items, err := s.Library.UnitList(ctx)
	if err != nil {
		return nil, err
	}
	var of strings.Builder
	for _, it := range items {
		fmt.Fprintf(&of, "%s %d\n", it.ID, it.Version)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.of != of.String() {
		s.of, s.indexes = of.String(), map[string]*find.Index{}
	}
	if ix := s.indexes[unit]; ix != nil {
		return ix, nil
	}
	ix, err := s.make(ctx, items, unit)
	if err == nil {
		s.indexes[unit] = ix
	}
	return ix, err
}

func (s *Service) make(ctx context.Context, items []library.UnitItem, unit string) (*find.Index, error) {
	// What stands for any unit of its kind is searched where a case is about it, and nowhere else: it says nothing that is its own.
	items = slices.DeleteFunc(slices.Clone(items), func(it library.UnitItem) bool { return it.Generic && it.ID != unit })
	var entries []find.Entry
	for _, it := range items {
		entries = append(entries, find.Entry{Kind: "unit", ID: it.ID, Unit: it.ID, Title: it.Name, Detail: it.Summary})
	}
	for _, d := range s.Instruments {
		entries = append(entries, find.Entry{Kind: "instrument", ID: d.ID, Title: d.Title, Detail: d.Answers, Text: strings.Join(d.Hand, " ")})
	}
	seen := map[string]bool{}
	for _, it := range items {
		if unit != "" && it.ID != unit {
			continue
		}
		n, err := s.Library.Find(ctx, it.ID, 0)
		if err != nil {
			return nil, err
		}
		for _, e := range entriesOf(n) {
			if key := e.Kind + " " + e.ID + " " + e.Title; !seen[key] {
				seen[key] = true
				entries = append(entries, e)
			}
		}
	}
	return find.New(s.Alike, entries), nil
}

func entriesOf(n *knowledge.Network) []find.Entry {
	unit := n.Unit.Sheet.ID
	var out []find.Entry
	for _, c := range n.Causes {
		if !c.Unlisted() {
			out = append(out, find.Entry{Kind: "cause", ID: c.ID, Unit: unit, Title: c.Title})
		}
	}
	for _, k := range n.Checks {
		if !k.Drive() {
			out = append(out, find.Entry{Kind: "check", ID: k.ID, Unit: unit, Title: k.Title, Detail: k.Tells, Text: k.Access + " " + strings.Join(k.Tools, " ")})
		}
	}
	for _, f := range n.Findings {
		if f.Stage == "code" {
			out = append(out, find.Entry{Kind: "code", ID: f.ID, Unit: unit, Title: f.Title, Detail: f.Sets})
		}
	}
	for _, o := range n.Options {
		out = append(out, find.Entry{Kind: "option", ID: o.ID, Unit: unit, Title: o.Title})
	}
	return out
}
