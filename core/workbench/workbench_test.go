package workbench_test

import (
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"
	"testing"

	"innercompass/core/knowledge"
	"innercompass/core/stack"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
	"innercompass/internal/catalog"
	embedded "innercompass/knowledge"
)

var loaded = sync.OnceValues(func() (*catalog.Catalog, error) { return catalog.Load(embedded.FS) })

func unit(t *testing.T, id string) *unitsheet.Unit {
	t.Helper()
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	return c.Units[id]
}

// bench keeps notes as a case does.
type bench struct {
	t     *testing.T
	u     *unitsheet.Unit
	level unitsheet.Access
	notes []workbench.Note
}

func (b *bench) now() *workbench.Bench { return workbench.New(b.u, b.notes) }

func (b *bench) try(n workbench.Note) error {
	n.ID = fmt.Sprintf("n%d", len(b.notes))
	if err := b.now().Check(n, b.level); err != nil {
		return err
	}
	b.notes = append(b.notes, n)
	return nil
}

func (b *bench) must(n workbench.Note) {
	b.t.Helper()
	if err := b.try(n); err != nil {
		b.t.Fatalf("%+v: %v", n, err)
	}
}

// out takes a part out with everything that goes before.
func (b *bench) out(i int) {
	b.t.Helper()
	p := b.u.Stack.Parts[i]
	for _, trap := range b.now().TrapsOf(i, "out") {
		b.must(workbench.Note{Kind: workbench.Trap, Part: p.ID, Ref: fmt.Sprint(trap)})
	}
	if p.Mark != "" && !b.now().HasMark[i] {
		b.must(workbench.Note{Kind: workbench.Marked, Part: p.ID})
	}
	b.must(workbench.Note{Kind: workbench.Out, Part: p.ID})
}

// upTo takes apart by the list until a part comes next.
func (b *bench) upTo(id string) {
	b.t.Helper()
	for {
		next, _ := b.now().Next(b.level)
		if next < 0 || b.u.Stack.Parts[next].ID == id {
			return
		}
		b.out(next)
	}
}

// The way to any part of any unit can be gone step by step, ends with it, and to some packs is shorter than taking all apart.
func TestTheWayToEveryPartCanBeGone(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	for id, u := range c.Units {
		none := make(stack.State, len(u.Stack.Parts))
		shorter := false
		for i := 1; i < len(u.Stack.Parts); i++ {
			gone := slices.Clone(none)
			way := u.Stack.Way(none, []int{i})
			for _, q := range way {
				if in := u.Stack.Blocks(gone, q); len(in) > 0 {
					t.Fatalf("%s, on the way to %s: %s is held by %v", id, u.Stack.Parts[i].ID, u.Stack.Parts[q].ID, in)
				}
				gone[q] = true
			}
			if !gone[i] {
				t.Fatalf("%s: the way to %s does not reach it", id, u.Stack.Parts[i].ID)
			}
			shorter = shorter || len(u.Stack.Parts[i].Of) > 0 && len(way) < len(none)/2
		}
		if !shorter {
			t.Errorf("%s: no element is reached with less than half of the parts out", id)
		}
	}
}

// Every shipped unit is taken apart whole, by the list and in any other order that is allowed, and built again with every check made.
func TestEveryUnitComesApartAndGoesBackTogether(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	r := rand.New(rand.NewPCG(3, 4))
	for id, u := range c.Units {
		least := 40
		if u.Sheet.Control == "hand" || u.Sheet.Converter == nil {
			least = 25
		}
		if n := len(u.Stack.Parts); n < least {
			t.Errorf("%s has %d parts", id, n)
		}
		gone := make([]bool, len(u.Stack.Parts))
		for left := len(gone) - 1; left > 0; left-- {
			free := u.Stack.Free(gone, len(u.Stack.Levels))
			if len(free) == 0 {
				t.Fatalf("%s: nothing can come out with %d parts left", id, left)
			}
			gone[free[r.IntN(len(free))]] = true
		}
		b := &bench{t: t, u: u, level: unitsheet.ConverterOpen}
		b.upTo("")
		if n := len(b.now().Tray); n != len(u.Stack.Parts)-1 {
			t.Fatalf("%s: %d of %d parts out", id, n, len(u.Stack.Parts)-1)
		}
		b.build()
		parts, checks := b.now().Build().Open()
		if len(parts) > 0 || len(checks) > 0 {
			t.Errorf("%s: open after building: %v %v", id, parts, checks)
		}
	}
}

// build puts everything back, each check made as it comes up.
func (b *bench) build() {
	b.t.Helper()
	make := func(c workbench.Check) {
		if c.State != "open" {
			return
		}
		p := b.u.Stack.Parts[c.Part].ID
		if c.ID == "once" {
			b.must(workbench.Note{Kind: workbench.Renew, Part: p, Ref: "renew"})
			return
		}
		b.must(workbench.Note{Kind: workbench.Done, Part: p, Ref: c.ID, Value: "as it should be"})
	}
	for {
		build := b.now().Build()
		i := build.NextIn()
		if i < 0 {
			break
		}
		for _, c := range build.Checks[i] {
			if c.When == workbench.Before {
				make(c)
			}
		}
		b.must(workbench.Note{Kind: workbench.In, Part: b.u.Stack.Parts[i].ID})
		for _, c := range b.now().Build().Checks[i] {
			make(c)
		}
	}
	for _, c := range b.now().Build().Checks[0] {
		make(c)
	}
}

func TestAStepIsRefusedWithWhatStandsAgainstIt(t *testing.T) {
	b := &bench{t: t, u: unit(t, "norrad-h4"), level: unitsheet.UnitApart}
	refused := func(n workbench.Note, says string) {
		t.Helper()
		err := b.try(n)
		var bad *workbench.Problem
		if !errors.As(err, &bad) || !strings.Contains(bad.Reason, says) || bad.Accepted == "" {
			t.Errorf("%+v: %v, want …%s…", n, err, says)
		}
	}
	refused(workbench.Note{Kind: workbench.Out, Part: "direct-drum"}, "is held by")
	refused(workbench.Note{Kind: workbench.Out, Part: "case"}, "cannot be taken in hand")
	refused(workbench.Note{Kind: workbench.Out, Part: "nothing"}, "cannot be taken in hand")
	refused(workbench.Note{Kind: workbench.Trap, Part: "pump", Ref: "0"}, "no trap")
	refused(workbench.Note{Kind: workbench.Found, Part: "pump", Ref: "nice"}, "nice")
	refused(workbench.Note{Kind: workbench.Found, Part: "dc-pack", Ref: "burnt", Value: "10"}, "10")
	refused(workbench.Note{Kind: workbench.Size, Part: "dc-pack", Ref: "piece 1", Value: "18 m"}, "18 m")
	refused(workbench.Note{Kind: workbench.Size, Part: "dc-pack", Ref: "weight", Value: "1 mm"}, "not measured here")
	refused(workbench.Note{Kind: workbench.Own, Part: "dc-pack", Ref: "count"}, "count")
	refused(workbench.Note{Kind: "look", Part: "pump"}, "look")
	b.upTo("direct-drum")
	refused(workbench.Note{Kind: workbench.Out, Part: "direct-drum"}, "a trap here was not read")
	b.out(b.u.Stack.Index("direct-drum"))
	refused(workbench.Note{Kind: workbench.Out, Part: "direct-drum"}, "out already")
	refused(workbench.Note{Kind: workbench.Marked, Part: "dc-pack", Ref: "passed"}, "without a reason")
	low := &bench{t: t, u: b.u, level: unitsheet.Lifted}
	low.upTo("")
	if next, beyond := low.now().Next(low.level); next >= 0 || b.u.Stack.Parts[beyond].ID != "pan" {
		t.Errorf("lifted, the work ends before %v", beyond)
	}
	if err := low.try(workbench.Note{Kind: workbench.Out, Part: "pan"}); err == nil || !strings.Contains(err.Error(), "out of reach") {
		t.Errorf("the pan came off a vehicle that only was lifted: %v", err)
	}
}

func TestUndoingGoesBackwards(t *testing.T) {
	b := &bench{t: t, u: unit(t, "norrad-h4"), level: unitsheet.UnitApart}
	b.upTo("pump")
	first := b.notes[0]
	b.must(workbench.Note{Kind: workbench.Found, Part: "converter", Ref: "kept"})
	last, _ := b.now().Undo()
	if last.Kind != workbench.Found {
		t.Fatalf("undoing would take back %+v", last)
	}
	b.must(workbench.Note{Withdraws: last.ID})
	at := slices.IndexFunc(b.notes, func(n workbench.Note) bool { return n.Kind == workbench.Out && n.Part == "engine" })
	if err := b.try(workbench.Note{Withdraws: b.notes[at].ID}); err == nil || !strings.Contains(err.Error(), "rests on it") {
		t.Errorf("the engine was put back under a converter that is out: %v", err)
	}
	if err := b.try(workbench.Note{Withdraws: "n9999"}); err == nil {
		t.Error("a note that is not there was taken back")
	}
	b.must(workbench.Note{Withdraws: first.ID}) // the cable holds nothing
	if b.now().Gone[b.u.Stack.Index(first.Part)] {
		t.Error("taken back, the part is still out")
	}
}

// Sum and uncertainty recomputed: 20.35 less 18.23 mm, each of nine plates ±0.003 mm standard, the depth ±0.015.
func TestPlatesGiveTheClearance(t *testing.T) {
	b := &bench{t: t, u: unit(t, "norrad-h4"), level: unitsheet.UnitApart}
	i := b.u.Stack.Index("dc-pack")
	p, _ := b.now().PackOf(i)
	if !p.Known || math.Abs(p.Room.SI-1.55e-3) > 1e-9 || p.Measured != 0 || p.Verdict.Verdict == "above" {
		t.Errorf("by the sheet %+v", p.Room)
	}
	for n, mm := range []float64{1.80, 1.78, 1.79, 1.74, 1.77, 1.76, 1.80, 1.80, 3.99} {
		note := workbench.Note{Kind: workbench.Size, Part: "dc-pack", Ref: fmt.Sprintf("piece %d", n+1), Value: fmt.Sprintf("%.2f ± 0.006 mm", mm)}
		if tells := b.now().Tells(note); len(tells) > 0 {
			t.Errorf("after %d plates it already says %v", n, tells)
		}
		b.must(note)
	}
	b.must(workbench.Note{Kind: workbench.Size, Part: "dc-pack", Ref: "depth", Value: "20.35 ± 0.03 mm"})
	p, _ = b.now().PackOf(i)
	if math.Abs(p.Room.SI-2.12e-3) > 1e-9 || math.Abs(p.Room.U-math.Sqrt(9*0.003*0.003+0.015*0.015)*1e-3) > 1e-9 {
		t.Errorf("clearance %v ± %v", p.Room.SI, p.Room.U)
	}
	tells := b.now().Tells(b.notes[len(b.notes)-1])
	if len(tells) != 1 || tells[0].State() != "above" || tells[0].Verdict.Above < 0.999 {
		t.Errorf("it says %+v", tells)
	}
}

// Every verdict that a kind of part can have says something that the diagnosis of a shipped unit knows, and none says what it does not.
func TestVerdictsSayWhatTheDiagnosisKnows(t *testing.T) {
	c, err := loaded()
	if err != nil {
		t.Fatal(err)
	}
	said := map[string]bool{}
	for id, n := range c.Networks {
		has := func(finding, state string) bool {
			f, ok := n.Finding(finding)
			return ok && slices.ContainsFunc(f.States, func(s knowledge.FindingState) bool { return s.ID == state })
		}
		b := &bench{t: t, u: n.Unit, level: unitsheet.ConverterOpen}
		for _, p := range n.Unit.Stack.Parts {
			for _, v := range workbench.Verdicts {
				for _, s := range b.now().Says(workbench.Note{ID: "x", Kind: workbench.Found, Part: p.ID, Ref: v}, has) {
					said[p.Kind] = true
					if !has(s.Finding, s.State) {
						t.Errorf("%s %s %s: %+v", id, p.ID, v, s)
					}
				}
			}
		}
	}
	for _, kind := range []string{"pack", "piston", "seal", "ring", "drum", "bushing", "one-way", "band", "servo", "pump-gear", "carrier", "bearing", "thrust", "synchro", "sleeve", "disc", "flywheel", "converter", "chain"} {
		if !said[kind] {
			t.Errorf("no verdict on a %s says anything", kind)
		}
	}
}

func TestOneGoodGearDoesNotTakeBackABadOne(t *testing.T) {
	b := &bench{t: t, u: unit(t, "norrad-h4"), level: unitsheet.UnitApart}
	has := func(finding, state string) bool { return true }
	b.must(workbench.Note{Kind: workbench.Found, Part: "carrier", Ref: "worn"})
	if got := b.now().Says(workbench.Note{ID: "x", Kind: workbench.Found, Part: "small-sun", Ref: "kept"}, has); len(got) > 0 {
		t.Errorf("it says %v", got)
	}
	if got := b.now().Says(workbench.Note{ID: "x", Kind: workbench.Found, Part: "small-sun", Ref: "burnt"}, has); len(got) != 1 || got[0].State != "blue" {
		t.Errorf("it says %v", got)
	}
}

// The choice against trying every size by hand: what is measured, less what the other washer is thicker, nearest to the middle first.
func TestTheSizeIsChosenAgainstBruteForce(t *testing.T) {
	b := &bench{t: t, u: unit(t, "norrad-h4"), level: unitsheet.UnitApart}
	i := b.u.Stack.Index("input-thrust-select")
	if _, ok := b.now().Choices(i); ok {
		t.Error("a choice without anything measured")
	}
	b.must(workbench.Note{Kind: workbench.Size, Part: "input-thrust-select", Ref: "end-play", Value: "0.95 ± 0.02 mm"})
	b.must(workbench.Note{Kind: workbench.Size, Part: "input-thrust-select", Ref: "height", Value: "1.80 ± 0.01 mm"})
	got, ok := b.now().Choices(i)
	if !ok || len(got) != 7 {
		t.Fatalf("%v choices", len(got))
	}
	best, off := 0.0, math.Inf(1)
	for _, mm := range []float64{1.6, 1.8, 2.0, 2.2, 2.4, 2.6, 2.8} {
		if d := math.Abs(0.95 - (mm - 1.80) - 0.55); d < off {
			best, off = mm, d
		}
	}
	if math.Abs(got[0].Size-best*1e-3) > 1e-9 || math.Abs(got[0].Gives.SI-(0.95-(best-1.8))*1e-3) > 1e-9 || got[0].Verdict != "conforms" {
		t.Errorf("%+v, want %v mm", got[0], best)
	}
}

// End play as the stack grows, by hand: the middle of the window less what each washer is thicker than by the sheet; a dial goes before it.
func TestEndPlayGrowsWithWhatIsMeasured(t *testing.T) {
	b := &bench{t: t, u: unit(t, "norrad-h4"), level: unitsheet.UnitApart}
	play := func() workbench.Grown {
		t.Helper()
		for _, g := range b.now().Grown() {
			if g.Limit == "end-play" {
				return g
			}
		}
		t.Fatal("no end play")
		return workbench.Grown{}
	}
	thick := func(id string) float64 {
		box := b.u.Stack.Parts[b.u.Stack.Index(id)].Boxes[0]
		return box.X1 - box.X0
	}
	bare := play()
	if math.Abs(bare.Value.SI-0.55e-3) > 1e-9 || len(bare.Measured) != 0 || len(bare.Members) < 3 || bare.Told {
		t.Fatalf("%+v", bare)
	}
	b.must(workbench.Note{Kind: workbench.Size, Part: "input-thrust-select", Ref: "height", Value: fmt.Sprintf("%.2f ± 0.01 mm", thick("input-thrust-select")+0.2)})
	b.must(workbench.Note{Kind: workbench.Size, Part: "forward-thrust", Ref: "height", Value: fmt.Sprintf("%.2f ± 0.01 mm", thick("forward-thrust")-0.35)})
	if g := play(); math.Abs(g.Value.SI-(0.55-0.2+0.35)*1e-3) > 1e-8 || len(g.Measured) != 2 || g.Value.U >= bare.Value.U {
		t.Errorf("0.20 thicker and 0.35 thinner: %+v", g)
	}
	b.must(workbench.Note{Kind: workbench.Size, Part: "input-thrust-select", Ref: "end-play", Value: "0.92 ± 0.02 mm"})
	if g := play(); math.Abs(g.Value.SI-0.92e-3) > 1e-9 || !g.Told || g.Verdict.Above < 0.9 {
		t.Errorf("by the dial 0.92: %+v", g)
	}
}

func TestOnlyWhatIsOnTheShelfIsChosen(t *testing.T) {
	b := &bench{t: t, u: unit(t, "norrad-h4"), level: unitsheet.UnitApart}
	i := b.u.Stack.Index("input-thrust-select")
	b.must(workbench.Note{Kind: workbench.Size, Part: "input-thrust-select", Ref: "end-play", Value: "0.95 ± 0.02 mm"})
	b.must(workbench.Note{Kind: workbench.Size, Part: "input-thrust-select", Ref: "height", Value: "1.80 ± 0.01 mm"})
	b.must(workbench.Note{Kind: workbench.Shelf, Part: "input-thrust-select", Value: "1.6 mm; 2.00 mm;2.8 mm"})
	got, ok := b.now().Choices(i)
	if !ok || len(got) != 3 || math.Abs(got[0].Size-2.0e-3) > 1e-9 {
		t.Errorf("of 1.6, 2.0 and 2.8 the middle is nearest to 0.55: %+v", got)
	}
	for _, bad := range []workbench.Note{{Kind: workbench.Shelf, Part: "input-thrust-select", Value: "1.7 mm"}, {Kind: workbench.Shelf, Part: "dc-pack", Value: "1.6 mm"}} {
		var p *workbench.Problem
		if err := b.try(bad); !errors.As(err, &p) || p.Accepted == "" {
			t.Errorf("%+v: %v", bad, err)
		}
	}
}

func TestBuildingRefusesWhatWasSkipped(t *testing.T) {
	b := &bench{t: t, u: unit(t, "norrad-h4"), level: unitsheet.UnitApart}
	b.upTo("")
	build := b.now().Build()
	if err := build.Keeps(b.u.Stack.Index("pump")); err == nil {
		t.Error("the pump goes in before everything else")
	}
	seal := b.u.Stack.Index("dc-seal-outer")
	if err := build.Keeps(seal); err == nil || !strings.Contains(err.Error(), "renewed") {
		t.Errorf("a lip seal goes in again: %v", err)
	}
	b.must(workbench.Note{Kind: workbench.Renew, Part: "dc-seal-outer", Ref: "reuse"})
	if err := b.try(workbench.Note{Kind: workbench.Signed, Part: "dc-seal-outer", Ref: "once"}); err == nil {
		t.Error("signed for without a reason")
	}
	b.must(workbench.Note{Kind: workbench.Signed, Part: "dc-seal-outer", Ref: "once", Words: "none to be had on the island"})
	for _, id := range []string{"way", "lube"} {
		b.must(workbench.Note{Kind: workbench.Done, Part: "dc-seal-outer", Ref: id})
	}
	b.must(workbench.Note{Kind: workbench.In, Part: "dc-seal-outer"})
	parts, checks := b.now().Build().Open()
	if len(parts) != len(b.u.Stack.Parts)-2-5 && len(parts) == 0 || len(checks) == 0 {
		t.Errorf("%d parts and %d checks are open", len(parts), len(checks))
	}
	if err := b.try(workbench.Note{Kind: workbench.Renew, Part: "ob-servo", Ref: "upgrade bigger"}); err == nil {
		t.Error("an upgrade that the sheet does not have")
	}
	b.must(workbench.Note{Kind: workbench.Renew, Part: "ob-servo", Ref: "upgrade larger-servo"})
}
