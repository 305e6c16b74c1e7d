// Package listen finds what sounds from where it is loud: places of unit and vehicle that are touched or listened at with a rod, a stethoscope
// or a phone, in states that turn different things.
//
// What turns and what carries load in a state is computed, not listed: the speeds of all members from the gears (also in neutral and with the
// clutch pedal down), the load of each mesh from the power flow. A source that does not turn is not heard; one that turns without load is
// faint. A sound fades from its place to the next along the driveline. Over all marks together each source, and none of them, gets its
// probability by Bayes. How loud, how fast it fades and how well people tell loud from faint is judgment.
package listen
