package building_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/library"
	"innercompass/internal/problem"
)

var ctx = context.Background()

// A draft is kept at every step, held to the revision that was changed, stored as version 1, and changed into version 2.
func TestADraftIsKeptStoredAndChanged(t *testing.T) {
	s := apptest.New(t)
	o, err := s.Building.Start(ctx, "automatic", "two-suns-4", "")
	if err != nil || o.Revision != 1 || o.View.Ready() {
		t.Fatalf("%+v %v", o.View.Flaws, err)
	}
	d := o.Draft
	d.Sheet.Name = "Harbor four"
	for i, r := range d.Sheet.Ranges {
		d.Sheet.Ranges[i].Ratio = map[string]string{"R": "2.18", "D1": "2.55", "D2": "1.49", "D3": "1.00", "D4": "0.69"}[r.ID]
	}
	o, err = s.Building.Change(ctx, o.ID, 1, d, false)
	if err != nil || o.Revision != 2 || !o.View.Ready() || o.View.Teeth == nil || o.View.Teeth.Count != 1 {
		t.Fatalf("%+v %v", o.View.Flaws, err)
	}
	if _, err := s.Building.Change(ctx, o.ID, 1, d, false); !errors.Is(err, problem.ErrChanged) {
		t.Errorf("a change of an older revision: %v", err)
	}
	again, err := s.Building.Open(ctx, o.ID)
	if err != nil || again.Draft.Sheet.Name != "Harbor four" || again.Revision != 2 {
		t.Errorf("kept: %+v %v", again.Kept, err)
	}
	n, err := s.Building.Save(ctx, o.ID, "Ada")
	if err != nil || n.Unit.Sheet.ID != "harbor-four" || n.Unit.Sheet.Version != 1 {
		t.Fatalf("%v", err)
	}
	if n, err = s.Building.Save(ctx, o.ID, "Ada"); err != nil || n.Unit.Sheet.Version != 1 {
		t.Errorf("the same again is version %d, %v", n.Unit.Sheet.Version, err)
	}
	d.Sheet.Summary = "as in the ferry"
	if _, err := s.Building.Change(ctx, o.ID, 2, d, false); err != nil {
		t.Fatal(err)
	}
	if n, err = s.Building.Save(ctx, o.ID, "Ada"); err != nil || n.Unit.Sheet.Version != 2 {
		t.Errorf("changed it is version %d, %v", n.Unit.Sheet.Version, err)
	}
	if list, _ := s.Building.List(ctx); len(list) != 1 || list[0].Title != "Harbor four" {
		t.Errorf("%+v", list)
	}
	if err := s.Building.Remove(ctx, o.ID); err != nil {
		t.Fatal(err)
	}
	if _, err := s.Building.Open(ctx, o.ID); !errors.Is(err, problem.ErrNotFound) {
		t.Errorf("taken away: %v", err)
	}
}

func TestStartsThatCannotBeSayWhat(t *testing.T) {
	s := apptest.New(t)
	for _, c := range [][3]string{{"rocket", "", ""}, {"automatic", "no-such", ""}, {"automatic", "", "no-such"}} {
		if _, err := s.Building.Start(ctx, c[0], c[1], c[2]); err == nil {
			t.Errorf("%v began", c)
		}
	}
	o, err := s.Building.Start(ctx, "manual", "", "")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := s.Building.Save(ctx, o.ID, ""); apptest.FieldOf(err) == "" {
		t.Errorf("an empty draft was stored: %v", err)
	}
	if _, err := s.Building.Paste(ctx, o.ID, 1, "one line"); err == nil {
		t.Error("a table of one line was taken")
	}
	if o, err = s.Building.Paste(ctx, o.ID, 1, "gear\tdry clutch\tfirst synchro\tsecond synchro\n1\tx\tx\n2\tx\t\tx\n"); err != nil || len(o.Draft.Sheet.Ranges) != 2 {
		t.Errorf("%+v %v", o.Draft.Sheet.Ranges, err)
	}
}

// A shop's own unit began as a copy; what it added stays when a newer sheet of it is brought in.
func TestANewerSheetKeepsWhatTheShopAdded(t *testing.T) {
	s := apptest.New(t)
	o, err := s.Building.Start(ctx, "automatic", "", "norrad-v3")
	if err != nil {
		t.Fatal(err)
	}
	d := o.Draft
	d.Sheet.Name = "Our three"
	if _, err := s.Building.Change(ctx, o.ID, 1, d, false); err != nil {
		t.Fatal(err)
	}
	n, err := s.Building.Save(ctx, o.ID, "")
	if err != nil {
		t.Fatal(err)
	}
	text, err := s.Library.SheetText(ctx, "norrad-v3", 0, "yaml")
	if err != nil {
		t.Fatal(err)
	}
	newer := strings.ReplaceAll(string(text), "50..62 psi", "52..64 psi")
	merged, clash, err := s.Building.Merge(ctx, n.Unit.Sheet.ID, []byte(newer))
	if err != nil || merged.Draft.Sheet.Name != "Our three" || merged.Draft.Sheet.Version != 2 || len(clash) == 0 || !strings.Contains(fmt.Sprint(clash), "52..64") {
		t.Errorf("%v %v %v", merged.Draft.Sheet.Version, clash, err)
	}
	if _, _, err := s.Building.Merge(ctx, "norrad-v3", []byte(newer)); err == nil {
		t.Error("a sheet that ships was merged")
	}
}

// Many files at once: each stands for itself.
func TestSheetsFromFilesAreReportedOneByOne(t *testing.T) {
	s := apptest.New(t)
	text, err := s.Library.SheetText(ctx, "norrad-v3", 0, "yaml")
	if err != nil {
		t.Fatal(err)
	}
	own := strings.Replace(string(text), "id: norrad-v3", "id: our-three", 1)
	files := []library.SheetFile{{Name: "a.yaml", Text: own}, {Name: "b.yaml", Text: "format: nothing"}, {Name: "c.yaml", Text: string(text)}}
	states := func(store bool) string {
		out, err := s.Library.BringIn(ctx, files, store, "Ada")
		if err != nil {
			t.Fatal(err)
		}
		var all []string
		for _, b := range out {
			all = append(all, fmt.Sprint(b.State, b.Stored))
		}
		return strings.Join(all, " ")
	}
	if got := states(false); got != "newfalse wrongfalse shippedfalse" {
		t.Error(got)
	}
	if got := states(true); got != "newtrue wrongfalse shippedfalse" {
		t.Error(got)
	}
	if got := states(true); got != "samefalse wrongfalse shippedfalse" {
		t.Error(got)
	}
	n, err := s.Library.Unit(ctx, "norrad-v3", 0)
	if err != nil {
		t.Fatal(err)
	}
	v := n.Unit.Sheet.Version
	files[0].Text = strings.Replace(own, fmt.Sprintf("version: %d", v), fmt.Sprintf("version: %d", v+1), 1)
	files[0].Text = strings.Replace(files[0].Text, "name: intermediate band", "name: second band", 1)
	out, err := s.Library.BringIn(ctx, files[:1], true, "Ada")
	if err != nil || out[0].State != "next" || !out[0].Stored || len(out[0].Differences) != 1 {
		t.Errorf("%+v %v", out, err)
	}
	if _, err := s.Library.BringIn(ctx, nil, true, ""); err == nil {
		t.Error("no files were taken")
	}
}
