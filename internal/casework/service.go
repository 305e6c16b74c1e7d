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
	"time"
	"unicode/utf8"

	"innercompass/core/decide"
	"innercompass/core/diagnose"
	"innercompass/core/unitsheet"
)

// Service runs the use cases.
type Service struct {
	Store   Store
	Now     func() time.Time    // the clock; set once by main or a test
	Changed func(caseID string) // told after every change; may be nil
	library *library
	memory  *memory
}

// New returns a service over a store and the sheets that come with the app.
func New(store Store, sheets Sheets) *Service {
	return &Service{Store: store, Now: func() time.Time { return time.Now().UTC().Truncate(time.Millisecond) }, memory: newMemory(),
		library: &library{store: store, sheets: sheets, made: map[string]*diagnose.Network{}}}
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

// keyedID is the id of what a page makes under its own key, so that the same key cannot make it twice.
func keyedID(prefix, key string) string {
	if key == "" {
		return newID(prefix)
	}
	return prefix + key
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
	id := keyedID("c", in.Key)
	if _, err := s.Store.Case(ctx, id); in.Key != "" && err == nil {
		return s.View(ctx, id) // sent again after a lost answer
	}
	c := Case{ID: id, Words: strings.TrimSpace(in.Words), Vehicle: strings.TrimSpace(in.Vehicle), Customer: in.Customer, Distance: strings.TrimSpace(in.Distance),
		UnitID: in.UnitID, Stage: Stages[0], Access: unitsheet.AccessNames[0], Bay: in.Bay, Owner: in.Owner, Opened: s.Now(), Rev: 1}
	if err := s.checkCase(ctx, &c); err != nil {
		return View{}, err
	}
	if err := s.Store.CreateCase(ctx, c); err != nil {
		return View{}, err
	}
	return s.changed(ctx, c.ID)
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
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return err
	}
	distance, err := normalDistance(c.Distance, st.Distance)
	if err != nil {
		return err
	}
	c.Distance = distance
	return nil
}

// Change is what may be changed on a case; nil leaves a field as it is.
type Change struct {
	Words, Vehicle, Customer, Distance, Stage, Access, Bay, Owner, WaitsFor *string
}

// Update changes plain fields. rev is the revision that the page showed; 0 skips the comparison.
func (s *Service) Update(ctx context.Context, id string, rev int, ch Change) (View, error) {
	c, err := s.Store.Case(ctx, id)
	if err != nil {
		return View{}, err
	}
	if rev != 0 && rev != c.Rev {
		return View{}, ErrChanged
	}
	if err := open(c); err != nil {
		return View{}, err
	}
	for _, f := range []struct {
		to   *string
		from *string
	}{{&c.Words, ch.Words}, {&c.Vehicle, ch.Vehicle}, {&c.Customer, ch.Customer}, {&c.Distance, ch.Distance}, {&c.Stage, ch.Stage}, {&c.Access, ch.Access}, {&c.Bay, ch.Bay}, {&c.Owner, ch.Owner}, {&c.WaitsFor, ch.WaitsFor}} {
		if f.from != nil {
			*f.to = *f.from
		}
	}
	if !slices.Contains(Stages, c.Stage) {
		return View{}, &FieldError{"stage", fmt.Sprintf("%q", c.Stage), strings.Join(Stages, ", ")}
	}
	n, err := s.network(ctx, c)
	if err != nil {
		return View{}, err
	}
	if a, err := unitsheet.ParseAccess(c.Access); err != nil || !n.Unit.Has(a) {
		return View{}, &FieldError{"access", fmt.Sprintf("%q", c.Access), levels(n.Unit)}
	}
	if err := s.checkCase(ctx, &c); err != nil {
		return View{}, err
	}
	if err := s.Store.SaveCase(ctx, c, c.Rev); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id)
}

// loadOpen loads a case that can still be changed, with its network.
func (s *Service) loadOpen(ctx context.Context, id string) (Case, *diagnose.Network, error) {
	c, n, err := s.load(ctx, id)
	if err != nil {
		return c, nil, err
	}
	return c, n, open(c)
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
// source withdraws that one, unless it says that it was looked at again. A repeated key changes nothing and reports no error.
func (s *Service) AddReadings(ctx context.Context, id string, in []NewReading) (View, error) {
	c, n, err := s.loadOpen(ctx, id)
	if err != nil {
		return View{}, err
	}
	var add []Reading
	for i, r := range in {
		made, err := s.reading(c, n, fmt.Sprintf("readings[%d].", i), r)
		if err != nil {
			return View{}, err
		}
		add = append(add, made)
	}
	if err := s.Store.AddReadings(ctx, id, add); err != nil && !errors.Is(err, ErrRepeated) {
		return View{}, err
	}
	return s.changed(ctx, id)
}

func (s *Service) reading(c Case, n *diagnose.Network, at string, in NewReading) (Reading, error) {
	r := Reading{ID: newID("r"), Key: in.Key, Finding: in.Finding, State: in.State, Source: in.Source, Stage: in.Stage, Check: in.Check, Value: in.Value,
		Note: in.Note, Likelihood: in.Likelihood, By: in.By, At: s.Now(), Withdraws: in.Withdraws}
	if r.Key == "" {
		r.Key = r.ID
	}
	if f, ok := n.Finding(r.Finding); ok && r.Stage == "" {
		r.Stage = f.Stage
	}

	for name, text := range map[string]string{"key": r.Key, "value": r.Value, "by": r.By} {
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
	} else if err := n.CheckReading(diagnose.Reading{ID: "new", Finding: r.Finding, State: r.State, Source: r.Source, Likelihood: r.Likelihood}); err != nil {
		var re *diagnose.ReadingError
		if errors.As(err, &re) {
			return r, &FieldError{at + re.Field, re.Reason, re.Accepted}
		}
		return r, err
	}
	if r.Finding != "" && !slices.Contains(Stages, r.Stage) {
		return r, &FieldError{at + "stage", fmt.Sprintf("%q", r.Stage), strings.Join(Stages, ", ")}
	}
	if _, ok := diagnose.Sources[r.Source]; r.Finding != "" && !ok {
		return r, &FieldError{at + "source", fmt.Sprintf("%q", r.Source), "customer, seen, measured"}
	}
	if r.Withdraws != "" {
		if !slices.ContainsFunc(c.Valid(), func(o Reading) bool { return o.ID == r.Withdraws }) {
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
func again(c Case, n *diagnose.Network, r Reading, at string) error {
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
func (s *Service) Mark(ctx context.Context, id, kind, check, note, by string, undo bool) (View, error) {
	c, n, err := s.loadOpen(ctx, id)
	if err != nil {
		return View{}, err
	}
	if _, ok := n.Check(check); !ok {
		return View{}, &NotFoundError{"check", check, "an id listed by: innercompass checks --unit " + c.UnitID}
	}
	if err := checkText("note", note, maxNote, false); err != nil {
		return View{}, err
	}
	if err := s.Store.AddMark(ctx, id, Mark{kind, check, note, by, s.Now()}, undo); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id)
}

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
	}{{"labourRate", n.LabourRate, 1000}, {"fluidLitre", n.FluidLitre, 500}, {"goodwill", n.Goodwill, 10000}, {"tax", n.Tax, 0.5}, {"consumables", n.Consumables, 0.3}} {
		if !(f.v >= 0 && f.v <= f.most) {
			return n, &FieldError{f.name, fmt.Sprint(f.v), fmt.Sprintf("0 to %v", f.most)}
		}
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
	if s.Changed != nil {
		s.Changed("settings")
	}
	return s.Store.Settings(ctx)
}

func (s *Service) changed(ctx context.Context, id string) (View, error) {
	if s.Changed != nil {
		s.Changed(id)
	}
	return s.view(ctx, id, false, false)
}

// Economics are the figures of the settings that decide what a check is worth.
func Economics(st Settings) diagnose.Economics {
	return diagnose.Economics{LabourRate: st.LabourRate, Trial: 0.7 * st.LabourRate}
}

func rates(st Settings) decide.Rates {
	return decide.Rates{Labour: st.LabourRate, FluidLitre: st.FluidLitre, Rediagnose: 1.5, Goodwill: st.Goodwill, Trial: 0.7 * st.LabourRate, Tax: st.Tax, Consumables: st.Consumables, Guide: st.Guide, Currency: st.Currency}
}
