package unitsheet

import (
	"fmt"
	"slices"
)

// Racers are what a race of a bearing may turn with besides the members of the gears.
var Racers = []string{"output", "engine", "turbine", "wheel"}

// bearings checks what is heard: rolling bearings and the teeth of the pump.
func (c *compiler) bearings() {
	seen := map[string]bool{}
	for i, b := range c.s.Bearings {
		path := fmt.Sprintf("bearings[%d]", i)
		c.own(path+".id", b.ID, seen)
		if b.Elements < 3 || b.Elements > 60 {
			c.fail(path+".elements", fmt.Sprint(b.Elements), "3 to 60 balls or rollers")
		}
		if !(b.Ratio > 0.01 && b.Ratio < 0.6) {
			c.fail(path+".ratio", fmt.Sprint(b.Ratio), "0.01 to 0.6")
		}
		if b.Inner == b.Outer {
			c.fail(path, "both races turn alike", "races that turn with two different things, or one that stands")
		}
		for field, race := range map[string]string{"inner": b.Inner, "outer": b.Outer} {
			if race != "" && !slices.Contains(Racers, race) && !slices.Contains(c.s.Gearing.Members, race) && len(c.s.Gearing.Members) > 0 {
				c.fail(path+"."+field, fmt.Sprintf("%q", race), "output, engine, turbine, wheel, or a member of the gears")
			}
		}
	}
	if h := c.s.Hydraulics; h != nil && (h.Pump.Teeth < 0 || h.Pump.Teeth > 80) {
		c.fail("hydraulics.pump.teeth", fmt.Sprint(h.Pump.Teeth), "3 to 80")
	}
}

// PumpEvents is how often the pump delivers in one turn of the engine: each tooth of its driven gear, each vane. A two-lobe vane pump with an
// odd number of vanes is heard at twice that. It is 0 where the number is not known, and where no engine drives the pump.
func (u *Unit) PumpEvents() int {
	h := u.Sheet.Hydraulics
	if h == nil || h.Pump.Driven == "electric" {
		return 0
	}
	return h.Pump.Teeth
}
