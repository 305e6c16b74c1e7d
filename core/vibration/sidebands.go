package vibration

import (
	"fmt"
	"math"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Sideband is a line beside that of a mesh, by turns of a shaft or of a carrier: it tells which of the two is uneven.
type Sideband struct {
	Mesh  string  // id of the mesh
	By    string  // what turns by so much
	Times int     // how many turns of it, with its sign
	Order float64 // for each turn of the output
}

// mostTimes is how far from its mesh a sideband is looked for, in turns.
const mostTimes = 3

// Sidebands lists the lines beside the meshes of a list. About fixed axes each of the two shafts makes them at every turn of its own. In a
// planetary set whose carrier turns past the place of the sensor, equal planets leave only those lines by turns of the carrier for which the
// ring's teeth and the number of turns divide by the planets (McFadden and Smith 1985, recalled from memory): the mesh's own line may be
// missing.
func (l List) Sidebands(u *unitsheet.Unit) []Sideband {
	if u.Machine == nil || l.Output == 0 {
		return nil
	}
	turns := map[string]float64{}
	for _, s := range l.Sources {
		if id, ok := strings.CutPrefix(s.ID, "turn:"); ok {
			turns[id] = s.Hertz / l.Output
		}
	}
	t := u.Machine.Train()
	turns[t.Output] = 1
	if l.Turbine > 0 {
		turns[t.Input] = l.Turbine / l.Output
	}
	var out []Sideband
	add := func(id string, order, by float64, what string, k int) {
		if o := order + float64(k)*by; by > 1e-9 && o > 0 {
			out = append(out, Sideband{id, what, k, o})
		}
	}
	for _, m := range t.Meshes {
		id := "mesh:" + m.A + "/" + m.B
		hz := l.Hertz(id)
		if hz == 0 || m.Chain {
			continue
		}
		order := hz / l.Output
		if m.Carrier == "" || m.Carrier == gearing.Case {
			for k := -mostTimes; k <= mostTimes; k++ {
				if k != 0 {
					add(id, order, turns[m.A], unitsheet.MemberName(u.Sheet, m.A), k)
					add(id, order, turns[m.B], unitsheet.MemberName(u.Sheet, m.B), k)
				}
			}
			continue
		}
		ring := 0
		for _, o := range t.Meshes {
			if o.Carrier == m.Carrier && o.Internal {
				ring = o.TeethA
			}
		}
		for k := -mostTimes; k <= mostTimes; k++ {
			if k != 0 && ring > 0 && m.Pinions > 1 && (ring+k)%m.Pinions == 0 {
				add(id, order, turns[m.Carrier], unitsheet.MemberName(u.Sheet, m.Carrier), k)
			}
		}
	}
	return out
}

// Beside is the sideband nearest to an order that is read with an uncertainty, as a share; false when none is within three of it.
func Beside(all []Sideband, order, sd float64) (Sideband, bool) {
	best, off := Sideband{}, 3.0
	for _, s := range all {
		if z := math.Abs(math.Log(order/s.Order)) / math.Hypot(sd, exact); z < off {
			best, off = s, z
		}
	}
	return best, off < 3
}

// Words say what it is beside.
func (s Sideband) Words() string {
	n := s.Times
	side := "above"
	if n < 0 {
		n, side = -n, "below"
	}
	if n == 1 {
		return fmt.Sprintf("one turn of the %s %s its mesh", s.By, side)
	}
	return fmt.Sprintf("%d turns of the %s %s its mesh", n, s.By, side)
}
