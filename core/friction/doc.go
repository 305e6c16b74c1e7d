// Package friction says what torque a clutch or band holds at a pressure, and what room its plates leave.
//
// Model: dry Coulomb friction with one static coefficient; plates worn in, so that pressure times radius is
// even over the face (uniform wear) and the mean radius counts; the piston pushes with pressure times area
// less its return springs. Bands follow the rope (capstan) equation with the servo's force at one end. No
// centrifugal head, no heat. All values in SI units (m, m², N, Pa, N·m, rad); angles in radians.
//
// References: [1] J. E. Shigley, C. R. Mischke, Mechanical Engineering Design, frictional-contact axial
// clutches, uniform wear; [2] the same, band-type clutches and brakes, P1/P2 = exp(μφ).
package friction
