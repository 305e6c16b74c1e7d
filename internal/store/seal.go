package store

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"

	"gorm.io/gorm"
)

// sealKey is the file with the key that records are sealed with. It is not in the database: who changes a record there, with its
// digest, cannot seal it anew.
const sealKey = "seal.key"

// firstKey is a key with which the records that were there before it are not all sealed yet.
const firstKey = "first-" + sealKey

// sealed reads the key of a folder. One without a key gets one, and what it has issued is sealed as it stands: before the key
// is put in place, so that a start that is cut off goes on with the same key, and that no later start seals what is unsealed.
func (s *Store) sealed(dir string) error {
	var err error
	if s.key, err = readKey(filepath.Join(dir, sealKey)); err == nil || !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	first := filepath.Join(dir, firstKey)
	if s.key, err = readKey(first); errors.Is(err, fs.ErrNotExist) {
		s.key, err = makeKey(dir, first)
	}
	if err != nil {
		return err
	}
	if err := s.write.Transaction(func(tx *gorm.DB) error { return sealAll(tx, s.key) }); err != nil {
		return unusable(s.path, err)
	}
	return unusableIf(dir, errors.Join(os.Rename(first, filepath.Join(dir, sealKey)), syncFolder(dir)))
}

func readKey(path string) ([]byte, error) {
	key, err := os.ReadFile(path)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nil, err
	case err != nil:
		return nil, unusable(path, err)
	case len(key) != sha256.Size:
		return nil, &FolderError{path, fmt.Sprintf("is damaged: it has %d bytes, a key has %d", len(key), sha256.Size), "put a copy of it back from a backup; without one move it away: records that were issued up to now cannot be confirmed then"}
	}
	return key, nil
}

func makeKey(dir, path string) ([]byte, error) {
	key := make([]byte, sha256.Size)
	if _, err := rand.Read(key); err != nil {
		return nil, err
	}
	tmp := filepath.Join(dir, newPrefix+sealKey)
	err := os.WriteFile(tmp, key, 0o600)
	if err == nil {
		err = errors.Join(syncFile(tmp), os.Rename(tmp, path), syncFolder(dir))
	}
	return key, unusableIf(dir, err)
}

func unusableIf(path string, err error) error {
	if err == nil {
		return nil
	}
	return unusable(path, err)
}

// sealAll seals the records that have no seal.
func sealAll(tx *gorm.DB, key []byte) error {
	var rows []recordRow
	return tx.Where("id NOT IN (SELECT record_id FROM seals)").FindInBatches(&rows, 50, func(*gorm.DB, int) error {
		for _, r := range rows {
			if err := putSeal(tx, key, r); err != nil {
				return err
			}
		}
		return nil
	}).Error
}

func putSeal(tx *gorm.DB, key []byte, r recordRow) error {
	return tx.Create(&sealRow{r.ID, sealOf(key, r)}).Error
}

// sealOf is bound to the record and its case: a seal does not fit another.
func sealOf(key []byte, r recordRow) []byte {
	mac := hmac.New(sha256.New, key)
	fmt.Fprintf(mac, "%q %q %q %q\n", r.CaseID, r.ID, r.Amends, r.Digest)
	mac.Write(r.Content)
	return mac.Sum(nil)
}

// RecordOf finds the record with this digest: its case, and whether it has the seal that it was issued with.
func (s *Store) RecordOf(ctx context.Context, digest string) (caseID string, sealed bool, err error) {
	err = s.reading(ctx, func(tx *gorm.DB) error {
		var r recordRow
		if err := tx.Where("digest = ?", digest).First(&r).Error; err != nil {
			return notFound("record", digest, err)
		}
		var seal sealRow
		err := tx.Where("record_id = ?", r.ID).Find(&seal).Error
		caseID, sealed = r.CaseID, hmac.Equal(seal.Seal, sealOf(s.key, r))
		return err
	})
	return caseID, sealed, err
}
