package live_test

import (
	"context"
	"math"
	"testing"
	"time"

	"innercompass/core/sim"
	"innercompass/internal/app"
	"innercompass/internal/app/apptest"
	"innercompass/internal/live"
	"innercompass/internal/shifting"
)

func connected(t *testing.T, a live.Asked) (*app.App, live.State) {
	t.Helper()
	s := apptest.New(t)
	st, err := s.Live.Connect(context.Background(), a)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() {
		if err := s.Live.Disconnect(true); err != nil {
			t.Error(err)
		}
	})
	return s, st
}

func to(in sim.Input) func(*sim.Input) { return func(x *sim.Input) { *x = in } }

// waits until something holds; a second and more is a machine that is busy, ten are none that works.
func waits(t *testing.T, what string, holds func() bool) {
	t.Helper()
	for range 1000 {
		if holds() {
			return
		}
		time.Sleep(10 * time.Millisecond)
	}
	t.Fatalf("%s: not in ten seconds", what)
}

// A drive is recorded, marked, kept, and its shifts are told: from the socket to the gear.
func TestALiveDriveIsRecordedAndTold(t *testing.T) {
	s, st := connected(t, live.Asked{Unit: "ombrin-s6", Celsius: 80, Seed: 4})
	if !st.Connected || st.Number == "" || len(st.Watched) != 9 {
		t.Fatalf("%+v", st)
	}
	ctx := context.Background()
	if _, err := s.Live.Drive(to(sim.Input{Selector: "D", Brake: 1})); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Live.Record(); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Live.Record(); err == nil {
		t.Error("two recordings at once")
	}
	if err := s.Live.Disconnect(false); err == nil {
		t.Error("a recording is lost without a word")
	}
	if _, err := s.Live.Watch([]string{"engine"}); err == nil {
		t.Error("other channels while a recording runs")
	}
	if _, err := s.Live.Drive(to(sim.Input{Selector: "D", Throttle: 0.4})); err != nil {
		t.Fatal(err)
	}
	waits(t, "third gear", func() bool {
		now, _ := s.Live.State()
		return now.Range == "D3"
	})
	if _, err := s.Live.Mark("third"); err != nil {
		t.Fatal(err)
	}
	time.Sleep(600 * time.Millisecond)
	rec, err := s.Live.Keep(ctx, live.Kept{Title: "Live pull"})
	if err != nil || len(rec.Marks) != 1 || rec.Rate < 15 || rec.Rate > 55 || rec.Unit != "ombrin-s6" {
		t.Fatalf("%+v %v", rec, err)
	}
	told, err := s.Shifting.Shifts(ctx, rec.ID, shifting.Asked{})
	if err != nil || len(told.Shifts) < 2 || told.Shifts[0].From != "D1" || told.Shifts[1].To != "D3" || !told.Shifts[0].Command.Known {
		t.Errorf("%+v %v", told.Shifts, err)
	}
	_, rows, err := s.Live.Rows(0)
	if err != nil || len(rows) < 50 || rows[len(rows)-1].Seq-rows[0].Seq != len(rows)-1 {
		t.Errorf("%d rows %v", len(rows), err)
	}
}

// Twenty-four channels at 50 a second: of each second hardly a row is missing.
func TestManyChannelsAtFiftyASecond(t *testing.T) {
	s, st := connected(t, live.Asked{Unit: "ombrin-s6", Celsius: 80, Bad: true})
	var ids []string
	for _, c := range st.Channels {
		if c.Missing == "" && len(ids) < 24 {
			ids = append(ids, c.ID)
		}
	}
	if st, err := s.Live.Watch(ids); err != nil || len(st.Watched) != 24 {
		t.Fatalf("%v %v", st.Watched, err)
	}
	waits(t, "a hundred and fifty rows", func() bool {
		_, rows, err := s.Live.Rows(0)
		return err == nil && len(rows) >= 150 && len(rows[0].Value) == 24
	})
	_, rows, err := s.Live.Rows(0)
	if err != nil {
		t.Fatal(err)
	}
	for i := 1; i < len(rows); i++ {
		if gap := rows[i].At - rows[i-1].At; gap > 0.5 {
			t.Errorf("a gap of %.2f s", gap)
		}
	}
}

// Codes are cleared only once they are noted; what a vehicle does not have is said and refused.
func TestCodesAreNotedBeforeTheyAreCleared(t *testing.T) {
	s, _ := connected(t, live.Asked{Unit: "ombrin-s6", Failure: "clutch B never applies", Celsius: 80})
	ctx := context.Background()
	if _, err := s.Live.ClearCodes(ctx); err == nil {
		t.Error("codes that nobody read are cleared")
	}
	if _, err := s.Live.Drive(to(sim.Input{Selector: "D", Throttle: 0.6})); err != nil {
		t.Fatal(err)
	}
	waits(t, "a code", func() bool {
		time.Sleep(300 * time.Millisecond)
		st, err := s.Live.Codes(ctx)
		return err == nil && len(st.Codes) > 0
	})
	if _, err := s.Live.ClearCodes(ctx); err == nil {
		t.Error("codes that are not noted are cleared")
	}
	if _, err := s.Live.NoteCodes(ctx, "", "Ines"); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Live.ClearCodes(ctx); err == nil {
		t.Error("codes are cleared while it drives")
	}
	if _, err := s.Live.Watch([]string{"none"}); err == nil {
		t.Error("a channel that there is not is watched")
	}
	for _, a := range []live.Asked{{Unit: "none"}, {Unit: "ombrin-s6", Failure: "nothing like it", Celsius: 80}, {Unit: "ombrin-s6", Celsius: math.NaN()}} {
		if _, err := s.Live.Connect(ctx, a); err == nil {
			t.Errorf("%+v is connected", a)
		}
	}
}

// Over a serial line the same vehicle is read one value at a time: the same channels and number, fewer rows.
func TestASerialLineIsReadMoreSlowly(t *testing.T) {
	s, st := connected(t, live.Asked{Unit: "ombrin-s6", Celsius: 80, Seed: 5, Serial: true, Bad: true})
	waits(t, "connected", func() bool { st, _ = s.Live.State(); return st.Connected })
	if len(st.Watched) != 9 || len(st.Number) != 17 {
		t.Fatalf("%+v", st)
	}
	waits(t, "some rows", func() bool { _, rows, err := s.Live.Rows(0); return err == nil && len(rows) >= 3 })
	if _, err := s.Live.Codes(context.Background()); err != nil {
		t.Error(err)
	}
}
