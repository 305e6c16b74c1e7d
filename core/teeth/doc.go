// Package teeth finds the tooth counts of a gear train from its printed ratios.
//
// Model. Each planetary set and each pair of gears has one unknown proportion (ring/sun, driven/driving teeth; a set with two
// suns has two), and each stands in one row of the train's equations only [1]. So the ratio of every range is P/Q with P and
// Q linear in each proportion, whatever the train: Derive finds both for any train, and nothing is copied from a table.
//
// A search over whole teeth follows from that. Within a box of proportions the extremes of P/Q lie on the corners as long as
// Q keeps its sign, so a box whose extremes miss a printed ratio holds no answer (branch and bound [2]). An empty search is a
// proof within the bounds that Bounds names. When nothing fits, Find leaves out one ratio at a time (a misprint), tries
// ratios cut instead of rounded, and widens all until something fits (the nearest).
//
// Found teeth are never facts: the speeds and torques of all that fit are alike to the digits printed, which planets and
// which sums of teeth were built is not. Bounds and the order of answers are judgment, no source.
//
// Invalid for: stepped planets, sets with two suns and no ring, planets that are not spaced evenly. Proportions and ratios are
// dimensionless, ratios are input over output.
//
// References: [1] R. Willis, Principles of Mechanism (1841), epicyclic trains; a determinant is linear in each row;
// [2] A. H. Land and A. G. Doig, Econometrica 28 (1960), recalled from memory.
package teeth
