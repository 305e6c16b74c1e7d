// Package casework holds the use cases of a case from complaint to proof. It is the only place that
// knows both the computation (core) and, through Store, what is kept. Each use case loads complete
// values, asks core what they mean, and saves; what it returns is the whole case as it now stands.
package casework

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	lru "github.com/hashicorp/golang-lru/v2"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/core/plan"
	"innercompass/core/quantity"
	"innercompass/core/unitsheet"
)

// Service runs the use cases.
type Service struct {
	Store   Store
	Now     func() time.Time           // the clock; set once by main or a test
	Changed func(what string, rev int) // told after every change: a case with its revision, or settings, prices, units; may be nil
	// Render writes a record in every form that it has; one that cannot be written is not issued. It may be nil.
	Render          func(ctx context.Context, r RecordContent, files func(digest string) ([]byte, error)) error
	library         *library
	assessmentCache *lru.Cache[string, *assessment]
	turns           turns
	linking         sync.Mutex
	stale           chan struct{} // says that rows of the Floor are to be computed
}

// New returns a service over a store and the sheets that come with the app.
func New(store Store, sheets Sheets) *Service {
	return &Service{Store: store, Now: func() time.Time { return time.Now().UTC().Truncate(time.Millisecond) }, assessmentCache: cache[*assessment](mostRemembered), stale: make(chan struct{}, 1),
		library: &library{store: store, sheets: sheets, made: cache[*knowledge.Network](mostCompiled)}}
}

// cache keeps what was used last; the size is a constant above nothing, so that making it never fails.
func cache[V any](size int) *lru.Cache[string, V] {
	c, err := lru.New[string, V](size)
	if err != nil {
		panic(err)
	}
	return c
}

// Longest texts that are taken, in characters.
const (
	maxWords = 400
	maxShort = 120
	maxNote  = 2000
)

func newID(prefix string) string {
	var b [8]byte
	_, _ = rand.Read(b[:]) // never fails on supported systems (crypto/rand documentation)
	return prefix + strings.ToLower(base32.StdEncoding.WithPadding(base32.NoPadding).EncodeToString(b[:]))
}

func checkText(field, text string, most int, required bool) error {
	if required && strings.TrimSpace(text) == "" {
		return &FieldError{field, "empty", "some text"}
	}
	if n := utf8.RuneCountInString(text); n > most {
		return &FieldError{field, fmt.Sprintf("%d characters", n), fmt.Sprintf("at most %d", most)}
	}
	if !utf8.ValidString(text) {
		return &FieldError{field, "not valid text", "UTF-8"}
	}
	return nil
}

// Intake is a vehicle as it comes in.
type Intake struct {
	Key                                                    string // of the page that sent it; "" when it does not repeat itself
	Words, Vehicle, Customer, Distance, UnitID, Bay, Owner string
}

// TakeIn opens a case.
func (s *Service) TakeIn(ctx context.Context, in Intake) (View, error) {
	if err := checkKey("key", in.Key); err != nil {
		return View{}, err
	}
	what, err := fingerprint("take in", in)
	if err != nil {
		return View{}, err
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return View{}, err
	}
	run, err := distance("distance", st.Style(), in.Distance, st.Distance)
	if err != nil {
		return View{}, err
	}
	c := Case{ID: newID("c"), Words: strings.TrimSpace(in.Words), Vehicle: strings.TrimSpace(in.Vehicle), Customer: in.Customer, Distance: run,
		UnitID: in.UnitID, Stage: Stages[0], Access: unitsheet.AccessNames[0], Bay: in.Bay, Owner: in.Owner, Opened: s.Now(), Rev: 1}
	if err := s.checkCase(ctx, &c); err != nil {
		return View{}, err
	}
	return s.create(ctx, c, Done{in.Key, what})
}

// create stores a new case, or answers with the one that its key made before.
func (s *Service) create(ctx context.Context, c Case, d Done) (View, error) {
	id, err := s.Store.CreateCase(ctx, c, d)
	if err != nil && !errors.Is(err, ErrRepeated) {
		return View{}, err
	}
	if err == nil {
		s.tell(id, c.Rev)
	}
	made, err := s.Store.Case(ctx, id)
	if err != nil {
		return View{}, err
	}
	return s.answer(ctx, made)
}

// checkCase checks the plain columns and, for a new case, fills in the unit's version.
func (s *Service) checkCase(ctx context.Context, c *Case) error {
	for _, f := range []struct {
		name, text string
		most       int
		required   bool
	}{{"words", c.Words, maxWords, true}, {"vehicle", c.Vehicle, maxShort, true}, {"customer", c.Customer, maxShort, false}, {"bay", c.Bay, maxShort, false}, {"owner", c.Owner, maxShort, false}, {"waitsFor", c.WaitsFor, maxShort, false}} {
		if err := checkText(f.name, f.text, f.most, f.required); err != nil {
			return err
		}
	}
	n, err := s.library.network(ctx, c.UnitID, c.UnitVer)
	if errors.Is(err, ErrNotFound) {
		return &FieldError{"unit", fmt.Sprintf("no unit %q", c.UnitID), strings.Join(s.unitIDs(ctx), ", ")}
	}
	if err != nil {
		return err
	}
	if c.UnitVer == 0 { // a case keeps the sheet that it was made with
		c.UnitVer = n.Unit.Sheet.Version
		if err := s.library.keep(ctx, n, s.Now()); err != nil {
			return err
		}
	}
	return nil
}

// Change is what may be changed on a case; nil leaves a field as it is.
type Change struct {
	Words, Vehicle, Customer, Distance, Stage, Access, Bay, Owner, WaitsFor *string
}

// Update changes plain fields.
func (s *Service) Update(ctx context.Context, id string, g Guard, ch Change) (View, error) {
	return s.settled(ctx, id, g, "update", ch, func(st Standing) (func(Held) (Changes, error), error) {
		c, err := s.updated(ctx, st, ch)
		return func(Held) (Changes, error) { return Changes{Plain: &c}, nil }, err
	})
}

// updated is a case with its plain fields changed.
func (s *Service) updated(ctx context.Context, st Standing, ch Change) (Case, error) {
	c := st.Case
	if err := open(c); err != nil {
		return c, err
	}
	for _, f := range []struct {
		to   *string
		from *string
	}{{&c.Words, ch.Words}, {&c.Vehicle, ch.Vehicle}, {&c.Customer, ch.Customer}, {&c.Stage, ch.Stage}, {&c.Access, ch.Access}, {&c.Bay, ch.Bay}, {&c.Owner, ch.Owner}, {&c.WaitsFor, ch.WaitsFor}} {
		if f.from != nil {
			*f.to = *f.from
		}
	}
	if ch.Distance != nil {
		var err error
		if c.Distance, err = distance("distance", st.Settings.Style(), *ch.Distance, st.Settings.Distance); err != nil {
			return c, err
		}
	}
	if !slices.Contains(Stages, c.Stage) {
		return c, &FieldError{"stage", fmt.Sprintf("%q", c.Stage), strings.Join(Stages, ", ")}
	}
	n, err := s.network(ctx, c)
	if err != nil {
		return c, err
	}
	if a, err := unitsheet.ParseAccess(c.Access); err != nil || !n.Unit.Has(a) {
		return c, &FieldError{"access", fmt.Sprintf("%q", c.Access), levels(n.Unit)}
	}
	return c, s.checkCase(ctx, &c)
}

func open(c Case) error {
	if c.Closed != nil {
		return &StateError{"the case is closed", "reopen it first"}
	}
	return nil
}

// levels names the access levels that a unit has.
func levels(u *unitsheet.Unit) string {
	out := make([]string, len(u.Levels))
	for i, l := range u.Levels {
		out[i] = l.String()
	}
	return strings.Join(out, ", ")
}

// NewReading is a reading as it is made.
type NewReading struct {
	Key, Finding, State, Source, Stage, Check, Value, Note, By, Withdraws string
	Likelihood                                                            []float64
	Again                                                                 bool // looked at once more: the reading before stands, and both count
}

// AddReadings appends readings, all or none. A reading of a finding that already stands from the same
// source withdraws that one, unless it says that it was looked at again. A reading whose key is known is passed over, the
// others are added; a key that stands for another reading is refused.
func (s *Service) AddReadings(ctx context.Context, id string, g Guard, in []NewReading) (View, error) {
	n, err := s.networkOf(ctx, id)
	if err != nil {
		return View{}, err
	}
	return s.changed(ctx, id, Guard{Key: g.Key}, "readings", in, func(h Held) (Changes, error) {
		c, add := h.Case, []Reading(nil)
		for i, r := range in {
			at := fmt.Sprintf("readings[%d].", i)
			if known, err := c.noted(at, r); known || err != nil {
				if err != nil {
					return Changes{}, err
				}
				continue
			}
			if err := open(c); err != nil {
				return Changes{}, err
			}
			if g.Rev != 0 && g.Rev != c.Rev {
				return Changes{}, ErrChanged
			}
			made, err := s.reading(c, n, at, r)
			if err != nil {
				return Changes{}, err
			}
			c.Readings = append(slices.Clip(c.Readings), made) // so that one of a batch may correct another
			add = append(add, made)
		}
		return Changes{Readings: add}, nil
	})
}

// noted reports whether a reading was added before under its key.
func (c Case) noted(at string, in NewReading) (bool, error) {
	i := slices.IndexFunc(c.Readings, func(r Reading) bool { return in.Key != "" && r.Key == in.Key })
	if i < 0 {
		return false, nil
	}
	if old := c.Readings[i]; old.Finding != in.Finding || old.State != in.State || in.Source != "" && old.Source != in.Source || old.Value != in.Value || old.Note != in.Note {
		return false, &StateError{at + "key: this key was used for another reading", "a new key for each thing read"}
	}
	return true, nil
}

func (s *Service) reading(c Case, n *knowledge.Network, at string, in NewReading) (Reading, error) {
	r := Reading{ID: newID("r"), Key: in.Key, Finding: in.Finding, State: in.State, Source: in.Source, Stage: in.Stage, Check: in.Check, Value: in.Value,
		Note: in.Note, Likelihood: in.Likelihood, By: in.By, At: s.Now(), Withdraws: in.Withdraws}
	if err := checkKey(at+"key", in.Key); err != nil {
		return r, err
	}
	if r.Key == "" {
		r.Key = r.ID
	}
	if f, ok := n.Finding(r.Finding); ok && r.Stage == "" {
		if r.Stage = f.Stage; r.Stage == "code" {
			r.Stage = "checks" // codes are read there
		}
	}

	for name, text := range map[string]string{"value": r.Value, "by": r.By} {
		if err := checkText(at+name, text, maxShort*3, false); err != nil {
			return r, err
		}
	}
	if err := checkText(at+"note", r.Note, maxNote, false); err != nil {
		return r, err
	}
	if r.Finding == "" {
		if r.Withdraws == "" {
			return r, &FieldError{at + "finding", "empty", "the id of a finding"}
		}
	} else if err := diagnose.CheckReading(n, diagnose.Reading{ID: "new", Finding: r.Finding, State: r.State, Source: r.Source, Likelihood: r.Likelihood}); err != nil {
		var re *diagnose.ReadingError
		if errors.As(err, &re) {
			return r, &FieldError{at + re.Field, re.Reason, re.Accepted}
		}
		return r, err
	}
	if _, ok := n.Check(r.Check); r.Check != "" && !ok {
		return r, &FieldError{at + "check", fmt.Sprintf("no check %q", r.Check), "an id listed by: innercompass checks --unit " + c.UnitID}
	}
	if r.Finding != "" && !slices.Contains(Stages, r.Stage) {
		return r, &FieldError{at + "stage", fmt.Sprintf("%q", r.Stage), strings.Join(Stages, ", ")}
	}
	if _, ok := diagnose.Sources[r.Source]; r.Finding != "" && !ok {
		return r, &FieldError{at + "source", fmt.Sprintf("%q", r.Source), "customer, seen, measured"}
	}
	if r.Withdraws != "" {
		stands := slices.ContainsFunc(c.Valid(), func(o Reading) bool { return o.ID == r.Withdraws })
		if !stands && slices.ContainsFunc(c.Readings, func(o Reading) bool { return o.ID == r.Withdraws }) {
			return r, &StateError{at + "withdraws: this reading was taken back or corrected already", "a reading that stands"}
		}
		if !stands {
			return r, &FieldError{at + "withdraws", fmt.Sprintf("no standing reading %q", r.Withdraws), "the id of a reading that stands"}
		}
		return r, nil
	}
	if in.Again {
		return r, again(c, n, r, at)
	}
	for _, old := range c.Valid() {
		if old.Finding == r.Finding && old.Source == r.Source {
			r.Withdraws = old.ID
		}
	}
	return r, nil
}

// again refuses a second look at what was not looked at before, or was twice: the same eyes a third time say nothing
// that is independent of the first two.
func again(c Case, n *knowledge.Network, r Reading, at string) error {
	looks := 0
	for _, old := range c.Valid() {
		if old.Finding == r.Finding && old.Source != "customer" {
			looks++
		}
	}
	switch {
	case r.Source == "customer":
		return &FieldError{at + "again", "told by the customer", "a second look by somebody of the trade; what a customer told is corrected instead"}
	case !n.Repeatable(r.Finding):
		return &FieldError{at + "again", "what is told or stored does not change by looking", "a correction of what was noted"}
	case looks == 0:
		return &FieldError{at + "again", "it was not looked at before", "a reading without it"}
	case looks > 1:
		return &FieldError{at + "again", "it was looked at twice already", "a correction of the second look, or taking one of the two back"}
	}
	return nil
}

// Mark sets or takes back "I can't do that here" (skip) or the acknowledgement of a caution.
func (s *Service) Mark(ctx context.Context, id string, g Guard, m Mark, undo bool) (View, error) {
	n, err := s.networkOf(ctx, id)
	if err != nil {
		return View{}, err
	}
	return s.changed(ctx, id, g, "mark", []any{m, undo}, func(h Held) (Changes, error) {
		if err := open(h.Case); err != nil {
			return Changes{}, err
		}
		if _, ok := n.Check(m.Ref); !ok {
			return Changes{}, &NotFoundError{"check", m.Ref, "an id listed by: innercompass checks --unit " + h.Case.UnitID}
		}
		if err := errors.Join(checkText("note", m.Note, maxNote, false), checkText("by", m.By, maxShort, false)); err != nil {
			return Changes{}, err
		}
		m.At = s.Now()
		if undo {
			return Changes{Unmarked: []Mark{m}}, nil
		}
		return Changes{Marks: []Mark{m}}, nil
	})
}

// Most that the shop's figures may be: there are currencies whose unit is worth little.
const (
	MostRate        = 1e6
	MostGoodwill    = 1e8
	MostTax         = 0.5
	MostConsumables = 0.3
)

// SaveSettings checks and stores the shop's settings.
func (s *Service) SaveSettings(ctx context.Context, n Settings) (Settings, error) {
	if err := checkText("shop", n.Shop, maxShort, false); err != nil {
		return n, err
	}
	for field, text := range map[string]string{"warranty": n.Warranty, "address": n.Address} {
		if err := checkText(field, text, maxNote, false); err != nil {
			return n, err
		}
	}
	if err := checkText("currency", n.Currency, 4, true); err != nil {
		return n, err
	}
	for _, f := range []struct {
		name string
		v    float64
		most float64
	}{{"labourRate", n.LabourRate, MostRate}, {"fluidLitre", n.FluidLitre, MostRate}, {"goodwill", n.Goodwill, MostGoodwill}, {"tax", n.Tax, MostTax}, {"consumables", n.Consumables, MostConsumables}} {
		if !(f.v >= 0 && f.v <= f.most) {
			return n, &FieldError{f.name, fmt.Sprint(f.v), fmt.Sprintf("0 to %v", f.most)}
		}
	}
	if _, ok := quantity.FindStyle(n.Numbers); !ok {
		var samples []string
		for _, x := range quantity.Styles {
			samples = append(samples, x.Sample())
		}
		return n, &FieldError{"numbers", fmt.Sprintf("%q", n.Numbers), "as one of these: " + strings.Join(samples, "; ")}
	}
	if _, err := time.LoadLocation(n.Zone); err != nil || n.Zone == "" || n.Zone == "Local" {
		return n, &FieldError{"zone", fmt.Sprintf("%q", n.Zone), "the name of a time zone, such as Europe/Oslo or America/Chicago"}
	}
	for name, unit := range map[string][2]string{"pressure": {n.Pressure, "psi bar kPa"}, "length": {n.Length, "mm in thou"}, "torque": {n.Torque, "N·m lbf·ft"},
		"volume": {n.Volume, "L qt pt"}, "temperature": {n.Temperature, "°C °F"}, "distance": {n.Distance, "km mi"}} {
		if !slices.Contains(strings.Fields(unit[1]), unit[0]) {
			return n, &FieldError{name, fmt.Sprintf("%q", unit[0]), strings.ReplaceAll(unit[1], " ", ", ")}
		}
	}
	if err := s.Store.SaveSettings(ctx, n, n.Rev); err != nil {
		return n, err
	}
	s.tell("settings", 0)
	s.refreshFloor() // what is worth doing next depends on the rates
	return s.Store.Settings(ctx)
}

// changed is change with the case as it then stands.
func (s *Service) changed(ctx context.Context, id string, g Guard, use string, in any, f func(h Held) (Changes, error)) (View, error) {
	c, err := s.change(ctx, id, g, use, in, f)
	if err != nil {
		return View{}, err
	}
	return s.answer(ctx, c)
}

// settled is settle with the case as it then stands.
func (s *Service) settled(ctx context.Context, id string, g Guard, use string, in any, compute func(st Standing) (func(h Held) (Changes, error), error)) (View, error) {
	c, err := s.settle(ctx, id, g, use, in, compute)
	if err != nil {
		return View{}, err
	}
	return s.answer(ctx, c)
}

// Economics are the figures of the settings that decide what a check is worth.
func Economics(st Settings) plan.Economics {
	return plan.At(st.LabourRate)
}

// Rates are the figures of the settings that options are priced with.
func Rates(st Settings) decide.Rates {
	return decide.Rates{Labour: st.LabourRate, FluidLitre: st.FluidLitre, Rediagnose: decide.RediagnoseHours, Goodwill: st.Goodwill, Trial: plan.TrialHours * st.LabourRate, Tax: st.Tax, Consumables: st.Consumables, Guide: st.Guide, Currency: st.Currency, Style: st.Style()}
}
