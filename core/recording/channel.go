package recording

import (
	"math"
	"regexp"
	"slices"
	"strings"
)

// Role is what a channel is to the app.
type Role string

// The roles.
const (
	Hearing  Role = "sound"    // what a microphone hears
	Shaking  Role = "shaking"  // what a motion sensor feels
	Road     Role = "road"     // road speed
	Engine   Role = "engine"   // speed of the engine
	Turbine  Role = "turbine"  // speed of the converter's turbine, which is the unit's input
	Output   Role = "output"   // speed of the unit's output
	Wheel    Role = "wheel"    // speed of a driven wheel
	Pulses   Role = "pulses"   // of a tachometer, some in each turn of the output
	Throttle Role = "throttle" // pedal or throttle, how far it is open
	Fluid    Role = "fluid"    // temperature of the fluid
	Gear     Role = "gear"     // commanded: 0 in park and neutral, −1 in reverse, 1 and up
	Line     Role = "line"     // line pressure
	Pressure Role = "pressure" // of one element, at its tap
	Travel   Role = "travel"   // of a clutch actuator
	Torque   Role = "torque"   // of the engine
	Other    Role = "other"
)

// Roles lists them.
var Roles = []Role{Hearing, Shaking, Road, Engine, Turbine, Output, Wheel, Pulses, Throttle, Fluid, Gear, Line, Pressure, Travel, Torque, Other}

// Speed reports whether a role is a speed.
func (r Role) Speed() bool { return slices.Contains([]Role{Road, Engine, Turbine, Output, Wheel}, r) }

// Heard reports whether a role is what is heard or felt.
func (r Role) Heard() bool { return r == Hearing || r == Shaking }

// speedUnits bring a speed to m/s, or to turns a second.
var speedUnits = map[string]float64{"km/h": 1 / 3.6, "kmh": 1 / 3.6, "kph": 1 / 3.6, "mph": 0.44704, "m/s": 1}
var turnUnits = map[string]float64{"rpm": 1.0 / 60, "1/min": 1.0 / 60, "min-1": 1.0 / 60, "/min": 1.0 / 60, "u/min": 1.0 / 60, "hz": 1, "1/s": 1, "rev/s": 1, "rad/s": 1 / (2 * math.Pi)}

// SpeedUnits are the units in which a speed of a role is read.
func (r Role) SpeedUnits() []string {
	if r == Road {
		return []string{"km/h", "mph", "m/s"}
	}
	return []string{"rpm", "1/s", "rad/s"}
}

// Factor brings a value of a speed to m/s for the road and to turns a second for what turns; false for a unit that is none of it.
func (r Role) Factor(unit string) (float64, bool) {
	u := strings.ToLower(strings.TrimSpace(unit))
	if r == Road {
		f, ok := speedUnits[u]
		return f, ok
	}
	f, ok := turnUnits[u]
	return f, ok
}

// scales bring a value that is no speed to what the core reckons in: throttle to a share, °C, Pa, mm, N·m; zero is taken off first.
var scales = map[Role]map[string]struct{ factor, zero float64 }{
	Throttle: {"%": {0.01, 0}, "": {0.01, 0}},
	Fluid:    {"°c": {1, 0}, "c": {1, 0}, "degc": {1, 0}, "°f": {5.0 / 9, 32}, "f": {5.0 / 9, 32}, "degf": {5.0 / 9, 32}, "": {1, 0}},
	Gear:     {"": {1, 0}},
	Line:     pressures,
	Pressure: pressures,
	Travel:   {"mm": {1, 0}, "in": {25.4, 0}, "µm": {0.001, 0}},
	Torque:   {"n·m": {1, 0}, "nm": {1, 0}, "n m": {1, 0}, "lb-ft": {1.3558179, 0}, "lbft": {1.3558179, 0}, "ft-lb": {1.3558179, 0}, "lb·ft": {1.3558179, 0}},
}

var pressures = map[string]struct{ factor, zero float64 }{"kpa": {1e3, 0}, "bar": {1e5, 0}, "psi": {6894.757, 0}, "mpa": {1e6, 0}, "pa": {1, 0}, "kg/cm²": {98066.5, 0}}

// Scale brings a value of a role that is no speed to a share, °C, Pa, mm or N·m: (value − zero)·factor. It is false for a unit that is none of it.
func (r Role) Scale(unit string) (factor, zero float64, ok bool) {
	s, ok := scales[r][strings.ToLower(strings.TrimSpace(unit))]
	return s.factor, s.zero, ok
}

// Scaled reports whether a role is a value that has a scale.
func (r Role) Scaled() bool { return scales[r] != nil }

// Units are those in which a role is read, in the order of the alphabet.
func (r Role) Units() []string {
	if r.Speed() {
		return r.SpeedUnits()
	}
	var out []string
	for u := range scales[r] {
		if u != "" {
			out = append(out, u)
		}
	}
	slices.Sort(out)
	return out
}

var roleWords = []struct {
	words *regexp.Regexp
	role  Role
}{
	{regexp.MustCompile(`(?i)clutch.*(travel|actuator|position)|actuator.*(travel|position)|release.*travel`), Travel},
	{regexp.MustCompile(`(?i)engine ?torque|\btorque\b`), Torque},
	{regexp.MustCompile(`(?i)line ?press|main ?press`), Line},
	{regexp.MustCompile(`(?i)press(ure)?\b`), Pressure},
	{regexp.MustCompile(`(?i)throttle|pedal|\btps\b`), Throttle},
	{regexp.MustCompile(`(?i)(fluid|oil|atf|trans\w*) ?temp|\btft\b`), Fluid},
	{regexp.MustCompile(`(?i)gear.*(command|want|target|desired)|(command|want|target|desired).*gear|^gear$`), Gear},
	{regexp.MustCompile(`(?i)turbine|input ?(shaft)? ?speed|\btss\b|\biss\b`), Turbine},
	{regexp.MustCompile(`(?i)output ?(shaft)? ?(speed|rpm)|\boss\b`), Output},
	{regexp.MustCompile(`(?i)wheel`), Wheel},
	{regexp.MustCompile(`(?i)vehicle ?speed|road ?speed|\bvss\b|^speed$|\bgps\b|^road$`), Road},
	{regexp.MustCompile(`(?i)engine|\brpm\b|crank`), Engine},
	{regexp.MustCompile(`(?i)mic|sound|audio`), Hearing},
	{regexp.MustCompile(`(?i)accel|vibrat|shak|seat|rail|^[xyz]$`), Shaking},
	{regexp.MustCompile(`(?i)tach|pulse`), Pulses},
}

// RoleOf guesses the role of a column by its name and unit: a speed has to have a unit of one, or none at all.
func RoleOf(c Column) Role {
	for _, w := range roleWords {
		if !w.words.MatchString(c.Name) {
			continue
		}
		if w.role.Speed() && c.Unit != "" {
			if _, ok := w.role.Factor(c.Unit); !ok {
				continue
			}
		}
		if _, _, ok := w.role.Scale(c.Unit); w.role.Scaled() && !ok {
			continue
		}
		return w.role
	}
	switch u := strings.ToLower(c.Unit); {
	case u == "m/s²" || u == "m/s2" || u == "g":
		return Shaking
	case speedUnits[u] != 0:
		return Road
	}
	return Other
}
