package people

import (
	"context"
	"strings"
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
)

// Five wrong tries are free; then the wait doubles from half a minute and stops at a quarter of an hour: at most some 25 tries a day and name.
func TestHowLongAWrongTryWaits(t *testing.T) {
	for wrong, want := range map[int]time.Duration{0: 0, 4: 0, 5: 30 * time.Second, 6: time.Minute, 9: 8 * time.Minute, 10: 15 * time.Minute, 400: 15 * time.Minute} {
		if got := (Tries{Wrong: wrong}).wait(); got != want {
			t.Errorf("after %d: %v, want %v", wrong, got, want)
		}
	}
}

// Common practice, no source: rows, repeats and one digit throughout are what people choose first.
func TestEasyPINsAreRefused(t *testing.T) {
	for _, pin := range []string{"000000", "123456", "654321", "121212", "274274", "999999", "456789"} {
		if !easy(pin) {
			t.Errorf("%s is taken", pin)
		}
	}
	for _, pin := range []string{"274916", "190384", "550921", "112358"} {
		if easy(pin) {
			t.Errorf("%s is refused", pin)
		}
	}
}

// Length, leaked ones, rows of keys, and the names that stand around; long phrases of any characters are taken.
func TestWhichPassphrasesAreTaken(t *testing.T) {
	s := New(nil, time.Now, nil)
	s.Shop = func(context.Context) (string, error) { return "Tarn & Tiller Drivetrain", nil }
	for text, field := range map[string]bool{
		"short one": false, "passwordpassword": false, "qwertyuiop123": false, "111111111111": false, "Ines Ines Ines": false, "tarn & tiller drivetrain": false, strings.Repeat("x", 129): false,
		"seventeen wet gaskets": true, "großer Kolben, kleine Öse": true, "ключи лежат под ковром": true,
	} {
		if err := s.checkPassphrase(t.Context(), "passphrase", text, "Ines"); (err == nil) != field {
			t.Errorf("%q: %v", text, err)
		}
	}
}

// The hash is argon2id with the costs that are written down, salted anew each time; letters count however the keyboard composed them.
func TestHowSecretsAreKept(t *testing.T) {
	s := New(nil, time.Now, nil)
	const composed, decomposed = "caf\u00e9 on the old pier", "cafe\u0301 on the old pier"
	one, err := s.hashed(t.Context(), "passphrase", composed)
	if err != nil {
		t.Fatal(err)
	}
	two, _ := s.hashed(t.Context(), "passphrase", composed)
	if !strings.HasPrefix(one, "$argon2id$v=19$m=19456,t=2,p=1$") || one == two {
		t.Errorf("%s %s", one, two)
	}
	if ok, err := s.matches(t.Context(), plain(decomposed), one); !ok || err != nil {
		t.Errorf("%v %v", ok, err)
	}
	if _, _, _, err := argon2id.DecodeHash(nobodys); err != nil {
		t.Errorf("the hash of nobody: %v", err)
	}
	if ok, err := s.matches(t.Context(), "anything", ""); ok || err != nil {
		t.Errorf("nothing kept: %v %v", ok, err)
	}
}

// Nobody does what takes two things with one: neither by PIN, nor by a passphrase at a strange device.
func TestWhatTakesTwoThings(t *testing.T) {
	for _, c := range []struct {
		how    How
		device string
		may    bool
	}{{ByPIN, "bay", false}, {ByPassphrase, "", false}, {ByPassphrase, "bay", true}, {ByPasskey, "", true}} {
		a := Actor{Needed: true, ID: "p", Role: Owner, How: c.how, Device: c.device}
		for _, r := range []Right{Shop, Manage} {
			if may, why := a.May(r); may != c.may || may == (why != "") {
				t.Errorf("%s at %q: %v (%s)", c.how, c.device, may, why)
			}
		}
		if may, _ := a.May(Work); !may {
			t.Errorf("%s at %q may not work", c.how, c.device)
		}
	}
}
