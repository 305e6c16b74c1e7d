// Package vibrations is the shelf of balance and shafts. Each function makes one instrument: inputs, what the sheet knows of them,
// computation, words and drawing.
package vibrations
