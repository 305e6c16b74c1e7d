package audit

import (
	"crypto/sha256"
	"encoding/hex"
	"strings"
	"testing"
	"time"
)

func trail(t *testing.T, n int) []Entry {
	t.Helper()
	var out []Entry
	prev := ""
	for i := range n {
		e := Entry{Seq: int64(i + 1), At: time.Date(2026, 1, 1, 0, i, 0, 0, time.UTC), Person: "p", Words: "w", Rows: []Row{{"readings/1", "r", "d"}}, Prev: prev}
		sum, err := e.Sum()
		if err != nil {
			t.Fatal(err)
		}
		e.Hash, prev = sum, sum
		out = append(out, e)
	}
	return out
}

func check(list []Entry) string {
	var c Chain
	for _, e := range list {
		if wrong := c.Next(e); wrong != "" {
			return wrong
		}
	}
	return ""
}

// Whatever is done to a trail but cutting off its end, some entry says so.
func TestAnAlteredTrailIsFound(t *testing.T) {
	if wrong := check(trail(t, 9)); wrong != "" {
		t.Fatal(wrong)
	}
	for name, spoil := range map[string]func([]Entry) []Entry{
		"another person":   func(l []Entry) []Entry { l[4].Person = "q"; return l },
		"another time":     func(l []Entry) []Entry { l[4].At = l[4].At.Add(time.Second); return l },
		"another row":      func(l []Entry) []Entry { l[4].Rows[0].Digest = "e"; return l },
		"one out":          func(l []Entry) []Entry { return append(l[:4:4], l[5:]...) },
		"the first out":    func(l []Entry) []Entry { return l[1:] },
		"two changed over": func(l []Entry) []Entry { l[3], l[4] = l[4], l[3]; return l },
		"one in between":   func(l []Entry) []Entry { return append(l[:4:4], append([]Entry{l[3]}, l[4:]...)...) },
		"hash with it": func(l []Entry) []Entry {
			l[4].Person = "q"
			l[4].Hash, _ = l[4].Sum()
			return l
		},
	} {
		if check(spoil(trail(t, 9))) == "" {
			t.Errorf("%s is not found", name)
		}
	}
}

// The hash is what its comment says, so that another program can check a trail: SHA-256 over the JSON without the hash.
func TestTheHashCanBeMadeByHand(t *testing.T) {
	e := Entry{Seq: 1, At: time.Date(2026, 11, 30, 12, 0, 0, 5e6, time.UTC), Name: "at the machine", Operation: "people add"}
	sum := sha256.Sum256([]byte(`{"seq":1,"at":"2026-11-30T12:00:00.005Z","name":"at the machine","operation":"people add","prev":""}`))
	if got, err := e.Sum(); err != nil || got != hex.EncodeToString(sum[:]) || strings.ToLower(got) != got {
		t.Errorf("%s, %v", got, err)
	}
}
