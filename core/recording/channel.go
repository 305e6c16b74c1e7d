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
	Hearing Role = "sound"   // what a microphone hears
	Shaking Role = "shaking" // what a motion sensor feels
	Road    Role = "road"    // road speed
	Engine  Role = "engine"  // speed of the engine
	Turbine Role = "turbine" // speed of the converter's turbine, which is the unit's input
	Output  Role = "output"  // speed of the unit's output
	Wheel   Role = "wheel"   // speed of a driven wheel
	Pulses  Role = "pulses"  // of a tachometer, some in each turn of the output
	Other   Role = "other"
)

// Roles lists them.
var Roles = []Role{Hearing, Shaking, Road, Engine, Turbine, Output, Wheel, Pulses, Other}

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

var roleWords = []struct {
	words *regexp.Regexp
	role  Role
}{
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
