package live

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"slices"
	"sync"
	"time"

	"innercompass/core/faultmap"
	"innercompass/core/sim"
	"innercompass/core/testdrive"
	"innercompass/core/unitsheet"
	"innercompass/internal/cases"
	"innercompass/internal/library"
	"innercompass/internal/problem"
	"innercompass/internal/readings"
	"innercompass/internal/recordings"
	"innercompass/internal/scan"
	"innercompass/internal/standin"
)

// Service holds the vehicle that is connected: one at a time.
type Service struct {
	Library    *library.Service
	Recordings *recordings.Service
	Cases      *cases.Service
	Readings   *readings.Service

	mu  sync.Mutex
	now *session
}

// Asked is what to connect with: a vehicle that stands in, with a failure of its design or a sound one.
type Asked struct {
	Unit    string
	Failure string // title of a failure; "" for none, "?" for one that nobody is told
	Celsius float64
	Seed    uint64
	Bad     bool // the line is no good: frames are lost, sums wrong, modules busy
	Serial  bool // messages on a serial line, as older vehicles have it, instead of frames
}

// State is how it stands.
type State struct {
	Unit       *unitsheet.Unit
	Channels   []Channel
	Watched    []string
	Connected  bool
	Lost       string
	Number     string
	Rate       float64
	Again      int
	Gaps       int
	Codes      []Code
	CodesRead  bool
	CodesNoted bool
	Recording  bool
	Recorded   float64 // s
	Full       bool
	Marks      int
	Input      sim.Input
	Range      string
	Selectors  []string
	At         float64
}

// Failures are the titles of what may be put into the vehicle that stands in for a unit.
func (s *Service) Failures(ctx context.Context, unit string) ([]string, error) {
	n, err := s.Library.Unit(ctx, unit, 0)
	if err != nil {
		return nil, err
	}
	var out []string
	for _, f := range failuresOf(n.Unit) {
		out = append(out, f.title)
	}
	return out, nil
}

// failure is one that may be put in.
type failure struct {
	title  string
	faults []sim.Fault
}

func failuresOf(u *unitsheet.Unit) []failure {
	var out []failure
	for _, f := range faultmap.Faults(u) {
		if x, ok := testdrive.Of(u, f); ok {
			row, err := faultmap.Predict(u, f)
			if err != nil {
				continue // the design cannot have it
			}
			out = append(out, failure{row.Title, x})
		}
	}
	return out
}

// Connect connects. What was connected before is let go, unless it records.
func (s *Service) Connect(ctx context.Context, a Asked) (State, error) {
	n, err := s.Library.Unit(ctx, a.Unit, 0)
	if err != nil {
		return State{}, err
	}
	if !(a.Celsius >= -30 && a.Celsius <= 140) {
		return State{}, problem.Field("celsius", fmt.Sprint(a.Celsius), "−30 to 140 °C")
	}
	faults, err := s.faults(n.Unit, a)
	if err != nil {
		return State{}, err
	}
	v, err := standin.New(standin.Setup{Unit: n.Unit, Faults: faults, Celsius: a.Celsius, Seed: a.Seed})
	if err != nil {
		return State{}, problem.Field("unit", err.Error(), "a unit whose gears are known, with its converter or dry clutch")
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.now != nil && s.now.recordingRuns() {
		return State{}, problem.Field("vehicle", "a recording runs", "stop it first")
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return State{}, err
	}
	if s.now != nil {
		s.now.end()
	}
	run, stop := context.WithCancel(context.Background())
	x := &session{unit: n.Unit, vehicle: v, serial: a.Serial, addr: l.Addr().String(), stop: stop, done: make(chan struct{}), begun: time.Now(), all: channelsOf(n.Unit), asked: make(chan func(*scan.Reader))}
	for _, id := range first {
		x.watched = append(x.watched, slices.IndexFunc(x.all, func(c Channel) bool { return c.ID == id }))
	}
	trouble := standin.Trouble{}
	if a.Bad {
		trouble = standin.Trouble{Lost: 0.002, Broken: 0.002, Busy: 0.01, Late: 0.001}
	}
	go v.Run(run)
	answer := v.Serve
	if a.Serial {
		answer = v.ServeLine
	}
	go serve(run, l, func(c net.Conn) { answer(c, a.Seed, trouble) })
	go x.run(run)
	s.now = x
	for range 60 { // it answers in some milliseconds; on a serial line in half a second
		if st := x.state(); st.Connected || ctx.Err() != nil {
			break
		}
		time.Sleep(25 * time.Millisecond)
	}
	return x.state(), nil
}

// serve is the adapter: it takes one connection after the other.
func serve(ctx context.Context, l net.Listener, answer func(c net.Conn)) {
	go func() {
		<-ctx.Done()
		if err := l.Close(); err != nil {
			slog.Debug("the stand-in's door is closed", "error", err)
		}
	}()
	for {
		c, err := l.Accept()
		if err != nil {
			return
		}
		go func() {
			<-ctx.Done()
			_ = c.Close() // it may be closed already
		}()
		go answer(c)
	}
}

// faults are those of the failure that was asked for.
func (s *Service) faults(u *unitsheet.Unit, a Asked) ([]sim.Fault, error) {
	if a.Failure == "" {
		return nil, nil
	}
	all := failuresOf(u)
	if a.Failure == "?" && len(all) > 0 {
		return all[int((a.Seed*2654435761)%uint64(len(all)))].faults, nil //nolint:gosec // an index
	}
	for _, x := range all {
		if x.title == a.Failure {
			return x.faults, nil
		}
	}
	return nil, problem.Field("failure", fmt.Sprintf("%q", a.Failure), "one of the list, nothing, or ? for one that nobody is told")
}

// current is the session; an error when nothing is connected.
func (s *Service) current() (*session, error) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.now == nil {
		return nil, problem.NotFound("vehicle", "connected", "connect one first")
	}
	return s.now, nil
}

// State says how it stands; false when nothing is connected.
func (s *Service) State() (State, bool) {
	x, err := s.current()
	if err != nil {
		return State{}, false
	}
	return x.state(), true
}

// Disconnect lets the vehicle go. A recording that runs is lost only when that is said.
func (s *Service) Disconnect(drop bool) error {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.now == nil {
		return nil
	}
	if s.now.recordingRuns() && !drop {
		return problem.Field("vehicle", "a recording runs", "stop it first")
	}
	s.now.end()
	s.now = nil
	return nil
}

// Watch chooses the channels.
func (s *Service) Watch(ids []string) (State, error) {
	x, err := s.current()
	if err != nil {
		return State{}, err
	}
	if err := x.watch(ids); err != nil {
		return State{}, err
	}
	return x.state(), nil
}

// Drive changes how the stand-in is driven; what is not changed stays as it is.
func (s *Service) Drive(change func(in *sim.Input)) (State, error) {
	x, err := s.current()
	if err != nil {
		return State{}, err
	}
	if err := x.drive(change); err != nil {
		return State{}, err
	}
	return x.state(), nil
}

// mostAtOnce is how many rows are handed out at once.
const mostAtOnce = 500

// Rows are those after a number, the latest when there are too many; with how it stands; without a unit when nothing is connected.
func (s *Service) Rows(after int) (State, []Row, error) {
	x, err := s.current()
	if err != nil {
		return State{}, nil, nil //nolint:nilerr // nothing connected is an answer, too
	}
	x.mu.Lock()
	i, _ := slices.BinarySearchFunc(x.rows, after+1, func(r Row, seq int) int { return r.Seq - seq })
	rows := slices.Clone(x.rows[max(i, len(x.rows)-mostAtOnce):])
	x.mu.Unlock()
	return x.state(), rows, nil
}

func (s *session) recordingRuns() bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.recording != nil
}

// end lets it go.
func (s *session) end() {
	s.stop()
	<-s.done
}

func (s *session) state() State {
	in, n := s.vehicle.Driven()
	s.mu.Lock()
	defer s.mu.Unlock()
	st := State{Unit: s.unit, Channels: slices.Clone(s.all), Connected: s.connected, Lost: s.lost, Number: s.number, Rate: s.rate, Again: s.again, Gaps: s.gaps, Codes: slices.Clone(s.codes), CodesRead: s.codesRead, CodesNoted: s.noted, Input: in, Range: n.Range, Selectors: s.vehicle.Selectors(), At: time.Since(s.begun).Seconds()}
	for _, i := range s.watched {
		st.Watched = append(st.Watched, s.all[i].ID)
	}
	if r := s.recording; r != nil {
		st.Recording, st.Full, st.Marks = true, r.full, len(r.marks)
		if len(r.rows) > 0 {
			st.Recorded = r.rows[len(r.rows)-1].At - r.rows[0].At
		}
	}
	return st
}
