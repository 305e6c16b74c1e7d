package drives

import (
	"cmp"
	"context"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"text/tabwriter"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/faultmap"
	"innercompass/core/shifts"
	"innercompass/internal/app"
	"innercompass/internal/recordings"
	"innercompass/internal/shifting"
)

// shiftsJSON is what was told, for other programs: times in s, speeds in rev/min.
type shiftsJSON struct {
	Unit     string      `json:"unit"`
	Selector string      `json:"selector"`
	Rate     float64     `json:"rate"`   // samples a second
	Offset   float64     `json:"offset"` // by which the output's stamps are later
	Shifts   []shiftJSON `json:"shifts"`
	Held     []stayJSON  `json:"held"`

	Engagements []engagementJSON `json:"engagements"`
	Missing     []missingJSON    `json:"missing"` // commanded and never reached
	Converter   string           `json:"converter"`

	Suspects []suspectJSON `json:"suspects"`
	Taps     []tapJSON     `json:"taps"` // what the taps showed, where pressures were recorded
	Limits   []string      `json:"limits"`
}

type shiftJSON struct {
	From       string  `json:"from"`
	To         string  `json:"to"`
	Begin      float64 `json:"begin"`
	End        float64 `json:"end"`
	Inertia    float64 `json:"inertia"`
	InertiaU   float64 `json:"inertia_u"` // half of the 95 % interval
	Flare      float64 `json:"flare"`
	FlareU     float64 `json:"flare_u"`
	FlareArea  float64 `json:"flare_area"` // rev/min·s
	After      float64 `json:"after"`
	AfterU     float64 `json:"after_u"`
	Down       bool    `json:"down"`
	Skips      bool    `json:"skips"`
	Unfinished bool    `json:"unfinished"`

	Leaves   float64            `json:"leaves"`
	Arrives  float64            `json:"arrives"`
	Command  *momentJSON        `json:"command,omitempty"`
	Filled   *momentJSON        `json:"filled,omitempty"` // the plates touch
	Opens    *momentJSON        `json:"opens,omitempty"`  // what lets go has let go
	Overlap  *float64           `json:"overlap,omitempty"`
	Throttle float64            `json:"throttle"`       // 0 to 1; 0 when it was not recorded
	Fluid    float64            `json:"fluid"`          // °C; 0 when it was not recorded
	Heat     map[string]float64 `json:"heat,omitempty"` // J, by element that comes on
	Out      []string           `json:"out"`
}

type momentJSON struct {
	At float64 `json:"at"`
	U  float64 `json:"u"`
}

func momentOf(m shifts.Moment) *momentJSON {
	if !m.Known {
		return nil
	}
	return &momentJSON{m.At, m.U}
}

// outOf names what of a shift is out of its window.
func outOf(f shifts.Finding) []string {
	out := []string{}
	for name, is := range map[string]bool{"long": f.Long, "quick": f.Quick, "flare": f.Flared, "fills-late": f.FillsLate, "tie-up": f.Tied, "slips-after": f.SlipsAfter, "low-pressure": f.LowPressure, "hard": f.Hard} {
		if is {
			out = append(out, name)
		}
	}
	slices.Sort(out)
	return out
}

type engagementJSON struct {
	At       float64 `json:"at"`
	Gear     string  `json:"gear"`
	Delay    float64 `json:"delay"`
	DelayU   float64 `json:"delay_u"`
	Finished bool    `json:"finished"`
}

type missingJSON struct {
	At   float64 `json:"at"`
	From string  `json:"from"`
	To   string  `json:"to"`
}

type suspectJSON struct {
	Blame       string  `json:"blame"` // sound, line-low, late-on, slow-off
	Element     string  `json:"element,omitempty"`
	Probability float64 `json:"probability"`
}

type tapJSON struct {
	Element string `json:"element"`
	State   string `json:"state"` // normal, low, none, stays, late, slow, hard
	Seen    int    `json:"seen"`  // stretches and changes that it rests on
}

type stayJSON struct {
	Gear  string  `json:"gear"`
	Begin float64 `json:"begin"`
	End   float64 `json:"end"`
}

func printShifts(ctx context.Context, w io.Writer, a *app.App, rec recordings.Recording, f heardFlags) error {
	told, err := a.Shifting.Shifts(ctx, rec.ID, shifting.Asked{From: f.from, To: f.to, Selector: f.selector})
	if err != nil {
		return err
	}
	if f.asJSON {
		out := shiftsJSON{Unit: told.Unit.Sheet.ID, Selector: told.Box.Selector, Rate: told.Rate, Offset: told.Offset, Shifts: []shiftJSON{}, Held: []stayJSON{}, Suspects: []suspectJSON{}, Taps: []tapJSON{}, Limits: told.Limits}
		for i, s := range told.Shifts {
			x := shiftJSON{From: s.From, To: s.To, Begin: s.Begin, End: s.End, Inertia: s.Inertia, InertiaU: s.InertiaU, Flare: s.Flare, FlareU: s.FlareU, FlareArea: s.FlareArea, After: s.After, AfterU: s.AfterU, Down: s.Down, Skips: s.Skips, Unfinished: s.Unfinished,
				Leaves: s.Leaves.At, Arrives: s.Arrives.At, Command: momentOf(s.Command), Filled: momentOf(s.Filled), Opens: momentOf(s.Opens), Throttle: s.Throttle, Fluid: s.Fluid, Heat: s.Heat, Out: outOf(told.Against[i].Finding)}
			if o, _, ok := s.Tie(); ok {
				x.Overlap = &o
			}
			out.Shifts = append(out.Shifts, x)
		}
		out.Engagements, out.Missing, out.Converter = []engagementJSON{}, []missingJSON{}, told.Converted()
		for _, e := range told.Engagements {
			out.Engagements = append(out.Engagements, engagementJSON{e.At, e.Gear, e.Delay, e.DelayU, e.Finished})
		}
		for _, m := range told.Missing {
			out.Missing = append(out.Missing, missingJSON{m.At, m.From, m.To})
		}
		for _, s := range told.Result.Held {
			out.Held = append(out.Held, stayJSON{s.Gear, s.Begin, s.End})
		}
		for _, s := range told.Suspects {
			out.Suspects = append(out.Suspects, suspectJSON{string(s.Blame), s.Element, s.Probability})
		}
		for _, x := range told.Taps {
			out.Taps = append(out.Taps, tapJSON{x.Element, cmp.Or(x.State, faultmap.Info(faultmap.Tap).Normal()), x.Seen})
		}
		return cli.PrintJSON(w, out)
	}
	if len(told.Shifts) == 0 {
		fmt.Fprintln(w, "No shift is told.")
	}
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	fmt.Fprintln(tw, "at, s\tshift\tinertia time, s\tflare, rpm\tslip after, rpm\t")
	for _, s := range told.Shifts {
		if s.Unfinished {
			fmt.Fprintf(tw, "%.2f\t%s, begun and given up\t\t%s\t\t\n", s.Begin, s.From, pair(s.Flare, s.FlareU, 0))
			continue
		}
		flare := "none"
		if s.Flare > 0 {
			flare = pair(s.Flare, s.FlareU, 0)
		}
		fmt.Fprintf(tw, "%.2f\t%s to %s\t%s\t%s\t%s\t%s\n", s.Begin, s.From, s.To, pair(s.Inertia, s.InertiaU, 2), flare, pair(s.After, s.AfterU, 0), strings.Join(kinds(s), ", "))
	}
	if err := tw.Flush(); err != nil {
		return err
	}
	for _, x := range told.Taps {
		if x.State != "" {
			fmt.Fprintf(w, "Tap of %s: %s, over %d stretches and changes.\n", told.ElementName(x.Element), shifting.TapWords(x), x.Seen)
		}
	}
	for _, text := range []string{told.Converted(), told.Blamed()} {
		if text != "" {
			fmt.Fprintln(w, text)
		}
	}
	for _, l := range told.Limits {
		fmt.Fprintln(w, l)
	}
	return nil
}

func kinds(s shifts.Shift) []string {
	var out []string
	if s.Down {
		out = append(out, "down")
	}
	if s.Skips {
		out = append(out, "gears passed over")
	}
	return out
}

func pair(x, u float64, decimals int) string {
	if math.Abs(x) < 0.5*math.Pow(10, -float64(decimals)) {
		x = 0 // not minus nothing
	}
	return fmt.Sprintf("%.*f ± %.*f", decimals, x, decimals, u)
}
