package store

import "time"

// Rows are the tables as they are; they never leave this package.

type caseRow struct {
	ID       string `gorm:"primaryKey"`
	Words    string
	Vehicle  string
	Customer string
	Distance string
	UnitID   string
	UnitVer  int
	Stage    string
	Access   string
	Bay      string
	Owner    string
	WaitsFor string
	Opened   time.Time
	Closed   *time.Time
	Root     string
	Outcome  string
	Rev      int

	Earlier     string
	DueAt       string
	DueDistance string
	DueNote     string
	Damages     string // ids, with commas between
	CuredBy     string
	Learnt      string

	Sample  bool
	Nearest bool
}

func (caseRow) TableName() string { return "cases" }

type readingRow struct {
	ID          string `gorm:"primaryKey"`
	CaseID      string
	Seq         int
	Key         string
	Finding     string
	State       string
	Source      string
	Stage       string
	CheckID     string
	Value       string
	Note        string
	Likelihood  string // JSON array or empty
	Person      string
	At          time.Time
	Withdraws   string
	Measurement string
}

type measurementRow struct {
	ID         string `gorm:"primaryKey"`
	CaseID     string
	Seq        int
	Key        string
	Instrument string
	CheckID    string
	Gauge      string
	GaugeName  string
	Typed      string // JSON object
	Value      string
	Says       string
	Person     string
	At         time.Time
	Withdraws  string
}

func (measurementRow) TableName() string { return "measurements" }

func (readingRow) TableName() string { return "readings" }

type labLayoutRow struct {
	Heads  string `gorm:"primaryKey"`
	Fields string // JSON array
}

func (labLayoutRow) TableName() string { return "lab_layouts" }

type benchRow struct {
	ID        string `gorm:"primaryKey"`
	CaseID    string
	Seq       int
	Key       string
	Kind      string
	Part      string
	Ref       string
	Value     string
	Words     string
	Readings  string // ids, with commas between
	Person    string
	At        time.Time
	Withdraws string
}

func (benchRow) TableName() string { return "bench_notes" }

type markRow struct {
	CaseID string `gorm:"primaryKey"`
	Kind   string `gorm:"primaryKey"`
	Ref    string `gorm:"primaryKey"`
	Note   string
	Person string
	At     time.Time
}

func (markRow) TableName() string { return "marks" }

type decisionRow struct {
	ID       string `gorm:"primaryKey"`
	CaseID   string
	Seq      int
	OptionID string
	Choice   string
	Words    string
	Ceiling  string
	Person   string
	At       time.Time
	Snapshot []byte
	Digest   string
	Estimate string
	Awaits   bool
}

type countersignRow struct {
	DecisionID string `gorm:"primaryKey"`
	CaseID     string
	Person     string
	At         time.Time
}

func (countersignRow) TableName() string { return "countersigns" }

func (decisionRow) TableName() string { return "decisions" }

type proofRow struct {
	CaseID string `gorm:"primaryKey"`
	Item   string `gorm:"primaryKey"`
	Result string
	Note   string
	Person string
	At     time.Time
}

func (proofRow) TableName() string { return "proofs" }

type settingRow struct {
	ID          int `gorm:"primaryKey"`
	Shop        string
	Currency    string
	LabourRate  float64
	FluidLitre  float64
	Goodwill    float64
	Pressure    string
	Length      string
	Torque      string
	Volume      string
	Temperature string
	Distance    string
	Rev         int
	Tax         float64
	Consumables float64
	Guide       bool
	Warranty    string
	Address     string
	Numbers     string
	Zone        string
}

func (settingRow) TableName() string { return "settings" }

type priceRow struct {
	Unit    string `gorm:"primaryKey"`
	Item    string `gorm:"primaryKey"`
	Quality string `gorm:"primaryKey"`
	Amount  int64
	Hours   float64
	Note    string
}

func (priceRow) TableName() string { return "prices" }

type estimateRow struct {
	ID       string `gorm:"primaryKey"`
	CaseID   string
	Seq      int
	Token    string // its SHA-256
	Person   string
	At       time.Time
	Expires  time.Time
	Rests    string
	Snapshot []byte
	Digest   string
}

func (estimateRow) TableName() string { return "estimates" }

type recordRow struct {
	ID      string `gorm:"primaryKey"`
	CaseID  string
	Seq     int
	Amends  string
	Why     string
	Person  string
	At      time.Time
	Content []byte
	Digest  string
}

func (recordRow) TableName() string { return "records" }

type sealRow struct {
	RecordID string `gorm:"primaryKey"`
	Seal     []byte
}

func (sealRow) TableName() string { return "seals" }

type photoRow struct {
	ID      string `gorm:"primaryKey"`
	CaseID  string
	Key     string
	Digest  string
	Type    string
	Caption string
	Stage   string
	Width   int
	Height  int
	Person  string
	At      time.Time
	Gone    bool
	Part    string
}

func (photoRow) TableName() string { return "photos" }

type gaugeRow struct {
	ID          string `gorm:"primaryKey"`
	Name        string
	Dimension   string
	Resolution  string
	Uncertainty string
	Until       string
}

func (gaugeRow) TableName() string { return "gauges" }

type sheetRow struct {
	UnitID  string `gorm:"primaryKey"`
	Version int    `gorm:"primaryKey"`
	Name    string
	Text    []byte
	Person  string
	At      time.Time
}

func (sheetRow) TableName() string { return "unit_sheets" }
