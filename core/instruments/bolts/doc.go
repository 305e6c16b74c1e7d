// Package bolts is the shelf of fasteners. Each function makes one instrument: inputs, what the sheet knows of them,
// computation, words and drawing.
package bolts
