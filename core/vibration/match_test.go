package vibration_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"innercompass/core/vibration"
)

// gauss is the density of a normal distribution.
func gauss(x, sd float64) float64 {
	return math.Exp(-x*x/(2*sd*sd)) / (sd * math.Sqrt(2*math.Pi))
}

// brute is the same question answered by going through everything: every set of classes that may be there, every owner of every ridge, the
// slip of each class integrated by small steps. It knows nothing of parts, candidates and closed forms.
func brute(classes []vibration.Class, ridges []vibration.Ridge, m vibration.Model) (present []float64, unknown []float64) {
	seen := []float64{0.95, 0.5, 0.12}
	n, prior := len(classes), math.Min(0.5, m.Present/float64(len(classes)))
	flat := m.Unknown / math.Log(m.High/m.Low)
	present, unknown = make([]float64, n), make([]float64, len(ridges))
	total := 0.0
	// made is how likely a class made just these ridges with these of its multiples.
	made := func(c int, own map[int]int) float64 { // ridge → multiple
		const cells = 400
		sum := 0.0
		for k := range cells {
			slip := (float64(k)+0.5)/cells*12 - 6
			w := gauss(slip, 1) * 12 / cells
			for i, h := range own {
				w *= gauss(math.Log(ridges[i].Order/(classes[c].Orders[0]*float64(h)))-slip*classes[c].Tolerance, ridges[i].SD)
			}
			sum += w
		}
		for h := 1; h <= classes[c].Harmonics; h++ {
			hit := false
			for _, x := range own {
				hit = hit || x == h
			}
			if hit {
				sum *= seen[h-1]
			} else {
				sum *= 1 - seen[h-1]
			}
		}
		return sum
	}
	var owner []([2]int) // class (−1 unknown), multiple
	var walk func(i int)
	walk = func(i int) {
		if i < len(ridges) {
			owner = append(owner, [2]int{-1, 0})
			walk(i + 1)
			for c := range classes {
				for h := 1; h <= classes[c].Harmonics; h++ {
					free := true
					for _, o := range owner[:i] {
						free = free && o != [2]int{c, h}
					}
					if free {
						owner[i] = [2]int{c, h}
						walk(i + 1)
					}
				}
			}
			owner = owner[:i]
			return
		}
		for there := range 1 << n {
			p := 1.0
			for k, o := range owner {
				if o[0] < 0 {
					p *= flat
				} else if there&(1<<o[0]) == 0 {
					p = 0
				}
				_ = k
			}
			for c := 0; c < n && p > 0; c++ {
				if there&(1<<c) == 0 {
					p *= 1 - prior
					continue
				}
				own := map[int]int{}
				for k, o := range owner {
					if o[0] == c {
						own[k] = o[1]
					}
				}
				p *= prior * made(c, own)
			}
			total += p
			for c := range n {
				if there&(1<<c) != 0 {
					present[c] += p
				}
			}
			for k, o := range owner {
				if o[0] < 0 {
					unknown[k] += p
				}
			}
		}
	}
	walk(0)
	for c := range present {
		present[c] /= total
	}
	for k := range unknown {
		unknown[k] /= total
	}
	return present, unknown
}

func TestResolveAgainstGoingThroughEverything(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 1))
	m := vibration.Model{Present: 1, Unknown: 1, Low: 0.2, High: 20}
	for range 12 {
		var classes []vibration.Class
		for _, o := range []float64{1, 1.02, 3} {
			classes = append(classes, vibration.Class{Names: []string{"x"}, Orders: []float64{o * (1 + 0.002*r.NormFloat64())}, Tolerance: 0.001 + 0.02*r.Float64(), Harmonics: 1 + r.IntN(2)})
		}
		var ridges []vibration.Ridge
		for _, o := range []float64{1.01, 2.03} {
			ridges = append(ridges, vibration.Ridge{Order: o * (1 + 0.004*r.NormFloat64()), SD: 0.002 + 0.004*r.Float64()})
		}
		got, err := vibration.Resolve(classes, ridges, m)
		if err != nil {
			t.Fatal(err)
		}
		present, unknown := brute(classes, ridges, m)
		for c := range present {
			if math.Abs(got.Present[c]-present[c]) > 0.004 {
				t.Errorf("class %d: %.4f, by everything %.4f", c, got.Present[c], present[c])
			}
		}
		for k := range unknown {
			if math.Abs(got.Unknown[k]-unknown[k]) > 0.004 {
				t.Errorf("ridge %d unknown: %.4f, by everything %.4f", k, got.Unknown[k], unknown[k])
			}
		}
	}
}

// drawn is a drive as the model expects it: three sources, each with its slip and the multiples that it shows, ridges of nothing, one speed
// error.
type drawn struct {
	ridges []vibration.Ridge
	owner  []int // class of each, −1 for none
}

func draw(r *rand.Rand, classes []vibration.Class, speed float64, strays int) drawn {
	var d drawn
	eps := speed * r.NormFloat64()
	for _, c := range r.Perm(len(classes))[:3] {
		slip := classes[c].Tolerance * r.NormFloat64()
		for h, p := range []float64{0.95, 0.5, 0.12} {
			if h < classes[c].Harmonics && r.Float64() < p {
				sd := 0.001 + 0.002*r.Float64()
				d.ridges = append(d.ridges, vibration.Ridge{Order: classes[c].Orders[0] * float64(h+1) * math.Exp(slip-eps+sd*r.NormFloat64()), SD: sd})
				d.owner = append(d.owner, c)
			}
		}
	}
	for range strays {
		d.ridges = append(d.ridges, vibration.Ridge{Order: 0.2 * math.Exp(r.Float64()*math.Log(40/0.2)), SD: 0.002})
		d.owner = append(d.owner, -1)
	}
	return d
}

// On drives drawn from the model the first class of the first ridge is right, or within what this range cannot part, in nineteen of twenty with
// speeds known to 1 % and in seventeen with 5 %; what is said above 80 % is right in 97; a third of the drives has a stray ridge.
func TestResolveOnDrawnDrives(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	classes := vibration.Classes(list(t, s6, van, vibration.State{Range: "D6", Road: 80 * kmh}))
	for _, c := range []struct{ speed, first, sure float64 }{{0.01, 0.95, 0.97}, {0.05, 0.85, 0.93}} {
		m := vibration.UsualModel
		m.Speed = c.speed
		r := rand.New(rand.NewPCG(4242, uint64(c.speed*1000)))
		const drives = 150
		right, said, saidRight, brier, n := 0, 0, 0, 0.0, 0
		for k := range drives {
			d := draw(r, classes, c.speed, map[bool]int{true: 1}[k%3 == 0])
			if len(d.ridges) == 0 || d.owner[0] < 0 {
				continue
			}
			n++
			b, err := vibration.Resolve(classes, d.ridges, m)
			if err != nil {
				t.Fatal(err)
			}
			best := 0
			for i, p := range b.Owner[0] {
				if p > b.Owner[0][best] {
					best = i
				}
			}
			p := b.Owner[0][best]
			hit := best == d.owner[0]
			neighbors := math.Abs(math.Log(classes[best].Orders[0]/classes[d.owner[0]].Orders[0])) < 2*math.Hypot(classes[best].Tolerance, classes[d.owner[0]].Tolerance)
			if hit || neighbors {
				right++
			}
			if p > 0.8 {
				said++
				if hit || neighbors {
					saidRight++
				}
			}
			truth := 0.0
			if hit {
				truth = 1
			}
			brier += (p - truth) * (p - truth)
		}
		t.Logf("speed to %.0f %%: first right %d of %d, above 80 %% right %d of %d, Brier %.3f", 100*c.speed, right, n, saidRight, said, brier/float64(n))
		if float64(right) < c.first*float64(n) || float64(saidRight) < c.sure*float64(said) {
			t.Errorf("speed to %.0f %%: first right %d of %d, above 80 %% right %d of %d", 100*c.speed, right, n, saidRight, said)
		}
	}
}

// Of three ridges of nothing in the list most are said to be unknown (four of five are wanted; the figure stands in the log), and a source is
// sworn to in one drive of ten at most.
func TestRidgesOfNothing(t *testing.T) {
	s6 := unit(t, "ombrin-s6")
	classes := vibration.Classes(list(t, s6, van, vibration.State{Range: "D6", Road: 80 * kmh}))
	r := rand.New(rand.NewPCG(7, 7))
	unknown, sworn := 0, 0
	const drives = 100
	for range drives {
		var ridges []vibration.Ridge
		for range 3 {
			ridges = append(ridges, vibration.Ridge{Order: 0.2 * math.Exp(r.Float64()*math.Log(40/0.2)), SD: 0.002})
		}
		b, err := vibration.Resolve(classes, ridges, vibration.UsualModel)
		if err != nil {
			t.Fatal(err)
		}
		worst := 0.0
		for i := range ridges {
			for _, p := range b.Owner[i] {
				worst = math.Max(worst, p)
			}
			if b.Unknown[i] > 0.5 {
				unknown++
			}
		}
		if worst > 0.9 {
			sworn++
		}
	}
	if sworn > drives/10 || unknown < 3*drives*65/100 {
		t.Errorf("%d of %d ridges said to be unknown, a source above 90 %% in %d of %d drives", unknown, 3*drives, sworn, drives)
	}
	t.Logf("%d of %d ridges said to be unknown, a source above 90 %% in %d of %d drives", unknown, 3*drives, sworn, drives)
}

func TestWhatCannotBeResolved(t *testing.T) {
	c := []vibration.Class{{Orders: []float64{1}, Tolerance: 0.001, Harmonics: 1}}
	for what, f := range map[string]func() error{
		"an order of 0": func() error {
			_, err := vibration.Resolve(c, []vibration.Ridge{{Order: 0, SD: 0.1}}, vibration.UsualModel)
			return err
		},
		"no doubt at all": func() error {
			_, err := vibration.Resolve(c, []vibration.Ridge{{Order: 1}}, vibration.UsualModel)
			return err
		},
		"twenty ridges": func() error {
			_, err := vibration.Resolve(c, make([]vibration.Ridge, 20), vibration.UsualModel)
			return err
		},
		"an empty model": func() error { _, err := vibration.Resolve(c, nil, vibration.Model{}); return err },
	} {
		if f() == nil {
			t.Errorf("%s was taken", what)
		}
	}
	if b, err := vibration.Resolve(c, nil, vibration.UsualModel); err != nil || b.Present[0] > 0.1 {
		t.Errorf("nothing heard: %+v %v", b, err)
	}
}

// `go test -bench Resolve ./core/vibration`: five ridges against the whole list.
func BenchmarkResolve(b *testing.B) {
	s6 := unit(b, "ombrin-s6")
	classes := vibration.Classes(list(b, s6, van, vibration.State{Range: "D6", Road: 80 * kmh}))
	r := rand.New(rand.NewPCG(1, 1))
	var all []drawn
	for range 40 {
		all = append(all, draw(r, classes, 0.01, 1))
	}
	i := 0
	for b.Loop() {
		d := all[i%len(all)]
		i++
		if _, err := vibration.Resolve(classes, d.ridges[:min(5, len(d.ridges))], vibration.UsualModel); err != nil {
			b.Fatal(err)
		}
	}
}
