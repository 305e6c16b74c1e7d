// Package obd speaks with a vehicle's modules: what is asked and answered on board (SAE J1979 services 01, 03, 04, 07 and 09; ISO 14229 read by identifier), codes in two bytes
// (SAE J2012), and how messages longer than a frame go over a CAN bus (ISO 15765-2) or over a serial line with a checksum (ISO 9141-2's message form).
//
// It is bytes in and bytes out, with no bus in it: who sends frames, and when to give up, is for others.
//
// All numbers are recalled from memory of the standards and checked against nothing but themselves and examples recalled likewise. Identifiers read by service 22 are each
// maker's own: those of the stand-in are made up.
package obd
