// Package burnt asks why a friction element burned: what it must hold in each range, what it can hold as it was found, which condition takes
// its margin below one, and how hot its plates get meanwhile.
//
// Model: capacity of core/friction with the sheet's sizes, pressure at the low end of its window at full throttle scaled by what was
// measured, load of the solved gears at the engine's most torque. One condition at a time is taken at its measured value and the others in
// health, so that each stands for itself; then all together. Uncertainties are carried through at first order, by samples where that bends
// (measure.Propagate). SI units throughout; U is a standard uncertainty.
package burnt
