package records

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strings"

	"innercompass/internal/cases"
	"innercompass/internal/picture"
	"innercompass/internal/problem"
)

// MaxPhoto is the largest picture that is taken, in bytes. It is kept no larger than keptSide pixels: enough to look into on a
// screen, and small enough that a record with a hundred of them is written in seconds.
const (
	MaxPhoto    = 16 << 20
	maxPhotos   = 100
	keptSide    = 1600
	keptQuality = 86
	smallSide   = 240
)

// AddPhoto keeps a picture in a case: unpacked as a whole, so that no broken one is kept, upright, and as small as it is shown.
func (s *Service) AddPhoto(ctx context.Context, id string, g cases.Guard, p cases.Photo, file []byte) (cases.Saved, error) {
	if !slices.Contains(cases.Stages, p.Stage) {
		return cases.Saved{}, problem.Field("stage", fmt.Sprintf("%q", p.Stage), strings.Join(cases.Stages, ", "))
	}
	if err := errors.Join(problem.CheckText("caption", p.Caption, problem.MaxWords, false), problem.CheckText("by", p.By, problem.MaxShort, false), problem.CheckText("part", p.Part, problem.MaxShort, false)); err != nil {
		return cases.Saved{}, err
	}
	if len(file) > MaxPhoto {
		return cases.Saved{}, problem.Field("file", fmt.Sprintf("%d MiB", len(file)>>20), fmt.Sprintf("at most %d MiB", MaxPhoto>>20))
	}
	small, err := picture.Shrink(ctx, file, keptSide, keptQuality)
	var pe *picture.Error
	if errors.As(err, &pe) {
		return cases.Saved{}, problem.Field("file", pe.Reason, pe.Accepted)
	}
	if err != nil {
		return cases.Saved{}, err
	}
	sum := sha256.Sum256(small.JPEG)
	p.ID, p.Digest, p.Type, p.Width, p.Height, p.At = cases.NewID("p"), hex.EncodeToString(sum[:]), "image/jpeg", small.Width, small.Height, s.Now()
	p.Key = p.ID
	if err := s.Store.PutFile(ctx, p.Digest, small.JPEG); err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, id, g, "picture", []string{p.Digest, p.Caption, p.Stage, p.Part, p.By}, func(h cases.Held) (cases.Changes, error) {
		if err := cases.MustBeOpen(h.Case); err != nil {
			return cases.Changes{}, err
		}
		if n := len(h.Case.Pictures()); n >= maxPhotos {
			return cases.Changes{}, &problem.StateError{Reason: fmt.Sprintf("the case has %d pictures", n), Accepted: "take some out first"}
		}
		return cases.Changes{Photo: &p}, nil
	})
}

// Files reads pictures by their digest.
func (s *Service) Files(ctx context.Context) func(digest string) ([]byte, error) {
	return func(digest string) ([]byte, error) { return s.Store.File(ctx, digest) }
}

// WithdrawPhoto takes a picture out of a case; a record that shows it keeps it.
func (s *Service) WithdrawPhoto(ctx context.Context, id string, g cases.Guard, photo string) (cases.Saved, error) {
	return s.Cases.Change(ctx, id, g, "drop picture", photo, func(h cases.Held) (cases.Changes, error) {
		if err := cases.MustBeOpen(h.Case); err != nil {
			return cases.Changes{}, err
		}
		i := slices.IndexFunc(h.Case.Photos, func(p cases.Photo) bool { return p.ID == photo })
		switch {
		case i < 0:
			return cases.Changes{}, &problem.NotFoundError{Kind: "photo", ID: photo}
		case h.Case.Photos[i].Gone:
			return cases.Changes{}, &problem.StateError{Reason: "this picture was taken out already", Accepted: "nothing has to be done"}
		}
		return cases.Changes{WithdrawnPhoto: photo}, nil
	})
}

// PhotoFile is the file of a picture of a case, as it is kept or small, for lists of many.
func (s *Service) PhotoFile(ctx context.Context, id, photo string, small bool) (file []byte, kind string, err error) {
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		return nil, "", err
	}
	i := slices.IndexFunc(c.Photos, func(p cases.Photo) bool { return p.ID == photo })
	if i < 0 {
		return nil, "", &problem.NotFoundError{Kind: "photo", ID: photo}
	}
	file, err = s.Store.File(ctx, c.Photos[i].Digest)
	if err != nil || !small {
		return file, c.Photos[i].Type, err
	}
	less, err := picture.Shrink(ctx, file, smallSide, keptQuality)
	return less.JPEG, "image/jpeg", err
}
