// Package drives is the command that looks at recordings of drives.
package drives

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"strings"
	"text/tabwriter"

	"github.com/spf13/cobra"

	"innercompass/cmd/innercompass/cli"
	"innercompass/core/orders"
	"innercompass/core/vibration"
	"innercompass/internal/app"
	"innercompass/internal/catalog"
	"innercompass/internal/hearing"
	"innercompass/internal/problem"
	"innercompass/internal/recordings"
	"innercompass/internal/store"
	embedded "innercompass/knowledge"
)

// heardFlags are what may be said of a recording on the command line.
type heardFlags struct {
	unit, vehicle, in, known string
	selector                 string
	asJSON, whine            bool
	road, engine             float64 // km/h, rpm
	slip, doubt, from, to    float64
	low, high, top           float64
	channel                  int
}

// Command is "innercompass recording".
func Command() *cobra.Command {
	c := &cobra.Command{Use: "recording", Short: "Look at recordings of drives: tables of any layout and sound", Args: cli.Exactly(0), RunE: func(c *cobra.Command, _ []string) error { return c.Help() }}
	c.AddCommand(
		heardCmd("info FILE", "What a recording holds, and what was noticed while it was read", printInfo),
		heardCmd("spectrum FILE", "Lines of a channel by frequency; with --low and --high those of the envelope of that band", printSpectrum),
		heardCmd("orders FILE", "What turns in a recording, and what of the unit and the vehicle it could be", printOrders),
		heardCmd("shifts FILE", "The gear changes in a recording of turbine and output speed, each measured; --selector says where the lever stood", printShifts),
		compareCmd())
	return c
}

// heardCmd is a command that reads a file, keeps it in a folder of its own for as long as it runs, and says something of it.
func heardCmd(use, short string, say func(ctx context.Context, w io.Writer, a *app.App, rec recordings.Recording, f heardFlags) error) *cobra.Command {
	var f heardFlags
	c := &cobra.Command{Use: use, Short: short, Args: cli.Exactly(1), RunE: func(c *cobra.Command, args []string) error {
		return withRecording(c.Context(), args[0], f, func(a *app.App, rec recordings.Recording) error {
			return say(c.Context(), c.OutOrStdout(), a, rec, f)
		})
	}}
	s := c.Flags()
	s.StringVar(&f.unit, "unit", "", "id of the unit in the vehicle")
	s.StringVar(&f.vehicle, "vehicle", "", "what surrounds the unit, as a JSON file: cylinders, axle, pinion, circumference, joint, pieces, belts, bearings")
	s.StringVar(&f.in, "range", "", "range that was driven")
	s.StringVar(&f.known, "known", "", "source whose line gives the speed, between --low and --high: firing, engine, joint, shaft, wheel, pump")
	s.StringVar(&f.selector, "selector", "", "position of the selector; the one that shifts by itself when left out")
	s.BoolVar(&f.whine, "whine", false, "look for what whines, not what shakes")
	s.Float64Var(&f.road, "road", 0, "road speed that was held, km/h")
	s.Float64Var(&f.engine, "engine", 0, "engine speed that was held, rpm")
	s.Float64Var(&f.slip, "slip", 0, "share by which the converter slips")
	s.Float64Var(&f.doubt, "doubt", 0, "share by which the speed may be off")
	s.Float64Var(&f.from, "from", 0, "first moment, s")
	s.Float64Var(&f.to, "to", 0, "last moment, s; the end when left out")
	s.Float64Var(&f.low, "low", 0, "Hz")
	s.Float64Var(&f.high, "high", 0, "Hz")
	s.Float64Var(&f.top, "top", 500, "Hz up to which a spectrum is wanted")
	s.IntVar(&f.channel, "channel", 0, "channel, counted from 1; the first that is heard when left out")
	s.BoolVar(&f.asJSON, "json", false, "print JSON")
	return c
}

// withRecording keeps a file in a folder that goes when f returns.
func withRecording(ctx context.Context, path string, f heardFlags, use func(*app.App, recordings.Recording) error) error {
	return withRecordings(ctx, []string{path}, f, func(a *app.App, recs []recordings.Recording) error { return use(a, recs[0]) })
}

// withRecordings is withRecording for several.
func withRecordings(ctx context.Context, paths []string, f heardFlags, use func(*app.App, []recordings.Recording) error) (err error) {
	dir, err := os.MkdirTemp("", "innercompass-")
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, os.RemoveAll(dir)) }()
	kept, err := store.Open(dir)
	if err != nil {
		return err
	}
	defer func() { err = errors.Join(err, kept.Close()) }()
	know, err := catalog.Load(embedded.FS)
	if err != nil {
		return err
	}
	a := app.New(kept, know)
	const name = "this vehicle"
	if f.vehicle != "" {
		v, err := readVehicle(f.vehicle)
		if err != nil {
			return err
		}
		if _, err := a.Recordings.SaveVehicle(ctx, name, recordings.VehicleSheet{Vehicle: v}); err != nil {
			return wrongValue(err)
		}
	}
	var recs []recordings.Recording
	for _, path := range paths {
		file, err := os.Open(path)
		if err != nil {
			return cli.Wrong(err)
		}
		rec, err := a.Recordings.Bring(ctx, file, recordings.Bring{File: filepath.Base(path), Unit: f.unit, Vehicle: name, Driven: recordings.Driven{Range: f.in}})
		err = errors.Join(err, file.Close())
		if err != nil {
			return wrongValue(err)
		}
		recs = append(recs, rec)
	}
	return wrongValue(use(a, recs))
}

func readVehicle(path string) (vibration.Vehicle, error) {
	var v vibration.Vehicle
	text, err := os.Open(path)
	if err != nil {
		return v, cli.Wrong(err)
	}
	defer text.Close()
	dec := json.NewDecoder(text)
	dec.DisallowUnknownFields()
	if err := dec.Decode(&v); err != nil {
		return v, cli.Usage("%s: %v; accepted: JSON such as {\"cylinders\": 4, \"axle\": 3.7, \"circumference\": 2.1, \"pieces\": 2}", path, err)
	}
	return v, nil
}

// wrongValue makes wrong use of what a use case refuses.
func wrongValue(err error) error {
	var field *problem.FieldError
	var missing *problem.NotFoundError
	if errors.As(err, &field) || errors.As(err, &missing) {
		return cli.Wrong(err)
	}
	return err
}

func (f heardFlags) asked() hearing.Asked {
	a := hearing.Asked{From: f.from, To: f.to, Slip: f.slip, Road: f.road / 3.6, Engine: f.engine / 60, Whine: f.whine, Doubt: f.doubt, Known: f.known, Low: f.low, High: f.high}
	if f.channel > 0 {
		at := f.channel - 1
		a.Channel = &at
	}
	return a
}

func printInfo(_ context.Context, w io.Writer, _ *app.App, rec recordings.Recording, f heardFlags) error {
	if f.asJSON {
		return cli.PrintJSON(w, rec)
	}
	fmt.Fprintf(w, "%s: %s, %.3f s, %d rows, %.5g a second\n", rec.File, rec.Kind, rec.Seconds, rec.Rows, rec.Rate)
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	fmt.Fprintln(tw, "channel\tunit\tis\tvalues\tleast\tgreatest")
	for i, c := range rec.Channels {
		fmt.Fprintf(tw, "%d %s\t%s\t%s\t%d\t%.5g\t%.5g\n", i+1, c.Name, c.Unit, c.Role, c.Values, c.Low, c.High)
	}
	if err := tw.Flush(); err != nil {
		return err
	}
	for _, t := range recordings.Noticed(rec) {
		fmt.Fprintln(w, t)
	}
	return nil
}

func printSpectrum(ctx context.Context, w io.Writer, a *app.App, rec recordings.Recording, f heardFlags) error {
	s, err := a.Hearing.Spectrum(ctx, rec.ID, f.asked().Channel, f.from, f.to, f.top, f.low, f.high)
	if err != nil {
		return err
	}
	if f.asJSON {
		return cli.PrintJSON(w, s)
	}
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	fmt.Fprintf(tw, "Hz\tamplitude %s\tabove the noise, dB\n", s.Unit)
	for _, p := range s.Peaks {
		fmt.Fprintf(tw, "%.2f\t%.4g\t%.0f\n", p.Frequency, p.Amplitude, decibels(p.Ratio))
	}
	return tw.Flush()
}

// heardJSON is what turns, as it is printed for other programs.
type heardJSON struct {
	Headline string           `json:"headline"`
	From     float64          `json:"from"` // of the output, rev/s
	To       float64          `json:"to"`
	Late     float64          `json:"late"`
	Ridges   []ridgeJSON      `json:"ridges"`
	Levels   []float64        `json:"levels"` // Hz of what stays
	Drives   []orders.Parting `json:"drives"`
	Limits   []string         `json:"limits"`
}

type ridgeJSON struct {
	Order   float64     `json:"order"`
	SD      float64     `json:"sd"` // share
	Turning string      `json:"turning"`
	Unknown float64     `json:"unknown"`
	Could   []couldJSON `json:"could"`
}

type couldJSON struct {
	Source      string   `json:"source"`
	IDs         []string `json:"ids"`
	Multiple    int      `json:"multiple"`
	Probability float64  `json:"probability"`
	Off         float64  `json:"off"`
}

func printOrders(ctx context.Context, w io.Writer, a *app.App, rec recordings.Recording, f heardFlags) error {
	h, err := a.Hearing.Orders(ctx, rec.ID, f.asked())
	if err != nil {
		return err
	}
	out := heardJSON{Headline: h.Headline(), From: h.From, To: h.To, Late: h.Late, Ridges: []ridgeJSON{}, Levels: []float64{}, Drives: h.Parts, Limits: h.Limited()}
	for _, r := range h.Found {
		j := ridgeJSON{Order: r.Order, SD: r.SD, Turning: string(r.Turning), Unknown: r.Unknown, Could: []couldJSON{}}
		for _, c := range r.Could {
			j.Could = append(j.Could, couldJSON{h.Named(c.Class, c.Multiple), h.Classes[c.Class].IDs, c.Multiple, c.Probability, c.Off})
		}
		out.Ridges = append(out.Ridges, j)
	}
	for _, l := range h.Levels {
		out.Levels = append(out.Levels, l.Hertz)
	}
	if f.asJSON {
		return cli.PrintJSON(w, out)
	}
	fmt.Fprintln(w, out.Headline)
	tw := tabwriter.NewWriter(w, 0, 4, 2, ' ', 0)
	fmt.Fprintln(tw, "order\t± %\t\tcould be\tunknown")
	for _, r := range out.Ridges {
		var could []string
		for _, c := range r.Could[:min(3, len(r.Could))] {
			could = append(could, fmt.Sprintf("%s %.0f %%", c.Source, 100*c.Probability))
		}
		fmt.Fprintf(tw, "%.3f\t%.2f\t%s\t%s\t%.0f %%\n", r.Order, 200*r.SD, r.Turning, strings.Join(could, "; "), 100*r.Unknown)
	}
	if err := tw.Flush(); err != nil {
		return err
	}
	for _, l := range out.Levels {
		fmt.Fprintf(w, "Something stays at %.1f Hz.\n", l)
	}
	for _, p := range h.Parts {
		fmt.Fprintf(w, "%s: %.0f min, %.2f bits, leader right after it %.0f times of 100. %s\n", h.Drive(p), p.Minutes, p.Bits, 100*p.Right, h.Parting(p))
	}
	for _, l := range out.Limits {
		fmt.Fprintln(w, l)
	}
	return nil
}

func decibels(ratio float64) float64 { return 10 * math.Log10(ratio) }
