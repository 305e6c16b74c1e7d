// Package bayes infers what is present from what was read, in a layered causal network.
//
// Model. Roots are absent or present, independently, with prior odds. Damages are absent or present; each
// is brought about by roots and earlier damages through noisy-OR links [2]: every present parent brings it
// about with a probability of its own, independently. Findings have states 0 (normal), 1, 2, …; every
// present parent has at most one effect on a finding, a state s ≥ 1 with probability p(s), and something
// that is not in the network has one "anyway". A reading is a vector λ of likelihoods, one for each state.
//
// Weight of a reading. Readings of one finding are joined by multiplying their λ, scaled to a largest of 1.
// Write λ(t) for effect t and λ(0) for none.
//   - If λ is largest at 0 the reading speaks for normal: each effect that is there was overlooked on its own, with
//     the weight λ(t)/λ(0). The weight is a product over the parents.
//   - Otherwise it speaks of something abnormal: each effect hits with h = (λ(t) − λ(0))/(1 − λ(0)), or leaves the weight
//     λ(t)/λ(0) if that is below one, and the reading is there by error with λ(0). The weight is
//     Π(u+h) − (1 − λ(0))·Π u, which for one effect is λ(t), and for a finding of two states is noisy-OR.
//
// Normal readings cost nothing in exact inference; only abnormal ones couple the roots that may have caused them.
//
// Numbers. The weight of one set of roots is a sum of terms that are not negative: nothing cancels, however unlikely
// the readings. The exact answer eliminates variables in cumulative form, where inclusion and exclusion subtract; a
// bound on rounding runs along with it, and beyond 10⁻⁶ it is not called exact. Probabilities are 0 to 1 without
// unit; weights are relative to one common factor.
//
// References: [1] J. Pearl, Probabilistic Reasoning in Intelligent Systems, 1988; [2] M. Henrion, Some
// practical issues in constructing belief networks, UAI 1987 (noisy-OR with a leak); [3] M. Henrion, Search-based
// methods to bound diagnostic probabilities in very large belief nets, UAI 1991 (best-first sets); [4] H. L.
// Bodlaender, A partial k-arboretum of graphs with bounded treewidth, 1998 (the frontier of a set is a path
// decomposition, the order of elimination a tree decomposition).
package bayes
