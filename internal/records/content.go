package records

import (
	"time"

	"innercompass/core/knowledge"
	"innercompass/internal/cases"
)

// RecordFormat names the form of a record. Its JSON Schema stands in docs/record.schema.json.
const RecordFormat = "inner-compass-record/1"

// RecordContent is the customer's record: everything that its pages say, so that they can be written again to the letter
// years later, whatever prices, knowledge and sheets have become. Amounts are in minor units; fields are only ever added.
type RecordContent struct {
	Format    string    `json:"format"`
	Number    string    `json:"number"`
	At        time.Time `json:"at"`
	By        string    `json:"by,omitempty"`
	Amends    string    `json:"amends,omitempty"` // number of the record that it amends
	Why       string    `json:"why,omitempty"`
	LeftOut   []string  `json:"left_out,omitempty"`
	Shop      string    `json:"shop"`
	Address   string    `json:"address,omitempty"`
	Currency  string    `json:"currency"`
	TaxRate   float64   `json:"tax_rate,omitempty"`
	Words     string    `json:"words,omitempty"`
	Vehicle   string    `json:"vehicle"`
	Customer  string    `json:"customer,omitempty"`
	Distance  string    `json:"distance,omitempty"`
	Unit      string    `json:"unit"`
	UnitName  string    `json:"unit_name"`
	UnitVer   int       `json:"unit_version"`
	Knowledge string    `json:"knowledge"`

	Told      []RecordReading         `json:"told,omitempty"`     // by the customer
	Verified  []RecordReading         `json:"verified,omitempty"` // seen and measured
	Measured  []RecordMeasured        `json:"measured,omitempty"`
	Photos    []RecordPhoto           `json:"photos,omitempty"`
	Root      *RecordRoot             `json:"root,omitempty"`
	Chain     []string                `json:"chain,omitempty"`
	Damages   []RecordRoot            `json:"damages,omitempty"`
	NoRoot    []string                `json:"no_root,omitempty"` // elements that were damaged and whose root is not found
	Suspects  []cases.SnapshotSuspect `json:"suspects,omitempty"`
	Options   []cases.SnapshotOption  `json:"options,omitempty"`
	Advised   string                  `json:"advised,omitempty"` // title
	BreakEven string                  `json:"break_even,omitempty"`
	Decisions []RecordDecision        `json:"decisions,omitempty"`
	Watch     *cases.SnapshotWatch    `json:"watch,omitempty"`
	Cautions  []string                `json:"cautions,omitempty"` // if it is driven on
	Parts     string                  `json:"parts,omitempty"`    // what becomes of the old ones
	Work      string                  `json:"work,omitempty"`     // what was done, in the shop's words
	Renewed   []string                `json:"renewed,omitempty"`  // parts, by the bench
	Proof     []RecordProof           `json:"proof,omitempty"`
	Outcome   string                  `json:"outcome,omitempty"`
	Recheck   string                  `json:"recheck,omitempty"`
	Warranty  string                  `json:"warranty,omitempty"`
	Glossary  []knowledge.Term        `json:"glossary,omitempty"`
	Limits    string                  `json:"limits"`
	Numbers   string                  `json:"numbers,omitempty"` // how numbers are written, by a sample
	Zone      string                  `json:"zone,omitempty"`    // in which its days are told
}

// RecordReading is a finding as it was noted.
type RecordReading struct {
	Title  string    `json:"title"`
	Words  string    `json:"words"`
	Value  string    `json:"value,omitempty"`
	How    string    `json:"how"` // customer, seen or measured
	By     string    `json:"by,omitempty"`
	Normal bool      `json:"normal"`
	At     time.Time `json:"at"`
}

// RecordMeasured is a measurement beside what it was held against.
type RecordMeasured struct {
	Title string    `json:"title"`
	Value string    `json:"value"`
	Says  string    `json:"says"`
	Gauge string    `json:"gauge,omitempty"`
	At    time.Time `json:"at"`
}

// RecordPhoto is a picture by its digest.
type RecordPhoto struct {
	Digest  string `json:"digest"`
	Type    string `json:"type"`
	Caption string `json:"caption"`
	Width   int    `json:"width"`
	Height  int    `json:"height"`
}

// RecordRoot is a cause or damage with how sure it is, as a number and in words.
type RecordRoot struct {
	Title       string  `json:"title"`
	Probability float64 `json:"probability"`
	Sure        string  `json:"sure"`
	Confirmed   bool    `json:"confirmed,omitempty"`
}

// RecordDecision is what was agreed on or declined, by whom and how.
type RecordDecision struct {
	Choice    string    `json:"choice"`
	Title     string    `json:"title"`
	AddOns    []string  `json:"add_ons,omitempty"`
	Pay       int64     `json:"pay_minor"`
	Said      string    `json:"said,omitempty"`
	Ceiling   string    `json:"ceiling,omitempty"`
	How       string    `json:"how,omitempty"`
	Name      string    `json:"name,omitempty"`
	Signature string    `json:"signature,omitempty"`
	By        string    `json:"by,omitempty"`
	Signed    string    `json:"countersigned_by,omitempty"`
	At        time.Time `json:"at"`
	Digest    string    `json:"digest"`
}

// RecordProof is what shows that it worked.
type RecordProof struct {
	Title  string `json:"title"`
	Result string `json:"result"`
	Note   string `json:"note,omitempty"`
}
