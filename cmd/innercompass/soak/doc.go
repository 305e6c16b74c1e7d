// Package soak has tests of the whole program under load and faults, against a server of its own on this machine alone. They take minutes and run when
// COMPASS_SOAK says for how long: make soak.
package soak
