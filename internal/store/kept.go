package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"gorm.io/gorm"

	"innercompass/internal/casework"
)

// Prices returns the price book, by unit, item and quality.
func (s *Store) Prices(ctx context.Context) (casework.Book, error) {
	return prices(s.read.WithContext(ctx))
}

func prices(tx *gorm.DB) (casework.Book, error) {
	var rows []priceRow
	if err := tx.Order("unit, item, quality").Find(&rows).Error; err != nil {
		return nil, err
	}
	out := make(casework.Book, len(rows))
	for i, r := range rows {
		out[i] = casework.Price{Unit: r.Unit, Item: r.Item, Quality: r.Quality, Amount: casework.Amount(r.Amount), Hours: r.Hours, Note: r.Note}
	}
	return out, nil
}

// SavePrices replaces the price book, if same does not object to the one that is stored now.
func (s *Store) SavePrices(ctx context.Context, b casework.Book, same func(now casework.Book) error) error {
	return s.write.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		now, err := prices(tx)
		if err != nil {
			return err
		}
		if err := same(now); err != nil {
			return err
		}
		if err := tx.Exec("DELETE FROM prices").Error; err != nil {
			return err
		}
		rows := make([]priceRow, len(b))
		for i, p := range b {
			rows[i] = priceRow{p.Unit, p.Item, p.Quality, int64(p.Amount), p.Hours, p.Note}
		}
		if len(rows) == 0 {
			return nil
		}
		return tx.CreateInBatches(rows, 200).Error
	})
}

// AddEstimate freezes an estimate.
func (s *Store) AddEstimate(ctx context.Context, caseID string, o casework.Estimate) error {
	return s.change(ctx, caseID, func(tx *gorm.DB) error {
		last, err := lastSeq(tx, "estimates", caseID)
		if err != nil {
			return err
		}
		return tx.Create(&estimateRow{o.ID, caseID, last + 1, o.Token, o.By, o.At, o.Expires, o.Rests, o.Snapshot, o.Digest}).Error
	})
}

// EstimateCase returns the case of the estimate with this token.
func (s *Store) EstimateCase(ctx context.Context, token string) (string, error) {
	var row estimateRow
	err := s.read.WithContext(ctx).Select("case_id").Where("token = ?", token).First(&row).Error
	return row.CaseID, notFound("estimate", "…", err)
}

// AddRecord keeps a record that was issued.
func (s *Store) AddRecord(ctx context.Context, caseID string, r casework.Record) error {
	return s.change(ctx, caseID, func(tx *gorm.DB) error {
		last, err := lastSeq(tx, "records", caseID)
		if err != nil {
			return err
		}
		return tx.Create(&recordRow{r.ID, caseID, last + 1, r.Amends, r.Why, r.By, r.At, r.Content, r.Digest}).Error
	})
}

// RecordCase returns the case of the record with this digest.
func (s *Store) RecordCase(ctx context.Context, digest string) (string, error) {
	var row recordRow
	err := s.read.WithContext(ctx).Select("case_id").Where("digest = ?", digest).First(&row).Error
	return row.CaseID, notFound("record", digest, err)
}

// AddPhoto writes the file before the row: a file without a row harms nobody, a row without its file would.
func (s *Store) AddPhoto(ctx context.Context, caseID string, p casework.Photo, file []byte) error {
	if sum := sha256.Sum256(file); hex.EncodeToString(sum[:]) != p.Digest {
		return fmt.Errorf("photo %s does not match its digest", p.ID)
	}
	if err := s.writeFile(p.Digest, file); err != nil {
		return err
	}
	return s.change(ctx, caseID, func(tx *gorm.DB) error {
		err := tx.Create(&photoRow{p.ID, caseID, p.Key, p.Digest, p.Type, p.Caption, p.Stage, p.Width, p.Height, p.By, p.At, false}).Error
		if err != nil && strings.Contains(err.Error(), "photos.case_id, photos.key") {
			return casework.ErrRepeated
		}
		return err
	})
}

// writeFile puts a file under its digest, whole or not at all.
func (s *Store) writeFile(digest string, data []byte) error {
	path := filepath.Join(s.files, digest)
	if _, err := os.Stat(path); err == nil {
		return nil
	}
	tmp, err := os.CreateTemp(s.files, "new-*")
	if err != nil {
		return err
	}
	_, err = tmp.Write(data)
	err = errors.Join(err, tmp.Sync(), tmp.Close())
	if err == nil {
		err = os.Rename(tmp.Name(), path)
	}
	if err != nil {
		return errors.Join(err, os.Remove(tmp.Name()))
	}
	return nil
}

// DropPhoto takes a picture out of a case; its file stays, since a record may show it.
func (s *Store) DropPhoto(ctx context.Context, caseID, photo string) error {
	return s.change(ctx, caseID, func(tx *gorm.DB) error {
		res := tx.Exec("UPDATE photos SET gone = 1 WHERE case_id = ? AND id = ?", caseID, photo)
		if res.Error == nil && res.RowsAffected == 0 {
			return &casework.NotFoundError{Kind: "photo", ID: photo}
		}
		return res.Error
	})
}

// File reads a file by its digest.
func (s *Store) File(_ context.Context, digest string) ([]byte, error) {
	if len(digest) != 64 || strings.Trim(digest, "0123456789abcdef") != "" {
		return nil, &casework.NotFoundError{Kind: "file", ID: digest, Accepted: "a SHA-256 digest"}
	}
	data, err := os.ReadFile(filepath.Join(s.files, digest))
	if errors.Is(err, os.ErrNotExist) {
		return nil, &casework.NotFoundError{Kind: "file", ID: digest}
	}
	return data, err
}
