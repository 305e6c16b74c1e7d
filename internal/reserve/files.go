package reserve

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"

	"innercompass/internal/backup"
)

// digests are the files by digest in a folder.
func digests(dir string) (map[string]bool, error) {
	list, err := os.ReadDir(dir)
	out := map[string]bool{}
	for _, e := range list {
		if backup.IsDigest(e.Name()) {
			out[e.Name()] = true
		}
	}
	return out, err
}

// Copied brings what one folder has and the other lacks there, each file checked against its name; the answer is how many there are then. One that cannot be
// brought holds up none of the others.
func Copied(ctx context.Context, from, to string) (int, error) {
	have, err := digests(from)
	if err != nil {
		return 0, err
	}
	there, err := digests(to)
	if err != nil {
		return 0, err
	}
	var wrong error
	for name := range have {
		if there[name] {
			continue
		}
		if ctx.Err() != nil {
			return len(there), ctx.Err()
		}
		switch err := copyDigest(filepath.Join(from, name), filepath.Join(to, name)); {
		case errors.Is(err, fs.ErrNotExist): // taken away meanwhile
		case err != nil:
			wrong = err
		default:
			there[name] = true
		}
	}
	return len(there), wrong
}

// Gone are the files that the one folder no longer has and the other still does.
func Gone(from, to string) ([]string, error) {
	have, err := digests(from)
	if err != nil {
		return nil, err
	}
	there, err := digests(to)
	var out []string
	for name := range there {
		if !have[name] {
			out = append(out, name)
		}
	}
	return out, err
}

// Dropped takes away what the one folder no longer has.
func Dropped(from, to string) error {
	gone, err := Gone(from, to)
	for _, name := range gone {
		err = errors.Join(err, os.Remove(filepath.Join(to, name)))
	}
	return err
}

func copyDigest(from, to string) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	tmp, err := os.CreateTemp(filepath.Dir(to), "new-*")
	if err != nil {
		return err
	}
	h := sha256.New()
	_, err = io.Copy(io.MultiWriter(tmp, h), in)
	if sum := hex.EncodeToString(h.Sum(nil)); err == nil && sum != filepath.Base(from) {
		err = fmt.Errorf("%s is not what its name says", from)
	}
	if err := errors.Join(err, tmp.Sync(), tmp.Close()); err != nil {
		return errors.Join(err, os.Remove(tmp.Name()))
	}
	return os.Rename(tmp.Name(), to)
}

// Pictures are the files by digest of a data folder, and of the folder.
func (f Folder) Pictures() string { return f.path(filesFolder) }

// PicturesOf is where a data folder keeps them.
func PicturesOf(data string) string { return filepath.Join(data, filesFolder) }

// HeadOf reads where the trail of a data folder ended; nothing when it says nothing.
func HeadOf(data string) ([]byte, error) { return readFile(filepath.Join(data, headFile)) }

// readFile reads a small file; nil when it is not there.
func readFile(path string) ([]byte, error) {
	text, err := os.ReadFile(path)
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	return text, err
}

// PutHead writes it into another folder.
func PutHead(dir string, head []byte) error {
	if len(head) == 0 {
		return nil
	}
	return writeWhole(filepath.Join(dir, headFile), head)
}
