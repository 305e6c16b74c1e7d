package people

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"net"
	"sync"
	"time"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"

	"innercompass/internal/problem"
)

// claims are the challenges that were given out and not answered yet. They are lost with a restart: whoever was in the middle begins again.
type claims struct {
	mu   sync.Mutex
	open map[string]claim
}

type claim struct {
	data webauthn.SessionData
	ends time.Time
}

// Challenges are good for some minutes, and only so many are open: who asks for more pushes nobody out, but waits.
const (
	answerWithin = 5 * time.Minute
	mostClaims   = 1000
)

func (c *claims) put(data webauthn.SessionData, now time.Time) (string, error) {
	c.mu.Lock()
	defer c.mu.Unlock()
	for id, old := range c.open {
		if now.After(old.ends) {
			delete(c.open, id)
		}
	}
	if len(c.open) >= mostClaims {
		return "", &WaitError{answerWithin}
	}
	if c.open == nil {
		c.open = map[string]claim{}
	}
	id := token(16)
	c.open[id] = claim{data, now.Add(answerWithin)}
	return id, nil
}

func (c *claims) take(id string, now time.Time) (webauthn.SessionData, bool) {
	c.mu.Lock()
	defer c.mu.Unlock()
	got, ok := c.open[id]
	delete(c.open, id)
	return got.data, ok && !now.After(got.ends)
}

// party is this server as passkeys know it: by the name that the browser shows. An address of numbers has none.
func party(origin, host string) (*webauthn.WebAuthn, error) {
	if net.ParseIP(host) != nil {
		return nil, &problem.StateError{Reason: fmt.Sprintf("%s is a number, and passkeys belong to names", host), Accepted: "open the app by a name, such as localhost at the machine or shop.local in the network"}
	}
	return webauthn.New(&webauthn.Config{RPID: host, RPDisplayName: "Inner Compass", RPOrigins: []string{origin},
		AuthenticatorSelection: protocol.AuthenticatorSelection{ResidentKey: protocol.ResidentKeyRequirementRequired, UserVerification: protocol.VerificationRequired}})
}

// keyed is a person as the library asks for one.
type keyed struct {
	Person
	host string
}

func (k keyed) WebAuthnID() []byte          { return []byte(k.ID) }
func (k keyed) WebAuthnName() string        { return k.Name }
func (k keyed) WebAuthnDisplayName() string { return k.Name }
func (k keyed) WebAuthnCredentials() []webauthn.Credential {
	var out []webauthn.Credential
	for _, p := range k.Passkeys {
		if p.Host == k.host {
			out = append(out, p.Credential)
		}
	}
	return out
}

// NewPasskey begins the making of a passkey for oneself; options go to the browser as they are.
func (s *Service) NewPasskey(ctx context.Context, origin, host string) (id string, options json.RawMessage, err error) {
	me, err := s.myself(ctx)
	if err != nil {
		return "", nil, err
	}
	if From(ctx).How == ByPIN {
		return "", nil, &problem.StateError{Reason: "signed in by PIN", Accepted: "sign in with your passphrase to add a passkey"}
	}
	rp, err := party(origin, host)
	if err != nil {
		return "", nil, err
	}
	user := keyed{me, host}
	made, data, err := rp.BeginRegistration(user, webauthn.WithExclusions(webauthn.Credentials(user.WebAuthnCredentials()).CredentialDescriptors()))
	if err != nil {
		return "", nil, err
	}
	return s.claimed(made.Response, *data)
}

func (s *Service) claimed(options any, data webauthn.SessionData) (string, json.RawMessage, error) {
	id, err := s.claims.put(data, s.Now())
	if err != nil {
		return "", nil, err
	}
	text, err := json.Marshal(options)
	return id, text, err
}

// AddPasskey keeps the passkey that the browser has made.
func (s *Service) AddPasskey(ctx context.Context, origin, host, id, name string, answer []byte) error {
	me, err := s.myself(ctx)
	if err != nil {
		return err
	}
	if err := problem.CheckText("name", name, problem.MaxShort, true); err != nil {
		return err
	}
	rp, err := party(origin, host)
	if err != nil {
		return err
	}
	data, ok := s.claims.take(id, s.Now())
	if !ok {
		return stale
	}
	parsed, err := protocol.ParseCredentialCreationResponseBody(bytes.NewReader(answer))
	if err != nil {
		return problem.Field("answer", "not what a passkey says", "the answer of the browser, as it is")
	}
	made, err := rp.CreateCredential(keyed{me, host}, data, parsed)
	if err != nil {
		return problem.Field("answer", "the passkey does not answer to this challenge", "begin again")
	}
	me.Passkeys = append(me.Passkeys, Passkey{ID: newID(), Name: name, Host: host, Credential: *made, At: s.Now()})
	me.Told = s.told("passkey added")
	return s.keep(ctx, me, "adds a passkey", "")
}

var stale = &problem.StateError{Reason: "this took too long, or was answered already", Accepted: "begin again"}

// RemovePasskey takes one of one's own away.
func (s *Service) RemovePasskey(ctx context.Context, id string) error {
	me, err := s.myself(ctx)
	if err != nil {
		return err
	}
	for i, k := range me.Passkeys {
		if k.ID == id {
			me.Passkeys = append(me.Passkeys[:i:i], me.Passkeys[i+1:]...)
			me.Told = s.told("passkey removed")
			return s.keep(ctx, me, "removes a passkey", From(ctx).Session)
		}
	}
	return problem.NotFound("passkey", id, "one of your own")
}

// AskPasskey begins a sign-in by passkey: the browser offers those that it has for this name.
func (s *Service) AskPasskey(_ context.Context, origin, host string) (id string, options json.RawMessage, err error) {
	rp, err := party(origin, host)
	if err != nil {
		return "", nil, err
	}
	asked, data, err := rp.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return "", nil, err
	}
	return s.claimed(asked.Response, *data)
}

// SignInByPasskey begins the session of whoever's passkey has answered.
func (s *Service) SignInByPasskey(ctx context.Context, origin, host, id string, answer []byte) (string, Person, error) {
	rp, err := party(origin, host)
	if err != nil {
		return "", Person{}, err
	}
	data, ok := s.claims.take(id, s.Now())
	if !ok {
		return "", Person{}, stale
	}
	parsed, err := protocol.ParseCredentialRequestResponseBody(bytes.NewReader(answer))
	if err != nil {
		return "", Person{}, problem.Field("answer", "not what a passkey says", "the answer of the browser, as it is")
	}
	var who Person
	used, err := rp.ValidateDiscoverableLogin(func(_, handle []byte) (webauthn.User, error) {
		who, err = s.Find(ctx, string(handle))
		return keyed{who, host}, err
	}, data, parsed)
	if err != nil || who.ID == "" || used.Authenticator.CloneWarning {
		return "", Person{}, ErrWrong
	}
	for i, k := range who.Passkeys {
		if bytes.Equal(k.Credential.ID, used.ID) {
			now := s.Now()
			who.Passkeys[i].Credential, who.Passkeys[i].Used = *used, &now
		}
	}
	if err := s.Store.SavePerson(ctx, who, "", func([]Person) error { return nil }, ""); err != nil {
		return "", Person{}, err
	}
	token, err := s.begin(ctx, who, ByPasskey)
	return token, who, err
}
