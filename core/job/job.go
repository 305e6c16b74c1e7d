// Package job plans the work of one visit: what is done step by step with hours, tools, torques and cautions; which parts it takes, how
// surely, and which of them to order before the unit is open; when the vehicle is promised.
//
// Hours are those of the estimate, told apart: opening up is there once for all that is done in the visit. A time's spread is the option's.
// Parts are those of the stack that come out on the way: what the work renews, what is never used again, what always goes with these, and
// what may be found bad, by the diagnosis. The promise is drawn at random: times from their betas, what is wrong from the hypotheses, what is
// found from these, waits by the calendar. What lies deeper than this visit opens is another estimate and not in the promise.
//
// Shares and times that stand as constants here are judgment.
package job

import (
	"slices"

	"innercompass/core/diagnose"
	"innercompass/core/estimate"
	"innercompass/core/knowledge"
	"innercompass/core/pert"
	"innercompass/core/unitsheet"
	"innercompass/core/workbench"
)

// Terms are what a shop counts with.
type Terms struct {
	Bay      float64 // price of an hour in which a bay is held up
	Lead     float64 // days until a part that is ordered is there
	Machine  float64 // days that work at a machine shop takes
	Restock  float64 // share of a part's price that a return costs
	SendBack float64 // what a return costs besides
	Trial    float64 // hours of proving the work
	PerDay   float64 // hours that the shop is open, in the mean of the calendar
}

// Stock says where a part is.
type Stock struct {
	State string  // one of Stocks; empty: not here, not ordered
	Days  float64 // until it is here, when it is ordered; negative for the shop's usual lead
}

// Stocks are the states of a part that is on hand or on its way.
var Stocks = []string{"shelf", "ordered", "here"}

// Visit is what is done in one visit.
type Visit struct {
	Network *knowledge.Network
	Works   []estimate.Work // the option first
	Price   estimate.Estimator
	Figures estimate.Figures
	Bench   *workbench.Bench // nil: the sheet has no parts in order
	Terms   Terms
	Stock   map[string]Stock // by part or kit
}

// Kinds of tasks, in their order.
const (
	Open    = "open"
	Lift    = "lift"
	Look    = "look"
	Machine = "machine"
	Repair  = "repair"
	Close   = "close"
	Teach   = "teach"
	Prove   = "prove"
)

// Task is a piece of the work.
type Task struct {
	ID, Title, Kind string
	Time            pert.Three // hours; of waits hours that the shop is open meanwhile
	Days            pert.Three // of waits, by the calendar
	People          int
	After           []int
	Level           string // of access, of what is opened and closed
	Parts           []int  // of the stack that come out or go back
	Tools           []Tool
	Torques         []Torque
	Cautions        []knowledge.Caution
	Heeds           []Heed // at parts
	pert.Placed
	Critical bool
}

// Tool is a special tool, and what a shop makes instead.
type Tool struct{ Name, Instead string }

// Torque is how a part's bolts are tightened.
type Torque struct {
	Part    string
	Count   int
	Thread  string
	Stages  []float64 // N·m
	Turn    float64   // rad after the last; 0 for none
	Pattern string
	With    string
	Once    bool
}

// Heed is what is heeded at a part: a trap, a caution.
type Heed struct{ Part, Text string }

// Plan is the work of a visit.
type Plan struct {
	Tasks    []Task
	Hours    float64 // of work, in the mean
	Open     float64 // of these that the opening up is, once
	Apart    float64 // what it would be if each work opened up by itself
	Deepest  unitsheet.Access
	Parts    []Part
	Ordering float64 // what the orders as advised are expected to cost in delay and returns
	Without  float64 // and no orders before opening
}

const (
	openShare = 0.45 // of the time to open and close
	lookShare = 0.25 // of the work's hours: looking and measuring before it is decided what is renewed
	liftHours = 0.25 // with the unit on the jack, by two
	climbing  = 0.15 // spread of opening up: bolts that do not come
)

// Steps are the tasks of a visit without its parts: what the week needs to know of it.
func (v Visit) Steps() []Task { return v.tasks() }

// Make plans a visit with what the diagnosis says.
func (v Visit) Make(a *diagnose.Assessment) (Plan, error) {
	p := Plan{Deepest: v.deepest()}
	p.Parts, p.Ordering, p.Without = v.parts(a)
	p.Tasks = v.tasks()
	laid, err := pert.Lay(asPert(p.Tasks))
	if err != nil {
		return Plan{}, err
	}
	for i := range p.Tasks {
		t := &p.Tasks[i]
		t.Placed, t.Critical = laid.Tasks[i], slices.Contains(laid.Critical, i)
		if !t.Waits() {
			p.Hours += t.Time.Mean()
		}
		if t.Kind == Open || t.Kind == Lift || t.Kind == Close {
			p.Open += t.Time.Mean()
		}
	}
	for _, w := range v.Works {
		for l := v.Price.From + 1; l <= w.Level; l++ {
			p.Apart += v.climb(l)
		}
	}
	return p, nil
}

// Waits reports whether nobody works on it.
func (t Task) Waits() bool { return t.Kind == Machine }

func asPert(tasks []Task) []pert.Task {
	out := make([]pert.Task, len(tasks))
	for i, t := range tasks {
		out[i] = pert.Task{ID: t.ID, Time: t.Time, After: t.After}
	}
	return out
}

func (v Visit) deepest() unitsheet.Access {
	deepest := unitsheet.Ground
	for _, w := range v.Works {
		deepest = max(deepest, w.Level)
	}
	return deepest
}

func (v Visit) climb(l unitsheet.Access) float64 {
	if v.Price.Unit.ClimbMinutes[l] == 0 {
		return 0
	}
	h, _ := v.Price.Climb(l)
	return h.Float()
}

// opened and closed are what an access level is called as a task.
var (
	opened = map[unitsheet.Access]string{unitsheet.Lifted: "Vehicle raised", unitsheet.PanOff: "Fluid out, pan off", unitsheet.ValveBodyOff: "Valve body off", unitsheet.UnitOut: "Unit out", unitsheet.UnitApart: "Unit apart", unitsheet.ConverterOpen: "Converter opened"}
	closed = map[unitsheet.Access]string{unitsheet.Lifted: "Vehicle down", unitsheet.PanOff: "Pan on, fluid in", unitsheet.ValveBodyOff: "Valve body on", unitsheet.UnitOut: "Unit in", unitsheet.UnitApart: "Unit built", unitsheet.ConverterOpen: "Converter closed"}
)

// tasks are the steps of a visit in order.
func (v Visit) tasks() []Task {
	deepest := v.deepest()
	var out []Task
	way := v.onTheWay()
	last := func() []int {
		if len(out) == 0 {
			return nil
		}
		return []int{len(out) - 1}
	}
	add := func(t Task) {
		if t.People == 0 && !t.Waits() {
			t.People = 1
		}
		out = append(out, t)
	}
	for l := v.Price.From + 1; l <= deepest; l++ {
		if v.Price.Unit.ClimbMinutes[l] == 0 {
			continue
		}
		hours := v.climb(l) * openShare
		t := Task{ID: "open." + l.String(), Title: opened[l], Kind: Open, After: last(), Level: l.String(), Parts: v.partsAt(way, l)}
		if lift := min(liftHours, hours/2); l == unitsheet.UnitOut {
			t.Time, t.Cautions = pert.Spread(hours-lift, climbing), v.cautions(l)
			v.dress(&t, false)
			add(t)
			add(Task{ID: "lift.out", Title: "Unit down on the jack, two people", Kind: Lift, After: last(), People: 2, Time: pert.Spread(lift, climbing), Cautions: v.cautions(l)})
			continue
		}
		t.Time, t.Cautions = pert.Spread(hours, climbing), v.cautions(l)
		v.dress(&t, false)
		add(t)
	}
	built := v.built()
	labour, spread, machine := 0.0, 0.1, 0.0
	for i, w := range v.Works {
		h, _ := v.Price.Times(w.Option, v.Figures)
		labour += h.Float()
		machine += w.Option.Machine
		if i == 0 {
			spread = max(0.05, w.Option.Spread)
		}
	}
	if labour > 0 && built == 0 {
		add(Task{ID: "look", Title: "Looked at and measured, decided what is renewed", Kind: Look, After: last(), Time: pert.Spread(labour*lookShare, spread)})
	}
	look := last()
	before := slices.Clone(look)
	if machine > 0 && built == 0 {
		days := pert.Three{Low: v.Terms.Machine * 0.6, Likely: v.Terms.Machine, High: v.Terms.Machine * 2}
		add(Task{ID: "machine", Title: "Away at the machine shop", Kind: Machine, After: look, Days: days, Time: v.hoursOf(days)})
		before = append(before, len(out)-1)
	}
	first := true
	for _, w := range v.Works {
		h, _ := v.Price.Times(w.Option, v.Figures)
		if h.Zero() || built > 0 {
			continue // what goes back has been repaired
		}
		after := last()
		if first {
			after, first = before, false
		}
		add(Task{ID: "repair." + w.Option.ID, Title: w.Option.Title, Kind: Repair, After: after, Time: pert.Spread(h.Float()*(1-lookShare), max(0.05, w.Option.Spread))})
	}
	for l := max(deepest, v.Price.From); l > unitsheet.Ground; l-- { // what was opened before this work is closed with it
		if v.Price.Unit.ClimbMinutes[l] == 0 {
			continue
		}
		hours := v.climb(l) * (1 - openShare)
		if l == unitsheet.UnitApart {
			hours *= 1 - built
		}
		t := Task{ID: "close." + l.String(), Title: closed[l], Kind: Close, After: last(), Level: l.String(), Parts: v.partsAt(way, l)}
		slices.Reverse(t.Parts)
		if lift := min(liftHours, hours/2); l == unitsheet.UnitOut {
			add(Task{ID: "lift.in", Title: "Unit up on the jack, two people", Kind: Lift, After: last(), People: 2, Time: pert.Spread(lift, climbing), Cautions: v.cautions(l)})
			hours -= lift
			t.After = last()
		}
		t.Time = pert.Spread(hours, climbing)
		v.dress(&t, true)
		add(t)
	}
	for _, w := range v.Works {
		if _, teach := v.Price.Times(w.Option, v.Figures); !teach.Zero() {
			add(Task{ID: "teach." + w.Option.ID, Title: "Taught and reset", Kind: Teach, After: last(), Time: pert.Spread(teach.Float(), 0.2)})
		}
	}
	if v.Terms.Trial > 0 {
		add(Task{ID: "prove", Title: "Driven and proven", Kind: Prove, After: last(), Time: pert.Spread(v.Terms.Trial, 0.2), Cautions: v.named("drive")})
	}
	return out
}

// built is the share of what came out that is back in, 0 before building has begun.
func (v Visit) built() float64 {
	if v.Bench == nil {
		return 0
	}
	in := len(v.Bench.Built())
	if in == 0 {
		return 0
	}
	return float64(in) / float64(in+len(v.Bench.Tray))
}

// hoursOf is what waiting days take from the hours that the shop is open.
func (v Visit) hoursOf(d pert.Three) pert.Three {
	return pert.Three{Low: d.Low * v.Terms.PerDay, Likely: d.Likely * v.Terms.PerDay, High: d.High * v.Terms.PerDay}
}

// onTheWay are the parts that come out for the works; none of a sheet without parts.
func (v Visit) onTheWay() []int {
	if v.Bench == nil {
		return nil
	}
	return v.way()
}

// partsAt are those of the way that come out at a level.
func (v Visit) partsAt(way []int, l unitsheet.Access) []int {
	var out []int
	for _, i := range way {
		if v.Network.Unit.Stack.Parts[i].Access == l.String() {
			out = append(out, i)
		}
	}
	return out
}

// dress gives a task the tools, and of going back the torques, of its parts, and what is heeded at them.
func (v Visit) dress(t *Task, back bool) {
	u := v.Network.Unit
	for _, i := range t.Parts {
		p := u.Stack.Parts[i]
		if tool := (Tool{p.Tool, p.Instead}); p.Tool != "" && !slices.Contains(t.Tools, tool) {
			t.Tools = append(t.Tools, tool)
		}
		if p.Heed != "" {
			t.Heeds = append(t.Heeds, Heed{p.Name, p.Heed})
		}
		on := "out"
		if back {
			on = "in"
		}
		for _, k := range v.Bench.TrapsOf(i, on) {
			t.Heeds = append(t.Heeds, Heed{p.Name, u.Sheet.Traps[k].Text})
		}
		if !back {
			continue
		}
		for _, b := range p.Bolts {
			t.Torques = append(t.Torques, Torque{p.Name, b.Count, b.Thread, b.Torque, b.Turn, b.Pattern, b.With, b.Once})
		}
	}
}

// cautions are those of an access level.
func (v Visit) cautions(l unitsheet.Access) []knowledge.Caution {
	var out []knowledge.Caution
	for _, c := range v.Network.Cautions {
		if slices.Contains(c.At, l.String()) {
			out = append(out, c)
		}
	}
	return out
}

func (v Visit) named(id string) []knowledge.Caution {
	for _, c := range v.Network.Cautions {
		if c.ID == id {
			return []knowledge.Caution{c}
		}
	}
	return nil
}
