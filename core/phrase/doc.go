// Package phrase finds ways of saying in plain English text: words with their stems and breaks, slips of the pen put right, and patterns
// of words, classes of words and gaps. It knows nothing of what the words mean; package intake does.
package phrase
