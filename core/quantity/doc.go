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
// Limits: temperatures are absolute; a temperature difference is not modelled.
package quantity
