package casework

import (
	"context"
	"errors"
	"fmt"
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/quantity"
)

// Stages of a case in order.
var Stages = []string{"complaint", "road", "checks", "teardown", "decision", "proof"}

// StageTitle is a stage as people call it.
func StageTitle(stage string) string {
	if stage == "road" {
		return "road test"
	}
	return stage
}

// Case is one visit of one vehicle for one complaint, as stored.
type Case struct {
	ID       string
	Words    string // the complaint in the customer's words
	Vehicle  string
	Customer string
	Distance string // as written, such as "142310 km" or "6120 h"
	UnitID   string
	UnitVer  int
	Stage    string
	Access   string
	Bay      string
	Owner    string
	WaitsFor string
	Opened   time.Time
	Closed   *time.Time
	Root     string // confirmed root cause, once closed
	Outcome  string // cured, not-cured, declined
	Rev      int    // grows with every change

	Readings     []Reading
	Measurements []Measurement
	Marks        []Mark
	Decisions    []Decision
	Proofs       []Proof
	Estimates    []Estimate
	Records      []Record
	Photos       []Photo

	Earlier     string // id of an earlier case of the same vehicle that this is a return of; empty when it is none
	DueAt       string // of the recheck: a day, 2006-01-02; empty when none is due
	DueDistance string // and a distance
	DueNote     string

	Damages []string // found, once closed
	CuredBy string   // option that cured it, once closed
	Learnt  string
}

// Estimate is an estimate that was put before the customer: frozen, with a private link to answer it until it ends.
type Estimate struct {
	ID          string
	Seq         int
	Token       string // of the link
	By          string
	At          time.Time
	Expires     time.Time
	Fingerprint string // digest of what it rests on: when that changes the estimate is stale
	Snapshot    []byte // JSON of Snapshot
	Digest      string // SHA-256 of Snapshot, hexadecimal
}

// Record is a record that was issued. It is never altered: an amendment is another record that names it.
type Record struct {
	ID      string
	Seq     int
	Amends  string // id of the record that it amends; empty when none
	Why     string // of an amendment
	By      string
	At      time.Time
	Content []byte // JSON of RecordContent
	Digest  string // SHA-256 of Content, hexadecimal
}

// Photo is a picture taken in a case; its file is kept by its digest.
type Photo struct {
	ID, Key, Digest, Type, Caption, Stage, By string
	Width, Height                             int
	At                                        time.Time
	Gone                                      bool // taken out of the case; the file stays where a record shows it
}

// Reading is one observed finding. Readings are only ever added: a correction is a new one
// that withdraws the old.
type Reading struct {
	ID          string
	Seq         int
	Key         string // idempotency key of the page that made it
	Finding     string
	State       string
	Source      string
	Stage       string
	Check       string
	Value       string
	Note        string
	Likelihood  []float64
	By          string
	At          time.Time
	Withdraws   string // id of the reading that this one takes back; Finding is empty then if nothing replaces it
	Measurement string // id of the measurement that stated it; empty when none did
}

// Measurement is an instrument that was used and what it came to, as it was written then. Measurements are only ever
// added: one is taken back by another that withdraws it.
type Measurement struct {
	ID, Key, Instrument, Check string // Instrument is id or id:part
	Seq                        int
	Gauge, GaugeName           string // empty for the usual gauge
	Values                     map[string]string
	Value, Says                string // first result and headline
	By                         string
	At                         time.Time
	Withdraws                  string
}

// Mark notes what was set aside, acknowledged or done.
type Mark struct {
	Kind string // skip, acknowledge
	Ref  string // id of a check
	Note string
	By   string
	At   time.Time
}

// Decision is what the customer chose, with everything it rested on, frozen.
type Decision struct {
	ID       string
	Seq      int
	Option   string
	Estimate string // id of the estimate that it answers; empty when it was told
	Choice   string // accepted or declined
	Words    string
	Ceiling  string
	By       string
	At       time.Time
	Snapshot []byte // JSON of Snapshot
	Digest   string // SHA-256 of Snapshot, hexadecimal
}

// Proof is one item that shows that the repair worked.
type Proof struct {
	Item   string
	Result string // pass, fail, open
	Note   string
	By     string
	At     time.Time
}

// Settings are the shop's.
type Settings struct {
	Shop        string
	Currency    string
	LabourRate  float64 // per hour
	FluidLitre  float64 // per litre
	Goodwill    float64 // what a return costs beyond the work
	Tax         float64 // share on top of an estimate's sum
	Consumables float64 // share of an estimate for small parts, cleaning, disposal
	Guide       bool    // the app's guide prices count where the price book has none
	Warranty    string  // what the shop promises, as it stands on its records
	Address     string  // of the shop, as it stands on its records
	Pressure    string  // units of measure in use
	Length      string
	Torque      string
	Volume      string
	Temperature string
	Distance    string
	Numbers     string // how numbers are written, by a sample: 1,234.5
	Zone        string // in which its days begin and end, such as Europe/Oslo
	Rev         int
}

// Unit returns the unit in use for a dimension, or fallback where the shop has no choice. A vacuum, a stress and a small
// volume keep their own unit; what the shop has no choice for follows its lengths into feet and pounds.
func (s Settings) Unit(d quantity.Dimension, fallback string) string {
	customary := s.Length == "in"
	switch {
	case fallback == "kPa" && customary:
		return "inHg"
	case fallback == "kPa", fallback == "MPa", fallback == "cc":
		return fallback
	}
	switch d {
	case quantity.Pressure:
		return s.Pressure
	case quantity.Length:
		return s.Length
	case quantity.Torque:
		return s.Torque
	case quantity.Volume:
		return s.Volume
	case quantity.Temperature:
		return s.Temperature
	case quantity.Distance:
		return s.Distance
	}
	if other := quantity.OtherSystem(d, fallback); customary && len(other) > 0 && fallback != "g" && !quantity.Customary(d, fallback) {
		return other[0]
	}
	return fallback
}

// Person works in the shop.
type Person struct{ ID, Name, Role string }

// DefaultSettings are those of a new data folder.
func DefaultSettings() Settings {
	return Settings{Shop: "", Currency: "€", LabourRate: 84, FluidLitre: 11, Goodwill: 180,
		Guide: true, Numbers: quantity.Styles[0].Sample(), Zone: MachineZone(), Pressure: "psi", Length: "mm", Torque: "N·m", Volume: "L", Temperature: "°C", Distance: "km"}
}

// Store keeps cases. Every method is one transaction; what it returns is complete. What the drive or the database refuses
// comes back as a StorageError.
type Store interface {
	Case(ctx context.Context, id string) (Case, error)
	// CreateCase stores a new case. A key that was used for the same before gives the id of that case, with ErrRepeated.
	CreateCase(ctx context.Context, c Case, d Done) (id string, err error)
	// Standing reads what a change is computed from, all as of one moment, with what the guard's key was used for before. It and
	// Change fail with ErrChanged for a case that has moved on from the guard's revision, unless the key was used before.
	Standing(ctx context.Context, id string, g Guard) (Standing, error)
	// Change holds a case, hands it to f, and keeps what f answers: nobody else writes meanwhile. When f fails nothing is kept.
	// It returns the case as it then stands. f must be quick, and must not ask the store for anything.
	Change(ctx context.Context, id string, g Guard, f func(Held) (Changes, error)) (Case, error)
	// Returns are the cases that are returns of a case; Visits those of a vehicle, by keys that Fold makes.
	Returns(ctx context.Context, id string) ([]Case, error)
	Visits(ctx context.Context, vehicle, customer string) ([]Case, error)
	// Floor lists one page of cases; SaveFloor keeps what was computed of one for it, StaleFloor names those to be computed.
	Floor(ctx context.Context, q FloorQuery) (FloorPage, error)
	SaveFloor(ctx context.Context, id string, rev int, basis string, a FloorAnswer) error
	StaleFloor(ctx context.Context, basis string, most int) ([]string, error)
	// EstimateCase is the case of the estimate with this token; RecordOf that of the record with this digest, and whether the
	// record still has the seal that it was issued with.
	EstimateCase(ctx context.Context, token string) (string, error)
	RecordOf(ctx context.Context, digest string) (caseID string, sealed bool, err error)
	// PutFile keeps a file under its SHA-256 digest.
	PutFile(ctx context.Context, digest string, data []byte) error
	File(ctx context.Context, digest string) ([]byte, error)
	Prices(ctx context.Context) (Book, error)
	// SavePrices replaces the price book if same, which is given the one stored now, does not object.
	SavePrices(ctx context.Context, b Book, same func(now Book) error) error
	Settings(ctx context.Context) (Settings, error)
	SaveSettings(ctx context.Context, s Settings, rev int) error
	// Sheets lists all stored unit sheets without their text.
	Sheets(ctx context.Context) ([]StoredSheet, error)
	Sheet(ctx context.Context, unitID string, version int) (StoredSheet, error)
	// AddSheet stores a version; one that is there already reports ErrRepeated.
	AddSheet(ctx context.Context, s StoredSheet) error
	People(ctx context.Context) ([]Person, error)
	// Gauges are the measuring tools of the shop, by name; SaveGauges replaces them, if same does not object to those that are
	// stored now.
	Gauges(ctx context.Context) ([]Gauge, error)
	SaveGauges(ctx context.Context, gauges []Gauge, same func(now []Gauge) error) error
	// LabLayout is what the columns of a laboratory's table with these heads were taken for the last time.
	LabLayout(ctx context.Context, heads string) ([]string, error)
	SaveLabLayout(ctx context.Context, heads string, fields []string) error
	AddPerson(ctx context.Context, p Person) error
}

// Errors that the store and the use cases share.
var (
	ErrNotFound = errors.New("not found")
	ErrChanged  = errors.New("changed by someone else meanwhile")
	ErrRepeated = errors.New("saved already")
)

// FieldError says which field is wrong and what would be accepted.
type FieldError struct{ Field, Reason, Accepted string }

func (e *FieldError) Error() string {
	s := e.Field + ": " + e.Reason
	if e.Accepted != "" {
		s += "; accepted: " + e.Accepted
	}
	return s
}

// NotFoundError names what was not found.
type NotFoundError struct{ Kind, ID, Accepted string }

func (e *NotFoundError) Error() string {
	s := fmt.Sprintf("no %s %q", e.Kind, e.ID)
	if e.Accepted != "" {
		s += "; accepted: " + e.Accepted
	}
	return s
}

func (e *NotFoundError) Unwrap() error { return ErrNotFound }

// StateError says that the case is not in a state for this.
type StateError struct{ Reason, Accepted string }

func (e *StateError) Error() string { return e.Reason + "; " + e.Accepted }

// StorageError says that the data folder did not take something, and what to do. Nothing of it was saved.
type StorageError struct{ Reason, Do string }

func (e *StorageError) Error() string { return e.Reason + "; " + e.Do }

// Valid returns the readings that stand: neither withdrawals nor withdrawn.
func (c Case) Valid() []Reading {
	gone := map[string]bool{}
	for _, r := range c.Readings {
		if r.Withdraws != "" {
			gone[r.Withdraws] = true
		}
	}
	var out []Reading
	for _, r := range c.Readings {
		if r.Finding != "" && !gone[r.ID] {
			out = append(out, r)
		}
	}
	return out
}

// marked returns the refs of the marks of one kind.
func (c Case) marked(kind string) []string {
	var out []string
	for _, m := range c.Marks {
		if m.Kind == kind {
			out = append(out, m.Ref)
		}
	}
	return out
}

// situation is what the suspects of a case depend on, with these of its readings.
func (c Case) situation(readings []Reading) diagnose.Situation {
	return diagnose.Situation{Readings: evidence(readings), Distance: kilometres(c.Distance)}
}

func evidence(readings []Reading) []diagnose.Reading {
	out := make([]diagnose.Reading, len(readings))
	for i, r := range readings {
		out[i] = diagnose.Reading{ID: r.ID, Finding: r.Finding, State: r.State, Source: r.Source, Likelihood: r.Likelihood}
	}
	return out
}
