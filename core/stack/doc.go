// Package stack knows how a unit is built up: every part that a rebuilder handles, where it sits on the shaft, which way it leaves, what
// holds it, and what must be heeded at it. From that it says what can come out next and what is in the way, checks that the written order
// can be done in both directions, and lays the parts out for a drawing.
//
// Model: parts are sets of boxes in the plane of the drawing, in mm: x along the shaft from the engine's side, y from the main shaft
// upward. What turns or is round is a box from radius to radius and stands in the plane twice, above and below its own axis. A part leaves
// straight: it passes when nothing that stays overlaps the strip that it sweeps. Parts that sit in another leave with it, and are taken
// from it on the bench afterwards. Axes beside each other lie in one plane, as in a developed section.
package stack
