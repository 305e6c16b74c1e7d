// Package live is what is connected now: values watched as they come, marked, recorded; codes read with their status, and cleared only once they are noted; and, while a vehicle
// stands in, driving it.
package live

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"net"
	"slices"
	"sync"
	"time"

	"innercompass/core/sim"
	"innercompass/core/unitsheet"
	"innercompass/internal/problem"
	"innercompass/internal/scan"
	"innercompass/internal/standin"
)

// Row is all channels at one time.
type Row struct {
	Seq   int
	At    float64 // s since it was connected
	Value []float64
}

// mostRows is how much is kept to look back, at 50 a second ten minutes, and mostRecorded the longest recording.
const (
	mostRows     = 30_000
	mostRecorded = 3600 * rate
	rate         = 50
	fewestRows   = 5 // that tell how often they come
)

// session is one vehicle that is connected.
type session struct {
	unit    *unitsheet.Unit
	vehicle *standin.Vehicle
	addr    string
	serial  bool // messages on a serial line, one value at a time
	stop    context.CancelFunc
	done    chan struct{}
	begun   time.Time

	driving sync.Mutex // one change of the driver's at a time

	mu        sync.Mutex
	all       []Channel
	watched   []int // of all
	rows      []Row
	seq       int
	number    string
	connected bool
	lost      string // why it is not, in words
	again     int    // answers that had to be asked again
	gaps      int    // times that the line was lost
	rate      float64
	codes     []Code
	codesRead bool
	noted     bool
	recording *recorded
	asked     chan func(r *scan.Reader) // what is done between two rounds of values
}

// mostWatched is how many channels are read at once.
const mostWatched = 24

// watch chooses the channels.
func (s *session) watch(ids []string) error {
	if len(ids) == 0 || len(ids) > mostWatched {
		return problem.Field("channels", fmt.Sprintf("%d channels", len(ids)), fmt.Sprintf("1 to %d", mostWatched))
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.recording != nil {
		return problem.Field("channels", "a recording runs", "stop it first")
	}
	var out []int
	for _, id := range ids {
		i := slices.IndexFunc(s.all, func(c Channel) bool { return c.ID == id })
		switch {
		case i < 0:
			return problem.Field("channels", fmt.Sprintf("%q", id), "a channel of this vehicle")
		case s.all[i].Missing != "":
			return problem.Field("channels", s.all[i].Name+": "+s.all[i].Missing, "a channel that the vehicle has")
		case !slices.Contains(out, i):
			out = append(out, i)
		}
	}
	s.watched = out
	s.rows = nil // other columns
	return nil
}

// run reads until the context ends, and connects again whenever the line is lost.
func (s *session) run(ctx context.Context) {
	defer close(s.done)
	const wait = 400 * time.Millisecond
	for ctx.Err() == nil {
		err := s.connect(ctx)
		s.mu.Lock()
		if s.connected {
			s.gaps++
		}
		s.connected = false
		if err != nil && ctx.Err() == nil {
			s.lost = words(err)
		}
		s.mu.Unlock()
		select {
		case <-ctx.Done():
		case <-time.After(wait):
		}
	}
}

func words(err error) string {
	var op *net.OpError
	switch {
	case errors.Is(err, scan.ErrSilent):
		return "The adapter is there, the vehicle does not answer. Ignition on?"
	case errors.As(err, &op):
		return "The adapter is not there. It is tried again twice a second."
	}
	return err.Error()
}

// connect dials, asks what there is, and reads round after round.
func (s *session) connect(ctx context.Context) error {
	d := net.Dialer{Timeout: time.Second}
	c, err := d.DialContext(ctx, "tcp", s.addr)
	if err != nil {
		return err
	}
	link := scan.OverCAN(scan.Frames(c))
	if s.serial {
		link = scan.OverLine(c)
	}
	r := scan.NewReader(link)
	defer r.Close()
	if err := s.ask(ctx, r); err != nil {
		return err
	}
	const tick = time.Second / rate
	t := time.NewTicker(tick)
	defer t.Stop()
	rng := rand.New(rand.NewPCG(uint64(time.Now().UnixNano()), 1)) //nolint:gosec // tremble of a gauge
	for {
		select {
		case <-ctx.Done():
			return ctx.Err()
		case f := <-s.asked:
			f(r)
		case <-t.C:
			if err := s.round(ctx, r, rng); err != nil {
				return err
			}
		}
	}
}

// ask asks the vehicle what it has.
func (s *session) ask(ctx context.Context, r *scan.Reader) error {
	pids, err := r.Supported(ctx, standin.EngineModule)
	if err != nil {
		return err
	}
	number, err := r.Number(ctx)
	if err != nil {
		return err
	}
	var dids []uint16
	for _, c := range s.all {
		if c.did != 0 {
			dids = append(dids, c.did)
		}
	}
	have, err := r.Identified(ctx, standin.TransmissionModule, dids)
	if err != nil {
		return err
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	for i := range s.all {
		c := &s.all[i]
		c.Missing = ""
		if _, ok := have[c.did]; c.did != 0 && !ok {
			c.Missing = "not supported by the transmission module"
		}
		if c.pid != 0 && !slices.Contains(pids, c.pid) {
			c.Missing = "not supported by the engine module"
		}
	}
	s.watched = slices.DeleteFunc(s.watched, func(i int) bool { return s.all[i].Missing != "" })
	s.number, s.connected, s.lost = number, true, ""
	return nil
}

// round reads all channels that are watched once.
func (s *session) round(ctx context.Context, r *scan.Reader, rng *rand.Rand) error {
	s.mu.Lock()
	watched, all := slices.Clone(s.watched), s.all
	s.mu.Unlock()
	var pids []byte
	var dids []uint16
	tools := false
	for _, i := range watched {
		c := all[i]
		if c.pid != 0 {
			pids = append(pids, c.pid)
		}
		if c.did != 0 {
			dids = append(dids, c.did)
		}
		tools = tools || c.tool != nil
	}
	current, err := r.Current(ctx, standin.EngineModule, pids)
	if err != nil {
		return err
	}
	at := time.Since(s.begun).Seconds()
	identified, err := r.Identified(ctx, standin.TransmissionModule, dids)
	if err != nil {
		return err
	}
	var seen standin.Tools
	if tools {
		seen = s.vehicle.Read(s.gauges(), rng)
	}
	row := Row{At: at, Value: make([]float64, len(watched))}
	for k, i := range watched {
		c := all[i]
		v, had := current[c.pid]
		switch {
		case c.tool != nil:
			v, had = c.tool(seen), true
		case c.did != 0:
			var raw uint16
			raw, had = identified[c.did]
			if v = float64(raw); c.scale != nil {
				v = c.scale(raw)
			}
		}
		if !had {
			return nil // a row with a hole would look like nothing: the next one comes in a fiftieth of a second
		}
		row.Value[k] = v
	}
	s.keep(row, watched, r.Again)
	return nil
}

// gauges are one for the line and one for each tap.
func (s *session) gauges() map[string]standin.Gauge {
	out := map[string]standin.Gauge{"line": standin.NewGauge(1)}
	for i, e := range s.unit.Elements {
		if e.Pressed() {
			out[e.ID] = standin.NewGauge(uint64(i) + 2) //nolint:gosec // some ten
		}
	}
	return out
}

func (s *session) keep(row Row, watched []int, again int) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if !slices.Equal(watched, s.watched) {
		return // others were chosen meanwhile
	}
	s.seq++
	row.Seq = s.seq
	s.again = again
	if back := min(len(s.rows), rate); back >= fewestRows { // over a second of frames, over some rows of a slow line
		s.rate = float64(back) / (row.At - s.rows[len(s.rows)-back].At)
	}
	if len(s.rows) >= mostRows {
		s.rows = append(s.rows[:0], s.rows[mostRows/10:]...)
	}
	s.rows = append(s.rows, row)
	if x := s.recording; x != nil && !x.full {
		x.rows = append(x.rows, row)
		x.full = len(x.rows) >= mostRecorded
	}
}

// between does something with the reader between two rounds.
func (s *session) between(ctx context.Context, do func(r *scan.Reader) error) error {
	out := make(chan error, 1)
	ctx, stop := context.WithTimeout(ctx, 3*time.Second)
	defer stop()
	select {
	case s.asked <- func(r *scan.Reader) { out <- do(r) }:
	case <-ctx.Done():
		return problem.Field("vehicle", "it is not connected", "a vehicle that answers")
	}
	select {
	case err := <-out:
		return err
	case <-ctx.Done():
		return problem.Field("vehicle", "it does not answer", "a vehicle that answers")
	}
}

// drive drives the stand-in.
func (s *session) drive(change func(in *sim.Input)) error {
	s.driving.Lock()
	defer s.driving.Unlock()
	in, _ := s.vehicle.Driven()
	change(&in)
	var bad *standin.DriveError
	if err := s.vehicle.Drive(in); errors.As(err, &bad) {
		return problem.Field(bad.Field, bad.Reason, bad.Accepted)
	} else if err != nil {
		return err
	}
	return nil
}
