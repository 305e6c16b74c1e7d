package backup

import (
	"bytes"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"os"
	"path/filepath"
	"strings"

	"filippo.io/age"
	"filippo.io/age/armor"
)

// Secret is who can read what is encrypted. Backups are made without the passphrase: they are encrypted to a key whose other half lies in every backup,
// locked with the passphrase.
type Secret struct {
	Recipient string `json:"recipient"` // public half (age1…)
	Recovery  string `json:"recovery"`  // the other half, locked with the passphrase (age, armored)

	own *age.X25519Identity // of the data folder: see ownKey
}

// ownFile holds a key of the data folder itself, in no backup: what is written is opened with it at once, to see that it can be. Whoever has the folder has
// all of it anyway; whoever has the backups alone gets no further by it.
const ownFile = "backup.key"

func ownKey(dir string) (*age.X25519Identity, error) {
	at := filepath.Join(dir, ownFile)
	text, err := os.ReadFile(at)
	if err == nil {
		return age.ParseX25519Identity(strings.TrimSpace(string(text)))
	}
	if !errors.Is(err, fs.ErrNotExist) {
		return nil, err
	}
	id, err := age.GenerateX25519Identity()
	if err != nil {
		return nil, err
	}
	return id, os.WriteFile(at, []byte(id.String()+"\n"), 0o600)
}

// work is how long a passphrase takes to try: 2 to the power of it rounds of scrypt. Tests make it cheap.
var work = 18

// NewSecret makes one for a passphrase.
func NewSecret(passphrase string) (*Secret, error) {
	id, err := age.GenerateX25519Identity()
	if err != nil {
		return nil, err
	}
	lock, err := age.NewScryptRecipient(passphrase)
	if err != nil {
		return nil, err
	}
	lock.SetWorkFactor(work)
	var b bytes.Buffer
	a := armor.NewWriter(&b)
	w, err := age.Encrypt(a, lock)
	if err != nil {
		return nil, err
	}
	if _, err := io.WriteString(w, id.String()); err != nil {
		return nil, err
	}
	if err := errors.Join(w.Close(), a.Close()); err != nil {
		return nil, err
	}
	return &Secret{Recipient: id.Recipient().String(), Recovery: b.String()}, nil
}

func (s *Secret) recipients() []age.Recipient {
	r, err := age.ParseX25519Recipient(s.Recipient)
	if err != nil {
		return nil // nothing is encrypted to nobody: age refuses an empty list
	}
	if s.own == nil {
		return []age.Recipient{r}
	}
	return []age.Recipient{r, s.own.Recipient()}
}

// ErrPassphrase says that a passphrase does not open a backup.
var ErrPassphrase = errors.New("this passphrase does not open the backup")

// open unlocks the other half with the passphrase.
func open(recovery, passphrase string) (age.Identity, error) {
	id, err := age.NewScryptIdentity(passphrase)
	if err != nil {
		return nil, err
	}
	id.SetMaxWorkFactor(22)
	r, err := age.Decrypt(armor.NewReader(strings.NewReader(recovery)), id)
	var wrong *age.NoIdentityMatchError
	if errors.As(err, &wrong) {
		return nil, ErrPassphrase
	}
	if err != nil {
		return nil, fmt.Errorf("%s is damaged: %w", recoveryName, err)
	}
	text, err := io.ReadAll(r)
	if err != nil {
		return nil, err
	}
	return age.ParseX25519Identity(string(text))
}
