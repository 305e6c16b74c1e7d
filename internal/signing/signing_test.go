package signing

import (
	"bytes"
	"crypto/ed25519"
	"encoding/hex"
	"testing"
	"time"
)

func key(t *testing.T) ed25519.PrivateKey {
	t.Helper()
	p, err := New()
	if err != nil {
		t.Fatal(err)
	}
	return p
}

// RFC 8032, 7.1, test 2: the library that is used is the algorithm that is named.
func TestEd25519OfTheRFC(t *testing.T) {
	hexed := func(s string) []byte { b, _ := hex.DecodeString(s); return b }
	p := ed25519.NewKeyFromSeed(hexed("4ccd089b28ff96da9db6c346ec114e0f5b8a319f35aba624da8cf6ed4fb8a6fb"))
	if !bytes.Equal(public(p), hexed("3d4017c3e843895a92b70aa74d1b7ebc9c982ccf2ec4968cc0cd55f12af4660c")) {
		t.Error("public key")
	}
	if !bytes.Equal(ed25519.Sign(p, hexed("72")), hexed("92a009a9f0d4cab8720e820b5f642540a2b27b5416503f8fb3762223ebdb69da085ac1e43e15996e458f3613d0f11d8c387b2eaeb4302aeeb00d291612bb0c00")) {
		t.Error("signature")
	}
}

// A document is genuine as it was signed, to the last byte; with another key's signature it is that one's.
func TestADocumentIsGenuineToTheLastByte(t *testing.T) {
	mine, hers := key(t), key(t)
	for f, body := range map[Form]string{HTML: "<p>To pay: 100</p>", PDF: "%PDF-1.7\n…\n%%EOF\n"} {
		signed := Document(mine, f, []byte(body))
		got, err := Open(signed)
		if err != nil || !got.Holds || !bytes.Equal(got.Body, []byte(body)) || !bytes.Equal(got.Public, public(mine)) {
			t.Errorf("%s: %v %+v", f, err, got)
		}
		for i := range signed {
			spoilt := bytes.Clone(signed)
			spoilt[i] ^= 1
			if o, err := Open(spoilt); err == nil && o.Holds && bytes.Equal(o.Public, public(mine)) {
				t.Errorf("%s: byte %d changed is not noticed", f, i)
			}
		}
		again, _ := Open(Document(hers, f, bytes.Replace([]byte(body), []byte("100"), []byte("900"), 1)))
		if !again.Holds || bytes.Equal(again.Public, public(mine)) {
			t.Errorf("%s: signed by another it counts as mine", f)
		}
		if _, err := Open([]byte(body)); err == nil {
			t.Errorf("%s: without a signature", f)
		}
	}
}

// A signature of one use is none of another, and a record's holds for its digest alone.
func TestARecordsSignature(t *testing.T) {
	p := key(t)
	sig := Record(p, "abc")
	if !RecordHolds(public(p), "abc", sig) || RecordHolds(public(p), "abd", sig) || RecordHolds(public(key(t)), "abc", sig) || RecordHolds(nil, "abc", sig) {
		t.Error("a record's signature holds where it should not, or not where it should")
	}
	if RecordHolds(public(p), "abc", ed25519.Sign(p, document([]byte("abc")))) {
		t.Error("a document's signature holds for a record")
	}
}

// From any key of the shop all others can be walked to; a key that somebody put among them cannot.
func TestKeysFollowOneAnother(t *testing.T) {
	at := time.Date(2026, 1, 1, 0, 0, 0, 0, time.UTC)
	privates := []ed25519.PrivateKey{key(t), key(t), key(t), key(t)}
	keys := []Key{First(privates[0], at)}
	for i := 1; i < len(privates); i++ {
		ended, begun := Next(keys[i-1], privates[i-1], privates[i], at.AddDate(i, 0, 0))
		keys[i-1] = ended
		keys = append(keys, begun)
	}
	eve := key(t)
	_, hers := Next(keys[3], eve, eve, at) // she signs for both sides
	forged := append(append([]Key{}, keys...), hers, First(eve, at))
	for i := range keys {
		if got := Trusted(forged, keys[i].Public); len(got) != len(keys) {
			t.Errorf("from key %d: %d keys, want %d", i, len(got), len(keys))
		}
	}
	data, err := Encode(privates[0])
	if err != nil {
		t.Fatal(err)
	}
	if back, err := Decode(data); err != nil || !back.Equal(privates[0]) {
		t.Errorf("%v", err)
	}
	if _, err := Decode([]byte("x")); err == nil {
		t.Error("no key is taken for one")
	}
}
