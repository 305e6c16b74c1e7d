// Package library finds the unit that a case is about, in the version of its sheet that the case was made with: those that come with
// the app and those that the shop wrote.
package library

import (
	"bytes"
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"
	"sync"
	"time"

	"github.com/hashicorp/golang-lru/v2/expirable"
	"golang.org/x/sync/singleflight"

	"innercompass/core/gearing"
	"innercompass/core/generic"
	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
	"innercompass/internal/problem"
)

// Store keeps sheets.
type Store interface {
	// Sheets lists all stored unit sheets without their text.
	Sheets(ctx context.Context) ([]StoredSheet, error)
	Sheet(ctx context.Context, unitID string, version int) (StoredSheet, error)
	// AddSheet stores a version; one that is there already reports ErrRepeated.
	AddSheet(ctx context.Context, s StoredSheet) error
}

// Service finds, checks and keeps sheets.
type Service struct {
	Store  Store
	Sheets Sheets
	Now    func() time.Time
	Tell   func(what string, rev int) // told when a sheet was saved
	// Longest is how long a sheet may take to be solved; 0 for the usual few seconds.
	Longest time.Duration

	generic func() map[string][]byte                   // text of the sheets of units that nobody knows yet, by id
	made    *expirable.LRU[string, *knowledge.Network] // stored sheets that were compiled, by id and version
	making  singleflight.Group
}

// New returns a library over a store and the sheets that come with the app.
func New(store Store, sheets Sheets, now func() time.Time, tell func(string, int)) *Service {
	s := &Service{Store: store, Sheets: sheets, Now: now, Tell: tell, made: expirable.NewLRU[string, *knowledge.Network](mostCompiled, nil, 0)}
	s.generic = sync.OnceValue(s.writeGeneric)
	return s
}

// Sheets reads, checks and writes unit sheets, and knows those that come with the app.
type Sheets interface {
	Shipped() map[string]*knowledge.Network
	Text(id string) []byte
	Check(ctx context.Context, text []byte) (*knowledge.Network, []*unitsheet.Problem, error)
	Doubts(n *knowledge.Network, text []byte) []*unitsheet.Problem
	Write(s unitsheet.Sheet, format string) ([]byte, error)
}

// StoredSheet is one version of a sheet as it was written: a practitioner's own, or a shipped one that a case
// was made with. Versions are never changed.
type StoredSheet struct {
	UnitID  string
	Version int
	Name    string
	Text    []byte
	By      string
	At      time.Time
}

// UnitItem is a unit on file. Own says that the shop wrote its sheet.
type UnitItem struct {
	ID, Name, Summary string
	Version           int
	Own               bool
	Generic           bool // stands for any unit of its kind
	Versions          []int
	Zones             [][]float64 // of its parts in the side elevation: x, y, width, height
	Facts             []string    // what it has, each in a few words
}

// mostCompiled is how many of the shop's own sheets are kept compiled; one takes some four megabytes.
const mostCompiled = 24

// shipped returns the network that comes with the app.
func (s *Service) shipped(id string) (*knowledge.Network, bool) {
	n, ok := s.Sheets.Shipped()[id]
	return n, ok
}

// Find returns a unit in a version; version 0 is the newest. A version of a shipped unit that was not kept
// is answered with the newest.
func (s *Service) Find(ctx context.Context, id string, version int) (*knowledge.Network, error) {
	shipped, ok := s.shipped(id)
	if ok && (version == 0 || shipped.Unit.Sheet.Version == version) {
		return shipped, nil
	}
	if s.generic()[id] != nil {
		return s.kept(ctx, id, 1)
	}
	if version == 0 {
		stored, err := s.Store.Sheets(ctx)
		if err != nil {
			return nil, err
		}
		for _, x := range stored {
			if x.UnitID == id {
				version = max(version, x.Version)
			}
		}
	}
	n, err := s.kept(ctx, id, version)
	if errors.Is(err, problem.ErrNotFound) && ok {
		return shipped, nil
	}
	return n, err
}

func (s *Service) kept(ctx context.Context, id string, version int) (*knowledge.Network, error) {
	key := fmt.Sprintf("%s %d", id, version)
	if n, ok := s.made.Get(key); ok {
		return n, nil
	}
	// Of several that ask at once one compiles; it does so to the end, since the others wait for it.
	n, err, _ := s.making.Do(key, func() (any, error) { return s.compile(context.WithoutCancel(ctx), key, id, version) })
	if err != nil {
		return nil, err
	}
	return n.(*knowledge.Network), nil
}

func (s *Service) compile(ctx context.Context, key, id string, version int) (*knowledge.Network, error) {
	text := s.generic()[id]
	if text == nil {
		stored, err := s.Store.Sheet(ctx, id, version)
		if err != nil {
			return nil, err
		}
		text = stored.Text
	}
	n, bad, err := s.Sheets.Check(ctx, text)
	if err != nil {
		return nil, err
	}
	if bad != nil {
		return nil, fmt.Errorf("unit %s, version %d, can no longer be read: %w", id, version, bad[0])
	}
	s.made.Add(key, n)
	return n, nil
}

// Keep stores the text of the sheet that a case is made with, so that the case keeps it.
func (s *Service) Keep(ctx context.Context, n *knowledge.Network, at time.Time) error {
	sheet := n.Unit.Sheet
	text := s.Sheets.Text(sheet.ID)
	if text == nil {
		text = s.generic()[sheet.ID]
	}
	if text == nil {
		return nil // the shop's own: stored already
	}
	err := s.Store.AddSheet(ctx, StoredSheet{UnitID: sheet.ID, Version: sheet.Version, Name: sheet.Name, Text: text, At: at})
	if errors.Is(err, problem.ErrRepeated) {
		return nil
	}
	return err
}

// Unit returns a unit's network; version 0 is the newest.
func (s *Service) Unit(ctx context.Context, id string, version int) (*knowledge.Network, error) {
	n, err := s.Find(ctx, id, version)
	if errors.Is(err, problem.ErrNotFound) {
		return nil, problem.NotFound("unit", id, strings.Join(s.UnitIDs(ctx), ", "))
	}
	return n, err
}

// UnitList lists all units, shipped ones and the shop's own, by name.
func (s *Service) UnitList(ctx context.Context) ([]UnitItem, error) {
	stored, err := s.Store.Sheets(ctx)
	if err != nil {
		return nil, err
	}
	items := map[string]*UnitItem{}
	for id, n := range s.Sheets.Shipped() {
		x := n.Unit.Sheet
		items[id] = &UnitItem{ID: id, Name: x.Name, Summary: x.Summary, Version: x.Version, Versions: []int{x.Version}}
	}
	for _, x := range stored {
		if _, ok := s.shipped(x.UnitID); ok || s.generic()[x.UnitID] != nil {
			continue
		}
		it := items[x.UnitID]
		if it == nil {
			it = &UnitItem{ID: x.UnitID, Own: true}
			items[x.UnitID] = it
		}
		it.Versions = append(it.Versions, x.Version)
		if x.Version > it.Version {
			it.Version, it.Name = x.Version, x.Name
		}
	}
	out := make([]UnitItem, 0, len(items))
	for _, it := range items {
		if n, err := s.Find(ctx, it.ID, it.Version); err == nil {
			it.Summary = n.Unit.Sheet.Summary
			it.Facts = facts(n.Unit)
			for _, p := range n.Unit.Sheet.Parts {
				it.Zones = append(it.Zones, p.Zone)
			}
		}
		sort.Ints(it.Versions)
		out = append(out, *it)
	}
	sort.Slice(out, func(i, j int) bool { return out[i].Name < out[j].Name })
	for _, g := range generic.Units { // those that stand for any of their kind come last
		out = append(out, UnitItem{ID: g.ID, Name: g.Name, Summary: "not known yet which", Version: 1, Versions: []int{1}, Generic: true})
	}
	return out, nil
}

// facts are what a practitioner asks first: ratios from low to high, what applies, what controls it.
func facts(u *unitsheet.Unit) []string {
	low, high, elements := 0.0, math.Inf(1), 0
	for _, r := range u.Ranges {
		if r.Healthy.Outcome == gearing.Forward && u.RatioKnown() {
			low, high = math.Max(low, r.Healthy.Ratio), math.Min(high, r.Healthy.Ratio)
		}
	}
	for _, e := range u.Elements {
		if e.Kind.Friction() {
			elements++
		}
	}
	var out []string
	if low > 0 {
		out = append(out, fmt.Sprintf("ratios %.2f to %.2f", low, high))
	}
	if elements > 0 {
		out = append(out, counted(elements, "clutch or band", "clutches and bands"))
	}
	if solenoids := slices.DeleteFunc(slices.Clone(u.Controls), func(c unitsheet.Control) bool { return c.Kind != "solenoid" }); len(solenoids) > 0 {
		out = append(out, counted(len(solenoids), "solenoid", "solenoids"))
	}
	return out
}

func counted(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}

// UnitIDs are the ids of all units on file, in order; none when they cannot be read. Those that stand for any of their kind are left
// out: nothing is kept that is their own.
func (s *Service) UnitIDs(ctx context.Context) []string {
	items, err := s.UnitList(ctx)
	if err != nil {
		return nil
	}
	var out []string
	for _, it := range items {
		if !it.Generic {
			out = append(out, it.ID)
		}
	}
	sort.Strings(out)
	return out
}

// longestCheck is how long a sheet may take to be solved; those that are shipped take a few hundredths of that.
const longestCheck = 5 * time.Second

// SheetCheck is what a sheet comes to: the unit, or what is wrong with it.
type SheetCheck struct {
	Network  *knowledge.Network // nil when there are problems
	Problems []*unitsheet.Problem
	Doubts   []*unitsheet.Problem
	Taken    int // highest version that is stored of this unit; 0 for a new one
	Shipped  bool
}

// CheckSheet reads a sheet and says what is wrong with it; nothing is stored.
func (s *Service) CheckSheet(ctx context.Context, text []byte) (SheetCheck, error) {
	within, stop := context.WithTimeout(ctx, cmp.Or(s.Longest, longestCheck))
	defer stop()
	n, bad, err := s.Sheets.Check(within, text)
	switch {
	case ctx.Err() != nil:
		return SheetCheck{}, ctx.Err() // whoever asked is gone
	case err != nil:
		return SheetCheck{}, problem.Field("text", "the sheet takes too long to be solved", "fewer elements, ranges and entries")
	}
	out := SheetCheck{Network: n, Problems: bad}
	if n == nil {
		return out, nil
	}
	out.Doubts = s.Sheets.Doubts(n, text)
	id := n.Unit.Sheet.ID
	_, out.Shipped = s.shipped(id)
	out.Shipped = out.Shipped || s.generic()[id] != nil
	stored, err := s.Store.Sheets(ctx)
	for _, x := range stored {
		if x.UnitID == id {
			out.Taken = max(out.Taken, x.Version)
		}
	}
	return out, err
}

// SaveSheet stores a sheet of the shop's own as a new version. The same text again changes nothing.
func (s *Service) SaveSheet(ctx context.Context, text []byte, by string) (*knowledge.Network, error) {
	if err := problem.CheckText("by", by, problem.MaxShort, false); err != nil {
		return nil, err
	}
	c, err := s.CheckSheet(ctx, text)
	if err != nil {
		return nil, err
	}
	if c.Network == nil {
		p := c.Problems[0]
		return nil, &problem.FieldError{Field: fmt.Sprintf("line %d, %s", p.Line, p.Path), Reason: p.Reason, Accepted: p.Accepted}
	}
	sheet := c.Network.Unit.Sheet
	if c.Shipped {
		return nil, problem.Field("id", fmt.Sprintf("%q belongs to a sheet that comes with the app", sheet.ID), "an id of your own, such as my-"+sheet.ID)
	}
	if old, err := s.Store.Sheet(ctx, sheet.ID, sheet.Version); err == nil {
		if bytes.Equal(old.Text, text) {
			return c.Network, nil
		}
		return nil, problem.Field("version", fmt.Sprintf("version %d is stored and cases may rest on it", sheet.Version), fmt.Sprintf("version: %d", c.Taken+1))
	}
	if c.Taken > sheet.Version {
		return nil, problem.Field("version", fmt.Sprintf("version %d is older than the %d that is stored", sheet.Version, c.Taken), fmt.Sprintf("version: %d", c.Taken+1))
	}
	err = s.Store.AddSheet(ctx, StoredSheet{UnitID: sheet.ID, Version: sheet.Version, Name: sheet.Name, Text: text, By: by, At: s.Now()})
	if errors.Is(err, problem.ErrRepeated) { // somebody else was quicker, with this text or with another
		return s.SaveSheet(ctx, text, by)
	}
	if err != nil {
		return nil, err
	}
	s.Tell("units", 0)
	return c.Network, nil
}

// SheetText returns a unit's sheet for writing: as it was written where the format fits, else converted.
func (s *Service) SheetText(ctx context.Context, id string, version int, format string) ([]byte, error) {
	n, err := s.Unit(ctx, id, version)
	if err != nil {
		return nil, err
	}
	sheet := n.Unit.Sheet
	text := s.Sheets.Text(id)
	if generic := s.generic()[id]; generic != nil {
		text = generic
	} else if shipped, ok := s.shipped(id); !ok || shipped.Unit.Sheet.Version != sheet.Version {
		stored, err := s.Store.Sheet(ctx, id, sheet.Version)
		if err != nil {
			return nil, err
		}
		text = stored.Text
	}
	isJSON := bytes.HasPrefix(bytes.TrimSpace(text), []byte("{"))
	if isJSON == (format == "json") {
		return text, nil
	}
	return s.Sheets.Write(sheet, format)
}

// Knowledge is the version of the knowledge base that comes with the app.
func (s *Service) Knowledge() string {
	for _, n := range s.Sheets.Shipped() {
		return n.Version // the same for all: they are compiled from one knowledge base
	}
	return ""
}
