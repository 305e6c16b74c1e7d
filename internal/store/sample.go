package store

import (
	"context"
	"maps"
	"slices"
	"strings"

	"gorm.io/gorm"

	"innercompass/internal/problem"
)

// RemoveSample takes a sample case away with all that hangs on it; of any other case nothing.
func (s *Store) RemoveSample(ctx context.Context, id string) error {
	return s.writing(ctx, func(tx *gorm.DB) error {
		var row caseRow
		if err := tx.Where("id = ?", id).First(&row).Error; err != nil {
			return notFound("case", id, err)
		}
		if !row.Sample {
			return &problem.StateError{Reason: "this case is no sample: what a shop does is kept", Accepted: "close it instead"}
		}
		d := deed{caseID: id, words: "sample case taken away"}
		d.touch("cases/1", id)
		for _, name := range slices.Sorted(maps.Keys(audited)) {
			if a := audited[name]; strings.HasPrefix(a.columns, "id, case_id") || strings.HasPrefix(a.columns, "case_id") {
				var keys []string
				if err := tx.Raw("SELECT "+a.key+" FROM "+a.table+" WHERE case_id = ? ORDER BY 1", id).Scan(&keys).Error; err != nil {
					return err
				}
				d.touch(name, keys...)
			}
		}
		var returns []string
		if err := tx.Raw("SELECT id FROM cases WHERE earlier = ?", id).Scan(&returns).Error; err != nil {
			return err
		}
		d.touch("cases/1", returns...)
		for _, table := range []string{"readings", "measurements", "marks", "decisions", "estimates", "proofs", "photos", "bench_notes", "jobs", "floor"} {
			if err := tx.Exec("DELETE FROM "+table+" WHERE case_id = ?", id).Error; err != nil {
				return err
			}
		}
		if err := tx.Exec("UPDATE cases SET earlier = '' WHERE earlier = ?", id).Error; err != nil { // what was taken for a return of it
			return err
		}
		if err := tx.Exec("DELETE FROM done WHERE scope = ?", id).Error; err != nil {
			return err
		}
		if err := tx.Exec("DELETE FROM cases WHERE id = ?", id).Error; err != nil {
			return err
		}
		return s.enter(ctx, tx, d)
	})
}
