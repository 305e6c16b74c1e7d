package orders

import (
	"fmt"
	"math"
	"slices"

	"innercompass/core/signal"
	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
)

// Drive is one recording of one state: its samples, the speed of the unit's output over time, and how the vehicle was driven.
type Drive struct {
	Samples []float64
	Rate    float64
	Native  float64      // samples a second of the recording itself; 0 when these are they
	Speed   signal.Speed // of the output shaft, rev/s
	Doubt   float64      // share by which all of that speed may be off
	State   vibration.State
	Clipped bool // some samples were at full scale
	Sound   bool // of a microphone: it may have cut what is low
	Coast   bool // foot off: gears that pull under load are quiet
}

const (
	mostLate   = 2.0  // s by which a channel is moved at most
	leastSpan  = 0.03 // share of change of speed below which the spectrum is read as it stands
	orderSpan  = 0.10 // from which a line is called an order
	mostRidges = 6
	lowCut     = 200.0 // Hz below which a microphone may have been cut (recalled from memory)
	levelFrom  = 8.0   // Hz from which what stays is listed
	lineRatio  = 12.0  // of power to noise from which a line of a steady drive is one
	lineMost   = 6
)

// Found is a ridge, or a line where the speed does not change.
type Found struct {
	Order   float64 // for each turn of the output
	SD      float64 // share
	Sure    float64 // standard deviations of noise, or the ratio to it
	Turning signal.Turning
	Unknown float64             // probability that it is of nothing in the list
	Could   []Could             // the likeliest first
	Drive   int                 // of two that were weighed together
	Beside  *vibration.Sideband // of a mesh, when nothing else explains it
}

// Could is what a ridge could be.
type Could struct {
	Class       int
	Probability float64
	Off         float64 // share by which the ridge lies above the source's nearest multiple
	Multiple    int
}

// Result is all that a recording, or two together, come to.
type Result struct {
	From, To   float64 // speed of the output, rev/s
	Span       float64 // change of speed as a share of its mean
	Late, Sure float64 // s by which the channel was late, and how clearly
	Picture    Picture
	Found      []Found
	Levels     []signal.Level
	Classes    []vibration.Class
	Present    []float64 // by class
	List       vibration.List
	Parts      []Parting
	Limits     []Limit
	Top        float64 // highest order looked for
}

// Limit is something that the recording cannot show, by name: the words are of whoever shows them.
type Limit struct {
	What  LimitKind
	Value float64
}

// LimitKind names a limit.
type LimitKind string

// The limits.
const (
	Short    LimitKind = "short"    // s: the recording is short
	Folds    LimitKind = "folds"    // Hz: sources above this fold down
	Steady   LimitKind = "steady"   // share of change of speed
	Clipping LimitKind = "clipping" // odd multiples may be made by it
	LowCut   LimitKind = "low-cut"  // Hz below which a microphone may hear nothing
	NoRidge  LimitKind = "no-ridge" // the level, as a score, below which nothing is one
	Unsynced LimitKind = "unsynced" // s by which the channel was moved
)

// Of works out one drive. It fails for samples too few, for a speed that is none, and for a vehicle or range that cannot be.
func Of(u *unitsheet.Unit, v vibration.Vehicle, d Drive, band signal.Band) (Result, error) {
	if len(d.Samples) == 0 || !(d.Rate > 0) {
		return Result{}, fmt.Errorf("orders: no samples; want a channel of sound or shaking")
	}
	if !(d.Doubt > 0 && d.Doubt < 0.2) {
		return Result{}, fmt.Errorf("orders: a doubt of %v about the speed; want above 0 up to 20 %%", d.Doubt)
	}
	a, err := signal.NewAngle(d.Speed)
	if err != nil {
		return Result{}, err
	}
	x, rate, err := slowed(d, band)
	if err != nil {
		return Result{}, err
	}
	seconds := float64(len(x)) / rate
	fastest := fastest(d.Speed)
	cells, err := signal.Map(x, rate, math.Min(rate/2, band.Top()*fastest))
	if err != nil {
		return Result{}, err
	}
	r := Result{Top: math.Min(band.Top(), rate/2/math.Max(fastest, 1e-9))}
	r.Span = a.Span(0, seconds)
	if r.Span >= leastSpan {
		if r.Late, r.Sure = cells.Lag(a, mostLate); r.Late != 0 {
			a = a.Late(r.Late)
		}
	}
	r.From, r.To = math.Inf(1), 0
	for k := range cells.Score {
		s := a.Speed(cells.Time(k))
		r.From, r.To = math.Min(r.From, s), math.Max(r.To, s)
	}
	if r.To <= 0 {
		return Result{}, fmt.Errorf("orders: the output stands all the time; want a drive, or the spectrum")
	}
	if d.State.Road == 0 && v.Axle > 0 && v.Circumference > 0 {
		d.State.Road = (r.From + r.To) / 2 / v.Axle * v.Circumference
	}
	if r.List, err = vibration.Sources(u, v, d.State); err != nil {
		return Result{}, err
	}
	if d.Coast {
		r.List = r.List.Coasting()
	}
	r.Classes = vibration.Classes(r.List)
	if err := r.ridges(x, rate, a, cells, band, d); err != nil {
		return Result{}, err
	}
	r.Picture = picture(cells, a, r.highest())
	r.limits(d, seconds)
	if err := r.weigh(d.Doubt); err != nil {
		return Result{}, err
	}
	r.beside(u)
	r.part(u, v, d.State, d.Doubt)
	return r, nil
}

// Rate is the sampling rate that a band asks for with a speed; samples of a longer recording may be brought down to it beforehand.
func Rate(band signal.Band, s signal.Speed) float64 { return band.Rate(fastest(s)) }

// slowed is a drive at the rate that a band asks for.
func slowed(d Drive, band signal.Band) ([]float64, float64, error) {
	s, err := signal.NewSlower(d.Rate, band.Rate(fastest(d.Speed)))
	if err != nil {
		return nil, 0, err
	}
	if s.Rate() == d.Rate {
		return d.Samples, d.Rate, nil
	}
	return s.Rest(s.Take(make([]float64, 0, int(float64(len(d.Samples))*s.Rate()/d.Rate)+64), d.Samples)), s.Rate(), nil
}

func fastest(s signal.Speed) float64 {
	out := 1.0 // a shaft that stands asks for no rate at all
	for _, v := range s.Turns {
		out = math.Max(out, v)
	}
	return out
}

// ridges finds what turns, what stays, and where the speed hardly changes the lines as they stand.
func (r *Result) ridges(x []float64, rate float64, a signal.Angle, cells signal.Cells, band signal.Band, d Drive) error {
	if r.Span < leastSpan {
		return r.lines(x, rate, a)
	}
	o, err := signal.MapOrders(x, rate, a, band)
	if err != nil {
		return err
	}
	if torn := o.Smeared(); torn > 0 {
		if a, err = cells.Sharpen(a, torn); err != nil {
			return err
		}
		if o, err = signal.MapOrders(x, rate, a, band); err != nil {
			return err
		}
	}
	for _, f := range o.Ridges(mostRidges) {
		t := cells.Follows(a, f.Order)
		if t == signal.Stays && r.Span >= orderSpan {
			continue // whitening leaves a foot of what rings strongly
		}
		r.Found = append(r.Found, Found{Order: f.Order, SD: f.SD, Sure: f.Sure, Turning: t})
	}
	if len(r.Found) == 0 {
		r.Limits = append(r.Limits, Limit{NoRidge, o.Limit})
	}
	var known []float64
	for _, f := range r.Found {
		for h := 1.0; h <= 3; h++ {
			known = append(known, h*f.Order)
		}
	}
	r.Levels = cells.Levels(a, known, levelFrom, 3)
	return nil
}

// highest is up to which frequency a picture is worth drawing: somewhat above the highest ridge.
func (r *Result) highest() float64 {
	const least, room = 120.0, 1.3
	out := least
	for _, f := range r.Found {
		out = math.Max(out, room*f.Order*r.To)
	}
	for _, l := range r.Levels {
		out = math.Max(out, room*l.Hertz)
	}
	return out
}

// lines reads the spectrum of a steady drive.
func (r *Result) lines(x []float64, rate float64, a signal.Angle) error {
	n := min(len(x), int(4*rate)) // a quarter of a hertz between bins
	s, err := signal.Welch(x, rate, signal.Hann, n, 0.5)
	if err != nil {
		return err
	}
	mean := (a.Turns(float64(len(x))/rate) - a.Turns(0)) / (float64(len(x)) / rate)
	for _, p := range s.Peaks(lineRatio, lineMost) {
		if o := p.Frequency / mean; o > 0.15 && o < r.Top {
			sd := math.Max(0.1*s.Step/p.Frequency, 0.0006) + r.Span/2
			r.Found = append(r.Found, Found{Order: o, SD: math.Min(0.1, sd), Sure: p.Ratio, Turning: signal.CannotTell})
		}
	}
	if len(r.Found) == 0 {
		r.Limits = append(r.Limits, Limit{NoRidge, lineRatio})
	}
	return nil
}

// limits says what this recording cannot show.
func (r *Result) limits(d Drive, seconds float64) {
	add := func(k LimitKind, v float64) { r.Limits = append(r.Limits, Limit{k, v}) }
	if seconds < 20 {
		add(Short, seconds)
	}
	if r.Span < orderSpan {
		add(Steady, r.Span)
	}
	if d.Clipped {
		add(Clipping, 0)
	}
	if d.Sound {
		add(LowCut, lowCut)
	}
	if r.Late != 0 {
		add(Unsynced, r.Late)
	}
	// What is above half the rate of the recording itself folds down, unless its maker filtered it off.
	native := d.Native
	if native == 0 {
		native = d.Rate
	}
	above := 0
	for _, s := range r.List.Sources {
		if s.Hertz*r.To/math.Max(r.List.Output, 1e-9) > native/2 {
			above++
		}
	}
	if above > 0 {
		add(Folds, native/2)
	}
}

// weigh gives the ridges to the sources.
func (r *Result) weigh(doubt float64) error {
	m := vibration.UsualModel
	m.Speed, m.High = doubt, math.Max(1, r.Top)
	var ridges []vibration.Ridge
	for _, f := range r.Found {
		ridges = append(ridges, vibration.Ridge{Order: f.Order, SD: f.SD})
	}
	b, err := vibration.Resolve(r.Classes, ridges, m)
	if err != nil {
		return err
	}
	r.take(b)
	return nil
}

// beside looks for a mesh beside which a ridge stands that nothing explains.
func (r *Result) beside(u *unitsheet.Unit) {
	all := r.List.Sidebands(u)
	for i := range r.Found {
		f := &r.Found[i]
		if f.Unknown < 0.4 || f.Turning == signal.Stays {
			continue
		}
		if s, ok := vibration.Beside(all, f.Order, f.SD); ok {
			f.Beside = &s
		}
	}
}

const worthNaming = 0.005

// take puts a belief beside what was found.
func (r *Result) take(b vibration.Belief) {
	r.Present = b.Present
	for i := range r.Found {
		f := &r.Found[i]
		f.Unknown, f.Could = b.Unknown[i], nil
		for c, p := range b.Owner[i] {
			if p < worthNaming || r.Classes[c].Orders[f.Drive] == 0 {
				continue
			}
			could := Could{Class: c, Probability: p, Off: math.Inf(1)}
			for h := 1; h <= r.Classes[c].Harmonics; h++ {
				if off := f.Order/(r.Classes[c].Orders[f.Drive]*float64(h)) - 1; math.Abs(off) < math.Abs(could.Off) {
					could.Off, could.Multiple = off, h
				}
			}
			f.Could = append(f.Could, could)
		}
		sortBy(f.Could, func(c Could) float64 { return c.Probability })
	}
}

// Together weighs two drives of one vehicle in different states as one: what one cannot part the other may. The second's classes and ridges
// are added to the first, whose test drives stay as long as their leaders are not settled.
func Together(a, b Result, doubt float64) (Result, error) {
	out := a
	out.Classes = vibration.Classes(a.List, b.List)
	if out.Classes == nil || a.List.Engine == 0 || b.List.Engine == 0 {
		return a, fmt.Errorf("orders: one of the drives has no speed of engine and output; want two drives in ranges")
	}
	m := vibration.UsualModel
	m.Speed, m.High = doubt, math.Max(1, math.Min(a.Top, b.Top))
	m.Engine = []float64{a.List.Engine / a.List.Output, b.List.Engine / b.List.Output}
	out.Found = nil
	var ridges []vibration.Ridge
	for d, r := range []Result{a, b} {
		for _, f := range r.Found[:min(len(r.Found), mostTogether)] {
			f.Drive = d
			out.Found = append(out.Found, f)
			ridges = append(ridges, vibration.Ridge{Order: f.Order, SD: f.SD, Drive: d})
		}
	}
	belief, err := vibration.Resolve(out.Classes, ridges, m)
	if err != nil {
		return a, err
	}
	out.take(belief)
	out.Parts = nil
	if !out.settled() {
		for _, p := range a.Parts {
			for i, c := range p.Leaders { // of the first drive alone: the classes of both are finer
				p.Leaders[i] = slices.IndexFunc(out.Classes, func(x vibration.Class) bool { return slices.Contains(x.IDs, a.Classes[c].IDs[0]) })
			}
			out.Parts = append(out.Parts, p)
		}
	}
	return out, nil
}

// mostTogether are the ridges of each of two drives that are weighed together.
const mostTogether = 5
