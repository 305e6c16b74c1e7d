package store

import (
	"context"
	"fmt"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"innercompass/internal/problem"
	"innercompass/internal/said"
)

type ownWordRow struct {
	ID      string `gorm:"primaryKey"`
	Say     string
	Finding string
	State   string
	Person  string
	At      time.Time
}

func (ownWordRow) TableName() string { return "own_words" }

// OwnWords lists the shop's own words, in their order.
func (s *Store) OwnWords(ctx context.Context) ([]said.OwnWord, error) {
	var rows []ownWordRow
	if err := s.read.WithContext(ctx).Order("say").Find(&rows).Error; err != nil {
		return nil, err
	}
	out := make([]said.OwnWord, len(rows))
	for i, r := range rows {
		out[i] = said.OwnWord{ID: r.ID, Say: r.Say, Finding: r.Finding, State: r.State, By: r.Person, At: r.At}
	}
	return out, nil
}

// AddOwnWords keeps words, all or none; the same words again are replaced.
func (s *Store) AddOwnWords(ctx context.Context, words []said.OwnWord) error {
	return s.changing(ctx, deed{words: fmt.Sprintf("words of the shop: %d more", len(words))}, func(tx *gorm.DB) error {
		for _, w := range words {
			row := ownWordRow{w.ID, w.Say, w.Finding, w.State, w.By, w.At}
			again := clause.OnConflict{Columns: []clause.Column{{Name: "say"}}, UpdateAll: true}
			if err := tx.Clauses(again).Create(&row).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// RemoveOwnWord takes a word away.
func (s *Store) RemoveOwnWord(ctx context.Context, id string) error {
	return s.changing(ctx, deed{words: "a word of the shop taken away"}, func(tx *gorm.DB) error {
		gone := tx.Where("id = ?", id).Delete(&ownWordRow{})
		if gone.Error == nil && gone.RowsAffected == 0 {
			return &problem.NotFoundError{Kind: "word", ID: id}
		}
		return gone.Error
	})
}
