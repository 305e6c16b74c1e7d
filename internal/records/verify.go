package records

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/signing"
)

// RecordFile is a record as an open file: its content with the digest of its content, and the shop's signature under that.
type RecordFile struct {
	Digest    string          `json:"digest"`
	Signature *Signature      `json:"signature,omitempty"`
	Content   json.RawMessage `json:"content"`
}

// Signature is the shop's (Ed25519) under the digest of a record.
type Signature struct {
	Key       []byte `json:"key"` // public
	Signature []byte `json:"signature"`
}

// Verified says what became of a comparison.
type Verified struct {
	Digest  string
	Whole   bool   // what is compared has the digest that it carries, and what is kept here the shop's signature as well
	Kept    bool   // a record of this digest is kept here
	Case    string // in which case; empty when not kept
	Key     []byte // public key whose signature holds; empty when there is none
	Ours    bool   // that key is one of the shop's whose keys were asked
	Printed bool   // it is a page or a PDF: what it says was not read, only that it is as it was written
	Content RecordContent
}

// Says puts a comparison into words.
func (v Verified) Says() string {
	switch {
	case v.Printed && v.Ours:
		return "Genuine: this document was written by the shop and is as it was."
	case v.Kept && v.Whole:
		return "Genuine: record " + v.Content.Number + " was issued here and is kept as it was."
	case v.Whole && v.Ours:
		return "Genuine: record " + v.Content.Number + " has the shop's signature."
	case v.Whole && len(v.Key) > 0:
		return "Whole, and signed with the key " + signing.Fingerprint(v.Key) + ". If that is not one of the shop's keys, it is not from the shop."
	case v.Whole:
		return "Whole: the file is as it was made, but it has no signature, and no such record is kept here. Anybody can make such a file."
	case v.Kept:
		return "Not confirmed: the record that is kept here does not have the shop's signature. It was changed from outside, or database and signing.key are not of one time: put both back from the same backup."
	case v.Content.Format == "" && v.Digest != "" || v.Printed:
		return "Not genuine: it was altered, or it was not issued here."
	}
	return "No digest."
}

// VerifyFile compares a record's file with the digest that it carries. It fails for what is no such file.
func VerifyFile(data []byte) (Verified, error) {
	if bytes.HasPrefix(data, []byte("%PDF-")) || bytes.HasPrefix(bytes.TrimLeft(data, " \n\t\ufeff"), []byte("<")) {
		return verifyDocument(data)
	}
	var f RecordFile
	if err := json.Unmarshal(data, &f); err != nil || len(f.Content) == 0 {
		return Verified{}, problem.Field("file", "not a record", "the JSON file of a record, as the app writes it")
	}
	out := Verified{Digest: f.Digest}
	content, err := cases.DecodeWithDigest[RecordContent](f.Content, f.Digest, "record")
	if err != nil {
		return out, nil //nolint:nilerr // that it does not match is the answer
	}
	if content.Format != RecordFormat {
		return out, problem.Field("file", fmt.Sprintf("format %q", content.Format), RecordFormat)
	}
	out.Whole, out.Content = true, content
	if sig := f.Signature; sig != nil {
		if !signing.RecordHolds(sig.Key, f.Digest, sig.Signature) {
			return Verified{Digest: f.Digest}, nil
		}
		out.Key = sig.Key
	}
	return out, nil
}

// verifyDocument reads the signature under a page or a PDF.
func verifyDocument(data []byte) (Verified, error) {
	o, err := signing.Open(data)
	if err != nil {
		return Verified{}, problem.Field("file", "no signature stands at its end: it is no document of a record, or one from before they were signed, or its end was cut off", "the page, PDF or JSON file of a record, as the app writes it")
	}
	out := Verified{Printed: true}
	if o.Holds {
		out.Whole, out.Key = true, o.Public
	}
	return out, nil
}

// By says whether the key that has signed is one of some.
func (v Verified) By(keys []signing.Key) Verified {
	v.Ours = slices.ContainsFunc(keys, func(k signing.Key) bool { return len(v.Key) > 0 && bytes.Equal(k.Public, v.Key) })
	return v
}

// VerifyFile compares a record's file with the digest that it carries, and with what is kept here.
func (s *Service) VerifyFile(ctx context.Context, data []byte) (Verified, error) {
	file, err := VerifyFile(data)
	if err != nil || !file.Whole {
		return file, err
	}
	keys, err := s.Store.Keys(ctx)
	if err != nil {
		return file, err
	}
	if file = file.By(keys); file.Printed {
		return file, nil
	}
	kept, err := s.VerifyDigest(ctx, file.Digest)
	if err != nil || !kept.Kept {
		return file, err
	}
	return kept, nil
}

// VerifyDigest finds the record that a printed digest belongs to.
func (s *Service) VerifyDigest(ctx context.Context, digest string) (Verified, error) {
	digest = strings.ToLower(strings.NewReplacer(" ", "", "\u00a0", "").Replace(strings.TrimSpace(digest)))
	if len(digest) != 64 || strings.Trim(digest, "0123456789abcdef") != "" {
		return Verified{}, problem.Field("digest", fmt.Sprintf("%d characters", len(digest)), "the 64 characters 0 to 9 and a to f that stand at the foot of a record")
	}
	out := Verified{Digest: digest}
	id, issued, err := s.Store.RecordOf(ctx, digest)
	if errors.Is(err, problem.ErrNotFound) {
		return out, nil
	}
	if err != nil {
		return out, err
	}
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		return out, err
	}
	for _, r := range c.Records {
		if r.Digest == digest {
			out.Kept, out.Case = true, id
			var changed error
			out.Content, changed = cases.DecodeWithDigest[RecordContent](r.Content, r.Digest, "record "+r.ID)
			out.Whole = changed == nil && issued
		}
	}
	return out, nil
}

// SignatureOf is the signature of a kept record with the key that made it; nil when it was issued before there was one.
func (s *Service) SignatureOf(ctx context.Context, r cases.Record) (*Signature, error) {
	if r.KeyID == "" {
		return nil, nil
	}
	keys, err := s.Store.Keys(ctx)
	if err != nil {
		return nil, err
	}
	for _, k := range keys {
		if k.ID == r.KeyID {
			return &Signature{k.Public, r.Signature}, nil
		}
	}
	return nil, nil
}
