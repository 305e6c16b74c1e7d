package cases

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"sync"

	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// Guard is what a change of a case is held against, as the page that asks for it knows the case.
type Guard struct {
	Rev int    // revision that the page showed; 0 when it does not matter what was done since
	Key string // made once for each thing done, the same when it is sent again; empty when it is not sent again
}

// keyShape is what a key may be: long enough for any random id, with nothing that means something elsewhere.
var keyShape = regexp.MustCompile(`^[A-Za-z0-9._:-]{1,120}$`)

// CheckKey refuses what is no key with a problem of the field.
func CheckKey(field, key string) error {
	if key != "" && !keyShape.MatchString(key) {
		return problem.Field(field, fmt.Sprintf("%.20q… is no key", key), "1 to 120 letters, digits, dots, colons, dashes")
	}
	return nil
}

// Held is a case while it is being changed: nobody else can change anything until what follows is kept or given up.
type Held struct {
	Case Case
	Shop int    // revision of settings and prices
	Done string // what the key of the change was used for before; empty when it is new
}

// Standing is what a change is computed from before the case is held: all of it as of one moment.
type Standing struct {
	Held
	Settings shop.Settings
	Book     shop.Book
}

// Changes is what a use case adds to a case. All of it is kept, or nothing. The numbers of what is appended follow on from
// those of the held case.
type Changes struct {
	Plain          *Case // its plain columns
	Readings       []Reading
	Measurements   []Measurement
	Marks          []Mark
	Unmarked       []Mark // kind and ref count
	Proofs         []Proof
	Decision       *Decision
	Countersign    *Countersign
	Estimate       *Estimate
	Record         *Record
	Photo          *Photo
	WithdrawnPhoto string // id of a picture that is taken out
	Bench          []BenchNote

	Done Done
}

// Done is what a key was used for.
type Done struct{ Key, What string }

// Saved is what a change came to: the case as it was, and as it now stands.
type Saved struct {
	Was, Case Case
	Again     bool // the same was sent before: nothing was changed now, and what was then is not known
}

// None reports whether there is nothing to be kept.
func (c Changes) None() bool {
	return c.Plain == nil && len(c.Readings)+len(c.Measurements)+len(c.Marks)+len(c.Unmarked)+len(c.Proofs)+len(c.Bench) == 0 &&
		c.Decision == nil && c.Countersign == nil && c.Estimate == nil && c.Record == nil && c.Photo == nil && c.WithdrawnPhoto == ""
}

// Fingerprint tells one thing done from another: the use case and everything that it was asked for.
func Fingerprint(use string, in any) (string, error) {
	data, err := json.Marshal(in)
	if err != nil {
		return "", err
	}
	sum := sha256.Sum256(append([]byte(use+"\x00"), data...))
	return hex.EncodeToString(sum[:16]), nil
}

// again reports whether a change was made before under its key. The key of another thing is refused.
func (h Held) again(what string) (bool, error) {
	if h.Done != "" && h.Done != what {
		return false, &problem.StateError{Reason: "this key was used for something else", Accepted: "a new key for each thing done"}
	}
	return h.Done == what, nil
}

// Change holds a case and keeps what f answers, in one transaction; others are told once it is kept. The same key again
// changes nothing and answers with the case. A case that has moved on from the guard's revision is refused with ErrChanged.
func (s *Service) Change(ctx context.Context, id string, g Guard, use string, in any, f func(h Held) (Changes, error)) (Saved, error) {
	if err := CheckKey("key", g.Key); err != nil {
		return Saved{}, err
	}
	what, err := Fingerprint(use, in)
	if err != nil {
		return Saved{}, err
	}
	var out Saved
	kept := false
	c, err := s.Store.Change(ctx, id, g, func(h Held) (Changes, error) {
		out = Saved{Was: h.Case}
		if again, err := h.again(what); again || err != nil {
			out.Again = again
			return Changes{}, err
		}
		ch, err := f(h)
		if err != nil || ch.None() {
			return Changes{}, err
		}
		if g.Key != "" {
			ch.Done = Done{g.Key, what}
		}
		kept = true
		return ch, nil
	})
	if err != nil {
		return Saved{}, err
	}
	if out.Case = c; kept {
		s.Tell(id, c.Rev)
	}
	return out, nil
}

// errMoved says that what was computed rests on a case, or on prices, of before.
var errMoved = errors.New("moved on meanwhile")

// mostTries is how often something is computed anew because the case or the prices moved meanwhile.
const mostTries = 5

// Settle makes a change that takes long to compute: what it rests on is read, computed without holding anybody up, and kept
// only if neither the case nor the shop's figures have moved since; else it is computed again. Within this server one
// such change of a case waits for the other, so that work is not done in vain.
func (s *Service) Settle(ctx context.Context, id string, g Guard, use string, in any, compute func(st Standing) (func(h Held) (Changes, error), error)) (Saved, error) {
	if err := CheckKey("key", g.Key); err != nil {
		return Saved{}, err
	}
	what, err := Fingerprint(use, in)
	if err != nil {
		return Saved{}, err
	}
	release, err := s.turns.take(ctx, id)
	if err != nil {
		return Saved{}, err
	}
	defer release()
	for range mostTries {
		st, err := s.Store.Standing(ctx, id, g)
		if err != nil {
			return Saved{}, err
		}
		if again, err := st.again(what); again || err != nil {
			return Saved{Was: st.Case, Case: st.Case, Again: again}, err
		}
		keep, err := compute(st)
		if err != nil {
			return Saved{}, err
		}
		c, err := s.Change(ctx, id, g, use, in, func(h Held) (Changes, error) {
			if h.Case.Rev != st.Case.Rev || h.Shop != st.Shop {
				return Changes{}, errMoved
			}
			return keep(h)
		})
		if !errors.Is(err, errMoved) {
			return c, err
		}
	}
	return Saved{}, &problem.StateError{Reason: "the case, or the shop's prices, are being changed by others right now", Accepted: "try again in a moment"}
}

// turns lets one long change of a case after the other.
type turns struct {
	mu    sync.Mutex
	cases map[string]*turn
}

type turn struct {
	free    chan struct{} // holds one token while nobody has the turn
	waiting int
}

// take waits for the turn of a case; release gives it on. It fails when ctx ends before.
func (t *turns) take(ctx context.Context, id string) (release func(), err error) {
	t.mu.Lock()
	if t.cases == nil {
		t.cases = map[string]*turn{}
	}
	mine := t.cases[id]
	if mine == nil {
		mine = &turn{free: make(chan struct{}, 1)}
		mine.free <- struct{}{}
		t.cases[id] = mine
	}
	mine.waiting++
	t.mu.Unlock()
	leave := func() {
		t.mu.Lock()
		defer t.mu.Unlock()
		if mine.waiting--; mine.waiting == 0 {
			delete(t.cases, id)
		}
	}
	select {
	case <-mine.free:
		return func() { mine.free <- struct{}{}; leave() }, nil
	case <-ctx.Done():
		leave()
		return nil, ctx.Err()
	}
}
