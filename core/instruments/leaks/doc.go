// Package leaks is the shelf of the leak map. Each function makes one instrument: inputs, what the sheet knows of them,
// computation, words and drawing.
package leaks
