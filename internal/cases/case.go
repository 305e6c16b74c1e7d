// Package cases holds a case as it is kept, from complaint to proof, and the one way of changing it: held, checked against what the
// page knew, added to, all or nothing.
package cases

import (
	"time"

	"innercompass/core/diagnose"
	"innercompass/core/knowledge"
	"innercompass/internal/shop"
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
	Sample   bool   // made up, to be tried and removed
	Nearest  bool   // the vehicle's own unit is not on file: its sheet is the nearest

	Readings     []Reading
	Measurements []Measurement
	Marks        []Mark
	Decisions    []Decision
	Proofs       []Proof
	Estimates    []Estimate
	Records      []Record
	Photos       []Photo
	Bench        []BenchNote

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
	Token       string // of the link; empty when it cannot be shown again
	TokenHash   string // SHA-256 of the token: all that is kept of it
	Ended       bool   // its time was over once, whatever the clock says now
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

	KeyID     string // of the shop's key that it is signed with; empty when it was issued before there was one
	Signature []byte
}

// Photo is a picture taken in a case; its file is kept by its digest.
type Photo struct {
	ID, Key, Digest, Type, Caption, Stage, By string
	Part                                      string // of the stack, that it shows; "" for none
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

// BenchNote is one thing that was done or found while the unit is apart. Notes are only ever added: undoing is a new one that takes
// the old one back. What they mean says core/workbench.
type BenchNote struct {
	ID, Key                       string
	Seq                           int
	Kind, Part, Ref, Value, Words string
	Readings                      []string // ids of the readings that it made
	By                            string
	At                            time.Time
	Withdraws                     string
}

// Wordless is what somebody noted in words because no finding says it.
type Wordless struct {
	Case, Vehicle, Unit, Stage, Note, By string
	At                                   time.Time
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
	Awaits   bool   // it was noted by an apprentice and waits for a countersign
	Signed   *Countersign
}

// Countersign is the name under a decision that an apprentice has noted.
type Countersign struct {
	Decision string // id
	By       string
	At       time.Time
}

// Waiting reports whether the countersign is still to come.
func (d Decision) Waiting() bool { return d.Awaits && d.Signed == nil }

// Waiting is the decision of a case that waits for a countersign; nil when none does.
func (c Case) Waiting() *Decision {
	for i, d := range c.Decisions {
		if d.Waiting() {
			return &c.Decisions[i]
		}
	}
	return nil
}

// Proof is one item that shows that the repair worked.
type Proof struct {
	Item   string
	Result string // pass, fail, open
	Note   string
	By     string
	At     time.Time
}

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

// Words is what a reading says: the words of its state, or what was noted because no finding says it.
func (r Reading) Words(f knowledge.Finding) string {
	if r.Finding == knowledge.Wordless {
		return r.Note
	}
	return f.StateTitle(r.State)
}

// NoteOf is what was noted with a mark, "" when there is none.
func (c Case) NoteOf(kind, ref string) string {
	for _, m := range c.Marks {
		if m.Kind == kind && m.Ref == ref {
			return m.Note
		}
	}
	return ""
}

// Marked returns the refs of the marks of one kind.
func (c Case) Marked(kind string) []string {
	var out []string
	for _, m := range c.Marks {
		if m.Kind == kind {
			out = append(out, m.Ref)
		}
	}
	return out
}

// Situation is what the suspects of a case depend on, with these of its readings.
func (c Case) Situation(readings []Reading) diagnose.Situation {
	return diagnose.Situation{Readings: Evidence(readings), Distance: shop.Kilometres(c.Distance)}
}

// Evidence is readings as the computation takes them.
func Evidence(readings []Reading) []diagnose.Reading {
	out := make([]diagnose.Reading, len(readings))
	for i, r := range readings {
		out[i] = diagnose.Reading{ID: r.ID, Finding: r.Finding, State: r.State, Source: r.Source, Likelihood: r.Likelihood}
	}
	return out
}
