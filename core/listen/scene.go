package listen

import (
	"math"
	"slices"
	"strings"

	"innercompass/core/gearing"
	"innercompass/core/unitsheet"
)

// State is how the vehicle is run while somebody listens.
type State struct {
	ID, Title string
	Caution   string
	engine    bool
	road      bool
	pedal     bool // of a dry clutch, down
	load      float64
	inRange   bool // in the range that is asked about
	bend      float64
}

// Place is where one listens.
type Place struct {
	ID, Title string
	Beside    []string // the next places along the driveline
}

// Source is something that can sound.
type Source struct {
	ID, Name string
	Places   []string           // where it sounds: of both sides where it may be either
	Causes   []string           // ids of the knowledge
	On       map[string]float64 // by state: how loud it is at its own place, 0 to 1
	prior    float64
}

// Scene is what can be listened to on a unit: its states, places and sources.
type Scene struct {
	States  []State
	Places  []Place
	Sources []Source
}

const (
	lift  = "Wheels hanging: arms of the lift locked, nobody in reach of wheels and shafts."
	chock = "Wheels chocked, parking brake on; hands, hair and rod clear of belts and fan."
	road  = "On a clear road, with a second person who listens."
)

// Kind of unit, as far as listening asks.
type kind struct{ pedal, clutch, converter, shaft, across, pump bool }

func kindOf(u *unitsheet.Unit) kind {
	k := kind{converter: u.Sheet.Converter != nil, shaft: true}
	has := func(id string) bool {
		return slices.ContainsFunc(u.Sheet.Parts, func(p unitsheet.PartSheet) bool { return p.ID == id })
	}
	k.clutch = has("release")
	k.pedal = k.clutch && !has("actuator")
	k.across = u.Sheet.Leaks != nil && u.Sheet.Leaks.Across
	k.shaft = !k.across
	k.pump = u.PumpEvents() > 0 || k.converter
	return k
}

// NewScene is what can be listened to on a unit, in one of its ranges.
func NewScene(u *unitsheet.Unit, in string) Scene {
	k := kindOf(u)
	s := Scene{States: statesOf(k), Places: placesOf(k)}
	b := builder{u: u, k: k, in: in, scene: &s}
	b.flows()
	b.vehicle()
	b.clutch()
	b.gears()
	b.bearings()
	return s
}

func statesOf(k kind) []State {
	out := []State{{ID: "neutral", Title: "standing in N", Caution: chock, engine: true}}
	if k.pedal {
		out[0].Title = "standing in N, pedal up"
		out = append(out, State{ID: "pedal", Title: "standing in N, pedal down", Caution: chock, engine: true, pedal: true})
	} else {
		out = append(out, State{ID: "held", Title: "standing in the range, brake on", Caution: chock, engine: true, inRange: true, load: 0.5})
	}
	return append(out,
		State{ID: "pull", Title: "driving, pulling", Caution: road, engine: true, road: true, inRange: true, load: 1},
		State{ID: "coast", Title: "driving, foot off", Caution: road, engine: true, road: true, inRange: true, load: 0.3},
		State{ID: "roll", Title: "rolling in N", Caution: road, engine: true, road: true},
		State{ID: "left", Title: "in a long bend to the left", Caution: road, engine: true, road: true, inRange: true, load: 0.5, bend: -1},
		State{ID: "right", Title: "in a long bend to the right", Caution: road, engine: true, road: true, inRange: true, load: 0.5, bend: 1},
		State{ID: "lifted", Title: "on the lift, wheels turning", Caution: lift, engine: true, road: true, inRange: true, load: 0.1})
}

func placesOf(k kind) []Place {
	if k.across {
		return []Place{
			{"engine", "front of the engine", []string{"bell"}}, {"bell", "bell housing", []string{"engine", "front"}}, {"front", "front of the unit", []string{"bell", "case"}},
			{"case", "middle of the case", []string{"front", "cover", "drive-left", "drive-right"}}, {"cover", "side cover", []string{"case"}},
			{"drive-left", "differential, left", []string{"case", "drive-right", "wheel-left"}}, {"drive-right", "differential, right", []string{"case", "drive-left", "wheel-right"}},
			{"wheel-left", "driven wheel, left", []string{"drive-left"}}, {"wheel-right", "driven wheel, right", []string{"drive-right"}}, {"under", "pipes and lines under the floor", []string{"bell", "case"}},
		}
	}
	return []Place{
		{"engine", "front of the engine", []string{"bell"}}, {"bell", "bell housing", []string{"engine", "front"}}, {"front", "front of the unit", []string{"bell", "case"}},
		{"case", "middle of the case", []string{"front", "tail"}}, {"tail", "rear of the unit", []string{"case", "shaft"}}, {"shaft", "driveshaft, at its center bearing", []string{"tail", "axle"}},
		{"axle", "driven axle", []string{"shaft", "wheel-left", "wheel-right"}}, {"wheel-left", "driven wheel, left", []string{"axle"}}, {"wheel-right", "driven wheel, right", []string{"axle"}},
		{"under", "pipes and lines under the floor", []string{"bell", "case"}},
	}
}

// Speeds of the scene, in turns of the engine at a thousand: only what turns at all counts.
const (
	engineTurns = 1.0
	roadTurns   = 0.8 // of the output
	unloaded    = 0.1
)

type builder struct {
	u      *unitsheet.Unit
	k      kind
	in     string
	scene  *Scene
	speeds map[string]map[string]float64 // by state and member
	flow   *gearing.Flow                 // in the range asked about, pulling
}

// flows finds what turns in each state, and what carries load in the range.
func (b *builder) flows() {
	b.speeds = map[string]map[string]float64{}
	if b.u.Machine == nil {
		return
	}
	train := b.u.Machine.Train()
	r, ok := b.u.Range(b.in)
	if ok && r.Driving() {
		if sol, err := b.u.Machine.Solve(gearing.State{Applied: r.Applied}); err == nil {
			b.flow = &sol.Flow
		}
	}
	for _, s := range b.scene.States {
		if s.inRange && s.road && b.flow != nil { // with its one-way clutches as they hold
			b.speeds[s.ID] = b.flow.Speeds
			continue
		}
		var applied []string
		known := map[string]float64{}
		switch {
		case s.inRange && ok:
			applied = slices.Clone(r.Applied)
		case b.k.clutch:
			applied = b.clutchOf() // neutral with the clutch closed: its shafts turn with the engine
		}
		if s.pedal {
			applied = nil
		}
		if s.engine && !(s.ID == "held" && b.k.converter) {
			known[train.Input] = engineTurns
		}
		if s.ID == "held" && b.k.clutch {
			applied = nil // an automated clutch is open while the vehicle is held
		}
		switch {
		case s.road:
			known[train.Output] = roadTurns
		default:
			if !s.inRange || s.ID == "held" {
				known[train.Output] = 0
			}
		}
		b.speeds[s.ID] = b.u.Machine.Turning(applied, known)
	}
}

// clutchOf is the element that ties the box to the engine: the one that has the input for one of its sides.
func (b *builder) clutchOf() []string {
	train := b.u.Machine.Train()
	for _, e := range train.Elements {
		if e.A == train.Input || e.B == train.Input {
			return []string{e.ID}
		}
	}
	return nil
}

// add takes a source at one place, or at several with commas between, if it sounds in any state.
func (b *builder) add(id, name, place string, prior float64, causes []string, on func(s State) float64) {
	x := Source{ID: id, Name: name, Places: strings.Split(place, ","), Causes: causes, On: map[string]float64{}, prior: prior}
	any := false
	for _, s := range b.scene.States {
		x.On[s.ID] = math.Max(0, math.Min(1, on(s)))
		any = any || x.On[s.ID] > 0
	}
	if any && slices.ContainsFunc(b.scene.Places, func(p Place) bool { return p.ID == x.Places[0] }) {
		b.scene.Sources = append(b.scene.Sources, x)
	}
}

func yes(b bool, v float64) float64 {
	if b {
		return v
	}
	return 0
}

// vehicle is what surrounds the unit.
func (b *builder) vehicle() {
	b.add("belts", "a belt-driven accessory", "engine", 1, []string{"accessory-noise"}, func(s State) float64 { return yes(s.engine, 0.9) })
	b.add("touching", "a pipe, line or shield that touches", "under", 1, []string{"exhaust-touches", "line-touches"}, func(s State) float64 { return yes(s.engine, 0.5+0.4*s.load) })
	b.add("tires", "tires", "wheel-left,wheel-right", 1.5, []string{"tyre-hum"}, func(s State) float64 { return yes(s.road && s.ID != "lifted", 0.9) })
	for side, bend := range map[string]float64{"left": 1, "right": -1} {
		// A bend to the one side loads the wheel on the other.
		b.add("wheel-bearing-"+side, "the wheel bearing, "+side, "wheel-"+side, 1, []string{"wheel-bearing"}, func(s State) float64 { return yes(s.road, 0.7+0.3*bend*s.bend) })
	}
	if b.k.across {
		b.add("final-drive", "the final drive gears", "drive-left,drive-right", 1, []string{"final-drive-worn"}, func(s State) float64 { return yes(s.road, 0.5+0.5*s.load) })
		b.add("side-gears", "the side gears of the differential", "drive-left,drive-right", 0.5, []string{"side-gears-worn"}, func(s State) float64 { return math.Abs(s.bend) * 0.9 })
		b.add("side-joint", "the joint of an axle shaft", "wheel-left,wheel-right", 1, []string{"side-joint-worn"}, func(s State) float64 { return yes(s.road, 0.2+0.4*s.load+0.5*math.Abs(s.bend)) })
		return
	}
	b.add("joints", "the joints of the driveshaft", "shaft", 1, []string{"joint-worn", "shaft-angle-off"}, func(s State) float64 { return yes(s.road, 0.4+0.5*s.load) })
	b.add("center-bearing", "the center bearing of the shaft", "shaft", 0.7, []string{"centre-bearing-worn"}, func(s State) float64 { return yes(s.road, 0.85) })
	b.add("axle-gears", "the gears of the axle", "axle", 1, []string{"axle-worn"}, func(s State) float64 { return yes(s.road, 0.45+0.5*s.load) })
	b.add("tail-bushing", "the tail bushing", "tail", 0.5, []string{"tail-bushing"}, func(s State) float64 { return yes(s.road, 0.7) })
}

// clutch is what joins the unit to the engine.
func (b *builder) clutch() {
	if b.k.pump {
		b.add("pump", "the oil pump", "front", 1.2, []string{"pump-worn", "pump-scored", "pump-starved", "filter-blocked"}, func(s State) float64 { return yes(s.engine, 0.75+0.25*s.load) })
	}
	if b.k.converter {
		b.add("flexplate", "the flexplate or its bolts", "bell", 0.7, []string{"flexplate-cracked", "converter-bolts"}, func(s State) float64 { return yes(s.engine, 0.8+0.2*s.load) })
		// Its bearing turns as far as engine and turbine differ: most with the vehicle held, hardly at speed.
		b.add("converter-bearing", "the thrust bearing of the converter", "bell", 0.6, []string{"converter-bearing"}, func(s State) float64 { return yes(s.ID == "held", 1) + yes(s.engine && s.ID != "held", 0.15) })
	}
	if !b.k.clutch {
		return
	}
	b.add("release-bearing", "the release bearing", "bell", 1.2, []string{"release-bearing"}, func(s State) float64 { return yes(s.engine && s.pedal, 1) + yes(s.engine && !s.pedal, 0.1) })
	train := b.u.Machine
	if train == nil {
		return
	}
	input := b.boxInput()
	b.add("pilot-bearing", "the pilot bearing", "bell", 0.5, []string{"pilot-bearing"}, func(s State) float64 { return math.Abs(engineTurns - b.speeds[s.ID][input]) })
	b.add("flywheel", "the flywheel or the springs of the disc", "bell", 0.8, []string{"flywheel-worn", "disc-damper", "flywheel-solid-rattle"}, func(s State) float64 { return yes(s.engine && !s.pedal, 0.7+0.3*s.load) + yes(s.pedal, 0.3) })
}

// boxInput is the member behind the clutch.
func (b *builder) boxInput() string {
	t := b.u.Machine.Train()
	for _, e := range t.Elements {
		switch t.Input {
		case e.A:
			return e.B
		case e.B:
			return e.A
		}
	}
	return t.Input
}

// gears are the meshes of the unit: those that turn under load loud, those that turn along faint.
func (b *builder) gears() {
	if b.u.Machine == nil {
		return
	}
	t := b.u.Machine.Train()
	done := map[string]bool{}
	for i, m := range t.Meshes {
		id, name, place := "mesh:"+m.A+"/"+m.B, "gears: "+unitsheet.MemberName(b.u.Sheet, m.A)+" and "+unitsheet.MemberName(b.u.Sheet, m.B), "case"
		if m.Carrier != "" && m.Carrier != gearing.Case { // all meshes on one carrier sound as one
			id, name = "set:"+m.Carrier, "planets on the "+strings.TrimPrefix(unitsheet.MemberName(b.u.Sheet, m.Carrier), "the ")
		}
		if m.Chain {
			id, name, place = "chain:"+m.A, "the drive chain", "cover"
		}
		if done[id] {
			continue
		}
		done[id] = true
		causes := []string{"gear-pair-worn", "gearset-worn"}
		if m.Chain {
			causes = []string{"chain-stretched"}
		}
		b.add(id, name, place, 0.5, causes, func(s State) float64 {
			w := b.speeds[s.ID]
			wa, okA := w[m.A]
			wc := w[m.Carrier]
			if !okA || math.Abs(wa-wc) < 1e-6 {
				return 0
			}
			if s.inRange && s.load > 0 && b.loaded(i, m) {
				return 0.5 + 0.5*s.load
			}
			return unloaded
		})
	}
}

// loaded reports whether a mesh carries torque in the range, or another on its carrier.
func (b *builder) loaded(i int, m gearing.Mesh) bool {
	if b.flow == nil {
		return false
	}
	for k, o := range b.u.Machine.Train().Meshes {
		same := k == i || m.Carrier != "" && m.Carrier != gearing.Case && o.Carrier == m.Carrier
		if same && k < len(b.flow.Teeth) && math.Abs(b.flow.Teeth[k]) > 1e-9 {
			return true
		}
	}
	return false
}

// bearings of the sheet: heard when their races turn against each other.
func (b *builder) bearings() {
	for _, x := range b.u.Sheet.Bearings {
		place, causes := "case", []string{"bearing-worn"}
		switch x.Inner {
		case "output":
			if place = "tail"; b.k.across {
				place = "drive-right"
			}
		case b.inputName():
			place, causes = "front", []string{"input-bearing"}
		}
		if x.ID == "counter" {
			causes = []string{"input-bearing"}
		}
		b.add("bearing-"+x.ID, "the "+x.Name, place, 0.8, causes, func(s State) float64 {
			turns := func(what string) float64 {
				switch what {
				case "":
					return 0
				case "output":
					return yes(s.road, 1)
				}
				return b.speeds[s.ID][what]
			}
			return yes(math.Abs(turns(x.Inner)-turns(x.Outer)) > 1e-6, 0.7+0.3*s.load)
		})
	}
}

func (b *builder) inputName() string {
	if b.u.Machine == nil {
		return ""
	}
	if b.k.clutch {
		return b.boxInput()
	}
	return b.u.Machine.Train().Input
}
