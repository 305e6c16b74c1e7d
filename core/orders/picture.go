package orders

import (
	"cmp"
	"math"
	"slices"

	"innercompass/core/signal"
	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
)

// Picture is what is heard by the speed of the output and by frequency: cell [x][y] is from 0, noise, to 9.
type Picture struct {
	XFrom, XStep float64 // rev/s of the output; the first column's left edge
	YStep        float64 // Hz; the first row begins at 0
	Cells        [][]uint8
}

const (
	columns = 84
	rows    = 180
	darkest = 9
	atFull  = 2.4 // score that is darkest
	faint   = 0.5 // score below which a cell is left white, of however many frames
	scatter = 0.7 // standard deviation of a frame's score in noise, some of the overlap counted in
	clear   = 1.8 // standard deviations above which a cell is drawn
	alone   = 7   // level from which a cell stands that has no neighbor
)

// picture gathers frames of like speed, up to a frequency: the mean of their scores.
func picture(c signal.Cells, a signal.Angle, top float64) Picture {
	low, high := math.Inf(1), 0.0
	speeds := make([]float64, len(c.Score))
	for k := range speeds {
		speeds[k] = a.Speed(c.Time(k))
		low, high = math.Min(low, speeds[k]), math.Max(high, speeds[k])
	}
	if high-low < 0.02*high {
		low, high = 0.98*low, 1.02*high
	}
	bins := min(len(c.Score[0]), int(top/c.Step)+1)
	each := max(1, int(math.Ceil(float64(bins)/rows)))
	p := Picture{XFrom: low, XStep: (high - low) / columns, YStep: float64(each) * c.Step, Cells: make([][]uint8, columns)}
	sum, n := make([][]float64, columns), make([]int, columns)
	for k, row := range c.Score {
		x := min(columns-1, int((speeds[k]-low)/p.XStep))
		if sum[x] == nil {
			sum[x] = make([]float64, bins)
		}
		n[x]++
		for i, v := range row[:bins] {
			sum[x][i] += float64(v)
		}
	}
	for x := range p.Cells {
		p.Cells[x] = make([]uint8, (bins+each-1)/each)
		for i, v := range sum[x] {
			mean := v / float64(n[x])
			if mean < math.Max(faint, clear*scatter/math.Sqrt(float64(n[x]))) {
				continue
			}
			level := uint8(math.Min(darkest, math.Ceil(mean/atFull*darkest)))
			p.Cells[x][i/each] = max(p.Cells[x][i/each], level)
		}
	}
	p.Cells = sifted(p.Cells)
	return p
}

// sifted leaves out what has no neighbor at a like frequency in the speeds beside it: noise has none as a rule, a line has.
func sifted(cells [][]uint8) [][]uint8 {
	out := make([][]uint8, len(cells))
	for x, column := range cells {
		out[x] = make([]uint8, len(column))
		for y, v := range column {
			if v == 0 {
				continue
			}
			beside := 0
			for _, k := range []int{x - 2, x - 1, x + 1, x + 2} {
				if k < 0 || k >= len(cells) {
					continue
				}
				for d := -2; d <= 2; d++ {
					if j := y + d; j >= 0 && j < len(cells[k]) && cells[k][j] > 0 {
						beside++
						break
					}
				}
			}
			if beside >= 3 || v >= alone && beside >= 1 {
				out[x][y] = v
			}
		}
	}
	return out
}

// Parting is a drive that tells apart what the strongest ridge could be.
type Parting struct {
	vibration.Test
	Leaders [2]int     // classes
	Stand   [2]float64 // Hz of both, at the same road speed; 0 where one is gone
}

const (
	mostAsked   = 6 // sources that a drive is chosen for
	mostParting = 4
)

// enough is the probability from which no further drive is asked for (judgment).
const enough = 0.97

// settled reports whether it is known what the strongest ridge is.
func (r *Result) settled() bool {
	return len(r.Found) > 0 && len(r.Found[0].Could) > 0 && r.Found[0].Could[0].Probability > enough
}

// part finds the drives that tell most, for each minute, about what the strongest ridge could be.
func (r *Result) part(u *unitsheet.Unit, v vibration.Vehicle, s vibration.State, doubt float64) {
	if len(r.Found) == 0 || len(r.Found[0].Could) < 2 || r.settled() {
		return
	}
	f := r.Found[0]
	var asked []vibration.Asked
	for _, c := range f.Could[:min(mostAsked, len(f.Could))] {
		asked = append(asked, vibration.Asked{Class: r.Classes[c.Class], Multiple: c.Multiple, Probability: c.Probability})
	}
	for _, t := range vibration.Next(u, v, s, asked, f.Unknown, doubt) {
		r.Parts = append(r.Parts, Parting{t, [2]int{f.Could[0].Class, f.Could[1].Class}, [2]float64{t.At[0], t.At[1]}})
	}
	r.Parts = r.Parts[:min(mostParting, len(r.Parts))]
}

func sortBy[T any](all []T, by func(T) float64) {
	slices.SortStableFunc(all, func(a, b T) int { return cmp.Compare(by(b), by(a)) })
}
