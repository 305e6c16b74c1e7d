// Package store keeps cases in SQLite through GORM. One connection writes, several read; WAL and
// full synchronisation, so that what was answered as saved survives a killed process.
package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/driver/sqlite"
	"gorm.io/gorm"
	"gorm.io/gorm/logger"

	"innercompass/internal/casework"
)

// Store implements casework.Store.
type Store struct {
	write *gorm.DB
	read  *gorm.DB
	files string // folder of pictures, by digest
}

var _ casework.Store = (*Store)(nil)

// Open opens or makes the data folder and brings its tables up to date.
func Open(dir string) (*Store, error) {
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, fmt.Errorf("data folder: %w", err)
	}
	path := filepath.Join(dir, "compass.db")
	dsn := "file:" + path + "?_journal_mode=WAL&_synchronous=FULL&_foreign_keys=on&_busy_timeout=5000"
	write, err := open(dsn+"&_txlock=immediate", 1)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	if err := gormigrate.New(write, gormigrate.DefaultOptions, migrations).Migrate(); err != nil {
		return nil, fmt.Errorf("%s: tables: %w", path, err)
	}
	read, err := open(dsn+"&_query_only=on", 4)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", path, err)
	}
	files := filepath.Join(dir, "files")
	if err := os.MkdirAll(files, 0o700); err != nil {
		return nil, fmt.Errorf("data folder: %w", err)
	}
	return &Store{write, read, files}, nil
}

func open(dsn string, connections int) (*gorm.DB, error) {
	db, err := gorm.Open(sqlite.Open(dsn), &gorm.Config{Logger: logger.Default.LogMode(logger.Silent), SkipDefaultTransaction: true})
	if err != nil {
		return nil, err
	}
	sqlDB, err := db.DB()
	if err != nil {
		return nil, err
	}
	sqlDB.SetMaxOpenConns(connections)
	return db, nil
}

// Close closes all connections.
func (s *Store) Close() error {
	var errs []error
	for _, db := range []*gorm.DB{s.read, s.write} {
		sqlDB, err := db.DB()
		if err == nil {
			err = sqlDB.Close()
		}
		errs = append(errs, err)
	}
	return errors.Join(errs...)
}

// Cases returns every case with its history, newest first.
func (s *Store) Cases(ctx context.Context) ([]casework.Case, error) {
	return s.cases(ctx, func(tx *gorm.DB) *gorm.DB { return tx.Order("opened DESC, id") })
}

// Returns lists the cases that are returns of a case, oldest first.
func (s *Store) Returns(ctx context.Context, id string) ([]casework.Case, error) {
	return s.cases(ctx, func(tx *gorm.DB) *gorm.DB { return tx.Where("earlier = ?", id).Order("opened, id") })
}

// cases reads the cases of a query with their histories, all as of one moment.
func (s *Store) cases(ctx context.Context, which func(*gorm.DB) *gorm.DB) ([]casework.Case, error) {
	var out []casework.Case
	err := s.read.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var rows []caseRow
		if err := which(tx).Find(&rows).Error; err != nil {
			return err
		}
		for _, r := range rows {
			c, err := fill(tx, r)
			if err != nil {
				return err
			}
			out = append(out, c)
		}
		return nil
	})
	return out, err
}

// Case returns one case with its history.
func (s *Store) Case(ctx context.Context, id string) (casework.Case, error) {
	var out casework.Case
	err := s.read.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		var row caseRow
		if err := tx.Where("id = ?", id).First(&row).Error; err != nil {
			return notFound("case", id, err)
		}
		var err error
		out, err = fill(tx, row)
		return err
	})
	return out, err
}

func notFound(kind, id string, err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return &casework.NotFoundError{Kind: kind, ID: id}
	}
	return err
}

func fill(tx *gorm.DB, row caseRow) (casework.Case, error) {
	c := toCase(row)
	var readings []readingRow
	var marks []markRow
	var decisions []decisionRow
	var proofs []proofRow
	var measurements []measurementRow
	var estimates []estimateRow
	var records []recordRow
	var photos []photoRow
	for _, q := range []error{
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&readings).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&measurements).Error,
		tx.Where("case_id = ?", row.ID).Order("at, ref").Find(&marks).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&decisions).Error,
		tx.Where("case_id = ?", row.ID).Order("at, item").Find(&proofs).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&estimates).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&records).Error,
		tx.Where("case_id = ?", row.ID).Order("at, id").Find(&photos).Error,
	} {
		if q != nil {
			return c, q
		}
	}
	for _, r := range readings {
		reading, err := toReading(r)
		if err != nil {
			return c, err
		}
		c.Readings = append(c.Readings, reading)
	}
	for _, m := range measurements {
		kept, err := toMeasurement(m)
		if err != nil {
			return c, err
		}
		c.Measurements = append(c.Measurements, kept)
	}
	for _, m := range marks {
		c.Marks = append(c.Marks, casework.Mark{Kind: m.Kind, Ref: m.Ref, Note: m.Note, By: m.Person, At: m.At})
	}
	for _, d := range decisions {
		c.Decisions = append(c.Decisions, casework.Decision{ID: d.ID, Seq: d.Seq, Option: d.OptionID, Choice: d.Choice, Words: d.Words, Ceiling: d.Ceiling, By: d.Person, At: d.At, Snapshot: d.Snapshot, Digest: d.Digest, Estimate: d.Estimate})
	}
	for _, o := range estimates {
		c.Estimates = append(c.Estimates, casework.Estimate{ID: o.ID, Seq: o.Seq, Token: o.Token, By: o.Person, At: o.At, Expires: o.Expires, Rests: o.Rests, Snapshot: o.Snapshot, Digest: o.Digest})
	}
	for _, r := range records {
		c.Records = append(c.Records, casework.Record{ID: r.ID, Seq: r.Seq, Amends: r.Amends, Why: r.Why, By: r.Person, At: r.At, Content: r.Content, Digest: r.Digest})
	}
	for _, p := range photos {
		c.Photos = append(c.Photos, casework.Photo{ID: p.ID, Key: p.Key, Digest: p.Digest, Type: p.Type, Caption: p.Caption, Stage: p.Stage, Width: p.Width, Height: p.Height, By: p.Person, At: p.At, Gone: p.Gone})
	}
	for _, p := range proofs {
		c.Proofs = append(c.Proofs, casework.Proof{Item: p.Item, Result: p.Result, Note: p.Note, By: p.Person, At: p.At})
	}
	return c, nil
}

// CreateCase stores a new case with the readings that it comes with.
func (s *Store) CreateCase(ctx context.Context, c casework.Case) error {
	return s.write.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		row := fromCase(c)
		if err := tx.Create(&row).Error; err != nil {
			return err
		}
		for _, m := range c.Measurements {
			if err := addMeasurement(tx, c.ID, m); err != nil {
				return err
			}
		}
		return addReadings(tx, c.ID, c.Readings)
	})
}

// SaveCase writes the plain columns, if nobody else has since revision rev.
func (s *Store) SaveCase(ctx context.Context, c casework.Case, rev int) error {
	return s.write.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		res := tx.Table("cases").Where("id = ? AND rev = ?", c.ID, rev).Updates(map[string]any{
			"words": c.Words, "vehicle": c.Vehicle, "customer": c.Customer, "distance": c.Distance, "stage": c.Stage, "access": c.Access,
			"bay": c.Bay, "owner": c.Owner, "waits_for": c.WaitsFor, "closed": c.Closed, "root": c.Root, "outcome": c.Outcome, "earlier": c.Earlier, "due_at": c.DueAt, "due_distance": c.DueDistance, "due_note": c.DueNote, "damages": strings.Join(c.Damages, ","), "cured_by": c.CuredBy, "learnt": c.Learnt, "rev": rev + 1,
		})
		if res.Error == nil && res.RowsAffected == 0 {
			return casework.ErrChanged
		}
		return res.Error
	})
}

// change runs f and raises the revision of the case in one transaction.
func (s *Store) change(ctx context.Context, caseID string, f func(tx *gorm.DB) error) error {
	return s.write.WithContext(ctx).Transaction(func(tx *gorm.DB) error {
		res := tx.Exec("UPDATE cases SET rev = rev + 1 WHERE id = ?", caseID)
		if res.Error != nil {
			return res.Error
		}
		if res.RowsAffected == 0 {
			return &casework.NotFoundError{Kind: "case", ID: caseID}
		}
		return f(tx)
	})
}

// AddReadings appends readings; all or none.
func (s *Store) AddReadings(ctx context.Context, caseID string, readings []casework.Reading) error {
	return s.change(ctx, caseID, func(tx *gorm.DB) error { return addReadings(tx, caseID, readings) })
}

// AddMeasurement appends a measurement with its readings; all or none.
func (s *Store) AddMeasurement(ctx context.Context, caseID string, m casework.Measurement, readings []casework.Reading) error {
	return s.change(ctx, caseID, func(tx *gorm.DB) error {
		if err := addMeasurement(tx, caseID, m); err != nil {
			return err
		}
		return addReadings(tx, caseID, readings)
	})
}

func addMeasurement(tx *gorm.DB, caseID string, m casework.Measurement) error {
	last, err := lastSeq(tx, "measurements", caseID)
	if err != nil {
		return err
	}
	typed, err := json.Marshal(m.Values)
	if err != nil {
		return err
	}
	err = tx.Create(&measurementRow{m.ID, caseID, last + 1, m.Key, m.Instrument, m.Check, m.Gauge, m.GaugeName, string(typed), m.Value, m.Says, m.By, m.At, m.Withdraws}).Error
	if err != nil && strings.Contains(err.Error(), "measurements.case_id, measurements.key") {
		return casework.ErrRepeated
	}
	return err
}

func toMeasurement(r measurementRow) (casework.Measurement, error) {
	out := casework.Measurement{ID: r.ID, Key: r.Key, Instrument: r.Instrument, Check: r.CheckID, Seq: r.Seq, Gauge: r.Gauge, GaugeName: r.GaugeName, Value: r.Value, Says: r.Says, By: r.Person, At: r.At, Withdraws: r.Withdraws}
	return out, json.Unmarshal([]byte(r.Typed), &out.Values)
}

// lastSeq is the number of the last row that a case has in a table; rows count from 1.
func lastSeq(tx *gorm.DB, table, caseID string) (int, error) {
	var last int
	err := tx.Table(table).Where("case_id = ?", caseID).Select("COALESCE(MAX(seq), 0)").Scan(&last).Error
	return last, err
}

func addReadings(tx *gorm.DB, caseID string, readings []casework.Reading) error {
	last, err := lastSeq(tx, "readings", caseID)
	if err != nil {
		return err
	}
	for i, r := range readings {
		r.Seq = last + 1 + i
		row, err := fromReading(caseID, r)
		if err != nil {
			return err
		}
		if err := tx.Create(&row).Error; err != nil {
			if strings.Contains(err.Error(), "readings.case_id, readings.key") {
				return casework.ErrRepeated
			}
			return err
		}
	}
	return nil
}

// AddMark sets or, with undo, removes a mark.
func (s *Store) AddMark(ctx context.Context, caseID string, m casework.Mark, undo bool) error {
	return s.change(ctx, caseID, func(tx *gorm.DB) error {
		if err := tx.Exec("DELETE FROM marks WHERE case_id = ? AND kind = ? AND ref = ?", caseID, m.Kind, m.Ref).Error; err != nil || undo {
			return err
		}
		return tx.Create(&markRow{caseID, m.Kind, m.Ref, m.Note, m.By, m.At}).Error
	})
}

// AddDecision freezes a decision.
func (s *Store) AddDecision(ctx context.Context, caseID string, d casework.Decision) error {
	return s.change(ctx, caseID, func(tx *gorm.DB) error {
		last, err := lastSeq(tx, "decisions", caseID)
		if err != nil {
			return err
		}
		err = tx.Create(&decisionRow{d.ID, caseID, last + 1, d.Option, d.Choice, d.Words, d.Ceiling, d.By, d.At, d.Snapshot, d.Digest, d.Estimate}).Error
		if err != nil && strings.Contains(err.Error(), "decisions.estimate") {
			return casework.ErrTaken
		}
		return err
	})
}

// SetProof notes the result of one item of the proof.
func (s *Store) SetProof(ctx context.Context, caseID string, p casework.Proof) error {
	return s.change(ctx, caseID, func(tx *gorm.DB) error {
		if err := tx.Exec("DELETE FROM proofs WHERE case_id = ? AND item = ?", caseID, p.Item).Error; err != nil {
			return err
		}
		return tx.Create(&proofRow{caseID, p.Item, p.Result, p.Note, p.By, p.At}).Error
	})
}

// ids reads a list of ids, which hold no commas.
func ids(text string) []string {
	if text == "" {
		return nil
	}
	return strings.Split(text, ",")
}

func toCase(r caseRow) casework.Case {
	return casework.Case{ID: r.ID, Words: r.Words, Vehicle: r.Vehicle, Customer: r.Customer, Distance: r.Distance, UnitID: r.UnitID, UnitVer: r.UnitVer, Stage: r.Stage,
		Access: r.Access, Bay: r.Bay, Owner: r.Owner, WaitsFor: r.WaitsFor, Opened: r.Opened, Closed: r.Closed, Root: r.Root, Outcome: r.Outcome, Rev: r.Rev,
		Earlier: r.Earlier, DueAt: r.DueAt, DueDistance: r.DueDistance, DueNote: r.DueNote, Damages: ids(r.Damages), CuredBy: r.CuredBy, Learnt: r.Learnt}
}

func fromCase(c casework.Case) caseRow {
	return caseRow{ID: c.ID, Words: c.Words, Vehicle: c.Vehicle, Customer: c.Customer, Distance: c.Distance, UnitID: c.UnitID, UnitVer: c.UnitVer, Stage: c.Stage,
		Access: c.Access, Bay: c.Bay, Owner: c.Owner, WaitsFor: c.WaitsFor, Opened: c.Opened, Closed: c.Closed, Root: c.Root, Outcome: c.Outcome, Rev: c.Rev,
		Earlier: c.Earlier, DueAt: c.DueAt, DueDistance: c.DueDistance, DueNote: c.DueNote, Damages: strings.Join(c.Damages, ","), CuredBy: c.CuredBy, Learnt: c.Learnt}
}

func toReading(r readingRow) (casework.Reading, error) {
	out := casework.Reading{ID: r.ID, Seq: r.Seq, Key: r.Key, Finding: r.Finding, State: r.State, Source: r.Source, Stage: r.Stage, Check: r.CheckID,
		Value: r.Value, Note: r.Note, By: r.Person, At: r.At, Withdraws: r.Withdraws, Measurement: r.Measurement}
	if r.Likelihood == "" {
		return out, nil
	}
	return out, json.Unmarshal([]byte(r.Likelihood), &out.Likelihood)
}

func fromReading(caseID string, r casework.Reading) (readingRow, error) {
	likelihood := ""
	if r.Likelihood != nil {
		data, err := json.Marshal(r.Likelihood)
		if err != nil {
			return readingRow{}, err
		}
		likelihood = string(data)
	}
	return readingRow{ID: r.ID, CaseID: caseID, Seq: r.Seq, Key: r.Key, Finding: r.Finding, State: r.State, Source: r.Source, Stage: r.Stage, CheckID: r.Check,
		Value: r.Value, Note: r.Note, Likelihood: likelihood, Person: r.By, At: r.At, Withdraws: r.Withdraws, Measurement: r.Measurement}, nil
}
