package backup

import (
	"archive/tar"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"slices"
	"time"

	"filippo.io/age"
)

// keyFiles are what a folder keeps apart from its database.
var keyFiles = []string{"seal.key", "signing.key", "tls/authority.crt", "tls/authority.key"}

// packKeys is a tar archive of the keys of a data folder, those that there are.
func packKeys(dir string, at time.Time) ([]byte, error) {
	var out bytes.Buffer
	t := tar.NewWriter(&out)
	for _, name := range keyFiles {
		data, err := os.ReadFile(filepath.Join(dir, filepath.FromSlash(name)))
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return nil, err
		}
		if err := t.WriteHeader(&tar.Header{Typeflag: tar.TypeReg, Name: name, Size: int64(len(data)), Mode: 0o600, ModTime: at}); err != nil {
			return nil, err
		}
		if _, err := t.Write(data); err != nil {
			return nil, err
		}
	}
	err := t.Close()
	return out.Bytes(), err
}

// unpackKeys puts keys into a folder.
func unpackKeys(r io.Reader, dir string) error {
	t := tar.NewReader(r)
	for {
		h, err := t.Next()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil || !slices.Contains(keyFiles, h.Name) {
			return errors.New(keysName + " holds something else")
		}
		to := filepath.Join(dir, filepath.FromSlash(h.Name))
		data, err := io.ReadAll(io.LimitReader(t, 1<<20))
		if err == nil {
			err = os.MkdirAll(filepath.Dir(to), 0o700)
		}
		if err := errors.Join(err, os.WriteFile(to, data, 0o600)); err != nil {
			return err
		}
	}
}

// Sealed are the keys of a data folder outside of it: encrypted, with what the passphrase opens, and told apart by what they hold.
type Sealed struct {
	Keys, Recovery []byte
	Of             string // digest of the keys and of who can read them
}

// SealKeys encrypts the keys of a data folder to a secret; nothing is done when they are those of before, and the answer has no keys then.
func SealKeys(dir string, s *Secret, before string) (Sealed, error) {
	packed, err := packKeys(dir, time.Time{})
	if err != nil {
		return Sealed{}, err
	}
	sum := sha256.Sum256(append(packed, s.Recovery...))
	out := Sealed{Of: hex.EncodeToString(sum[:]), Recovery: []byte(s.Recovery)}
	if out.Of == before {
		return out, nil
	}
	var b bytes.Buffer
	w, err := age.Encrypt(&b, s.recipients()...)
	if err != nil {
		return Sealed{}, err
	}
	_, err = w.Write(packed)
	err = errors.Join(err, w.Close())
	out.Keys = b.Bytes()
	return out, err
}

// Unlocked are keys in the clear, to be put into a data folder.
type Unlocked struct{ packed []byte }

// Unlock opens the keys. A passphrase that does not open them is ErrPassphrase.
func (s Sealed) Unlock(passphrase string) (Unlocked, error) {
	id, err := open(string(s.Recovery), passphrase)
	if err != nil {
		return Unlocked{}, err
	}
	r, err := age.Decrypt(bytes.NewReader(s.Keys), id)
	if err != nil {
		return Unlocked{}, errors.New(keysName + " is damaged: " + err.Error())
	}
	packed, err := io.ReadAll(r)
	if err != nil {
		return Unlocked{}, errors.New(keysName + " is damaged: " + err.Error())
	}
	return Unlocked{packed}, nil
}

// Put writes the keys into a data folder; nothing when there are none.
func (u Unlocked) Put(dir string) error {
	if u.packed == nil {
		return nil
	}
	return unpackKeys(bytes.NewReader(u.packed), dir)
}
