package cases

import "innercompass/core/workbench"

// BenchNotes are a case's notes of the bench as the computation takes them.
func (c Case) BenchNotes() []workbench.Note {
	out := make([]workbench.Note, len(c.Bench))
	for i, n := range c.Bench {
		out[i] = workbench.Note{ID: n.ID, Kind: n.Kind, Part: n.Part, Ref: n.Ref, Value: n.Value, Words: n.Words, Withdraws: n.Withdraws}
	}
	return out
}
