// Package shifts finds the gear changes in recorded speeds, names them by their ratios and measures them.
//
// Model. In a gear the turbine turns ratio times as fast as the output. A path through the gears and a state between them is found that costs least (Viterbi [1]): in a
// gear half the square of what the ratio is off by, in its uncertainty; a fixed price between gears and for each change. The two speeds may be shifted against each other in time,
// as channels that are asked one after the other are: the offset that makes held gears fit best is found first.
//
// A shift is measured where the ratio lies between the two gears: u = (turbine/output − to)/(from − to) goes from one to nothing. Its inertia time is the time from u = 0.8 to
// u = 0.1 over 0.7: so it is the same whether the speed flared before or not. A flare is how far the turbine
// goes beyond the gear that it leaves, at the speed of the vehicle: the output shaft swings, so that its speed is taken over a fifth of a second.
//
// What speeds alone do not say: when oil began to fill, and what was commanded. Invalid where the output stands still (below 60 rpm nothing is named), and for gears
// closer than what the speeds can tell apart.
//
// Speeds in rev/min, times in s.
//
// Reference, recalled from memory: [1] A. J. Viterbi, Error bounds for convolutional codes, 1967; G. D. Forney, The Viterbi algorithm, 1973. Prices and floors are from a
// study on simulated drives with the noise of real tools, not from real vehicles.
package shifts
