package store

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"gorm.io/gorm"

	"innercompass/internal/library"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// Settings returns the shop's settings, the defaults in a new folder.
func (s *Store) Settings(ctx context.Context) (shop.Settings, error) {
	out, err := settings(s.read.WithContext(ctx))
	return out, told(err)
}

func settings(tx *gorm.DB) (shop.Settings, error) {
	var row settingRow
	err := tx.Where("id = 1").First(&row).Error
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return shop.DefaultSettings(), nil
	}
	return shop.Settings{Shop: row.Shop, Currency: row.Currency, LabourRate: row.LabourRate, FluidLitre: row.FluidLitre, Goodwill: row.Goodwill, Pressure: row.Pressure,
		Length: row.Length, Torque: row.Torque, Volume: row.Volume, Temperature: row.Temperature, Distance: row.Distance, Rev: row.Rev,
		Tax: row.Tax, Consumables: row.Consumables, Guide: row.Guide, Warranty: row.Warranty, Address: row.Address, Numbers: row.Numbers, Zone: zone(row.Zone)}, err
}

// zone is that of a shop which has chosen one, else that of the machine.
func zone(chosen string) string {
	if chosen == "" {
		return shop.MachineZone()
	}
	return chosen
}

// SaveSettings writes the settings if nobody else has since revision rev.
func (s *Store) SaveSettings(ctx context.Context, n shop.Settings, rev int) error {
	d := deed{words: "settings"}
	d.touch("settings/1", "1")
	return s.changing(ctx, d, func(tx *gorm.DB) error {
		var now int
		if err := tx.Raw("SELECT COALESCE(MAX(rev), 0) FROM settings").Scan(&now).Error; err != nil {
			return err
		}
		if now != rev {
			return problem.ErrChanged
		}
		if err := errors.Join(tx.Exec("DELETE FROM settings WHERE id = 1").Error, raise(tx, shopRevision)); err != nil {
			return err
		}
		return tx.Create(&settingRow{1, n.Shop, n.Currency, n.LabourRate, n.FluidLitre, n.Goodwill, n.Pressure, n.Length, n.Torque, n.Volume, n.Temperature, n.Distance, rev + 1, n.Tax, n.Consumables, n.Guide, n.Warranty, n.Address, n.Numbers, n.Zone}).Error
	})
}

// Gauges returns the measuring tools of the shop, by name.
func (s *Store) Gauges(ctx context.Context) ([]shop.Gauge, error) {
	return gauges(s.read.WithContext(ctx))
}

func gauges(tx *gorm.DB) ([]shop.Gauge, error) {
	var rows []gaugeRow
	if err := tx.Order("name, id").Find(&rows).Error; err != nil {
		return nil, err
	}
	out := make([]shop.Gauge, len(rows))
	for i, r := range rows {
		out[i] = shop.Gauge(r)
	}
	return out, nil
}

// SaveGauges replaces the measuring tools of the shop, if same does not object to those that are stored now.
func (s *Store) SaveGauges(ctx context.Context, all []shop.Gauge, same func(now []shop.Gauge) error) error {
	return s.changing(ctx, deed{words: fmt.Sprintf("gauges: %d", len(all))}, func(tx *gorm.DB) error {
		now, err := gauges(tx)
		if err != nil {
			return err
		}
		if err := same(now); err != nil {
			return err
		}
		if err := tx.Exec("DELETE FROM gauges").Error; err != nil {
			return err
		}
		for _, g := range all {
			row := gaugeRow(g)
			if err := tx.Create(&row).Error; err != nil {
				return err
			}
		}
		return nil
	})
}

// LabLayout returns what the columns of a laboratory's table with these heads were taken for.
func (s *Store) LabLayout(ctx context.Context, heads string) ([]string, error) {
	var row labLayoutRow
	if err := s.read.WithContext(ctx).Where("heads = ?", heads).First(&row).Error; err != nil {
		return nil, notFound("laboratory's layout", heads, err)
	}
	var out []string
	return out, json.Unmarshal([]byte(row.Fields), &out)
}

// SaveLabLayout remembers it, in place of what was remembered before.
func (s *Store) SaveLabLayout(ctx context.Context, heads string, fields []string) error {
	data, err := json.Marshal(fields)
	if err != nil {
		return err
	}
	return s.changing(ctx, deed{words: "layout of a laboratory's table"}, func(tx *gorm.DB) error { return tx.Save(&labLayoutRow{heads, string(data)}).Error })
}

// Sheets lists all stored unit sheets, without their text.
func (s *Store) Sheets(ctx context.Context) ([]library.StoredSheet, error) {
	var rows []sheetRow
	if err := s.read.WithContext(ctx).Select("unit_id", "version", "name", "person", "at").Order("unit_id, version").Find(&rows).Error; err != nil {
		return nil, err
	}
	out := make([]library.StoredSheet, len(rows))
	for i, r := range rows {
		out[i] = toSheet(r)
	}
	return out, nil
}

// Sheet returns one version of a unit sheet.
func (s *Store) Sheet(ctx context.Context, unitID string, version int) (library.StoredSheet, error) {
	var row sheetRow
	err := s.read.WithContext(ctx).Where("unit_id = ? AND version = ?", unitID, version).First(&row).Error
	return toSheet(row), notFound("unit sheet", unitID, err)
}

// AddSheet stores a new version of a unit sheet.
func (s *Store) AddSheet(ctx context.Context, n library.StoredSheet) error {
	d := deed{words: fmt.Sprintf("sheet of %s, version %d", n.UnitID, n.Version)}
	d.touch("sheets/1", fmt.Sprintf("%s %d", n.UnitID, n.Version))
	err := s.changing(ctx, d, func(tx *gorm.DB) error {
		return tx.Create(&sheetRow{n.UnitID, n.Version, n.Name, n.Text, n.By, n.At}).Error
	})
	if taken(err) {
		return problem.ErrRepeated
	}
	return err
}

func toSheet(r sheetRow) library.StoredSheet {
	return library.StoredSheet{UnitID: r.UnitID, Version: r.Version, Name: r.Name, Text: r.Text, By: r.Person, At: r.At}
}
