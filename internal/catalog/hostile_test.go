package catalog

import (
	"context"
	"fmt"
	"math/rand/v2"
	"runtime"
	"strings"
	"testing"
	"time"
)

// hostile are a hundred sheets that somebody might send to hurt the server, by what they try.
func hostile(t *testing.T) map[string]string {
	t.Helper()
	c := load(t)
	good := string(c.Text("norrad-h4"))
	lines := strings.Split(good, "\n")
	r := rand.New(rand.NewPCG(1, 9))
	out := map[string]string{
		"empty": "", "blanks": "  \n\n ", "a mark alone": "\xef\xbb\xbf", "not UTF-8": "id: \xff\xfe", "zero bytes": strings.Repeat("\x00", 1000), "a number": "7", "a list": "[1, 2]", "a text": "hello", "a tag": "!!binary aGVsbG8=",
		"key true": "true: {a: 1}\n" + good, "key number": "7: x\n" + good, "key null": "~: x\n" + good, "key list": "? [a, b]\n: x\n" + good, "null value": strings.Replace(good, "\nversion: ", "\nversion: ~ #", 1),
		"second document": good + "\n---\n" + good, "anchors": "a: &a [x, x]\nb: [*a, *a]\n", "billion laughs": laughs(), "merge": "a: &a {x: 1}\n<<: *a\n",
		"duplicate key": good + "\nid: other\n", "unknown key": "surprise: 1\n" + good, "deep lists": strings.Repeat("[", 5000), "deep maps": strings.Repeat("{a: ", 5000), "deep indent": deep(400), "long line": "id: " + strings.Repeat("x", 900_000),
		"40,000 unknown keys": keys(40_000), "40,000 unknown keys in gearing": "gearing:\n" + indented(keys(20_000)), "400,000 items": "ranges: [" + strings.Repeat("1,", 400_000) + "1]", "tabs": strings.ReplaceAll(good, "  ", "\t"),
		"too large": strings.Repeat("# x\n", 300_000), "open quote": strings.Replace(good, "name: ", "name: \"", 1), "infinity": strings.Replace(good, "forward_sign: 1", "forward_sign: .inf", 1), "not a number": strings.Replace(good, "forward_sign: 1", "forward_sign: .nan", 1),
		"hex": strings.Replace(good, "\nversion: ", "\nversion: 0x7fffffffffffffff #", 1), "huge version": strings.Replace(good, "\nversion: ", "\nversion: 99999999999999999999999 #", 1),
		"1e308 torque": strings.Replace(good, "max_torque: ", "max_torque: 1e308 N·m #", 1), "own of any kind": good + "\nown: {causes: [[[[1]]]]}\n", "own many": good + "\nown:\n  findings:\n" + strings.Repeat("    - {id: x, title: y, stage: checks, states: [{id: a, title: b}]}\n", 8000),
	}
	for n := 9; n <= 24; n++ { // trains whose freewheels and members multiply
		out[fmt.Sprintf("%d freewheels", n)] = train(n, 6, r)
	}
	for n := 8; n <= 40; n += 4 {
		out[fmt.Sprintf("8 freewheels on %d members", n)] = train(8, n, r)
	}
	for i := range 100 - len(out) {
		b := []byte(good)
		what := ""
		switch i % 4 {
		case 0: // bytes changed at random
			for range 1 + r.IntN(12) {
				b[r.IntN(len(b))] = byte(r.IntN(256))
			}
			what = "bytes"
		case 1: // lines again and again
			at := r.IntN(len(lines) - 5)
			b = []byte(strings.Join(lines[:at], "\n") + "\n" + strings.Repeat(strings.Join(lines[at:at+4], "\n")+"\n", 500) + strings.Join(lines[at:], "\n"))
			what = "lines repeated"
		case 2: // cut off
			b = b[:r.IntN(len(b))]
			what = "cut off"
		default: // numbers blown up
			s := good
			for range 6 {
				s = strings.Replace(s, fmt.Sprint(1+r.IntN(9)), fmt.Sprintf("%d%0*d", 1+r.IntN(9), 1+r.IntN(30), 0), 1+r.IntN(3))
			}
			b = []byte(s)
			what = "numbers"
		}
		out[fmt.Sprintf("%s %d", what, i)] = string(b)
	}
	return out
}

func laughs() string {
	var b strings.Builder
	b.WriteString("a0: &a0 [x,x,x,x,x,x,x,x,x]\n")
	for i := 1; i < 9; i++ {
		fmt.Fprintf(&b, "a%d: &a%d [%s*a%d]\n", i, i, strings.Repeat(fmt.Sprintf("*a%d,", i-1), 8), i-1)
	}
	return b.String()
}

func deep(n int) string {
	var b strings.Builder
	for i := range n {
		b.WriteString(strings.Repeat(" ", i) + "a:\n")
	}
	return b.String()
}

func keys(n int) string {
	var b strings.Builder
	for i := range n {
		fmt.Fprintf(&b, "k%d: 1\n", i)
	}
	return b.String()
}

func indented(s string) string { return "  " + strings.ReplaceAll(strings.TrimSpace(s), "\n", "\n  ") }

// train is a sheet with so many freewheels between so many members, and a range for each element.
func train(freewheels, members int, r *rand.Rand) string {
	var b strings.Builder
	b.WriteString("format: inner-compass-unit/2\nid: hostile\nversion: 1\nname: Hostile\ncontrol: hand\ngearing:\n  members: [in, out")
	for i := range members {
		fmt.Fprintf(&b, ", m%d", i)
	}
	b.WriteString("]\n  input: in\n  output: out\n  forward_sign: 1\nelements:\n  - {id: C, name: c, kind: clutch, a: in, b: m0, capacity: 500 N·m}\n  - {id: D, name: d, kind: clutch, a: m1, b: out, capacity: 500 N·m}\n")
	for i := range freewheels {
		fmt.Fprintf(&b, "  - {id: F%d, name: f, kind: freewheel, a: m%d, b: m%d}\n", i, i%members, (i+1+r.IntN(members-1))%members)
	}
	b.WriteString("ranges:\n")
	for i := range 40 {
		fmt.Fprintf(&b, "  - {id: R%d, selector: S, name: r, applied: [C, D], outcome: forward}\n", i)
	}
	return b.String()
}

// Each of a hundred hostile sheets is answered within two seconds and 200 MB, with problems that have a line and say what would
// be accepted, in words that name nothing of the program.
func TestHostileSheetsAreAnswered(t *testing.T) {
	c := load(t)
	all := hostile(t)
	if len(all) != 100 {
		t.Fatalf("%d sheets", len(all))
	}
	const longest, most = 2 * time.Second, 200 << 20
	for what, text := range all {
		runtime.GC()
		var before, after runtime.MemStats
		runtime.ReadMemStats(&before)
		peak, stop := watchHeap()
		ctx, cancel := context.WithTimeout(context.Background(), longest)
		n, bad, err := c.Check(ctx, []byte(text))
		late := ctx.Err()
		cancel()
		stop()
		runtime.ReadMemStats(&after)
		if err != nil || late != nil {
			t.Errorf("%s: not answered in time: %v", what, err)
		}
		if used := max(*peak, after.HeapAlloc) - before.HeapAlloc; used > most && *peak > before.HeapAlloc {
			t.Errorf("%s: took %d MB", what, used>>20)
		}
		if n == nil && len(bad) == 0 {
			t.Errorf("%s: neither a unit nor a problem", what)
		}
		for _, p := range bad {
			for _, word := range []string{"Go struct", "unmarshal", "unitsheet.", "diagnose.", "bayes", "NaN", "EOF", "interface", "map[", "[]string"} {
				if strings.Contains(p.Reason, word) || strings.Contains(p.Accepted, word) {
					t.Errorf("%s: %q of the program in: %s; %s", what, word, p.Reason, p.Accepted)
				}
			}
			if p.Reason == "" || strings.HasSuffix(strings.TrimSpace(p.Reason), "at") {
				t.Errorf("%s: a problem that says nothing: %+v", what, p)
			}
		}
	}
}

// watchHeap follows how large the heap grows until it is told to stop.
func watchHeap() (peak *uint64, stop func()) {
	peak = new(uint64)
	end, done := make(chan struct{}), make(chan struct{})
	go func() {
		defer close(done)
		for {
			select {
			case <-end:
				return
			case <-time.After(5 * time.Millisecond):
				var m runtime.MemStats
				runtime.ReadMemStats(&m)
				*peak = max(*peak, m.HeapAlloc)
			}
		}
	}()
	return peak, func() { close(end); <-done }
}

// A deadline that has passed is noticed: whoever went away costs nothing more.
func TestACheckStopsWhenNobodyWaits(t *testing.T) {
	c := load(t)
	ctx, cancel := context.WithCancel(context.Background())
	cancel()
	if n, bad, err := c.Check(ctx, c.Text("vantrice-t10")); n != nil || bad != nil || err == nil {
		t.Errorf("%v %v %v", n, bad, err)
	}
}

// The problems that YAML itself hides are named with their line.
func TestWhatYAMLHidesIsRefused(t *testing.T) {
	c := load(t)
	good := string(c.Text("norrad-d2"))
	after := strings.Count(good, "\n")
	for reason, x := range map[string]struct {
		text string
		line int
	}{
		"the key true is no text": {good + "true: 1\n", after + 1}, "the key 7 is no text": {good + "7: 1\n", after + 1}, "a value that is nothing": {good + "own: ~\n", after + 1},
		"a second document": {good + "---\nid: x\n", after + 2}, "the file is empty": {"", 1}, "already defined at line": {good + "id: other\n", after + 1},
		"a text where a whole number belongs": {strings.Replace(good, "\nversion: ", "\nversion: one #", 1), 0}, " keys in one place": {keys(201) + good, 0},
	} {
		_, bad, _ := c.Check(context.Background(), []byte(x.text))
		found := false
		for _, p := range bad {
			found = found || strings.Contains(p.Reason, reason) && (x.line == 0 || p.Line == x.line) && p.Accepted != ""
		}
		if !found {
			t.Errorf("want %q at line %d: %+v", reason, x.line, bad)
		}
	}
	if n, bad, _ := c.Check(context.Background(), []byte("\xef\xbb\xbf"+good)); n == nil {
		t.Errorf("a mark before the text: %+v", bad[0])
	}
}
