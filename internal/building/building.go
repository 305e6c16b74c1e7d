// Package building is the use case of bringing one's own unit: a draft that is kept at every step, looked at, and stored as a sheet.
package building

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"innercompass/core/builder"
	"innercompass/core/generic"
	"innercompass/core/knowledge"
	"innercompass/core/scheme"
	"innercompass/core/unitsheet"
	"innercompass/internal/cases"
	"innercompass/internal/library"
	"innercompass/internal/problem"
)

// Kept is a draft as it is kept. Every change raises its revision.
type Kept struct {
	ID       string
	Title    string
	Content  []byte // a builder.Draft as JSON
	Revision int
	At       time.Time
}

// Store keeps drafts.
type Store interface {
	Drafts(ctx context.Context) ([]Kept, error)
	Draft(ctx context.Context, id string) (Kept, error)
	// PutDraft keeps a draft whose revision follows the kept one; another reports problem.ErrChanged.
	PutDraft(ctx context.Context, d Kept) error
	RemoveDraft(ctx context.Context, id string) error
	// MeasuredOn lists what an instrument was given in the cases of a unit, as far as it stands.
	MeasuredOn(ctx context.Context, unit, instrument string) ([]Measured, error)
}

// Service builds units.
type Service struct {
	Store   Store
	Library *library.Service
	Schemes []scheme.Scheme
	Now     func() time.Time
}

// Opened is a draft with what it comes to.
type Opened struct {
	Kept
	Draft  builder.Draft
	View   builder.View
	Offers []Offer
	Taken  int // highest version of this id that is stored; 0 for a new one
}

const (
	mostDrafts = 100
	longest    = 5 * time.Second // that a look may take
)

// Start begins a draft: on a scheme, by the chart alone, or as a copy of a unit.
func (s *Service) Start(ctx context.Context, kind, scheme, copyOf string) (Opened, error) {
	all, err := s.Store.Drafts(ctx)
	if err != nil {
		return Opened{}, err
	}
	if len(all) >= mostDrafts {
		return Opened{}, problem.Field("kind", fmt.Sprintf("%d drafts are kept", len(all)), fmt.Sprintf("at most %d: take away what is no longer needed", mostDrafts))
	}
	d := builder.Draft{Kind: kind, Scheme: scheme}
	switch {
	case copyOf != "":
		n, err := s.Library.Unit(ctx, copyOf, 0)
		if err != nil {
			return Opened{}, err
		}
		d = builder.Of(n.Unit)
		if !s.own(ctx, copyOf) {
			d.Sheet.Name += ", own"
			d.Sheet.ID, d.Sheet.Version = "", 1
		}
	default:
		if d, err = s.begin(kind, scheme); err != nil {
			return Opened{}, err
		}
	}
	return s.keep(ctx, Kept{ID: cases.NewID("d"), Revision: 1}, d)
}

// own reports whether a unit is the shop's.
func (s *Service) own(ctx context.Context, id string) bool {
	stored, err := s.Library.Store.Sheets(ctx)
	if _, shipped := s.Library.Sheets.Shipped()[id]; err != nil || shipped {
		return false
	}
	return slices.ContainsFunc(stored, func(x library.StoredSheet) bool { return x.UnitID == id }) && !generic.Is(id)
}

func (s *Service) begin(kind, scheme string) (builder.Draft, error) {
	if !slices.ContainsFunc(builder.Kinds, func(k builder.Kind) bool { return k.ID == kind }) {
		var ids []string
		for _, k := range builder.Kinds {
			ids = append(ids, k.ID)
		}
		return builder.Draft{}, problem.Field("kind", fmt.Sprintf("%q", kind), strings.Join(ids, ", "))
	}
	if scheme == "" {
		return builder.Draft{Kind: kind}, nil
	}
	x, err := s.Scheme(scheme)
	if err != nil {
		return builder.Draft{}, err
	}
	d := builder.Draft{Kind: x.Kind, Scheme: x.ID, Sheet: x.Sheet()}
	d.Sheet.ID, d.Sheet.Name, d.Sheet.Summary = "", "", ""
	return s.fill(d), nil
}

// Scheme returns a scheme of gears by its id.
func (s *Service) Scheme(id string) (scheme.Scheme, error) {
	at := slices.IndexFunc(s.Schemes, func(x scheme.Scheme) bool { return x.ID == id })
	if at < 0 {
		var ids []string
		for _, x := range s.Schemes {
			ids = append(ids, x.ID)
		}
		return scheme.Scheme{}, problem.Field("scheme", fmt.Sprintf("%q", id), strings.Join(ids, ", "))
	}
	return s.Schemes[at], nil
}

// How a unit lies in the vehicle; a draft of which nobody has said it lies as the nearest of its kind does.
const (
	along  = "along"
	across = "across"
)

// fill takes over from the nearest sheet what is not known.
func (s *Service) fill(d builder.Draft) builder.Draft {
	near, ok := s.nearest(d)
	if !ok {
		return d
	}
	taken := d.Sheet.Leaks == nil
	d.Sheet = builder.Fill(d.Sheet, d.Kind, near)
	if taken && d.Sheet.Leaks != nil && d.Lies != "" {
		d.Sheet.Leaks.Across = d.Lies == across // Fill made a copy
	}
	return d
}

// nearest is the sheet that ships whose unit is most like a draft; false when none is of its kind.
func (s *Service) nearest(d builder.Draft) (unitsheet.Sheet, bool) {
	var units []*unitsheet.Unit
	for _, n := range s.Library.Sheets.Shipped() {
		units = append(units, n.Unit)
	}
	u := builder.Nearest(units, builder.Wanted{Kind: d.Kind, Control: d.Sheet.Control, Gears: builder.Gears(d.Sheet), Lies: d.Lies != "", Across: d.Lies == across})
	if u == nil {
		return unitsheet.Sheet{}, false
	}
	return u.Sheet, true
}

func (s *Service) shipped() []unitsheet.Sheet {
	var out []unitsheet.Sheet
	for _, n := range s.Library.Sheets.Shipped() {
		out = append(out, n.Unit.Sheet)
	}
	return out
}

// List names all drafts, the one changed last first.
func (s *Service) List(ctx context.Context) ([]Kept, error) { return s.Store.Drafts(ctx) }

// Open is a draft with what it comes to.
func (s *Service) Open(ctx context.Context, id string) (Opened, error) {
	o, err := s.kept(ctx, id)
	if err != nil {
		return Opened{}, err
	}
	return s.look(ctx, o.Kept, o.Draft)
}

func (s *Service) kept(ctx context.Context, id string) (Opened, error) {
	k, err := s.Store.Draft(ctx, id)
	if errors.Is(err, problem.ErrNotFound) {
		return Opened{}, problem.NotFound("draft", id, "a draft listed with the units")
	}
	if err != nil {
		return Opened{}, err
	}
	d, err := Read(k.Content)
	return Opened{Kept: k, Draft: d}, err
}

// Read reads a draft. Keys that nobody knows are refused, so that nothing is lost unseen.
func Read(content []byte) (builder.Draft, error) {
	var d builder.Draft
	dec := json.NewDecoder(bytes.NewReader(content))
	dec.DisallowUnknownFields()
	if err := dec.Decode(&d); err != nil {
		return d, problem.Field("draft", err.Error(), "a draft as the app writes it")
	}
	if d.Lies != "" && d.Lies != along && d.Lies != across {
		return d, problem.Field("draft.lies", fmt.Sprintf("%q", d.Lies), "along, across, or nothing")
	}
	return d, nil
}

// Change keeps a draft as it now stands and says what it comes to. revision is the one that was changed; with fill it takes over from
// the nearest sheet what is not known, marked as assumed.
func (s *Service) Change(ctx context.Context, id string, revision int, d builder.Draft, fill bool) (Opened, error) {
	o, err := s.kept(ctx, id)
	if err != nil {
		return Opened{}, err
	}
	d.Sheet = stale(o.Draft.Sheet, d.Sheet)
	if o.Draft.Lies != d.Lies {
		if near, ok := s.nearest(d); ok {
			d.Sheet = builder.Relaid(d.Sheet, s.shipped(), near, d.Lies == across)
		}
	}
	if fill {
		d = s.fill(d)
	}
	return s.keep(ctx, Kept{ID: id, Revision: revision + 1}, d)
}

// Paste takes an apply chart that was copied out of a table. The gears stay; elements that the table names anew are placed by hand.
func (s *Service) Paste(ctx context.Context, id string, revision int, text string) (Opened, error) {
	o, err := s.kept(ctx, id)
	if err != nil {
		return Opened{}, err
	}
	if o.Draft.Sheet, err = builder.Pasted(text, o.Draft.Sheet); err != nil {
		return Opened{}, err
	}
	return s.keep(ctx, Kept{ID: id, Revision: revision + 1}, o.Draft)
}

func (s *Service) keep(ctx context.Context, k Kept, d builder.Draft) (Opened, error) {
	if err := problem.CheckText("sheet.name", d.Sheet.Name, 80, false); err != nil {
		return Opened{}, err
	}
	content, err := json.Marshal(d)
	if err != nil {
		return Opened{}, err
	}
	if len(content) > 1<<20 {
		return Opened{}, problem.Field("draft", fmt.Sprintf("%d bytes", len(content)), "at most 1 MiB")
	}
	k.Title, k.Content, k.At = d.Sheet.Name, content, s.Now()
	if err := s.Store.PutDraft(ctx, k); err != nil { // kept before it is looked at: a look that fails loses nothing
		return Opened{}, err
	}
	return s.look(ctx, k, d)
}

func (s *Service) look(ctx context.Context, k Kept, d builder.Draft) (Opened, error) {
	within, stop := context.WithTimeout(ctx, longest)
	defer stop()
	v, err := builder.Look(within, d)
	if err != nil && ctx.Err() == nil {
		v = builder.View{Sheet: d.Sheet, Flaws: []builder.Flaw{{Path: "gearing", Reason: "the search for teeth takes too long", Accepted: "more ratios, or teeth that were counted"}}}
	} else if err != nil {
		return Opened{}, err
	}
	o := Opened{Kept: k, Draft: d, View: v}
	if o.Offers, err = s.offers(ctx, v.Sheet); err != nil {
		return Opened{}, err
	}
	stored, err := s.Library.Store.Sheets(ctx)
	for _, x := range stored {
		if x.UnitID == v.Sheet.ID {
			o.Taken = max(o.Taken, x.Version)
		}
	}
	return o, err
}

// Remove takes a draft away.
func (s *Service) Remove(ctx context.Context, id string) error {
	err := s.Store.RemoveDraft(ctx, id)
	if errors.Is(err, problem.ErrNotFound) {
		return problem.NotFound("draft", id, "a draft listed with the units")
	}
	return err
}

// Save stores a draft as a sheet of the shop's own: a new unit, or the next version of one.
func (s *Service) Save(ctx context.Context, id, by string) (*knowledge.Network, error) {
	o, err := s.Open(ctx, id)
	if err != nil {
		return nil, err
	}
	if !o.View.Ready() {
		for _, f := range o.View.Flaws {
			if !f.Doubt {
				return nil, problem.Field(f.Path, f.Reason, f.Accepted)
			}
		}
		return nil, problem.Field("draft", "not finished", "a chart whose ranges drive")
	}
	sheet := o.View.Sheet
	sheet.Author = cmp.Or(by, sheet.Author)
	sheet.Version = max(sheet.Version, o.Taken)
	text, err := s.Library.Sheets.Write(sheet, "yaml")
	if err != nil {
		return nil, err
	}
	if o.Taken > 0 {
		if old, err := s.Library.Store.Sheet(ctx, sheet.ID, o.Taken); err == nil && !bytes.Equal(old.Text, text) {
			sheet.Version = o.Taken + 1
			if text, err = s.Library.Sheets.Write(sheet, "yaml"); err != nil {
				return nil, err
			}
		}
	}
	return s.Library.SaveSheet(ctx, text, by)
}

// Merge begins a draft of a shop's own unit brought together with a newer sheet of it: what the shop has added stays.
func (s *Service) Merge(ctx context.Context, id string, text []byte) (Opened, []unitsheet.Difference, error) {
	n, err := s.Library.Unit(ctx, id, 0)
	if err != nil {
		return Opened{}, nil, err
	}
	if !s.own(ctx, id) {
		return Opened{}, nil, problem.Field("id", fmt.Sprintf("%q is not the shop's own", id), "a unit of your own")
	}
	c, err := s.Library.CheckSheet(ctx, text)
	if err != nil {
		return Opened{}, nil, err
	}
	if c.Network == nil {
		p := c.Problems[0]
		return Opened{}, nil, problem.Field(fmt.Sprintf("line %d, %s", p.Line, p.Path), p.Reason, p.Accepted)
	}
	merged, clash := unitsheet.Merge(n.Unit.Sheet, c.Network.Unit.Sheet)
	d := builder.Of(c.Network.Unit)
	d.Sheet = merged
	o, err := s.keep(ctx, Kept{ID: cases.NewID("d"), Revision: 1}, d)
	return o, clash, err
}

// Propose names the schemes that a draft's chart and ratios fit.
func (s *Service) Propose(ctx context.Context, id string) ([]scheme.Proposal, error) {
	o, err := s.kept(ctx, id)
	if err != nil {
		return nil, err
	}
	within, stop := context.WithTimeout(ctx, longest)
	defer stop()
	found, err := scheme.Propose(within, o.Draft.Sheet, s.Schemes)
	if err != nil && ctx.Err() == nil {
		return nil, problem.Field("ranges", "the search takes too long", "fewer elements, or a scheme that is chosen")
	}
	return found, err
}
