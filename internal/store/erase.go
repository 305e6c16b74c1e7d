package store

import (
	"context"
	"encoding/json"
	"errors"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"innercompass/internal/cases"
	"innercompass/internal/privacy"
	"innercompass/internal/signing"
)

// Subjects are customers by their name, or by the id of one of their cases.
func (s *Store) Subjects(ctx context.Context, q string, whole bool, most int) ([]privacy.Subject, error) {
	tx := s.read.WithContext(ctx).Where("customer NOT IN ('', ?) AND sample = 0", privacy.Removed).Order("customer, opened")
	if whole {
		tx = tx.Where("customer = ? OR customer = (SELECT customer FROM cases WHERE id = ?)", q, q)
	} else {
		tx = tx.Where("id IN (SELECT case_id FROM floor WHERE customer_key LIKE ? ESCAPE '\\')", "%"+likeable(cases.Fold(q))+"%")
	}
	var rows []caseRow
	if err := tx.Find(&rows).Error; err != nil {
		return nil, told(err)
	}
	var out []privacy.Subject
	for _, r := range rows {
		if n := len(out); n == 0 || out[n-1].Customer != r.Customer {
			if n == most {
				break
			}
			out = append(out, privacy.Subject{Customer: r.Customer})
		}
		c := privacy.Case{ID: r.ID, Vehicle: r.Vehicle, Opened: r.Opened, Closed: r.Closed}
		var issued []recordRow
		if err := s.read.WithContext(ctx).Select("seq").Where("case_id = ?", r.ID).Order("seq").Find(&issued).Error; err != nil {
			return nil, told(err)
		}
		for _, e := range issued {
			c.Records = append(c.Records, cases.RecordNumber(r.ID, e.Seq))
		}
		if err := s.read.WithContext(ctx).Raw("SELECT COUNT(*) FROM photos WHERE case_id = ? AND gone = 0", r.ID).Scan(&c.Pictures).Error; err != nil {
			return nil, told(err)
		}
		last := &out[len(out)-1]
		last.Cases = append(last.Cases, c)
	}
	return out, nil
}

// likeable escapes what LIKE would take for more.
func likeable(text string) string {
	return strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(text)
}

// Overdue are closed cases whose names, or pictures, have been there long enough.
func (s *Store) Overdue(ctx context.Context, names, pictures time.Time, most int) (named, pictured []string, err error) {
	tx := s.read.WithContext(ctx)
	if !names.IsZero() {
		err = tx.Raw("SELECT id FROM cases WHERE closed < ? AND customer NOT IN ('', ?) AND sample = 0 ORDER BY closed LIMIT ?", names.UTC(), privacy.Removed, most).Scan(&named).Error
	}
	if err == nil && !pictures.IsZero() {
		err = tx.Raw("SELECT id FROM cases WHERE closed < ? AND id IN (SELECT case_id FROM photos WHERE gone = 0) ORDER BY closed LIMIT ?", pictures.UTC(), most).Scan(&pictured).Error
	}
	return named, pictured, told(err)
}

// texts are the columns of a case that a person may have written a name into, with the table of the trail; JSON columns are looked through string by string.
var texts = []struct {
	table, trail, key string
	plain, json       []string
}{
	{"readings", "readings/1", "id", []string{"note", "value"}, nil},
	{"measurements", "measurements/1", "id", []string{"value", "says"}, []string{"typed"}},
	{"bench_notes", "bench/1", "id", []string{"words", "value"}, nil},
	{"marks", "", "", []string{"note"}, nil},
	{"proofs", "proofs/1", "case_id || ' ' || item", []string{"note"}, nil},
	{"photos", "photos/1", "id", []string{"caption"}, nil},
	{"recordings", "", "", nil, []string{"content"}},
	{"jobs", "", "", nil, []string{"content"}},
}

// personal are the keys in a snapshot or a record whose value is the customer's alone.
var personal = []string{"customer", "name", "vehicle"}

// Rewrite replaces the names in cases. Records are kept, signed again without them; the trail names every row that came to something else.
func (s *Store) Rewrite(ctx context.Context, ids []string, replace func(string) string, why string) ([]string, error) {
	err := s.writing(ctx, func(tx *gorm.DB) error {
		back, err := unguard(tx)
		if err != nil {
			return err
		}
		for _, id := range ids {
			d := deed{caseID: id, words: why}
			e := erasing{s: s, tx: tx, replace: replace, d: &d, digests: map[string]string{}}
			if err := e.wholeCase(id); err != nil {
				return err
			}
			if err := s.enter(ctx, tx, d); err != nil {
				return err
			}
		}
		return back()
	})
	if err != nil {
		return nil, err
	}
	return ids, s.forget(ctx)
}

// forget sees to it that what was replaced is in no file any more: what the log of the database still holds goes into it, what was deleted there is overwritten
// as it goes (secure_delete), and copies from before upgrades are taken away. Backups keep it until they are replaced; the shop is told so.
func (s *Store) forget(ctx context.Context) error {
	if err := s.write.WithContext(ctx).Exec("PRAGMA wal_checkpoint(TRUNCATE)").Error; err != nil {
		return told(err)
	}
	copies, err := filepath.Glob(filepath.Join(s.Dir(), "compass.before-*.db"))
	if err != nil {
		return err
	}
	for _, c := range copies {
		if err := removeIfThere(c); err != nil {
			return told(err)
		}
	}
	return nil
}

// unguard takes the triggers away that keep history from being rewritten, inside a transaction; what it returns puts them back.
func unguard(tx *gorm.DB) (back func() error, err error) {
	var triggers []struct{ Name, SQL string }
	if err := tx.Raw("SELECT name, sql FROM sqlite_schema WHERE type = 'trigger' ORDER BY name").Scan(&triggers).Error; err != nil {
		return nil, err
	}
	for _, t := range triggers {
		if err := tx.Exec("DROP TRIGGER " + quoted(t.Name)).Error; err != nil {
			return nil, err
		}
	}
	return func() error {
		for _, t := range triggers {
			if err := tx.Exec(t.SQL).Error; err != nil {
				return err
			}
		}
		return nil
	}, nil
}

type erasing struct {
	s       *Store
	tx      *gorm.DB
	replace func(string) string
	d       *deed
	digests map[string]string // new digest by old one: snapshots are named by them
	own     []string          // keys whose value is the customer's alone
	hit     bool              // something was replaced
}

func (e *erasing) wholeCase(id string) error {
	var row caseRow
	if err := e.tx.Where("id = ?", id).First(&row).Error; err != nil {
		return notFound("case", id, err)
	}
	for _, t := range []*string{&row.Words, &row.WaitsFor, &row.DueNote, &row.Learnt} {
		*t = e.replace(*t)
	}
	row.Customer, row.Vehicle = privacy.Removed, privacy.Removed
	row.Rev++
	if err := errors.Join(e.tx.Save(&row).Error, putFloorKeys(e.tx, toCase(row))); err != nil {
		return err
	}
	e.d.touch("cases/1", id)
	for _, t := range texts {
		for _, c := range slices.Concat(t.plain, t.json) {
			if err := e.column(t.table, t.trail, t.key, c, slices.Contains(t.json, c), id); err != nil {
				return err
			}
		}
	}
	if err := e.tx.Exec("DELETE FROM done WHERE scope = ?", id).Error; err != nil {
		return err
	}
	return e.frozen(id)
}

// column goes through one column of the rows of a case.
func (e *erasing) column(table, trail, key, column string, isJSON bool, id string) error {
	var rows []struct {
		At   int64
		Text string
		Key  string
	}
	named := "''"
	if key != "" {
		named = key
	}
	if err := e.tx.Raw("SELECT rowid AS at, CAST("+column+" AS TEXT) AS text, "+named+" AS key FROM "+table+" WHERE case_id = ?", id).Scan(&rows).Error; err != nil {
		return err
	}
	for _, r := range rows {
		text := r.Text
		if isJSON {
			text = string(e.inJSON([]byte(r.Text)))
		} else {
			text = e.replace(text)
		}
		if text == r.Text {
			continue
		}
		if err := e.tx.Exec("UPDATE "+table+" SET "+column+" = ? WHERE rowid = ?", text, r.At).Error; err != nil {
			return err
		}
		if trail != "" {
			e.d.touch(trail, r.Key)
		}
	}
	return nil
}

// frozen goes through what was frozen with a digest: estimates, decisions, then the records that name them.
func (e *erasing) frozen(id string) error {
	var estimates []estimateRow
	var decisions []decisionRow
	var records []recordRow
	for _, q := range []error{e.tx.Where("case_id = ?", id).Find(&estimates).Error, e.tx.Where("case_id = ?", id).Find(&decisions).Error, e.tx.Where("case_id = ?", id).Find(&records).Error} {
		if q != nil {
			return q
		}
	}
	for _, r := range estimates {
		r.Snapshot, r.Digest = e.again(r.Snapshot, r.Digest)
		if err := e.tx.Save(&r).Error; err != nil {
			return err
		}
		e.d.touch("estimates/1", r.ID)
	}
	for _, r := range decisions {
		r.Snapshot, r.Digest = e.again(r.Snapshot, r.Digest)
		r.Words, r.Ceiling = e.replace(r.Words), e.replace(r.Ceiling)
		if err := e.tx.Save(&r).Error; err != nil {
			return err
		}
		e.d.touch("decisions/1", r.ID)
	}
	for _, r := range records {
		r.Content, r.Digest = e.again(r.Content, r.Digest)
		r.Why = e.replace(r.Why)
		sig := signatureRow{r.ID, signing.First(e.s.signer(), r.At).ID, signing.Record(e.s.signer(), r.Digest)}
		if err := errors.Join(e.tx.Save(&r).Error, e.tx.Save(&sig).Error); err != nil {
			return err
		}
		e.d.touch("records/1", r.ID)
		e.d.touch("signatures/1", r.ID)
	}
	return nil
}

// again is a frozen text without the names, and its digest.
func (e *erasing) again(content []byte, old string) ([]byte, string) {
	e.own = personal
	now := e.inJSON(content)
	e.own = nil
	e.digests[old] = digest(string(now))
	return now, e.digests[old]
}

// inJSON goes through every string of a JSON text. Keys stay in their order only by chance: what is frozen is held to its new digest.
func (e *erasing) inJSON(text []byte) []byte {
	var v any
	dec := json.NewDecoder(strings.NewReader(string(text)))
	dec.UseNumber()
	if dec.Decode(&v) != nil {
		return []byte(e.replace(string(text)))
	}
	e.hit = false
	out, err := json.Marshal(e.value(v, ""))
	if err != nil || !e.hit {
		return text
	}
	return out
}

func (e *erasing) value(v any, key string) any {
	switch x := v.(type) {
	case string:
		n := x
		switch {
		case x == "":
		case e.own != nil && key == "signature":
			n = ""
		case slices.Contains(e.own, key):
			n = privacy.Removed
		case e.digests[x] != "":
			n = e.digests[x]
		default:
			n = e.replace(x)
		}
		e.hit = e.hit || n != x
		return n
	case []any:
		for i := range x {
			x[i] = e.value(x[i], key)
		}
	case map[string]any:
		for k := range x {
			x[k] = e.value(x[k], k)
		}
	}
	return v
}

// DropPictures takes pictures of cases away, files and all, but those that a record shows.
func (s *Store) DropPictures(ctx context.Context, ids []string, why string) (int, error) {
	var dropped []string
	err := s.writing(ctx, func(tx *gorm.DB) error {
		for _, id := range ids {
			var rows []photoRow
			if err := tx.Where("case_id = ? AND gone = 0", id).Find(&rows).Error; err != nil {
				return err
			}
			d := deed{caseID: id, words: why}
			for _, r := range rows {
				var shown int
				if err := tx.Raw("SELECT COUNT(*) FROM records WHERE case_id = ? AND instr(CAST(content AS TEXT), ?) > 0", id, r.Digest).Scan(&shown).Error; err != nil {
					return err
				}
				if shown > 0 {
					continue
				}
				if err := tx.Exec("UPDATE photos SET gone = 1 WHERE id = ?", r.ID).Error; err != nil {
					return err
				}
				d.touch("photos/1", r.ID)
				dropped = append(dropped, r.Digest)
			}
			if len(d.rows) == 0 {
				continue
			}
			if err := errors.Join(tx.Exec("UPDATE cases SET rev = rev + 1 WHERE id = ?", id).Error, s.enter(ctx, tx, d)); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return 0, err
	}
	for _, name := range dropped {
		var left int
		if err := s.read.WithContext(ctx).Raw("SELECT COUNT(*) FROM photos WHERE digest = ? AND gone = 0", name).Scan(&left).Error; err != nil {
			return 0, told(err)
		}
		if left == 0 {
			if err := removeIfThere(filepath.Join(s.files, name)); err != nil {
				return 0, told(err)
			}
		}
	}
	return len(dropped), nil
}
