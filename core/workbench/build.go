package workbench

import (
	"fmt"
	"slices"
	"strings"

	"innercompass/core/measure"
	"innercompass/core/quantity"
	"innercompass/core/stack"
)

// Kinds of notes of building.
const (
	Renew  = "renew"  // what is done with the part; Ref is one of Works, or upgrade and its id
	In     = "in"     // the part went back
	Done   = "done"   // a check of building was made; Ref is its id, Value what was read
	Signed = "signed" // a check was passed over; Ref is its id, Words the reason
)

// Works are what can be done with a part.
var Works = []string{"clean", "reuse", "machine", "renew"}

// Check is one thing that is not skipped silently as a unit is built.
type Check struct {
	ID    string
	Part  int    // index; 0 for the unit as a whole
	Title string // what is to be done
	When  string // before the part goes in, after it is in, or at the end
	State string // open, done or signed
	Says  string // what was read, or the reason
}

// Unnoted is the id of the check by which somebody signs for all that was not noted part by part; until then it is not open either.
const Unnoted = "unnoted"

// Before, After and End say when a check is due.
const (
	Before = "before"
	After  = "after"
	End    = "end"
)

// Building is a unit on its way back together.
type Building struct {
	*Bench
	Built  []int           // parts that went back, in that order
	Works  map[int]Note    // what is done with each part
	Checks map[int][]Check // by part; those of the unit as a whole at 0
	made   map[string]Note // by part and id of a check
}

// Build reads the notes of a case as building; nil when the unit has no stack.
func (b *Bench) Build() *Building {
	out := b.begun()
	for i := range b.stack.Parts {
		if out.handled(i) {
			out.Checks[i] = out.checksOf(i)
		}
	}
	out.Checks[0] = out.whole()
	return out
}

// Works is what is done with each part that somebody has noted something about.
func (b *Bench) Works() map[int]Note { return b.begun().Works }

// Built are the parts that went back, in that order.
func (b *Bench) Built() []int { return b.begun().Built }

// begun is a building without its checks.
func (b *Bench) begun() *Building {
	out := &Building{Bench: b, Works: map[int]Note{}, Checks: map[int][]Check{}, made: map[string]Note{}}
	for _, n := range b.notes {
		i := b.stack.Index(n.Part)
		switch n.Kind {
		case Renew:
			out.Works[i] = n
		case In:
			out.Built = append(out.Built, i)
		case Done, Signed:
			out.made[checkKey(i, n.Ref)] = n
		}
	}
	return out
}

func checkKey(part int, id string) string { return fmt.Sprintf("%d %s", part, id) }

// handled reports whether a part came out, so that it has to go back.
func (b *Building) handled(i int) bool {
	return i > 0 && (b.Gone[i] || slices.Contains(b.Built, i))
}

func (b *Building) check(part int, id, title, when string) Check {
	c := Check{ID: id, Part: part, Title: title, When: when, State: "open"}
	if n, ok := b.made[checkKey(part, id)]; ok {
		c.State, c.Says = "done", n.Value
		if n.Kind == Signed {
			c.State, c.Says = "signed", n.Words
		}
	}
	return c
}

// checksOf are the checks of one part, in the order in which they are due.
func (b *Building) checksOf(i int) []Check {
	p := b.stack.Parts[i]
	var out []Check
	add := func(id, title, when string) { out = append(out, b.check(i, id, title, when)) }
	for _, t := range b.TrapsOf(i, "in") {
		add(fmt.Sprintf("trap %d", t), b.unit.Sheet.Traps[t].Text, Before)
	}
	if p.Once && b.work(i) != "renew" {
		add("once", "renewed: it is never used again", Before)
	}
	if p.Way != "" {
		add("way", "way round: "+p.Way, Before)
	}
	if p.Lube != "" {
		add("lube", "lube: "+p.Lube, Before)
	}
	if n := p.Pieces(); n > 1 {
		add("count", fmt.Sprintf("counted: %d", n), Before)
	}
	for _, l := range b.Limits(i) {
		c := b.check(i, "limit "+l.Limit, l.Name+" inside its window", After)
		if l.Value.Dimension != "" && l.Verdict.Verdict == measure.Conforms && c.State == "open" {
			c.State, c.Says = "done", l.Value.FormatMeasured("")
		}
		out = append(out, c)
	}
	if p.Kind == "pack" {
		if e, ok := b.unit.Element(p.Of[0]); ok && e.Feed != "" {
			add("air", "air check of the "+e.Name, After)
		}
	}
	for g, bolts := range p.Bolts {
		for s, torque := range bolts.Torque {
			title := fmt.Sprintf("%d × %s to %s", bolts.Count, bolts.Thread, quantity.Quantity{SI: torque, Dimension: quantity.Torque}.Format("N·m"))
			if s == len(bolts.Torque)-1 && bolts.BoltsSheet.Turn != "" {
				title += ", then " + bolts.BoltsSheet.Turn
			}
			add(fmt.Sprintf("torque %d %d", g, s), title, After)
		}
	}
	return out
}

// work is what is done with a part, "" while nobody said.
func (b *Building) work(i int) string {
	w, _, _ := strings.Cut(b.Works[i].Ref, " ")
	if w == "upgrade" {
		return "renew"
	}
	return w
}

// whole are the checks of the unit as a whole, at the end.
func (b *Building) whole() []Check {
	s := b.unit.Sheet
	var out []Check
	add := func(id, title string) { out = append(out, b.check(0, id, title, End)) }
	was := func(kind string) bool {
		return slices.ContainsFunc(b.stack.Parts, func(p stack.Part) bool { return p.Kind == kind && b.handled(b.stack.Index(p.ID)) })
	}
	if was("converter") {
		if s.Converter != nil && s.Converter.Seating != "" {
			add("depth", "converter turned in until its pads stand "+s.Converter.Seating+" behind the housing face")
		}
		add("gap", "gap to the flexplate before a bolt is turned: the converter moves freely and is drawn forward by it")
	}
	if was("disc") {
		add("aligned", "alignment tool slides out with a fingertip, before and after tightening")
		add("bled", "release cylinder bled, free travel right")
	}
	if len(b.Built) > 0 && s.Hydraulics != nil && s.Hydraulics.Pump.Kind != "electric" {
		add("flushed", "cooler flushed, its flow measured")
	}
	if len(b.Built) > 0 {
		add("level", "filled with the right fluid, level by the unit's own procedure")
	}
	for i, r := range s.Resets {
		if b.touched(r.After) {
			add(fmt.Sprintf("reset %d", i), r.Text)
		}
	}
	if len(b.Tray) > 0 {
		add(Unnoted, "the rest was built without noting each part: signed for as a whole")
	}
	if len(b.Built) > 0 {
		add("drive", "road test under the conditions of the complaint, looked over for leaks after it")
	}
	return out
}

// touched reports whether a reset's words name something that was handled.
func (b *Building) touched(words string) bool {
	for i, p := range b.stack.Parts {
		if !b.handled(i) {
			continue
		}
		for _, w := range strings.Fields(strings.ToLower(p.Name + " " + p.Kind)) {
			if len(w) > 4 && strings.Contains(strings.ToLower(words), w) {
				return true
			}
		}
	}
	return false
}

// NextIn is the part that goes back next by the order of building, −1 when all that came out is back.
func (b *Building) NextIn() int {
	for _, i := range b.stack.Back() {
		if b.Gone[i] {
			return i
		}
	}
	return -1
}

// Keeps says why a part cannot go back yet; nil when it can. What is open before it is refused; what was to be done on parts that it would
// hide is refused too.
func (b *Building) Keeps(i int) error {
	p := b.stack.Parts[i]
	if !b.Gone[i] {
		return &Problem{"part", p.Name + " is in its place", "a part from the tray"}
	}
	for _, c := range b.stack.Children(i) {
		if b.Gone[c] && b.stack.Parts[c].Level <= p.Level {
			return &Problem{"part", b.stack.Parts[c].Name + " belongs into it first", "what sits in it first"}
		}
	}
	if in := b.stack.Hinders(b.Gone, i); len(in) > 0 {
		return &Problem{"part", "in the way is " + b.names(in), "an earlier place in building"}
	}
	for _, c := range b.Checks[i] {
		if c.When == Before && c.State == "open" {
			return &Problem{"part", "not checked: " + c.Title, "the check made, or passed over with a reason"}
		}
	}
	for _, k := range b.Built {
		for _, c := range b.Checks[k] {
			if c.ID == "air" && c.State == "open" && p.Holder < 0 && b.closed(k) {
				return &Problem{"part", c.Title + " was not made, and this part hides it", "air put to the circuit first, or passed over with a reason"}
			}
		}
	}
	return nil
}

// closed reports whether everything of a pack's element is in that came out.
func (b *Building) closed(pack int) bool {
	for i, p := range b.stack.Parts {
		if b.Gone[i] && slices.Contains(p.Of, b.stack.Parts[pack].Of[0]) && len(p.Of) == 1 {
			return false
		}
	}
	return true
}

// Open lists everything that stands against finishing: parts in the tray, checks that are open. Signed ones do not.
func (b *Building) Open() (parts []int, checks []Check) {
	if slices.ContainsFunc(b.Checks[0], func(c Check) bool { return c.ID == Unnoted && c.State == "signed" }) {
		return nil, nil
	}
	for i := range b.stack.Parts {
		if i > 0 && b.Gone[i] {
			parts = append(parts, i)
		}
		for _, c := range b.Checks[i] {
			if c.State == "open" && c.ID != Unnoted && (i == 0 || slices.Contains(b.Built, i)) {
				checks = append(checks, c)
			}
		}
	}
	return parts, checks
}

// checkBuilding says why a note of building cannot be made.
func (b *Bench) checkBuilding(i int, n Note) error {
	switch n.Kind {
	case Renew:
		if !slices.Contains(Works, n.Ref) && !slices.ContainsFunc(b.stack.Parts[i].Better, func(x stack.BetterPart) bool { return n.Ref == "upgrade "+x.ID }) {
			return &Problem{"ref", fmt.Sprintf("%q", n.Ref), strings.Join(Works, ", ") + ", or upgrade and its id"}
		}
	case In:
		return b.Build().Keeps(i)
	case Done, Signed:
		build := b.begun()
		checks := build.whole
		if i > 0 {
			checks = func() []Check { return build.checksOf(i) }
		}
		if i > 0 && !build.handled(i) || !slices.ContainsFunc(checks(), func(c Check) bool { return c.ID == n.Ref }) {
			return &Problem{"ref", fmt.Sprintf("no check %q here", n.Ref), "the id of a check of this part"}
		}
		if n.Kind == Signed && strings.TrimSpace(n.Words) == "" {
			return &Problem{"words", "passed over without a reason", "the reason, in words"}
		}
	}
	return nil
}

// SignedFor are the checks that were passed over, with part and reason.
func (b *Building) SignedFor() []string {
	var out []string
	for i, p := range b.stack.Parts {
		for _, c := range b.Checks[i] {
			if c.State != "signed" {
				continue
			}
			what, _, _ := strings.Cut(c.Title, ":")
			if i > 0 {
				what = p.Name + ", " + what
			}
			out = append(out, what+" ("+c.Says+")")
		}
	}
	return out
}
