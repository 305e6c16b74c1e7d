package drives

import (
	"context"
	"fmt"
	"io"
	"math"
	"strings"
	"text/tabwriter"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/shifts"
	"innercompass/internal/app"
	"innercompass/internal/recordings"
	"innercompass/internal/shifting"
)

// shiftsJSON is what was told, for other programs: times in s, speeds in rev/min.
type shiftsJSON struct {
	Unit     string        `json:"unit"`
	Selector string        `json:"selector"`
	Rate     float64       `json:"rate"`   // samples a second
	Offset   float64       `json:"offset"` // by which the output's stamps are later
	Shifts   []shiftJSON   `json:"shifts"`
	Held     []stayJSON    `json:"held"`
	Suspects []suspectJSON `json:"suspects"`
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
}

type suspectJSON struct {
	Blame       string  `json:"blame"` // sound, line-low, late-on, slow-off
	Element     string  `json:"element,omitempty"`
	Probability float64 `json:"probability"`
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
		out := shiftsJSON{Unit: told.Unit.Sheet.ID, Selector: told.Box.Selector, Rate: told.Rate, Offset: told.Offset, Shifts: []shiftJSON{}, Held: []stayJSON{}, Suspects: []suspectJSON{}, Limits: told.Limits}
		for _, s := range told.Shifts {
			out.Shifts = append(out.Shifts, shiftJSON{s.From, s.To, s.Begin, s.End, s.Inertia, s.InertiaU, s.Flare, s.FlareU, s.FlareArea, s.After, s.AfterU, s.Down, s.Skips, s.Unfinished})
		}
		for _, s := range told.Result.Held {
			out.Held = append(out.Held, stayJSON(s))
		}
		for _, s := range told.Suspects {
			out.Suspects = append(out.Suspects, suspectJSON{string(s.Blame), s.Element, s.Probability})
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
	if text := told.Blamed(); text != "" {
		fmt.Fprintln(w, text)
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
