// Package faultmap computes, from a unit's design alone, what every failure would do in every range of a road
// test, and holds an observed road test against that.
//
// A failure changes the state of a range: an element missing or added, a freewheel that never holds or never
// lets go, a control forced and the valve body read again, all elements of a shared part at once. The gear
// train is solved again, both sides of each shift are compared, and the outcome is translated into what a
// driver can observe (Predict, Map). Failures that depend on torque (an element that slips, a leak, low
// pressure) are graded by the share of its capacity that each range asks of an element, and say where they
// show first (FirstToSlip).
//
// Hold weighs a road test by its probability under each failure [1]; Groups are failures that no road test
// tells apart; Split names the range or check that does; NextCell is the cell whose answer is worth most bits.
//
// Limits: one failure at a time; the gears are rigid, so a bind is a bind, with the element named that gives
// way first; whether a dragging element creeps in neutral is left open; downshifts and skipped gears are not
// predicted. Certainties (never above Certain) say how surely a design-given symptom is noticed on a road
// test; they are judgement, common practice, no source.
//
// Reference: [1] D. J. C. MacKay, Information Theory, Inference, and Learning Algorithms, 2003, chapters 2
// and 28 (likelihood, information gained); recalled from memory.
package faultmap
