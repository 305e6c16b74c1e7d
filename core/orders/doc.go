// Package orders makes of a recording and a speed what was heard or felt, by frequency and by order, and what of the unit and the vehicle it
// could be: samples in, a picture, ridges, sources with their probabilities and the drives that part the leaders out.
//
// The steps: samples are slowed to what the orders ask for; a late speed channel is moved to where the sharpest order is sharpest; what stays
// at its frequency is whitened away and samples are taken by the angle of the shaft (core/signal); what stands out is weighed against
// everything that turns (core/vibration). Where the speed hardly changes no order can be told from a resonance: then lines are read from the
// plain spectrum and said to be that.
package orders
