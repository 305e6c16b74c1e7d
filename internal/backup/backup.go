// Package backup writes a whole data folder into one file while the app runs, and puts it back: the database as of one moment (SQLite's backup interface),
// every picture and recording by its digest, and the keys under a passphrase. A file that is not whole is refused.
//
// The file is a tar archive: compass.db, files/DIGEST, keys.age, recovery.age, and last manifest.json, which names every entry with its SHA-256. Encrypted
// entries end in .age (age-encryption.org/v1).
package backup

import (
	"archive/tar"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"filippo.io/age"
)

// Format of the manifest.
const Format = "inner-compass-backup/1"

// Names of the entries.
const (
	manifestName = "manifest.json"
	databaseName = "compass.db"
	keysName     = "keys.age"
	recoveryName = "recovery.age"
	filesFolder  = "files"
	sealed       = ".age"
)

// besideFiles go along as they are.
var besideFiles = []string{"audit.head"}

// Manifest says what a backup holds. It comes last: an archive without it was cut off.
type Manifest struct {
	Format    string    `json:"format"`
	At        time.Time `json:"at"`
	App       string    `json:"app"`       // version that wrote it
	Encrypted bool      `json:"encrypted"` // database and pictures too, not the keys alone
	Keys      bool      `json:"keys"`      // it holds the keys
	Entries   []Entry   `json:"entries"`
}

// Entry is one file of a backup.
type Entry struct {
	Name   string `json:"name"`             // as it stands in the archive
	SHA256 string `json:"sha256"`           // of its bytes there
	Plain  string `json:"plain"`            // of what it holds, decrypted
	Size   int64  `json:"size"`             // of its bytes there
	Beside bool   `json:"beside,omitempty"` // not in the archive but in the folder files/ beside it
}

// Source is a data folder that is in use.
type Source struct {
	Dir      string
	Snapshot func(ctx context.Context, to string) error // writes the database as of one moment
	App      string
	Now      func() time.Time
}

// Options of a backup.
type Options struct {
	Secret *Secret // who can read it; nil leaves the keys out and everything readable
	All    bool    // encrypt the database and the pictures too
	// Beside is a folder that pictures are put into by their digest, each once, instead of into the archive; empty puts all into it.
	Beside string
}

// Write writes a backup.
func Write(ctx context.Context, w io.Writer, src Source, o Options) (Manifest, error) {
	m := Manifest{Format: Format, At: src.Now().UTC(), App: src.App, Encrypted: o.All && o.Secret != nil, Keys: o.Secret != nil}
	if o.Secret != nil {
		secret, own := *o.Secret, error(nil)
		if secret.own, own = ownKey(src.Dir); own != nil {
			return m, own
		}
		o.Secret = &secret
	}
	scratch, err := os.MkdirTemp(src.Dir, "new-backup-")
	if err != nil {
		return m, err
	}
	defer func() { _ = os.RemoveAll(scratch) }()
	b := writer{tar: tar.NewWriter(w), m: &m, o: o, scratch: scratch}
	// What says how far the trail goes comes before the database: that may be longer, never shorter.
	for _, name := range besideFiles {
		if err := b.file(name, filepath.Join(src.Dir, name)); err != nil && !errors.Is(err, fs.ErrNotExist) {
			return m, err
		}
	}
	snapshot := filepath.Join(scratch, databaseName)
	if err := src.Snapshot(ctx, snapshot); err != nil {
		return m, fmt.Errorf("the database could not be copied: %w", err)
	}
	if err := b.file(databaseName, snapshot); err != nil {
		return m, err
	}
	if err := b.pictures(ctx, filepath.Join(src.Dir, filesFolder)); err != nil {
		return m, err
	}
	if o.Secret != nil {
		if err := b.keys(src.Dir); err != nil {
			return m, err
		}
	}
	text, err := json.MarshalIndent(m, "", " ")
	if err != nil {
		return m, err
	}
	return m, errors.Join(b.put(manifestName, int64(len(text)), bytes.NewReader(text)), b.tar.Close())
}

type writer struct {
	tar     *tar.Writer
	m       *Manifest
	o       Options
	scratch string
}

func (b *writer) put(name string, size int64, r io.Reader) error {
	if err := b.tar.WriteHeader(&tar.Header{Typeflag: tar.TypeReg, Name: name, Size: size, Mode: 0o600, ModTime: b.m.At, Format: tar.FormatPAX}); err != nil {
		return err
	}
	_, err := io.Copy(b.tar, r)
	return err
}

// file adds a file, encrypted when everything is.
func (b *writer) file(name, path string) error {
	e, ready, err := b.ready(name, path, b.m.Encrypted)
	if err != nil {
		return err
	}
	f, err := os.Open(ready)
	if err != nil {
		return err
	}
	defer f.Close()
	b.m.Entries = append(b.m.Entries, e)
	return b.put(e.Name, e.Size, f)
}

// ready brings a file into the form in which it is kept, and says what it comes to: its own bytes, or an encrypted copy in the scratch folder.
func (b *writer) ready(name, path string, encrypt bool) (Entry, string, error) {
	e := Entry{Name: name}
	in, err := os.Open(path)
	if err != nil {
		return e, "", err
	}
	defer in.Close()
	plain, kept := sha256.New(), sha256.New()
	if !encrypt {
		e.Size, err = io.Copy(plain, in)
		e.Plain = hex.EncodeToString(plain.Sum(nil))
		e.SHA256 = e.Plain
		return e, path, err
	}
	e.Name += sealed
	out := filepath.Join(b.scratch, "sealed")
	to, err := os.Create(out)
	if err != nil {
		return e, "", err
	}
	defer to.Close()
	count := &counter{}
	lock, err := age.Encrypt(io.MultiWriter(to, kept, count), b.o.Secret.recipients()...)
	if err != nil {
		return e, "", err
	}
	if _, err := io.Copy(io.MultiWriter(lock, plain), in); err != nil {
		return e, "", err
	}
	if err := errors.Join(lock.Close(), to.Sync()); err != nil {
		return e, "", err
	}
	e.Size, e.Plain, e.SHA256 = count.n, hex.EncodeToString(plain.Sum(nil)), hex.EncodeToString(kept.Sum(nil))
	return e, out, nil
}

type counter struct{ n int64 }

func (c *counter) Write(p []byte) (int, error) { c.n += int64(len(p)); return len(p), nil }

// IsDigest reports whether a name is that of a file by its digest.
func IsDigest(name string) bool {
	return len(name) == 2*sha256.Size && strings.Trim(name, "0123456789abcdef") == ""
}

// pictures adds every file by its digest, or puts it beside the archive unless it is there.
func (b *writer) pictures(ctx context.Context, dir string) error {
	list, err := os.ReadDir(dir)
	if err != nil {
		return err
	}
	for _, f := range list {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if !IsDigest(f.Name()) {
			continue
		}
		name := path.Join(filesFolder, f.Name())
		if b.o.Beside == "" {
			if err := b.file(name, filepath.Join(dir, f.Name())); err != nil {
				return err
			}
			continue
		}
		e, err := b.beside(name, filepath.Join(dir, f.Name()))
		if err != nil {
			return err
		}
		b.m.Entries = append(b.m.Entries, e)
	}
	return nil
}

// beside puts a file into the folder beside, once.
func (b *writer) beside(name, from string) (Entry, error) {
	e := Entry{Name: name, Plain: path.Base(name), Beside: true}
	if b.m.Encrypted {
		e.Name += sealed
	}
	to := filepath.Join(b.o.Beside, path.Base(e.Name))
	if there, err := os.Open(to); err == nil {
		h := sha256.New()
		e.Size, err = io.Copy(h, there)
		e.SHA256 = hex.EncodeToString(h.Sum(nil))
		if err := errors.Join(err, there.Close()); err != nil {
			return e, err
		}
		if e.SHA256 == e.Plain || b.m.Encrypted && b.opens(to) {
			return e, nil
		}
	}
	made, ready, err := b.ready(name, from, b.m.Encrypted)
	if err != nil {
		return e, err
	}
	made.Beside = true
	return made, copyWhole(ready, to)
}

// opens reports whether a file that lies there is encrypted to the key of this folder: one of another folder, or of before, is written again.
func (b *writer) opens(file string) bool {
	f, err := os.Open(file)
	if err != nil {
		return false
	}
	defer f.Close()
	if b.o.Secret.own == nil {
		return true
	}
	_, err = age.Decrypt(f, b.o.Secret.own)
	return err == nil
}

// copyWhole puts a file in place whole or not at all.
func copyWhole(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	tmp, err := os.CreateTemp(filepath.Dir(to), "new-*")
	if err != nil {
		return err
	}
	_, err = io.Copy(tmp, in)
	if err := errors.Join(err, tmp.Sync(), tmp.Close()); err != nil {
		return errors.Join(err, os.Remove(tmp.Name()))
	}
	return os.Rename(tmp.Name(), to)
}

// keys adds the keys of the folder, always encrypted, with what opens them.
func (b *writer) keys(dir string) error {
	packed, err := packKeys(dir, b.m.At)
	if err != nil {
		return err
	}
	plain := filepath.Join(b.scratch, "keys")
	if err := os.WriteFile(plain, packed, 0o600); err != nil {
		return err
	}
	e, ready, err := b.ready(strings.TrimSuffix(keysName, sealed), plain, true)
	if err != nil {
		return err
	}
	data, err := os.ReadFile(ready)
	if err != nil {
		return err
	}
	if err := b.put(e.Name, e.Size, bytes.NewReader(data)); err != nil {
		return err
	}
	text := []byte(b.o.Secret.Recovery)
	sum := sha256.Sum256(text)
	digest := hex.EncodeToString(sum[:])
	b.m.Entries = append(b.m.Entries, e, Entry{Name: recoveryName, SHA256: digest, Plain: digest, Size: int64(len(text))})
	return b.put(recoveryName, int64(len(text)), bytes.NewReader(text))
}

// named finds an entry by what it is called without its ending.
func (m Manifest) named(name string) (Entry, bool) {
	i := slices.IndexFunc(m.Entries, func(e Entry) bool { return strings.TrimSuffix(e.Name, sealed) == strings.TrimSuffix(name, sealed) })
	if i < 0 {
		return Entry{}, false
	}
	return m.Entries[i], true
}
