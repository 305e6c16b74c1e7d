// Package intake reads what a customer says of a vehicle, word for word, and returns what it states: symptoms with range and condition,
// what is said not to be there, what works, what was done, and what others believe. It is deterministic and explains itself: each
// span names the way of saying that it was recognised by. Nothing that it returns counts before somebody takes it.
//
// The words stand in a Lexicon (knowledge/words); this package knows the grammar around them: stems, clauses, spelling, denial,
// whose opinion it is, what a symptom does when it goes away, and which condition belongs to which symptom.
//
// Reading goes one way: text to tokens (token.go, stem.go, spell.go), masks and frames (frame.go), symptoms (read.go), denial
// (negate.go), conditions (hang.go), and what it would mean as readings (mean.go).
package intake
