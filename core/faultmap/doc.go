// Package faultmap computes, from a unit's design alone, what the failure of each element
// would do in every range of a road test.
//
// A fault changes the state of a range (an element missing, an element added, a freewheel
// that never holds or never lets go); the gear train is solved again, and the outcome is
// translated into what a driver can observe. Faults that depend on torque (an element that
// slips) are graded by the torque that the element carries in each range against its
// capacity: the range that loads it most shows it first.
//
// Limits: one fault at a time; the gears are rigid, so a bind is a bind even where in the
// vehicle an element would yield; whether a dragging element creeps in neutral is left open.
// Certainties (never above Certain) say how surely a design-given symptom is noticed on a
// road test; they are judgement, common practice, no source.
package faultmap
