package store

import (
	"context"
	"time"

	"innercompass/internal/cases"

	"gorm.io/gorm"
)

// Wordless lists the readings of a finding in all cases that stand, as what was noted in words, the latest first and at most so many,
// and counts them.
func (s *Store) Wordless(ctx context.Context, finding string, most int) ([]cases.Wordless, int, error) {
	var rows []struct {
		CaseID, Vehicle, UnitID, Stage, Note, Person string
		At                                           time.Time
	}
	var count int64
	err := s.reading(ctx, func(tx *gorm.DB) error {
		standing := tx.Table("readings AS r").Joins("JOIN cases AS c ON c.id = r.case_id").
			Where("r.finding = ? AND NOT EXISTS (SELECT 1 FROM readings AS w WHERE w.case_id = r.case_id AND w.withdraws = r.id)", finding)
		if err := standing.Session(&gorm.Session{}).Count(&count).Error; err != nil {
			return err
		}
		return standing.Session(&gorm.Session{}).Select("r.case_id, r.stage, r.note, r.person, r.at, c.vehicle, c.unit_id").Order("r.at DESC, r.id").Limit(most).Scan(&rows).Error
	})
	var out []cases.Wordless
	for _, r := range rows {
		out = append(out, cases.Wordless{Case: r.CaseID, Vehicle: r.Vehicle, Unit: r.UnitID, Stage: r.Stage, Note: r.Note, By: r.Person, At: r.At})
	}
	return out, int(count), err
}
