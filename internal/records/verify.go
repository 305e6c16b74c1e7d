package records

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"innercompass/internal/cases"
	"innercompass/internal/problem"
)

// RecordFile is a record as an open file: its content with the digest of its content.
type RecordFile struct {
	Digest  string          `json:"digest"`
	Content json.RawMessage `json:"content"`
}

// Verified says what became of a comparison.
type Verified struct {
	Digest  string
	Whole   bool   // what is compared has the digest that it carries, and what is kept here its seal as well
	Kept    bool   // a record of this digest is kept here
	Case    string // in which case; empty when not kept
	Content RecordContent
}

// Says puts a comparison into words.
func (v Verified) Says() string {
	switch {
	case v.Kept && v.Whole:
		return "Genuine: record " + v.Content.Number + " was issued here and is kept as it was."
	case v.Whole:
		return "Whole: the file is as it was made, but no such record is kept here. It may be from another shop or data folder."
	case v.Kept:
		return "Not confirmed: the record that is kept here does not have the seal or the digest that it was issued with. It was changed from outside, or database and seal.key are not of one time: put both back from the same backup."
	case v.Content.Format == "" && v.Digest != "":
		return "Not genuine: it is not what its digest says, or no record of this digest was issued here."
	}
	return "No digest."
}

// VerifyFile compares a record's file with the digest that it carries. It fails for what is no such file.
func VerifyFile(data []byte) (Verified, error) {
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
	return out, nil
}

// VerifyFile compares a record's file with the digest that it carries, and with what is kept here.
func (s *Service) VerifyFile(ctx context.Context, data []byte) (Verified, error) {
	file, err := VerifyFile(data)
	if err != nil || !file.Whole {
		return file, err
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
