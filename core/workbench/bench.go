package workbench

import (
	"slices"
	"strconv"

	"innercompass/core/stack"
	"innercompass/core/unitsheet"
)

// Bench is a unit as far as it is taken apart.
type Bench struct {
	Gone    stack.State
	Tray    []int        // what was taken out, in that order
	Read    map[int]bool // traps that were read, by their place in the sheet
	HasMark map[int]bool
	Founds  map[int][]Note // by part, the latest for each piece
	Sizes   map[int]map[string]Note
	Owns    []Note
	Lost    []Note // notes of parts that this unit does not have: the case moved to another unit

	unit  *unitsheet.Unit
	stack *stack.Stack
	notes []Note // that stand
}

// New reads the notes of a case; nil when the unit has no stack.
func New(u *unitsheet.Unit, notes []Note) *Bench {
	if u.Stack == nil {
		return nil
	}
	b := &Bench{unit: u, stack: u.Stack}
	b.clear()
	for _, n := range Standing(notes) {
		if b.stack.Index(n.Part) < 0 {
			b.Lost = append(b.Lost, n)
			continue
		}
		b.take(n)
	}
	return b
}

// Add takes in a note that was checked. One that takes another back reads what is left anew.
func (b *Bench) Add(n Note) *Bench {
	if n.Withdraws != "" {
		return New(b.unit, append(slices.Clone(b.notes), n))
	}
	if b.stack.Index(n.Part) < 0 {
		b.Lost = append(b.Lost, n)
		return b
	}
	b.take(n)
	return b
}

func (b *Bench) clear() {
	b.Gone = make(stack.State, len(b.stack.Parts))
	b.Read, b.HasMark, b.Founds, b.Sizes = map[int]bool{}, map[int]bool{}, map[int][]Note{}, map[int]map[string]Note{}
}

// take adds a note that stands.
func (b *Bench) take(n Note) {
	i := b.stack.Index(n.Part)
	b.notes = append(b.notes, n)
	switch n.Kind {
	case Out:
		b.Gone[i] = true
		b.Tray = append(b.Tray, i)
	case In:
		b.Gone[i] = false
		b.Tray = slices.DeleteFunc(b.Tray, func(t int) bool { return t == i })
	case Trap:
		if t, err := strconv.Atoi(n.Ref); err == nil {
			b.Read[t] = true
		}
	case Marked:
		b.HasMark[i] = true
	case Found:
		b.Founds[i] = append(slices.DeleteFunc(b.Founds[i], func(o Note) bool { return o.Value == n.Value }), n)
	case Size, Shelf:
		if b.Sizes[i] == nil {
			b.Sizes[i] = map[string]Note{}
		}
		key := n.Ref
		if n.Kind == Shelf {
			key = Shelf
		}
		b.Sizes[i][key] = n
	case Own:
		b.Owns = append(b.Owns, n)
	}
}

// TrapsOf are the traps that lie at a part when it comes out or goes back ("in"), by their place in the sheet.
func (b *Bench) TrapsOf(i int, on string) []int {
	var out []int
	for t, trap := range b.unit.Sheet.Traps {
		when := trap.On
		if when == "" {
			when = "out"
		}
		if trap.Part == b.stack.Parts[i].ID && when == on {
			out = append(out, t)
		}
	}
	return out
}

// Next is the part that comes out next by the list, at an access level, −1 when nothing within reach is left; beyond is then the part that
// a further level would reach, −1 when all is out.
func (b *Bench) Next(level unitsheet.Access) (next, beyond int) {
	beyond = -1
	for i, p := range b.stack.Parts {
		if i == 0 || b.Gone[i] {
			continue
		}
		need, _ := unitsheet.ParseAccess(p.Access)
		if need <= level && len(b.stack.Blocks(b.Gone, i)) == 0 {
			return i, -1
		}
		if beyond < 0 && need > level {
			beyond = i
		}
	}
	return -1, beyond
}

// Undo is the note that is taken back by undoing once more: the last of what was done; false when nothing was.
func (b *Bench) Undo() (Note, bool) {
	if len(b.notes) == 0 {
		return Note{}, false
	}
	return b.notes[len(b.notes)-1], true
}

// Verdict is what was found on a part as a whole: the worst of its pieces, "" when nothing was noted.
func (b *Bench) Verdict(i int) string {
	worst := -1
	for _, n := range b.Founds[i] {
		worst = max(worst, slices.Index(Verdicts, n.Ref))
	}
	if worst < 0 {
		return ""
	}
	return Verdicts[worst]
}

// Before is what was found before on the same part or piece; false when nothing was.
func (b *Bench) Before(n Note) (Note, bool) {
	for _, o := range b.Founds[max(0, b.stack.Index(n.Part))] {
		if n.Kind == Found && o.Part == n.Part && o.Value == n.Value {
			return o, true
		}
	}
	return Note{}, false
}
