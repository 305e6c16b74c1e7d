package library

import (
	"innercompass/core/generic"
	"innercompass/core/unitsheet"
)

// writeGeneric writes the sheets of units that nobody knows yet.
func (s *Service) writeGeneric() map[string][]byte {
	out := map[string][]byte{}
	if s.Sheets == nil {
		return out
	}
	var shipped []*unitsheet.Unit
	for _, n := range s.Sheets.Shipped() {
		shipped = append(shipped, n.Unit)
	}
	for _, g := range generic.Units {
		if text, err := s.Sheets.Write(g.Sheet(shipped), "yaml"); err == nil {
			out[g.ID] = text
		}
	}
	return out
}
