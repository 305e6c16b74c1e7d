// Package gearing solves a transmission's gear train from its tooth counts: which speed every member has,
// what ratio results, what torque every member, tooth and element carries, in drive and in overrun, and what
// is heard of it.
//
// Model. Rigid members with one speed each; every tooth mesh, pinions included, is one linear row (Willis):
// external za(wa−wc)+zb(wb−wc) = 0, internal zR(wR−wc)−zP(wP−wc) = 0, with c the carrier that holds the
// pinion's axis ("" or Case when the axis is fixed); a chain is an internal row about fixed axes. An applied
// element or selector sets two speeds equal. A freewheel (a, b) allows wa ≥ wb and pushes a forward when
// locked. A converter between engine and turbine has a slip and a torque multiplication. The case stands still
// and is not an unknown.
//
// A Machine reduces meshes and links once to the coordinates that they leave free. The outcome of a state
// is found from the interval of input speeds that its rows and freewheels allow for output speeds +1, 0 and −1
// [3]; by Farkas' lemma "the engine can run free" is the same statement as "there is no torque path". Torques
// follow from the transposed rows (virtual work) on the lock-set that pushes every holding freewheel forward.
//
// Invalid for: bevel differentials as mesh rows, elastic members, losses in teeth and bearings, drag.
// Units: speeds relative to the input and torques relative to the input torque, dimensionless; Speeds and
// Match in rev/min.
//
// References: [1] the lever analogy, H. L. Benford and M. B. Leising, SAE 810102; [2] R. Willis, Principles of
// Mechanism (1841), epicyclic trains; [3] A. Schrijver, Theory of Linear and Integer Programming, 1986,
// sections 7.3 and 12.2 (Farkas, Fourier–Motzkin); [4] V. Chvátal, Linear Programming, 1983, chapters 2, 3 and 8 (dictionaries,
// the rule of Bland, unknowns of any sign).
package gearing
