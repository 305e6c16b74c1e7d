package unitsheet

import (
	"fmt"

	"innercompass/core/gearing"
)

// HandTest is how a sound freewheel answers by hand on the bench: Held stands, Turned is turned the way the engine turns; turned the
// other way it does the opposite. It is empty for what is no freewheel.
type HandTest struct {
	Held, Turned string // ids of members
	Locks        bool
	words        string
}

// handTest derives the bench test of a freewheel from the gear train: its first member may run ahead of the second, never behind.
func handTest(s Sheet, e ElementSheet) HandTest {
	if gearing.Kind(e.Kind) != gearing.Freewheel || e.A == "" {
		return HandTest{}
	}
	h := HandTest{Held: e.A, Turned: e.B, Locks: true}
	if e.B == "case" {
		h = HandTest{Held: e.B, Turned: e.A}
	}
	with, against := "turn free", "lock"
	if h.Locks {
		with, against = against, with
	}
	h.words = fmt.Sprintf("Hold the %s: the %s must %s when turned the way the engine turns, and %s against it.", MemberName(s, h.Held), MemberName(s, h.Turned), with, against)
	return h
}

// String says what to do and what must be felt.
func (h HandTest) String() string { return h.words }
