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
}

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
}

func (settingRow) TableName() string { return "settings" }

type personRow struct {
	ID   string `gorm:"primaryKey"`
	Name string
	Role string
}

func (personRow) TableName() string { return "people" }

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
