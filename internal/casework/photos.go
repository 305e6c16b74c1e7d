package casework

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"slices"
	"strings"

	"innercompass/internal/picture"
)

// MaxPhoto is the largest picture that is taken, in bytes. It is kept no larger than keptSide pixels: enough to look into on a
// screen, and small enough that a record with a hundred of them is written in seconds.
const (
	MaxPhoto    = 16 << 20
	maxPhotos   = 100
	keptSide    = 1600
	keptQuality = 86
)

// AddPhoto keeps a picture in a case: unpacked as a whole, so that no broken one is kept, upright, and as small as it is shown.
func (s *Service) AddPhoto(ctx context.Context, id string, g Guard, p Photo, file []byte) (View, error) {
	if !slices.Contains(Stages, p.Stage) {
		return View{}, &FieldError{"stage", fmt.Sprintf("%q", p.Stage), strings.Join(Stages, ", ")}
	}
	if err := errors.Join(checkText("caption", p.Caption, maxWords, false), checkText("by", p.By, maxShort, false)); err != nil {
		return View{}, err
	}
	if len(file) > MaxPhoto {
		return View{}, &FieldError{"file", fmt.Sprintf("%d MiB", len(file)>>20), fmt.Sprintf("at most %d MiB", MaxPhoto>>20)}
	}
	small, err := picture.Shrink(ctx, file, keptSide, keptQuality)
	var pe *picture.Error
	if errors.As(err, &pe) {
		return View{}, &FieldError{"file", pe.Reason, pe.Accepted}
	}
	if err != nil {
		return View{}, err
	}
	sum := sha256.Sum256(small.JPEG)
	p.ID, p.Digest, p.Type, p.Width, p.Height, p.At = newID("p"), hex.EncodeToString(sum[:]), "image/jpeg", small.Width, small.Height, s.Now()
	p.Key = p.ID
	if err := s.Store.PutFile(ctx, p.Digest, small.JPEG); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id, g, "picture", []string{p.Digest, p.Caption, p.Stage, p.By}, func(h Held) (Changes, error) {
		if err := open(h.Case); err != nil {
			return Changes{}, err
		}
		if n := len(h.Case.Pictures()); n >= maxPhotos {
			return Changes{}, &StateError{fmt.Sprintf("the case has %d pictures", n), "take some out first"}
		}
		return Changes{Photo: &p}, nil
	})
}

// Files reads pictures by their digest.
func (s *Service) Files(ctx context.Context) func(digest string) ([]byte, error) {
	return func(digest string) ([]byte, error) { return s.Store.File(ctx, digest) }
}

// WithdrawPhoto takes a picture out of a case; a record that shows it keeps it.
func (s *Service) WithdrawPhoto(ctx context.Context, id string, g Guard, photo string) (View, error) {
	return s.changed(ctx, id, g, "drop picture", photo, func(h Held) (Changes, error) {
		if err := open(h.Case); err != nil {
			return Changes{}, err
		}
		i := slices.IndexFunc(h.Case.Photos, func(p Photo) bool { return p.ID == photo })
		switch {
		case i < 0:
			return Changes{}, &NotFoundError{Kind: "photo", ID: photo}
		case h.Case.Photos[i].Gone:
			return Changes{}, &StateError{"this picture was taken out already", "nothing has to be done"}
		}
		return Changes{WithdrawnPhoto: photo}, nil
	})
}

// PhotoFile is the file of a picture of a case.
func (s *Service) PhotoFile(ctx context.Context, id, photo string) (file []byte, kind string, err error) {
	c, err := s.Store.Case(ctx, id)
	if err != nil {
		return nil, "", err
	}
	i := slices.IndexFunc(c.Photos, func(p Photo) bool { return p.ID == photo })
	if i < 0 {
		return nil, "", &NotFoundError{Kind: "photo", ID: photo}
	}
	file, err = s.Store.File(ctx, c.Photos[i].Digest)
	return file, c.Photos[i].Type, err
}
