// Package vibration names everything that turns in a vehicle and what it can be heard or felt at: wheels, shafts, joints, engine, converter,
// pump, the meshes and planets of the unit in the range at hand, rolling bearings, chain and belts, each with its frequency at any speed.
//
// A frequency is a sum of two speeds, that of the output shaft and that of the engine: f = |PerOutput·n_o + PerEngine·n_e| in events a
// second, speeds in rev/s. In a range without slip the two are tied; a converter that slips, neutral and a standing vehicle part them.
// Gear speeds come from the solver of the unit's train.
//
// References: meshes, planets and sidebands as in core/gearing; rolling bearings by their geometry [1], checked against the frequencies
// published with an open data set of bearing faults (6205: 5.4152, 3.5848, 4.7135 and 0.3983 per turn, recalled from memory). What is
// known of a vehicle is a small sheet; what nobody gives is not made up: its sources are absent.
package vibration
