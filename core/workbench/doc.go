// Package workbench knows how far a unit is taken apart: what lies in the tray, what was found on it and measured, which traps were read,
// what may come out next and what that means for the suspects. It reads the notes of a case in their order and the stack of the unit; it
// keeps nothing.
//
// Sizes are in SI units; uncertainties are standard ones. A clearance is the depth less the plates, its uncertainty the root of the sum of
// squares of theirs (JCGM 100:2008, 5.1.2).
package workbench
