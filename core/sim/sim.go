package sim

import (
	"fmt"
	"math"
	"math/rand/v2"

	"innercompass/core/boxes"
	"innercompass/core/drivetrain"
	"innercompass/core/gearing"
	"innercompass/core/piston"
	"innercompass/core/powertrain"
	"innercompass/core/unitsheet"
)

// Step is the time of one step, s.
const Step = 1e-3

// tightDrag is what a seized reactor takes from the turbine beyond the coupling point, over the converter's capacity (chosen).
const tightDrag = 0.15

// Heat (chosen): what it takes to warm fluid and case by a degree, and what the cooler and the case give away.
const (
	heatKept = 40e3 // J/K
	cooled   = 45.0 // W/K
)

// Setup is what is driven.
type Setup struct {
	Unit    *unitsheet.Unit
	Vehicle powertrain.Vehicle // powertrain.For(Unit), or one of one's own
	Faults  []Fault
	Celsius float64 // of the fluid at the beginning
	Warms   bool    // what is lost heats the fluid, and the cooler takes it away; else it stays as warm as it was
	Air     float64 // °C at the cooler
	Learns  bool    // the module learns fill times from shift to shift
	Seed    uint64  // of what varies from shift to shift
	Scatter float64 // 0 for none, 1 as much as a real unit has (chosen): fill ± 20 ms, pressure ± 4 %
	Speed   float64 // m/s at the beginning
	Range   string  // at the beginning; "" for neutral
}

// Input is what the driver and the road do.
type Input struct {
	Selector string
	Throttle float64
	Brake    float64
	Grade    float64 // rise over distance
	Hold     bool    // the gear is kept, as a tool commands it
}

// Sim is a vehicle on the road. For one goroutine.
type Sim struct {
	unit    *unitsheet.Unit
	car     powertrain.Vehicle
	train   *drivetrain.Train
	conv    powertrain.Converter
	gears   []*gear
	pistons []*piston.Piston // by element; nil for what needs no oil
	solids  []solid          // what holds without oil
	control controller
	rng     *rand.Rand
	scatter float64
	step    float64 // s
	celsius float64 // of the fluid
	thick   float64 // how many times slower it goes through an orifice than warm
	line    float64 // line pressure over what it should be
	tight   bool    // the converter's reactor is seized
	plate   plate   // of the converter clutch, on its damper
	grabs   float64 // how much less the converter clutch's lining grips at speed, as a share
	limp    bool    // the controls are without power
	around  float64 // temperature of the air at the cooler, when the fluid warms; NaN when it stays as it is

	time   float64
	v, was []float64 // speeds in the train's coordinates, now and at the beginning of the step
	p      []float64 // impulse of the step
	bounds []boxes.Bounds
	twist  float64 // of the shaft, rad
	torque float64 // of the engine, behind the throttle
	input  Input
	given  float64 // torque of the turbine by the oil, N·m
	gets   float64 // and by the converter clutch: what the gears get
	ledger Ledger
	heat   []float64 // by element, J
	slips  []float64 // of all holds at the beginning of the step
	pos    float64   // m
}

// solid is a one-way clutch, a dog, or a clutch that a pedal works.
type solid struct {
	element  int
	strength float64 // N·m
	oneWay   bool
	reversed bool // put in the wrong way round
	seized   bool // holds both ways
}

// Ledger is where the energy is, in J. What was there at first and what came in is what is there now and what went out, to rounding: see Off.
type Ledger struct {
	Engine    float64 // done by the engine
	Converter float64 // lost in the converter
	Friction  float64 // in all that slips, brakes and rolling resistance among them
	Air       float64
	Grade     float64 // lifted
	Shaft     float64 // lost in its damping
	Stored    float64 // motion and twist
	First     float64 // Stored at the beginning
}

// Off is how far the balance is from closing, as a share of the energy that went through.
func (l Ledger) Off() float64 {
	through := math.Abs(l.Engine) + l.Friction + l.Converter + l.First
	return math.Abs(l.First+l.Engine-l.Converter-l.Friction-l.Air-l.Grade-l.Shaft-l.Stored) / math.Max(through, 1)
}

// New makes a vehicle ready. It fails for a unit without gears, an unknown range, and a fault that it does not have.
func New(s Setup) (*Sim, error) { return newSim(s, Step) }

// Halved is the same vehicle at half the step: what it does otherwise is how far the usual one can be believed.
func Halved(s Setup) (*Sim, error) { return newSim(s, Step/2) }

func newSim(s Setup, step float64) (*Sim, error) {
	t, err := drivetrain.New(s.Unit, s.Vehicle, step)
	if err != nil {
		return nil, err
	}
	m := &Sim{unit: s.Unit, car: s.Vehicle, train: t, pistons: make([]*piston.Piston, len(t.Names)), gears: gearsOf(s.Unit, t), rng: rand.New(rand.NewPCG(s.Seed, 0x5eed)), scatter: s.Scatter, step: step, thick: piston.Thickness(s.Celsius), line: 1, celsius: s.Celsius, around: math.NaN(),
		v: make([]float64, t.N), was: make([]float64, t.N), p: make([]float64, t.N), bounds: make([]boxes.Bounds, len(t.Names)+2), heat: make([]float64, len(t.Names)), slips: make([]float64, len(t.Names)+2)}
	m.conv, _ = powertrain.ConverterFor(s.Unit, s.Vehicle.Engine)
	if t.Lockup < 0 {
		m.bounds, m.slips = m.bounds[:len(t.Names)+1], m.slips[:len(t.Names)+1]
	}
	for i, id := range t.Names {
		e, _ := s.Unit.Element(id)
		if p, ok := piston.New(s.Unit, e, s.Unit.Sheet.Elements[i]); ok {
			m.pistons[i] = &p
			continue
		}
		strength, known := e.Hold(0)
		if !known || strength <= 0 {
			strength = 4 * s.Vehicle.Engine.Torque
		}
		m.solids = append(m.solids, solid{element: i, oneWay: e.Kind == gearing.Freewheel, strength: 3 * strength})
	}
	if s.Warms {
		m.around = s.Air
	}
	if m.control, err = newController(m, s.Learns); err != nil {
		return nil, err
	}
	for _, f := range s.Faults {
		if err := m.put(f); err != nil {
			return nil, err
		}
	}
	if err := m.begin(s); err != nil {
		return nil, err
	}
	m.ledger.First = m.stored()
	return m, nil
}

// begin sets all in motion: the vehicle at its speed, in a range with its elements on, the engine with the turbine or idling.
func (m *Sim) begin(s Setup) error {
	r := m.find(s.Range)
	if s.Range != "" && r == nil {
		return fmt.Errorf("%s has no range %q", s.Unit.Sheet.Name, s.Range)
	}
	if r == nil {
		r = m.neutral()
	}
	m.control.enter(r)
	for i, p := range m.pistons {
		if p != nil && !p.Stuck && m.control.command(i) > p.Touch {
			p.At, p.Pressure = p.Clear, p.Touch
			p.Step(m.control.command(i), 1, m.thick) // long enough to settle, leaks and all
		}
	}
	out := s.Speed / m.car.Wheel * m.car.Axle
	in := m.car.Engine.Idle
	if r.driving && out > 0 {
		in = math.Max(in, out*r.Healthy.Ratio)
	}
	rows, goals := [][]float64{m.train.Engine, m.train.Vehicle, m.train.Output}, []float64{in, out, out}
	if r.driving && out > 0 {
		rows, goals = append(rows, m.train.Turbine), append(goals, in)
	}
	for k := range m.bounds {
		m.bounds[k] = boxes.Bounds{}
	}
	for i := range m.train.Names {
		if p := m.pistons[i]; p != nil && p.At >= p.Clear || p == nil && m.control.on(i) {
			m.bounds[i] = boxes.Bounds{Lo: -1e12, Hi: 1e12}
		} else if m.train.Kind(m.unit, i) == gearing.Freewheel {
			m.bounds[i] = boxes.Bounds{Hi: 1e12}
		}
	}
	v, err := m.train.Meet(rows, goals, m.bounds)
	if err != nil {
		return err
	}
	copy(m.v, v)
	return nil
}

func boolTo(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// Advance goes one step on.
func (m *Sim) Advance(in Input) {
	h := m.step
	m.input = in
	copy(m.was, m.v)
	engine, turbine := drivetrain.Dot(m.train.Engine, m.v), drivetrain.Dot(m.train.Turbine, m.v)
	road := drivetrain.Dot(m.train.Vehicle, m.v)

	m.torque += (m.car.Engine.Wanted(m.control.throttle(in.Throttle), engine) - m.torque) * math.Min(1, h/m.car.Engine.Lag)
	var taken float64
	if m.train.Fluid {
		taken, m.given = m.conv.Torques(engine, turbine)
		if m.tight && turbine > powertrain.Coupling*engine && engine > 0 { // the reactor stands in the way of oil that wants past it
			m.given -= tightDrag * m.conv.Capacity * turbine * turbine
		}
	} else {
		m.given = m.torque
	}

	m.control.advance(h)
	for i, p := range m.pistons {
		if p == nil {
			continue
		}
		p.Step(m.control.command(i), h, m.thick)
		t := h * p.Torque()
		m.bounds[i] = boxes.Bounds{Lo: -t, Hi: t}
	}
	for _, w := range m.solids {
		t := h * w.strength
		switch {
		case w.seized:
			m.bounds[w.element] = boxes.Bounds{Lo: -t, Hi: t}
		case w.oneWay && w.reversed:
			m.bounds[w.element] = boxes.Bounds{Lo: -t}
		case w.oneWay:
			m.bounds[w.element] = boxes.Bounds{Hi: t}
		default:
			t *= boolTo(m.control.on(w.element))
			m.bounds[w.element] = boxes.Bounds{Lo: -t, Hi: t}
		}
	}
	if m.train.Lockup >= 0 {
		t := h * m.control.lockup()
		if m.grabs > 0 {
			t = h * m.grab(h, t/h)
		}
		m.bounds[m.train.Lockup] = boxes.Bounds{Lo: -t, Hi: t}
	}
	weight := m.car.Mass * powertrain.Gravity
	force := weight * (m.car.Rolling + in.Brake)
	arm := m.car.Wheel / m.car.Axle
	m.bounds[m.train.Brake] = boxes.Bounds{Lo: -h * force * arm, Hi: h * force * arm}

	speed := road * arm
	air := 0.5 * powertrain.AirDensity * m.car.Air * speed * math.Abs(speed) * arm
	climb := weight * in.Grade / math.Hypot(1, in.Grade) * arm
	drivetrain.MulVec(m.p, m.train.Mass, m.v)
	for i := range m.p {
		m.p[i] += h * ((m.torque-taken)*m.train.Engine[i] - (air+climb)*m.train.Vehicle[i])
		if m.train.Fluid {
			m.p[i] += h * m.given * m.train.Turbine[i]
		}
	}
	holds := m.train.Loose
	across := drivetrain.Dot(m.train.Shaft, m.v)
	over := m.twist - math.Copysign(math.Min(math.Abs(m.twist), m.car.Backlash), m.twist)
	carries := over != 0
	k, c := m.car.Stiffness, m.car.Damping
	if carries {
		holds = m.train.Tight
		pull := h * (k*over + (k*h/4+c/2)*across)
		for i := range m.p {
			m.p[i] -= pull * m.train.Shaft[i]
		}
	}
	other := m.train.Tight
	if carries {
		other = m.train.Loose
	}
	for j := range m.slips {
		m.slips[j] = holds.Slip(j, m.was)
	}
	holds.Step(m.v, m.p, m.bounds)
	other.Take(holds)

	m.gets = m.given
	if m.train.Lockup >= 0 {
		m.gets -= holds.Impulses()[m.train.Lockup] / h
	}
	m.book(holds, h, taken, air, climb, carries, over)
	m.twist += h * (across + drivetrain.Dot(m.train.Shaft, m.v)) / 2
	m.pos += h * arm * (road + drivetrain.Dot(m.train.Vehicle, m.v)) / 2
	m.time += h
	if !math.IsNaN(m.around) {
		m.warm(h, taken*engine-m.given*turbine, holds)
	}
}

// warm heats the fluid by what a step lost in the converter and in what slips inside the unit.
func (m *Sim) warm(h, converter float64, holds *boxes.Holds) {
	lost := 0.0
	if m.train.Fluid {
		lost = h * converter
	}
	for j, x := range holds.Impulses() {
		if j != m.train.Brake {
			lost += math.Abs(x * m.slips[j])
		}
	}
	m.celsius += (lost - h*cooled*(m.celsius-m.around)) / heatKept
	m.thick = piston.Thickness(m.celsius)
}

// book enters the work of a step, each torque at the mean of the speeds before and after: so the balance closes by the law of the step itself.
func (m *Sim) book(holds *boxes.Holds, h, taken, air, climb float64, carries bool, over float64) {
	mean := func(row []float64) float64 { return (drivetrain.Dot(row, m.was) + drivetrain.Dot(row, m.v)) / 2 }
	l := &m.ledger
	e, t, w := mean(m.train.Engine), mean(m.train.Turbine), mean(m.train.Vehicle)
	l.Engine += h * m.torque * e
	if m.train.Fluid {
		l.Converter += h * (taken*e - m.given*t)
	}
	l.Air += h * air * w
	l.Grade += h * climb * w
	for j, x := range holds.Impulses() {
		work := -x * (m.slips[j] + holds.Slip(j, m.v)) / 2
		l.Friction += work
		if j < len(m.heat) {
			m.heat[j] += work
		}
	}
	if carries {
		s := mean(m.train.Shaft)
		l.Shaft += h * m.car.Damping * s * s
		// What the spring took up in the step, against what the twist says after it: they part only where the backlash begins or ends.
		now := m.twist + h*s
		past := now - math.Copysign(math.Min(math.Abs(now), m.car.Backlash), now)
		l.Shaft += h*s*m.car.Stiffness*(over+h*s/2) - m.car.Stiffness*(past*past-over*over)/2
	} else {
		now := m.twist + h*mean(m.train.Shaft)
		past := now - math.Copysign(math.Min(math.Abs(now), m.car.Backlash), now)
		l.Shaft -= m.car.Stiffness * past * past / 2
	}
}

// stored is the energy of motion and of the shaft's twist.
func (m *Sim) stored() float64 {
	drivetrain.MulVec(m.p, m.train.Mass, m.v)
	over := math.Max(0, math.Abs(m.twist)-m.car.Backlash)
	return drivetrain.Dot(m.p, m.v)/2 + m.car.Stiffness*over*over/2
}

// pressureOf is line pressure in a range at a throttle, Pa.
func (m *Sim) pressureOf(r *gear, throttle float64) float64 {
	return (r.idle + (r.full-r.idle)*throttle) * m.line
}

// Ledger says where the energy went.
func (m *Sim) Ledger() Ledger {
	out := m.ledger
	out.Stored = m.stored()
	return out
}
