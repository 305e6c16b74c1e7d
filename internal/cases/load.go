package cases

import (
	"context"
	"crypto/rand"
	"errors"
	"strings"

	"innercompass/core/knowledge"
	"innercompass/internal/library"
	"innercompass/internal/problem"
)

// Store keeps cases. Every method is one transaction; what it returns is complete. What the drive or the database refuses
// comes back as a problem.StorageError.
type Store interface {
	Case(ctx context.Context, id string) (Case, error)
	// Wordless lists the readings of a finding in all cases that stand, as what was noted in words, the latest first and at most so
	// many, and counts them.
	Wordless(ctx context.Context, finding string, most int) ([]Wordless, int, error)
	// UnitOf is the unit of a case with the version of its sheet.
	UnitOf(ctx context.Context, id string) (unit string, version int, err error)
	// CreateCase stores a new case. A key that was used for the same before gives the id of that case, with ErrRepeated.
	CreateCase(ctx context.Context, c Case, d Done) (id string, err error)
	// Standing reads what a change is computed from, all as of one moment, with what the guard's key was used for before. It and
	// Change fail with ErrChanged for a case that has moved on from the guard's revision, unless the key was used before.
	Standing(ctx context.Context, id string, g Guard) (Standing, error)
	// Change holds a case, hands it to f, and keeps what f answers: nobody else writes meanwhile. When f fails nothing is kept.
	// It returns the case as it then stands. f must be quick, and must not ask the store for anything.
	Change(ctx context.Context, id string, g Guard, f func(Held) (Changes, error)) (Case, error)
}

// Service reads and changes cases.
type Service struct {
	Store   Store
	Library *library.Service
	Tell    func(id string, rev int) // told once a change is kept
	turns   turns
}

// Case is a case as it stands.
func (s *Service) Case(ctx context.Context, id string) (Case, error) { return s.Store.Case(ctx, id) }

// Standing is what a change is computed from; see Store.
func (s *Service) Standing(ctx context.Context, id string, g Guard) (Standing, error) {
	return s.Store.Standing(ctx, id, g)
}

// Load is a case with the network of its unit.
func (s *Service) Load(ctx context.Context, id string) (Case, *knowledge.Network, error) {
	c, err := s.Store.Case(ctx, id)
	if err != nil {
		return c, nil, err
	}
	n, err := s.Network(ctx, c)
	return c, n, err
}

// NetworkOf is the network of a case, which changes only when the case moves to another unit.
func (s *Service) NetworkOf(ctx context.Context, id string) (*knowledge.Network, error) {
	unit, version, err := s.Store.UnitOf(ctx, id)
	if err != nil {
		return nil, err
	}
	return s.Library.Unit(ctx, unit, version)
}

// Network is the one that a case was made with.
func (s *Service) Network(ctx context.Context, c Case) (*knowledge.Network, error) {
	return s.Library.Unit(ctx, c.UnitID, c.UnitVer)
}

// NewID is an id that nobody guesses: a letter for what it is of, and 65 bits of chance.
func NewID(prefix string) string { return prefix + strings.ToLower(rand.Text()[:13]) }

// Create stores a new case, or answers with the one that its key made before.
func (s *Service) Create(ctx context.Context, c Case, d Done) (Saved, error) {
	id, err := s.Store.CreateCase(ctx, c, d)
	if err != nil && !errors.Is(err, problem.ErrRepeated) {
		return Saved{}, err
	}
	if err == nil {
		s.Tell(id, c.Rev)
	}
	made, err := s.Store.Case(ctx, id)
	return Saved{Case: made, Again: true}, err
}

// MustBeCountersigned refuses a case with a decision that waits for a second name.
func MustBeCountersigned(c Case) error {
	if d := c.Waiting(); d != nil {
		return &problem.StateError{Reason: "the decision that " + d.By + " noted waits for a countersign", Accepted: "a diagnostician or the owner countersigns it first"}
	}
	return nil
}

// MustBeOpen refuses a closed case.
func MustBeOpen(c Case) error {
	if c.Closed != nil {
		return &problem.StateError{Reason: "the case is closed", Accepted: "reopen it first"}
	}
	return nil
}
