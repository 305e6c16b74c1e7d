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

// NotWholeError says what is wrong with a backup. Nothing was put anywhere.
type NotWholeError struct{ File, Reason string }

func (e *NotWholeError) Error() string {
	return e.File + " is not whole: " + e.Reason + "; take an older one"
}

// Reading is how a backup is opened.
type Reading struct {
	Passphrase string       // needed when it is encrypted, and for its keys
	identity   age.Identity // in place of the passphrase, while a backup that was just made is looked at again
}

// most bounds what an entry may unpack to: a file that claims more is not one of ours.
const most = 64 << 30

// Unpack puts a backup into a folder that there is not yet, after comparing every byte with the manifest. When it fails, the folder is not there.
func Unpack(ctx context.Context, file, dir string, how Reading) (m Manifest, err error) {
	if _, err := os.Stat(dir); !errors.Is(err, fs.ErrNotExist) {
		return m, fmt.Errorf("%s is there already", dir)
	}
	m, err = ReadManifest(file)
	if err != nil {
		return m, err
	}
	u := unpacking{file: file, dir: dir, m: m, identity: how.identity}
	if u.identity == nil && (m.Keys || m.Encrypted) {
		if how.Passphrase == "" {
			return m, &PassphraseNeeded{m.Encrypted}
		}
		text, err := u.one(recoveryName)
		if err != nil {
			return m, err
		}
		if u.identity, err = open(string(text), how.Passphrase); err != nil {
			return m, err
		}
	}
	if err := os.MkdirAll(filepath.Join(dir, filesFolder), 0o700); err != nil {
		return m, err
	}
	defer func() {
		if err != nil {
			err = errors.Join(err, os.RemoveAll(dir))
		}
	}()
	return m, u.all(ctx)
}

// PassphraseNeeded says that a backup is opened by a passphrase.
type PassphraseNeeded struct{ Encrypted bool }

func (e *PassphraseNeeded) Error() string {
	if e.Encrypted {
		return "this backup is encrypted: its passphrase is needed"
	}
	return "the keys in this backup are encrypted: its passphrase is needed"
}

// ReadManifest reads what a backup says that it holds.
func ReadManifest(file string) (Manifest, error) {
	var m Manifest
	text, err := (&unpacking{file: file}).one(manifestName)
	if err != nil {
		return m, err
	}
	if err := json.Unmarshal(text, &m); err != nil || m.Format == "" {
		return m, &NotWholeError{file, "its manifest cannot be read"}
	}
	if m.Format != Format {
		return m, &NotWholeError{file, fmt.Sprintf("it is of the form %q, and this app reads %q", m.Format, Format)}
	}
	return m, nil
}

type unpacking struct {
	file, dir string
	m         Manifest
	identity  age.Identity
}

// each walks through the archive; the walk ends well only at its proper end.
func (u *unpacking) each(do func(h *tar.Header, r io.Reader) error) error {
	f, err := os.Open(u.file)
	if err != nil {
		return err
	}
	defer f.Close()
	t := tar.NewReader(f)
	for {
		h, err := t.Next()
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return &NotWholeError{u.file, "the archive is cut off or damaged (" + err.Error() + ")"}
		}
		if err := do(h, t); err != nil {
			return err
		}
	}
}

// one reads a small entry.
func (u *unpacking) one(name string) ([]byte, error) {
	var out []byte
	found := false
	err := u.each(func(h *tar.Header, r io.Reader) error {
		if h.Name != name {
			return nil
		}
		var err error
		out, err = io.ReadAll(io.LimitReader(r, 64<<20))
		found = true
		return err
	})
	if err == nil && !found {
		err = &NotWholeError{u.file, "it has no " + name + ": it was cut off, or is no backup"}
	}
	return out, err
}

func (u *unpacking) all(ctx context.Context) error {
	seen := map[string]bool{}
	err := u.each(func(h *tar.Header, r io.Reader) error {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if h.Name == manifestName {
			return nil
		}
		i := slices.IndexFunc(u.m.Entries, func(e Entry) bool { return e.Name == h.Name && !e.Beside })
		if i < 0 || seen[h.Name] || h.Typeflag != tar.TypeReg {
			return &NotWholeError{u.file, "it holds " + h.Name + ", which its manifest does not name"}
		}
		seen[h.Name] = true
		return u.entry(u.m.Entries[i], r)
	})
	if err != nil {
		return err
	}
	for _, e := range u.m.Entries {
		if e.Beside {
			if err := u.fromBeside(e); err != nil {
				return err
			}
			continue
		}
		if !seen[e.Name] {
			return &NotWholeError{u.file, e.Name + " is missing"}
		}
	}
	if _, ok := u.m.named(databaseName); !ok {
		return &NotWholeError{u.file, "it holds no database"}
	}
	return nil
}

func (u *unpacking) fromBeside(e Entry) error {
	at := filepath.Join(filepath.Dir(u.file), filesFolder, path.Base(e.Name))
	f, err := os.Open(at)
	if err != nil {
		return &NotWholeError{u.file, at + " is missing beside it"}
	}
	defer f.Close()
	return u.entry(e, f)
}

// entry checks an entry and puts what it holds in place.
func (u *unpacking) entry(e Entry, r io.Reader) error {
	name := strings.TrimSuffix(e.Name, sealed)
	switch {
	case e.Name == recoveryName:
		return u.compare(e, r, io.Discard)
	case e.Name == keysName:
		if u.identity == nil {
			return u.compare(e, r, io.Discard)
		}
		var inner bytes.Buffer
		if err := u.compare(e, r, &inner); err != nil {
			return err
		}
		if err := unpackKeys(&inner, u.dir); err != nil {
			return &NotWholeError{u.file, err.Error()}
		}
		return nil
	case name == databaseName, slices.Contains(besideFiles, name), path.Dir(name) == filesFolder && IsDigest(path.Base(name)):
	default:
		return &NotWholeError{u.file, "it holds " + e.Name + ", which is no part of a backup"}
	}
	out, err := os.OpenFile(filepath.Join(u.dir, filepath.FromSlash(name)), os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	err = u.compare(e, r, out)
	return errors.Join(err, out.Sync(), out.Close())
}

// compare copies an entry, decrypted, and compares both its forms with the manifest.
func (u *unpacking) compare(e Entry, r io.Reader, to io.Writer) error {
	kept, plain := sha256.New(), sha256.New()
	in := io.TeeReader(io.LimitReader(r, most), kept)
	from := in
	if strings.HasSuffix(e.Name, sealed) && e.Name != recoveryName {
		if u.identity == nil {
			return &PassphraseNeeded{true}
		}
		var err error
		if from, err = age.Decrypt(in, u.identity); err != nil {
			return &NotWholeError{u.file, e.Name + " cannot be decrypted (" + err.Error() + ")"}
		}
	}
	if _, err := io.Copy(io.MultiWriter(to, plain), from); err != nil {
		return &NotWholeError{u.file, e.Name + " is damaged (" + err.Error() + ")"}
	}
	if _, err := io.Copy(io.Discard, in); err != nil {
		return err
	}
	if hex.EncodeToString(kept.Sum(nil)) != e.SHA256 || hex.EncodeToString(plain.Sum(nil)) != e.Plain {
		return &NotWholeError{u.file, e.Name + " is not what the manifest says"}
	}
	if base := path.Base(strings.TrimSuffix(e.Name, sealed)); IsDigest(base) && base != e.Plain {
		return &NotWholeError{u.file, e.Name + " is not what its name says"}
	}
	return nil
}

// Restore puts a backup in the place of a data folder. What was there is kept beside it under another name. check looks at what was unpacked before
// anything is moved.
func Restore(ctx context.Context, file, dir string, how Reading, now time.Time, check func(dir string) error) (m Manifest, kept string, err error) {
	dir = filepath.Clean(dir)
	scratch := dir + ".restoring"
	if err := os.RemoveAll(scratch); err != nil {
		return m, "", err
	}
	if m, err = Unpack(ctx, file, scratch, how); err != nil {
		return m, "", err
	}
	if err := check(scratch); err != nil {
		return m, "", errors.Join(err, os.RemoveAll(scratch))
	}
	if _, err := os.Stat(dir); err == nil {
		kept = dir + ".before-" + now.UTC().Format("20060102-150405")
		if err := os.Rename(dir, kept); err != nil {
			return m, "", errors.Join(err, os.RemoveAll(scratch))
		}
	}
	if err := os.Rename(scratch, dir); err != nil {
		if kept != "" { // back as it was
			err = errors.Join(err, os.Rename(kept, dir))
		}
		return m, "", err
	}
	return m, kept, nil
}
