package knowledge

import (
	"math/rand/v2"
	"slices"
)

// Perturbed returns the knowledge base with the strength of every link moved by one level, up or down by chance, as
// far as there are levels: what the trade might really be like when whoever wrote it down judged a little wrong.
func (k Base) Perturbed(r *rand.Rand) Base {
	move := func(name string) string {
		at := slices.IndexFunc(Strengths, func(s Strength) bool { return s.Name == name })
		const never = 1 // the last level is no link at all
		if at < 0 || at >= len(Strengths)-never {
			return name
		}
		to := at + 1
		if r.IntN(2) == 0 {
			to = at - 1
		}
		return Strengths[min(max(to, 0), len(Strengths)-1-never)].Name
	}
	faults := func(in []FaultLink) []FaultLink {
		out := slices.Clone(in)
		for i := range out {
			out[i].Hot, out[i].Cold = move(out[i].Hot), move(out[i].Cold)
		}
		return out
	}
	brings := func(in []Brings) []Brings {
		out := slices.Clone(in)
		for i := range out {
			out[i].Strength = move(out[i].Strength)
		}
		return out
	}
	shows := func(in []Shows) []Shows {
		out := slices.Clone(in)
		for i := range out {
			out[i].Strength = move(out[i].Strength)
		}
		return out
	}
	k.Causes, k.Damages, k.Signs, k.Findings = slices.Clone(k.Causes), slices.Clone(k.Damages), slices.Clone(k.Signs), slices.Clone(k.Findings)
	for i, c := range k.Causes {
		k.Causes[i].Faults, k.Causes[i].Brings, k.Causes[i].Shows = faults(c.Faults), brings(c.Brings), shows(c.Shows)
	}
	for i, d := range k.Damages {
		k.Damages[i].Faults, k.Damages[i].Brings, k.Damages[i].Shows = faults(d.Faults), brings(d.Brings), shows(d.Shows)
	}
	for i, s := range k.Signs {
		k.Signs[i].Brings, k.Signs[i].Shows = brings(s.Brings), shows(s.Shows)
	}
	for i, f := range k.Findings {
		from := slices.Clone(f.From)
		for j := range from {
			from[j].Strength = move(from[j].Strength)
		}
		k.Findings[i].From = from
	}
	return k
}
