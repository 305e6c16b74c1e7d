// Package knowledge holds what the trade knows: causes, damages, findings, checks, options and the links between them, as files
// say it (Base), and compiled for one unit (Network).
//
// A file is written in short sentences ("often, because …"): grammar.go reads them, validate.go refuses what cannot be meant,
// with the path to it. Entries with For are templates and become one entry for each part of the unit (template.go). Compile
// joins them with the failures that the unit's own design predicts (package faultmap) into a network: causes and damages
// bring about damages, failures of the design and states of findings, by noisy-OR in named strengths (strength.go; package
// bayes computes on it). A Network is never changed and may be shared between goroutines.
//
// Limits: strengths and frequencies are judgement until a shop's own outcomes correct them.
//
// Units: probabilities 0 to 1; hours of work; money in the shop's currency.
package knowledge
