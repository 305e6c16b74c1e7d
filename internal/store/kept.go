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

	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// Prices returns the price book, by unit, item and quality.
func (s *Store) Prices(ctx context.Context) (shop.Book, error) {
	var out shop.Book
	err := s.reading(ctx, func(tx *gorm.DB) error {
		var err error
		out, err = prices(tx)
		return err
	})
	return out, err
}

func prices(tx *gorm.DB) (shop.Book, error) {
	var rows []priceRow
	if err := tx.Order("unit, item, quality").Find(&rows).Error; err != nil {
		return nil, err
	}
	out := make(shop.Book, len(rows))
	for i, r := range rows {
		out[i] = shop.Price{Unit: r.Unit, Item: r.Item, Quality: r.Quality, Amount: shop.Amount(r.Amount), Hours: r.Hours, Note: r.Note}
	}
	return out, nil
}

// SavePrices replaces the price book, if same does not object to the one that is stored now.
func (s *Store) SavePrices(ctx context.Context, b shop.Book, same func(now shop.Book) error) error {
	return s.changing(ctx, deed{words: fmt.Sprintf("price book: %d prices", len(b))}, func(tx *gorm.DB) error {
		now, err := prices(tx)
		if err != nil {
			return err
		}
		if err := same(now); err != nil {
			return err
		}
		if err := errors.Join(tx.Exec("DELETE FROM prices").Error, raise(tx, shopRevision)); err != nil {
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

// EstimateCase returns the case of the estimate with this token.
func (s *Store) EstimateCase(ctx context.Context, token string) (string, error) {
	var row estimateRow
	err := s.read.WithContext(ctx).Select("case_id").Where("token = ?", digest(token)).First(&row).Error
	return row.CaseID, notFound("estimate", "…", err)
}

// PutFile puts a file under its digest, whole or not at all. It comes before the row that names it: a file without a row
// harms nobody, a row without its file would.
func (s *Store) PutFile(_ context.Context, digest string, data []byte) error {
	if sum := sha256.Sum256(data); hex.EncodeToString(sum[:]) != digest {
		return fmt.Errorf("file %s does not match its digest", digest)
	}
	path := filepath.Join(s.files, digest)
	if there, err := os.Stat(path); err == nil && there.Size() == int64(len(data)) {
		return nil
	}
	tmp, err := os.CreateTemp(s.files, newPrefix+"*")
	if err != nil {
		return told(err)
	}
	_, err = tmp.Write(data)
	err = errors.Join(err, tmp.Sync(), tmp.Close())
	if err == nil {
		err = errors.Join(os.Rename(tmp.Name(), path), syncFolder(s.files))
	}
	if err != nil {
		return told(errors.Join(err, removeIfThere(tmp.Name())))
	}
	return nil
}

// File reads a file by its digest.
func (s *Store) File(_ context.Context, digest string) ([]byte, error) {
	if len(digest) != 64 || strings.Trim(digest, "0123456789abcdef") != "" {
		return nil, &problem.NotFoundError{Kind: "file", ID: digest, Accepted: "a SHA-256 digest"}
	}
	data, err := os.ReadFile(filepath.Join(s.files, digest))
	if errors.Is(err, os.ErrNotExist) {
		return nil, &problem.NotFoundError{Kind: "file", ID: digest}
	}
	return data, err
}
