// Package pressures is the shelf of hydraulics: pressures, pumps, springs, valves and orifices. Each function makes one instrument: inputs, what the sheet knows of them,
// computation, words and drawing.
package pressures
