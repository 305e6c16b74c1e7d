package store

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"io/fs"
	"maps"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"gorm.io/gorm"

	"innercompass/internal/audit"
	"innercompass/internal/people"
)

// beginTrail enters what was there before the trail, so that it is held to from then on as well.
func (s *Store) beginTrail(ctx context.Context) error {
	return s.writing(ctx, func(tx *gorm.DB) error {
		if h, err := headOf(tx); err != nil || h.Seq > 0 {
			return err
		}
		ctx := people.With(ctx, people.AtTheMachine("the trail begins"))
		d := deed{words: "what was there before"}
		for _, name := range slices.Sorted(maps.Keys(audited)) {
			a := audited[name]
			var keys []string
			if err := tx.Raw("SELECT " + a.key + " FROM " + a.table + " ORDER BY 1").Scan(&keys).Error; err != nil {
				return err
			}
			for batch := range slices.Chunk(keys, 500) {
				d.rows = nil
				d.touch(name, batch...)
				if err := s.enter(ctx, tx, d); err != nil {
					return err
				}
			}
		}
		if len(d.rows) == 0 { // an empty folder
			return s.enter(ctx, tx, d)
		}
		return nil
	})
}

// Trail checks everything that can be checked: the chain, that it is as long as it was, that every row stands as it says and none beside it, signatures of
// records, and that pictures are what their digests say.
func (s *Store) Trail(ctx context.Context) (audit.Report, error) {
	var out audit.Report
	err := s.reading(ctx, func(tx *gorm.DB) error {
		latest := map[[2]string]string{}
		if err := chained(tx, &out, latest); err != nil {
			return err
		}
		if err := s.asLongAsItWas(tx, &out); err != nil {
			return err
		}
		for _, name := range slices.Sorted(maps.Keys(audited)) {
			if err := stands(tx, &out, name, latest); err != nil {
				return err
			}
		}
		for row, was := range latest {
			if was != "" {
				out.Fault("%s %s is gone, and nobody took it away", audited[row[0]].table, row[1])
			}
		}
		return s.checkSignatures(tx, &out)
	})
	if err != nil {
		return out, err
	}
	return out, s.checkFiles(ctx, &out)
}

// chained walks the whole trail and gathers what the last entry says of each row.
func chained(tx *gorm.DB, out *audit.Report, latest map[[2]string]string) error {
	var chain audit.Chain
	var rows []auditRow
	err := tx.Order("seq").FindInBatches(&rows, 1000, func(*gorm.DB, int) error {
		for _, r := range rows {
			e, err := toEntry(r)
			if err != nil {
				out.Fault("entry %d cannot be read: %v", r.Seq, err)
			}
			if wrong := chain.Next(e); wrong != "" {
				out.Fault("%s", wrong)
			}
			out.Entries++
			for _, x := range e.Rows {
				latest[[2]string{x.Table, x.Key}] = x.Digest
			}
		}
		return nil
	}).Error
	out.Head = chain.Last
	return err
}

// asLongAsItWas compares with what was noted beside the database.
func (s *Store) asLongAsItWas(tx *gorm.DB, out *audit.Report) error {
	var kept audit.Head
	data, err := os.ReadFile(filepath.Join(filepath.Dir(s.path), headFile))
	if errors.Is(err, fs.ErrNotExist) {
		return nil
	}
	if err == nil {
		err = json.Unmarshal(data, &kept)
	}
	if err != nil {
		out.Fault("%s cannot be read: %v", headFile, err)
		return nil
	}
	if kept.Seq > out.Head.Seq {
		out.Fault("the trail ends at entry %d and was %d entries long: its end was cut off, or an older database was put back", out.Head.Seq, kept.Seq)
		return nil
	}
	var hash string
	if err := tx.Raw("SELECT hash FROM audit WHERE seq = ?", kept.Seq).Scan(&hash).Error; err != nil {
		return err
	}
	if kept.Seq > 0 && hash != kept.Hash {
		out.Fault("entry %d is not the one that stood there: the trail was written again from somewhere before it", kept.Seq)
	}
	return nil
}

// stands compares every row of a table with the trail, and strikes it from what is left to be found.
func stands(tx *gorm.DB, out *audit.Report, name string, latest map[[2]string]string) error {
	a := audited[name]
	rows, err := tx.Raw("SELECT " + a.key + ", " + a.told() + " FROM " + a.table).Rows()
	if err != nil {
		return err
	}
	defer rows.Close()
	for rows.Next() {
		var key, text string
		if err := rows.Scan(&key, &text); err != nil {
			return err
		}
		was, named := latest[[2]string{name, key}]
		delete(latest, [2]string{name, key})
		switch {
		case !named:
			out.Fault("%s %s stands beside the trail: nobody has put it there", a.table, key)
		case was != digest(text):
			out.Fault("%s %s does not stand as the trail says: it was altered", a.table, key)
		default:
			out.Rows++
		}
	}
	return rows.Err()
}

// checkSignatures holds every record to its signature.
func (s *Store) checkSignatures(tx *gorm.DB, out *audit.Report) error {
	keys, err := s.trusted(tx)
	if err != nil {
		return err
	}
	var rows []recordRow
	return tx.FindInBatches(&rows, 50, func(*gorm.DB, int) error {
		for _, r := range rows {
			signed, err := signedBy(tx.Session(&gorm.Session{NewDB: true}), r, keys)
			if err != nil {
				return err
			}
			if !signed || digest(string(r.Content)) != r.Digest {
				out.Fault("record %s of case %s has no signature of the shop that holds", r.ID, r.CaseID)
				continue
			}
			out.Records++
		}
		return nil
	}).Error
}

// checkFiles reads every file and compares it with the digest that is its name.
func (s *Store) checkFiles(ctx context.Context, out *audit.Report) error {
	list, err := os.ReadDir(s.files)
	if err != nil {
		return told(err)
	}
	there := map[string]bool{}
	for _, f := range list {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		if len(f.Name()) != 2*sha256.Size || strings.Trim(f.Name(), "0123456789abcdef") != "" {
			continue
		}
		sum, err := digestOfFile(filepath.Join(s.files, f.Name()))
		if err != nil || sum != f.Name() {
			out.Fault("the file %s is damaged", filepath.Join("files", f.Name()))
			continue
		}
		there[f.Name()] = true
		out.Pictures++
	}
	var photos []photoRow
	if err := s.read.WithContext(ctx).Find(&photos).Error; err != nil {
		return told(err)
	}
	for _, p := range photos {
		if !there[p.Digest] && !p.Gone {
			out.Fault("the picture %s of case %s is missing", p.ID, p.CaseID)
		}
	}
	return nil
}

func digestOfFile(path string) (string, error) {
	f, err := os.Open(path)
	if err != nil {
		return "", err
	}
	defer f.Close()
	h := sha256.New()
	if _, err := io.Copy(h, f); err != nil {
		return "", fmt.Errorf("%s: %w", path, err)
	}
	return hex.EncodeToString(h.Sum(nil)), nil
}
