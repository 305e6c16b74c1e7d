// Package clutches is the shelf of clutches, bands and dry clutches. Each function makes one instrument: inputs, what the sheet knows of them,
// computation, words and drawing.
package clutches
