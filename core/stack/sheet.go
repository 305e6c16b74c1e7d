package stack

// Sheet is a unit's stack as written. Parts stand in the order in which they come out; a part that sits in another comes after it.
type Sheet struct {
	Axes    []AxisSheet    `yaml:"axes,omitempty" json:"axes,omitempty"` // beside the main shaft, whose axis is the first and needs no entry
	Parts   []PartSheet    `yaml:"parts" json:"parts"`
	Body    *BodySheet     `yaml:"body,omitempty" json:"body,omitempty"`
	Kits    []KitSheet     `yaml:"kits,omitempty" json:"kits,omitempty"`
	Company []CompanySheet `yaml:"together,omitempty" json:"together,omitempty"`
}

// AxisSheet is a shaft beside the main one; Height is its distance above it, mm, negative below.
type AxisSheet struct {
	ID     string  `yaml:"id" json:"id"`
	Name   string  `yaml:"name" json:"name"`
	Height float64 `yaml:"height" json:"height"`
}

// PartSheet is one part, or several that are the same and lie together.
type PartSheet struct {
	ID      string       `yaml:"id" json:"id"`
	Name    string       `yaml:"name" json:"name"`
	Kind    string       `yaml:"kind" json:"kind"`                       // one of Kinds
	Of      []string     `yaml:"of,omitempty" json:"of,omitempty"`       // elements that it is a part of
	In      string       `yaml:"in,omitempty" json:"in,omitempty"`       // part that it sits in or on; none: the case
	Turns   string       `yaml:"turns,omitempty" json:"turns,omitempty"` // member that it turns with; none: it stands
	Access  string       `yaml:"access" json:"access"`
	Axis    string       `yaml:"axis,omitempty" json:"axis,omitempty"`
	Flat    bool         `yaml:"flat,omitempty" json:"flat,omitempty"` // not round: its boxes are from y to y
	At      [][]float64  `yaml:"at,omitempty" json:"at,omitempty"`     // boxes: x, x, radius, radius in mm
	Out     string       `yaml:"out,omitempty" json:"out,omitempty"`   // front, rear, up, down, aside: the way that it leaves
	With    string       `yaml:"with,omitempty" json:"with,omitempty"` // part further up with which it is lifted out in one go
	After   []string     `yaml:"after,omitempty" json:"after,omitempty"`
	Back    string       `yaml:"back,omitempty" json:"back,omitempty"` // goes back right after this part, where building is not the reverse
	Count   int          `yaml:"count,omitempty" json:"count,omitempty"`
	Plates  []string     `yaml:"plates,omitempty" json:"plates,omitempty"` // of a pack, from the piston on
	Wave    string       `yaml:"wave,omitempty" json:"wave,omitempty"`     // thickness of a wave or dished plate
	Way     string       `yaml:"way,omitempty" json:"way,omitempty"`       // which way round, and how that is seen
	Mark    string       `yaml:"mark,omitempty" json:"mark,omitempty"`     // to make before it is moved
	Heed    string       `yaml:"heed,omitempty" json:"heed,omitempty"`     // caution: what can hurt
	Rule    []string     `yaml:"rule,omitempty" json:"rule,omitempty"`     // of the trade, at this part
	Fit     *FitSheet    `yaml:"fit,omitempty" json:"fit,omitempty"`
	Limits  []string     `yaml:"limits,omitempty" json:"limits,omitempty"`
	Bolts   []BoltsSheet `yaml:"bolts,omitempty" json:"bolts,omitempty"`
	Once    bool         `yaml:"once,omitempty" json:"once,omitempty"` // never used again
	Joint   string       `yaml:"joint,omitempty" json:"joint,omitempty"`
	Lube    string       `yaml:"lube,omitempty" json:"lube,omitempty"`
	Tool    string       `yaml:"tool,omitempty" json:"tool,omitempty"`
	Instead string       `yaml:"instead,omitempty" json:"instead,omitempty"` // what a shop makes in place of the tool
	Better  []BetterPart `yaml:"better,omitempty" json:"better,omitempty"`
}

// FitSheet is a family of sizes from which one is chosen so that a limit is met. With grow, a thicker one makes the room larger.
type FitSheet struct {
	Limit string   `yaml:"limit" json:"limit"`
	Sizes []string `yaml:"sizes" json:"sizes"`
	Grow  bool     `yaml:"grow,omitempty" json:"grow,omitempty"`
}

// BoltsSheet is the bolts of one length that hold a part.
type BoltsSheet struct {
	Count   int      `yaml:"count" json:"count"`
	Thread  string   `yaml:"thread" json:"thread"` // such as M8
	Length  string   `yaml:"length" json:"length"`
	Torque  []string `yaml:"torque" json:"torque"`                 // by stage
	Turn    string   `yaml:"turn,omitempty" json:"turn,omitempty"` // angle after the last stage
	Pattern string   `yaml:"pattern" json:"pattern"`               // star, crosswise, middle-out, round
	Lie     string   `yaml:"lie" json:"lie"`                       // circle, edge or field
	With    string   `yaml:"with" json:"with"`                     // dry, oil, anti-seize, locker, sealant
	Once    bool     `yaml:"once,omitempty" json:"once,omitempty"`
	Where   string   `yaml:"where,omitempty" json:"where,omitempty"` // of bolts that differ from the rest
}

// BetterPart is an upgrade: what takes the part's place and what that changes.
type BetterPart struct {
	ID        string  `yaml:"id" json:"id"`
	Name      string  `yaml:"name" json:"name"`
	Lined     int     `yaml:"lined,omitempty" json:"lined,omitempty"` // plates in all
	Steel     int     `yaml:"steel,omitempty" json:"steel,omitempty"`
	LinedThin string  `yaml:"lined_thick,omitempty" json:"lined_thick,omitempty"`
	SteelThin string  `yaml:"steel_thick,omitempty" json:"steel_thick,omitempty"`
	Friction  float64 `yaml:"friction,omitempty" json:"friction,omitempty"`
	Servo     string  `yaml:"servo,omitempty" json:"servo,omitempty"` // area
	Spring    string  `yaml:"spring,omitempty" json:"spring,omitempty"`
	Says      string  `yaml:"says" json:"says"` // what it cures and what it costs elsewhere
}

// BodySheet is the valve body, seen from the side that comes off; x to the rear, y up, in mm from its front lower corner.
type BodySheet struct {
	Part      string          `yaml:"part" json:"part"` // that it is
	Size      []float64       `yaml:"size" json:"size"`
	Bores     []BoreSheet     `yaml:"bores,omitempty" json:"bores,omitempty"`
	Balls     []BallSheet     `yaml:"balls,omitempty" json:"balls,omitempty"`
	Solenoids []SolenoidSheet `yaml:"solenoids,omitempty" json:"solenoids,omitempty"`
}

// BoreSheet is one bore with what slides in it, from its mouth inwards.
type BoreSheet struct {
	ID      string       `yaml:"id" json:"id"`
	Name    string       `yaml:"name" json:"name"`
	At      []float64    `yaml:"at" json:"at"`   // of its mouth
	Way     string       `yaml:"way" json:"way"` // rear, front, up, down: where it leads from its mouth
	Bore    string       `yaml:"bore" json:"bore"`
	Control string       `yaml:"control,omitempty" json:"control,omitempty"` // id of the sheet's control that it is
	Train   []PieceSheet `yaml:"train" json:"train"`
}

// PieceSheet is one piece in a bore.
type PieceSheet struct {
	Kind   string `yaml:"kind" json:"kind"` // valve, spring, sleeve, plug, clip, pin
	Name   string `yaml:"name,omitempty" json:"name,omitempty"`
	Length string `yaml:"length" json:"length"` // a spring's is its free length
	Way    string `yaml:"way,omitempty" json:"way,omitempty"`
}

// BallSheet is check balls of one size. In is where they lie when the body comes off.
type BallSheet struct {
	At   [][]float64 `yaml:"at" json:"at"`
	Size string      `yaml:"size" json:"size"`
	In   string      `yaml:"in" json:"in"` // case, body or plate
}

// SolenoidSheet is the place of a solenoid of the sheet's controls.
type SolenoidSheet struct {
	Control string    `yaml:"control" json:"control"`
	At      []float64 `yaml:"at" json:"at"`
}

// KitSheet is parts that are bought together.
type KitSheet struct {
	ID    string   `yaml:"id" json:"id"`
	Name  string   `yaml:"name" json:"name"`
	Parts []string `yaml:"parts" json:"parts"`
}

// CompanySheet is what is always renewed with a part, and why. Schools differ where School is set.
type CompanySheet struct {
	With   string   `yaml:"with" json:"with"`
	Parts  []string `yaml:"parts" json:"parts"`
	Why    string   `yaml:"why" json:"why"`
	School string   `yaml:"school,omitempty" json:"school,omitempty"`
}

// Kinds of parts, with what each is called. What is round is drawn by its boxes; the kind says how it is hatched and what it can suffer.
var Kinds = map[string]string{
	"case": "case", "housing": "housing", "cover": "cover", "pan": "pan", "filter": "filter", "body": "valve body", "plate": "separator plate",
	"converter": "torque converter", "flywheel": "flywheel", "disc": "clutch disc", "clutch-cover": "clutch cover", "release": "release bearing", "pump": "pump", "pump-gear": "pump gear",
	"shaft": "shaft", "drum": "drum", "hub": "hub", "shell": "shell", "piston": "piston", "return-spring": "return spring", "retainer": "retainer", "snap-ring": "snap ring", "pack": "plate pack",
	"band": "band", "servo": "servo", "anchor": "anchor or strut", "one-way": "one-way clutch", "race": "race", "sun": "sun gear", "ring-gear": "ring gear", "carrier": "planet carrier", "gear": "gear",
	"synchro": "synchronizer ring", "sleeve": "sleeve and hub", "fork": "shift fork", "rail": "shift rail", "lever": "lever or finger", "bearing": "bearing", "needle": "needle bearing", "bushing": "bushing", "thrust": "thrust washer or bearing",
	"shim": "shim or select washer", "gasket": "gasket", "seal": "lip seal", "o-ring": "O-ring", "ring": "seal ring", "spring": "spring", "balls": "check balls", "valve": "valve", "accumulator": "accumulator", "solenoid": "solenoid",
	"sensor": "sensor or switch", "harness": "wiring harness", "module": "module", "governor": "governor", "modulator": "modulator", "cable": "cable", "chain": "chain", "sprocket": "sprocket", "park": "park pawl or gear", "differential": "differential", "final-drive": "final drive gear",
	"flange": "flange or yoke", "tube": "tube or line", "fitting": "fitting", "vent": "vent", "plug": "plug", "actuator": "actuator", "magnet": "magnet", "nut": "nut", "key": "key or pin", "cylinder": "cylinder",
}
