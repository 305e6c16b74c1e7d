package store

import (
	"context"
	"crypto/ed25519"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"path/filepath"
	"time"

	"gorm.io/gorm"

	"innercompass/internal/cases"
	"innercompass/internal/people"
	"innercompass/internal/signing"
)

// Files with keys, beside the database: who has that alone can neither sign a record nor make a private link.
const (
	folderKey  = "seal.key"    // private links are made with it; records were sealed with it before they were signed
	signingKey = "signing.key" // records are signed with it
)

// firstPrefix is a signing key with which the records that were there before it are not all signed yet.
const firstPrefix = "first-"

type shopKeyRow struct {
	ID      string `gorm:"primaryKey"`
	Content []byte
	At      time.Time
}

func (shopKeyRow) TableName() string { return "shop_keys" }

type signatureRow struct {
	RecordID  string `gorm:"primaryKey"`
	KeyID     string
	Signature []byte
}

func (signatureRow) TableName() string { return "signatures" }

// keys reads the keys of a folder, and makes those that it lacks. What was issued before there was a signing key is signed as it stands, if it has the seal of
// before or there were none yet: before the key is put in place, so that a start that is cut off goes on with the same key, and that no later start signs what
// is unsigned.
func (s *Store) keys(dir string) error {
	var err error
	if s.key, err = readKey(filepath.Join(dir, folderKey)); err != nil && !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	if err := s.signs(dir, s.key != nil); err != nil || s.key != nil {
		return err
	}
	key := make([]byte, sha256.Size)
	_, _ = rand.Read(key) // never fails: crypto/rand ends the program instead
	s.key = key
	return putKey(dir, folderKey, key) // last: as long as it is not there, there were no seals
}

// signs reads the signing key, or makes it and signs what was there before it.
func (s *Store) signs(dir string, sealed bool) error {
	var err error
	if s.private, err = readSigning(filepath.Join(dir, signingKey)); err == nil {
		return s.write.Transaction(s.knows)
	}
	if !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	first := firstPrefix + signingKey
	if s.private, err = readSigning(filepath.Join(dir, first)); errors.Is(err, fs.ErrNotExist) {
		if s.private, err = signing.New(); err == nil {
			var data []byte
			if data, err = signing.Encode(s.private); err == nil {
				err = putKey(dir, first, data)
			}
		}
	}
	if err != nil {
		return err
	}
	err = s.write.Transaction(func(tx *gorm.DB) error { return errors.Join(s.knows(tx), s.signAll(tx, sealed)) })
	if err != nil {
		return unusable(s.path, err)
	}
	return unusableIf(dir, errors.Join(os.Rename(filepath.Join(dir, first), filepath.Join(dir, signingKey)), syncFolder(dir)))
}

// signer is the key in use.
func (s *Store) signer() ed25519.PrivateKey {
	s.signing.RLock()
	defer s.signing.RUnlock()
	return s.private
}

// knows sees to it that the key in use is on the list of the shop's keys.
func (s *Store) knows(tx *gorm.DB) error {
	k := signing.First(s.signer(), s.Now())
	var there int64
	if err := tx.Model(&shopKeyRow{}).Where("id = ?", k.ID).Count(&there).Error; err != nil || there > 0 {
		return err
	}
	if err := putShopKey(tx, k); err != nil {
		return err
	}
	if h, err := headOf(tx); err != nil || h.Seq == 0 { // the trail begins with it
		return err
	}
	d := deed{words: "a signing key that was not known here"}
	d.touch("keys/1", k.ID)
	return s.enter(people.With(context.Background(), people.AtTheMachine("start")), tx, d)
}

func putShopKey(tx *gorm.DB, k signing.Key) error {
	content, err := json.Marshal(k)
	if err != nil {
		return err
	}
	return tx.Save(&shopKeyRow{k.ID, content, k.From}).Error
}

func readKey(path string) ([]byte, error) {
	key, err := os.ReadFile(path)
	switch {
	case errors.Is(err, fs.ErrNotExist):
		return nil, err
	case err != nil:
		return nil, unusable(path, err)
	case len(key) != sha256.Size:
		return nil, &FolderError{path, fmt.Sprintf("is damaged: it has %d bytes, a key has %d", len(key), sha256.Size), "put a copy of it back from a backup; without one move it away: private links that are out open nothing then"}
	}
	return key, nil
}

func readSigning(path string) (ed25519.PrivateKey, error) {
	data, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	if err != nil {
		return nil, unusable(path, err)
	}
	key, err := signing.Decode(data)
	if err != nil {
		return nil, &FolderError{path, "is damaged: " + err.Error(), "put a copy of it back from a backup; without one move it away: another is made, and what was signed with this one is no longer confirmed here"}
	}
	return key, nil
}

// putKey writes a key whole or not at all.
func putKey(dir, name string, data []byte) error {
	tmp := filepath.Join(dir, newPrefix+name)
	err := os.WriteFile(tmp, data, 0o600)
	if err == nil {
		err = errors.Join(syncFile(tmp), os.Rename(tmp, filepath.Join(dir, name)), syncFolder(dir))
	}
	return unusableIf(dir, err)
}

func unusableIf(path string, err error) error {
	if err == nil {
		return nil
	}
	return unusable(path, err)
}

// signAll signs the records that have no signature; where there were seals, those alone that theirs confirms.
func (s *Store) signAll(tx *gorm.DB, sealed bool) error {
	var rows []recordRow
	return tx.Where("id NOT IN (SELECT record_id FROM signatures)").FindInBatches(&rows, 50, func(*gorm.DB, int) error {
		for _, r := range rows {
			fresh := tx.Session(&gorm.Session{NewDB: true})
			if sealed {
				var seal sealRow
				if err := fresh.Where("record_id = ?", r.ID).Find(&seal).Error; err != nil {
					return err
				}
				if !hmac.Equal(seal.Seal, sealOf(s.key, r)) {
					continue
				}
			}
			if err := s.putSignature(fresh, r); err != nil {
				return err
			}
		}
		return nil
	}).Error
}

// sign puts the shop's signature under a record that is about to be kept.
func (s *Store) sign(r *cases.Record) {
	if r != nil {
		r.KeyID, r.Signature = signing.First(s.signer(), r.At).ID, signing.Record(s.signer(), r.Digest)
	}
}

func (s *Store) putSignature(tx *gorm.DB, r recordRow) error {
	return tx.Create(&signatureRow{r.ID, signing.First(s.signer(), r.At).ID, signing.Record(s.signer(), r.Digest)}).Error
}

// sealOf is the seal of before: bound to the record and its case.
func sealOf(key []byte, r recordRow) []byte {
	mac := hmac.New(sha256.New, key)
	fmt.Fprintf(mac, "%q %q %q %q\n", r.CaseID, r.ID, r.Amends, r.Digest)
	mac.Write(r.Content)
	return mac.Sum(nil)
}

// Keys are the shop's public keys that can be walked to from the one in use, that one first.
func (s *Store) Keys(ctx context.Context) ([]signing.Key, error) {
	var out []signing.Key
	err := s.reading(ctx, func(tx *gorm.DB) error {
		var err error
		out, err = s.trusted(tx)
		return err
	})
	return out, err
}

func (s *Store) trusted(tx *gorm.DB) ([]signing.Key, error) {
	var rows []shopKeyRow
	if err := tx.Find(&rows).Error; err != nil {
		return nil, err
	}
	all := make([]signing.Key, 0, len(rows))
	for _, r := range rows {
		var k signing.Key
		if err := json.Unmarshal(r.Content, &k); err != nil {
			return nil, err
		}
		all = append(all, k)
	}
	return signing.Trusted(all, signing.First(s.signer(), time.Time{}).Public), nil
}

// Sign puts the shop's signature at the end of a document.
func (s *Store) Sign(f signing.Form, body []byte) []byte {
	return signing.Document(s.signer(), f, body)
}

// RotateKey ends the signing key and begins another. The one before is destroyed: nothing can be signed with it any more, and what was stays good.
func (s *Store) RotateKey(ctx context.Context) (signing.Key, error) {
	next, err := signing.New()
	if err != nil {
		return signing.Key{}, err
	}
	data, err := signing.Encode(next)
	if err != nil {
		return signing.Key{}, err
	}
	var begun signing.Key
	dir := filepath.Dir(s.path)
	d := deed{words: "another signing key"}
	d.touch("keys/1", signing.First(s.signer(), time.Time{}).ID, signing.First(next, time.Time{}).ID)
	err = s.changing(ctx, d, func(tx *gorm.DB) error {
		var row shopKeyRow
		if err := tx.Where("id = ?", signing.First(s.signer(), time.Time{}).ID).First(&row).Error; err != nil {
			return err
		}
		var old signing.Key
		if err := json.Unmarshal(row.Content, &old); err != nil {
			return err
		}
		var ended signing.Key
		ended, begun = signing.Next(old, s.signer(), next, s.Now())
		if err := errors.Join(putShopKey(tx, ended), putShopKey(tx, begun)); err != nil {
			return err
		}
		// The key lies in place before the list says so: cut off here, the next start knows it by itself.
		return putKey(dir, signingKey, data)
	})
	if err == nil {
		s.signing.Lock()
		s.private = next
		s.signing.Unlock()
	}
	return begun, err
}

// RecordOf finds the record with this digest: its case, and whether it has the shop's signature.
func (s *Store) RecordOf(ctx context.Context, digest string) (caseID string, signed bool, err error) {
	err = s.reading(ctx, func(tx *gorm.DB) error {
		var r recordRow
		if err := tx.Where("digest = ?", digest).First(&r).Error; err != nil {
			return notFound("record", digest, err)
		}
		keys, err := s.trusted(tx)
		if err != nil {
			return err
		}
		caseID = r.CaseID
		signed, err = signedBy(tx, r, keys)
		return err
	})
	return caseID, signed, err
}

// signedBy reports whether a record has a signature by one of some keys.
func signedBy(tx *gorm.DB, r recordRow, keys []signing.Key) (bool, error) {
	var sig signatureRow
	if err := tx.Where("record_id = ?", r.ID).Limit(1).Find(&sig).Error; err != nil {
		return false, err
	}
	for _, k := range keys {
		if k.ID == sig.KeyID {
			return signing.RecordHolds(k.Public, r.Digest, sig.Signature), nil
		}
	}
	return false, nil
}

// signatures puts the signatures of a case's records beside them.
func (s *Store) signatures(tx *gorm.DB, c *cases.Case) error {
	if len(c.Records) == 0 {
		return nil
	}
	var rows []signatureRow
	if err := tx.Where("record_id IN (SELECT id FROM records WHERE case_id = ?)", c.ID).Find(&rows).Error; err != nil {
		return err
	}
	for i, r := range c.Records {
		for _, sig := range rows {
			if sig.RecordID == r.ID {
				c.Records[i].KeyID, c.Records[i].Signature = sig.KeyID, sig.Signature
			}
		}
	}
	return nil
}
