package httpapi

import (
	"cmp"
	"context"
	"encoding/json"
	"net"
	"strings"
	"time"

	"innercompass/internal/audit"
	"innercompass/internal/httpapi/gen"
	"innercompass/internal/people"
	"innercompass/internal/signing"
)

// by is who stands beside what is noted: whoever is signed in, else the name that the page gave.
func by(ctx context.Context, given *string) string { return people.By(ctx, text(given)) }

// How long the browser keeps the cookies: that of a device for a year, the other one until it is closed or the session is over here.
const deviceFor = 365 * 24 * time.Hour

func (h *handlers) GetSession(ctx context.Context, _ gen.GetSessionRequestObject) (gen.GetSessionResponseObject, error) {
	s, err := h.session(ctx, people.From(ctx))
	return gen.GetSession200JSONResponse(s), err
}

// session is what a page needs to know of whoever sits before it.
func (h *handlers) session(ctx context.Context, me people.Actor) (gen.Session, error) {
	out := gen.Session{Needed: me.Needed, Strong: me.Strong(), Rights: []string{}, People: []gen.Tile{}, How: maybe(string(me.How)), Device: maybe(me.DeviceName)}
	named := net.ParseIP(askedBy(ctx).host) == nil
	out.Passkeys = &named
	for _, r := range me.Rights() {
		out.Rights = append(out.Rights, string(r))
	}
	all, err := h.App.People.List(ctx)
	if err != nil {
		return out, err
	}
	for _, p := range all {
		if me.Device != "" && p.PIN != "" {
			out.People = append(out.People, gen.Tile{ID: p.ID, Name: p.Name, Role: gen.Role(p.Role)})
		}
		if p.ID == me.ID {
			out.Person = &gen.Me{ID: p.ID, Name: p.Name, Role: gen.Role(p.Role), Pin: p.PIN != "", Passkeys: list(p.Passkeys, func(k people.Passkey) gen.Passkey {
				return gen.Passkey{ID: k.ID, Name: k.Name, Host: k.Host, At: k.At, Used: k.Used}
			})}
			out.Change = &me.Interim
		}
	}
	return out, nil
}

// maybe is a text that may be missing.
func maybe(s string) *string {
	if s == "" {
		return nil
	}
	return &s
}

// signedIn sets the cookie of a session that has begun, and answers as its page will see it.
func (h *handlers) signedIn(ctx context.Context, session, device string) (gen.Session, error) {
	ask := askedBy(ctx)
	ask.set(sessionCookie, session, 0)
	if device != "" {
		ask.set(deviceCookie, device, int(deviceFor.Seconds()))
	}
	return h.now(ctx, session, cmp.Or(device, ask.device))
}

// now is the session as it is after a change of cookies.
func (h *handlers) now(ctx context.Context, session, device string) (gen.Session, error) {
	a, err := h.App.People.Who(ctx, session, device, false)
	if err != nil {
		return gen.Session{}, err
	}
	return h.session(ctx, a)
}

func (h *handlers) SignIn(ctx context.Context, r gen.SignInRequestObject) (gen.SignInResponseObject, error) {
	b := r.Body
	var token string
	var who people.Person
	var err error
	if b.Answer != nil {
		var answer []byte
		if answer, err = json.Marshal(*b.Answer); err == nil {
			ask := askedBy(ctx)
			token, who, err = h.App.People.SignInByPasskey(ctx, ask.origin, ask.host, text(b.Challenge), answer)
		}
	} else {
		token, who, err = h.App.People.SignIn(ctx, people.SignIn{Name: text(b.Name), Passphrase: text(b.Passphrase), Person: text(b.Person), PIN: text(b.Pin)})
	}
	if err != nil {
		return nil, err
	}
	s, err := h.signedIn(ctx, token, "")
	s.Told = maybe(who.Told)
	return gen.SignIn200JSONResponse(s), err
}

func (h *handlers) SignOut(ctx context.Context, _ gen.SignOutRequestObject) (gen.SignOutResponseObject, error) {
	if err := h.App.People.SignOut(ctx); err != nil {
		return nil, err
	}
	askedBy(ctx).set(sessionCookie, "", -1)
	return gen.SignOut204Response{}, nil
}

func (h *handlers) SetUpShop(ctx context.Context, r gen.SetUpShopRequestObject) (gen.SetUpShopResponseObject, error) {
	session, device, _, err := h.App.People.Begin(ctx, r.Body.Name, r.Body.Passphrase, r.Body.Device)
	if err != nil {
		return nil, err
	}
	s, err := h.signedIn(ctx, session, device)
	return gen.SetUpShop201JSONResponse(s), err
}

func (h *handlers) StartPasskey(ctx context.Context, _ gen.StartPasskeyRequestObject) (gen.StartPasskeyResponseObject, error) {
	c, err := challenge(h.App.People.AskPasskey(ctx, askedBy(ctx).origin, askedBy(ctx).host))
	return gen.StartPasskey200JSONResponse(c), err
}

func (h *handlers) StartNewPasskey(ctx context.Context, _ gen.StartNewPasskeyRequestObject) (gen.StartNewPasskeyResponseObject, error) {
	c, err := challenge(h.App.People.NewPasskey(ctx, askedBy(ctx).origin, askedBy(ctx).host))
	return gen.StartNewPasskey200JSONResponse(c), err
}

func challenge(id string, options json.RawMessage, err error) (gen.Challenge, error) {
	if err != nil {
		return gen.Challenge{}, err
	}
	out := gen.Challenge{ID: id}
	return out, json.Unmarshal(options, &out.Options)
}

func (h *handlers) AddPasskey(ctx context.Context, r gen.AddPasskeyRequestObject) (gen.AddPasskeyResponseObject, error) {
	answer, err := json.Marshal(r.Body.Answer)
	if err != nil {
		return nil, err
	}
	return gen.AddPasskey204Response{}, h.App.People.AddPasskey(ctx, askedBy(ctx).origin, askedBy(ctx).host, r.Body.Challenge, strings.TrimSpace(r.Body.Name), answer)
}

func (h *handlers) RemovePasskey(ctx context.Context, r gen.RemovePasskeyRequestObject) (gen.RemovePasskeyResponseObject, error) {
	return gen.RemovePasskey204Response{}, h.App.People.RemovePasskey(ctx, r.Passkey)
}

func personView(p people.Person) gen.PersonDetail {
	return gen.PersonDetail{ID: p.ID, Name: p.Name, Role: gen.Role(p.Role), Passphrase: p.Passphrase != "", Interim: p.Interim, Pin: p.PIN != "", Passkeys: len(p.Passkeys)}
}

func (h *handlers) ListPeople(ctx context.Context, _ gen.ListPeopleRequestObject) (gen.ListPeopleResponseObject, error) {
	all, err := h.App.People.List(ctx)
	return gen.ListPeople200JSONResponse(list(all, personView)), err
}

func (h *handlers) SavePerson(ctx context.Context, r gen.SavePersonRequestObject) (gen.SavePersonResponseObject, error) {
	p, err := h.App.People.Save(ctx, people.Change{Name: r.Body.Name, Role: people.Role(r.Body.Role), Passphrase: text(r.Body.Passphrase)})
	return gen.SavePerson201JSONResponse(personView(p)), err
}

func (h *handlers) ChangePerson(ctx context.Context, r gen.ChangePersonRequestObject) (gen.ChangePersonResponseObject, error) {
	p, err := h.App.People.Find(ctx, r.ID)
	if err != nil {
		return nil, err
	}
	ch := people.Change{ID: p.ID, Name: p.Name, Role: p.Role, Leaves: yes(r.Body.Leaves)}
	put(&ch.Name, r.Body.Name)
	if r.Body.Role != nil {
		ch.Role = people.Role(*r.Body.Role)
	}
	p, err = h.App.People.Save(ctx, ch)
	return gen.ChangePerson200JSONResponse(personView(p)), err
}

func (h *handlers) ResetPassphrase(ctx context.Context, r gen.ResetPassphraseRequestObject) (gen.ResetPassphraseResponseObject, error) {
	_, err := h.App.People.Reset(ctx, r.ID, r.Body.Passphrase)
	return gen.ResetPassphrase204Response{}, err
}

func (h *handlers) SetPassphrase(ctx context.Context, r gen.SetPassphraseRequestObject) (gen.SetPassphraseResponseObject, error) {
	return gen.SetPassphrase204Response{}, h.App.People.SetPassphrase(ctx, text(r.Body.Old), r.Body.Passphrase)
}

func (h *handlers) SetPIN(ctx context.Context, r gen.SetPINRequestObject) (gen.SetPINResponseObject, error) {
	return gen.SetPIN204Response{}, h.App.People.SetPIN(ctx, r.Body.Pin)
}

func (h *handlers) ListSessions(ctx context.Context, _ gen.ListSessionsRequestObject) (gen.ListSessionsResponseObject, error) {
	mine, err := h.App.People.Sessions(ctx)
	if err != nil {
		return nil, err
	}
	devices, err := h.App.Store.Devices(ctx)
	names := map[string]string{}
	for _, d := range devices {
		names[d.ID] = d.Name
	}
	me := people.From(ctx)
	return gen.ListSessions200JSONResponse(list(mine, func(s people.Session) gen.OwnSession {
		return gen.OwnSession{ID: s.Hash, How: string(s.How), Device: names[s.Device], Begun: s.Begun, Seen: s.Seen, Here: s.Hash == me.Session}
	})), err
}

func (h *handlers) EndSession(ctx context.Context, r gen.EndSessionRequestObject) (gen.EndSessionResponseObject, error) {
	return gen.EndSession204Response{}, h.App.People.EndSession(ctx, r.Session)
}

func (h *handlers) ListDevices(ctx context.Context, _ gen.ListDevicesRequestObject) (gen.ListDevicesResponseObject, error) {
	all, err := h.App.Store.Devices(ctx)
	here := people.From(ctx).Device
	return gen.ListDevices200JSONResponse(list(all, func(d people.Device) gen.Device {
		return gen.Device{ID: d.ID, Name: d.Name, By: d.By, At: d.At, Seen: d.Seen, Here: d.ID == here}
	})), err
}

func (h *handlers) OfferAdmission(ctx context.Context, _ gen.OfferAdmissionRequestObject) (gen.OfferAdmissionResponseObject, error) {
	code, until, err := h.App.People.OfferAdmission(ctx)
	return gen.OfferAdmission201JSONResponse{Code: code, Until: until}, err
}

func (h *handlers) AdmitDevice(ctx context.Context, r gen.AdmitDeviceRequestObject) (gen.AdmitDeviceResponseObject, error) {
	token, _, err := h.App.People.Admit(ctx, r.Body.Code, r.Body.Name)
	if err != nil {
		return nil, err
	}
	// What was begun at a strange device ends there: the next sign-in is at one of the shop.
	if err := h.App.People.SignOut(ctx); err != nil {
		return nil, err
	}
	askedBy(ctx).set(deviceCookie, token, int(deviceFor.Seconds()))
	askedBy(ctx).set(sessionCookie, "", -1)
	s, err := h.now(ctx, "", token)
	return gen.AdmitDevice201JSONResponse(s), err
}

func (h *handlers) RemoveDevice(ctx context.Context, r gen.RemoveDeviceRequestObject) (gen.RemoveDeviceResponseObject, error) {
	return gen.RemoveDevice204Response{}, h.App.Store.RemoveDevice(ctx, r.ID)
}

// auditPage is how many entries are shown at once.
const auditPage = 100

func (h *handlers) trail(ctx context.Context, q audit.Query) (gen.AuditPage, error) {
	q.Limit = auditPage
	all, err := h.App.Store.Audit(ctx, q)
	if err != nil {
		return gen.AuditPage{}, err
	}
	var ids []string
	for _, e := range all {
		ids = append(ids, e.Case)
	}
	vehicles, err := h.App.Store.Vehicles(ctx, ids)
	out := gen.AuditPage{Entries: list(all, func(e audit.Entry) gen.AuditEntry {
		return gen.AuditEntry{Seq: int(e.Seq), At: e.At, Name: e.Name, Role: e.Role, Device: e.Device, Operation: e.Operation, Case: e.Case, Vehicle: vehicles[e.Case], Words: e.Words, Hash: e.Hash}
	})}
	if len(all) == auditPage {
		last := int(all[len(all)-1].Seq)
		out.Next = &last
	}
	return out, err
}

func (h *handlers) ListAudit(ctx context.Context, r gen.ListAuditRequestObject) (gen.ListAuditResponseObject, error) {
	p, err := h.trail(ctx, audit.Query{Person: text(r.Params.Person), Before: int64(number(r.Params.Before))})
	return gen.ListAudit200JSONResponse(p), err
}

func (h *handlers) GetCaseAudit(ctx context.Context, r gen.GetCaseAuditRequestObject) (gen.GetCaseAuditResponseObject, error) {
	p, err := h.trail(ctx, audit.Query{Case: r.ID, Before: int64(number(r.Params.Before))})
	return gen.GetCaseAudit200JSONResponse(p), err
}

func (h *handlers) Countersign(ctx context.Context, r gen.CountersignRequestObject) (gen.CountersignResponseObject, error) {
	v, err := h.news(ctx)(h.App.Quoting.Countersign(ctx, r.ID, guard(r.Params.IfMatch, r.Params.IdempotencyKey), r.Decision))
	return gen.Countersign200JSONResponse{CaseNewsJSONResponse: v}, err
}

// shopKeys are the public keys as they are shown.
func (h *handlers) shopKeys(ctx context.Context) (gen.ShopKeys, error) {
	keys, err := h.App.Store.Keys(ctx)
	return gen.ShopKeys{Keys: list(keys, func(k signing.Key) gen.ShopKey {
		out := gen.ShopKey{ID: k.ID, Public: k.Public, Fingerprint: signing.Fingerprint(k.Public), From: k.From, Until: k.Until, Before: maybe(k.Before)}
		if k.Before != "" {
			out.ByBefore, out.OfBefore = &k.ByBefore, &k.OfBefore
		}
		return out
	})}, err
}

func (h *handlers) GetShopKey(ctx context.Context, _ gen.GetShopKeyRequestObject) (gen.GetShopKeyResponseObject, error) {
	k, err := h.shopKeys(ctx)
	return gen.GetShopKey200JSONResponse(k), err
}

func (h *handlers) RotateShopKey(ctx context.Context, _ gen.RotateShopKeyRequestObject) (gen.RotateShopKeyResponseObject, error) {
	if _, err := h.App.Store.RotateKey(ctx); err != nil {
		return nil, err
	}
	k, err := h.shopKeys(ctx)
	return gen.RotateShopKey201JSONResponse(k), err
}
