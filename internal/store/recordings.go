package store

import (
	"context"
	"encoding/json"
	"errors"
	"os"
	"path/filepath"
	"regexp"
	"time"

	"gorm.io/gorm"

	"innercompass/internal/problem"
	"innercompass/internal/recordings"
)

type recordingRow struct {
	ID       string `gorm:"primaryKey"`
	CaseID   string
	Content  []byte // a recordings.Recording as JSON
	Revision int
	At       time.Time
}

func (recordingRow) TableName() string { return "recordings" }

type knownRow struct {
	Kind    string `gorm:"primaryKey"` // "mapping" by shape, "vehicle" by its folded name
	Name    string `gorm:"primaryKey"`
	Content []byte
}

func (knownRow) TableName() string { return "known" }

func (r recordingRow) recording() (recordings.Recording, error) {
	var out recordings.Recording
	err := json.Unmarshal(r.Content, &out)
	return out, err
}

// Recordings lists all, the latest first.
func (s *Store) Recordings(ctx context.Context) ([]recordings.Recording, error) {
	var rows []recordingRow
	if err := s.read.WithContext(ctx).Order("at DESC, id").Find(&rows).Error; err != nil {
		return nil, told(err)
	}
	out := make([]recordings.Recording, len(rows))
	for i, r := range rows {
		var err error
		if out[i], err = r.recording(); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// Recording returns one.
func (s *Store) Recording(ctx context.Context, id string) (recordings.Recording, error) {
	var r recordingRow
	if err := s.read.WithContext(ctx).Where("id = ?", id).First(&r).Error; err != nil {
		return recordings.Recording{}, notFound("recording", id, err)
	}
	return r.recording()
}

// PutRecording keeps one whose revision follows the kept one; revision 1 makes it.
func (s *Store) PutRecording(ctx context.Context, r recordings.Recording) error {
	content, err := json.Marshal(r)
	if err != nil {
		return err
	}
	row := recordingRow{r.ID, r.Case, content, r.Revision, r.At}
	return s.changing(ctx, deed{caseID: r.Case, words: "recording"}, func(tx *gorm.DB) error {
		if r.Revision == 1 {
			return tx.Create(&row).Error
		}
		done := tx.Model(&recordingRow{}).Where("id = ? AND revision = ?", r.ID, r.Revision-1).Updates(map[string]any{"case_id": row.CaseID, "content": row.Content, "revision": row.Revision})
		if done.Error == nil && done.RowsAffected == 0 {
			return problem.ErrChanged
		}
		return done.Error
	})
}

// RemoveRecording takes one away; its files stay.
func (s *Store) RemoveRecording(ctx context.Context, id string) error {
	return s.changing(ctx, deed{words: "recording taken away"}, func(tx *gorm.DB) error {
		gone := tx.Where("id = ?", id).Delete(&recordingRow{})
		if gone.Error == nil && gone.RowsAffected == 0 {
			return &problem.NotFoundError{Kind: "recording", ID: id}
		}
		return gone.Error
	})
}

func (s *Store) known(ctx context.Context, kind, name string, to any) (bool, error) {
	var r knownRow
	err := s.read.WithContext(ctx).Where("kind = ? AND name = ?", kind, name).First(&r).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return false, nil
	}
	if err != nil {
		return false, told(err)
	}
	return true, json.Unmarshal(r.Content, to)
}

func (s *Store) putKnown(ctx context.Context, kind, name string, v any) error {
	content, err := json.Marshal(v)
	if err != nil {
		return err
	}
	return s.changing(ctx, deed{words: kind + " of recordings"}, func(tx *gorm.DB) error { return tx.Save(&knownRow{kind, name, content}).Error })
}

// Mapping is what tables of a shape were said to be.
func (s *Store) Mapping(ctx context.Context, shape string) (m recordings.Mapping, there bool, err error) {
	there, err = s.known(ctx, "mapping", shape, &m)
	return m, there, err
}

// PutMapping remembers it.
func (s *Store) PutMapping(ctx context.Context, shape string, m recordings.Mapping) error {
	return s.putKnown(ctx, "mapping", shape, m)
}

// VehicleSheet is what is known of a vehicle.
func (s *Store) VehicleSheet(ctx context.Context, key string) (v recordings.VehicleSheet, there bool, err error) {
	there, err = s.known(ctx, "vehicle", key, &v)
	return v, there, err
}

// PutVehicleSheet remembers it.
func (s *Store) PutVehicleSheet(ctx context.Context, key string, v recordings.VehicleSheet) error {
	return s.putKnown(ctx, "vehicle", key, v)
}

// fileName is that of a file in the folder: a digest, and what it was made into.
var fileName = regexp.MustCompile(`^[0-9a-f]{64}(-[0-9a-f]{12})?$`)

func (s *Store) filePath(name string) (string, error) {
	if !fileName.MatchString(name) {
		return "", &problem.NotFoundError{Kind: "file", ID: name, Accepted: "a SHA-256 digest"}
	}
	return filepath.Join(s.files, name), nil
}

// spool is a file that is not kept yet.
type spool struct {
	*os.File
	s    *Store
	done bool
}

// NewFile begins a file. One that is not kept goes at the next start at the latest.
func (s *Store) NewFile() (recordings.Spool, error) {
	f, err := os.CreateTemp(s.files, newPrefix+"*")
	if err != nil {
		return nil, told(err)
	}
	return &spool{File: f, s: s}, nil
}

func (p *spool) Write(b []byte) (int, error) {
	n, err := p.File.Write(b)
	return n, told(err)
}

// Keep puts it in place, whole, on the drive.
func (p *spool) Keep(name string) error {
	path, err := p.s.filePath(name)
	if err != nil {
		return err
	}
	if err := errors.Join(p.Sync(), p.File.Close()); err != nil {
		return told(err)
	}
	p.done = true
	return told(errors.Join(os.Rename(p.Name(), path), syncFolder(p.s.files)))
}

// Drop takes it away, unless it was kept.
func (p *spool) Drop() error {
	if p.done {
		return nil
	}
	p.done = true
	return errors.Join(p.File.Close(), removeIfThere(p.Name()))
}

// OpenFile opens a kept file.
func (s *Store) OpenFile(name string) (recordings.File, error) {
	path, err := s.filePath(name)
	if err != nil {
		return nil, err
	}
	f, err := os.Open(path)
	if errors.Is(err, os.ErrNotExist) {
		return nil, &problem.NotFoundError{Kind: "file", ID: name}
	}
	if err != nil {
		return nil, told(err)
	}
	return f, nil
}

// RemoveFile takes a kept file away.
func (s *Store) RemoveFile(name string) error {
	path, err := s.filePath(name)
	if err != nil {
		return err
	}
	return told(removeIfThere(path))
}
