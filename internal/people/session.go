package people

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"innercompass/internal/problem"
)

// How long a session lasts: while it is used, and at most (ASVS 4.0.3, 3.3.2 at level 2).
const (
	idle   = 30 * time.Minute
	atMost = 12 * time.Hour
	// touchEvery is how often it is noted that a session is in use.
	touchEvery = time.Minute
)

// over reports whether a session counts no more. One that was used in the future is from before somebody set the clock back.
func (se Session) over(now time.Time) bool {
	return now.Sub(se.Seen) > idle || now.Sub(se.Begun) > atMost || se.Seen.Sub(now) > 2*touchEvery
}

// ErrWrong says that name and secret do not go together, and nothing about which of them is wrong.
var ErrWrong = errors.New("name and secret do not go together")

// WaitError says that there were too many wrong tries.
type WaitError struct{ For time.Duration }

func (e *WaitError) Error() string { return fmt.Sprintf("too many wrong tries; wait %v", e.For) }

// freeTries is how many wrong ones in a row cost nothing; then each doubles the wait.
const (
	freeTries   = 5
	firstWait   = 30 * time.Second
	longestWait = 15 * time.Minute
)

// wait is how long after the last wrong try the next is looked at.
func (t Tries) wait() time.Duration {
	if t.Wrong < freeTries {
		return 0
	}
	return min(longestWait, firstWait<<min(t.Wrong-freeTries, 10))
}

// tried counts wrong tries of something, and refuses to look at one more before the wait is over.
func (s *Service) tried(ctx context.Context, of string, right func() (bool, error)) error {
	t, err := s.Store.Tries(ctx, of)
	if err != nil {
		return err
	}
	now := s.Now()
	if left := t.Last.Add(t.wait()).Sub(now); left > 0 {
		return &WaitError{left.Round(time.Second)}
	}
	// Counted before it is looked at: tries made at once do not slip through together.
	if err := s.Store.SaveTries(ctx, of, Tries{t.Wrong + 1, now}); err != nil {
		return err
	}
	ok, err := right()
	if err != nil {
		return err
	}
	if !ok {
		return ErrWrong
	}
	return s.Store.SaveTries(ctx, of, Tries{})
}

func nameKey(name string) string {
	return "name:" + HashOf(strings.ToLower(strings.Join(strings.Fields(name), " ")))
}

// SignIn is what somebody gives to come in: name and passphrase, or at an admitted device a person and their PIN.
type SignIn struct{ Name, Passphrase, Person, PIN string }

// SignIn begins a session and returns its token, which nobody else ever sees.
func (s *Service) SignIn(ctx context.Context, in SignIn) (token string, p Person, err error) {
	if in.PIN != "" {
		return s.signInByPIN(ctx, in)
	}
	p, err = s.Find(ctx, in.Name)
	if err != nil && !errors.Is(err, problem.ErrNotFound) {
		return "", p, err
	}
	err = s.tried(ctx, nameKey(in.Name), func() (bool, error) { return s.matches(ctx, plain(in.Passphrase), p.Passphrase) })
	if err != nil {
		return "", Person{}, err
	}
	token, err = s.begin(ctx, p, ByPassphrase)
	return token, p, err
}

func (s *Service) signInByPIN(ctx context.Context, in SignIn) (string, Person, error) {
	device := From(ctx).Device
	if device == "" {
		return "", Person{}, &problem.StateError{Reason: "this device is not one of the shop's", Accepted: "name and passphrase, or a passkey"}
	}
	p, err := s.Find(ctx, in.Person)
	if err != nil && !errors.Is(err, problem.ErrNotFound) {
		return "", p, err
	}
	if err := s.tried(ctx, "pin:"+in.Person+"@"+device, func() (bool, error) { return s.matches(ctx, in.PIN, p.PIN) }); err != nil {
		return "", Person{}, err
	}
	token, err := s.begin(ctx, p, ByPIN)
	return token, p, err
}

// begin starts a session of a person under a new token; the one that was open in the same browser ends.
func (s *Service) begin(ctx context.Context, p Person, how How) (string, error) {
	me := From(ctx)
	if me.Session != "" {
		if err := s.Store.EndSession(ctx, me.Session); err != nil {
			return "", err
		}
	}
	t := token(32)
	now := s.Now()
	ctx = With(ctx, Actor{Needed: true, ID: p.ID, Name: p.Name, Role: p.Role, How: how, Device: me.Device, DeviceName: me.DeviceName, Operation: me.Operation, Request: me.Request})
	err := s.Store.PutSession(ctx, Session{Hash: HashOf(t), Person: p.ID, Device: me.Device, How: how, Begun: now, Seen: now})
	if err == nil && p.Told != "" {
		told := p
		told.Told = ""
		err = s.Store.SavePerson(ctx, told, "", func([]Person) error { return nil }, "")
	}
	return t, err
}

// Who is behind two tokens: of a session, and of a device. A session that is over is nobody's. It goes on while somebody asks for something; an open page
// alone keeps none alive.
func (s *Service) Who(ctx context.Context, sessionToken, deviceToken string, asks bool) (Actor, error) {
	id, err := s.Store.Identity(ctx, HashOf(sessionToken), HashOf(deviceToken))
	if err != nil {
		return Actor{}, err
	}
	a := Actor{Needed: id.Needed}
	if id.Device != nil {
		a.Device, a.DeviceName = id.Device.ID, id.Device.Name
	}
	now := s.Now()
	switch se := id.Session; {
	case se == nil || id.Person == nil || id.Person.Left != nil:
		return a, nil
	case se.over(now), se.Device != a.Device:
		return a, nil // or carried to another device
	default:
		a.ID, a.Name, a.Role, a.How, a.Session = id.Person.ID, id.Person.Name, id.Person.Role, se.How, se.Hash
		a.Interim = id.Person.Interim && se.How == ByPassphrase
		if asks && now.Sub(se.Seen) >= touchEvery {
			return a, s.Store.TouchSession(ctx, se.Hash, now)
		}
		return a, nil
	}
}

// SignOut ends the session of whoever asks.
func (s *Service) SignOut(ctx context.Context) error {
	if h := From(ctx).Session; h != "" {
		return s.Store.EndSession(ctx, h)
	}
	return nil
}

// Sessions are those of whoever asks that are not over.
func (s *Service) Sessions(ctx context.Context) ([]Session, error) {
	all, err := s.Store.Sessions(ctx, From(ctx).ID)
	var out []Session
	for _, se := range all {
		if !se.over(s.Now()) {
			out = append(out, se)
		}
	}
	return out, err
}

// EndSession ends one of one's own sessions, by its hash.
func (s *Service) EndSession(ctx context.Context, hash string) error {
	mine, err := s.Store.Sessions(ctx, From(ctx).ID)
	if err != nil {
		return err
	}
	for _, se := range mine {
		if se.Hash == hash {
			return s.Store.EndSession(ctx, hash)
		}
	}
	return problem.NotFound("session", "…", "one of your own")
}

// admission is how long a code for a new device is good.
const admission = 10 * time.Minute

// OfferAdmission makes a code with which one device is admitted. It is made at a device of the shop, by a command there, or by passkey: so that a
// passphrase alone, seen by somebody, opens no door to the rest.
func (s *Service) OfferAdmission(ctx context.Context) (code string, until time.Time, err error) {
	me := From(ctx)
	if !me.AtTheMachine && !me.Strong() {
		return "", until, &problem.StateError{Reason: "not at a device of the shop", Accepted: "a code made at one that is, by passkey, or by innercompass people admit at the machine"}
	}
	code = strings.ToUpper(token(5))
	until = s.Now().Add(admission)
	return code, until, s.Store.PutCode(ctx, HashOf(code), By(ctx, ""), until)
}

// Admit makes the device at hand one of the shop, and returns its token.
func (s *Service) Admit(ctx context.Context, code, name string) (token string, d Device, err error) {
	name = strings.Join(strings.Fields(name), " ")
	if err := problem.CheckText("name", name, problem.MaxShort, true); err != nil {
		return "", d, err
	}
	var by string
	err = s.tried(ctx, "admission", func() (bool, error) {
		by, err = s.Store.TakeCode(ctx, HashOf(strings.ToUpper(strings.TrimSpace(code))), s.Now())
		return by != "", err
	})
	if errors.Is(err, ErrWrong) {
		return "", d, problem.Field("code", "no code that is good now", "the code that a device of the shop shows under People, within ten minutes")
	}
	if err != nil {
		return "", d, err
	}
	return s.admit(ctx, name, by)
}

func (s *Service) admit(ctx context.Context, name, by string) (string, Device, error) {
	t := token(32)
	d := Device{ID: newID(), Name: name, Hash: HashOf(t), By: by, At: s.Now()}
	return t, d, s.Store.SaveDevice(ctx, d)
}

// Begin sets the shop up: the first owner, at a device that is the shop's from then on. It is possible once, while nobody can sign in.
func (s *Service) Begin(ctx context.Context, name, passphrase, device string) (session, deviceToken string, p Person, err error) {
	if From(ctx).Needed {
		return "", "", p, &problem.StateError{Reason: "the shop is set up", Accepted: "an owner adds people"}
	}
	ch := Change{Name: name, Role: Owner, Passphrase: passphrase}
	if p, err = s.Find(ctx, name); errors.Is(err, problem.ErrNotFound) {
		if p, err = s.Save(ctx, ch); err != nil {
			return "", "", p, err
		}
	} else if err == nil { // who was a name only becomes the owner
		p.Role = Owner
		if p.Passphrase, err = s.hashed(ctx, "passphrase", passphrase, p.Name); err == nil {
			err = s.keep(ctx, p, "sets the shop up", "")
		}
	}
	if err != nil {
		return "", "", p, err
	}
	deviceToken, d, err := s.admit(ctx, device, p.Name)
	if err != nil {
		return "", "", p, err
	}
	a := From(ctx)
	a.Device, a.DeviceName = d.ID, d.Name
	session, err = s.begin(With(ctx, a), p, ByPassphrase)
	return session, deviceToken, p, err
}
