package people

import (
	"context"
	"errors"
	"fmt"
	"regexp"
	"unicode/utf8"

	"github.com/alexedwards/argon2id"
	"github.com/ccojocar/zxcvbn-go"
	"golang.org/x/text/unicode/norm"

	"innercompass/internal/problem"
)

// costs of a hash: those that OWASP's password storage cheat sheet gives first for argon2id (from memory): 19 MiB, two passes, one lane.
var costs = &argon2id.Params{Memory: 19 << 10, Iterations: 2, Parallelism: 1, SaltLength: 16, KeyLength: 32}

// Bounds of a passphrase, in characters (ASVS 4.0.3, 2.1.1 and 2.1.2).
const (
	ShortestPassphrase = 12
	LongestPassphrase  = 128
	// leastScore is how hard to guess a passphrase has to be, of 0 to 4: from 3 on it outlives ten billion guesses.
	leastScore = 3
)

var pinShape = regexp.MustCompile(`^[0-9]{6}$`)

// plain brings a passphrase to the one form that counts, however the keyboard made its letters.
func plain(text string) string { return norm.NFC.String(text) }

// checkPassphrase refuses one that is short, long, or easily guessed: from lists of leaked ones, words, patterns, or the names of the shop.
func (s *Service) checkPassphrase(ctx context.Context, field, text string, names ...string) error {
	n := utf8.RuneCountInString(plain(text))
	if n < ShortestPassphrase || n > LongestPassphrase {
		return problem.Field(field, fmt.Sprintf("%d characters", n), fmt.Sprintf("%d to %d characters; four words that do not belong together are good", ShortestPassphrase, LongestPassphrase))
	}
	if s.Shop != nil {
		shop, err := s.Shop(ctx)
		if err != nil {
			return err
		}
		names = append(names, shop)
	}
	if zxcvbn.PasswordStrength(plain(text), append(names, "inner compass", "transmission", "gearbox")).Score < leastScore {
		return problem.Field(field, "easily guessed", "something longer or less usual; four words that do not belong together are good")
	}
	return nil
}

// hashed checks a passphrase and makes what is kept of it.
func (s *Service) hashed(ctx context.Context, field, text string, names ...string) (string, error) {
	if err := s.checkPassphrase(ctx, field, text, names...); err != nil {
		return "", err
	}
	return s.hash(ctx, plain(text))
}

func (s *Service) hash(ctx context.Context, text string) (string, error) {
	if err := s.busy.Acquire(ctx, 1); err != nil {
		return "", err
	}
	defer s.busy.Release(1)
	return argon2id.CreateHash(text, costs)
}

// nobodys is the hash of a passphrase that nobody has: an unknown name takes as long as a known one.
const nobodys = "$argon2id$v=19$m=19456,t=2,p=1$YWFhYWFhYWFhYWFhYWFhYQ$x1b7VvQmdZT6kzjYyBvPWTlbMTAu0cbJj3yLDhWbVjc"

// matches compares a secret with what is kept of it; with nothing, it takes as long and fails.
func (s *Service) matches(ctx context.Context, text, kept string) (bool, error) {
	if err := s.busy.Acquire(ctx, 1); err != nil {
		return false, err
	}
	defer s.busy.Release(1)
	against := kept
	if against == "" {
		against = nobodys
	}
	ok, err := argon2id.ComparePasswordAndHash(text, against)
	return ok && kept != "", err
}

// SetPassphrase changes one's own: the one before has to be given if there is one. Everywhere else the person is signed out.
func (s *Service) SetPassphrase(ctx context.Context, old, text string) error {
	me, err := s.myself(ctx)
	if err != nil {
		return err
	}
	if me.Passphrase != "" {
		if err := s.tried(ctx, "passphrase:"+me.ID, func() (bool, error) { return s.matches(ctx, plain(old), me.Passphrase) }); err != nil {
			if errors.Is(err, ErrWrong) {
				return problem.Field("old", "not the one that counts now", "your present passphrase")
			}
			return err
		}
	}
	if plain(old) == plain(text) && me.Passphrase != "" {
		return problem.Field("passphrase", "the same as before", "another one")
	}
	hash, err := s.hashed(ctx, "passphrase", text, me.Name)
	if err != nil {
		return err
	}
	me.Passphrase, me.Interim, me.Told = hash, false, s.told("passphrase changed")
	return s.keep(ctx, me, "changes the passphrase", From(ctx).Session)
}

// Reset gives somebody an interim passphrase, which they change at once; PIN and sessions end.
func (s *Service) Reset(ctx context.Context, who, text string) (Person, error) {
	p, err := s.Find(ctx, who)
	if err != nil {
		return p, err
	}
	if p.ID == From(ctx).ID {
		return p, &problem.StateError{Reason: "this is your own", Accepted: "change it under your name, with the one before"}
	}
	hash, err := s.hashed(ctx, "passphrase", text, p.Name)
	if err != nil {
		return p, err
	}
	p.Passphrase, p.PIN, p.Interim, p.Told = hash, "", true, s.told("passphrase set by "+By(ctx, "somebody"))
	if err := s.keep(ctx, p, "gets an interim passphrase", "*"); err != nil {
		return p, err
	}
	return p, s.Store.SaveTries(ctx, nameKey(p.Name), Tries{})
}

// SetPIN gives oneself a PIN for the shop's devices; none takes it away. The session must not be one by PIN.
func (s *Service) SetPIN(ctx context.Context, pin string) error {
	me, err := s.myself(ctx)
	if err != nil {
		return err
	}
	if From(ctx).How == ByPIN {
		return &problem.StateError{Reason: "signed in by PIN", Accepted: "sign in with passphrase or passkey to change the PIN"}
	}
	me.PIN = ""
	words := "gives up the PIN"
	if pin != "" {
		if !pinShape.MatchString(pin) || easy(pin) {
			return problem.Field("pin", "not six digits, or easily guessed", "six digits that are no row and no date, such as 274916")
		}
		if me.PIN, err = s.hash(ctx, pin); err != nil {
			return err
		}
		words = "sets a PIN"
	}
	me.Told = s.told("PIN changed")
	return s.keep(ctx, me, words, From(ctx).Session)
}

// easy PINs have one digit throughout, a row up or down, or a pair or triple again.
func easy(pin string) bool {
	step := int(pin[1]) - int(pin[0])
	row := step >= -1 && step <= 1
	for i := 1; i < len(pin); i++ {
		row = row && int(pin[i])-int(pin[i-1]) == step
	}
	return row || pin[:3] == pin[3:] || pin[:2] == pin[2:4] && pin[:2] == pin[4:]
}

// told is what the person reads at the next sign-in.
func (s *Service) told(what string) string {
	return what + " on " + s.Now().Format("2006-01-02 15:04") + " UTC"
}

// myself is whoever is signed in.
func (s *Service) myself(ctx context.Context) (Person, error) {
	me := From(ctx)
	if me.ID == "" {
		return Person{}, &problem.StateError{Reason: "nobody is signed in", Accepted: "sign in first"}
	}
	return s.Find(ctx, me.ID)
}
