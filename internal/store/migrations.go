package store

import (
	"github.com/go-gormigrate/gormigrate/v2"
	"gorm.io/gorm"
)

// migrations only ever grow at the end; a released one is never edited.
var migrations = []*gormigrate.Migration{
	{ID: "0001-cases", Migrate: script(
		`CREATE TABLE cases (
			id TEXT PRIMARY KEY, words TEXT NOT NULL, vehicle TEXT NOT NULL, customer TEXT NOT NULL, distance TEXT NOT NULL,
			unit_id TEXT NOT NULL, unit_ver INTEGER NOT NULL, stage TEXT NOT NULL, access TEXT NOT NULL,
			bay TEXT NOT NULL, owner TEXT NOT NULL, waits_for TEXT NOT NULL,
			opened DATETIME NOT NULL, closed DATETIME, root TEXT NOT NULL, outcome TEXT NOT NULL, rev INTEGER NOT NULL)`,
		`CREATE TABLE readings (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, key TEXT NOT NULL,
			finding TEXT NOT NULL, state TEXT NOT NULL, source TEXT NOT NULL, stage TEXT NOT NULL, check_id TEXT NOT NULL,
			value TEXT NOT NULL, note TEXT NOT NULL, likelihood TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL,
			withdraws TEXT NOT NULL, UNIQUE (case_id, seq), UNIQUE (case_id, key))`,
		`CREATE TABLE marks (
			case_id TEXT NOT NULL REFERENCES cases(id), kind TEXT NOT NULL, ref TEXT NOT NULL, note TEXT NOT NULL,
			person TEXT NOT NULL, at DATETIME NOT NULL, PRIMARY KEY (case_id, kind, ref))`,
		`CREATE TABLE decisions (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, option_id TEXT NOT NULL,
			choice TEXT NOT NULL, words TEXT NOT NULL, ceiling TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL,
			snapshot BLOB NOT NULL, digest TEXT NOT NULL, UNIQUE (case_id, seq))`,
		`CREATE TABLE proofs (
			case_id TEXT NOT NULL REFERENCES cases(id), item TEXT NOT NULL, result TEXT NOT NULL, note TEXT NOT NULL,
			person TEXT NOT NULL, at DATETIME NOT NULL, PRIMARY KEY (case_id, item))`,
		`CREATE TABLE people (id TEXT PRIMARY KEY, name TEXT NOT NULL, role TEXT NOT NULL)`,
		`CREATE TABLE settings (
			id INTEGER PRIMARY KEY CHECK (id = 1), shop TEXT NOT NULL, currency TEXT NOT NULL, labour_rate REAL NOT NULL,
			fluid_litre REAL NOT NULL, goodwill REAL NOT NULL, pressure TEXT NOT NULL, length TEXT NOT NULL, torque TEXT NOT NULL,
			volume TEXT NOT NULL, temperature TEXT NOT NULL, distance TEXT NOT NULL, rev INTEGER NOT NULL)`,
		// What was decided and read is history: the database itself refuses to rewrite it.
		`CREATE TRIGGER readings_append_only BEFORE UPDATE ON readings BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END`,
		`CREATE TRIGGER readings_kept BEFORE DELETE ON readings BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END`,
		`CREATE TRIGGER decisions_frozen BEFORE UPDATE ON decisions BEGIN SELECT RAISE(ABORT, 'decisions are frozen'); END`,
		`CREATE TRIGGER decisions_kept BEFORE DELETE ON decisions BEGIN SELECT RAISE(ABORT, 'decisions are frozen'); END`,
	)},
	{ID: "0002-unit-sheets", Migrate: script(
		`CREATE TABLE unit_sheets (
			unit_id TEXT NOT NULL, version INTEGER NOT NULL, name TEXT NOT NULL, text BLOB NOT NULL,
			person TEXT NOT NULL, at DATETIME NOT NULL, PRIMARY KEY (unit_id, version))`,
		// Cases rest on a version: it is never written anew.
		`CREATE TRIGGER unit_sheets_frozen BEFORE UPDATE ON unit_sheets BEGIN SELECT RAISE(ABORT, 'versions of a sheet are frozen'); END`,
		`CREATE TRIGGER unit_sheets_kept BEFORE DELETE ON unit_sheets BEGIN SELECT RAISE(ABORT, 'versions of a sheet are frozen'); END`,
	)},
	{ID: "0003-gauges", Migrate: script(
		`CREATE TABLE gauges (
			id TEXT PRIMARY KEY, name TEXT NOT NULL, dimension TEXT NOT NULL, resolution TEXT NOT NULL, uncertainty TEXT NOT NULL, until TEXT NOT NULL)`,
	)},
	{ID: "0004-measurements", Migrate: script(
		`CREATE TABLE measurements (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, key TEXT NOT NULL,
			instrument TEXT NOT NULL, check_id TEXT NOT NULL, gauge TEXT NOT NULL, gauge_name TEXT NOT NULL, typed TEXT NOT NULL,
			value TEXT NOT NULL, says TEXT NOT NULL, person TEXT NOT NULL, at DATETIME NOT NULL, withdraws TEXT NOT NULL,
			UNIQUE (case_id, seq), UNIQUE (case_id, key))`,
		`ALTER TABLE readings ADD COLUMN measurement TEXT NOT NULL DEFAULT ''`,
		// What was typed into an instrument stood in the note of its reading, as "measured NAME {json}".
		`INSERT INTO measurements SELECT 'm-' || id, case_id, seq, key, substr(note, 10, instr(substr(note, 10), ' ') - 1), check_id, '', '',
			substr(note, 10 + instr(substr(note, 10), ' ')), value, '', person, at, '' FROM readings WHERE note LIKE 'measured % {%'`,
		`DROP TRIGGER readings_append_only`,
		`UPDATE readings SET measurement = 'm-' || id, note = '' WHERE note LIKE 'measured % {%'`,
		`CREATE TRIGGER readings_append_only BEFORE UPDATE ON readings BEGIN SELECT RAISE(ABORT, 'readings are append-only'); END`,
		`CREATE TRIGGER measurements_append_only BEFORE UPDATE ON measurements BEGIN SELECT RAISE(ABORT, 'measurements are append-only'); END`,
		`CREATE TRIGGER measurements_kept BEFORE DELETE ON measurements BEGIN SELECT RAISE(ABORT, 'measurements are append-only'); END`,
	)},
	{ID: "0005-lab-layouts", Migrate: script(
		`CREATE TABLE lab_layouts (heads TEXT PRIMARY KEY, fields TEXT NOT NULL)`,
	)},
	{ID: "0006-prices", Migrate: script(
		`ALTER TABLE settings ADD COLUMN tax REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE settings ADD COLUMN consumables REAL NOT NULL DEFAULT 0`,
		`ALTER TABLE settings ADD COLUMN guide INTEGER NOT NULL DEFAULT 1`,
		`ALTER TABLE settings ADD COLUMN warranty TEXT NOT NULL DEFAULT ''`,
		`ALTER TABLE settings ADD COLUMN address TEXT NOT NULL DEFAULT ''`,
		`CREATE TABLE prices (
			unit TEXT NOT NULL, item TEXT NOT NULL, quality TEXT NOT NULL, amount INTEGER NOT NULL, hours REAL NOT NULL, note TEXT NOT NULL,
			PRIMARY KEY (unit, item, quality))`,
	)},
	{ID: "0007-estimates-records-photos", Migrate: script(
		`CREATE TABLE estimates (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, token TEXT NOT NULL UNIQUE, person TEXT NOT NULL,
			at DATETIME NOT NULL, expires DATETIME NOT NULL, rests TEXT NOT NULL, snapshot BLOB NOT NULL, digest TEXT NOT NULL, UNIQUE (case_id, seq))`,
		`CREATE TRIGGER estimates_frozen BEFORE UPDATE ON estimates BEGIN SELECT RAISE(ABORT, 'estimates are frozen'); END`,
		`CREATE TRIGGER estimates_kept BEFORE DELETE ON estimates BEGIN SELECT RAISE(ABORT, 'estimates are frozen'); END`,
		`ALTER TABLE decisions ADD COLUMN estimate TEXT NOT NULL DEFAULT ''`,
		// Two screens may show one estimate: the first answer counts.
		`CREATE UNIQUE INDEX decisions_estimate ON decisions (estimate) WHERE estimate <> ''`,
		`CREATE TABLE records (
			id TEXT PRIMARY KEY, case_id TEXT NOT NULL REFERENCES cases(id), seq INTEGER NOT NULL, amends TEXT NOT NULL, why TEXT NOT NULL,
			person TEXT NOT NULL, at DATETIME NOT NULL, content BLOB NOT NULL, digest TEXT NOT NULL, UNIQUE (case_id, seq))`,
		`CREATE INDEX records_digest ON records (digest)`,
		`CREATE TRIGGER records_frozen BEFORE UPDATE ON records BEGIN SELECT RAISE(ABORT, 'records are never altered'); END`,
		`CREATE TRIGGER records_kept BEFORE DELETE ON records BEGIN SELECT RAISE(ABORT, 'records are never altered'); END`,
		`CREATE TABLE photos (
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
}

func script(statements ...string) func(*gorm.DB) error {
	return func(tx *gorm.DB) error {
		for _, s := range statements {
			if err := tx.Exec(s).Error; err != nil {
				return err
			}
		}
		return nil
	}
}
