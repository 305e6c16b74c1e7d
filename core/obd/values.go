package obd

import (
	"fmt"
	"math"
)

// Services of SAE J1979, and of ISO 14229.
const (
	Current   byte = 0x01 // current values
	Stored    byte = 0x03 // codes
	Clear     byte = 0x04
	Pending   byte = 0x07
	Vehicle   byte = 0x09
	ReadByID  byte = 0x22
	Positive  byte = 0x40 // added to a service in its answer
	Negative  byte = 0x7F
	Supported byte = 0x00 // parameter that says which of the next 32 there are
)

// Refusals of a module.
const (
	NotSupported    byte = 0x11
	NotSupportedSub byte = 0x12
	Busy            byte = 0x21
	Conditions      byte = 0x22
	OutOfRange      byte = 0x31
	Pausing         byte = 0x78 // it works on it: wait on
)

// RefusedError is a module's no.
type RefusedError struct{ Service, Reason byte }

func (e *RefusedError) Error() string {
	words := map[byte]string{NotSupported: "not supported", NotSupportedSub: "not supported", Busy: "busy, ask again", Conditions: "not as things stand (the engine runs?)", OutOfRange: "no such value", Pausing: "works on it"}
	word, ok := words[e.Reason]
	if !ok {
		word = "refused"
	}
	return fmt.Sprintf("service %02X: %s (%02X)", e.Service, word, e.Reason)
}

// Parameter is a value of service 01: a number of bytes, and how they are scaled.
type Parameter struct {
	ID         byte
	Name, Unit string
	Bytes      int
	Factor     float64 // of the bytes as one number, the first the greatest
	Offset     float64
}

// Parameters are those of a drive's interest, by their scales in SAE J1979 (from memory).
var Parameters = []Parameter{
	{0x04, "Calculated load", "%", 1, 100.0 / 255, 0},
	{0x05, "Coolant temperature", "°C", 1, 1, -40},
	{0x0C, "Engine speed", "rpm", 2, 0.25, 0},
	{0x0D, "Vehicle speed", "km/h", 1, 1, 0},
	{0x0F, "Intake air temperature", "°C", 1, 1, -40},
	{0x11, "Throttle", "%", 1, 100.0 / 255, 0},
	{0x42, "Module voltage", "V", 2, 0.001, 0},
	{0x49, "Pedal", "%", 1, 100.0 / 255, 0},
	{0x5C, "Engine oil temperature", "°C", 1, 1, -40},
	{0x62, "Engine torque", "%", 1, 1, -125},
	{0x63, "Reference torque", "N·m", 2, 1, 0},
}

// ParameterOf finds one.
func ParameterOf(id byte) (Parameter, bool) {
	for _, p := range Parameters {
		if p.ID == id {
			return p, true
		}
	}
	return Parameter{}, false
}

// Read scales the bytes of a value. It fails for too few of them.
func (p Parameter) Read(b []byte) (float64, error) {
	if len(b) < p.Bytes {
		return 0, fmt.Errorf("%s: %d bytes, %d are needed", p.Name, len(b), p.Bytes)
	}
	n := 0
	for _, x := range b[:p.Bytes] {
		n = n<<8 | int(x)
	}
	return float64(n)*p.Factor + p.Offset, nil
}

// Put is a value in its bytes, as near as they can be.
func (p Parameter) Put(v float64) []byte {
	most := math.Pow(2, 8*float64(p.Bytes)) - 1
	n := int(math.Min(most, math.Max(0, math.Round((v-p.Offset)/p.Factor))))
	out := make([]byte, p.Bytes)
	for i := range out {
		out[p.Bytes-1-i] = byte(n >> (8 * i)) //nolint:gosec // a byte of it
	}
	return out
}

// SupportedMask is the answer to a parameter that says which of the next 32 there are: bits from the left.
func SupportedMask(base byte, ids []byte) [4]byte {
	var out [4]byte
	for _, id := range ids {
		if d := int(id) - int(base) - 1; d >= 0 && d < 32 {
			out[d/8] |= 0x80 >> (d % 8)
		}
	}
	return out
}

// SupportedIDs reads one.
func SupportedIDs(base byte, mask []byte) []byte {
	var out []byte
	for d := range min(32, 8*len(mask)) {
		if mask[d/8]&(0x80>>(d%8)) != 0 {
			out = append(out, base+1+byte(d)) //nolint:gosec // up to 32
		}
	}
	return out
}
