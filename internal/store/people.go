package store

import (
	"context"
	"encoding/json"
	"errors"
	"time"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"

	"innercompass/internal/people"
	"innercompass/internal/problem"
)

type personRow struct {
	ID         string `gorm:"primaryKey"`
	Name       string
	Role       string
	Passphrase string
	Interim    bool
	PIN        string `gorm:"column:pin"`
	Gone       *time.Time
	Told       string
}

func (personRow) TableName() string { return "people" }

type passkeyRow struct {
	ID         string `gorm:"primaryKey"`
	PersonID   string
	Name       string
	Host       string
	Credential []byte
	At         time.Time
	Used       *time.Time
}

func (passkeyRow) TableName() string { return "passkeys" }

type sessionRow struct {
	Hash     string `gorm:"primaryKey"`
	PersonID string
	Device   string
	How      string
	Begun    time.Time
	Seen     time.Time
}

func (sessionRow) TableName() string { return "sessions" }

type deviceRow struct {
	ID     string `gorm:"primaryKey"`
	Name   string
	Hash   string
	ByName string
	At     time.Time
	Seen   *time.Time
}

func (deviceRow) TableName() string { return "devices" }

type triesRow struct {
	Of    string `gorm:"primaryKey"`
	Wrong int
	Last  time.Time
}

func (triesRow) TableName() string { return "tries" }

// People are all of the shop, those who left too, by name.
func (s *Store) People(ctx context.Context) ([]people.Person, error) {
	return everybody(s.read.WithContext(ctx))
}

func everybody(tx *gorm.DB) ([]people.Person, error) {
	var rows []personRow
	if err := tx.Order("name, id").Find(&rows).Error; err != nil {
		return nil, told(err)
	}
	var keys []passkeyRow
	if err := tx.Order("at, id").Find(&keys).Error; err != nil {
		return nil, told(err)
	}
	out := make([]people.Person, len(rows))
	for i, r := range rows {
		out[i] = people.Person{ID: r.ID, Name: r.Name, Role: people.Role(r.Role), Passphrase: r.Passphrase, Interim: r.Interim, PIN: r.PIN, Left: r.Gone, Told: r.Told}
		for _, k := range keys {
			if k.PersonID != r.ID {
				continue
			}
			p := people.Passkey{ID: k.ID, Name: k.Name, Host: k.Host, At: k.At, Used: k.Used}
			if err := json.Unmarshal(k.Credential, &p.Credential); err != nil {
				return nil, err
			}
			out[i].Passkeys = append(out[i].Passkeys, p)
		}
	}
	return out, nil
}

// SavePerson puts a person in the place of the one with the same id, or adds one, and ends the sessions that are to end: one, or all for "*". Without words
// nothing stands in the trail: it is a change that nobody made, such as the time that a passkey was used.
func (s *Store) SavePerson(ctx context.Context, p people.Person, words string, check func(all []people.Person) error, end string) error {
	return s.writing(ctx, func(tx *gorm.DB) error {
		all, err := everybody(tx)
		if err != nil {
			return err
		}
		if err := check(all); err != nil {
			return err
		}
		row := personRow{p.ID, p.Name, string(p.Role), p.Passphrase, p.Interim, p.PIN, p.Left, p.Told}
		if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&row).Error; err != nil {
			return err
		}
		d := deed{words: p.Name + " " + words}
		d.touch("people/1", p.ID)
		keep := map[string]bool{}
		for _, k := range p.Passkeys {
			keep[k.ID] = true
			text, err := json.Marshal(k.Credential)
			if err != nil {
				return err
			}
			if err := tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&passkeyRow{k.ID, p.ID, k.Name, k.Host, text, k.At, k.Used}).Error; err != nil {
				return err
			}
			d.touch("passkeys/1", k.ID)
		}
		for _, o := range all {
			for _, k := range o.Passkeys {
				if o.ID == p.ID && !keep[k.ID] {
					if err := tx.Delete(&passkeyRow{ID: k.ID}).Error; err != nil {
						return err
					}
					d.touch("passkeys/1", k.ID)
				}
			}
		}
		switch end {
		case "":
		case "*":
			err = tx.Where("person_id = ?", p.ID).Delete(&sessionRow{}).Error
		default: // all but the one that asks
			err = tx.Where("person_id = ? AND hash <> ?", p.ID, end).Delete(&sessionRow{}).Error
		}
		if err != nil || words == "" {
			return err
		}
		return s.enter(ctx, tx, d)
	})
}

// Identity is who has the session with this hash, and the device with the other.
func (s *Store) Identity(ctx context.Context, session, device string) (people.Identity, error) {
	var out people.Identity
	err := s.reading(ctx, func(tx *gorm.DB) error {
		if err := tx.Raw("SELECT EXISTS (SELECT 1 FROM people WHERE gone IS NULL AND (passphrase <> '' OR id IN (SELECT person_id FROM passkeys)))").Scan(&out.Needed).Error; err != nil {
			return err
		}
		if device != "" {
			var d deviceRow
			found := tx.Where("hash = ?", device).Limit(1).Find(&d)
			if found.Error != nil {
				return found.Error
			}
			if found.RowsAffected > 0 {
				dev := toDevice(d)
				out.Device = &dev
			}
		}
		if session == "" {
			return nil
		}
		var r sessionRow
		found := tx.Where("hash = ?", session).Limit(1).Find(&r)
		if found.Error != nil || found.RowsAffected == 0 {
			return found.Error
		}
		var p personRow
		if err := tx.Where("id = ?", r.PersonID).First(&p).Error; err != nil {
			return err
		}
		se := toSession(r)
		out.Session = &se
		out.Person = &people.Person{ID: p.ID, Name: p.Name, Role: people.Role(p.Role), Interim: p.Interim, Left: p.Gone, Told: p.Told}
		return nil
	})
	return out, err
}

func toSession(r sessionRow) people.Session {
	return people.Session{Hash: r.Hash, Person: r.PersonID, Device: r.Device, How: people.How(r.How), Begun: r.Begun, Seen: r.Seen}
}

func toDevice(r deviceRow) people.Device {
	return people.Device{ID: r.ID, Name: r.Name, Hash: r.Hash, By: r.ByName, At: r.At, Seen: r.Seen}
}

// oldest is how long what is over is kept.
const oldest = 48 * time.Hour

// PutSession begins one; what is long over goes.
func (s *Store) PutSession(ctx context.Context, n people.Session) error {
	return s.changing(ctx, deed{words: "signs in by " + string(n.How)}, func(tx *gorm.DB) error {
		old := n.Begun.Add(-oldest)
		return errors.Join(tx.Where("begun < ?", old).Delete(&sessionRow{}).Error, tx.Where("last < ?", old).Delete(&triesRow{}).Error,
			tx.Exec("DELETE FROM device_codes WHERE until < ?", n.Begun).Error,
			tx.Exec("UPDATE devices SET seen = ? WHERE id = ?", n.Begun, n.Device).Error,
			tx.Create(&sessionRow{n.Hash, n.Person, n.Device, string(n.How), n.Begun, n.Seen}).Error)
	})
}

// TouchSession notes that one is in use.
func (s *Store) TouchSession(ctx context.Context, hash string, at time.Time) error {
	return s.writing(ctx, func(tx *gorm.DB) error {
		return tx.Exec("UPDATE sessions SET seen = ? WHERE hash = ?", at, hash).Error
	})
}

// EndSession ends one.
func (s *Store) EndSession(ctx context.Context, hash string) error {
	return s.changing(ctx, deed{words: "signs out"}, func(tx *gorm.DB) error { return tx.Where("hash = ?", hash).Delete(&sessionRow{}).Error })
}

// Sessions are those of a person, the newest first.
func (s *Store) Sessions(ctx context.Context, person string) ([]people.Session, error) {
	var rows []sessionRow
	if err := s.read.WithContext(ctx).Where("person_id = ?", person).Order("begun DESC").Find(&rows).Error; err != nil {
		return nil, told(err)
	}
	out := make([]people.Session, len(rows))
	for i, r := range rows {
		out[i] = toSession(r)
	}
	return out, nil
}

// Devices are those of the shop, by name.
func (s *Store) Devices(ctx context.Context) ([]people.Device, error) {
	var rows []deviceRow
	if err := s.read.WithContext(ctx).Order("name, id").Find(&rows).Error; err != nil {
		return nil, told(err)
	}
	out := make([]people.Device, len(rows))
	for i, r := range rows {
		out[i] = toDevice(r)
	}
	return out, nil
}

// SaveDevice admits one.
func (s *Store) SaveDevice(ctx context.Context, n people.Device) error {
	d := deed{words: "admits " + n.Name}
	d.touch("devices/1", n.ID)
	return s.changing(ctx, d, func(tx *gorm.DB) error {
		return tx.Create(&deviceRow{n.ID, n.Name, n.Hash, n.By, n.At, n.Seen}).Error
	})
}

// RemoveDevice takes one out, with the sessions at it.
func (s *Store) RemoveDevice(ctx context.Context, id string) error {
	d := deed{words: "takes a device out"}
	d.touch("devices/1", id)
	return s.changing(ctx, d, func(tx *gorm.DB) error {
		gone := tx.Where("id = ?", id).Delete(&deviceRow{})
		if gone.Error == nil && gone.RowsAffected == 0 {
			return problem.NotFound("device", id, "")
		}
		return errors.Join(gone.Error, tx.Where("device = ?", id).Delete(&sessionRow{}).Error)
	})
}

// PutCode keeps the hash of a code that admits one device.
func (s *Store) PutCode(ctx context.Context, hash, by string, until time.Time) error {
	return s.changing(ctx, deed{words: "makes a code for a device"}, func(tx *gorm.DB) error {
		return tx.Exec("INSERT INTO device_codes (hash, by_name, until) VALUES (?, ?, ?)", hash, by, until).Error
	})
}

// TakeCode takes it away and says whose it was; empty when there is none that is good.
func (s *Store) TakeCode(ctx context.Context, hash string, at time.Time) (string, error) {
	var by []string
	err := s.writing(ctx, func(tx *gorm.DB) error {
		if err := tx.Raw("SELECT by_name FROM device_codes WHERE hash = ? AND until >= ?", hash, at).Scan(&by).Error; err != nil || len(by) == 0 {
			return err
		}
		return tx.Exec("DELETE FROM device_codes WHERE hash = ?", hash).Error
	})
	if err != nil || len(by) == 0 {
		return "", err
	}
	return by[0], nil
}

// Tries are the wrong ones in a row of something.
func (s *Store) Tries(ctx context.Context, of string) (people.Tries, error) {
	var r triesRow
	err := s.read.WithContext(ctx).Where("of = ?", of).Limit(1).Find(&r).Error
	return people.Tries{Wrong: r.Wrong, Last: r.Last}, told(err)
}

// SaveTries notes them; none takes them away.
func (s *Store) SaveTries(ctx context.Context, of string, t people.Tries) error {
	return s.writing(ctx, func(tx *gorm.DB) error {
		if t.Wrong == 0 {
			return tx.Where("of = ?", of).Delete(&triesRow{}).Error
		}
		return tx.Clauses(clause.OnConflict{UpdateAll: true}).Create(&triesRow{of, t.Wrong, t.Last}).Error
	})
}
