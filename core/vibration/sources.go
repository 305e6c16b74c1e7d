package vibration

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// Family says where a source belongs.
type Family string

// The families.
const (
	Wheels    Family = "wheel"
	Shafts    Family = "shaft"
	Axles     Family = "axle"
	Engine    Family = "engine"
	Converter Family = "converter"
	Pump      Family = "pump"
	Gears     Family = "gears"
	Planets   Family = "planets"
	Bearings  Family = "bearing"
	Drives    Family = "belt"
)

// How well a source keeps to its frequency, as a share: gears and shafts turn exactly, a tire wears, bearings and belts slip (judgment; 1
// to 2 % slip of bearings recalled from memory).
const (
	exact      = 0.001
	byEngine   = 0.002
	UsualTread = 0.01
	slips      = 0.02
)

// Source is something that can be heard or felt at a frequency.
type Source struct {
	ID, Name  string
	Family    Family
	PerOutput float64 // events for each turn of the output shaft
	PerEngine float64 // and for each of the engine
	Hertz     float64 // in this state
	Tolerance float64 // share by which it may be off
	Loaded    bool    // it carries torque in this state: unloaded it is expected to be quiet
	Harmonics int     // how many multiples are usually seen
	Group     string  // of a bearing: all its lines slip together
}

// State is how the vehicle is driven.
type State struct {
	Range string  // of the unit; "" with a standing or rolling vehicle whose unit drives nothing
	Road  float64 // m/s; 0 when it stands
	Slip  float64 // of the converter: 1 − turbine/engine; 0 with its clutch closed
	// EngineSpeed is asked where the range does not tie it to the road, rev/s.
	EngineSpeed float64
}

// List is everything that turns in a state.
type List struct {
	Wheel, Output, Turbine, Engine float64 // rev/s
	Sources                        []Source
}

// Sources lists what can be heard or felt, by frequency. It fails for a range that the unit has not, a vehicle that cannot be, and where a
// speed is missing.
func Sources(u *unitsheet.Unit, v Vehicle, s State) (List, error) {
	if err := v.Check(); err != nil {
		return List{}, err
	}
	if !(s.Slip >= 0 && s.Slip < 1) || !(s.Road >= 0 && s.Road < 120) || !(s.EngineSpeed >= 0 && s.EngineSpeed < 300) {
		return List{}, fmt.Errorf("vibration: road %v m/s, slip %v, engine %v rev/s; want 0 to 120, 0 to below 1, 0 to 300", s.Road, s.Slip, s.EngineSpeed)
	}
	l := lister{u: u, v: v, s: s}
	if err := l.speeds(); err != nil {
		return List{}, err
	}
	l.vehicle()
	l.engine()
	if l.flow != nil {
		l.gears()
	}
	l.bearings()
	slices.SortStableFunc(l.out.Sources, func(a, b Source) int { return cmp.Compare(a.Hertz, b.Hertz) })
	return l.out, nil
}

// Coasting is the list with the foot off: gears, planets and the axle carry next to nothing and are as quiet as without load (judgment).
func (l List) Coasting() List {
	out := l
	out.Sources = slices.Clone(l.Sources)
	for i, s := range out.Sources {
		if s.Family == Gears || s.Family == Planets || s.Family == Axles {
			out.Sources[i].Loaded = false
		}
	}
	return out
}

type lister struct {
	u    *unitsheet.Unit
	v    Vehicle
	s    State
	flow *gearing.Flow
	tied bool    // the range ties engine and road
	per  float64 // turns of the turbine for one of the output, with its sign
	out  List
}

// speeds finds what turns how fast.
func (l *lister) speeds() error {
	o := &l.out
	if l.v.Circumference > 0 {
		o.Wheel = l.s.Road / l.v.Circumference
	}
	if l.v.Axle > 0 {
		o.Output = o.Wheel * l.v.Axle
	}
	o.Engine = l.s.EngineSpeed
	if l.s.Range == "" {
		return nil
	}
	r, ok := l.u.Range(l.s.Range)
	if !ok {
		return fmt.Errorf("vibration: no range %q; want one of the unit's", l.s.Range)
	}
	if !r.Driving() {
		return nil
	}
	ratio := r.Healthy.Ratio
	if ratio == 0 {
		ratio = r.Printed
	}
	if ratio == 0 {
		return fmt.Errorf("vibration: the ratio of %s is not known; want a unit whose ratios are given", r.Name)
	}
	l.tied, l.per = true, ratio
	o.Turbine = math.Abs(ratio) * o.Output
	o.Engine = o.Turbine / (1 - l.s.Slip)
	if l.u.Machine != nil {
		sol, err := l.u.Machine.Solve(gearing.State{Applied: r.Applied, Slip: l.s.Slip})
		if err != nil {
			return err
		}
		l.flow = &sol.Flow
	}
	return nil
}

// add takes a source that follows the output and the engine so; one that stands still is left out.
func (l *lister) add(id, name string, f Family, perOutput, perEngine, tolerance float64, loaded bool, harmonics int) {
	hz := math.Abs(perOutput*l.out.Output + perEngine*l.out.Engine)
	if hz < 1e-9 {
		return
	}
	l.out.Sources = append(l.out.Sources, Source{ID: id, Name: name, Family: f, PerOutput: perOutput, PerEngine: perEngine, Hertz: hz, Tolerance: tolerance, Loaded: loaded, Harmonics: harmonics})
}

// vehicle are wheels, shafts and axle.
func (l *lister) vehicle() {
	v := l.v
	tread := v.Tread
	if tread == 0 {
		tread = UsualTread
	}
	if v.Axle > 0 {
		wheel := 1 / v.Axle
		l.add("wheel", "wheel and tire", Wheels, wheel, 0, tread, true, 3)
		if v.Pieces > 0 {
			l.add("shaft", "driveshaft", Shafts, 1, 0, exact, true, 2)
			l.add("joint", "joints of the driveshaft", Shafts, 2, 0, exact, true, 2)
		}
		switch v.Joint {
		case Tripod:
			l.add("tripod", "tripod joint of an axle shaft", Shafts, 3*wheel, 0, exact, true, 2)
		case Ball:
			l.add("ball-joint", "ball joint of an axle shaft", Shafts, 6*wheel, 0, exact, true, 1)
		}
		if v.Pinion > 0 {
			l.add("axle-gears", "axle gears", Axles, float64(v.Pinion), 0, exact, true, 2)
		}
	}
}

// engine are the engine, what it drives by belts, the converter.
func (l *lister) engine() {
	if l.out.Engine == 0 {
		return
	}
	v := l.v
	l.add("engine-half", "one cylinder differs", Engine, 0, 0.5, byEngine, true, 1)
	l.add("engine", "engine or flywheel out of balance", Engine, 0, 1, byEngine, true, 2)
	if v.Cylinders > 0 {
		l.add("firing", "firing", Engine, 0, float64(v.Cylinders)/2, byEngine, true, 2)
	}
	for i, b := range v.Belts {
		l.add(fmt.Sprintf("belt-%d", i+1), b.Name, Drives, 0, b.Ratio, slips, true, 2)
	}
	if c := l.u.Sheet.Converter; c != nil && l.s.Slip > 0 && l.tied {
		// The turbine turns with the output: the beat is the engine less that.
		l.add("turbine", "turbine out of balance", Converter, math.Abs(l.per), 0, exact, true, 2)
		l.add("converter-beat", "engine against turbine", Converter, -math.Abs(l.per), 1, byEngine, true, 1)
	}
	if n := l.u.PumpEvents(); n > 0 {
		l.add("pump", "oil pump", Pump, 0, float64(n), byEngine, true, 3)
	}
}

// gears are meshes, planets and members of the unit in this range.
func (l *lister) gears() {
	t := l.u.Machine.Train()
	for _, o := range t.Orders(*l.flow) {
		switch o.Kind {
		case gearing.Shaft:
			if o.A == t.Input || o.A == t.Output {
				continue // engine or turbine, and the driveshaft
			}
			l.add("turn:"+o.A, unitsheet.MemberName(l.u.Sheet, o.A)+" out of balance", Gears, o.PerOutput, 0, exact, true, 1)
		case gearing.ToothMesh:
			l.add("mesh:"+o.A+"/"+o.B, unitsheet.OrderName(l.u.Sheet, o), Gears, o.PerOutput, 0, exact, o.Loaded, 2)
		case gearing.PlanetPass:
			l.add("pass:"+o.A+"/"+o.B, unitsheet.OrderName(l.u.Sheet, o), Planets, o.PerOutput, 0, exact, o.Loaded, 2)
		case gearing.PlanetSpin:
			// A chipped tooth of a planet strikes sun and ring once each in a turn on its pin.
			l.add("tooth:"+o.A, "a tooth of a "+unitsheet.PinionName(o.A), Planets, 2*o.PerOutput, 0, exact, o.Loaded, 1)
		}
	}
	l.merge()
}

// merge makes one source of meshes that always share their frequency: all those on one carrier.
func (l *lister) merge() {
	var out []Source
	for _, s := range l.out.Sources {
		i := slices.IndexFunc(out, func(o Source) bool {
			return o.Family == Gears && s.Family == Gears && o.ID[:5] == "mesh:" && s.ID[:5] == "mesh:" && math.Abs(o.PerOutput-s.PerOutput) < 1e-9
		})
		if i < 0 {
			out = append(out, s)
			continue
		}
		out[i].Loaded = out[i].Loaded || s.Loaded
	}
	l.out.Sources = out
}

// turning is how fast something turns for each turn of the output and of the engine; false when it is not known in this state.
func (l *lister) turning(what string) (perOutput, perEngine float64, ok bool) {
	switch what {
	case "":
		return 0, 0, true
	case "output":
		return 1, 0, true
	case "wheel":
		if l.v.Axle == 0 {
			return 0, 0, false
		}
		return 1 / l.v.Axle, 0, true
	case "engine":
		return 0, 1, true
	case "turbine":
		return l.per, 0, l.tied
	}
	if l.flow == nil {
		return 0, 0, false
	}
	w, known := l.flow.Speeds[what]
	out := l.flow.Speeds[l.u.Machine.Train().Output]
	if !known || out == 0 {
		return 0, 0, false
	}
	return w / out, 0, true
}

func (l *lister) bearings() {
	for _, b := range slices.Concat(l.v.Bearings, l.own()) {
		io, ie, ok := l.turning(b.Inner)
		oo, oe, known := l.turning(b.Outer)
		if !ok || !known {
			continue
		}
		d := b.Defects()
		from := len(l.out.Sources)
		add := func(part, word string, times float64) {
			l.add(b.ID+":"+part, b.Name+", "+word, Bearings, times*(io-oo), times*(ie-oe), slips, true, 3)
		}
		add("outer", "outer race", d.Outer)
		add("inner", "inner race", d.Inner)
		add("ball", "a ball or roller", d.Ball)
		// The cage turns between the races.
		l.add(b.ID+":cage", b.Name+", cage", Bearings, (io*(1-b.Ratio)+oo*(1+b.Ratio))/2, (ie*(1-b.Ratio)+oe*(1+b.Ratio))/2, slips, true, 1)
		for i := from; i < len(l.out.Sources); i++ {
			l.out.Sources[i].Group = b.ID
		}
	}
}

// own are the bearings of the unit's sheet.
func (l *lister) own() []Bearing {
	var out []Bearing
	for _, b := range l.u.Sheet.Bearings {
		out = append(out, Bearing{ID: "bearing-" + b.ID, Name: b.Name, Elements: b.Elements, Ratio: b.Ratio, Inner: b.Inner, Outer: b.Outer})
	}
	return out
}
