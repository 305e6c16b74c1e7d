package store

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"gorm.io/gorm"

	"innercompass/internal/cases"
	"innercompass/internal/floor"
)

// putFloorKeys writes what a case is found by; what was computed of it stays.
func putFloorKeys(tx *gorm.DB, c cases.Case) error {
	return tx.Exec(`INSERT INTO floor (case_id, vehicle_key, customer_key, search) VALUES (?, ?, ?, ?)
		ON CONFLICT (case_id) DO UPDATE SET vehicle_key = excluded.vehicle_key, customer_key = excluded.customer_key, search = excluded.search`,
		c.ID, cases.Fold(c.Vehicle), cases.Fold(c.Customer), searchText(c)).Error
}

// searchText is what a search looks through, with a line between the fields so that no word runs over two.
func searchText(c cases.Case) string {
	return strings.Join([]string{cases.Fold(c.Vehicle), cases.Fold(c.Customer), cases.Fold(c.Words), cases.Fold(c.Owner), cases.Fold(c.Bay), cases.Fold(cases.StageTitle(c.Stage)), cases.Fold(c.WaitsFor), c.ID}, "\n")
}

// floorRow is a case as the Floor lists it: plain columns and what was computed at its last change.
type floorRow struct {
	Case     caseRow `gorm:"embedded"`
	FloorRev int
	UnitName string
	Rose     string
	Leader   string
	Doubt    float64
	Next     string
	NextNote string
	Suspect  string
	Share    float64
}

const floorColumns = "cases.*, floor.rev AS floor_rev, floor.unit_name, floor.rose, floor.leader, floor.doubt, floor.next, floor.next_note, floor.suspect, floor.share"

// Floor lists one page of the cases, newest first.
func (s *Store) Floor(ctx context.Context, q floor.Query) (floor.Page, error) {
	var out floor.Page
	err := s.reading(ctx, func(tx *gorm.DB) error {
		var counts []struct {
			Shut bool
			N    int
		}
		if err := floorWhere(tx, q.Search).Select("cases.closed IS NOT NULL AS shut, count(*) AS n").Group("cases.closed IS NOT NULL").Scan(&counts).Error; err != nil {
			return err
		}
		for _, c := range counts {
			if c.Shut {
				out.Closed = c.N
			} else {
				out.Open = c.N
			}
		}
		page := floorWhere(tx, q.Search).Joins("JOIN floor ON floor.case_id = cases.id").Where("(cases.closed IS NOT NULL) = ?", q.Closed)
		if q.After != (floor.Cursor{}) {
			page = page.Where("(cases.opened, cases.id) < (?, ?)", q.After.Opened, q.After.ID)
		}
		var rows []floorRow
		if err := page.Select(floorColumns).Order("cases.opened DESC, cases.id DESC").Limit(q.Limit + 1).Scan(&rows).Error; err != nil {
			return err
		}
		if len(rows) > q.Limit {
			rows = rows[:q.Limit]
			last := rows[len(rows)-1]
			out.Next = floor.Cursor{Opened: last.Case.Opened, ID: last.Case.ID}
		}
		for _, r := range rows {
			row, err := toFloor(r)
			if err != nil {
				return err
			}
			out.Rows = append(out.Rows, row)
		}
		return nil
	})
	return out, err
}

// floorWhere picks the cases in which every word of a search occurs. The texts are gone through once, in the order in which
// they lie; what is found is looked up.
func floorWhere(tx *gorm.DB, search string) *gorm.DB {
	words := strings.Fields(search)
	if len(words) == 0 {
		return tx.Table("cases")
	}
	var found []string
	var args []any
	for _, w := range words {
		found = append(found, "(instr(search, ?) > 0 OR instr(found, ?) > 0)")
		args = append(args, w, w)
	}
	return tx.Table("cases").Where("cases.id IN (SELECT case_id FROM floor WHERE "+strings.Join(found, " AND ")+")", args...)
}

func toFloor(r floorRow) (floor.Row, error) {
	out := floor.Row{Case: toCase(r.Case), Computed: r.FloorRev > 0,
		Answer: floor.Answer{UnitName: r.UnitName, Leader: r.Leader, Doubt: r.Doubt, Next: r.Next, NextNote: r.NextNote, Suspect: r.Suspect, Share: r.Share}}
	if r.Rose == "" {
		return out, nil
	}
	if err := json.Unmarshal([]byte(r.Rose), &out.Shares); err != nil {
		return out, fmt.Errorf("case %s: row of the Floor: %w", r.Case.ID, err)
	}
	return out, nil
}

// SaveFloor writes what was computed of a case at a revision, unless something newer is there.
func (s *Store) SaveFloor(ctx context.Context, id string, rev int, basis string, a floor.Answer) error {
	rose, err := json.Marshal(a.Shares)
	if err != nil {
		return err
	}
	return s.writing(ctx, func(tx *gorm.DB) error {
		return tx.Exec(`UPDATE floor SET rev = ?, basis = ?, found = ?, unit_name = ?, rose = ?, leader = ?, doubt = ?, next = ?, next_note = ?, suspect = ?, share = ? WHERE case_id = ? AND rev <= ?`,
			rev, basis, cases.Fold(a.UnitName+" "+a.Next+" "+a.Suspect), a.UnitName, string(rose), a.Leader, a.Doubt, a.Next, a.NextNote, a.Suspect, a.Share, id, rev).Error
	})
}

// StaleFloor lists cases whose row is older than the case; open ones also when it was computed on another basis. Open ones
// come first, then the newest.
func (s *Store) StaleFloor(ctx context.Context, basis string, most int) ([]string, error) {
	var out []string
	err := s.read.WithContext(ctx).Raw(`SELECT cases.id FROM cases JOIN floor ON floor.case_id = cases.id
		WHERE floor.rev < cases.rev OR (cases.closed IS NULL AND floor.basis <> ?)
		ORDER BY cases.closed IS NOT NULL, cases.opened DESC LIMIT ?`, basis, most).Scan(&out).Error
	return out, told(err)
}
