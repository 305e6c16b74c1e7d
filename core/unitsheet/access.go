package unitsheet

import "strings"

// Access is how far the vehicle is opened up. Deeper levels include the shallower.
type Access int

// The access levels, from the vehicle on its wheels to a converter cut open.
const (
	Ground Access = iota
	Lifted
	PanOff
	ValveBodyOff
	UnitOut
	UnitApart
	ConverterOpen
)

// AccessNames are the names in files and in the API, by level.
var AccessNames = []string{"ground", "lifted", "pan-off", "valve-body-off", "unit-out", "unit-apart", "converter-open"}

func (a Access) String() string {
	if a < 0 || int(a) >= len(AccessNames) {
		return "unknown"
	}
	return AccessNames[a]
}

// ParseAccess reads a level by name. The error says what would be accepted.
func ParseAccess(s string) (Access, error) {
	for i, n := range AccessNames {
		if n == s {
			return Access(i), nil
		}
	}
	return 0, &Problem{Reason: "unknown access level \"" + s + "\"", Accepted: strings.Join(AccessNames, ", ")}
}
