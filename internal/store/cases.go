package store

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strings"

	"gorm.io/gorm"

	"innercompass/internal/cases"
	"innercompass/internal/problem"
)

// Case returns one case with its history.
func (s *Store) Case(ctx context.Context, id string) (cases.Case, error) {
	var out cases.Case
	err := s.reading(ctx, func(tx *gorm.DB) error {
		var err error
		out, err = s.readCase(tx, id)
		return err
	})
	return out, err
}

// UnitOf returns the unit of a case with the version of its sheet.
func (s *Store) UnitOf(ctx context.Context, id string) (unit string, version int, err error) {
	var row caseRow
	err = s.reading(ctx, func(tx *gorm.DB) error {
		return tx.Select("unit_id", "unit_ver").Where("id = ?", id).First(&row).Error
	})
	return row.UnitID, row.UnitVer, notFound("case", id, err)
}

// Returns lists the cases that are returns of a case, oldest first.
func (s *Store) Returns(ctx context.Context, id string) ([]cases.Case, error) {
	return s.cases(ctx, func(tx *gorm.DB) *gorm.DB { return tx.Where("earlier = ?", id).Order("opened, id") })
}

// mostVisits is how many visits of one vehicle are listed.
const mostVisits = 50

// Visits lists the cases of a vehicle, newest first, by the keys that cases.Fold makes. A case without a customer is one
// of every customer's, and an empty customer is any.
func (s *Store) Visits(ctx context.Context, vehicle, customer string) ([]cases.Case, error) {
	return s.cases(ctx, func(tx *gorm.DB) *gorm.DB {
		return tx.Where("id IN (SELECT case_id FROM floor WHERE vehicle_key = ? AND (customer_key = '' OR ? = '' OR customer_key = ?))", vehicle, customer, customer).Order("opened DESC, id").Limit(mostVisits)
	})
}

// LastCases lists the heads of the cases that were opened last, newest first, without their histories.
func (s *Store) LastCases(ctx context.Context, most int) ([]cases.Case, error) {
	var out []cases.Case
	err := s.reading(ctx, func(tx *gorm.DB) error {
		var rows []caseRow
		if err := tx.Order("opened DESC, id").Limit(most).Find(&rows).Error; err != nil {
			return err
		}
		for _, r := range rows {
			out = append(out, cases.Case{ID: r.ID, Vehicle: r.Vehicle, Customer: r.Customer, Distance: r.Distance, UnitID: r.UnitID, Opened: r.Opened})
		}
		return nil
	})
	return out, err
}

// cases reads the cases of a query with their histories, all as of one moment.
func (s *Store) cases(ctx context.Context, which func(*gorm.DB) *gorm.DB) ([]cases.Case, error) {
	var out []cases.Case
	err := s.reading(ctx, func(tx *gorm.DB) error {
		var rows []caseRow
		if err := which(tx).Find(&rows).Error; err != nil {
			return err
		}
		for _, r := range rows {
			c, err := s.fill(tx, r)
			if err != nil {
				return err
			}
			out = append(out, c)
		}
		return nil
	})
	return out, err
}

func (s *Store) readCase(tx *gorm.DB, id string) (cases.Case, error) {
	var row caseRow
	if err := tx.Where("id = ?", id).First(&row).Error; err != nil {
		return cases.Case{}, notFound("case", id, err)
	}
	return s.fill(tx, row)
}

func notFound(kind, id string, err error) error {
	if errors.Is(err, gorm.ErrRecordNotFound) {
		return &problem.NotFoundError{Kind: kind, ID: id}
	}
	return err
}

func (s *Store) fill(tx *gorm.DB, row caseRow) (cases.Case, error) {
	c := toCase(row)
	var readings []readingRow
	var marks []markRow
	var decisions []decisionRow
	var proofs []proofRow
	var measurements []measurementRow
	var estimates []estimateRow
	var records []recordRow
	var photos []photoRow
	var bench []benchRow
	var signed []countersignRow
	var ended []string
	for _, q := range []error{
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&readings).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&measurements).Error,
		tx.Where("case_id = ?", row.ID).Order("at, ref").Find(&marks).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&decisions).Error,
		tx.Where("case_id = ?", row.ID).Order("at, item").Find(&proofs).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&estimates).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&records).Error,
		tx.Where("case_id = ?", row.ID).Order("at, id").Find(&photos).Error,
		tx.Where("case_id = ?", row.ID).Order("seq").Find(&bench).Error,
		tx.Where("case_id = ?", row.ID).Find(&signed).Error,
		tx.Raw("SELECT estimate_id FROM ended_links WHERE estimate_id IN (SELECT id FROM estimates WHERE case_id = ?)", row.ID).Scan(&ended).Error,
	} {
		if q != nil {
			return c, q
		}
	}
	for _, r := range readings {
		reading, err := toReading(r)
		if err != nil {
			return c, err
		}
		c.Readings = append(c.Readings, reading)
	}
	for _, m := range measurements {
		kept, err := toMeasurement(m)
		if err != nil {
			return c, err
		}
		c.Measurements = append(c.Measurements, kept)
	}
	for _, m := range marks {
		c.Marks = append(c.Marks, cases.Mark{Kind: m.Kind, Ref: m.Ref, Note: m.Note, By: m.Person, At: m.At})
	}
	for _, d := range decisions {
		c.Decisions = append(c.Decisions, cases.Decision{ID: d.ID, Seq: d.Seq, Option: d.OptionID, Choice: d.Choice, Words: d.Words, Ceiling: d.Ceiling, By: d.Person, At: d.At, Snapshot: d.Snapshot, Digest: d.Digest, Estimate: d.Estimate, Awaits: d.Awaits})
	}
	for _, o := range estimates {
		c.Estimates = append(c.Estimates, cases.Estimate{ID: o.ID, Seq: o.Seq, TokenHash: o.Token, By: o.Person, At: o.At, Expires: o.Expires, Fingerprint: o.Rests, Snapshot: o.Snapshot, Digest: o.Digest})
	}
	for _, n := range signed {
		if i := slices.IndexFunc(c.Decisions, func(d cases.Decision) bool { return d.ID == n.DecisionID }); i >= 0 {
			c.Decisions[i].Signed = &cases.Countersign{Decision: n.DecisionID, By: n.Person, At: n.At}
		}
	}
	for i, o := range c.Estimates {
		c.Estimates[i].Ended = slices.Contains(ended, o.ID)
	}
	for _, r := range records {
		c.Records = append(c.Records, cases.Record{ID: r.ID, Seq: r.Seq, Amends: r.Amends, Why: r.Why, By: r.Person, At: r.At, Content: r.Content, Digest: r.Digest})
	}
	for _, p := range photos {
		c.Photos = append(c.Photos, cases.Photo{ID: p.ID, Key: p.Key, Digest: p.Digest, Type: p.Type, Caption: p.Caption, Stage: p.Stage, Width: p.Width, Height: p.Height, By: p.Person, At: p.At, Gone: p.Gone, Part: p.Part})
	}
	for _, n := range bench {
		c.Bench = append(c.Bench, cases.BenchNote{ID: n.ID, Key: n.Key, Seq: n.Seq, Kind: n.Kind, Part: n.Part, Ref: n.Ref, Value: n.Value, Words: n.Words, Readings: ids(n.Readings), By: n.Person, At: n.At, Withdraws: n.Withdraws})
	}
	for _, p := range proofs {
		c.Proofs = append(c.Proofs, cases.Proof{Item: p.Item, Result: p.Result, Note: p.Note, By: p.Person, At: p.At})
	}
	s.shown(&c)
	return c, s.signatures(tx, &c)
}

func toMeasurement(r measurementRow) (cases.Measurement, error) {
	out := cases.Measurement{ID: r.ID, Key: r.Key, Instrument: r.Instrument, Check: r.CheckID, Seq: r.Seq, Gauge: r.Gauge, GaugeName: r.GaugeName, Value: r.Value, Says: r.Says, By: r.Person, At: r.At, Withdraws: r.Withdraws}
	return out, json.Unmarshal([]byte(r.Typed), &out.Values)
}

// ids reads a list of ids, which hold no commas.
func ids(text string) []string {
	if text == "" {
		return nil
	}
	return strings.Split(text, ",")
}

func toCase(r caseRow) cases.Case {
	return cases.Case{ID: r.ID, Words: r.Words, Vehicle: r.Vehicle, Customer: r.Customer, Distance: r.Distance, UnitID: r.UnitID, UnitVer: r.UnitVer, Stage: r.Stage,
		Access: r.Access, Bay: r.Bay, Owner: r.Owner, WaitsFor: r.WaitsFor, Opened: r.Opened, Closed: r.Closed, Root: r.Root, Outcome: r.Outcome, Rev: r.Rev, Sample: r.Sample, Nearest: r.Nearest,
		Earlier: r.Earlier, DueAt: r.DueAt, DueDistance: r.DueDistance, DueNote: r.DueNote, Damages: ids(r.Damages), CuredBy: r.CuredBy, Learnt: r.Learnt}
}

func fromCase(c cases.Case) caseRow {
	return caseRow{ID: c.ID, Words: c.Words, Vehicle: c.Vehicle, Customer: c.Customer, Distance: c.Distance, UnitID: c.UnitID, UnitVer: c.UnitVer, Stage: c.Stage,
		Access: c.Access, Bay: c.Bay, Owner: c.Owner, WaitsFor: c.WaitsFor, Opened: c.Opened, Closed: c.Closed, Root: c.Root, Outcome: c.Outcome, Rev: c.Rev, Sample: c.Sample, Nearest: c.Nearest,
		Earlier: c.Earlier, DueAt: c.DueAt, DueDistance: c.DueDistance, DueNote: c.DueNote, Damages: strings.Join(c.Damages, ","), CuredBy: c.CuredBy, Learnt: c.Learnt}
}

func toReading(r readingRow) (cases.Reading, error) {
	out := cases.Reading{ID: r.ID, Seq: r.Seq, Key: r.Key, Finding: r.Finding, State: r.State, Source: r.Source, Stage: r.Stage, Check: r.CheckID,
		Value: r.Value, Note: r.Note, By: r.Person, At: r.At, Withdraws: r.Withdraws, Measurement: r.Measurement}
	if r.Likelihood == "" {
		return out, nil
	}
	return out, json.Unmarshal([]byte(r.Likelihood), &out.Likelihood)
}

func fromReading(caseID string, r cases.Reading) (readingRow, error) {
	likelihood := ""
	if r.Likelihood != nil {
		data, err := json.Marshal(r.Likelihood)
		if err != nil {
			return readingRow{}, err
		}
		likelihood = string(data)
	}
	return readingRow{ID: r.ID, CaseID: caseID, Seq: r.Seq, Key: r.Key, Finding: r.Finding, State: r.State, Source: r.Source, Stage: r.Stage, CheckID: r.Check,
		Value: r.Value, Note: r.Note, Likelihood: likelihood, Person: r.By, At: r.At, Withdraws: r.Withdraws, Measurement: r.Measurement}, nil
}

// CaseIDs are those of all cases, the oldest first.
func (s *Store) CaseIDs(ctx context.Context) ([]string, error) {
	var ids []string
	err := s.read.WithContext(ctx).Raw("SELECT id FROM cases ORDER BY opened, id").Scan(&ids).Error
	return ids, told(err)
}
