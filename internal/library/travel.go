package library

import (
	"bytes"
	"context"
	"fmt"

	"innercompass/core/unitsheet"
	"innercompass/internal/problem"
)

// SheetFile is a sheet that was brought in, under the name of its file.
type SheetFile struct{ Name, Text string }

// What becomes of a sheet that is brought in.
const (
	SheetNew     = "new"     // a unit that is not on file
	SheetNext    = "next"    // a newer version of one that is
	SheetSame    = "same"    // on file as it is
	SheetOlder   = "older"   // an older version, or another text under a version that is stored
	SheetShipped = "shipped" // its id belongs to a sheet that comes with the app
	SheetWrong   = "wrong"   // it cannot be read, or does not compile
)

// Brought is what became of one file.
type Brought struct {
	File, ID, Name string
	Version        int
	State          string
	Problems       []*unitsheet.Problem
	Differences    []unitsheet.Difference // from the version on file
	Stored         bool
}

// mostFiles is how many sheets are brought in at once.
const mostFiles = 60

// BringIn looks through sheets, and with store keeps those that are new or newer. Each stands for itself: one that is wrong keeps no other
// out.
func (s *Service) BringIn(ctx context.Context, files []SheetFile, store bool, by string) ([]Brought, error) {
	if len(files) == 0 || len(files) > mostFiles {
		return nil, problem.Field("files", fmt.Sprintf("%d files", len(files)), fmt.Sprintf("1 to %d sheets", mostFiles))
	}
	var out []Brought
	for _, f := range files {
		b, err := s.look(ctx, f)
		if err != nil {
			return nil, err
		}
		if store && (b.State == SheetNew || b.State == SheetNext) {
			if _, err := s.SaveSheet(ctx, []byte(f.Text), by); err != nil {
				return out, err
			}
			b.Stored = true
		}
		out = append(out, b)
	}
	return out, nil
}

func (s *Service) look(ctx context.Context, f SheetFile) (Brought, error) {
	out := Brought{File: f.Name, State: SheetWrong}
	c, err := s.CheckSheet(ctx, []byte(f.Text))
	if ctx.Err() != nil {
		return out, ctx.Err()
	}
	if err != nil {
		out.Problems = []*unitsheet.Problem{{Reason: err.Error()}}
		return out, nil
	}
	if c.Network == nil {
		out.Problems = c.Problems
		return out, nil
	}
	sheet := c.Network.Unit.Sheet
	out.ID, out.Name, out.Version = sheet.ID, sheet.Name, sheet.Version
	switch {
	case c.Shipped:
		out.State = SheetShipped
	case c.Taken == 0:
		out.State = SheetNew
	default:
		old, err := s.Find(ctx, sheet.ID, c.Taken)
		if err != nil {
			return out, err
		}
		out.Differences = unitsheet.Differences(old.Unit.Sheet, sheet)
		stored, err := s.Store.Sheet(ctx, sheet.ID, sheet.Version)
		switch {
		case err == nil && (bytes.Equal(stored.Text, []byte(f.Text)) || len(out.Differences) == 0):
			out.State = SheetSame
		case sheet.Version > c.Taken:
			out.State = SheetNext
		default:
			out.State = SheetOlder
		}
	}
	return out, nil
}

// Differences says what one version of a unit's sheet says otherwise than another.
func (s *Service) Differences(ctx context.Context, id string, from, to int) ([]unitsheet.Difference, error) {
	a, err := s.Unit(ctx, id, from)
	if err != nil {
		return nil, err
	}
	b, err := s.Unit(ctx, id, to)
	if err != nil {
		return nil, err
	}
	return unitsheet.Differences(a.Unit.Sheet, b.Unit.Sheet), nil
}
