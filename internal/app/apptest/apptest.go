// Package apptest gives tests of the use cases what they start from: the whole app over a data folder of their own.
package apptest

import (
	"bytes"
	"context"
	"errors"
	"image"
	"image/png"
	"os"
	"reflect"
	"strconv"
	"sync"
	"testing"
	"time"

	"innercompass/internal/app"
	"innercompass/internal/cases"
	"innercompass/internal/floor"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/store"
	"innercompass/internal/takein"
	"innercompass/internal/trial"
)

// New is all that can be done, over a new data folder and the shipped knowledge.
func New(t testing.TB) *app.App {
	t.Helper()
	st, err := store.Open(t.TempDir())
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { _ = st.Close() })
	a := app.New(reread{st, t}, trial.Load(t))
	a.Library.Longest = time.Minute // many at once under the race detector, on a machine that is busy
	return a
}

// reread holds what every change answers against what was kept: a case is computed as it then stands, and not read again.
type reread struct {
	*store.Store
	t testing.TB
}

// Change is the store's, with its answer compared.
func (r reread) Change(ctx context.Context, id string, g cases.Guard, f func(cases.Held) (cases.Changes, error)) (cases.Case, error) {
	answered, err := r.Store.Change(ctx, id, g, f)
	if err != nil {
		return answered, err
	}
	kept, err := r.Store.Case(ctx, id)
	if err != nil {
		return answered, err
	}
	if kept.Rev <= answered.Rev && !reflect.DeepEqual(kept, answered) { // else somebody has changed it since
		r.t.Errorf("the change of %s answers\n%+v\nbut what is kept is\n%+v", id, answered, kept)
	}
	return answered, nil
}

// See looks at the whole of a case after a change of it.
func See(a *app.App) func(cases.Saved, error) (present.View, error) {
	return func(saved cases.Saved, err error) (present.View, error) {
		if err != nil {
			return present.View{}, err
		}
		if _, err := a.Overview.After(context.Background(), saved); err != nil {
			return present.View{}, err
		}
		return a.Overview.View(context.Background(), saved.Case.ID)
	}
}

// Floor lists all cases with their histories, open ones first.
func Floor(t testing.TB, a *app.App) []floor.Row {
	t.Helper()
	var out []floor.Row
	for _, closed := range []bool{false, true} {
		page, err := a.Floor.List(context.Background(), floor.Query{Closed: closed})
		if err != nil {
			t.Fatal(err)
		}
		for _, row := range page.Rows {
			if row.Case, err = a.Store.Case(context.Background(), row.Case.ID); err != nil {
				t.Fatal(err)
			}
			out = append(out, row)
		}
	}
	return out
}

// TakenIn is a van that slips, just taken in.
func TakenIn(t testing.TB, a *app.App) present.View {
	t.Helper()
	v, err := See(a)(a.Intake.TakeIn(context.Background(), takein.Intake{Words: "It slips", Vehicle: "Ferry shuttle", Distance: "88 000 mi", UnitID: "norrad-h4"}))
	if err != nil {
		t.Fatal(err)
	}
	return v
}

// Picture is a grey picture of so many pixels.
func Picture(t testing.TB, w, h int) []byte {
	t.Helper()
	var b bytes.Buffer
	if err := png.Encode(&b, image.NewGray(image.Rect(0, 0, w, h))); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// Rounds is how often everything is done at once: make test-race asks for more.
func Rounds(t testing.TB) int {
	t.Helper()
	text := os.Getenv("COMPASS_ROUNDS")
	if text == "" {
		return 10
	}
	n, err := strconv.Atoi(text)
	if err != nil || n < 1 {
		t.Fatalf("COMPASS_ROUNDS=%q; accepted: a number of rounds", text)
	}
	return n
}

// Fewer is how often that is done for which a round costs more than one thing done at once.
func Fewer(t testing.TB) int { return max(2, Rounds(t)/20) }

// AtOnce does something eight times at the same moment and returns what became of each.
func AtOnce(do func(i int) error) []error {
	const people = 8
	errs := make([]error, people)
	start := make(chan struct{})
	var wg sync.WaitGroup
	for i := range people {
		wg.Add(1)
		go func() {
			defer wg.Done()
			<-start
			errs[i] = do(i)
		}()
	}
	close(start)
	wg.Wait()
	return errs
}

// OneWins fails unless one of them was done and the others were told what to do.
func OneWins(t testing.TB, errs []error) {
	t.Helper()
	won := 0
	for _, err := range errs {
		var state *problem.StateError
		switch {
		case err == nil:
			won++
		case errors.Is(err, problem.ErrChanged):
		case errors.As(err, &state) && state.Accepted != "":
		default:
			t.Errorf("refused with %v", err)
		}
	}
	if won != 1 {
		t.Errorf("%d of %d were done", won, len(errs))
	}
}

// FieldOf is the field that was refused with what would be accepted; empty for any other error.
func FieldOf(err error) string {
	var fe *problem.FieldError
	if errors.As(err, &fe) && fe.Accepted != "" {
		return fe.Field
	}
	return ""
}

// RefusedBy is why a case is not in a state for something; empty for any other error.
func RefusedBy(err error) string {
	var se *problem.StateError
	if errors.As(err, &se) && se.Accepted != "" {
		return se.Reason
	}
	return ""
}

// Burnt is a case with a settled cause, far enough to be decided.
func Burnt(t testing.TB, s *app.App) string {
	t.Helper()
	id := TakenIn(t, s).Case.ID
	var add []readings.NewReading
	for _, r := range [][3]string{{"road.hot.D3.shift", "flare", "seen"}, {"pressure-pattern", "low-DC", "measured"}, {"air-check.DC", "piston", "measured"}, {"piston-seal.DC", "hard", "seen"}, {"fluid-temperature", "usual", "measured"}, {"fluid-level", "ok", "measured"}, {"pressure-rise", "rises", "measured"}} {
		add = append(add, readings.NewReading{Finding: r[0], State: r[1], Source: r[2]})
	}
	if _, err := s.Readings.AddReadings(context.Background(), id, cases.Guard{}, add); err != nil {
		t.Fatal(err)
	}
	return id
}
