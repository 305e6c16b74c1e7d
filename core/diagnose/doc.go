// Package diagnose turns readings into a ranking of root causes and says which check is
// worth doing next.
//
// Model. One cause at a time (a hypothesis is a single root cause or "nothing is wrong").
// Each finding has states with baseline probabilities that hold whatever the cause; a link
// from a cause makes one state likelier in a named strength:
//
//	P(s | c) = strength(c,s) + (1 − Σ strength(c,·)) · baseline(s)
//
// which is noisy-OR with a leak, written for several states. Links come from the knowledge
// base and, for the cells of the road test, from the unit's design (package faultmap). A
// reading reports a state with the reliability of its source. Given the cause, findings are
// taken as independent. The posterior is exact for this model.
//
// Limits, to be said on screen: two faults at once are not weighed; damages are not told
// from roots; strengths and priors are judgement until a shop's own outcomes correct them.
// The general engine (several faults, layered damages) fulfils the same methods.
//
// Units: probabilities 0 to 1; weights of evidence in decibans, 10·log10 of an odds ratio;
// money in the shop's currency; times in minutes.
//
// References: [1] I. J. Good, Probability and the Weighing of Evidence, 1950 (decibans);
// [2] D. Heckerman, J. Breese, K. Rommelse, Decision-theoretic troubleshooting, Communications
// of the ACM 38(3), 1995 (order by p/c, expected cost of repair).
package diagnose
