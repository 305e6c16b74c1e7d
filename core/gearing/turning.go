package gearing

import "math"

// Turning gives the speeds of the members that follow from some that are known, with these elements holding: also where the output is not
// tied to the input, as in neutral or with the clutch pedal down. What is not tied to them is left out. Speeds that contradict each other are
// taken in the order of the train's members.
func (m *Machine) Turning(applied []string, known map[string]float64) map[string]float64 {
	type row struct {
		k vec
		v float64
	}
	var rows []row
	take := func(k vec, v float64) {
		r := row{append(vec(nil), k...), v}
		for _, o := range rows {
			at := pivot(o.k)
			if f := r.k[at] / o.k[at]; f != 0 {
				for i := range r.k {
					r.k[i] -= f * o.k[i]
				}
				r.v -= f * o.v
			}
		}
		if pivot(r.k) >= 0 {
			rows = append(rows, r)
		}
	}
	for _, id := range applied {
		if i, ok := m.element[id]; ok {
			take(m.ends[i], 0)
		}
	}
	for i, name := range m.train.Members {
		if v, ok := known[name]; ok {
			take(m.basis[i], v)
		}
	}
	out := map[string]float64{}
	for i, name := range m.train.Members {
		k, v := append(vec(nil), m.basis[i]...), 0.0
		for _, o := range rows {
			at := pivot(o.k)
			if f := k[at] / o.k[at]; f != 0 {
				for j := range k {
					k[j] -= f * o.k[j]
				}
				v += f * o.v
			}
		}
		if pivot(k) < 0 {
			out[name] = v
		}
	}
	return out
}

// pivot is the greatest coordinate of a row; -1 when there is none.
func pivot(k vec) int {
	at, most := -1, eps
	for i, v := range k {
		if math.Abs(v) > most {
			at, most = i, math.Abs(v)
		}
	}
	return at
}
