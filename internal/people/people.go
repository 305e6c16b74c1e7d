// Package people knows who works in the shop, what each may do, and who is at a device right now.
//
// As long as nobody has a passphrase or a passkey the shop is not set up: whoever sits at the machine may do everything, as before.
// From the first secret on, everybody signs in.
package people

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/go-webauthn/webauthn/webauthn"
	"golang.org/x/sync/semaphore"

	"innercompass/internal/problem"
)

// Person works in the shop. The secrets are hashes and leave this package and the store only as "has one".
type Person struct {
	ID, Name   string
	Role       Role
	Passphrase string // argon2id in PHC form; empty when there is none
	Interim    bool   // the passphrase was given by somebody else and is to be changed
	PIN        string // argon2id in PHC form
	Left       *time.Time
	Told       string // what happened to the secrets since the person signed in last; shown once
	Passkeys   []Passkey
}

// Passkey is a credential of the person's own device.
type Passkey struct {
	ID, Name   string
	Host       string // it was made for
	Credential webauthn.Credential
	At         time.Time
	Used       *time.Time
}

// SetUp reports whether the person can sign in by something of their own.
func (p Person) SetUp() bool { return p.Left == nil && (p.Passphrase != "" || len(p.Passkeys) > 0) }

// How a session was begun.
type How string

// Ways of signing in.
const (
	ByPassphrase How = "passphrase"
	ByPasskey    How = "passkey"
	ByPIN        How = "pin"
)

// Session is a person at a device. Its token is known to the browser alone.
type Session struct {
	Hash        string // SHA-256 of the token, hexadecimal
	Person      string
	Device      string // id of an admitted device; empty for any other
	How         How
	Begun, Seen time.Time
}

// Device is a tablet or computer of the shop where people may sign in by PIN.
type Device struct {
	ID, Name string
	Hash     string // SHA-256 of its token
	By       string // who admitted it
	At       time.Time
	Seen     *time.Time
}

// Tries are the wrong ones in a row.
type Tries struct {
	Wrong int
	Last  time.Time
}

// Store keeps people, sessions and devices.
type Store interface {
	// People are all of the shop, those who left too, by name.
	People(ctx context.Context) ([]Person, error)
	// SavePerson puts a person in the place of the one with the same id, or adds one, if check does not object to those who are there; words say what was
	// done, for the audit trail. Sessions with one of the hashes in end are ended with it, all of the person's for "*".
	SavePerson(ctx context.Context, p Person, words string, check func(all []Person) error, end string) error
	// Identity is who has the session with this hash, and the device with the other; either may be missing.
	Identity(ctx context.Context, session, device string) (Identity, error)
	PutSession(ctx context.Context, s Session) error
	TouchSession(ctx context.Context, hash string, at time.Time) error
	EndSession(ctx context.Context, hash string) error
	Sessions(ctx context.Context, person string) ([]Session, error)
	Devices(ctx context.Context) ([]Device, error)
	SaveDevice(ctx context.Context, d Device) error
	RemoveDevice(ctx context.Context, id string) error
	// PutCode keeps the hash of a code that admits one device; TakeCode takes it away and says whose it was, if it is still good at a time.
	PutCode(ctx context.Context, hash, by string, until time.Time) error
	TakeCode(ctx context.Context, hash string, at time.Time) (by string, err error)
	Tries(ctx context.Context, of string) (Tries, error)
	SaveTries(ctx context.Context, of string, t Tries) error
}

// Identity is what a request's tokens lead to.
type Identity struct {
	Needed  bool // somebody can sign in: whoever has not may not come in
	Session *Session
	Person  *Person
	Device  *Device
}

// Service is who may come in, and as whom.
type Service struct {
	Store  Store
	Now    func() time.Time
	Tell   func(what string, rev int)
	Shop   func(ctx context.Context) (string, error) // its name, which is no passphrase
	busy   *semaphore.Weighted                       // argon2id takes 19 MiB each time
	claims claims
}

// New returns the service over a store.
func New(store Store, now func() time.Time, tell func(string, int)) *Service {
	return &Service{Store: store, Now: now, Tell: tell, busy: semaphore.NewWeighted(4)}
}

// List is who works in the shop, by name, without those who left.
func (s *Service) List(ctx context.Context) ([]Person, error) {
	all, err := s.Store.People(ctx)
	return slices.DeleteFunc(all, func(p Person) bool { return p.Left != nil }), err
}

// Find is a person by id or name, whatever the case of its letters; those who left are not found.
func (s *Service) Find(ctx context.Context, who string) (Person, error) {
	all, err := s.List(ctx)
	if err != nil {
		return Person{}, err
	}
	for _, p := range all {
		if p.ID == who || strings.EqualFold(p.Name, strings.TrimSpace(who)) {
			return p, nil
		}
	}
	names := make([]string, len(all))
	for i, p := range all {
		names[i] = p.Name
	}
	return Person{}, problem.NotFound("person", who, strings.Join(names, ", "))
}

// New person, or a change of one.
type Change struct {
	ID         string // empty for a new one
	Name       string
	Role       Role
	Passphrase string // first one of a new person; it is to be changed if somebody else gave it
	Leaves     bool
}

// Save adds a person or changes name, role and whether they still work here. The first who can sign in is an owner, and one owner who can stays.
func (s *Service) Save(ctx context.Context, c Change) (Person, error) {
	c.Name = strings.Join(strings.Fields(c.Name), " ")
	if err := problem.CheckText("name", c.Name, problem.MaxShort, true); err != nil {
		return Person{}, err
	}
	if !slices.Contains(Roles, c.Role) {
		return Person{}, problem.Field("role", fmt.Sprintf("%q", c.Role), joined(Roles))
	}
	p := Person{ID: newID(), Name: c.Name, Role: c.Role}
	words, end := "joins as "+string(c.Role), ""
	if c.ID != "" {
		before, err := s.Find(ctx, c.ID)
		if err != nil {
			return p, err
		}
		p, words = before, "changed"
		if p.Role != c.Role {
			words = fmt.Sprintf("from %s to %s", p.Role, c.Role)
			end = "*"
		}
		p.Name, p.Role = c.Name, c.Role
		if c.Leaves {
			left := s.Now()
			p.Left, p.Passphrase, p.PIN, p.Passkeys = &left, "", "", nil
			words, end = "leaves", "*"
		}
	}
	me := From(ctx)
	if c.Passphrase != "" && c.ID == "" {
		hash, err := s.hashed(ctx, "passphrase", c.Passphrase, c.Name)
		if err != nil {
			return p, err
		}
		p.Passphrase, p.Interim = hash, me.Needed
	}
	return p, s.keep(ctx, p, words, end)
}

// keep saves a person and refuses what would lock the shop out, or let two go by one name.
func (s *Service) keep(ctx context.Context, p Person, words, end string) error {
	err := s.Store.SavePerson(ctx, p, words, func(all []Person) error {
		owners, others := 0, 0
		for _, o := range all {
			switch {
			case o.ID == p.ID:
				o = p
			case p.Left == nil && o.Left == nil && strings.EqualFold(o.Name, p.Name):
				return problem.Field("name", fmt.Sprintf("%q is taken", p.Name), "a name that nobody else here has")
			}
			if o.SetUp() && o.Role == Owner {
				owners++
			} else if o.SetUp() {
				others++
			}
		}
		if !slices.ContainsFunc(all, func(o Person) bool { return o.ID == p.ID }) && p.SetUp() {
			if p.Role == Owner {
				owners++
			} else {
				others++
			}
		}
		if others > 0 && owners == 0 {
			return &problem.StateError{Reason: "nobody could let people in any more", Accepted: "an owner with a passphrase or a passkey comes first, and one stays"}
		}
		return nil
	}, end)
	if err == nil && s.Tell != nil {
		s.Tell("people", 0)
		s.Tell("settings", 0)
	}
	return err
}

func newID() string { return token(9) }

// token is a random text of n bytes, 8 bits each.
func token(n int) string {
	b := make([]byte, n)
	_, _ = rand.Read(b) // never fails: crypto/rand ends the program instead
	return hex.EncodeToString(b)
}

// HashOf is what is kept of a token.
func HashOf(token string) string {
	if token == "" {
		return ""
	}
	sum := sha256.Sum256([]byte(token))
	return hex.EncodeToString(sum[:])
}
