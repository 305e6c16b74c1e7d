package vibrations

import (
	"fmt"
	"math"
	"math/cmplx"
	"slices"
	"strings"

	"innercompass/core/balance"
	"innercompass/core/instrument"
	"innercompass/core/quantity"
)

const (
	// betterBelow is the share of the vibration under which a further run is worth more than a further correction (judgment).
	betterBelow = 0.25
	// doubtful is how far runs of a third may be apart before they are not of one rotor (judgment).
	doubtful = 0.3
)

// amplitude is a reading of a vibration meter: the unit does not matter as long as it stays the same.
func amplitude(id, label string) instrument.Input {
	return instrument.NumberIn(id, label, quantity.Ratio, "", 0, 1e6)
}

func angleIn(id, label string) instrument.Input {
	return instrument.NumberIn(id, label, quantity.Angle, "°", -360, 720)
}

func massIn(id, label string) instrument.Input {
	return instrument.NumberIn(id, label, quantity.Mass, "g", 0.01, 2000)
}

func radiusIn(id, label string) instrument.Input {
	return instrument.NumberIn(id, label, quantity.Length, "mm", 5, 1000)
}

// places is the input that asks for bolt places, and what they get.
func placesIn() instrument.Input {
	return instrument.CountIn("places", "Places for a mass, evenly round", 3, 36).Maybe().Explained("Bolts, holes or vanes. The first is the mark. Left empty, it may sit anywhere.")
}

// divided says which places get which mass.
func divided(v instrument.Values, mass, angle float64) string {
	if !v.Has("places") {
		return ""
	}
	n := v.Count("places")
	parts := balance.Between(mass, angle, n)
	var at []int
	for k := range parts {
		at = append(at, k)
	}
	slices.Sort(at)
	var out []string
	for _, k := range at {
		out = append(out, fmt.Sprintf("%s at place %d", v.Say(parts[k], quantity.Mass, "g"), k+1))
	}
	return "Over the places: " + strings.Join(out, ", ") + "."
}

func spots(v instrument.Values) []int {
	if !v.Has("places") {
		return nil
	}
	return make([]int, v.Count("places"))
}

// TrialMass is how heavy a trial may be.
func TrialMass() instrument.Definition {
	return instrument.Definition{
		ID: "trial-mass", Title: "Trial mass for balancing", Group: "vibration", Hand: []string{"scales", "vibration meter"},
		Answers: "How heavy may the trial mass be, and how hard will it pull?", Source: "a trial pulls with a tenth of the rotor's weight (common practice, no source); force is mass × radius × speed squared",
		Limits: "start with it; half of it when the mount of the mass is in any doubt", Gauge: "scales, 0.1 g", Cautions: []string{instrument.CautionTrial},
		Inputs: []instrument.Input{
			instrument.NumberIn("rotor", "Mass of what turns", quantity.Mass, "kg", 0.05, 500).Preset("12 kg").About(0.5), instrument.NumberIn("speed", "Speed of the run", quantity.RotationalSpeed, "rpm", 60, 20000).Preset("2350 rpm"), radiusIn("radius", "Radius of the trial mass").Preset("40 mm"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			m := balance.Trial(v.N("rotor"), v.N("speed")) / v.N("radius")
			return []instrument.Output{instrument.Out("mass", "trial mass", m, quantity.Mass, "g"), instrument.Out("force", "it pulls with", balance.Force(m*v.N("radius"), v.N("speed")), quantity.Force, "N")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = "Begin with " + v.SayOutput(o[0]) + "."
			r.Detail = "It should change the vibration by a third or more. If it does not, take twice as much, no further than it is held for."
		},
	}
}

// Unbalance is what an unbalance does, and whether it is permitted.
func Unbalance() instrument.Definition {
	options := make([]instrument.Option, len(balance.Grades))
	for i, g := range balance.Grades {
		options[i] = instrument.Option{ID: fmt.Sprint(i), Title: g.Name + ": " + g.For}
	}
	return instrument.Definition{
		ID: "unbalance", Title: "Unbalance: force and grade", Group: "vibration", Hand: []string{"scales", "paper"},
		Answers: "How hard does this unbalance pull at speed, and is it within the grade that is usual for the part?",
		Source:  "ISO 21940-11: the grade is the permitted e·ω; which part has which grade is recalled from memory", Limits: "a stiff rotor, far below the speed at which it bows",
		Gauge: "scales, 0.1 g",
		Inputs: []instrument.Input{
			massIn("mass", "Unbalance: mass").Preset("8 g").ReadWithin(0.1), radiusIn("radius", "at a radius of").Preset("40 mm").ReadWithin(0.5),
			instrument.NumberIn("rotor", "Mass of what turns", quantity.Mass, "kg", 0.05, 500).Preset("12 kg").About(0.5), instrument.NumberIn("speed", "Highest speed", quantity.RotationalSpeed, "rpm", 60, 20000).Preset("4500 rpm"),
			instrument.ChoiceIn("grade", "Grade", options...).Preset("2"),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			u := v.N("mass") * v.N("radius")
			g := gradeOf(v)
			return []instrument.Output{
				instrument.Out("share", "of what the grade permits", u/g.Permitted(v.N("rotor"), v.N("speed")), quantity.Ratio, "%").AtMost(1),
				instrument.Out("force", "force at that speed", balance.Force(u, v.N("speed")), quantity.Force, "N"),
				instrument.Out("permitted", "permitted at that radius", g.Permitted(v.N("rotor"), v.N("speed"))/v.N("radius"), quantity.Mass, "g"),
				instrument.Out("grade", "it would be grade G, mm/s", balance.Velocity(u, v.N("rotor"), v.N("speed"))*1e3, quantity.Ratio, ""),
			}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = instrument.VerdictWords("The unbalance, "+v.SayOutput(o[0])+" of "+gradeOf(v).Name+",", o[0].Verdict)
			r.Detail = "It pulls with " + v.SayOutput(o[1]) + ", once in each turn."
			f := instrument.Chart{Kind: "bars", Title: "Permitted at that radius, by grade", Y: instrument.Axis{Label: "mass", Dimension: quantity.Mass, Unit: "g"}, Words: "What each grade permits at the radius, beside the mass that is there."}
			f.Bars = append(f.Bars, instrument.Bar{Label: "there", Value: v.N("mass"), Text: v.Say(v.N("mass"), quantity.Mass, "g"), Emphasised: true})
			for _, g := range balance.Grades {
				m := g.Permitted(v.N("rotor"), v.N("speed")) / v.N("radius")
				f.Bars = append(f.Bars, instrument.Bar{Label: g.Name, Value: m, Text: v.Say(m, quantity.Mass, "g")})
			}
			r.Figures = []instrument.Chart{f}
		},
	}
}

func gradeOf(v instrument.Values) balance.Grade {
	for i, g := range balance.Grades {
		if fmt.Sprint(i) == v.Chosen("grade") {
			return g
		}
	}
	return balance.Grades[2]
}

// OnePlane balances with amplitude and phase.
func OnePlane() instrument.Definition {
	return instrument.Definition{
		ID: "balance-one", Title: "Balance in one plane", Group: "vibration", Hand: []string{"vibration meter", "strobe"},
		Answers: "Which mass goes where, from one run as found and one with a trial mass?",
		Source:  "influence coefficient: what a trial mass moves tells what every mass moves", Limits: "same speed, same place of the meter, warm; angles counted with the rotation from one mark",
		Gauge: "vibration meter with a phase mark", Cautions: []string{instrument.CautionTrial, instrument.CautionRunning},
		Inputs: []instrument.Input{
			amplitude("found", "As found: vibration").Like("6.2").Explained("In any unit, the same in all runs."), angleIn("found-at", "As found: angle").Like("40 °").About(2).Explained("Place of the rotor, from the mark with the rotation, that passes the meter at the peak. Where a strobe shows the mark, it counts the other way: type it with a minus."),
			massIn("trial", "Trial mass").Preset("10 g"), angleIn("trial-at", "Trial mass: angle").Preset("0 °").About(2),
			amplitude("with", "With it: vibration").Like("8.1"), angleIn("with-at", "With it: angle").Like("72 °").About(2),
			radiusIn("radius", "Radius of the trial mass").Preset("60 mm"), radiusIn("radius-fix", "Radius of the correction").Maybe().Explained("Left empty, that of the trial."), placesIn(),
			amplitude("check", "After: vibration").Maybe().Explained("With the trial off and the correction on."),
		},
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			before, with := balance.Vector(v.N("found"), v.N("found-at")), balance.Vector(v.N("with"), v.N("with-at"))
			trial := balance.Vector(v.N("trial")*v.N("radius"), v.N("trial-at"))
			fix, err := balance.Single(before, with, trial)
			if err != nil {
				return nil, instrument.Impossible("with", err)
			}
			size, at := balance.Polar(fix)
			out := []instrument.Output{instrument.Out("mass", "correction", size/fixRadius(v), quantity.Mass, "g"), instrument.Out("angle", "at an angle of", at, quantity.Angle, "°"),
				instrument.Out("moved", "the trial moved the vibration by", cmplx.Abs(with-before)/math.Max(v.N("found"), 1e-12), quantity.Ratio, "%")}
			if v.Has("check") {
				out = append(out, instrument.Out("left", "left of it", v.N("check")/math.Max(v.N("found"), 1e-12), quantity.Ratio, "%"))
			}
			return out, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("Trial mass off. Put %s at %s from the mark, with the rotation.", v.SayOutput(o[0]), v.SayOutput(o[1]))
			r.Detail = strings.TrimSpace(divided(v, o[0].Value, o[1].Value) + " " + afterwards(v, o))
			r.Figures = []instrument.Chart{rotor(v, o[0].Value, o[1].Value, []instrument.Arrow{{Label: "trial", Role: "other", Size: v.N("trial") * v.N("radius") / fixRadius(v), Angle: v.N("trial-at")}})}
		},
	}
}

// fixRadius is where the correction goes.
func fixRadius(v instrument.Values) float64 {
	if v.Has("radius-fix") {
		return v.N("radius-fix")
	}
	return v.N("radius")
}

// afterwards says what the run after the correction means, or what to expect of it.
func afterwards(v instrument.Values, o []instrument.Output) string {
	left := o[len(o)-1]
	switch {
	case left.ID != "left":
		return "Run it again: a quarter or less should be left."
	case left.Value <= betterBelow:
		return "It came out: " + v.SayOutput(left) + " is left."
	case left.Value < 1:
		return v.SayOutput(left) + " is left: take this as found, and go round once more."
	}
	return "It got worse: angles counted the wrong way, the trial still on, or the speed was another one."
}

// rotor draws where the correction goes, among what else is on it.
func rotor(v instrument.Values, mass, angle float64, more []instrument.Arrow) instrument.Chart {
	f := instrument.Chart{Kind: "rotor", Title: "Seen with the rotation clockwise, mark at the top", Spots: spots(v), Arrows: append(more, instrument.Arrow{Label: "put here", Role: "main", Size: mass, Angle: angle})}
	longest := 0.0
	for _, a := range f.Arrows {
		longest = math.Max(longest, a.Size)
	}
	var words []string
	for i := range f.Arrows {
		f.Arrows[i].Size /= math.Max(longest, 1e-30)
		words = append(words, fmt.Sprintf("%s at %s", f.Arrows[i].Label, v.Say(f.Arrows[i].Angle, quantity.Angle, "°")))
	}
	f.Words = strings.Join(words, "; ") + "."
	return f
}

// Thirds balances by amplitude alone.
func Thirds() instrument.Definition {
	return instrument.Definition{
		ID: "balance-thirds", Title: "Balance by amplitude alone", Group: "vibration", Hand: []string{"vibration meter"},
		Answers: "Which mass goes where, from one run as found and three with a trial mass? No phase is needed.",
		Source:  "four circles: t² = ΣA²/3 − O²; derived, and tested on a rotor solved directly", Limits: "same speed and place of the meter in all four runs; readings that repeat within 5 % leave about a tenth",
		Gauge: "vibration meter", Cautions: []string{instrument.CautionTrial, instrument.CautionRunning},
		Inputs: []instrument.Input{
			amplitude("found", "As found: vibration").Like("6.0").Explained("In any unit, the same in all runs."), massIn("trial", "Trial mass").Preset("12 g"), radiusIn("radius", "at a radius of").Preset("60 mm"),
			amplitude("at0", "With it at the mark").Like("8.0"), amplitude("at120", "at a third of a turn, with the rotation").Like("12.3"), amplitude("at240", "at two thirds").Like("4.3"),
			radiusIn("radius-fix", "Radius of the correction").Maybe().Explained("Left empty, that of the trial."), placesIn(), amplitude("check", "After: vibration").Maybe().Explained("With the trial off and the correction on."),
		},
		Work: instrument.Works(func(v instrument.Values) (balance.Thirds, []instrument.Output, error) {
			x, err := balance.FromThirds(v.N("found"), [3]float64{v.N("at0"), v.N("at120"), v.N("at240")})
			if err != nil {
				return x, nil, instrument.Impossible("at0", err)
			}
			out := []instrument.Output{instrument.Out("mass", "correction", x.Size*v.N("trial")*v.N("radius")/fixRadius(v), quantity.Mass, "g"), instrument.Out("angle", "from the mark, with the rotation", x.Angle, quantity.Angle, "°"),
				instrument.Out("ratio", "the trial alone, of what was found", x.Ratio, quantity.Ratio, "%"), instrument.Out("apart", "the runs are apart by", x.Check, quantity.Ratio, "%")}
			if v.Has("check") {
				out = append(out, instrument.Out("left", "left of it", v.N("check")/math.Max(v.N("found"), 1e-12), quantity.Ratio, "%"))
			}
			return x, out, nil
		}, func(v instrument.Values, x balance.Thirds, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("Trial mass off. Put %s at %s from the mark, with the rotation.", v.SayOutput(o[0]), v.SayOutput(o[1]))
			var more []string
			if text := divided(v, o[0].Value, o[1].Value); text != "" {
				more = append(more, text)
			}
			switch {
			case x.Check > doubtful:
				more = append(more, "The four runs do not belong to one rotor: repeat them at the same speed, warm.")
			case x.Ratio < 0.6:
				more = append(more, "The trial was light: with one that makes between half and twice of what was found, less is left.")
			}
			r.Detail = strings.Join(append(more, afterwards(v, o)), " ")
			third := 2 * math.Pi / 3
			trial := v.N("trial") * v.N("radius") / fixRadius(v)
			r.Figures = []instrument.Chart{rotor(v, o[0].Value, o[1].Value, []instrument.Arrow{{Label: "run 1", Role: "other", Size: trial, Angle: 0}, {Label: "run 2", Role: "other", Size: trial, Angle: third}, {Label: "run 3", Role: "other", Size: trial, Angle: 2 * third}})}
		}),
	}
}

// TwoPlanes balances both ends of a long rotor.
func TwoPlanes() instrument.Definition {
	run := func(id, label string) []instrument.Input {
		return []instrument.Input{
			amplitude(id+"-left", label+": left end").Like(map[string]string{"found": "5.0", "first": "7.4", "second": "4.2"}[id]), angleIn(id+"-left-at", label+": left end, angle").Like(map[string]string{"found": "20 °", "first": "48 °", "second": "64 °"}[id]).About(2),
			amplitude(id+"-right", label+": right end").Like(map[string]string{"found": "3.1", "first": "2.2", "second": "6.3"}[id]), angleIn(id+"-right-at", label+": right end, angle").Like(map[string]string{"found": "250 °", "first": "281 °", "second": "300 °"}[id]).About(2),
		}
	}
	inputs := run("found", "As found")
	inputs = append(inputs, massIn("trial-left", "Trial mass, left plane").Preset("10 g"), angleIn("trial-left-on", "Trial mass, left plane: angle").Preset("0 °").About(2))
	inputs = append(inputs, run("first", "With it on the left")...)
	inputs = append(inputs, massIn("trial-right", "Trial mass, right plane").Preset("10 g"), angleIn("trial-right-on", "Trial mass, right plane: angle").Preset("0 °").About(2))
	inputs = append(inputs, run("second", "With it on the right")...)
	inputs = append(inputs, placesIn())
	return instrument.Definition{
		ID: "balance-two", Title: "Balance in two planes", Group: "vibration", Hand: []string{"vibration meter", "strobe"},
		Answers: "A long rotor shakes at both ends: which mass goes where in each plane?", Source: "influence coefficients, two by two", Limits: "same speed in all three runs; one trial at a time; masses at the radius of their trial",
		Gauge: "vibration meter with a phase mark", Cautions: []string{instrument.CautionTrial, instrument.CautionRunning}, Inputs: inputs,
		Compute: func(v instrument.Values) ([]instrument.Output, error) {
			at := func(id string) [2]complex128 {
				return [2]complex128{balance.Vector(v.N(id+"-left"), v.N(id+"-left-at")), balance.Vector(v.N(id+"-right"), v.N(id+"-right-at"))}
			}
			fix, err := balance.Two(at("found"), at("first"), at("second"), [2]complex128{balance.Vector(v.N("trial-left"), v.N("trial-left-on")), balance.Vector(v.N("trial-right"), v.N("trial-right-on"))})
			if err != nil {
				return nil, instrument.Impossible("second-left", err)
			}
			left, leftAt := balance.Polar(fix[0])
			right, rightAt := balance.Polar(fix[1])
			return []instrument.Output{instrument.Out("left", "left plane", left, quantity.Mass, "g"), instrument.Out("left-at", "at", leftAt, quantity.Angle, "°"), instrument.Out("right", "right plane", right, quantity.Mass, "g"), instrument.Out("right-at", "at", rightAt, quantity.Angle, "°")}, nil
		},
		Interpret: func(v instrument.Values, o []instrument.Output, r *instrument.Result) {
			r.Headline = fmt.Sprintf("Trial masses off. Left: %s at %s. Right: %s at %s.", v.SayOutput(o[0]), v.SayOutput(o[1]), v.SayOutput(o[2]), v.SayOutput(o[3]))
			if v.Has("places") {
				r.Detail = "Left. " + divided(v, o[0].Value, o[1].Value) + " Right. " + divided(v, o[2].Value, o[3].Value)
			}
			for i, side := range []string{"Left", "Right"} {
				f := rotor(v, o[2*i].Value, o[2*i+1].Value, nil)
				f.Title = side + " plane, rotation clockwise, mark at the top"
				r.Figures = append(r.Figures, f)
			}
		},
	}
}
