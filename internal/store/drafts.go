package store

import (
	"context"
	"errors"
	"strings"
	"time"

	"gorm.io/gorm"

	"innercompass/internal/building"
	"innercompass/internal/problem"
)

type draftRow struct {
	ID       string `gorm:"primaryKey"`
	Title    string
	Content  []byte
	Revision int
	At       time.Time
}

func (draftRow) TableName() string { return "unit_drafts" }

func (r draftRow) kept() building.Kept {
	return building.Kept{ID: r.ID, Title: r.Title, Content: r.Content, Revision: r.Revision, At: r.At}
}

// Drafts lists the units that are being built, the one changed last first, without their content.
func (s *Store) Drafts(ctx context.Context) ([]building.Kept, error) {
	var rows []draftRow
	if err := s.read.WithContext(ctx).Select("id", "title", "revision", "at").Order("at DESC, id").Find(&rows).Error; err != nil {
		return nil, err
	}
	out := make([]building.Kept, len(rows))
	for i, r := range rows {
		out[i] = r.kept()
	}
	return out, nil
}

// Draft returns one that is being built.
func (s *Store) Draft(ctx context.Context, id string) (building.Kept, error) {
	var r draftRow
	err := s.read.WithContext(ctx).Where("id = ?", id).First(&r).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return building.Kept{}, problem.ErrNotFound
	}
	return r.kept(), err
}

// PutDraft keeps a draft whose revision follows the kept one; revision 1 makes it.
func (s *Store) PutDraft(ctx context.Context, d building.Kept) error {
	row := draftRow{d.ID, d.Title, d.Content, d.Revision, d.At}
	return s.changing(ctx, deed{words: "draft of a unit: " + d.Title}, func(tx *gorm.DB) error {
		if d.Revision == 1 {
			return tx.Create(&row).Error
		}
		done := tx.Model(&draftRow{}).Where("id = ? AND revision = ?", d.ID, d.Revision-1).Updates(map[string]any{"title": row.Title, "content": row.Content, "revision": row.Revision, "at": row.At})
		if done.Error == nil && done.RowsAffected == 0 {
			return problem.ErrChanged
		}
		return done.Error
	})
}

// RemoveDraft takes a draft away.
func (s *Store) RemoveDraft(ctx context.Context, id string) error {
	return s.changing(ctx, deed{words: "draft of a unit taken away"}, func(tx *gorm.DB) error {
		gone := tx.Where("id = ?", id).Delete(&draftRow{})
		if gone.Error == nil && gone.RowsAffected == 0 {
			return problem.ErrNotFound
		}
		return gone.Error
	})
}

// MeasuredOn lists what an instrument was given in the cases of a unit, part by part, as far as it was not taken back.
func (s *Store) MeasuredOn(ctx context.Context, unit, instrument string) ([]building.Measured, error) {
	var rows []measurementRow
	err := s.read.WithContext(ctx).Joins("JOIN cases ON cases.id = measurements.case_id").
		Where("cases.unit_id = ? AND (measurements.instrument = ? OR substr(measurements.instrument, 1, ?) = ?) AND measurements.withdraws = ''", unit, instrument, len(instrument)+1, instrument+":").
		Where("NOT EXISTS (SELECT 1 FROM measurements AS back WHERE back.withdraws = measurements.id)").
		Order("measurements.at").Limit(2000).Find(&rows).Error
	if err != nil {
		return nil, err
	}
	out := make([]building.Measured, 0, len(rows))
	for _, r := range rows {
		m, err := toMeasurement(r)
		if err != nil {
			return nil, err
		}
		_, part, _ := strings.Cut(r.Instrument, ":")
		out = append(out, building.Measured{Case: r.CaseID, Part: part, Values: m.Values})
	}
	return out, nil
}
