package casework

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"sort"
	"strings"
	"time"

	lru "github.com/hashicorp/golang-lru/v2"
	"golang.org/x/sync/singleflight"

	"innercompass/core/knowledge"
	"innercompass/core/unitsheet"
)

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
	Versions          []int
}

// library finds the network of a unit, by version.
type library struct {
	store  Store
	sheets Sheets

	made   *lru.Cache[string, *knowledge.Network] // stored sheets that were compiled, by id and version
	making singleflight.Group
}

// mostCompiled is how many of the shop's own sheets are kept compiled; one takes some four megabytes.
const mostCompiled = 24

// shipped returns the network that comes with the app.
func (l *library) shipped(id string) (*knowledge.Network, bool) {
	n, ok := l.sheets.Shipped()[id]
	return n, ok
}

// network returns a unit in a version; version 0 is the newest. A version of a shipped unit that was not kept
// is answered with the newest.
func (l *library) network(ctx context.Context, id string, version int) (*knowledge.Network, error) {
	shipped, ok := l.shipped(id)
	if ok && (version == 0 || shipped.Unit.Sheet.Version == version) {
		return shipped, nil
	}
	if version == 0 {
		stored, err := l.store.Sheets(ctx)
		if err != nil {
			return nil, err
		}
		for _, s := range stored {
			if s.UnitID == id {
				version = max(version, s.Version)
			}
		}
	}
	n, err := l.kept(ctx, id, version)
	if errors.Is(err, ErrNotFound) && ok {
		return shipped, nil
	}
	return n, err
}

func (l *library) kept(ctx context.Context, id string, version int) (*knowledge.Network, error) {
	key := fmt.Sprintf("%s %d", id, version)
	if n, ok := l.made.Get(key); ok {
		return n, nil
	}
	// Of several that ask at once one compiles; it does so to the end, since the others wait for it.
	n, err, _ := l.making.Do(key, func() (any, error) { return l.compile(context.WithoutCancel(ctx), key, id, version) })
	if err != nil {
		return nil, err
	}
	return n.(*knowledge.Network), nil
}

func (l *library) compile(ctx context.Context, key, id string, version int) (*knowledge.Network, error) {
	s, err := l.store.Sheet(ctx, id, version)
	if err != nil {
		return nil, err
	}
	n, bad, err := l.sheets.Check(ctx, s.Text)
	if err != nil {
		return nil, err
	}
	if bad != nil {
		return nil, fmt.Errorf("unit %s, version %d, can no longer be read: %w", id, version, bad[0])
	}
	l.made.Add(key, n)
	return n, nil
}

// keep stores the text of the sheet that a case is made with, so that the case keeps it.
func (l *library) keep(ctx context.Context, n *knowledge.Network, at time.Time) error {
	s := n.Unit.Sheet
	text := l.sheets.Text(s.ID)
	if text == nil {
		return nil // the shop's own: stored already
	}
	err := l.store.AddSheet(ctx, StoredSheet{UnitID: s.ID, Version: s.Version, Name: s.Name, Text: text, At: at})
	if errors.Is(err, ErrRepeated) {
		return nil
	}
	return err
}

// Unit returns a unit's network; version 0 is the newest.
func (s *Service) Unit(ctx context.Context, id string, version int) (*knowledge.Network, error) {
	n, err := s.library.network(ctx, id, version)
	if errors.Is(err, ErrNotFound) {
		return nil, &NotFoundError{"unit", id, strings.Join(s.unitIDs(ctx), ", ")}
	}
	return n, err
}

// network is the one that a case was made with.
func (s *Service) network(ctx context.Context, c Case) (*knowledge.Network, error) {
	return s.Unit(ctx, c.UnitID, c.UnitVer)
}

// UnitList lists all units, shipped ones and the shop's own, by name.
func (s *Service) UnitList(ctx context.Context) ([]UnitItem, error) {
	stored, err := s.Store.Sheets(ctx)
	if err != nil {
		return nil, err
	}
	items := map[string]*UnitItem{}
	for id, n := range s.library.sheets.Shipped() {
		x := n.Unit.Sheet
		items[id] = &UnitItem{ID: id, Name: x.Name, Summary: x.Summary, Version: x.Version, Versions: []int{x.Version}}
	}
	for _, x := range stored {
		if _, ok := s.library.shipped(x.UnitID); ok {
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
		if n, err := s.library.network(ctx, it.ID, it.Version); err == nil {
			it.Summary = n.Unit.Sheet.Summary
		}
		sort.Ints(it.Versions)
		out = append(out, *it)
	}
	sort.Slice(out, func(i, j int) bool { return out[i].Name < out[j].Name })
	return out, nil
}

func (s *Service) unitIDs(ctx context.Context) []string {
	items, err := s.UnitList(ctx)
	if err != nil {
		return nil
	}
	out := make([]string, len(items))
	for i, it := range items {
		out[i] = it.ID
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
	within, stop := context.WithTimeout(ctx, longestCheck)
	defer stop()
	n, bad, err := s.library.sheets.Check(within, text)
	switch {
	case ctx.Err() != nil:
		return SheetCheck{}, ctx.Err() // whoever asked is gone
	case err != nil:
		return SheetCheck{}, &FieldError{"text", "the sheet takes too long to be solved", "fewer elements, ranges and entries"}
	}
	out := SheetCheck{Network: n, Problems: bad}
	if n == nil {
		return out, nil
	}
	out.Doubts = s.library.sheets.Doubts(n, text)
	id := n.Unit.Sheet.ID
	_, out.Shipped = s.library.shipped(id)
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
	if err := checkText("by", by, maxShort, false); err != nil {
		return nil, err
	}
	c, err := s.CheckSheet(ctx, text)
	if err != nil {
		return nil, err
	}
	if c.Network == nil {
		p := c.Problems[0]
		return nil, &FieldError{Field: fmt.Sprintf("line %d, %s", p.Line, p.Path), Reason: p.Reason, Accepted: p.Accepted}
	}
	sheet := c.Network.Unit.Sheet
	if c.Shipped {
		return nil, &FieldError{"id", fmt.Sprintf("%q belongs to a sheet that comes with the app", sheet.ID), "an id of your own, such as my-" + sheet.ID}
	}
	if old, err := s.Store.Sheet(ctx, sheet.ID, sheet.Version); err == nil {
		if bytes.Equal(old.Text, text) {
			return c.Network, nil
		}
		return nil, &FieldError{"version", fmt.Sprintf("version %d is stored and cases may rest on it", sheet.Version), fmt.Sprintf("version: %d", c.Taken+1)}
	}
	if c.Taken > sheet.Version {
		return nil, &FieldError{"version", fmt.Sprintf("version %d is older than the %d that is stored", sheet.Version, c.Taken), fmt.Sprintf("version: %d", c.Taken+1)}
	}
	err = s.Store.AddSheet(ctx, StoredSheet{UnitID: sheet.ID, Version: sheet.Version, Name: sheet.Name, Text: text, By: by, At: s.Now()})
	if errors.Is(err, ErrRepeated) { // somebody else was quicker, with this text or with another
		return s.SaveSheet(ctx, text, by)
	}
	if err != nil {
		return nil, err
	}
	s.tell("units", 0)
	return c.Network, nil
}

// SheetText returns a unit's sheet for writing: as it was written where the format fits, else converted.
func (s *Service) SheetText(ctx context.Context, id string, version int, format string) ([]byte, error) {
	n, err := s.Unit(ctx, id, version)
	if err != nil {
		return nil, err
	}
	sheet := n.Unit.Sheet
	text := s.library.sheets.Text(id)
	if shipped, ok := s.library.shipped(id); !ok || shipped.Unit.Sheet.Version != sheet.Version {
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
	return s.library.sheets.Write(sheet, format)
}
