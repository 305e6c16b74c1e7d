package store

import (
	"context"
	"encoding/json"
	"errors"

	"gorm.io/gorm"

	"innercompass/internal/jobs"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

type workshopRow struct {
	ID      int `gorm:"primaryKey"`
	Content []byte
	Rev     int
}

func (workshopRow) TableName() string { return "workshop" }

type jobRow struct {
	CaseID  string `gorm:"primaryKey"`
	Content []byte
	Rev     int
}

func (jobRow) TableName() string { return "jobs" }

// Workshop is what there is to work with; false as long as nobody has said.
func (s *Store) Workshop(ctx context.Context) (shop.Workshop, bool, error) {
	var row workshopRow
	err := s.read.WithContext(ctx).Where("id = 1").First(&row).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return shop.Workshop{}, false, nil
	}
	if err != nil {
		return shop.Workshop{}, false, told(err)
	}
	var out shop.Workshop
	err = json.Unmarshal(row.Content, &out)
	out.Rev = row.Rev
	return out, err == nil, err
}

// SaveWorkshop replaces it if it is still of a revision.
func (s *Store) SaveWorkshop(ctx context.Context, w shop.Workshop, rev int) error {
	content, err := json.Marshal(w)
	if err != nil {
		return err
	}
	return s.writing(ctx, func(tx *gorm.DB) error {
		var now int
		if err := tx.Raw("SELECT COALESCE(MAX(rev), 0) FROM workshop").Scan(&now).Error; err != nil {
			return err
		}
		if now != rev {
			return problem.ErrChanged
		}
		return tx.Save(&workshopRow{1, content, rev + 1}).Error
	})
}

// Job is what was settled about the job of a case; false when nothing was.
func (s *Store) Job(ctx context.Context, caseID string) (jobs.Settled, bool, error) {
	var row jobRow
	err := s.read.WithContext(ctx).Where("case_id = ?", caseID).First(&row).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return jobs.Settled{Case: caseID}, false, nil
	}
	if err != nil {
		return jobs.Settled{}, false, told(err)
	}
	out := jobs.Settled{}
	err = json.Unmarshal(row.Content, &out)
	out.Case, out.Rev = caseID, row.Rev
	return out, err == nil, err
}

// SaveJob replaces what was settled if it is still of the revision that it carries.
func (s *Store) SaveJob(ctx context.Context, j jobs.Settled) error {
	content, err := json.Marshal(j)
	if err != nil {
		return err
	}
	return s.writing(ctx, func(tx *gorm.DB) error {
		var now int
		if err := tx.Raw("SELECT COALESCE(MAX(rev), 0) FROM jobs WHERE case_id = ?", j.Case).Scan(&now).Error; err != nil {
			return err
		}
		if now != j.Rev {
			return problem.ErrChanged
		}
		return tx.Save(&jobRow{j.Case, content, now + 1}).Error
	})
}

// OpenJobs are the open cases whose work was agreed or that something was settled about, the oldest first.
func (s *Store) OpenJobs(ctx context.Context, most int) ([]string, error) {
	var out []string
	err := s.read.WithContext(ctx).Raw(`SELECT id FROM cases WHERE closed IS NULL AND (id IN (SELECT case_id FROM jobs) OR id IN (SELECT case_id FROM decisions WHERE choice = 'accepted'))
		ORDER BY opened, id LIMIT ?`, most).Scan(&out).Error
	return out, told(err)
}
