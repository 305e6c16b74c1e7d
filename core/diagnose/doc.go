// Package diagnose turns readings into a ranking of root causes, and says why: chains, weights of evidence, contrasts. How far
// a reading is believed stands in reliability.go, what is thought before anything is read in prior.go.
//
// Model. Causes are independent, each with prior odds by how often it is met, the distance run, the history and
// what the design is known for. A cause or damage brings about damages and faults of the design (package
// faultmap, hot and cold apart), by noisy-OR in named strengths; all of them bring findings into states. Package
// bayes infers which causes are present from the readings; a reading reports a state with the reliability of its
// source. All probabilities are given that something is there, if only a normal characteristic.
//
// Limits, to be said on screen: strengths and priors are judgement until a shop's own outcomes correct them; where
// the exact answer would take too much, probabilities come from the best sets of causes alone (Assessment.Exact);
// a cause that is missing from the list and resembles a listed one cannot be noticed.
//
// Units: probabilities 0 to 1; weights of evidence in decibans, 10·log10 of an odds ratio;
// distances in kilometres.
//
// References: [1] I. J. Good, Probability and the Weighing of Evidence, 1950 (decibans).
package diagnose
