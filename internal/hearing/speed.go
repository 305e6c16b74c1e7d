package hearing

import (
	"context"
	"fmt"
	"math"
	"slices"

	"innercompass/core/orders"
	"innercompass/core/recording"
	"innercompass/core/signal"
	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
	"innercompass/internal/traces"
)

// Doubts of speeds by what they come from, share (judgment; road: the tire's wear, common practice, no source).
var doubts = map[recording.Role]float64{recording.Road: 0.01, recording.Wheel: 0.008, recording.Output: 0.002, recording.Turbine: 0.003, recording.Engine: 0.005, recording.Pulses: 0.002}

const ofALine = 0.004 // of a line that was followed

// speed finds the speed of the output: in the recording itself, or in the one that it was joined with.
func (s *Service) speed(ctx context.Context, rec recordings.Recording, f *traces.File, a Asked, h *Heard, d *orders.Drive) error {
	j := rec.Joined
	if j == nil || a.Speed != nil || a.Line > 0 || a.Known != "" || a.Road > 0 || a.Engine > 0 {
		return s.speedOf(ctx, rec, f, a, h, d)
	}
	other, err := s.Recordings.Store.Recording(ctx, j.ID)
	if err != nil {
		return err
	}
	g, done, err := s.Recordings.Open(other)
	if err != nil {
		return err
	}
	defer done()
	a.From, a.To = math.Max(0, a.From+j.Offset), math.Min(other.Seconds, a.To+j.Offset)
	if err := s.speedOf(ctx, other, g, a, h, d); err != nil {
		return err
	}
	for i := range d.Speed.At {
		d.Speed.At[i] -= j.Offset
	}
	h.Speed = -1
	return nil
}

// Join lays the speeds of another recording of the same drive under this one: at an offset that is known, or by the clap that both have.
func (s *Service) Join(ctx context.Context, id string, revision int, with string, offset *float64) (recordings.Recording, error) {
	j := recordings.Joined{ID: with}
	switch {
	case with == "":
	case offset != nil:
		j.Offset = *offset
	default:
		here, err := s.clap(ctx, id)
		if err != nil {
			return recordings.Recording{}, err
		}
		there, err := s.clap(ctx, with)
		if err != nil {
			return recordings.Recording{}, err
		}
		j.Offset = there - here
	}
	return s.Recordings.Change(ctx, id, revision, recordings.Said{Joined: &j})
}

// clap is when a recording claps.
func (s *Service) clap(ctx context.Context, id string) (float64, error) {
	rec, err := s.Recordings.Store.Recording(ctx, id)
	if err != nil {
		return 0, err
	}
	c, err := pick(rec, "with", nil, recording.Role.Heard)
	if err != nil {
		return 0, problem.Field("offset", rec.Title+" has no sound or shaking: no clap is heard in it", "the offset in seconds")
	}
	f, done, err := s.Recordings.Open(rec)
	if err != nil {
		return 0, err
	}
	defer done()
	x, rate, _, err := samples(ctx, f, c, 0, rec.Seconds, 4000)
	if err != nil {
		return 0, asked(err)
	}
	at, clear := signal.Clap(x, rate)
	if !clear {
		return 0, problem.Field("offset", rec.Title+" has no clear clap", "the offset in seconds")
	}
	return at, nil
}

// speedOf finds the speed of the output: from the best channel, from a line that is known, or from a speed that was typed.
func (s *Service) speedOf(ctx context.Context, rec recordings.Recording, f *traces.File, a Asked, h *Heard, d *orders.Drive) error {
	h.Speed = -1
	switch {
	case a.Known != "":
		line, err := knownOrder(h, d.State, a.Known)
		if err != nil {
			return err
		}
		a.Line = line
		return s.followed(ctx, rec, f, a, h, d)
	case a.Line > 0:
		return s.followed(ctx, rec, f, a, h, d)
	case a.Speed != nil && *a.Speed >= 0:
		i, err := pick(rec, "speed", a.Speed, nil)
		if err != nil {
			return err
		}
		if r := rec.Channels[i].Role; !r.Speed() && r != recording.Pulses {
			return problem.Field("speed", rec.Channels[i].Name+" is no speed", "a channel of a speed, or of pulses")
		}
		h.Speed = i
	case a.Speed == nil:
		for _, r := range []recording.Role{recording.Output, recording.Pulses, recording.Wheel, recording.Road, recording.Turbine, recording.Engine} {
			if i := slices.IndexFunc(rec.Channels, func(c recordings.Channel) bool { return c.Role == r && c.Values > 1 }); i >= 0 {
				h.Speed = i
				break
			}
		}
	}
	if h.Speed < 0 {
		return steady(or(a.Road, rec.Driven.Road), or(a.Engine, rec.Driven.Engine), a, h, d)
	}
	c := rec.Channels[h.Speed]
	at, v, err := whole(f, h.Speed, a.From, a.To)
	if err != nil {
		return err
	}
	d.Doubt = or(a.Doubt, doubts[c.Role])
	if c.Role == recording.Pulses {
		even, rate, err := signal.Evenly(at, v)
		if err != nil {
			return asked(err)
		}
		if d.Speed, err = signal.Pulses(even, rate, c.Turns); err != nil {
			return asked(err)
		}
		of := recording.Output
		if c.Of != "" {
			of = recording.Engine
		}
		per, err := perOutput(of, h, d.State)
		if err != nil {
			return err
		}
		for i := range d.Speed.At {
			d.Speed.At[i] += at[0]
			d.Speed.Turns[i] *= per
		}
		return nil
	}
	factor, ok := c.Role.Factor(c.Unit)
	if !ok {
		return problem.Field("speed", fmt.Sprintf("%s in %q", c.Name, c.Unit), "a speed with its unit")
	}
	per, err := perOutput(c.Role, h, d.State)
	if err != nil {
		return err
	}
	for i, x := range v {
		if w := x * factor * per; w >= 0 {
			d.Speed.At, d.Speed.Turns = append(d.Speed.At, at[i]), append(d.Speed.Turns, w)
		}
	}
	return nil
}

// perOutput is how fast the output turns for one of a speed's unit.
func perOutput(r recording.Role, h *Heard, s vibration.State) (float64, error) {
	switch r {
	case recording.Output:
		return 1, nil
	case recording.Road, recording.Wheel:
		v := h.Vehicle
		if v.Axle == 0 || v.Circumference == 0 && r == recording.Road {
			return 0, problem.Field("vehicle", "axle ratio and tire are not known", "fill in the vehicle's sheet")
		}
		if r == recording.Wheel {
			return v.Axle, nil
		}
		return v.Axle / v.Circumference, nil
	}
	ratio, err := ratioOf(h.Unit, s.Range)
	if err != nil {
		return 0, err
	}
	if r == recording.Engine {
		return (1 - s.Slip) / ratio, nil
	}
	return 1 / ratio, nil
}

func ratioOf(u *unitsheet.Unit, id string) (float64, error) {
	r, ok := u.Range(id)
	ratio := math.Abs(or(r.Healthy.Ratio, r.Printed))
	if !ok || !r.Driving() || ratio == 0 {
		return 0, problem.Field("range", fmt.Sprintf("%q", id), "the range that was driven")
	}
	return ratio, nil
}

// steady is a drive at one speed.
func steady(road, engine float64, a Asked, h *Heard, d *orders.Drive) error {
	turns := 0.0
	switch {
	case road > 0:
		per, err := perOutput(recording.Road, h, d.State)
		if err != nil {
			return err
		}
		turns, d.Doubt = road*per, or(a.Doubt, doubts[recording.Road])
	case engine > 0:
		per, err := perOutput(recording.Engine, h, d.State)
		if err != nil {
			return err
		}
		turns, d.Doubt = engine*per, or(a.Doubt, doubts[recording.Engine])
	default:
		return problem.Field("speed", "none was recorded", "a road or engine speed that was held, or a line whose order is known")
	}
	d.Speed = signal.Speed{At: []float64{a.From, a.To}, Turns: []float64{turns, turns}}
	return nil
}

// followed takes the speed from a line that is known.
func (s *Service) followed(ctx context.Context, rec recordings.Recording, f *traces.File, a Asked, h *Heard, d *orders.Drive) error {
	if !(a.Low > 0 && a.High > a.Low) {
		return problem.Field("low", fmt.Sprintf("%v to %v Hz", a.Low, a.High), "the band in which the known line lies, Hz")
	}
	x, rate, _, err := samples(ctx, f, h.Channel, a.From, a.To, 2.5*a.High)
	if err != nil {
		return asked(err)
	}
	cells, err := signal.Map(x, rate, math.Min(rate/2, 1.1*a.High))
	if err != nil {
		return asked(err)
	}
	way, err := cells.Track(a.Low, math.Min(a.High, rate/2), nil)
	if err != nil {
		return asked(err)
	}
	if way.Sure < 5 {
		return problem.Field("low", fmt.Sprintf("no line stands out between %v and %v Hz", a.Low, a.High), "a band with one clear line")
	}
	if d.Speed, err = way.Speed(a.Line); err != nil {
		return asked(err)
	}
	for i := range d.Speed.At {
		d.Speed.At[i] += a.From
	}
	d.Doubt, h.Followed = or(a.Doubt, ofALine), a.Line
	return nil
}
