package instruments_test

import (
	"math"
	"testing"

	"innercompass/core/instrument"
	"innercompass/core/instruments"
	"innercompass/core/quantity"
)

const (
	psi  = 6894.757293168361
	inch = 0.0254
	rpm  = math.Pi / 30
)

// answers are worked by hand beside each instrument, from the rule that it names; the packages below it are checked
// against other methods besides. Values in SI.
var answers = []struct {
	name   string
	typed  map[string]string
	output string
	want   float64
	rel    float64 // tolerance
}{
	// common practice, no source: a reading of two thirds of the window's middle
	{"stall-speed", map[string]string{"speed": "1400", "low": "2000", "high": "2200"}, "of-middle", 1400.0 / 2100, 1e-12},
	// SAE J643: N = K·√T; constant torque, so no solving: 125·√256 = 2000 rpm in reference air, which is not that of the sea
	// level atmosphere: 101.325 kPa at 25 °C
	{"stall-predicted", map[string]string{"k": "125", "speeds": "2000 rpm", "torques": "256 N·m", "height": "0", "air": "25 °C"}, "stall", 125 * 16 * rpm * math.Sqrt(101.325/99), 1e-9},
	// at stall all power is heat: 2100 rpm · 260 N·m
	{"converter-heat", map[string]string{"engine": "2100", "torque": "260 N·m", "turbine": "0", "ratio": "2"}, "heat", 2100 * rpm * 260, 1e-12},
	// Bayes by hand: 0.93/0.04 · 0.97/0.03 to 1
	{"pump-turning", map[string]string{"falls": "yes", "port": "yes"}, "turning", 1 / (1 + 0.04/0.93*0.03/0.97), 1e-12},
	{"lockup-slip", map[string]string{"engine": "1850", "turbine": "1780"}, "slip", 70 * rpm, 1e-9},
	// two faces would hold twice as much: μ·F·r = 0.12 · Δp·A · 116.5 mm
	{"lockup-capacity", map[string]string{"apply": "95 psi", "release": "8 psi", "plate": "250 mm", "hub": "60 mm", "outer": "248 mm", "inner": "218 mm", "faces": "1", "friction": "0.12"}, "capacity", 0.12 * 87 * psi * math.Pi / 4 * (0.25*0.25 - 0.06*0.06) * 0.1165, 1e-9},
	{"seating-depth", map[string]string{"depth": "25.0; 25.4; 25.8 mm", "wanted": "1 in"}, "missing", 0, 1e-9},
	// eight faces · 0.13 · (90 psi · 90 cm² − 900 N) · 63 mm
	{"plate-capacity", map[string]string{"pressure": "90 psi", "piston": "90 cm²", "spring": "900 N", "lined": "4", "outer": "140 mm", "inner": "112 mm", "friction": "0.13"}, "capacity", 8 * 0.13 * (90*psi*90e-4 - 900) * 0.063, 1e-9},
	// capstan: (90 psi · 40 cm² − 490 N) · 1.3 · 66 mm · (exp(0.12 · 310°) − 1)
	{"band-capacity", map[string]string{"pressure": "90 psi", "servo": "40 cm²", "spring": "490 N", "lever": "1.3", "drum": "132 mm", "wrap": "310 °", "friction": "0.12"}, "capacity", (90*psi*40e-4 - 490) * 1.3 * 0.066 * (math.Exp(0.12*310*math.Pi/180) - 1), 1e-9},
	{"stack-clearance", map[string]string{"depth": "20.6 mm", "lined": "4", "lined-thick": "2 mm", "steel": "4", "steel-thick": "1.8 mm", "backing": "4 mm"}, "clearance", 1.4e-3, 1e-9},
	// area · clearance over Cd·A·√(2Δp/ρ)
	{"fill-time", map[string]string{"piston": "90 cm²", "clearance": "1.5 mm", "orifice": "2.2 mm", "pressure": "80 psi", "spring": "700 N", "density": "820"}, "time", 90e-4 * 1.5e-3 / (0.61 * math.Pi / 4 * 2.2e-3 * 2.2e-3 * math.Sqrt(2*(80*psi-700/90e-4)/820)), 1e-9},
	// half the torque · slip · time, the time from the torque left to accelerate
	{"shift-energy", map[string]string{"slip": "1600 rpm", "torque": "380 N·m", "load": "250 N·m", "inertia": "0.25 kg·m²"}, "energy", 380 * 1600 * rpm / 2 * (0.25 * 1600 * rpm / 130), 1e-9},
	{"air-check", map[string]string{"supply": "3.5 bar", "held": "2.8 bar"}, "lost", 0.2, 1e-9},
	// 2 · 0.27 · 7500 N · 98.75 mm
	{"dry-clutch", map[string]string{"clamp": "7500 N", "outer": "240 mm", "inner": "155 mm", "friction": "0.27"}, "capacity", 2 * 0.27 * 7500 * 0.09875, 1e-9},
	// (140 − 8)/5.2 mm at the master; areas as the squares of the diameters
	{"release-travel", map[string]string{"pedal": "140 mm", "free": "8 mm", "pedal-lever": "5.2", "master": "20 mm", "slave": "20 mm", "lost": "0 cc", "lever": "1.6"}, "bearing", 0.132 / 5.2 / 1.6, 1e-9},
	{"flywheel", map[string]string{"left": "3 °", "right": "4 °"}, "free", 7 * math.Pi / 180, 1e-12},
	// (80 N + 85 psi · 2 cm²)/2 cm²
	{"line-curve", map[string]string{"area": "2 cm²", "spring": "80 N", "boost": "2 cm²", "full": "85 psi", "throttle": "100 %"}, "line", 80/2e-4 + 85*psi, 1e-9},
	{"pressure-rise", map[string]string{"idle": "58 psi", "full": "145 psi"}, "rise", 87 * psi, 1e-9},
	// spring 45 N on 3 cm² needs 150 kPa; one weight of 50 g at 20 mm on 1 cm²: ω = √(15 N/(m·r)); 2000 turns a km
	{"shift-point", map[string]string{"governor-area": "3 cm²", "throttle-area": "0 cm²", "spring": "45 N", "valve": "1 cm²", "masses": "50 g", "radii": "20 mm", "limits": "0 rpm", "per-km": "2000", "throttle": "0 %"}, "speed", math.Sqrt(15/(0.05*0.02)) / (2 * math.Pi) / 2, 1e-6},
	// Shigley's spring (recalled from memory), mean diameter rounded as in the book: about 4.13 lbf/in
	{"spring-wire", map[string]string{"wire": "0.037 in", "outside": "0.437 in", "total": "12.5", "ends": "squared", "free": "2 in", "at": "1.5 in", "modulus": "81702 MPa"}, "rate", 4.13 * 4.4482216 / inch, 2e-3},
	// 2.5 lbf at half an inch: 5 lbf/in (common practice, no source)
	{"spring-weigh", map[string]string{"length1": "1 in", "force1": "2.5 lbf", "length2": "0.5 in", "force2": "5 lbf", "work": "0.5 in"}, "rate", 5 * 4.4482216152605 / inch, 1e-9},
	{"spool-travel", map[string]string{"bore": "62 mm", "valve": "41 mm", "wire": "1 mm", "coils": "9", "read": "10.5 mm"}, "missing", 1.5e-3, 1e-9},
	{"orifice", map[string]string{"diameter": "1.5 mm", "before": "80 psi", "after": "0 psi", "density": "820"}, "flow", 0.61 * math.Pi / 4 * 1.5e-3 * 1.5e-3 * math.Sqrt(2*80*psi/820), 1e-9},
	// in the middle: π·D·h³·Δp/(12·ν·ρ·L), h half of the clearance of 0.06 mm
	{"bore-leak", map[string]string{"bore": "12.06 mm", "valve": "12 mm", "land": "8 mm", "drop": "100 psi", "viscosity": "10 mm²/s", "density": "820", "lies": "middle"}, "leak", math.Pi * 12.06e-3 * math.Pow(0.03e-3, 3) * 100 * psi / (12 * 10e-6 * 820 * 8e-3), 1e-6},
	// from 4 to 1 bar are two halvings in 30 s
	{"leak-down", map[string]string{"from": "4 bar", "to": "1 bar", "time": "30 s"}, "half", 15, 1e-9},
	// one bar hot at 10 mm²/s, eight cold at 80: the flow through gaps is the same, so it is all gaps
	{"hot-cold", map[string]string{"cold": "80 psi", "hot": "10 psi", "cold-viscosity": "80.0000001 mm²/s", "hot-viscosity": "10 mm²/s"}, "gaps", 1, 1e-6},
	{"cooler-flow", map[string]string{"volume": "1 qt", "time": "20 s"}, "flow", 231 * inch * inch * inch / 4 * 1 / 20, 1e-9},
	// 150 N − 60 kPa · 20 cm² on 2.5 cm²
	{"modulator", map[string]string{"vacuum": "60 kPa", "diaphragm": "20 cm²", "spring": "150 N", "valve": "2.5 cm²"}, "pressure", (150 - 60e3*20e-4) / 2.5e-4, 1e-9},
	// a quart low is two pints under the lower mark where the marks span one (common practice, no source)
	{"fluid-level", map[string]string{"height": "-14 mm", "apart": "14 mm", "between": "1 pt"}, "missing", 2 * 473.176473e-6, 1e-9},
	// ten litres read at 20 °C grow by 10 L · 0.00077 · 60 to 80 °C: 0.462 L, over a pint in 14 mm
	{"fluid-level", map[string]string{"height": "0 mm", "apart": "14 mm", "between": "1 pt", "temperature": "20 °C", "right": "80 °C", "whole": "10 L"}, "height", 10e-3 * 0.00077 * 60 * 14e-3 / 473.176473e-6, 1e-9},
	// half a litre in 10 mm: 12 mm under the edge are 0.6 L
	{"fluid-level:plug", map[string]string{"comes": "nothing", "below": "12 mm", "apart": "10 mm", "between": "0.5 L", "whole": "8 L"}, "over", -0.6e-3, 1e-9},
	// 0.3 L ran out of 8 L at 60 °C; at 90 °C they will have grown by 8 L · 0.00077 · 30
	{"fluid-level:plug", map[string]string{"comes": "stream", "amount": "0.3 L", "temperature": "60 °C", "right": "90 °C", "whole": "8 L"}, "over", 0.3e-3 + 8e-3*0.00077*30, 1e-9},
	// 62 more in 20,000 km, the third sample in the middle of the line
	{"fluid-trend", map[string]string{"measure": "iron", "distances": "10000; 20000; 30000 km", "values": "30; 61; 92"}, "rate", 3.1, 1e-9},
	// the line −32 + 6.2·d, d in 1,000 km, meets what is high, 2.5·(20 + 1.5·d), at 82/2.45
	{"fluid-trend", map[string]string{"measure": "iron", "distances": "10000; 20000 km", "values": "30; 92"}, "high", 82.0 / 2.45 * 1e6, 1e-9},
	// 2 % halved at each: 1, 0.5, 0.25, 0.125, 0.0625
	{"fluid-spoilt", map[string]string{"amount": "2 %", "limit": "0.1 %", "whole": "8 L", "drain": "4 L"}, "times", 5, 1e-12},
	{"cooler-flush", map[string]string{"volume": "1 qt", "time": "20 s"}, "flow", 231 * inch * inch * inch / 4 * 1 / 20, 1e-9},
	{"window:length", map[string]string{"value": "1.5 mm", "low": "1 mm", "high": "2 mm"}, "value", 1.5e-3, 1e-12},
	// 1.05 mm and four of 1.80: eight and a quarter to fill; 4 × 1.70 leaves 1.45, the nearest to 1.5 under and over
	{"selective-fit", map[string]string{"room": "1.05 mm", "in": "1.80 ×4 mm", "hand": "1.70 mm"}, "room", 1.45e-3, 1e-9},
	// a straight slope is flat
	{"flatness", map[string]string{"heights": "0; 0.1; 0.2; 0.3; 0.35 mm"}, "flatness", 0.0375e-3, 1e-9},
	{"coning", map[string]string{"inner": "0.25 mm", "outer": "0 mm", "inner-at": "120 mm", "outer-at": "180 mm", "inner-edge": "120 mm", "outer-edge": "180 mm"}, "cone", 0.25e-3, 1e-9},
	{"runout", map[string]string{"readings": "0.1; 0.05; -0.05; -0.1; -0.05; 0.05 mm"}, "once", 0.2e-3, 1e-9},
	{"wear-left", map[string]string{"new": "8.4 mm", "now": "7.4 mm", "limit": "6.9 mm", "distance": "120000 km"}, "left", 60e6, 1e-9},
	// tension is torque over p/2π + μ·d₂/(2·cos 30°) + μ·1.3·d/2
	{"torque-lubricant", map[string]string{"torque": "35 N·m", "for": "dry", "with": "dry"}, "torque", 35, 1e-12},
	{"torque-lubricant", map[string]string{"torque": "35 N·m", "for": "dry", "with": "oil", "diameter": "10 mm", "pitch": "1.5 mm"}, "tension", 35 / (1.5e-3/(2*math.Pi) + 0.15*(10e-3-0.6495*1.5e-3)/2/math.Cos(math.Pi/6) + 0.15*13e-3/2), 1e-9},
	{"crowfoot", map[string]string{"torque": "50 N·m", "length": "400 mm", "offset": "50 mm", "angle": "0 °"}, "set", 50 * 400.0 / 450, 1e-9},
	// no torque first: a quarter turn of 1.5 mm pitch on the stiffness of bolt and joint
	{"torque-angle", map[string]string{"torque": "0 N·m", "angle": "90 °", "diameter": "10 mm", "pitch": "1.5 mm", "grip": "45 mm"}, "tension", 1.5e-3 / 4 * 205e9 * math.Pi / 4 * math.Pow(10e-3-0.9382*1.5e-3, 2) / 45e-3 * 0.75, 1e-9},
	{"bolt-circle", map[string]string{"bolts": "8", "torque": "30 N·m", "steps": "3"}, "step1", 10, 1e-12},
	{"converter-form", map[string]string{"play": "0.3 mm", "thick": "120.1; 120.5 mm", "new": "120 mm"}, "swell", 0.5e-3, 1e-9},
	// two turns of 1.25 mm over a lever of one, spread over half a turn of contact: 2.5 mm/π
	{"band-adjust", map[string]string{"turns": "2 turn", "pitch": "1.25 mm", "lever": "1", "wrap": "180 °"}, "gap", 2.5e-3 / math.Pi, 1e-9},
	{"servo", map[string]string{"piston": "50 mm", "rod": "30 mm"}, "area", math.Pi * 4e-4, 1e-9}, // a circle of 40 mm has the same area
	{"reverse-boost", map[string]string{"drive": "60 psi", "reverse": "75 psi"}, "over", 1.25, 1e-12},
	{"feed-limit", map[string]string{"line": "160 psi", "feed": "104 psi"}, "part", 0.65, 1e-12},
	{"pump-clearance", map[string]string{"side": "0.1 mm", "side-most": "0.05 mm"}, "leak", 8, 1e-9},
	{"vacuum", map[string]string{"engine": "60 kPa", "modulator": "45 kPa", "height": "0 km"}, "lost", 15e3, 1e-9},
	// one weight of 50 g at 20 mm on 1 cm² at 600 rpm of the shaft, 1000 turns in a kilometre: 36 km/h
	{"governor", map[string]string{"speeds": "36 km/h", "up": "2 bar", "valve": "1 cm²", "masses": "50 g", "radii": "20 mm", "limits": "0 rpm", "per-km": "1000"}, "part", 2e5 / (0.05 * 0.02 * math.Pow(20*math.Pi, 2) / 1e-4), 1e-9},
	// 3 L/min · 820 kg/m³ · 2 kJ/(kg·K) · 20 K
	{"cooler-heat", map[string]string{"in": "95 °C", "out": "75 °C", "flow": "3 L/min"}, "heat", 3e-3 / 60 * 820 * 2000 * 20, 1e-9},
	// ASTM D2270, example B: index 156
	{"viscosity", map[string]string{"v1": "22.83 mm²/s", "t1": "40 °C", "v2": "5.05 mm²/s", "t2": "100 °C"}, "index", 156, 0.004},
	// ISO 4406: 320 particles are the upper end of range 15
	{"cleanliness", map[string]string{"over4": "2500", "over6": "320", "over14": "20"}, "c6", 15, 1e-12},
	// four litres of ten: 40, 64, 78.4, 87, 92.2 % new
	{"dilution", map[string]string{"whole": "10 L", "drain": "4 L", "wanted": "90 %"}, "times", 5, 1e-12},
	{"fluid-loss", map[string]string{"added": "1 L", "distance": "2000 km", "spare": "0.5 L"}, "reach", 1e6, 1e-9},
	// half of the way at 80, half at 100 where it lasts a quarter: 2/(1 + 4)
	{"fluid-life", map[string]string{"base": "100000 km", "cool": "80 °C", "halving": "10 K", "temperatures": "80; 100 °C", "shares": "50; 50 %"}, "life", 40e6, 1e-9},
	{"drain-back", map[string]string{"before": "24 mm", "after": "-4 mm", "apart": "14 mm", "between": "1 pt"}, "moved", 2 * 473.176473e-6, 1e-9},
	// the joints of a driveshaft: twice 80 km/h over 2.10 m times 3.7
	{"pitch", map[string]string{"heard": "78.6 Hz", "engine": "1586 rpm", "road": "80 km/h", "tire": "2100 mm", "axle": "3.7", "cylinders": "4"}, "nearest", 2 * 80 / 3.6 / 2.1 * 3.7, 1e-9},
	// 3.5° one way and 4.5° back: what is left of the squares, (2·tan β/2)² each
	{"joint-angles", map[string]string{"unit": "3", "front": "6.5", "axle": "2"}, "equivalent", 2 * math.Atan(math.Sqrt(math.Pow(math.Tan(2.25*math.Pi/180), 2)-math.Pow(math.Tan(1.75*math.Pi/180), 2))), 1e-9},
	// I/A of a tube is (D² + d²)/16
	{"shaft-critical", map[string]string{"outside": "76.2 mm", "wall": "1.65 mm", "length": "1500 mm"}, "critical", math.Pi * math.Pi / 2.25 * math.Sqrt(206e9/7850*(0.0762*0.0762+0.0729*0.0729)/16), 1e-9},
	// flange 3, shaft 2 square to it: √13, turned by a quarter 3 − 2
	{"flange-turn", map[string]string{"holes": "4", "place": "1; 2; 3", "read": "3.605551275; 1; 3.605551275"}, "left", 1 / math.Sqrt(13), 1e-6},
	{"trial-mass", map[string]string{"rotor": "12 kg", "speed": "3000 rpm", "radius": "40 mm"}, "mass", 0.1 * 12 * 9.80665 / math.Pow(3000*rpm, 2) / 0.04, 1e-9},
	// 4 becomes 4 + 4j: the trial of 10 g moves it square, so 10 g a quarter of a turn on turns that against it
	{"balance-one", map[string]string{"found": "4", "found-at": "0", "trial": "10 g", "with": "5.656854249", "with-at": "45"}, "angle", math.Pi / 2, 1e-6},
	{"balance-one", map[string]string{"found": "4", "found-at": "0", "trial": "10 g", "with": "5.656854249", "with-at": "45", "radius": "60 mm", "radius-fix": "30 mm"}, "mass", 0.02, 1e-6},
	// the trial is as heavy as what is there and lies on it: 2, and 1 at the two thirds
	{"balance-thirds", map[string]string{"found": "1", "trial": "12 g", "at0": "2", "at120": "1", "at240": "1"}, "mass", 0.012, 1e-9},
	{"balance-thirds", map[string]string{"found": "1", "trial": "12 g", "at0": "2", "at120": "1", "at240": "1"}, "angle", math.Pi, 1e-9},
	// each trial moves its own end alone: left by half of what is there, right by all of it
	{"balance-two", map[string]string{"found-left": "2", "found-left-at": "0", "found-right": "3", "found-right-at": "90", "first-left": "3", "first-left-at": "0", "first-right": "3", "first-right-at": "90", "second-left": "2", "second-left-at": "0", "second-right": "6", "second-right-at": "90"}, "left", 0.02, 1e-9},
	// ISO 21940-11 by its definition: 16 mm/s over ω, times 12 kg
	{"unbalance", map[string]string{"mass": "8 g", "radius": "40 mm", "rotor": "12 kg", "speed": "3000 rpm", "grade": "2"}, "share", 8e-3 * 0.04 / (16e-3 / (3000 * rpm) * 12), 1e-9},
	{"off-center", map[string]string{"part": "6 kg", "runout": "0.40 mm", "radius": "140 mm"}, "mass", 6 * 0.2 / 140, 1e-9},
	// 7.85 g/cm³ over the area of the drill
	{"slip-play", map[string]string{"front": "5.5 °", "rear": "4 °", "in": "28 mm", "out": "35 mm"}, "shaft", 1.5 * math.Pi / 180, 1e-9}, // what is left of the sum
	{"drill-mass", map[string]string{"mass": "1 g", "drill": "8 mm", "of": "steel"}, "depth", 1e-3 / (7850 * math.Pi * 16e-6), 1e-9},
	{"bolt-lengths", map[string]string{"bolts": "25; 45 mm", "grip": "12; 12 mm", "deep": "16; 16 mm"}, "wrong", 1, 1e-12},
}

func TestEveryInstrumentAgainstAWorkedAnswer(t *testing.T) {
	worked := map[string]bool{"line-pressure": true, "stator-freewheel": true, "leak-map": true, "listening-map": true, "by-ear": true, "debris": true, "fluid-report": true, "fluid-look": true} // their answers are words: see the tests of them
	for _, a := range answers {
		d, err := instruments.For(a.name, nil)
		if err != nil {
			t.Fatal(err)
		}
		worked[d.ID] = true
		r, err := d.Run(a.typed, instrument.Terms{})
		if err != nil {
			t.Errorf("%s: %v", a.name, err)
			continue
		}
		found := false
		for _, o := range r.Outputs {
			if o.ID == a.output {
				found = true
				if math.Abs(o.Value-a.want) > a.rel*math.Max(math.Abs(a.want), 1e-6) {
					t.Errorf("%s: %s is %v, want %v", a.name, o.Label, o.Value, a.want)
				}
			}
		}
		if !found {
			t.Errorf("%s: no output %s", a.name, a.output)
		}
	}
	for _, d := range instruments.All() {
		if !worked[d.ID] {
			t.Errorf("%s has no worked answer", d.ID)
		}
	}
}

// More of the one, more (or less) of the other, where physics says so.
func TestAnswersRiseAndFallAsPhysicsSays(t *testing.T) {
	for _, c := range []struct {
		name, input, output string
		from, to            float64
		unit                string
		rises               bool
	}{
		{"plate-capacity", "pressure", "capacity", 30, 300, "psi", true},
		{"plate-capacity", "spring", "capacity", 100, 4000, "N", false},
		{"plate-capacity", "friction", "capacity", 0.05, 0.3, "", true},
		{"band-capacity", "wrap", "capacity", 100, 700, "°", true},
		{"lockup-capacity", "release", "capacity", 0, 90, "psi", false},
		{"fill-time", "clearance", "time", 0.1, 5, "mm", true},
		{"fill-time", "orifice", "time", 0.5, 5, "mm", false},
		{"shift-energy", "slip", "peak", 100, 4000, "rpm", true},
		{"stall-predicted", "height", "stall", 0, 4, "km", false},
		{"stall-predicted", "k", "stall", 60, 200, "rpm/√(N·m)", true},
		{"converter-heat", "torque", "seconds", 50, 500, "N·m", false},
		{"line-curve", "throttle", "line", 0, 100, "%", true},
		{"shift-point", "throttle", "speed", 0, 60, "%", true},
		{"shift-point", "spring", "speed", 10, 60, "N", true},
		{"spring-wire", "wire", "rate", 0.5, 1.4, "mm", true},
		{"orifice", "diameter", "flow", 0.5, 5, "mm", true},
		{"modulator", "vacuum", "pressure", 0, 70, "kPa", false},
		{"wear-left", "now", "left", 7, 8.2, "mm", true},
		{"crowfoot", "offset", "set", 0, 200, "mm", false},
		{"torque-angle", "angle", "tension", 0, 180, "°", true},
		{"dry-clutch", "clamp", "capacity", 1000, 20000, "N", true},
		{"hot-cold", "hot", "gaps", 20, 58, "psi", false},
		{"band-adjust", "turns", "gap", 0, 5, "turn", true},
		{"servo", "rod", "area", 0, 60, "mm", false},
		{"pump-clearance", "side", "leak", 0.01, 0.2, "mm", true},
		{"viscosity", "at", "at", -10, 140, "°C", false},
		{"fluid-life", "cooler", "cooled", 0, 40, "K", true},
		{"fluid-loss", "added", "per", 0.1, 5, "L", true},
		{"drain-back", "before", "moved", 0, 60, "mm", true},
		{"shaft-critical", "length", "critical", 500, 2500, "mm", false},
		{"shaft-critical", "outside", "critical", 40, 120, "mm", true},
		{"unbalance", "speed", "share", 500, 9000, "rpm", true},
		{"trial-mass", "speed", "mass", 500, 9000, "rpm", false},
		{"off-center", "runout", "force", 0.05, 2, "mm", true},
		{"cooler-heat", "flow", "heat", 0.5, 10, "L/min", true},
		{"cooler-heat", "out", "drop", 20, 95, "°C", false},
	} {
		d, err := instruments.For(c.name, nil)
		if err != nil {
			t.Fatal(err)
		}
		f := fitted{Definition: d}
		last := math.NaN()
		for i := range 12 {
			typed := f.sample()
			v := c.from + (c.to-c.from)*float64(i)/11
			u, _ := quantity.FindUnit(dimension(d, c.input), c.unit)
			q := quantity.Quantity{SI: v*u.Factor + u.Offset, Dimension: dimension(d, c.input)}
			typed[c.input] = exact(q, c.unit)
			r, err := d.Run(typed, instrument.Terms{})
			if err != nil {
				t.Fatalf("%s, %s = %s: %v", c.name, c.input, typed[c.input], err)
			}
			for _, o := range r.Outputs {
				if o.ID != c.output {
					continue
				}
				if !math.IsNaN(last) && (c.rises && o.Value <= last || !c.rises && o.Value >= last) {
					t.Errorf("%s: %s goes from %v to %v as %s comes to %s", c.name, o.Label, last, o.Value, c.input, typed[c.input])
				}
				last = o.Value
			}
		}
		if math.IsNaN(last) {
			t.Errorf("%s has no output %s", c.name, c.output)
		}
	}
}

func dimension(d instrument.Definition, input string) quantity.Dimension {
	for _, in := range d.Inputs {
		if in.ID == input {
			return in.Dimension
		}
	}
	return ""
}

// The hand test of the stator's freewheel: common practice, no source.
func TestStatorFreewheelByHand(t *testing.T) {
	// The stator may run with the engine and is held against it. A tool in the hub turns the inner race, which is the other way
	// round: turning it with the engine is the stator turning against it.
	for ways, state := range map[[3]string]string{{"inner", "firm", "free"}: "one-way", {"inner", "free", "firm"}: "", {"stator", "free", "firm"}: "one-way", {"stator", "firm", "free"}: "",
		{"inner", "firm", "firm"}: "seized", {"stator", "free", "free"}: "slips", {"inner", "drags", "firm"}: ""} {
		r := run(t, "stator-freewheel", map[string]string{"turned": ways[0], "with": ways[1], "against": ways[2]})
		got := ""
		if len(r.Stated) > 0 {
			got = r.Stated[0].State
		}
		if got != state {
			t.Errorf("%v: %q, want %q", ways, got, state)
		}
	}
}

// What cannot be true together is said in the user's words, at the input that is wrong.
func TestWhatCannotBeIsSaid(t *testing.T) {
	for _, c := range []struct{ name, input, value, at string }{
		{"plate-capacity", "inner", "150 mm", "inner"},
		{"plate-capacity", "pressure", "5 psi", "pressure"},
		{"stack-clearance", "depth", "12 mm", "depth"},
		{"lockup-capacity", "release", "100 psi", "release"},
		{"fill-time", "pressure", "5 psi", "pressure"},
		{"shift-energy", "load", "500 N·m", "torque"},
		{"spring-wire", "at", "60 mm", "at"},
		{"spring-wire", "outside", "2 mm", "outside"},
		{"line-curve", "reverse", "3 cm²", "reverse"},
		{"leak-down", "to", "4 bar", "to"},
		{"hot-cold", "hot", "70 psi", "hot"},
		{"converter-heat", "turbine", "2500 rpm", "turbine"},
		{"wear-left", "now", "9 mm", "now"},
		{"air-check", "held", "5 bar", "held"},
		{"selective-fit", "target", "3 mm", "target"},
		{"bolt-lengths", "deep", "16 mm", "deep"},
		{"crowfoot", "length", "1 mm", "length"},
		{"stack-clearance", "lined-thick", "-2 mm", "lined-thick"},
		{"converter-form", "new", "120 mm", "thick"},
		{"band-adjust", "low", "3 turn", "high"},
		{"servo", "rod", "80 mm", "rod"},
		{"feed-limit", "line", "100 psi", "line"},
		{"feed-limit", "feed", "200 psi", "feed"},
		{"vacuum", "modulator", "90 kPa", "modulator"},
		{"governor", "up", "20; 33 psi", "up"},
		{"governor", "down", "20 psi", "down"},
		{"cooler-heat", "out", "120 °C", "out"},
		{"viscosity", "v2", "50 mm²/s", "v2"},
		{"cleanliness", "over6", "9000", "over6"},
		{"dilution", "drain", "12 L", "drain"},
		{"fluid-life", "shares", "50; 50 %", "shares"},
		{"fluid-loss", "added", "0 L", "added"},
	} {
		d, err := instruments.For(c.name, nil)
		if err != nil {
			t.Fatal(err)
		}
		typed := fitted{Definition: d}.sample()
		typed[c.input] = c.value
		_, err = d.Run(typed, instrument.Terms{})
		ie, ok := err.(*instrument.InputError)
		if !ok || ie.Input != c.at || ie.Accepted == "" {
			t.Errorf("%s with %s = %s: %v", c.name, c.input, c.value, err)
		}
	}
}
