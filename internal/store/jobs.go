package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"

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
	return s.changing(ctx, deed{words: "bays, people and hours"}, func(tx *gorm.DB) error {
		var now int
		if err := tx.Raw("SELECT COALESCE(MAX(rev), 0) FROM workshop").Scan(&now).Error; err != nil {
			return err
		}
		if now != rev {
			return problem.ErrChanged
		}
		return errors.Join(tx.Save(&workshopRow{1, content, rev + 1}).Error, raise(tx, shopRevision))
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
	return s.changing(ctx, deed{caseID: j.Case, words: "job settled"}, func(tx *gorm.DB) error {
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

// OpenJobs are the open cases whose work was agreed or that something was settled about, the oldest first, and a stamp that changes with
// anything that their plan is made from.
func (s *Store) OpenJobs(ctx context.Context, most int) (ids []string, stamp string, err error) {
	var rows []struct {
		ID   string
		Rev  int
		Held int
	}
	tx := s.read.WithContext(ctx)
	err = tx.Raw(`SELECT cases.id, cases.rev, COALESCE(jobs.rev, 0) AS held FROM cases LEFT JOIN jobs ON jobs.case_id = cases.id
		WHERE closed IS NULL AND (jobs.case_id IS NOT NULL OR cases.id IN (SELECT case_id FROM decisions WHERE choice = 'accepted')) ORDER BY opened, cases.id LIMIT ?`, most).Scan(&rows).Error
	if err != nil {
		return nil, "", told(err)
	}
	shop, err := revision(tx, shopRevision)
	if err != nil {
		return nil, "", told(err)
	}
	h := sha256.New()
	fmt.Fprintln(h, shop)
	for _, r := range rows {
		fmt.Fprintln(h, r.ID, r.Rev, r.Held)
		ids = append(ids, r.ID)
	}
	return ids, hex.EncodeToString(h.Sum(nil)), nil
}
