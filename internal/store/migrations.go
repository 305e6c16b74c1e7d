package store

import (
	"crypto/sha256"
	"regexp"

	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// migrations only ever grow at the end; what a released one comes to is never changed. Every statement may meet what it makes:
// an older app ran them outside a transaction, and one that was cut off left some of it behind.
var migrations = []*gormigrate.Migration{
	{ID: "0001-cases", Migrate: script(
		`CREATE TABLE IF NOT EXISTS cases (
			id TEXT PRIMARY KEY, words TEXT NOT NULL, vehicle TEXT NOT NULL, customer TEXT NOT NULL, distance TEXT NOT NULL,
			unit_id TEXT NOT NULL, unit_ver INTEGER NOT NULL, stage TEXT NOT NULL, access TEXT NOT NULL,
			bay TEXT NOT NULL, owner TEXT NOT NULL, waits_for TEXT NOT NULL,
			opened DATETIME NOT NULL, closed DATETIME, root TEXT NOT NULL, outcome TEXT NOT NULL, rev INTEGER NOT NULL)`,
		`CREATE TABLE IF NOT EXISTS readings (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, key TEXT NOT NULL,
			finding TEXT NOT NULL, state TEXT NOT NULL, source TEXT NOT NULL, stage TEXT NOT NULL, check_id TEXT NOT NULL,
			value TEXT NOT NULL, note TEXT NOT NULL, likelihood TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL,
			withdraws TEXT NOT NULL, UNIQUE (case_id, seq), UNIQUE (case_id, key))`,
		`CREATE TABLE IF NOT EXISTS marks (
			case_id TEXT NOT NULL REFERENCES cases(id), kind TEXT NOT NULL, ref TEXT NOT NULL, note TEXT NOT NULL,
			person TEXT NOT NULL, at DATETIME NOT NULL, PRIMARY KEY (case_id, kind, ref))`,
		`CREATE TABLE IF NOT EXISTS decisions (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, option_id TEXT NOT NULL,
			choice TEXT NOT NULL, words TEXT NOT NULL, ceiling TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL,
			snapshot BLOB NOT NULL, digest TEXT NOT NULL, UNIQUE (case_id, seq))`,
		`CREATE TABLE IF NOT EXISTS proofs (
			case_id TEXT NOT NULL REFERENCES cases(id), item TEXT NOT NULL, result TEXT NOT NULL, note TEXT NOT NULL,
			person TEXT NOT NULL, at DATETIME NOT NULL, PRIMARY KEY (case_id, item))`,
		`CREATE TABLE IF NOT EXISTS people (id TEXT PRIMARY KEY, name TEXT NOT NULL, role TEXT NOT NULL)`,
		`CREATE TABLE IF NOT EXISTS settings (
			id INTEGER PRIMARY KEY CHECK (id = 1), shop TEXT NOT NULL, currency TEXT NOT NULL, labour_rate REAL NOT NULL,
			fluid_litre REAL NOT NULL, goodwill REAL NOT NULL, pressure TEXT NOT NULL, length TEXT NOT NULL, torque TEXT NOT NULL,
			volume TEXT NOT NULL, temperature TEXT NOT NULL, distance TEXT NOT NULL, rev INTEGER NOT NULL)`,
		// What was decided and read is history: the database itself refuses to rewrite it.
		`CREATE TRIGGER IF NOT EXISTS readings_append_only BEFORE UPDATE ON readings BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END`,
		`CREATE TRIGGER IF NOT EXISTS readings_kept BEFORE DELETE ON readings BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END`,
		`CREATE TRIGGER IF NOT EXISTS decisions_frozen BEFORE UPDATE ON decisions BEGIN SELECT RAISE(ABORT, 'decisions are frozen'); END`,
		`CREATE TRIGGER IF NOT EXISTS decisions_kept BEFORE DELETE ON decisions BEGIN SELECT RAISE(ABORT, 'decisions are frozen'); END`,
	)},
	{ID: "0002-unit-sheets", Migrate: script(
		`CREATE TABLE IF NOT EXISTS unit_sheets (
			unit_id TEXT NOT NULL, version INTEGER NOT NULL, name TEXT NOT NULL, text BLOB NOT NULL,
			person TEXT NOT NULL, at DATETIME NOT NULL, PRIMARY KEY (unit_id, version))`,
		// Cases rest on a version: it is never written anew.
		`CREATE TRIGGER IF NOT EXISTS unit_sheets_frozen BEFORE UPDATE ON unit_sheets BEGIN SELECT RAISE(ABORT, 'versions of a sheet are frozen'); END`,
		`CREATE TRIGGER IF NOT EXISTS unit_sheets_kept BEFORE DELETE ON unit_sheets BEGIN SELECT RAISE(ABORT, 'versions of a sheet are frozen'); END`,
	)},
	{ID: "0003-gauges", Migrate: script(
		`CREATE TABLE IF NOT EXISTS gauges (
			id TEXT PRIMARY KEY, name TEXT NOT NULL, dimension TEXT NOT NULL, resolution TEXT NOT NULL, uncertainty TEXT NOT NULL, until TEXT NOT NULL)`,
	)},
	{ID: "0004-measurements", Migrate: script(
		`CREATE TABLE IF NOT EXISTS measurements (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, key TEXT NOT NULL,
			instrument TEXT NOT NULL, check_id TEXT NOT NULL, gauge TEXT NOT NULL, gauge_name TEXT NOT NULL, typed TEXT NOT NULL,
			value TEXT NOT NULL, says TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL, withdraws TEXT NOT NULL,
			UNIQUE (case_id, seq), UNIQUE (case_id, key))`,
		`ALTER TABLE readings ADD COLUMN measurement TEXT NOT NULL DEFAULT ''`,
		// What was typed into an instrument stood in the note of its reading, as "measured NAME {json}".
		`INSERT OR IGNORE INTO measurements SELECT 'm-' || id, case_id, seq, key, substr(note, 10, instr(substr(note, 10), ' ') - 1), check_id, '', '',
			substr(note, 10 + instr(substr(note, 10), ' ')), value, '', person, at, '' FROM readings WHERE note LIKE 'measured % {%'`,
		`DROP TRIGGER IF EXISTS readings_append_only`,
		`UPDATE readings SET measurement = 'm-' || id, note = '' WHERE note LIKE 'measured % {%'`,
		`CREATE TRIGGER IF NOT EXISTS readings_append_only BEFORE UPDATE ON readings BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END`,
		`CREATE TRIGGER IF NOT EXISTS measurements_append_only BEFORE UPDATE ON measurements BEGIN SELECT RAISE(ABORT, 'measurements are append-only'); END`,
		`CREATE TRIGGER IF NOT EXISTS measurements_kept BEFORE DELETE ON measurements BEGIN SELECT RAISE(ABORT, 'measurements are append-only'); END`,
	)},
	{ID: "0005-lab-layouts", Migrate: script(
		`CREATE TABLE IF NOT EXISTS lab_layouts (heads TEXT PRIMARY KEY, fields TEXT NOT NULL)`,
	)},
	{ID: "0006-prices", Migrate: script(
		`ALTER TABLE settings ADD COLUMN tax REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE settings ADD COLUMN consumables REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE settings ADD COLUMN guide INTEGER NOT NULL DEFAULT 1`,
		`ALTER TABLE settings ADD COLUMN warranty TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE settings ADD COLUMN address TEXT NOT NULL DEFAULT ''`,
		`CREATE TABLE IF NOT EXISTS prices (
			unit TEXT NOT NULL, item TEXT NOT NULL, quality TEXT NOT NULL, amount INTEGER NOT NULL, hours REAL NOT NULL, note TEXT NOT NULL,
			PRIMARY KEY (unit, item, quality))`,
	)},
	{ID: "0007-estimates-records-photos", Migrate: script(
		`CREATE TABLE IF NOT EXISTS estimates (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, token TEXT NOT NULL UNIQUE, person TEXT NOT NULL,
			at DATETIME NOT NULL, expires DATETIME NOT NULL, rests TEXT NOT NULL, snapshot BLOB NOT NULL, digest TEXT NOT NULL, UNIQUE (case_id, seq))`,
		`CREATE TRIGGER IF NOT EXISTS estimates_frozen BEFORE UPDATE ON estimates BEGIN SELECT RAISE(ABORT, 'estimates are frozen'); END`,
		`CREATE TRIGGER IF NOT EXISTS estimates_kept BEFORE DELETE ON estimates BEGIN SELECT RAISE(ABORT, 'estimates are frozen'); END`,
		`ALTER TABLE decisions ADD COLUMN estimate TEXT NOT NULL DEFAULT ''`,
		// Two screens may show one estimate: the first answer counts.
		`CREATE UNIQUE INDEX IF NOT EXISTS decisions_estimate ON decisions (estimate) WHERE estimate <> ''`,
		`CREATE TABLE IF NOT EXISTS records (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, amends TEXT NOT NULL, why TEXT NOT NULL,
			person TEXT NOT NULL, at DATETIME NOT NULL, content BLOB NOT NULL, digest TEXT NOT NULL, UNIQUE (case_id, seq))`,
		`CREATE INDEX IF NOT EXISTS records_digest ON records (digest)`,
		`CREATE TRIGGER IF NOT EXISTS records_frozen BEFORE UPDATE ON records BEGIN SELECT RAISE(ABORT, 'records are never altered'); END`,
		`CREATE TRIGGER IF NOT EXISTS records_kept BEFORE DELETE ON records BEGIN SELECT RAISE(ABORT, 'records are never altered'); END`,
		`CREATE TABLE IF NOT EXISTS photos (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), key TEXT NOT NULL, digest TEXT NOT NULL, type TEXT NOT NULL, caption TEXT NOT NULL,
			stage TEXT NOT NULL, width INTEGER NOT NULL, height INTEGER NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL, gone INTEGER NOT NULL, UNIQUE (case_id, key))`,
		`ALTER TABLE cases ADD COLUMN earlier TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE cases ADD COLUMN due_at TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE cases ADD COLUMN due_distance TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE cases ADD COLUMN due_note TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE cases ADD COLUMN damages TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE cases ADD COLUMN cured_by TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE cases ADD COLUMN learnt TEXT NOT NULL DEFAULT ''`,
	)},
	{ID: "0008-guarded-writes-and-floor", Migrate: both(script(
		// What a key of a page was used for: the same again gets the first answer, something else is refused.
		`CREATE TABLE IF NOT EXISTS done (
			scope TEXT NOT NULL, key TEXT NOT NULL, what TEXT NOT NULL, at DATETIME NOT NULL, PRIMARY KEY (scope, key)) WITHOUT ROWID`,
		// Grows with every change of settings and prices: what was priced before knows that it is old.
		`CREATE TABLE IF NOT EXISTS revisions (name TEXT PRIMARY KEY, rev INTEGER NOT NULL) WITHOUT ROWID`,
		// One small row for each case, so that the list of cases computes nothing.
		`CREATE TABLE IF NOT EXISTS floor (
			case_id TEXT PRIMARY KEY REFERENCES cases(id), vehicle_key TEXT NOT NULL, customer_key TEXT NOT NULL, search TEXT NOT NULL, found TEXT NOT NULL DEFAULT '',
			rev INTEGER NOT NULL DEFAULT 0, basis TEXT NOT NULL DEFAULT '', unit_name TEXT NOT NULL DEFAULT '', rose TEXT NOT NULL DEFAULT '', leader TEXT NOT NULL DEFAULT '',
			doubt REAL NOT NULL DEFAULT 0, next TEXT NOT NULL DEFAULT '', next_note TEXT NOT NULL DEFAULT '', suspect TEXT NOT NULL DEFAULT '', share REAL NOT NULL DEFAULT 0)`,
		`CREATE INDEX IF NOT EXISTS floor_vehicle ON floor (vehicle_key)`,
		`CREATE INDEX IF NOT EXISTS cases_floor ON cases (closed IS NOT NULL, opened DESC, id DESC)`,
		`CREATE INDEX IF NOT EXISTS cases_earlier ON cases (earlier) WHERE earlier <> ''`,
	), fillFloor)},
	{ID: "0009-numbers-and-zone", Migrate: script(
		`ALTER TABLE settings ADD COLUMN numbers TEXT NOT NULL DEFAULT '1,234.5'`,
		`ALTER TABLE settings ADD COLUMN zone TEXT NOT NULL DEFAULT ''`,
	)},
	{ID: "0010-seals", Migrate: script(
		// Made with a key that is not in the database.
		`CREATE TABLE IF NOT EXISTS seals (record_id TEXT PRIMARY KEY REFERENCES records(id), seal BLOB NOT NULL) WITHOUT ROWID`,
		`CREATE TRIGGER IF NOT EXISTS seals_frozen BEFORE UPDATE ON seals BEGIN SELECT RAISE(ABORT, 'seals are never altered'); END`,
		`CREATE TRIGGER IF NOT EXISTS seals_kept BEFORE DELETE ON seals BEGIN SELECT RAISE(ABORT, 'seals are never altered'); END`,
	)},
	{ID: "0011-samples", Migrate: script(
		`ALTER TABLE cases ADD COLUMN sample INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE cases ADD COLUMN nearest INTEGER NOT NULL DEFAULT 0`,
		// What a shop does is kept; a sample that nobody did may be taken away again.
		`DROP TRIGGER IF EXISTS readings_kept`,
		`CREATE TRIGGER IF NOT EXISTS readings_kept BEFORE DELETE ON readings WHEN NOT (SELECT sample FROM cases WHERE id = OLD.case_id) BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END`,
		`DROP TRIGGER IF EXISTS measurements_kept`,
		`CREATE TRIGGER IF NOT EXISTS measurements_kept BEFORE DELETE ON measurements WHEN NOT (SELECT sample FROM cases WHERE id = OLD.case_id) BEGIN SELECT RAISE(ABORT, 'measurements are append-only'); END`,
		`DROP TRIGGER IF EXISTS decisions_kept`,
		`CREATE TRIGGER IF NOT EXISTS decisions_kept BEFORE DELETE ON decisions WHEN NOT (SELECT sample FROM cases WHERE id = OLD.case_id) BEGIN SELECT RAISE(ABORT, 'decisions are frozen'); END`,
		`DROP TRIGGER IF EXISTS estimates_kept`,
		`CREATE TRIGGER IF NOT EXISTS estimates_kept BEFORE DELETE ON estimates WHEN NOT (SELECT sample FROM cases WHERE id = OLD.case_id) BEGIN SELECT RAISE(ABORT, 'estimates are frozen'); END`,
		// Nor may a case become a sample afterwards.
		`CREATE TRIGGER IF NOT EXISTS cases_no_sample BEFORE UPDATE OF sample ON cases WHEN NEW.sample <> OLD.sample BEGIN SELECT RAISE(ABORT, 'a case stays what it was made as'); END`,
	)},
	{ID: "0012-words", Migrate: script(
		`CREATE TABLE IF NOT EXISTS own_words (
			id TEXT PRIMARY KEY, say TEXT NOT NULL UNIQUE, finding TEXT NOT NULL, state TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL)`,
	)},
	{ID: "0013-drafts", Migrate: script(
		`CREATE TABLE IF NOT EXISTS unit_drafts (
			id TEXT PRIMARY KEY, title TEXT NOT NULL, content BLOB NOT NULL, revision INTEGER NOT NULL, at DATETIME NOT NULL)`,
	)},
	{ID: "0014-recordings", Migrate: script(
		`CREATE TABLE IF NOT EXISTS recordings (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL, content BLOB NOT NULL, revision INTEGER NOT NULL, at DATETIME NOT NULL)`,
		`CREATE INDEX IF NOT EXISTS recordings_case ON recordings (case_id)`,
		`CREATE TABLE IF NOT EXISTS known (kind TEXT NOT NULL, name TEXT NOT NULL, content BLOB NOT NULL, PRIMARY KEY (kind, name))`,
	)},
	{ID: "0015-bench", Migrate: script(
		`CREATE TABLE IF NOT EXISTS bench_notes (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, key TEXT NOT NULL, kind TEXT NOT NULL, part TEXT NOT NULL,
			ref TEXT NOT NULL, value TEXT NOT NULL, words TEXT NOT NULL, readings TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL,
			withdraws TEXT NOT NULL, UNIQUE (case_id, seq), UNIQUE (case_id, key))`,
		`CREATE TRIGGER IF NOT EXISTS bench_append_only BEFORE UPDATE ON bench_notes BEGIN SELECT RAISE(ABORT, 'notes of the bench are append-only'); END`,
		`CREATE TRIGGER IF NOT EXISTS bench_kept BEFORE DELETE ON bench_notes WHEN NOT (SELECT sample FROM cases WHERE id = OLD.case_id) BEGIN SELECT RAISE(ABORT, 'notes of the bench are append-only'); END`,
		`ALTER TABLE photos ADD COLUMN part TEXT NOT NULL DEFAULT ''`,
	)},
	{ID: "0016-jobs", Migrate: script(
		`CREATE TABLE IF NOT EXISTS workshop (id INTEGER PRIMARY KEY, content BLOB NOT NULL, rev INTEGER NOT NULL)`,
		`CREATE TABLE IF NOT EXISTS jobs (case_id TEXT PRIMARY KEY REFERENCES cases(id), content BLOB NOT NULL, rev INTEGER NOT NULL)`,
	)},
	{ID: "0017-people", Migrate: both(script(
		`ALTER TABLE people ADD COLUMN passphrase TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE people ADD COLUMN interim INTEGER NOT NULL DEFAULT 0`,
		`ALTER TABLE people ADD COLUMN pin TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE people ADD COLUMN gone DATETIME`,
		`ALTER TABLE people ADD COLUMN told TEXT NOT NULL DEFAULT ''`,
		`UPDATE people SET role = 'front-desk' WHERE role NOT IN ('owner', 'diagnostician', 'apprentice', 'front-desk')`,
		`CREATE TABLE IF NOT EXISTS passkeys (
			id TEXT PRIMARY KEY, person_id TEXT NOT NULL REFERENCES people(id), name TEXT NOT NULL, host TEXT NOT NULL, credential BLOB NOT NULL, at DATETIME NOT NULL, used DATETIME)`,
		`CREATE TABLE IF NOT EXISTS sessions (
			hash TEXT PRIMARY KEY, person_id TEXT NOT NULL REFERENCES people(id), device TEXT NOT NULL, how TEXT NOT NULL, begun DATETIME NOT NULL, seen DATETIME NOT NULL) WITHOUT ROWID`,
		`CREATE TABLE IF NOT EXISTS devices (id TEXT PRIMARY KEY, name TEXT NOT NULL, hash TEXT NOT NULL UNIQUE, by_name TEXT NOT NULL, at DATETIME NOT NULL, seen DATETIME)`,
		`CREATE TABLE IF NOT EXISTS device_codes (hash TEXT PRIMARY KEY, by_name TEXT NOT NULL, until DATETIME NOT NULL) WITHOUT ROWID`,
		`CREATE TABLE IF NOT EXISTS tries (of TEXT PRIMARY KEY, wrong INTEGER NOT NULL, last DATETIME NOT NULL) WITHOUT ROWID`,
		`ALTER TABLE decisions ADD COLUMN awaits INTEGER NOT NULL DEFAULT 0`,
		`CREATE TABLE IF NOT EXISTS countersigns (decision_id TEXT PRIMARY KEY REFERENCES decisions(id), case_id TEXT NOT NULL REFERENCES cases(id), person TEXT NOT NULL, at DATETIME NOT NULL)`,
		`CREATE TRIGGER IF NOT EXISTS countersigns_frozen BEFORE UPDATE ON countersigns BEGIN SELECT RAISE(ABORT, 'what was signed stands'); END`,
		`CREATE TABLE IF NOT EXISTS ended_links (estimate_id TEXT PRIMARY KEY REFERENCES estimates(id), at DATETIME NOT NULL)`,
		`DROP TRIGGER IF EXISTS estimates_frozen`, // its links are kept as hashes from here on; the next step puts the trigger back
	), hashLinks)},
	{ID: "0018-signatures", Migrate: script(
		`CREATE TABLE IF NOT EXISTS signatures (record_id TEXT PRIMARY KEY REFERENCES records(id), key_id TEXT NOT NULL, signature BLOB NOT NULL) WITHOUT ROWID`,
		`CREATE TRIGGER IF NOT EXISTS signatures_frozen BEFORE UPDATE ON signatures BEGIN SELECT RAISE(ABORT, 'signatures are never altered'); END`,
		`CREATE TRIGGER IF NOT EXISTS signatures_kept BEFORE DELETE ON signatures BEGIN SELECT RAISE(ABORT, 'signatures are never altered'); END`,
		`CREATE TABLE IF NOT EXISTS shop_keys (id TEXT PRIMARY KEY, content BLOB NOT NULL, at DATETIME NOT NULL)`,
	)},
	{ID: "0019-kept", Migrate: script(
		`CREATE TABLE IF NOT EXISTS kept (name TEXT PRIMARY KEY, content BLOB NOT NULL, rev INTEGER NOT NULL) WITHOUT ROWID`,
	)},
	{ID: "0020-audit", Migrate: script(
		`CREATE TABLE IF NOT EXISTS audit (
			seq INTEGER PRIMARY KEY, at TEXT NOT NULL, person TEXT NOT NULL, name TEXT NOT NULL, role TEXT NOT NULL, device TEXT NOT NULL, operation TEXT NOT NULL, request TEXT NOT NULL,
			case_id TEXT NOT NULL, words TEXT NOT NULL, touched TEXT NOT NULL, prev TEXT NOT NULL, hash TEXT NOT NULL)`,
		`CREATE INDEX IF NOT EXISTS audit_case ON audit (case_id, seq) WHERE case_id <> ''`,
		`CREATE INDEX IF NOT EXISTS audit_person ON audit (person, seq) WHERE person <> ''`,
		`CREATE TRIGGER IF NOT EXISTS audit_append_only BEFORE UPDATE ON audit BEGIN SELECT RAISE(ABORT, 'the trail is append-only'); END`,
		`CREATE TRIGGER IF NOT EXISTS audit_kept BEFORE DELETE ON audit BEGIN SELECT RAISE(ABORT, 'the trail is append-only'); END`,
	)},
}

// addColumn is how a column is added; script passes over one that is there.
var addColumn = regexp.MustCompile(`^ALTER TABLE (\w+) ADD COLUMN (\w+) `)

func script(statements ...string) func(*gorm.DB) error {
	return func(tx *gorm.DB) error {
		for _, s := range statements {
			if m := addColumn.FindStringSubmatch(s); m != nil {
				var there int
				if err := tx.Raw("SELECT COUNT(*) FROM pragma_table_info(?) WHERE name = ?", m[1], m[2]).Scan(&there).Error; err != nil {
					return err
				}
				if there > 0 {
					continue
				}
			}
			if err := tx.Exec(s).Error; err != nil {
				return err
			}
		}
		return nil
	}
}

func both(first, second func(*gorm.DB) error) func(*gorm.DB) error {
	return func(tx *gorm.DB) error {
		if err := first(tx); err != nil {
			return err
		}
		return second(tx)
	}
}

// hashLinks leaves nothing of a private link but its hash: the links that are out there go on working.
func hashLinks(tx *gorm.DB) error {
	var rows []estimateRow
	if err := tx.Select("id", "token").Find(&rows).Error; err != nil {
		return err
	}
	for _, r := range rows {
		if len(r.Token) == 2*sha256.Size { // a step that was cut off
			continue
		}
		if err := tx.Exec("UPDATE estimates SET token = ? WHERE id = ?", digest(r.Token), r.ID).Error; err != nil {
			return err
		}
	}
	return tx.Exec("CREATE TRIGGER IF NOT EXISTS estimates_frozen BEFORE UPDATE ON estimates BEGIN SELECT RAISE(ABORT, 'estimates are frozen'); END").Error
}

// fillFloor makes the rows of cases that were there before the table was: what has to be computed follows after the start.
func fillFloor(tx *gorm.DB) error {
	var rows []caseRow
	if err := tx.Select("id", "words", "vehicle", "customer", "owner", "bay", "stage", "waits_for").Find(&rows).Error; err != nil {
		return err
	}
	for _, r := range rows {
		if err := putFloorKeys(tx, toCase(r)); err != nil {
			return err
		}
	}
	return nil
}
