package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"time"

	"gorm.io/gorm"

	"innercompass/internal/audit"
	"innercompass/internal/cases"
	"innercompass/internal/people"
)

type auditRow struct {
	Seq       int64 `gorm:"primaryKey"`
	At        string
	Person    string
	Name      string
	Role      string
	Device    string
	Operation string
	Request   string
	CaseID    string
	Words     string
	Touched   string
	Prev      string
	Hash      string
}

func (auditRow) TableName() string { return "audit" }

func toEntry(r auditRow) (audit.Entry, error) {
	e := audit.Entry{Seq: r.Seq, Person: r.Person, Name: r.Name, Role: r.Role, Device: r.Device, Operation: r.Operation, Request: r.Request, Case: r.CaseID, Words: r.Words, Prev: r.Prev, Hash: r.Hash}
	var err error
	if e.At, err = time.Parse(time.RFC3339Nano, r.At); err != nil {
		return e, err
	}
	if r.Touched != "" {
		err = json.Unmarshal([]byte(r.Touched), &e.Rows)
	}
	return e, err
}

// audited are the columns that the trail holds rows to, and every row of these tables stands in it. A table that gets a column gets another version here; the old one stays, for the entries that name it.
type auditedTable struct{ table, key, columns string }

var audited = map[string]auditedTable{
	"cases/1":        {"cases", "id", "words, vehicle, customer, distance, unit_id, unit_ver, stage, access, bay, owner, opened, closed, root, outcome, earlier, due_at, damages, cured_by, learnt"},
	"readings/1":     {"readings", "id", "id, case_id, seq, finding, state, source, stage, check_id, value, note, likelihood, person, at, withdraws, measurement"},
	"measurements/1": {"measurements", "id", "id, case_id, seq, instrument, check_id, gauge, gauge_name, typed, value, says, person, at, withdraws"},
	"bench/1":        {"bench_notes", "id", "id, case_id, seq, kind, part, ref, value, words, readings, person, at, withdraws"},
	"decisions/1":    {"decisions", "id", "id, case_id, seq, option_id, choice, words, ceiling, person, at, snapshot, digest, estimate, awaits"},
	"countersigns/1": {"countersigns", "decision_id", "decision_id, case_id, person, at"},
	"estimates/1":    {"estimates", "id", "id, case_id, seq, token, person, at, expires, rests, snapshot, digest"},
	"records/1":      {"records", "id", "id, case_id, seq, amends, why, person, at, content, digest"},
	"photos/1":       {"photos", "id", "id, case_id, digest, caption, stage, part, person, at, gone"},
	"signatures/1":   {"signatures", "record_id", "record_id, key_id, signature"},
	"keys/1":         {"shop_keys", "id", "id, content"},
	"proofs/1":       {"proofs", "case_id || ' ' || item", "case_id, item, result, note, person, at"},
	"sheets/1":       {"unit_sheets", "unit_id || ' ' || version", "unit_id, version, name, text, person, at"},
	"people/1":       {"people", "id", "id, name, role, passphrase, interim, pin, gone"},
	"passkeys/1":     {"passkeys", "id", "id, person_id, name, host"},
	"devices/1":      {"devices", "id", "id, name, hash, by_name, at"},
	"settings/1":     {"settings", "id", "shop, currency, labour_rate, fluid_litre, goodwill, tax, consumables, guide, warranty, address"},
}

// told is how a row's columns are read as one text: each quoted as SQLite writes it, so that nothing runs into the next.
func (a auditedTable) told() string {
	return "quote(" + strings.ReplaceAll(a.columns, ", ", ") || ',' || quote(") + ")"
}

func digest(text string) string {
	sum := sha256.Sum256([]byte(text))
	return hex.EncodeToString(sum[:])
}

// digestOf is what a row comes to; empty when it is not there.
func digestOf(tx *gorm.DB, table, key string) (string, error) {
	a, ok := audited[table]
	if !ok {
		return "", fmt.Errorf("the trail knows no %q", table)
	}
	var text string
	if err := tx.Raw("SELECT "+a.told()+" FROM "+a.table+" WHERE "+a.key+" = ?", key).Scan(&text).Error; err != nil || text == "" {
		return "", err
	}
	return digest(text), nil
}

// deed is what a change has done, for the trail.
type deed struct {
	caseID, words string
	rows          []audit.Row // without their digests
}

func (d *deed) touch(table string, keys ...string) {
	for _, k := range keys {
		d.rows = append(d.rows, audit.Row{Table: table, Key: k})
	}
}

// changing is writing that stands in the trail: in the same transaction, so that there is neither without the other.
func (s *Store) changing(ctx context.Context, d deed, f func(tx *gorm.DB) error) error {
	return s.writing(ctx, func(tx *gorm.DB) error {
		if err := f(tx); err != nil {
			return err
		}
		return s.enter(ctx, tx, d)
	})
}

// enter adds an entry to the trail.
func (s *Store) enter(ctx context.Context, tx *gorm.DB, d deed) error {
	who := people.From(ctx)
	last, err := headOf(tx)
	if err != nil {
		return err
	}
	e := audit.Entry{Seq: last.Seq + 1, At: s.Now().UTC(), Person: who.ID, Name: who.Name, Role: string(who.Role), Device: who.DeviceName, Operation: who.Operation, Request: who.Request,
		Case: d.caseID, Words: d.words, Prev: last.Hash}
	for _, r := range d.rows {
		if r.Digest, err = digestOf(tx, r.Table, r.Key); err != nil {
			return err
		}
		e.Rows = append(e.Rows, r)
	}
	if e.Hash, err = e.Sum(); err != nil {
		return err
	}
	var touched []byte
	if len(e.Rows) > 0 {
		if touched, err = json.Marshal(e.Rows); err != nil {
			return err
		}
	}
	return tx.Create(&auditRow{e.Seq, e.At.Format(time.RFC3339Nano), e.Person, e.Name, e.Role, e.Device, e.Operation, e.Request, e.Case, e.Words, string(touched), e.Prev, e.Hash}).Error
}

func headOf(tx *gorm.DB) (audit.Head, error) {
	var h audit.Head
	err := tx.Raw("SELECT seq, hash FROM audit ORDER BY seq DESC LIMIT 1").Scan(&h).Error
	return h, err
}

// deedOf names what a change of a case adds.
func deedOf(id string, ch cases.Changes) deed {
	d := deed{caseID: id}
	var words []string
	say := func(format string, args ...any) { words = append(words, fmt.Sprintf(format, args...)) }
	if ch.Plain != nil {
		d.touch("cases/1", id)
		say("%s at %s", "case", ch.Plain.Stage)
		if ch.Plain.Outcome != "" {
			say("outcome %s", ch.Plain.Outcome)
		}
	}
	for _, r := range ch.Readings {
		d.touch("readings/1", r.ID)
		switch {
		case r.Finding == "":
			say("takes back a reading")
		case r.Withdraws != "":
			say("%s: %s, in place of another", r.Finding, r.State)
		default:
			say("%s: %s", r.Finding, r.State)
		}
	}
	for _, m := range ch.Measurements {
		d.touch("measurements/1", m.ID)
		say("%s used", m.Instrument)
	}
	for _, n := range ch.Bench {
		d.touch("bench/1", n.ID)
		say("bench: %s %s", n.Kind, n.Part)
	}
	for _, p := range ch.Proofs {
		d.touch("proofs/1", id+" "+p.Item)
		say("proof %s: %s", p.Item, p.Result)
	}
	for _, m := range ch.Marks {
		say("%s %s", m.Kind, m.Ref)
	}
	for _, m := range ch.Unmarked {
		say("no longer %s %s", m.Kind, m.Ref)
	}
	if e := ch.Estimate; e != nil {
		d.touch("estimates/1", e.ID)
		say("estimate %s", e.ID)
	}
	if x := ch.Decision; x != nil {
		d.touch("decisions/1", x.ID)
		say("decision %s: %s", x.Option, x.Choice)
	}
	if x := ch.Countersign; x != nil {
		d.touch("countersigns/1", x.Decision)
		say("decision countersigned")
	}
	if r := ch.Record; r != nil {
		d.touch("records/1", r.ID)
		d.touch("signatures/1", r.ID)
		say("record %s", cases.RecordNumber(id, r.Seq))
	}
	if p := ch.Photo; p != nil {
		d.touch("photos/1", p.ID)
		say("picture added")
	}
	if ch.WithdrawnPhoto != "" {
		d.touch("photos/1", ch.WithdrawnPhoto)
		say("picture taken out")
	}
	d.words = shorten(strings.Join(words, "; "))
	return d
}

// longestWords bounds what stands in an entry; the rows say the rest.
const longestWords = 400

func shorten(text string) string {
	if r := []rune(text); len(r) > longestWords {
		return string(r[:longestWords]) + " …"
	}
	return text
}

// Audit is a part of the trail, the newest first.
func (s *Store) Audit(ctx context.Context, q audit.Query) ([]audit.Entry, error) {
	tx := s.read.WithContext(ctx).Order("seq DESC").Limit(q.Limit)
	if q.Case != "" {
		tx = tx.Where("case_id = ?", q.Case)
	}
	if q.Person != "" {
		tx = tx.Where("person = ?", q.Person)
	}
	if q.Before > 0 {
		tx = tx.Where("seq < ?", q.Before)
	}
	var rows []auditRow
	if err := tx.Find(&rows).Error; err != nil {
		return nil, told(err)
	}
	out := make([]audit.Entry, 0, len(rows))
	for _, r := range rows {
		e, err := toEntry(r)
		if err != nil {
			return nil, err
		}
		out = append(out, e)
	}
	return out, nil
}

// Vehicles are those of cases, by id.
func (s *Store) Vehicles(ctx context.Context, ids []string) (map[string]string, error) {
	var rows []caseRow
	err := s.read.WithContext(ctx).Select("id", "vehicle").Where("id IN ?", ids).Find(&rows).Error
	out := make(map[string]string, len(rows))
	for _, r := range rows {
		out[r.ID] = r.Vehicle
	}
	return out, told(err)
}

// LastAt is the time of the newest entry; zero when there is none.
func (s *Store) LastAt(ctx context.Context) (time.Time, error) {
	last, err := s.Audit(ctx, audit.Query{Limit: 1})
	if err != nil || len(last) == 0 {
		return time.Time{}, err
	}
	return last[0].At, nil
}

// headFile stands beside the database and says where the trail ended: a trail whose end was cut off is shorter than it says.
const headFile = "audit.head"

// KeepHead writes where the trail ends beside the database.
func (s *Store) KeepHead(ctx context.Context) error {
	h, err := headOf(s.read.WithContext(ctx))
	if err != nil || h == s.head {
		return told(err)
	}
	data, err := json.Marshal(h)
	if err != nil {
		return err
	}
	dir := filepath.Dir(s.path)
	tmp := filepath.Join(dir, newPrefix+headFile)
	if err := os.WriteFile(tmp, data, 0o600); err != nil {
		return told(err)
	}
	if err := errors.Join(syncFile(tmp), os.Rename(tmp, filepath.Join(dir, headFile)), syncFolder(dir)); err != nil {
		return told(err)
	}
	s.head = h
	return nil
}
