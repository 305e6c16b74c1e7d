package standin

import (
	"errors"
	"math"
	"math/rand/v2"
	"net"
	"time"

	"innercompass/core/obd"
	"innercompass/internal/scan"
)

// Modules.
const (
	EngineModule       = obd.FirstModule
	TransmissionModule = obd.FirstModule + 1
)

// Identifiers of the transmission's values (made up: each maker has its own).
const (
	IDTurbine  uint16 = 0xD001 // rev/min
	IDOutput   uint16 = 0xD002
	IDFluid    uint16 = 0xD003 // °C + 40
	IDGear     uint16 = 0xD004 // commanded, + 1: 0 is reverse, 1 neutral
	IDLine     uint16 = 0xD005 // kPa
	IDLockup   uint16 = 0xD006 // hold that is commanded, N·m
	IDSlip     uint16 = 0xD007 // engine − turbine + 8000, rev/min
	IDPressure uint16 = 0xD020 // of the first element, kPa; the others follow
)

// Number is the vehicle's: seventeen characters, none of I, O and Q, of no maker.
const Number = "XYZSTAND1N0000001"

// Trouble is what goes wrong on the line: shares of the answers.
type Trouble struct {
	Lost   float64 // a frame never comes
	Broken float64 // a sum is wrong
	Busy   float64 // the module asks to be asked again
	Late   float64 // it comes too late
}

// modules answers requests of the vehicle's modules. For one connection.
type modules struct {
	v   *Vehicle
	rng *rand.Rand
	t   Trouble
}

// answer is what a module says to a request; nil when it has nothing to say.
func (m modules) answer(module uint16, request []byte) []byte {
	if len(request) == 0 {
		return nil
	}
	no := func(reason byte) []byte { return []byte{obd.Negative, request[0], reason} }
	if m.rng.Float64() < m.t.Busy {
		return no(obd.Busy)
	}
	switch service := request[0]; {
	case service == obd.Current && module == EngineModule:
		return m.current(request[1:], no)
	case service == obd.Stored || service == obd.Pending:
		if module != TransmissionModule {
			return []byte{service + obd.Positive, 0}
		}
		m.v.mu.Lock()
		defer m.v.mu.Unlock()
		set := m.v.codes.stored
		if service == obd.Pending {
			set = m.v.codes.pending
		}
		return append([]byte{service + obd.Positive}, obd.PutCodes(list(set), true)...)
	case service == obd.Clear:
		m.v.mu.Lock()
		defer m.v.mu.Unlock()
		if m.v.now.Speed > 0.5 {
			return no(obd.Conditions)
		}
		if module == TransmissionModule {
			m.v.codes = newMonitor(m.v.unit)
		}
		return []byte{service + obd.Positive}
	case service == obd.Vehicle && module == EngineModule && len(request) > 1 && request[1] == 2:
		return append([]byte{service + obd.Positive, 2, 1}, Number...)
	case service == obd.ReadByID && module == TransmissionModule:
		return m.identified(request[1:], no)
	}
	return no(obd.NotSupported)
}

// engineIDs are the parameters that the engine's module has.
var engineIDs = []byte{0x04, 0x05, 0x0C, 0x0D, 0x0F, 0x11, 0x20, 0x40, 0x42, 0x49, 0x5C, 0x60, 0x62, 0x63}

func (m modules) current(ids []byte, no func(byte) []byte) []byte {
	m.v.mu.Lock()
	defer m.v.mu.Unlock()
	n, e := m.v.now, m.v.car.Engine
	out := []byte{obd.Current + obd.Positive}
	for _, id := range ids {
		if id%0x20 == 0 {
			mask := obd.SupportedMask(id, engineIDs)
			out = append(append(out, id), mask[:]...)
			continue
		}
		p, ok := obd.ParameterOf(id)
		if !ok {
			continue
		}
		value := map[byte]float64{0x04: 100 * math.Max(0, n.Torque) / e.Torque, 0x05: 90, 0x0C: n.Engine * rpm, 0x0D: math.Abs(n.Speed) * 3.6, 0x0F: 28, 0x11: 100 * n.Throttle, 0x42: 14.1, 0x49: 100 * n.Throttle, 0x5C: 95, 0x62: 100 * n.Torque / e.Torque, 0x63: e.Torque}[id]
		out = append(append(out, id), p.Put(value)...)
	}
	if len(out) == 1 {
		return no(obd.NotSupportedSub)
	}
	return out
}

func (m modules) identified(ids []byte, no func(byte) []byte) []byte {
	m.v.mu.Lock()
	defer m.v.mu.Unlock()
	out := []byte{obd.ReadByID + obd.Positive}
	for i := 0; i+1 < len(ids); i += 2 {
		id := uint16(ids[i])<<8 | uint16(ids[i+1])
		if v, ok := m.value(id); ok {
			x := uint16(math.Min(65535, math.Max(0, math.Round(v)))) //nolint:gosec // bounded
			out = append(out, ids[i], ids[i+1], byte(x>>8), byte(x)) //nolint:gosec // two bytes of it
		}
	}
	if len(out) == 1 {
		return no(obd.OutOfRange)
	}
	return out
}

// value of an identifier, with the noise of the module's own sensors.
func (m modules) value(id uint16) (float64, bool) {
	n := m.v.now
	electric := m.v.unit.Electric()
	switch id {
	case IDTurbine:
		return n.Turbine*rpm + 4*m.rng.NormFloat64(), true
	case IDOutput:
		return math.Abs(n.Output)*rpm + 2.5*m.rng.NormFloat64(), true
	case IDFluid:
		return n.Celsius + 40, true
	case IDGear:
		return float64(1 + m.v.unit.GearNumber(n.To)), electric
	case IDLine:
		return n.Line/1e3 + 3*m.rng.NormFloat64(), electric
	case IDLockup:
		return n.Lockup, electric
	case IDSlip:
		return 8000 + (n.Engine-n.Turbine)*rpm + 4*m.rng.NormFloat64(), electric
	}
	if i := int(id) - int(IDPressure); i >= 0 && i < len(m.v.unit.Elements) {
		e := m.v.unit.Elements[i]
		return m.v.taps[e.ID]/1e3 + 3*m.rng.NormFloat64(), e.Pressed()
	}
	return 0, false
}

// Serve answers frames on a connection until it closes.
func (v *Vehicle) Serve(c net.Conn, seed uint64, t Trouble) {
	m := modules{v: v, rng: rand.New(rand.NewPCG(seed, 0xbad)), t: t}
	s := &server{m: m, bus: scan.Frames(c), joins: map[uint16]*obd.Join{}}
	defer c.Close()
	for {
		f, err := s.bus.Receive(time.Time{})
		if errors.Is(err, scan.ErrBroken) {
			continue
		}
		if err != nil {
			return
		}
		s.take(f)
	}
}

// server is the modules behind one connection.
type server struct {
	m     modules
	bus   scan.Bus
	joins map[uint16]*obd.Join // of what comes, by module
	wait  []obd.Frame          // what waits for a flow control
}

func (s *server) take(f obd.Frame) {
	if flow, ok := obd.FlowOf(f); ok {
		if flow.Status == obd.Continue {
			rest := s.wait
			s.wait = nil
			for _, x := range rest {
				s.send(x)
			}
		}
		return
	}
	to := []uint16{f.ID}
	if f.ID == obd.Functional {
		to = []uint16{EngineModule, TransmissionModule}
	}
	for _, module := range to {
		if module != EngineModule && module != TransmissionModule {
			continue
		}
		j := s.joins[module]
		if j == nil {
			j = &obd.Join{}
			s.joins[module] = j
		}
		message, flow, err := j.Take(f)
		if err != nil {
			continue
		}
		if flow {
			_ = s.bus.Send(obd.Flow{}.Frame(module + obd.Answers)) // a line that is gone shows at the next frame
		}
		if message == nil {
			continue
		}
		answer := s.m.answer(module, message)
		frames, err := obd.Split(module+obd.Answers, answer)
		if err != nil {
			continue
		}
		if s.m.rng.Float64() < s.m.t.Late {
			time.Sleep(80 * time.Millisecond)
		}
		s.wait = frames[1:]
		s.send(frames[0])
	}
}

// send sends a frame, unless it gets lost; or broken.
func (s *server) send(f obd.Frame) {
	if s.m.rng.Float64() < s.m.t.Lost {
		return
	}
	if s.m.rng.Float64() < s.m.t.Broken {
		f.Data[0] ^= 0x40
	}
	_ = s.bus.Send(f) // as above
}

// ServeLine answers messages on a serial line until it closes: the older form, one message at a time, to all modules at once.
func (v *Vehicle) ServeLine(c net.Conn, seed uint64, t Trouble) {
	m := modules{v: v, rng: rand.New(rand.NewPCG(seed, 0xbad)), t: t}
	defer c.Close()
	buf := make([]byte, 64)
	for {
		n, err := c.Read(buf)
		if err != nil {
			return
		}
		request, _, err := obd.FromLine(buf[:n])
		if err != nil || len(request) == 0 {
			continue
		}
		for i, module := range addressed(request[0]) {
			if i > 0 {
				time.Sleep(modulePause)
			}
			out := m.onLine(module, request)
			if len(out) == 0 {
				continue
			}
			if _, err := c.Write(out); err != nil {
				return
			}
		}
	}
}

// modulePause is how long a module waits for the one before it on a serial line (ISO 9141-2, from memory: 25 to 50 ms).
const modulePause = 30 * time.Millisecond

// addressed are the modules that answer a service.
func addressed(service byte) []uint16 {
	switch service {
	case obd.ReadByID:
		return []uint16{TransmissionModule}
	case obd.Stored, obd.Pending, obd.Clear:
		return []uint16{EngineModule, TransmissionModule}
	}
	return []uint16{EngineModule}
}

// onLine is what a module puts onto a serial line, nothing when it gets lost.
func (m modules) onLine(module uint16, request []byte) []byte {
	answer := m.answer(module, request)
	if len(answer) > 1 && (answer[0] == obd.Stored+obd.Positive || answer[0] == obd.Pending+obd.Positive) { // no count
		if codes, err := obd.Codes(answer[1:], true); err == nil {
			answer = append([]byte{answer[0]}, obd.PutCodes(codes, false)...)
		}
	}
	pieces, err := obd.Pieces(answer)
	if err != nil || m.rng.Float64() < m.t.Lost {
		return nil
	}
	var out []byte
	for _, p := range pieces {
		b, err := obd.Line(p, byte(0x10+module-obd.FirstModule), true) //nolint:gosec // one of two
		if err != nil {
			return nil
		}
		out = append(out, b...)
	}
	if m.rng.Float64() < m.t.Broken {
		out[len(out)-1] ^= 1
	}
	return out
}
