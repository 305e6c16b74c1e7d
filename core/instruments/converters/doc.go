// Package converters is the shelf of the converter and its clutch. Each function makes one instrument: inputs, what the sheet knows of them,
// computation, words and drawing.
package converters
