package store

import (
	"cmp"
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"gorm.io/gorm"

	"innercompass/internal/archive"
	"innercompass/internal/audit"
	"innercompass/internal/people"
	"innercompass/internal/signing"
)

// notArchived are tables of this folder alone: who is signed in, which tablets are admitted, what can be computed again.
var notArchived = []string{"migrations", "sessions", "devices", "device_codes", "tries", "passkeys", "floor", "seals"}

// blanked are columns that leave no folder in the clear: hashes of passphrases and PINs, and what opens backups.
var blanked = map[string][]string{"people": {"passphrase", "pin"}}

// leftOut are rows that stay in this folder: where its backups go and what opens them.
var leftOut = map[string]string{"kept": "name NOT LIKE 'backup-%'"}

// Dump is the database as of one moment, to be read table by table.
type Dump struct {
	db     *gorm.DB
	dir    string
	schema string // the last step that it has had
}

// Dump copies the database and opens the copy; the caller closes it.
func (s *Store) Dump(ctx context.Context) (*Dump, error) {
	dir, err := os.MkdirTemp(s.Dir(), "new-dump-")
	if err != nil {
		return nil, told(err)
	}
	d := &Dump{dir: dir}
	at := filepath.Join(dir, database)
	if err = s.Snapshot(ctx, at); err == nil {
		d.db, err = open(at, "&_query_only=on", 1)
	}
	if err == nil {
		var done []string
		if done, err = applied(d.db); err == nil && len(done) > 0 {
			d.schema = done[len(done)-1]
		}
	}
	if err != nil {
		return nil, errors.Join(err, d.Close())
	}
	return d, nil
}

// Close takes the copy away.
func (d *Dump) Close() error { return errors.Join(closeDB(d.db), os.RemoveAll(d.dir)) }

// Schema is the last step that the database has had.
func (d *Dump) Schema() string { return d.schema }

// Tables are those that go into an archive, by name.
func (d *Dump) Tables() ([]archive.Table, error) { return tablesOf(d.db) }

func tablesOf(db *gorm.DB) ([]archive.Table, error) {
	var names []string
	if err := db.Raw("SELECT name FROM sqlite_schema WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name").Scan(&names).Error; err != nil {
		return nil, err
	}
	var out []archive.Table
	for _, name := range names {
		if slices.Contains(notArchived, name) {
			continue
		}
		var columns []struct {
			Name string
			Type string
			Pk   int
		}
		if err := db.Raw("SELECT name, type, pk FROM pragma_table_info(?) ORDER BY cid", name).Scan(&columns).Error; err != nil {
			return nil, err
		}
		t := archive.Table{Name: name}
		for _, c := range columns {
			t.Columns = append(t.Columns, archive.Column{Name: c.Name, Type: c.Type})
			if c.Pk > 0 {
				t.Key = append(t.Key, c.Name)
			}
		}
		out = append(out, t)
	}
	return out, nil
}

// Rows hands every row of a table to f, in the order of its key: texts as they are, numbers as numbers, times as they are written, bytes as {"base64": …}.
func (d *Dump) Rows(t archive.Table, f func(row map[string]any) error) error {
	selected := make([]string, len(t.Columns))
	for i, c := range t.Columns {
		// As SQLite holds it: the driver would turn times and bools into something else.
		selected[i] = "CASE typeof(" + quoted(c.Name) + ") WHEN 'blob' THEN CAST(" + quoted(c.Name) + " AS BLOB) ELSE +" + quoted(c.Name) + " END"
		if slices.Contains(blanked[t.Name], c.Name) {
			selected[i] = "''"
		}
	}
	order := "1"
	if len(t.Key) > 0 {
		keys := make([]string, len(t.Key))
		for i, k := range t.Key {
			keys[i] = quoted(k)
		}
		order = strings.Join(keys, ", ")
	}
	rows, err := d.db.Raw("SELECT " + strings.Join(selected, ", ") + " FROM " + quoted(t.Name) + " WHERE " + cmp.Or(leftOut[t.Name], "1") + " ORDER BY " + order).Rows()
	if err != nil {
		return err
	}
	defer rows.Close()
	values := make([]any, len(t.Columns))
	into := make([]any, len(values))
	for i := range values {
		into[i] = &values[i]
	}
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return err
		}
		row := make(map[string]any, len(values))
		for i, v := range values {
			if b, ok := v.([]byte); ok {
				v = map[string]any{"base64": base64.StdEncoding.EncodeToString(b)}
			}
			row[t.Columns[i].Name] = v
		}
		if err := f(row); err != nil {
			return err
		}
	}
	return rows.Err()
}

func quoted(name string) string { return `"` + strings.ReplaceAll(name, `"`, `""`) + `"` }

// Load is a new folder that is filled from an archive.
type Load struct {
	s      *Store
	tx     *gorm.DB
	tables map[string]archive.Table
	guard  func() error // puts the triggers back
}

// NewLoad makes a folder that there is not yet, to be filled; its schema must be the archive's.
func NewLoad(dir, schema string) (*Load, error) {
	if list, err := os.ReadDir(dir); err == nil && len(list) > 0 {
		return nil, &FolderError{dir, "holds something already", "name a folder that is empty or not there"}
	}
	if last := migrations[len(migrations)-1].ID; schema != last {
		return nil, fmt.Errorf("the archive is of the form %q, and this app writes %q: bring it in with the version that wrote it, and upgrade then", schema, last)
	}
	s, err := Open(dir)
	if err != nil {
		return nil, err
	}
	l := &Load{s: s, tables: map[string]archive.Table{}}
	list, err := tablesOf(s.write)
	if err == nil {
		for _, t := range list {
			l.tables[t.Name] = t
		}
		l.tx = s.write.Begin()
		err = l.tx.Error
	}
	if err == nil {
		err = l.unguarded()
	}
	if err != nil {
		return nil, errors.Join(err, l.GiveUp())
	}
	return l, nil
}

// unguarded takes the triggers away that keep history from being written, and what a new folder begins with; Done puts them back.
func (l *Load) unguarded() (err error) {
	if err := l.tx.Exec("PRAGMA defer_foreign_keys = ON").Error; err != nil {
		return err
	}
	if l.guard, err = unguard(l.tx); err != nil {
		return err
	}
	for name := range l.tables {
		if err := l.tx.Exec("DELETE FROM " + quoted(name)).Error; err != nil {
			return err
		}
	}
	return nil
}

// Row adds a row. Columns and tables that this app does not know are refused.
func (l *Load) Row(table string, row map[string]any) error {
	t, ok := l.tables[table]
	if !ok {
		return fmt.Errorf("table %q: not known", table)
	}
	var names, marks []string
	var values []any
	for _, c := range t.Columns {
		v, ok := row[c.Name]
		if !ok {
			return fmt.Errorf("table %q: a row without %q", table, c.Name)
		}
		switch x := v.(type) {
		case map[string]any:
			text, _ := x["base64"].(string)
			b, err := base64.StdEncoding.DecodeString(text)
			if err != nil {
				return fmt.Errorf("table %q, %s: %w", table, c.Name, err)
			}
			v = b
		case json.Number:
			if n, err := x.Int64(); err == nil {
				v = n
			} else if f, err := x.Float64(); err == nil {
				v = f
			}
		}
		names, marks, values = append(names, quoted(c.Name)), append(marks, "?"), append(values, v)
	}
	if len(row) != len(names) {
		return fmt.Errorf("table %q: a row with %d columns, not %d", table, len(row), len(names))
	}
	return l.tx.Exec("INSERT INTO "+quoted(table)+" ("+strings.Join(names, ", ")+") VALUES ("+strings.Join(marks, ", ")+")", values...).Error
}

// File puts a file into the folder.
func (l *Load) File(ctx context.Context, digest string, data []byte) error {
	return l.s.PutFile(ctx, digest, data)
}

// Done keeps what was loaded. The folder has a key of its own, which follows the one of the archive: what that signed stays confirmed. The trail goes on with
// an entry that says what came in another form.
func (l *Load) Done(ctx context.Context, words string) error {
	if err := l.follow(); err != nil {
		return errors.Join(err, l.GiveUp())
	}
	d, err := l.differs(words)
	if err != nil {
		return errors.Join(err, l.GiveUp())
	}
	err = l.s.enter(people.With(ctx, people.AtTheMachine("import")), l.tx, d)
	if err == nil {
		err = fillFloor(l.tx)
	}
	if err == nil {
		err = l.guard()
	}
	if err == nil {
		err = l.tx.Commit().Error
	}
	if err != nil {
		return errors.Join(err, l.GiveUp())
	}
	return l.s.Close()
}

// follow puts the key of the new folder behind the one that the archive ends with.
func (l *Load) follow() error {
	var rows []shopKeyRow
	if err := l.tx.Find(&rows).Error; err != nil {
		return err
	}
	own := signing.First(l.s.signer(), l.s.Now())
	for _, r := range rows {
		var k signing.Key
		if err := json.Unmarshal(r.Content, &k); err != nil {
			return err
		}
		if k.Until == nil {
			own = signing.Behind(k, l.s.signer(), l.s.Now())
		}
	}
	return putShopKey(l.tx, own)
}

// differs are the rows that came in another form than the trail knows: without their secrets, or not at all.
func (l *Load) differs(words string) (deed, error) {
	d := deed{words: words}
	latest := map[[2]string]string{}
	if err := chained(l.tx, &audit.Report{}, latest); err != nil {
		return d, err
	}
	d.touch("keys/1", signing.First(l.s.signer(), time.Time{}).ID)
	for row, was := range latest {
		if !slices.Contains([]string{"people/1", "devices/1", "passkeys/1", "keys/1"}, row[0]) {
			continue
		}
		now, err := digestOf(l.tx, row[0], row[1])
		if err != nil {
			return d, err
		}
		if now != was {
			d.touch(row[0], row[1])
		}
	}
	slices.SortFunc(d.rows, func(a, b audit.Row) int {
		return cmp.Or(strings.Compare(a.Table, b.Table), strings.Compare(a.Key, b.Key))
	})
	return d, nil
}

// GiveUp closes the folder; whoever made it takes it away.
func (l *Load) GiveUp() error {
	if l.tx != nil {
		l.tx.Rollback()
	}
	return l.s.Close()
}
