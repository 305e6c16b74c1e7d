package casework

import (
	"context"
	"fmt"
	"log/slog"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
)

// FloorQuery asks for a page of the Floor.
type FloorQuery struct {
	Closed bool        // the closed cases instead of the open ones
	Search string      // every word must occur in vehicle, customer, words or number
	After  FloorCursor // end of the page before; zero for the first
	Limit  int
}

// FloorCursor is where a page ends.
type FloorCursor struct {
	Opened time.Time
	ID     string
}

// FloorPage is one page of cases, newest first, with how many there are that the search finds.
type FloorPage struct {
	Rows         []FloorRow
	Open, Closed int
	Next         FloorCursor // zero when this is the last page
}

// FloorRow is a case as the Floor lists it.
type FloorRow struct {
	Case     Case // plain columns only
	Computed bool // false for a moment after an upgrade: what follows is not there yet
	FloorAnswer
}

// FloorAnswer is what was computed of a case at its last change.
type FloorAnswer struct {
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
func (a FloorAnswer) Rose() Rose {
	out := Rose{Leader: a.Leader, Doubt: a.Doubt}
	for i, id := range knowledge.Systems {
		if i < len(a.Shares) {
			out.Systems = append(out.Systems, SystemShare{id, systemTitles[id], a.Shares[i]})
		}
	}
	return out
}

// Most rows on a page of the Floor, and as many as there are when nobody says.
const (
	mostRows  = 200
	usualRows = 50
)

// Floor lists one page of the cases. It computes nothing: every change of a case has left its row behind.
func (s *Service) Floor(ctx context.Context, q FloorQuery) (FloorPage, error) {
	if q.Limit == 0 {
		q.Limit = usualRows
	}
	if q.Limit < 1 || q.Limit > mostRows {
		return FloorPage{}, &FieldError{"limit", fmt.Sprint(q.Limit), fmt.Sprintf("1 to %d", mostRows)}
	}
	if err := checkText("q", q.Search, maxShort, false); err != nil {
		return FloorPage{}, err
	}
	q.Search = Fold(q.Search)
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return FloorPage{}, err
	}
	page, err := s.Store.Floor(ctx, q)
	for i := range page.Rows {
		c := &page.Rows[i].Case
		c.Distance = st.Style().Localise(c.Distance)
	}
	return page, err
}

func floorAnswer(n *knowledge.Network, c Case, a *diagnose.Assessment, h plan.Recommendation) FloorAnswer {
	r := rose(a)
	out := FloorAnswer{UnitName: n.Unit.Sheet.Name, Leader: r.Leader, Doubt: r.Doubt, Suspect: a.Suspects[0].Cause.Title, Share: a.Suspects[0].Probability}
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

// basis names what a row of the Floor was computed with, beside the case: when it changes, open cases are computed again.
func (s *Service) basis(st Settings) string {
	version := ""
	for _, n := range s.library.sheets.Shipped() {
		version = n.Version // the same for all: they are compiled from one knowledge base
	}
	return fmt.Sprintf("%s %g", version, st.LabourRate)
}

// refreshFloor asks for the rows that are out of date to be computed; it does not wait.
func (s *Service) refreshFloor() {
	select {
	case s.stale <- struct{}{}:
	default: // asked for already
	}
}

// KeepFloor computes the rows of the Floor that are out of date, one after the other, whenever there may be some: after an
// upgrade, after a change of the rates, after a change whose answer nobody waited for. It ends with ctx.
func (s *Service) KeepFloor(ctx context.Context) {
	s.refreshFloor()
	for {
		select {
		case <-ctx.Done():
			return
		case <-s.stale:
			if err := s.RefreshFloor(ctx); err != nil && ctx.Err() == nil {
				slog.Error("rows of the Floor", "error", err)
			}
		}
	}
}

// RefreshFloor computes the rows that are out of date. A case that cannot be computed is named in the log and passed over.
func (s *Service) RefreshFloor(ctx context.Context) error {
	failed := map[string]bool{}
	for {
		st, err := s.Store.Settings(ctx)
		if err != nil {
			return err
		}
		ids, err := s.Store.StaleFloor(ctx, s.basis(st), 50+len(failed))
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

func (s *Service) refreshRow(ctx context.Context, id string, st Settings) error {
	c, n, err := s.load(ctx, id)
	if err != nil {
		return err
	}
	a, err := s.assess(ctx, n, c.situation(c.Valid()), false)
	if err != nil {
		return err
	}
	return s.saveRow(ctx, n, c, a.Assessment, s.heading(n, c, a, st), st)
}

// heading is what to do next; a closed case has none.
func (s *Service) heading(n *knowledge.Network, c Case, a *assessment, st Settings) plan.Recommendation {
	if c.Closed != nil {
		return plan.Recommendation{}
	}
	return a.next(c.stand(n, s.Now()), Economics(st))
}

func (s *Service) saveRow(ctx context.Context, n *knowledge.Network, c Case, a *diagnose.Assessment, h plan.Recommendation, st Settings) error {
	return s.Store.SaveFloor(ctx, c.ID, c.Rev, s.basis(st), floorAnswer(n, c, a, h))
}
