package demo

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"time"

	"innercompass/core/roadlog"
	"innercompass/core/sim"
	"innercompass/core/trials"
	"innercompass/internal/app"
	"innercompass/internal/recordings"
)

// simulated is a drive that the simulated vehicle made, with a fault that the demo knows; the one after the repair is without it.
type simulated struct {
	title, after, file, vehicle, unit, by string
	ago                                   time.Duration
	faults                                []sim.Fault
	celsius                               float64
	legs                                  []roadlog.Leg
	pressures                             []string
	changed                               []trials.Change
	note                                  string
	mark                                  *recordings.Mark
}

func foot(selector string, throttle float64) sim.Input {
	return sim.Input{Selector: selector, Throttle: throttle}
}

// up is a pull from rest through the gears, then off the foot and down to a stop.
func up(throttle, seconds float64) []roadlog.Leg {
	return []roadlog.Leg{{Seconds: seconds, Input: foot("D", throttle), Wander: 0.05}, {Seconds: 14, Input: sim.Input{Selector: "D", Brake: 0.16}, Until: 1}, {Seconds: 2, Input: sim.Input{Selector: "D", Brake: 0.5}}}
}

func joined(legs ...[]roadlog.Leg) []roadlog.Leg {
	out := []roadlog.Leg{{Seconds: 1.5, Input: sim.Input{Selector: "N", Brake: 1}}, {Seconds: 2, Input: sim.Input{Selector: "D", Brake: 1}}}
	for _, l := range legs {
		out = append(out, l...)
	}
	return out
}

var simulatedDrives = []simulated{
	{
		title: "Shudder at seventy, light foot", after: "The same road, converter done (simulated)", file: "parcel-van", vehicle: "Parcel van", unit: "ombrin-s6", by: "Ines", ago: 26 * time.Hour, celsius: 84, changed: []trials.Change{trials.Part}, note: "converter renewed",
		faults: []sim.Fault{{Kind: sim.Shudder, Size: 0.45}}, pressures: []string{"CB", "CE"},
		legs: joined(up(0.36, 26), []roadlog.Leg{{Seconds: 24, Input: foot("D", 0.42), Wander: 0.05}, {Seconds: 16, Input: foot("D", 0.30), Wander: 0.05}, {Seconds: 14, Input: foot("D", 0.26), Wander: 0.08}, {Seconds: 6, Input: foot("D", 0.6)}}),
		mark: &recordings.Mark{At: 82, Note: "like corrugated iron, here", By: "Ines"},
	},
	{
		title: "Revs up going into third, hot", after: "The same road, direct clutch done (simulated)", file: "minibus", vehicle: "School minibus", unit: "norrad-h4", by: "Ines", ago: 5 * time.Hour, celsius: 92, changed: []trials.Change{trials.Part}, note: "direct clutch pack and seals",
		faults: []sim.Fault{{Kind: sim.LeaksBy, Element: "DC", Size: 1.2}}, pressures: []string{"DC", "IC"},
		legs: joined(up(0.34, 24), up(0.36, 24), up(0.38, 24), up(0.35, 24), up(0.37, 24)),
		mark: &recordings.Mark{At: 17, Note: "revs up here", By: "Ines"},
	},
	{
		title: "Late into some gears", after: "The same road, clutch E done (simulated)", file: "taxi", vehicle: "Taxi", unit: "vantrice-t10", by: "Ines", ago: 50 * time.Minute, celsius: 80, changed: []trials.Change{trials.Part}, note: "piston seal of clutch E",
		faults: []sim.Fault{{Kind: sim.Clearance, Element: "E", Size: 1.5}}, pressures: []string{"E", "C"},
		legs: joined(up(0.40, 30), up(0.36, 28), up(0.42, 30), up(0.38, 30)),
	},
}

// simulate brings the drives of the simulated vehicles in, each before its repair and after it; open are the demo's cases by vehicle.
func simulate(ctx context.Context, s *app.App, start time.Time, open map[string]string) error {
	for k, d := range simulatedDrives {
		n, err := s.Library.Unit(ctx, d.unit, 0)
		if err != nil {
			return err
		}
		before := ""
		for i, title := range []string{d.title, d.after} {
			at := start.Add(-d.ago + time.Duration(i)*20*time.Minute)
			s.Now = func() time.Time { return at }
			setup := roadlog.Setup{Sim: sim.Setup{Unit: n.Unit, Celsius: d.celsius, Seed: uint64(100 + 10*k + i), Scatter: 1}, Rate: 50, Late: math.NaN(), Legs: d.legs, Pressures: d.pressures}
			if i == 0 {
				setup.Sim.Faults = d.faults
			}
			log, _, err := roadlog.Drive(setup)
			if err != nil {
				return fmt.Errorf("demo drive %q: %w", title, err)
			}
			var file bytes.Buffer
			if err := log.Write(&file); err != nil {
				return err
			}
			rec, err := s.Recordings.Bring(ctx, &file, recordings.Bring{File: fmt.Sprintf("%s-%d.csv", d.file, i+1), Title: title, Case: open[d.vehicle], Unit: d.unit, Vehicle: d.vehicle, By: d.by})
			if err != nil {
				return fmt.Errorf("demo drive %q: %w", title, err)
			}
			if i == 0 {
				before = rec.ID
				if d.mark != nil {
					_, err = s.Recordings.Mark(ctx, rec.ID, rec.Revision, d.mark.At, d.mark.Note, d.mark.By)
				}
			} else {
				_, err = s.Recordings.Change(ctx, rec.ID, rec.Revision, recordings.Said{Trial: &recordings.Trial{Since: before, Changed: d.changed, Note: d.note}})
			}
			if err != nil {
				return fmt.Errorf("demo drive %q: %w", title, err)
			}
		}
	}
	return nil
}
