// Package quantity reads, converts and writes dimensioned values.
//
// It answers one question: what does "35 ft-lb" or "3/8 in" mean, and how is it
// said in another unit? Inside the program every value is in SI base or derived
// units; units exist only at the edges.
//
// Factors are the exact ones of NIST Special Publication 811 (2008), appendix B,
// built here from their definitions: 1 in = 0.0254 m, 1 lb = 0.45359237 kg,
// standard gravity 9.80665 m/s², 1 US gallon = 231 in³.
//
// A dimension names a use, not only exponents: torque and energy share exponents
// and stay apart, and a distance driven is not offered in thousandths of an inch.
//
// Limits: a temperature is absolute, a rise is a difference, and the two are not mixed. Money is no quantity: it has
// minor units and a currency, and no conversion.
package quantity
