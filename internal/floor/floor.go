// Package floor lists the cases of the shop. A row is computed when its case changes and kept; listing computes nothing.
package floor

import (
	"context"
	"fmt"
	"log/slog"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/internal/assessing"
	"innercompass/internal/cases"
	"innercompass/internal/library"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// Store keeps the rows of the Floor.
type Store interface {
	// Floor lists one page of cases; SaveFloor keeps what was computed of one for it, StaleFloor names those to be computed.
	Floor(ctx context.Context, q Query) (Page, error)
	SaveFloor(ctx context.Context, id string, rev int, basis string, a Answer) error
	StaleFloor(ctx context.Context, basis string, most int) ([]string, error)
}

// Service lists cases and keeps their rows.
type Service struct {
	Store     Store
	Cases     *cases.Service
	Shop      *shop.Service
	Library   *library.Service
	Assessing *assessing.Service
	stale     chan struct{} // says that rows are to be computed
}

// New returns the Floor over a store.
func New(store Store, c *cases.Service, s *shop.Service, l *library.Service, a *assessing.Service) *Service {
	return &Service{Store: store, Cases: c, Shop: s, Library: l, Assessing: a, stale: make(chan struct{}, 1)}
}

// Query asks for a page of the Floor.
type Query struct {
	Closed bool   // the closed cases instead of the open ones
	Search string // every word must occur in vehicle, customer, words or number
	After  Cursor // end of the page before; zero for the first
	Limit  int
}

// Cursor is where a page ends.
type Cursor struct {
	Opened time.Time
	ID     string
}

// Page is one page of cases, newest first, with how many there are that the search finds.
type Page struct {
	Rows         []Row
	Open, Closed int
	Next         Cursor // zero when this is the last page
}

// Row is a case as the Floor lists it.
type Row struct {
	Case     cases.Case // plain columns only
	Computed bool       // false for a moment after an upgrade: what follows is not there yet
	Answer
}

// Answer is what was computed of a case at its last change.
type Answer struct {
	UnitName string
	Shares   []float64 // of suspicion, in the order of diagnose.Systems
	Leader   string    // id of the leading system
	Doubt    float64
	Next     string // what to do next, or who is waited for
	NextNote string
	Suspect  string
	Share    float64
}

// Rose is the row's rose.
func (a Answer) Rose() present.Rose {
	out := present.Rose{Leader: a.Leader, Doubt: a.Doubt}
	for i, id := range knowledge.Systems {
		if i < len(a.Shares) {
			out.Systems = append(out.Systems, present.SystemShare{ID: id, Title: present.SystemTitles[id], Share: a.Shares[i]})
		}
	}
	return out
}

// Most rows on a page of the Floor, and as many as there are when nobody says.
const (
	mostRows  = 200
	usualRows = 50
)

// List is one page of the cases. It computes nothing: every change of a case has left its row behind.
func (s *Service) List(ctx context.Context, q Query) (Page, error) {
	if q.Limit == 0 {
		q.Limit = usualRows
	}
	if q.Limit < 1 || q.Limit > mostRows {
		return Page{}, problem.Field("limit", fmt.Sprint(q.Limit), fmt.Sprintf("1 to %d", mostRows))
	}
	if err := problem.CheckText("q", q.Search, problem.MaxShort, false); err != nil {
		return Page{}, err
	}
	q.Search = cases.Fold(q.Search)
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return Page{}, err
	}
	page, err := s.Store.Floor(ctx, q)
	for i := range page.Rows {
		c := &page.Rows[i].Case
		c.Distance = st.Style().Localise(c.Distance)
	}
	return page, err
}

func answerOf(n *knowledge.Network, c cases.Case, a *diagnose.Assessment, h plan.Recommendation) Answer {
	r := present.RoseOf(a)
	out := Answer{UnitName: n.Unit.Sheet.Name, Leader: r.Leader, Doubt: r.Doubt, Suspect: a.Suspects[0].Cause.Title, Share: a.Suspects[0].Probability}
	for _, x := range r.Systems {
		out.Shares = append(out.Shares, x.Share)
	}
	switch {
	case c.Closed != nil:
		out.Next = map[string]string{"cured": "Closed, proven", "not-cured": "Closed, not cured", "declined": "Closed, declined", "no-fault": "Closed, no fault found"}[c.Outcome]
		if root, ok := n.Cause(c.Root); ok {
			out.NextNote = root.Title
		}
	case c.WaitsFor != "":
		out.Next = "Waits for " + c.WaitsFor
	case len(h.Best) > 0:
		out.Next, out.NextNote = h.Best[0].Check.Title, fmt.Sprintf("%.0f min · %s", h.Best[0].Minutes+h.Best[0].AccessMinutes, h.Best[0].Check.Tells)
	default:
		out.Next, out.NextNote = "Decide", h.Stop
	}
	return out
}

// Basis names what a row of the Floor was computed with, beside the case: when it changes, open cases are computed again.
func (s *Service) Basis(st shop.Settings) string {
	return fmt.Sprintf("%s %g", s.Library.Knowledge(), st.LabourRate)
}

// Ask asks for the rows that are out of date to be computed; it does not wait.
func (s *Service) Ask() {
	select {
	case s.stale <- struct{}{}:
	default: // asked for already
	}
}

// Keep computes the rows of the Floor that are out of date, one after the other, whenever there may be some: after an
// upgrade, after a change of the rates, after a change whose answer nobody waited for. It ends with ctx.
func (s *Service) Keep(ctx context.Context) {
	s.Ask()
	for {
		select {
		case <-ctx.Done():
			return
		case <-s.stale:
			if err := s.Refresh(ctx); err != nil && ctx.Err() == nil {
				slog.Error("rows of the Floor", "error", err)
			}
		}
	}
}

// Refresh computes the rows that are out of date. A case that cannot be computed is named in the log and passed over.
func (s *Service) Refresh(ctx context.Context) error {
	failed := map[string]bool{}
	for {
		st, err := s.Shop.Settings(ctx)
		if err != nil {
			return err
		}
		ids, err := s.Store.StaleFloor(ctx, s.Basis(st), 50+len(failed))
		if err != nil {
			return err
		}
		done := 0
		for _, id := range ids {
			if failed[id] {
				continue
			}
			if err := s.refreshRow(ctx, id, st); err != nil {
				if ctx.Err() != nil {
					return ctx.Err()
				}
				slog.Error("row of the Floor", "case", id, "error", err)
				failed[id] = true
			}
			done++
		}
		if done == 0 {
			return nil
		}
	}
}

func (s *Service) refreshRow(ctx context.Context, id string, st shop.Settings) error {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return err
	}
	a, err := s.Assessing.Assess(ctx, n, c.Situation(c.Valid()), false)
	if err != nil {
		return err
	}
	return s.SaveRow(ctx, n, c, a.Assessment, s.Assessing.Heading(n, c, a, st), st)
}

// SaveRow keeps the row of a case as it was computed.
func (s *Service) SaveRow(ctx context.Context, n *knowledge.Network, c cases.Case, a *diagnose.Assessment, h plan.Recommendation, st shop.Settings) error {
	return s.Store.SaveFloor(ctx, c.ID, c.Rev, s.Basis(st), answerOf(n, c, a, h))
}
