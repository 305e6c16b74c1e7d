package workbench

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"innercompass/core/quantity"
	"innercompass/core/stack"
	"innercompass/core/unitsheet"
)

// Kinds of notes.
const (
	Out    = "out"     // the part was taken out of what it sat in
	Trap   = "trap"    // a trap was read; Ref is its place in the sheet's list, from 0
	Marked = "mark"    // a mark was made; Ref "passed" with words when none was
	Found  = "found"   // what the part looked like; Ref is one of Verdicts, Value the piece, from 1, of what has several
	Size   = "size"    // Ref says what was measured, Value its size
	Own    = "differs" // this unit has something else than the sheet says; Ref is what, Value or words how it is
)

// Verdicts on a part, in the order in which they are offered.
var Verdicts = []string{"kept", "worn", "burnt", "cut", "broken", "wrong", "missing", "differs"}

// Differences are what of a part may be another than the sheet says.
var Differences = []string{"count", "thickness", "way", "version", "other"}

// Note is one entry of a case about its unit on the bench.
type Note struct {
	ID, Kind, Part, Ref, Value, Words string
	Withdraws                         string // id of the note that it takes back
}

// Problem says why a note cannot be made: what is wrong and what would be accepted.
type Problem struct{ Field, Reason, Accepted string }

func (p *Problem) Error() string { return p.Field + ": " + p.Reason + "; accepted: " + p.Accepted }

// Standing are the notes that nobody took back, in order.
func Standing(notes []Note) []Note {
	gone := map[string]bool{}
	for _, n := range notes {
		gone[n.Withdraws] = true
	}
	return slices.DeleteFunc(slices.Clone(notes), func(n Note) bool { return n.Withdraws != "" || gone[n.ID] })
}

// Check says why a note cannot be added to what stands, at an access level; nil when it can.
func (b *Bench) Check(n Note, level unitsheet.Access) error {
	if n.Withdraws != "" {
		return b.checkBack(n)
	}
	i := b.stack.Index(n.Part)
	if i < 0 || i == 0 && slices.Contains([]string{Out, Trap, Marked, In, Renew}, n.Kind) {
		return &Problem{"part", fmt.Sprintf("%q cannot be taken in hand", n.Part), "the id of a part of the stack, not the case"}
	}
	part := b.stack.Parts[i]
	switch n.Kind {
	case Out:
		return b.checkOut(i, level)
	case Trap:
		t, err := strconv.Atoi(n.Ref)
		if err != nil || t < 0 || t >= len(b.unit.Sheet.Traps) || b.unit.Sheet.Traps[t].Part != n.Part {
			return &Problem{"ref", fmt.Sprintf("no trap %q at this part", n.Ref), "the number of a trap of this part"}
		}
	case Marked:
		if n.Ref != "" && n.Ref != "passed" || n.Ref == "passed" && strings.TrimSpace(n.Words) == "" {
			return &Problem{"ref", "passed over without a reason", "nothing when the mark is made; passed, with the reason in words"}
		}
	case Found:
		if !slices.Contains(Verdicts, n.Ref) {
			return &Problem{"ref", fmt.Sprintf("%q", n.Ref), strings.Join(Verdicts, ", ")}
		}
		return piece(part, n.Value)
	case Size:
		return b.checkSize(i, n)
	case Shelf:
		if part.Fit == nil {
			return &Problem{"part", part.Name + " is not chosen from a family", "a select part"}
		}
		if _, err := shelfOf(part.Sizes, n.Value); err != nil {
			return &Problem{"value", err.Error(), "sizes of the family with semicolons between, such as 1.20 mm; 1.35 mm"}
		}
	case Own:
		if !slices.Contains(Differences, n.Ref) || strings.TrimSpace(n.Value+n.Words) == "" {
			return &Problem{"ref", fmt.Sprintf("%q, %q", n.Ref, n.Value), strings.Join(Differences, ", ") + ", and how it is"}
		}
	case Renew, In, Done, Signed:
		return b.checkBuilding(i, n)
	default:
		return &Problem{"kind", fmt.Sprintf("%q", n.Kind), strings.Join([]string{Out, Trap, Marked, Found, Size, Own, Shelf, Renew, In, Done, Signed}, ", ")}
	}
	return nil
}

func piece(p stack.Part, text string) error {
	if text == "" {
		return nil
	}
	if n, err := strconv.Atoi(text); err != nil || n < 1 || n > p.Pieces() {
		return &Problem{"value", fmt.Sprintf("%q", text), fmt.Sprintf("the number of a piece, 1 to %d, or nothing for the whole", p.Pieces())}
	}
	return nil
}

// checkOut says what keeps a part in.
func (b *Bench) checkOut(i int, level unitsheet.Access) error {
	part := b.stack.Parts[i]
	if b.Gone[i] {
		return &Problem{"part", part.Name + " is out already", "a part that is still in"}
	}
	if need, _ := unitsheet.ParseAccess(part.Access); need > level {
		return &Problem{"part", part.Name + " is out of reach: it needs " + part.Access, "a part within reach, or the vehicle at that level"}
	}
	if in := b.stack.Blocks(b.Gone, i); len(in) > 0 {
		return &Problem{"part", part.Name + " is held by " + b.names(in), "what holds it first"}
	}
	for _, t := range b.TrapsOf(i, "out") {
		if !b.Read[t] {
			return &Problem{"part", "a trap here was not read: " + b.unit.Sheet.Traps[t].Text, "the trap read first"}
		}
	}
	if part.Mark != "" && !b.HasMark[i] {
		return &Problem{"part", "the mark is not made: " + part.Mark, "the mark made, or passed over with a reason"}
	}
	return nil
}

// Ready says whether a part may come out now, with the vehicle at a level.
func (b *Bench) Ready(i int, level unitsheet.Access) bool { return b.checkOut(i, level) == nil }

func (b *Bench) names(in []int) string {
	var out []string
	for _, i := range in[:min(3, len(in))] {
		out = append(out, b.stack.Parts[i].Name)
	}
	if more := len(in) - 3; more > 0 {
		out = append(out, fmt.Sprintf("%d more", more))
	}
	return strings.Join(out, ", ")
}

// MostSize is larger than anything that is measured on a part, m.
const MostSize = 0.6

// checkSize reads a size: of a piece, the depth of a pack, the part itself, or a limit of the sheet.
func (b *Bench) checkSize(i int, n Note) error {
	part := b.stack.Parts[i]
	d := quantity.Length
	switch {
	case n.Ref == "depth" && part.Kind == "pack", n.Ref == "height":
	case strings.HasPrefix(n.Ref, "piece "):
		if err := piece(part, strings.TrimPrefix(n.Ref, "piece ")); err != nil {
			return err
		}
	case slices.Contains(part.Limits, n.Ref) || part.Fit != nil && part.Fit.Limit == n.Ref:
		if w, ok := b.unit.Limits[n.Ref]; ok {
			d = w.Low.Dimension
		}
	default:
		return &Problem{"ref", fmt.Sprintf("%q is not measured here", n.Ref), "height, piece and its number, depth of a pack, or a limit of this part"}
	}
	m, err := quantity.ParseMeasured(n.Value, d, usual[d])
	if err != nil {
		return &Problem{"value", err.Error(), "a size with its unit, such as 1.80 mm or 2.12 ± 0.04 mm"}
	}
	if d == quantity.Length && !(m.SI >= 0 && m.SI <= MostSize) {
		return &Problem{"value", fmt.Sprintf("%q", n.Value), fmt.Sprintf("0 to %.0f mm", MostSize*1000)}
	}
	return nil
}

// usual are the units of a number that comes without one.
var usual = map[quantity.Dimension]string{quantity.Length: "mm", quantity.Angle: "°", quantity.Pressure: "bar"}

// checkBack says why a note cannot be taken back: what came after it rests on it.
func (b *Bench) checkBack(n Note) error {
	at := slices.IndexFunc(b.notes, func(o Note) bool { return o.ID == n.Withdraws })
	if at < 0 {
		return &Problem{"withdraws", fmt.Sprintf("no note %q that stands", n.Withdraws), "the id of one that stands"}
	}
	if b.notes[at].Kind == Found || b.notes[at].Kind == Size || b.notes[at].Kind == Shelf || b.notes[at].Kind == Own {
		return nil
	}
	rest := slices.Delete(slices.Clone(b.notes), at, at+1)
	again := &Bench{unit: b.unit, stack: b.stack}
	again.clear()
	for _, o := range rest {
		if err := again.Check(o, unitsheet.ConverterOpen); err != nil {
			return &Problem{"withdraws", "what was done after it rests on it: " + b.stack.Parts[max(0, b.stack.Index(o.Part))].Name, "what came after it taken back first"}
		}
		again.take(o)
	}
	return nil
}
