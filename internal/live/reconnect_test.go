package live

import (
	"context"
	"net"
	"testing"
	"time"

	"innercompass/internal/scan"
	"innercompass/internal/standin"
	"innercompass/internal/trial"
)

// The plug is pulled in mid drive: it says so, tries again, and goes on with the channels that were watched.
func TestALineThatIsLostIsTriedAgain(t *testing.T) {
	u := trial.Load(t).Networks["ombrin-s6"].Unit
	v, err := standin.New(standin.Setup{Unit: u, Celsius: 80})
	if err != nil {
		t.Fatal(err)
	}
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		t.Fatal(err)
	}
	defer l.Close()
	plugged := make(chan net.Conn, 4)
	go func() {
		for {
			c, err := l.Accept()
			if err != nil {
				return
			}
			plugged <- c
			go v.Serve(c, 1, standin.Trouble{})
		}
	}()
	ctx, stop := context.WithCancel(context.Background())
	s := &session{unit: u, vehicle: v, addr: l.Addr().String(), stop: stop, done: make(chan struct{}), begun: time.Now(), all: channelsOf(u), watched: []int{0, 1, 2}, asked: make(chan func(*scan.Reader))}
	defer s.end()
	go s.run(ctx)
	until := func(what string, holds func(State) bool) {
		t.Helper()
		for range 500 {
			if holds(s.state()) {
				return
			}
			time.Sleep(20 * time.Millisecond)
		}
		t.Fatalf("%s: not in ten seconds: %+v", what, s.state().Lost)
	}
	seq := func() int {
		s.mu.Lock()
		defer s.mu.Unlock()
		return s.seq
	}
	until("connected", func(st State) bool { return st.Connected && seq() > 10 })
	if err := (<-plugged).Close(); err != nil {
		t.Fatal(err)
	}
	until("lost and back", func(st State) bool { return st.Gaps == 1 && st.Connected })
	was := seq()
	until("values again", func(st State) bool { return seq() > was+10 && len(st.Watched) == 3 })
}
