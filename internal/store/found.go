package store

import (
	"context"
	"strings"

	"gorm.io/gorm"

	"innercompass/internal/search"
)

// FindRecords lists the records in whose case every word occurs, newest first.
func (s *Store) FindRecords(ctx context.Context, words string, most int) ([]search.RecordHit, error) {
	var rows []search.RecordHit
	err := s.reading(ctx, func(tx *gorm.DB) error {
		q := floorWhere(tx, strings.ToLower(words)).Joins("JOIN records ON records.case_id = cases.id")
		return q.Select("records.id, records.case_id AS \"case\", cases.vehicle, records.seq, records.at").Order("records.at DESC").Limit(most).Scan(&rows).Error
	})
	return rows, err
}
