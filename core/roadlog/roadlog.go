// Package roadlog takes a simulated vehicle over a road and writes what a logger would have of it, and beside it what really happened.
//
// A tool counts a speed over a window, gives it in whole steps, and trembles; a wheel runs out; channels that are asked for one after the other are late; clocks are not
// exact. Those errors are chosen as common practice has them (no source); what a logger wrote is for others to tell, what happened is for those who check them.
package roadlog

import (
	"fmt"
	"io"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"

	"innercompass/core/powertrain"
	"innercompass/core/shifts"
	"innercompass/core/sim"
	"innercompass/core/unitsheet"
)

const rpm = 30 / math.Pi

// Leg is a stretch of road, driven one way.
type Leg struct {
	Seconds float64
	Input   sim.Input
	Until   float64 // m/s: the leg ends when the vehicle is as fast, or as slow when it has to slow down; 0 for the whole time
	Wander  float64 // by which the foot wanders, as a share
}

// Setup is what is driven, and how it is written down.
type Setup struct {
	Sim       sim.Setup
	Legs      []Leg
	Rate      float64  // samples a second
	Pressures []string // elements whose pressure a transducer reads at its tap
	Late      float64  // s by which the output's channel is late; NaN for some 60 ms either way by the seed
}

// Column is what a logger wrote of one thing; all columns share the log's times.
type Column struct {
	Name, Unit string
	Decimals   int
	Value      []float64
}

// Log is what it wrote.
type Log struct {
	Time    []float64
	Columns []Column
}

// Column finds one by its name; nil when there is none.
func (l Log) Column(name string) []float64 {
	for _, c := range l.Columns {
		if c.Name == name {
			return c.Value
		}
	}
	return nil
}

// Drive is a log as shifts are told from it.
func (l Log) Drive(u *unitsheet.Unit) shifts.Drive {
	column := func(name string, factor float64) shifts.Channel {
		values := l.Column(name)
		if values == nil {
			return shifts.Channel{}
		}
		c := shifts.Channel{Time: l.Time, Value: make([]float64, len(values))}
		for i, v := range values {
			c.Value[i] = v * factor
		}
		return c
	}
	d := shifts.Drive{Turbine: column(Turbine, 1), Output: column(Output, 1), Engine: column(Engine, 1), Throttle: column(Throttle, 0.01), Fluid: column(Fluid, 1), Gear: column(Gear, 1), Line: column(Line, 1e3), Pressures: map[string]shifts.Channel{}}
	for _, e := range u.Elements {
		if c := column(PressureOf(u, e.ID), 1e3); c.Time != nil {
			d.Pressures[e.ID] = c
		}
	}
	return d
}

// Names of the columns.
const (
	Engine   = "Engine speed"
	Turbine  = "Turbine speed"
	Output   = "Output speed"
	Road     = "Vehicle speed"
	Throttle = "Throttle"
	Fluid    = "Fluid temperature"
	Gear     = "Gear commanded"
	Line     = "Line pressure"
)

// PressureOf is the name of an element's column.
func PressureOf(u *unitsheet.Unit, element string) string {
	name := element
	if e, ok := u.Element(element); ok {
		name = e.Name
	}
	return strings.ToUpper(name[:1]) + name[1:] + " pressure"
}

// Event is a shift as the unit did it.
type Event struct {
	From, To   string
	Begin, End float64            // of the command, and when the unit called it done; End is 0 when it never did
	Done       bool               // in the gear that was wanted
	Heat       map[string]float64 // by element, J, from its command to 0.3 s after
}

// Truth is what happened, at a thousand samples a second.
type Truth struct {
	Turbine, Output, Engine []float64 // rev/min
	Events                  []Event
	Late                    float64 // s by which the output's channel was made late
	Pressures               map[string][]float64
}

// Drive drives the legs and writes them down. It fails for what the simulation refuses, and for a rate that no logger has.
func Drive(s Setup) (Log, Truth, error) {
	if !(s.Rate >= 1 && s.Rate <= 500) {
		return Log{}, Truth{}, fmt.Errorf("%v samples a second; accepted: 1 to 500", s.Rate)
	}
	if s.Sim.Vehicle == (powertrain.Vehicle{}) {
		s.Sim.Vehicle = powertrain.For(s.Sim.Unit)
	}
	m, err := sim.New(s.Sim)
	if err != nil {
		return Log{}, Truth{}, err
	}
	w := newWriter(s, m)
	for _, leg := range s.Legs {
		w.leg(leg)
	}
	w.finish()
	return w.log, w.truth, nil
}

// Write writes a log as a table: names with units in the first row, then the values.
func (l Log) Write(w io.Writer) error {
	var b strings.Builder
	b.WriteString("Time (s)")
	for _, c := range l.Columns {
		b.WriteString("," + c.Name)
		if c.Unit != "" {
			b.WriteString(" (" + c.Unit + ")")
		}
	}
	b.WriteByte('\n')
	for i, t := range l.Time {
		b.WriteString(strconv.FormatFloat(t, 'f', 3, 64))
		for _, c := range l.Columns {
			b.WriteByte(',')
			b.WriteString(strconv.FormatFloat(c.Value[i], 'f', c.Decimals, 64))
		}
		b.WriteByte('\n')
		if b.Len() > 1<<16 {
			if _, err := io.WriteString(w, b.String()); err != nil {
				return err
			}
			b.Reset()
		}
	}
	_, err := io.WriteString(w, b.String())
	return err
}

// writer makes a log of what it sees each step.
type writer struct {
	s        Setup
	m        *sim.Sim
	u        *unitsheet.Unit
	rng      *rand.Rand
	log      Log
	truth    Truth
	seen     []sim.Sample // of the last half second, by step
	at       int          // steps
	next     float64      // when the next sample is due, s
	angle    float64      // of the turbine's wheel, rad
	electric bool         // a module commands the gears, and tells which
	to       string       // range that is commanded
	waiting  bool         // the last event is not done
	open     []heats
	taps     map[string]tap
}

// heats is the heat of the elements when a shift began.
type heats struct {
	event int
	at    map[string]float64
	until float64
}

// tap is what a transducer makes of a pressure.
type tap struct{ zero, gain float64 }

func newWriter(s Setup, m *sim.Sim) *writer {
	w := &writer{s: s, m: m, to: m.Now().To, u: s.Sim.Unit, rng: rand.New(rand.NewPCG(s.Sim.Seed, 99)), next: 1 / s.Rate, taps: map[string]tap{}}
	w.truth.Late = s.Late
	if math.IsNaN(s.Late) {
		w.truth.Late = 0.12 * (w.rng.Float64() - 0.5)
	}
	w.truth.Pressures = map[string][]float64{}
	cols := []Column{{Name: Engine, Unit: "rpm", Decimals: 2}, {Name: Turbine, Unit: "rpm"}, {Name: Output, Unit: "rpm"}, {Name: Road, Unit: "km/h"}, {Name: Throttle, Unit: "%", Decimals: 1}, {Name: Fluid, Unit: "°C"}, {Name: Line, Unit: "kPa"}}
	w.electric = w.u.Electric()
	if w.electric {
		cols = append(cols, Column{Name: Gear})
	}
	for _, e := range s.Pressures {
		cols = append(cols, Column{Name: PressureOf(w.u, e), Unit: "kPa"})
		w.taps[e] = tap{zero: 2e3 * w.rng.NormFloat64(), gain: 1 + 0.004*w.rng.NormFloat64()}
	}
	w.log.Columns = cols
	return w
}
