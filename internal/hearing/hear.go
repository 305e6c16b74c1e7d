// Package hearing is the use case of finding out what turns in a recording, and of putting it into the recording's case.
package hearing

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"innercompass/core/knowledge"
	"innercompass/core/orders"
	"innercompass/core/recording"
	"innercompass/core/signal"
	"innercompass/core/unitsheet"
	"innercompass/core/vibration"
	"innercompass/internal/cases"
	"innercompass/internal/library"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/recordings"
	"innercompass/internal/traces"
)

// Service hears recordings.
type Service struct {
	Recordings *recordings.Service
	Cases      *cases.Service
	Library    *library.Service
	Readings   *readings.Service
}

// Asked is what is asked of a recording; zero values take what stands with it.
type Asked struct {
	Channel  *int    // that is heard; the first of sound or shaking else
	Speed    *int    // channel that is a speed; the best there is else; −1 for none: Road or Engine is the speed
	From, To float64 // s; To 0 is the end
	Range    string
	Slip     float64
	Road     float64 // m/s, when there is no speed channel
	Engine   float64 // rev/s, likewise
	Whine    bool    // look for what whines, not what shakes
	Doubt    float64 // share of the speed; 0 takes what its channel has
	// A line that is known: its order of the output and where it lies, Hz. It gives the speed where there is no channel.
	Line      float64
	Known     string // or the source that it is, by name: its order follows
	Low, High float64
	With      string // another recording of the same vehicle, weighed together
	Unit      string // instead of what stands with it
}

// Heard is what came of it.
type Heard struct {
	orders.Result
	Channel, Speed int
	Unit           *unitsheet.Unit
	network        *knowledge.Network // of the unit
	Vehicle        vibration.Vehicle
	State          vibration.State
	Doubt          float64
	Seconds        float64
	Cut            float64 // s that were heard, where a longer part was asked for; 0 otherwise
	Followed       float64 // order of the line that the speed was taken from; 0 when it has a channel
	Other          *recordings.Recording
}

// longestWhine is how much is heard at once for what whines, s: its rate is ten times that of what shakes, and so is the memory.
const longestWhine = 180.0

// Given reports whether a ridge is the line that the speed was taken from: it cannot but fit.
func (h Heard) Given(f orders.Found) bool {
	return h.Followed > 0 && f.Drive == 0 && math.Abs(f.Order/h.Followed-1) < 0.02
}

// Orders hears what turns out of a recording.
func (s *Service) Orders(ctx context.Context, id string, a Asked) (Heard, error) {
	rec, err := s.Recordings.Store.Recording(ctx, id)
	if err != nil {
		return Heard{}, err
	}
	out, err := s.hear(ctx, rec, a)
	if err != nil || a.With == "" {
		return out, err
	}
	other, err := s.Recordings.Store.Recording(ctx, a.With)
	if err != nil {
		return out, err
	}
	second, err := s.hear(ctx, other, Asked{Whine: a.Whine, Doubt: a.Doubt, Unit: a.Unit})
	if err != nil {
		return out, fmt.Errorf("%s: %w", other.Title, err)
	}
	if out.Result, err = orders.Together(out.Result, second.Result, math.Max(out.Doubt, second.Doubt)); err != nil {
		return out, problem.Field("with", other.Title, "a drive in a range, with a speed")
	}
	out.Other = &other
	return out, nil
}

func (s *Service) hear(ctx context.Context, rec recordings.Recording, a Asked) (Heard, error) {
	if a.Unit == "" {
		a.Unit = rec.Unit
	}
	if a.Unit == "" {
		return Heard{}, problem.Field("unit", "not said yet", "the unit that the vehicle has")
	}
	n, err := s.Library.Unit(ctx, a.Unit, 0)
	if err != nil {
		return Heard{}, err
	}
	sheet, err := s.Recordings.Vehicle(ctx, rec.Vehicle)
	if err != nil {
		return Heard{}, err
	}
	f, done, err := s.Recordings.Open(rec)
	if err != nil {
		return Heard{}, err
	}
	defer done()
	h := Heard{Unit: n.Unit, network: n, Vehicle: sheet.Vehicle, Seconds: rec.Seconds}
	if a.To == 0 {
		a.To = rec.Seconds
	}
	if !(a.From >= 0 && a.To > a.From && a.To <= rec.Seconds+1e-6) {
		return h, problem.Field("from", fmt.Sprintf("%.3f to %.3f s", a.From, a.To), fmt.Sprintf("a part of 0 to %.3f s", rec.Seconds))
	}
	if a.Whine && a.To-a.From > longestWhine {
		a.To, h.Cut = a.From+longestWhine, longestWhine
	}
	if h.Channel, err = pick(rec, "channel", a.Channel, recording.Role.Heard); err != nil {
		return h, err
	}
	d := orders.Drive{Coast: rec.Driven.Load == "coast", Clipped: rec.Told.Clipped > 0, Sound: rec.Channels[h.Channel].Role == recording.Hearing, State: vibration.State{Range: or(a.Range, rec.Driven.Range), Slip: or(a.Slip, rec.Driven.Slip)}}
	if err := s.speed(ctx, rec, f, a, &h, &d); err != nil {
		return h, err
	}
	band := signal.Shake
	if a.Whine {
		band = signal.Whine
	}
	if d.Samples, d.Rate, d.Native, err = samples(ctx, f, h.Channel, a.From, a.To, orders.Rate(band, d.Speed)); err != nil {
		return h, asked(err)
	}
	for i := range d.Speed.At {
		d.Speed.At[i] -= a.From
	}
	h.State, h.Doubt = d.State, d.Doubt
	if h.Result, err = orders.Of(n.Unit, sheet.Vehicle, d, band); err != nil {
		return h, asked(err)
	}
	return h, nil
}

func or[T comparable](a, b T) T {
	var zero T
	if a != zero {
		return a
	}
	return b
}

// asked says what the computation refuses as something that was asked wrongly.
func asked(err error) error {
	if err == nil || errors.Is(err, context.Canceled) {
		return err
	}
	return problem.Field("recording", err.Error(), "")
}

// pick is a channel that was asked for, or the first that fits.
func pick(rec recordings.Recording, field string, want *int, fits func(recording.Role) bool) (int, error) {
	if want != nil {
		if *want < 0 || *want >= len(rec.Channels) {
			return 0, problem.Field(field, fmt.Sprint(*want), fmt.Sprintf("0 to %d", len(rec.Channels)-1))
		}
		return *want, nil
	}
	i := slices.IndexFunc(rec.Channels, func(c recordings.Channel) bool { return fits(c.Role) && c.Values > 16 })
	if i < 0 {
		return 0, problem.Field(field, "no channel of sound or shaking", "say which channel a microphone or a motion sensor gave")
	}
	return i, nil
}

// whole are all values of a channel in a part, with their times.
func whole(f *traces.File, channel int, from, to float64) (at, v []float64, err error) {
	err = f.Each([]int{channel}, from, to, func(t []float64, values [][]float32) error {
		for i, x := range values[0] {
			if !math.IsNaN(float64(x)) {
				at, v = append(at, t[i]), append(v, float64(x))
			}
		}
		return nil
	})
	return at, v, err
}

// samples are a channel in a part at an even rate, no slower than wanted, and the rate of the recording itself: brought down block by block
// where it has a rate, and put at even steps where its rows carry their times.
func samples(ctx context.Context, f *traces.File, channel int, from, to, want float64) (x []float64, rate, native float64, err error) {
	if f.Rate() == 0 {
		at, v, err := whole(f, channel, from, to)
		if err != nil {
			return nil, 0, 0, err
		}
		if x, native, err = signal.Evenly(at, v); err != nil {
			return nil, 0, 0, err
		}
		slower, err := signal.NewSlower(native, want)
		if err != nil {
			return nil, 0, 0, err
		}
		return slower.Rest(slower.Take(nil, x)), slower.Rate(), native, nil
	}
	slower, err := signal.NewSlower(f.Rate(), want)
	if err != nil {
		return nil, 0, 0, err
	}
	x = make([]float64, 0, int((to-from)*slower.Rate())+64)
	block := make([]float64, 0, 4096)
	err = f.Each([]int{channel}, from, to, func(_ []float64, values [][]float32) error {
		block = block[:0]
		for _, v := range values[0] {
			block = append(block, float64(v))
		}
		x = slower.Take(x, block)
		return ctx.Err()
	})
	return slower.Rest(x), slower.Rate(), f.Rate(), err
}

// Spectrum is that of a channel in a part.
type Spectrum struct {
	signal.Spectrum
	Peaks []signal.Peak
	Unit  string
	Rate  float64
}

// longestBlock is that of a spectrum, s: a tenth of a hertz between bins.
const longestBlock = 10.0

// Spectrum gives the lines of a channel: Welch's mean over blocks of two seconds or less, or with a band the lines of its envelope.
func (s *Service) Spectrum(ctx context.Context, id string, channel *int, from, to, top float64, low, high float64) (Spectrum, error) {
	rec, err := s.Recordings.Store.Recording(ctx, id)
	if err != nil {
		return Spectrum{}, err
	}
	c, err := pick(rec, "channel", channel, recording.Role.Heard)
	if err != nil {
		return Spectrum{}, err
	}
	f, done, err := s.Recordings.Open(rec)
	if err != nil {
		return Spectrum{}, err
	}
	defer done()
	to = or(to, rec.Seconds)
	if !(from >= 0 && to > from) {
		return Spectrum{}, problem.Field("from", fmt.Sprintf("%v to %v s", from, to), fmt.Sprintf("a part of 0 to %.3f s", rec.Seconds))
	}
	want := 2.5 * or(top, 1000)
	if high > 0 {
		want = 2.5 * high
	}
	x, rate, _, err := samples(ctx, f, c, from, to, want)
	if err != nil {
		return Spectrum{}, asked(err)
	}
	if high > 0 {
		if x, err = signal.Envelope(x, rate, low, math.Min(high, rate/2)); err != nil {
			return Spectrum{}, asked(err)
		}
	}
	out := Spectrum{Unit: rec.Channels[c].Unit, Rate: rate}
	if out.Spectrum, err = signal.Welch(x, rate, signal.Hann, min(len(x), int(longestBlock/5*rate)), 0.5); err != nil {
		return Spectrum{}, asked(err)
	}
	out.Peaks = out.Spectrum.Peaks(lineRatio, mostLines)
	return out, nil
}

const (
	lineRatio = 12.0
	mostLines = 12
)
