// Package signing puts the shop's signature (Ed25519, RFC 8032) under what it issues, so that anybody who has the shop's public key can tell, without this
// app's data and without a network, whether a record is genuine.
package signing

import (
	"bytes"
	"crypto/ed25519"
	"crypto/rand"
	"crypto/sha256"
	"crypto/x509"
	"encoding/base64"
	"encoding/hex"
	"encoding/pem"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"time"
)

// Key is a public key of the shop and the time it was in use. A key that follows another is bound to it both ways: whoever trusts one of them can walk to
// all others.
type Key struct {
	ID       string     `json:"id"`
	Public   []byte     `json:"public"` // 32 bytes
	From     time.Time  `json:"from"`
	Until    *time.Time `json:"until,omitempty"`
	Before   string     `json:"before,omitempty"`    // id of the key that this one follows
	ByBefore []byte     `json:"by_before,omitempty"` // that key's signature: this one follows me
	OfBefore []byte     `json:"of_before,omitempty"` // this key's signature: that one was mine before
}

// ID is how a public key is named: the first 16 characters of its SHA-256, hexadecimal.
func ID(public ed25519.PublicKey) string {
	sum := sha256.Sum256(public)
	return hex.EncodeToString(sum[:8])
}

// Fingerprint is the whole SHA-256 of a public key in groups of four, as people compare it.
func Fingerprint(public []byte) string {
	sum := sha256.Sum256(public)
	text := hex.EncodeToString(sum[:])
	var b bytes.Buffer
	for i := 0; i < len(text); i += 4 {
		if i > 0 {
			b.WriteByte(' ')
		}
		b.WriteString(text[i : i+4])
	}
	return b.String()
}

// New makes a key.
func New() (ed25519.PrivateKey, error) {
	_, private, err := ed25519.GenerateKey(rand.Reader)
	return private, err
}

func public(p ed25519.PrivateKey) ed25519.PublicKey {
	return p.Public().(ed25519.PublicKey) //nolint:errcheck,forcetypeassert // the documentation of PrivateKey.Public promises it
}

// First is the entry of the first key.
func First(p ed25519.PrivateKey, at time.Time) Key {
	return Key{ID: ID(public(p)), Public: public(p), From: at.UTC()}
}

// Next ends a key and begins another.
func Next(old Key, oldPrivate, private ed25519.PrivateKey, at time.Time) (ended, begun Key) {
	ended, begun = old, First(private, at)
	until := at.UTC()
	ended.Until, begun.Before = &until, old.ID
	begun.ByBefore = ed25519.Sign(oldPrivate, follows(begun.Public))
	begun.OfBefore = ed25519.Sign(private, preceded(old.Public))
	return ended, begun
}

// Behind is the entry of a key that takes over from one whose private half is not here: it vouches for that one, which cannot vouch for it.
func Behind(old Key, private ed25519.PrivateKey, at time.Time) Key {
	k := First(private, at)
	k.Before, k.OfBefore = old.ID, ed25519.Sign(private, preceded(old.Public))
	return k
}

// What is signed begins with words of its own for each use: a signature of one kind is none of another.
func follows(public []byte) []byte {
	return append([]byte("Inner Compass: this key follows mine\n"), public...)
}
func preceded(public []byte) []byte {
	return append([]byte("Inner Compass: this key was mine before\n"), public...)
}
func record(digest string) []byte {
	return []byte("Inner Compass: record of this SHA-256 was issued\n" + digest)
}
func document(body []byte) []byte {
	sum := sha256.Sum256(body)
	return append([]byte("Inner Compass: document of this SHA-256 was issued\n"), sum[:]...)
}

// Trusted are the keys of a list that can be walked to from one that is trusted, that one included.
func Trusted(all []Key, anchor ed25519.PublicKey) []Key {
	var out []Key
	open := []string{ID(anchor)}
	for len(open) > 0 {
		id := open[0]
		open = open[1:]
		i := slices.IndexFunc(all, func(k Key) bool { return k.ID == id && ID(k.Public) == id })
		if i < 0 || slices.ContainsFunc(out, func(k Key) bool { return k.ID == id }) {
			continue
		}
		out = append(out, all[i])
		for _, k := range all {
			if len(k.Public) != ed25519.PublicKeySize {
				continue
			}
			if k.ID == all[i].Before && ed25519.Verify(all[i].Public, preceded(k.Public), all[i].OfBefore) || k.Before == id && ed25519.Verify(all[i].Public, follows(k.Public), k.ByBefore) {
				open = append(open, k.ID)
			}
		}
	}
	return out
}

// Record signs the digest of a record's content.
func Record(p ed25519.PrivateKey, digest string) []byte { return ed25519.Sign(p, record(digest)) }

// RecordHolds reports whether a signature of a record is by a key.
func RecordHolds(public []byte, digest string, signature []byte) bool {
	return len(public) == ed25519.PublicKeySize && ed25519.Verify(public, record(digest), signature)
}

// Form is what kind of document is signed; it says how a signature stands at its end without being seen.
type Form string

// Forms of documents.
const (
	HTML Form = "html"
	PDF  Form = "pdf"
)

var trailers = map[Form][2]string{HTML: {"\n<!-- signed-by: ", " -->\n"}, PDF: {"\n%signed-by: ", "\n"}}

var trailer = regexp.MustCompile(`\n(?:<!-- |%)signed-by: ([A-Za-z0-9+/=]{44}) ([A-Za-z0-9+/=]{88})(?: -->)?\n$`)

// Document puts a signature at the end of a document, over every byte before it.
func Document(p ed25519.PrivateKey, f Form, body []byte) []byte {
	t := trailers[f]
	line := t[0] + base64.StdEncoding.EncodeToString(public(p)) + " " + base64.StdEncoding.EncodeToString(ed25519.Sign(p, document(body))) + t[1]
	return append(slices.Clip(body), line...)
}

// ErrUnsigned says that a document has no signature at its end.
var ErrUnsigned = errors.New("not signed")

// Opened is whose signature stands under a document, and whether it holds.
type Opened struct {
	Body   []byte
	Public []byte
	Holds  bool
}

// Open reads the signature at the end of a document.
func Open(data []byte) (Opened, error) {
	tail := data[max(0, len(data)-400):]
	m := trailer.FindSubmatchIndex(tail)
	if m == nil {
		return Opened{}, ErrUnsigned
	}
	key, err1 := base64.StdEncoding.Strict().DecodeString(string(tail[m[2]:m[3]]))
	sig, err2 := base64.StdEncoding.Strict().DecodeString(string(tail[m[4]:m[5]]))
	if err := errors.Join(err1, err2); err != nil || len(key) != ed25519.PublicKeySize {
		return Opened{}, ErrUnsigned
	}
	body := data[:len(data)-len(tail)+m[0]]
	return Opened{body, key, ed25519.Verify(key, document(body), sig)}, nil
}

// Encode is a private key as it lies in a file (PEM, PKCS #8).
func Encode(p ed25519.PrivateKey) ([]byte, error) {
	der, err := x509.MarshalPKCS8PrivateKey(p)
	if err != nil {
		return nil, err
	}
	return pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: der}), nil
}

// Decode reads one.
func Decode(data []byte) (ed25519.PrivateKey, error) {
	block, _ := pem.Decode(data)
	if block == nil {
		return nil, errors.New("no PEM")
	}
	key, err := x509.ParsePKCS8PrivateKey(block.Bytes)
	if err != nil {
		return nil, err
	}
	p, ok := key.(ed25519.PrivateKey)
	if !ok {
		return nil, fmt.Errorf("a key of another kind: %T", key)
	}
	return p, nil
}
