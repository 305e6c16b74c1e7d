package vibration

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
)

// Vehicle is what surrounds the unit, as far as it is known; zero values are not known.
type Vehicle struct {
	Cylinders     int       `json:"cylinders,omitempty"`     // of a four-stroke engine with even firing
	Axle          float64   `json:"axle,omitempty"`          // turns of the unit's output, as its sheet has it, for one of the wheels: of a transaxle its final drive
	Pinion        int       `json:"pinion,omitempty"`        // teeth of the axle's pinion
	Circumference float64   `json:"circumference,omitempty"` // rolling, of a tire, m
	Tread         float64   `json:"tread,omitempty"`         // how far that may be off, share; 0 takes UsualTread
	Joint         Joint     `json:"joint,omitempty"`         // of the shafts to the axle or the wheels
	Pieces        int       `json:"pieces,omitempty"`        // of the propeller shaft: 1, or 2 with a center bearing; 0 when there is none
	Belts         []Belt    `json:"belts,omitempty"`
	Bearings      []Bearing `json:"bearings,omitempty"`
}

// Joint is a kind of joint.
type Joint string

// The kinds of joint.
const (
	Cross  Joint = "cross"  // twice a turn
	Tripod Joint = "tripod" // three times, along the shaft, grows with angle and torque (recalled from memory)
	Ball   Joint = "ball"   // with six balls
)

// Joints lists them.
var Joints = []Joint{Cross, Tripod, Ball}

// Belt is a belt drive: turns of the driven pulley for one of the crank.
type Belt struct {
	Name  string  `json:"name"`
	Ratio float64 `json:"ratio"`
}

// Bearing is a rolling bearing. Inner and Outer name what its races turn with: "output", "wheel", "engine", "turbine", a member of the
// unit's gears, or nothing when a race stands.
type Bearing struct {
	ID       string  `json:"id"`
	Name     string  `json:"name"`
	Elements int     `json:"elements"` // balls or rollers
	Ratio    float64 `json:"ratio"`    // d·cos α/D: their diameter over that of their circle, times the cosine of the contact angle
	Inner    string  `json:"inner,omitempty"`
	Outer    string  `json:"outer,omitempty"`
}

// Defects are how often a flaw strikes for each turn of the one race against the other.
type Defects struct{ Outer, Inner, Ball, Cage float64 }

// Defects of a bearing by its geometry. A flaw of a ball strikes both races.
func (b Bearing) Defects() Defects {
	n := float64(b.Elements)
	return Defects{Outer: n / 2 * (1 - b.Ratio), Inner: n / 2 * (1 + b.Ratio), Ball: (1 - b.Ratio*b.Ratio) / b.Ratio, Cage: (1 - b.Ratio) / 2}
}

// Check reports what of a vehicle cannot be.
func (v Vehicle) Check() error {
	bad := func(what string, value any, want string) error {
		return fmt.Errorf("vibration: %s of %v; want %s", what, value, want)
	}
	finite := func(x, low, high float64) bool { return x == 0 || x >= low && x <= high && !math.IsNaN(x) }
	switch {
	case v.Cylinders < 0 || v.Cylinders > 16:
		return bad("an engine", fmt.Sprint(v.Cylinders, " cylinders"), "1 to 16, or none given")
	case !finite(v.Axle, 0.5, 20):
		return bad("an axle ratio", v.Axle, "0.5 to 20")
	case v.Pinion < 0 || v.Pinion > 60:
		return bad("a pinion", fmt.Sprint(v.Pinion, " teeth"), "5 to 60")
	case !finite(v.Circumference, 0.5, 6):
		return bad("a circumference", fmt.Sprint(v.Circumference, " m"), "0.5 to 6 m")
	case !finite(v.Tread, 0, 0.2):
		return bad("a doubt", v.Tread, "0 to 0.2")
	case v.Pieces < 0 || v.Pieces > 2:
		return bad("a shaft", fmt.Sprint(v.Pieces, " pieces"), "1 or 2")
	}
	for _, b := range v.Belts {
		if !(b.Ratio > 0.1 && b.Ratio < 10) {
			return bad("a belt ratio", b.Ratio, "0.1 to 10")
		}
	}
	for _, b := range v.Bearings {
		if b.Elements < 3 || b.Elements > 60 || !(b.Ratio > 0.01 && b.Ratio < 0.6) {
			return bad("a bearing", fmt.Sprint(b.Elements, " elements and a ratio of ", b.Ratio), "3 to 60, and 0.01 to 0.6")
		}
	}
	return nil
}

// Tire is the rolling circumference of a tire by its size: width in mm, height in percent of it, rim in inches. It rolls on some 97 % of its
// outside (common practice, no source).
func Tire(width, percent, rim float64) (float64, error) {
	if !(width >= 100 && width <= 500) || !(percent >= 20 && percent <= 100) || !(rim >= 8 && rim <= 30) {
		return 0, fmt.Errorf("vibration: a tire %v/%v R%v; want 100 to 500 mm, 20 to 100 %%, 8 to 30 in", width, percent, rim)
	}
	return 0.97 * math.Pi * (2*width*percent/100 + rim*25.4) / 1000, nil
}

var tireSize = regexp.MustCompile(`(?i)^\s*(?:p|lt)?\s*(\d{3})\s*/\s*(\d{2,3})\s*-?\s*z?r?f?\s*-?\s*(\d{1,2}(?:\.5)?)\s*c?\b.*$`)

// ReadTire reads the size as it stands on a tire, such as 205/55 R16 91H, and gives its rolling circumference, m.
func ReadTire(size string) (float64, error) {
	m := tireSize.FindStringSubmatch(size)
	if m == nil {
		return 0, fmt.Errorf("vibration: a tire %q; want a size such as 205/55 R16", size)
	}
	part := func(s string) float64 { v, _ := strconv.ParseFloat(s, 64); return v }
	return Tire(part(m[1]), part(m[2]), part(m[3]))
}
