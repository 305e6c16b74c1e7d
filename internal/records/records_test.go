package records_test

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"image/jpeg"
	"strings"
	"testing"

	"innercompass/internal/app/apptest"
	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
	"innercompass/internal/records"
)

var ctx = context.Background()

func TestPicturesAreKeptByWhatTheyAre(t *testing.T) {
	s := apptest.New(t)
	id := apptest.TakenIn(t, s).Case.ID
	file := apptest.Picture(t, 40, 30)
	v, err := apptest.See(s)(s.Records.AddPhoto(ctx, id, cases.Guard{Key: "k"}, cases.Photo{Stage: "teardown", Caption: "Piston"}, file))
	if err != nil || len(v.Case.Photos) != 1 || v.Case.Photos[0].Width != 40 || v.Case.Photos[0].Type != "image/jpeg" {
		t.Fatalf("%+v %v", v.Case.Photos, err)
	}
	if v, err = apptest.See(s)(s.Records.AddPhoto(ctx, id, cases.Guard{Key: "k"}, cases.Photo{Stage: "teardown", Caption: "Piston"}, file)); err != nil || len(v.Case.Photos) != 1 {
		t.Errorf("sent again: %d, %v", len(v.Case.Photos), err)
	}
	back, kind, err := s.Records.PhotoFile(ctx, id, v.Case.Photos[0].ID, false)
	sum := sha256.Sum256(back)
	if _, err2 := jpeg.Decode(bytes.NewReader(back)); err != nil || err2 != nil || kind != "image/jpeg" || hex.EncodeToString(sum[:]) != v.Case.Photos[0].Digest {
		t.Errorf("%s %v %v", kind, err, err2)
	}
	for field, try := range map[string]func() error{
		"file": func() error {
			_, err := s.Records.AddPhoto(ctx, id, cases.Guard{}, cases.Photo{Stage: "teardown"}, []byte("GIF89a"))
			return err
		},
		"stage": func() error {
			_, err := s.Records.AddPhoto(ctx, id, cases.Guard{}, cases.Photo{Stage: "attic"}, file)
			return err
		},
	} {
		if err := try(); apptest.FieldOf(err) != field {
			t.Errorf("%v, want it named as %s", err, field)
		}
	}
	if v, err = apptest.See(s)(s.Records.WithdrawPhoto(ctx, id, cases.Guard{}, v.Case.Photos[0].ID)); err != nil || len(v.Case.Pictures()) != 0 {
		t.Errorf("%v", err)
	}
	if _, err := s.Records.WithdrawPhoto(ctx, id, cases.Guard{}, "nothing"); !errors.Is(err, problem.ErrNotFound) {
		t.Errorf("%v", err)
	}
}

// A record is found by its digest and stands by itself; one that was altered by a letter is not genuine.
func TestRecordsAreVerified(t *testing.T) {
	s := apptest.New(t)
	id := apptest.Burnt(t, s)
	var v present.View
	for range 2 { // a page that sends again after a lost answer
		var err error
		if v, err = apptest.See(s)(s.Records.Issue(ctx, id, cases.Guard{Key: "aabbccddeeff00112233"}, records.NewRecord{By: "Ines", Work: "Nothing yet."})); err != nil || len(v.Case.Records) != 1 {
			t.Fatalf("%d records, %v", len(v.Case.Records), err)
		}
	}
	r := v.Case.Records[0]
	spaced := strings.ToUpper(r.Digest[:8] + " " + r.Digest[8:])
	if got, err := s.Records.VerifyDigest(ctx, spaced); err != nil || !got.Kept || !got.Whole || got.Case != id || !strings.HasPrefix(got.Says(), "Genuine") {
		t.Errorf("%+v %v", got, err)
	}
	if got, err := s.Records.VerifyDigest(ctx, strings.Repeat("0", 64)); err != nil || got.Kept || !strings.HasPrefix(got.Says(), "Not genuine") {
		t.Errorf("%+v %v", got, err)
	}
	if says := (records.Verified{Digest: r.Digest, Kept: true}).Says(); !strings.HasPrefix(says, "Not confirmed") || !strings.Contains(says, "signing.key") {
		t.Error(says)
	}
	if _, err := s.Records.VerifyDigest(ctx, "abc"); apptest.FieldOf(err) != "digest" {
		t.Errorf("%v", err)
	}
	file, err := json.Marshal(records.RecordFile{Digest: r.Digest, Content: r.Content})
	if err != nil {
		t.Fatal(err)
	}
	if got, err := records.VerifyFile(file); err != nil || !got.Whole || got.Kept || got.Content.Work != "Nothing yet." {
		t.Errorf("%+v %v", got, err)
	}
	if got, err := s.Records.VerifyFile(ctx, file); err != nil || !got.Whole || !got.Kept || got.Case != id {
		t.Errorf("%+v %v", got, err)
	}
	if got, err := records.VerifyFile(bytes.Replace(file, []byte("Nothing yet."), []byte("Nothing yes."), 1)); err != nil || got.Whole {
		t.Errorf("an altered file: %+v %v", got, err)
	}
	if _, err := records.VerifyFile([]byte("hello")); apptest.FieldOf(err) != "file" {
		t.Errorf("%v", err)
	}
	// An amendment names what it amends and why; the first stays as it was.
	if _, err := s.Records.Issue(ctx, id, cases.Guard{}, records.NewRecord{Amends: r.ID}); apptest.FieldOf(err) != "why" {
		t.Errorf("without a reason: %v", err)
	}
	v, err = apptest.See(s)(s.Records.Issue(ctx, id, cases.Guard{}, records.NewRecord{Amends: r.ID, Why: "The distance was misread.", LeaveOut: []string{"customer", "prices", "words"}}))
	if err != nil {
		t.Fatal(err)
	}
	content, _, err := s.Records.RecordOf(ctx, id, v.Case.Records[1].ID)
	if err != nil || content.Amends != cases.RecordNumber(id, 1) || content.Words != "" || content.Options != nil || string(v.Case.Records[0].Content) != string(r.Content) {
		t.Errorf("%+v %v", content, err)
	}
	if _, err := s.Records.Issue(ctx, id, cases.Guard{}, records.NewRecord{LeaveOut: []string{"truth"}}); apptest.FieldOf(err) != "leaveOut" {
		t.Errorf("%v", err)
	}
}
