package store

import (
	"context"
	"encoding/json"
	"errors"
	"os"
	"strings"
	"time"

	"gorm.io/gorm"

	"innercompass/internal/cases"
	"innercompass/internal/problem"
)

var gone = &problem.StorageError{Reason: "the data folder is no longer there, or another was put in its place", Do: "put it back and start the app again; nothing was saved"}

// writing runs f as the only writer, in one transaction. A folder that was taken away under the app is noticed before: SQLite
// would go on writing to a file that nobody can find again.
func (s *Store) writing(ctx context.Context, f func(tx *gorm.DB) error) error {
	there, err := os.Stat(s.path)
	if err != nil || !os.SameFile(there, s.self) {
		return gone
	}
	return told(s.write.WithContext(ctx).Transaction(f))
}

// reading runs f on what stands at one moment.
func (s *Store) reading(ctx context.Context, f func(tx *gorm.DB) error) error {
	return told(s.read.WithContext(ctx).Transaction(f))
}

// Change holds a case, hands it to f and keeps what f answers: in one transaction, with nobody else writing meanwhile. It
// returns the case as it then stands.
func (s *Store) Change(ctx context.Context, id string, g cases.Guard, f func(cases.Held) (cases.Changes, error)) (cases.Case, error) {
	var out cases.Case
	err := s.writing(ctx, func(tx *gorm.DB) error {
		h, err := s.hold(tx, id, g)
		if err != nil {
			return err
		}
		ch, err := f(h)
		if err != nil {
			return err
		}
		if ch.None() {
			out = h.Case
			return nil
		}
		s.addressed(ch.Estimate)
		s.sign(ch.Record)
		out, ch = h.Case.With(ch)
		if err := s.keep(tx, id, ch); err != nil {
			return err
		}
		return s.enter(ctx, tx, deedOf(id, ch))
	})
	return out, err
}

// Standing reads what a change is computed from, all as of one moment.
func (s *Store) Standing(ctx context.Context, id string, g cases.Guard) (cases.Standing, error) {
	var out cases.Standing
	err := s.reading(ctx, func(tx *gorm.DB) error {
		var err error
		if out.Held, err = s.hold(tx, id, g); err != nil {
			return err
		}
		if out.Settings, err = settings(tx); err != nil {
			return err
		}
		out.Book, err = prices(tx)
		return err
	})
	return out, err
}

// hold reads a case as a guard knows it. One that has moved on from the guard's revision fails with ErrChanged before it is read
// as a whole, unless the key of the change was used before: then it has moved on by that.
func (s *Store) hold(tx *gorm.DB, id string, g cases.Guard) (cases.Held, error) {
	var out cases.Held
	var err error
	if g.Key != "" {
		if out.Done, err = done(tx, id, g.Key); err != nil {
			return out, err
		}
	}
	if g.Rev != 0 && out.Done == "" {
		var now caseRow
		if err := tx.Select("rev").Where("id = ?", id).First(&now).Error; err != nil {
			return out, notFound("case", id, err)
		}
		if now.Rev != g.Rev {
			return out, problem.ErrChanged
		}
	}
	if out.Case, err = s.readCase(tx, id); err != nil {
		return out, err
	}
	out.Shop, err = revision(tx, shopRevision)
	return out, err
}

// done is what a key was used for; empty when it is new.
func done(tx *gorm.DB, scope, key string) (string, error) {
	var what string
	err := tx.Raw("SELECT what FROM done WHERE scope = ? AND key = ?", scope, key).Scan(&what).Error
	return what, err
}

func putDone(tx *gorm.DB, scope string, d cases.Done) error {
	if d.Key == "" {
		return nil
	}
	return tx.Exec("INSERT INTO done (scope, key, what, at) VALUES (?, ?, ?, ?)", scope, d.Key, d.What, time.Now().UTC()).Error
}

// keep writes what was changed, as numbered, and raises the revision of the case.
func (s *Store) keep(tx *gorm.DB, id string, ch cases.Changes) error {
	steps := []func() error{
		func() error { return tx.Exec("UPDATE cases SET rev = rev + 1 WHERE id = ?", id).Error },
		func() error { return putDone(tx, id, ch.Done) },
		func() error { return keepPlain(tx, id, ch.Plain) },
		func() error { return addMeasurements(tx, id, ch.Measurements) },
		func() error { return addReadings(tx, id, ch.Readings) },
		func() error { return addBench(tx, id, ch.Bench) },
		func() error { return keepMarks(tx, id, ch.Marks, ch.Unmarked) },
		func() error { return keepProofs(tx, id, ch.Proofs) },
		func() error { return keepEstimate(tx, id, ch.Estimate) },
		func() error { return keepDecision(tx, id, ch.Decision) },
		func() error { return keepCountersign(tx, id, ch.Countersign) },
		func() error { return s.keepRecord(tx, id, ch.Record) },
		func() error { return keepPhoto(tx, id, ch.Photo, ch.WithdrawnPhoto) },
	}
	for _, step := range steps {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

func keepPlain(tx *gorm.DB, id string, c *cases.Case) error {
	if c == nil {
		return nil
	}
	err := tx.Table("cases").Where("id = ?", id).Updates(map[string]any{
		"unit_id": c.UnitID, "unit_ver": c.UnitVer, "nearest": c.Nearest, "words": c.Words, "vehicle": c.Vehicle, "customer": c.Customer, "distance": c.Distance, "stage": c.Stage, "access": c.Access,
		"bay": c.Bay, "owner": c.Owner, "waits_for": c.WaitsFor, "closed": c.Closed, "root": c.Root, "outcome": c.Outcome, "earlier": c.Earlier, "due_at": c.DueAt, "due_distance": c.DueDistance, "due_note": c.DueNote, "damages": strings.Join(c.Damages, ","), "cured_by": c.CuredBy, "learnt": c.Learnt,
	}).Error
	if err != nil {
		return err
	}
	return putFloorKeys(tx, *c)
}

func addMeasurements(tx *gorm.DB, caseID string, list []cases.Measurement) error {
	for _, m := range list {
		typed, err := json.Marshal(m.Values)
		if err != nil {
			return err
		}
		err = tx.Create(&measurementRow{m.ID, caseID, m.Seq, m.Key, m.Instrument, m.Check, m.Gauge, m.GaugeName, string(typed), m.Value, m.Says, m.By, m.At, m.Withdraws}).Error
		if taken(err) {
			return problem.ErrRepeated
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func addReadings(tx *gorm.DB, caseID string, list []cases.Reading) error {
	for _, r := range list {
		row, err := fromReading(caseID, r)
		if err != nil {
			return err
		}
		err = tx.Create(&row).Error
		if taken(err) {
			return problem.ErrRepeated
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func addBench(tx *gorm.DB, caseID string, list []cases.BenchNote) error {
	for _, n := range list {
		err := tx.Create(&benchRow{n.ID, caseID, n.Seq, n.Key, n.Kind, n.Part, n.Ref, n.Value, n.Words, strings.Join(n.Readings, ","), n.By, n.At, n.Withdraws}).Error
		if taken(err) {
			return problem.ErrRepeated
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func keepMarks(tx *gorm.DB, caseID string, add, drop []cases.Mark) error {
	for _, m := range append(drop, add...) {
		if err := tx.Exec("DELETE FROM marks WHERE case_id = ? AND kind = ? AND ref = ?", caseID, m.Kind, m.Ref).Error; err != nil {
			return err
		}
	}
	for _, m := range add {
		if err := tx.Create(&markRow{caseID, m.Kind, m.Ref, m.Note, m.By, m.At}).Error; err != nil {
			return err
		}
	}
	return nil
}

func keepProofs(tx *gorm.DB, caseID string, list []cases.Proof) error {
	for _, p := range list {
		if err := tx.Exec("DELETE FROM proofs WHERE case_id = ? AND item = ?", caseID, p.Item).Error; err != nil {
			return err
		}
		if err := tx.Create(&proofRow{caseID, p.Item, p.Result, p.Note, p.By, p.At}).Error; err != nil {
			return err
		}
	}
	return nil
}

func keepEstimate(tx *gorm.DB, caseID string, o *cases.Estimate) error {
	if o == nil {
		return nil
	}
	return tx.Create(&estimateRow{o.ID, caseID, o.Seq, o.TokenHash, o.By, o.At, o.Expires, o.Fingerprint, o.Snapshot, o.Digest}).Error
}

func keepDecision(tx *gorm.DB, caseID string, d *cases.Decision) error {
	if d == nil {
		return nil
	}
	return tx.Create(&decisionRow{d.ID, caseID, d.Seq, d.Option, d.Choice, d.Words, d.Ceiling, d.By, d.At, d.Snapshot, d.Digest, d.Estimate, d.Awaits}).Error
}

func keepCountersign(tx *gorm.DB, caseID string, c *cases.Countersign) error {
	if c == nil {
		return nil
	}
	return tx.Create(&countersignRow{c.Decision, caseID, c.By, c.At}).Error
}

func (s *Store) keepRecord(tx *gorm.DB, caseID string, r *cases.Record) error {
	if r == nil {
		return nil
	}
	row := recordRow{r.ID, caseID, r.Seq, r.Amends, r.Why, r.By, r.At, r.Content, r.Digest}
	if err := tx.Create(&row).Error; err != nil {
		return err
	}
	return s.putSignature(tx, row)
}

func keepPhoto(tx *gorm.DB, caseID string, p *cases.Photo, dropped string) error {
	if dropped != "" {
		return tx.Exec("UPDATE photos SET gone = 1 WHERE case_id = ? AND id = ?", caseID, dropped).Error
	}
	if p == nil {
		return nil
	}
	return tx.Create(&photoRow{p.ID, caseID, p.Key, p.Digest, p.Type, p.Caption, p.Stage, p.Width, p.Height, p.By, p.At, false, p.Part}).Error
}

// CreateCase stores a new case with what it comes with. A key that was used for the same before gives the id of that case,
// with ErrRepeated; one that was used for something else is refused.
func (s *Store) CreateCase(ctx context.Context, c cases.Case, d cases.Done) (string, error) {
	id := c.ID
	err := s.writing(ctx, func(tx *gorm.DB) error {
		if d.Key != "" {
			before, err := done(tx, intakes, d.Key)
			if err != nil {
				return err
			}
			if before != "" {
				what, made, _ := strings.Cut(before, " ")
				if what != d.What {
					return &problem.StateError{Reason: "this key was used for another vehicle", Accepted: "a new key for each"}
				}
				id = made
				return problem.ErrRepeated
			}
			if err := putDone(tx, intakes, cases.Done{Key: d.Key, What: d.What + " " + c.ID}); err != nil {
				return err
			}
		}
		_, first := cases.Case{}.With(cases.Changes{Measurements: c.Measurements, Readings: c.Readings, Bench: c.Bench}) // numbered from 1
		row := fromCase(c)
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		if err := errors.Join(putFloorKeys(tx, c), addMeasurements(tx, c.ID, first.Measurements), addReadings(tx, c.ID, first.Readings), addBench(tx, c.ID, first.Bench)); err != nil {
			return err
		}
		first.Plain = &c
		return s.enter(ctx, tx, deedOf(c.ID, first))
	})
	return id, err
}

// intakes is the scope of keys that make a case.
const intakes = "intake"

// shopRevision counts the changes of what everything is priced with.
const shopRevision = "shop"

func revision(tx *gorm.DB, name string) (int, error) {
	var n int
	err := tx.Raw("SELECT rev FROM revisions WHERE name = ?", name).Scan(&n).Error
	return n, err
}

func raise(tx *gorm.DB, name string) error {
	return tx.Exec("INSERT INTO revisions (name, rev) VALUES (?, 1) ON CONFLICT (name) DO UPDATE SET rev = rev + 1", name).Error
}
