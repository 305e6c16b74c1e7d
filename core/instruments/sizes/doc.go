// Package sizes is the shelf of sizes and form. Each function makes one instrument: inputs, what the sheet knows of them,
// computation, words and drawing.
package sizes
