package gearing

import "slices"

// Coordinates are the speeds that the meshes and links leave free, for whoever moves the train in time: Members has the speed of each member, in the order of
// Train().Members, and Elements wa − wb of each element, in the order of Train().Elements, as sums over N free coordinates.
type Coordinates struct {
	N                 int
	Members, Elements [][]float64
}

// Coordinates returns the machine's own; they are copies.
func (m *Machine) Coordinates() Coordinates {
	out := Coordinates{N: len(m.basis[0])}
	for _, r := range m.basis {
		out.Members = append(out.Members, slices.Clone(r))
	}
	for _, r := range m.ends {
		out.Elements = append(out.Elements, slices.Clone(r))
	}
	return out
}
