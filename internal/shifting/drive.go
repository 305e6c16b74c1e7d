package shifting

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/recording"
	"innercompass/core/shifts"
	"innercompass/core/unitsheet"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
	"innercompass/internal/traces"
)

// place is where a thing was recorded: the number of its channel; −1 where it was not.
func place(rec recordings.Recording, role recording.Role) int {
	return slices.IndexFunc(rec.Channels, func(c recordings.Channel) bool { return c.Role == role && c.Values > 16 })
}

// drive reads all that a recording has of shifts.
func drive(rec recordings.Recording, u *unitsheet.Unit, f *traces.File, a Asked) (shifts.Drive, map[string]int, error) {
	d, at := shifts.Drive{Pressures: map[string]shifts.Channel{}}, map[string]int{}
	for role, into := range map[recording.Role]*shifts.Channel{recording.Turbine: &d.Turbine, recording.Output: &d.Output, recording.Engine: &d.Engine, recording.Throttle: &d.Throttle, recording.Fluid: &d.Fluid, recording.Gear: &d.Gear, recording.Line: &d.Line} {
		i := place(rec, role)
		if i < 0 {
			if role == recording.Turbine || role == recording.Output {
				return d, nil, problem.Field("channels", fmt.Sprintf("none is the speed of the %s", role), "say of one channel that it is: shifts are told by turbine and output")
			}
			continue
		}
		var err error
		if *into, err = channel(rec, f, i, a); err != nil {
			return d, nil, err
		}
		at[string(role)] = i
	}
	for i, c := range rec.Channels {
		if c.Role != recording.Pressure || c.Values <= 16 {
			continue
		}
		id := c.Of
		if id == "" {
			id = element(u, c.Name)
		}
		if _, ok := u.Element(id); !ok {
			continue
		}
		p, err := channel(rec, f, i, a)
		if err != nil {
			return d, nil, err
		}
		d.Pressures[id], at[id] = p, i
	}
	return d, at, nil
}

// element is that whose name stands in a channel's name, the longest; nothing when none does.
func element(u *unitsheet.Unit, name string) string {
	best, id := 0, ""
	for _, e := range u.Elements {
		for _, word := range []string{e.Name, e.ID} {
			if found := strings.Contains(" "+strings.ToLower(name)+" ", strings.ToLower(word)+" "); found && len(word) > best {
				best, id = len(word), e.ID
			}
		}
	}
	return id
}

// channel is one in rev/min, or in what the core reckons in.
func channel(rec recordings.Recording, f *traces.File, i int, a Asked) (shifts.Channel, error) {
	var c shifts.Channel
	k := rec.Channels[i]
	factor, zero := 0.0, 0.0
	if k.Unit == "" && k.Role.Speed() && k.Role != recording.Road {
		k.Unit = "rpm" // what a logger that names none means
	}
	if per, ok := k.Role.Factor(k.Unit); ok && k.Role.Speed() {
		factor = 60 * per
	} else if scale, from, ok := k.Role.Scale(k.Unit); ok {
		factor, zero = scale, from
	} else {
		return c, problem.Field("channels", fmt.Sprintf("%s is in %q", k.Name, k.Unit), strings.Join(k.Role.Units(), ", "))
	}
	err := f.Each([]int{i}, a.From, a.To, func(at []float64, values [][]float32) error {
		for j, x := range values[0] {
			if v := float64(x); !math.IsNaN(v) && (len(c.Time) == 0 || at[j] > c.Time[len(c.Time)-1]) {
				c.Time, c.Value = append(c.Time, at[j]), append(c.Value, (v-zero)*factor)
			}
		}
		return nil
	})
	return c, err
}
