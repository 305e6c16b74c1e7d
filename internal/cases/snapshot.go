package cases

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"innercompass/core/knowledge"
)

// Snapshot is everything that a decision, or an estimate, rested on. It is kept as JSON, and its digest proves that it was not
// changed; fields are only ever added. Amounts named in minor units are hundredths of the currency.
type Snapshot struct {
	Format    string            `json:"format"`
	At        time.Time         `json:"at"`
	Shop      string            `json:"shop"`
	Currency  string            `json:"currency"`
	Words     string            `json:"words"`
	Vehicle   string            `json:"vehicle"`
	Customer  string            `json:"customer"`
	Distance  string            `json:"distance"`
	Unit      string            `json:"unit"`
	UnitName  string            `json:"unit_name"`
	UnitVer   int               `json:"unit_version"`
	Knowledge string            `json:"knowledge"`
	Access    string            `json:"access"`
	Readings  []SnapshotReading `json:"readings"`
	Suspects  []SnapshotSuspect `json:"suspects"`
	Chain     []string          `json:"chain"`
	Options   []SnapshotOption  `json:"options"`
	BreakEven string            `json:"break_even"`
	Chosen    string            `json:"chosen"`
	Choice    string            `json:"choice"`
	Said      string            `json:"customer_said"`
	Ceiling   string            `json:"ceiling"`
	By        string            `json:"by"`
	Limits    string            `json:"limits"`

	How       string             `json:"how,omitempty"`  // in-person, phone, signed or link
	Name      string             `json:"name,omitempty"` // who decided
	Signature string             `json:"signature,omitempty"`
	Estimate  string             `json:"estimate,omitempty"`
	AddOns    []SnapshotAddOn    `json:"add_ons,omitempty"`
	Advised   string             `json:"advised,omitempty"` // id of the option that stood first
	Bill      *SnapshotOption    `json:"bill,omitempty"`    // the option chosen with its add-ons
	TaxRate   float64            `json:"tax_rate,omitempty"`
	Warranty  string             `json:"warranty,omitempty"`
	Watch     *SnapshotWatch     `json:"watch,omitempty"`
	Set       map[string]float64 `json:"set,omitempty"`     // prices and times set for this estimate alone
	Numbers   string             `json:"numbers,omitempty"` // how numbers are written, by a sample
	Zone      string             `json:"zone,omitempty"`    // of the shop's days
}

// SnapshotAddOn is an option that was done in the same visit.
type SnapshotAddOn struct {
	ID    string `json:"id"`
	Title string `json:"title"`
}

// SnapshotWatch is what leaving it alone would mean.
type SnapshotWatch struct {
	IntervalKm float64        `json:"interval_km"`
	Hazard     string         `json:"hazard,omitempty"`
	Next       []SnapshotNext `json:"next"`
}

// SnapshotNext is a damage that would come about.
type SnapshotNext struct {
	Title       string  `json:"title"`
	By          string  `json:"by"`
	Probability float64 `json:"probability"`
	Cost        int64   `json:"cost_minor"`
}

// SnapshotReading is a reading as it stood.
type SnapshotReading struct {
	Finding string    `json:"finding"`
	Title   string    `json:"title"`
	State   string    `json:"state"`
	Words   string    `json:"words"`
	Value   string    `json:"value,omitempty"`
	Source  string    `json:"source"`
	By      string    `json:"by,omitempty"`
	At      time.Time `json:"at"`
	Weight  float64   `json:"weight_db"`
}

// SnapshotSuspect is a suspect as it stood.
type SnapshotSuspect struct {
	Cause       string  `json:"cause"`
	Title       string  `json:"title"`
	Probability float64 `json:"probability"`
}

// SnapshotOption is an option as it was offered.
type SnapshotOption struct {
	ID       string         `json:"id"`
	Title    string         `json:"title"`          // with what goes with it
	With     []string       `json:"with,omitempty"` // ids of that
	Labour   float64        `json:"labour"`
	Parts    float64        `json:"parts"`
	Fluid    float64        `json:"fluid"`
	Sure     float64        `json:"pay_now"`
	Cured    float64        `json:"cured"`
	Return   float64        `json:"expected_return"`
	Expected float64        `json:"expected_total"`
	Quality  string         `json:"quality,omitempty"`
	Lines    []SnapshotLine `json:"lines,omitempty"`
	Net      int64          `json:"net_minor,omitempty"`
	Tax      int64          `json:"tax_minor,omitempty"`
	Pay      int64          `json:"pay_minor,omitempty"`
	Missing  []string       `json:"missing,omitempty"`
	Hazard   string         `json:"hazard,omitempty"`
}

// SnapshotLine is one line of an estimate.
type SnapshotLine struct {
	Title   string  `json:"title"`
	Kind    string  `json:"kind"`
	Count   float64 `json:"count"`
	Per     string  `json:"per,omitempty"`
	Each    int64   `json:"each_minor"`
	Total   int64   `json:"total_minor"`
	From    string  `json:"from"`
	Quality string  `json:"quality,omitempty"`
}

// SnapshotFormat names the form of a snapshot.
const SnapshotFormat = "inner-compass-decision/2"

// EncodeWithDigest is a value as JSON with its digest.
func EncodeWithDigest(v any) (data []byte, digest string, err error) {
	if data, err = json.Marshal(v); err != nil {
		return nil, "", err
	}
	sum := sha256.Sum256(data)
	return data, hex.EncodeToString(sum[:]), nil
}

// DecodeWithDigest reads what was sealed, after comparing its digest.
func DecodeWithDigest[T any](data []byte, digest, what string) (T, error) {
	var out T
	if sum := sha256.Sum256(data); hex.EncodeToString(sum[:]) != digest {
		return out, fmt.Errorf("%s does not match its digest: the data folder was changed from outside", what)
	}
	return out, json.Unmarshal(data, &out)
}

// States of an estimate.
const (
	EstimateOpen     = "open"
	EstimateAnswered = "answered"
	EstimateExpired  = "expired"
	EstimateReplaced = "replaced" // by a later one, or by an answer that was told
	EstimateStale    = "stale"    // what it rests on has changed
)

// EstimateState is the state of an estimate as far as the case alone tells; whether it is stale takes a comparison.
func (c Case) EstimateState(i int, now time.Time) string {
	o := c.Estimates[i]
	switch {
	case slices.ContainsFunc(c.Decisions, func(d Decision) bool { return d.Estimate == o.ID }):
		return EstimateAnswered
	case o.Ended || !now.Before(o.Expires):
		return EstimateExpired
	case i != len(c.Estimates)-1 || told(c, o):
		return EstimateReplaced
	}
	return EstimateOpen
}

// told reports whether the customer has answered in another way since: an estimate does not outlive that.
func told(c Case, e Estimate) bool {
	return slices.ContainsFunc(c.Decisions, func(d Decision) bool { return d.Estimate != e.ID && d.At.After(e.At) })
}

// agreed is the decision that the repair goes by: the last that was accepted, with what it was priced as.
func (c Case) agreed() (Snapshot, bool) {
	for _, d := range slices.Backward(c.Decisions) {
		var snap Snapshot
		if d.Choice == "accepted" && json.Unmarshal(d.Snapshot, &snap) == nil {
			return snap, true
		}
	}
	return Snapshot{}, false
}

// AgreedWork are the options that were agreed on; none without a decision.
func (c Case) AgreedWork(n *knowledge.Network) []knowledge.Option {
	snap, ok := c.agreed()
	if !ok {
		return nil
	}
	ids := []string{snap.Chosen}
	for _, o := range snap.Options {
		if o.ID == snap.Chosen {
			ids = append(ids, o.With...)
		}
	}
	for _, a := range snap.AddOns {
		ids = append(ids, a.ID)
	}
	return slices.DeleteFunc(slices.Clone(n.Options), func(o knowledge.Option) bool { return !slices.Contains(ids, o.ID) || o.Strategy == "watch" })
}

// RecordNumber is the number that stands on a record.
func RecordNumber(caseID string, seq int) string { return fmt.Sprintf("%s-%d", caseID, seq) }

// Pictures are those that were not taken out.
func (c Case) Pictures() []Photo {
	return slices.DeleteFunc(slices.Clone(c.Photos), func(p Photo) bool { return p.Gone })
}

// Kept returns the measurements that stand, oldest first: neither withdrawn, nor with all that they stated replaced or
// taken back.
func (c Case) Kept() []Measurement {
	gone := map[string]bool{}
	stated, stands := map[string]bool{}, map[string]bool{}
	for _, m := range c.Measurements {
		gone[m.Withdraws] = true
	}
	for _, r := range c.Readings {
		stated[r.Measurement] = true
	}
	for _, r := range c.Valid() {
		stands[r.Measurement] = true
	}
	var out []Measurement
	for _, m := range c.Measurements {
		if m.Withdraws == "" && !gone[m.ID] && (!stated[m.ID] || stands[m.ID]) {
			out = append(out, m)
		}
	}
	return out
}
