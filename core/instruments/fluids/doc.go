// Package fluids is the shelf of the fluid: level, look, debris, laboratory, life, cooler. Each function makes one instrument: inputs, what the sheet knows of them,
// computation, words and drawing.
package fluids
