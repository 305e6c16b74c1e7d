package store

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/base64"
	"time"

	"gorm.io/gorm"

	"innercompass/internal/cases"
)

// linkToken is the token of an estimate's private link, 144 bits: made from its id with the key that lies beside the database, so that it can be shown again and
// whoever has the database alone cannot make it.
func (s *Store) linkToken(estimate string) string {
	mac := hmac.New(sha256.New, s.key)
	mac.Write([]byte("private link\n" + estimate))
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil)[:18])
}

// addressed gives a new estimate its link.
func (s *Store) addressed(e *cases.Estimate) {
	if e != nil {
		e.Token = s.linkToken(e.ID)
		e.TokenHash = digest(e.Token)
	}
}

// shown puts the links of a case back; one that was made with another key cannot be shown.
func (s *Store) shown(c *cases.Case) {
	for i, e := range c.Estimates {
		if t := s.linkToken(e.ID); digest(t) == e.TokenHash {
			c.Estimates[i].Token = t
		}
	}
}

// EndLinks notes which links are over: they stay so when the clock is set back.
func (s *Store) EndLinks(ctx context.Context, now time.Time) error {
	var due int
	const over = "FROM estimates WHERE expires <= ? AND id NOT IN (SELECT estimate_id FROM ended_links)"
	if err := s.read.WithContext(ctx).Raw("SELECT COUNT(*) "+over, now.UTC()).Scan(&due).Error; err != nil || due == 0 {
		return told(err)
	}
	return s.writing(ctx, func(tx *gorm.DB) error {
		return tx.Exec("INSERT OR IGNORE INTO ended_links (estimate_id, at) SELECT id, ? "+over, now.UTC(), now.UTC()).Error
	})
}
