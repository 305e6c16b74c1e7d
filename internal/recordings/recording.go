// Package recordings is the use case of bringing in what was recorded on a drive, keeping it, drawing it, and hearing out of it what turns.
package recordings

import (
	"context"
	"io"
	"os"
	"time"

	"innercompass/core/recording"
	"innercompass/core/trials"
	"innercompass/core/vibration"
	"innercompass/internal/cases"
	"innercompass/internal/library"
)

// Recording is what is kept of one beside its samples.
type Recording struct {
	ID       string            `json:"id"`
	Title    string            `json:"title"`
	File     string            `json:"file"` // as it was called where it came from
	Digest   string            `json:"digest"`
	Size     int64             `json:"size"`
	Kind     recording.Kind    `json:"kind"`
	Packed   bool              `json:"packed,omitempty"`
	Layout   *recording.Layout `json:"layout,omitempty"`
	Shape    string            `json:"shape,omitempty"` // of the table as it was found: by it its mapping is remembered
	Kept     string            `json:"kept"`            // name of the file of its samples
	Channels []Channel         `json:"channels"`
	Rows     int               `json:"rows"`
	Seconds  float64           `json:"seconds"`
	Rate     float64           `json:"rate"` // samples a second; of a table the usual one
	Told     recording.Told    `json:"told"`
	Case     string            `json:"case,omitempty"`
	Vehicle  string            `json:"vehicle,omitempty"`
	Unit     string            `json:"unit,omitempty"`
	Driven   Driven            `json:"driven"`
	Marks    []Mark            `json:"marks,omitempty"`
	Joined   *Joined           `json:"joined,omitempty"`
	Trial    *Trial            `json:"trial,omitempty"`
	Made     string            `json:"made,omitempty"` // how it was made here; nothing when it was brought in
	By       string            `json:"by,omitempty"`
	At       time.Time         `json:"at"`
	Revision int               `json:"revision"`
}

// Channel is one of its channels.
type Channel struct {
	Name   string         `json:"name"`
	Unit   string         `json:"unit"`
	Role   recording.Role `json:"role"`
	From   string         `json:"from,omitempty"` // what measured it, and where it was held
	Values int            `json:"values"`
	Low    float64        `json:"low"`
	High   float64        `json:"high"`
	Turns  float64        `json:"turns,omitempty"` // of pulses: how many in each turn
	Of     string         `json:"of,omitempty"`    // of what they are: "engine", or nothing for the output; of a pressure the element
}

// Joined is another recording of the same drive, whose speeds count for this one.
type Joined struct {
	ID     string  `json:"id"`
	Offset float64 `json:"offset"` // s of this one's first moment on the other's time
}

// Trial says what was changed between another drive and this one.
type Trial struct {
	Since   string          `json:"since"` // id of the recording from before
	Changed []trials.Change `json:"changed,omitempty"`
	Note    string          `json:"note,omitempty"`
}

// Driven is how the vehicle was driven meanwhile, as far as that is one thing.
type Driven struct {
	Range  string  `json:"range,omitempty"`
	Road   float64 `json:"road,omitempty"`   // m/s, when it was one speed
	Engine float64 `json:"engine,omitempty"` // rev/s, likewise
	Slip   float64 `json:"slip,omitempty"`   // of the converter
	Load   string  `json:"load,omitempty"`   // "pull", "steady", "coast", or nothing
}

// Loads are the loads that are told apart.
var Loads = []string{"", "pull", "steady", "coast"}

// Mark is a moment that somebody marked.
type Mark struct {
	ID   string    `json:"id"`
	At   float64   `json:"at"` // s
	Note string    `json:"note"`
	By   string    `json:"by,omitempty"`
	Time time.Time `json:"time"`
}

// File is one that can be read anywhere and closed.
type File interface {
	io.ReaderAt
	io.ReadSeekCloser
	Stat() (os.FileInfo, error)
}

// Spool is a file that is not kept yet.
type Spool interface {
	io.Writer
	// Keep puts it in place under a name, whole.
	Keep(name string) error
	// Drop takes it away, unless it was kept.
	Drop() error
}

// Store keeps recordings, their files and what is known of vehicles.
type Store interface {
	Recordings(ctx context.Context) ([]Recording, error)
	Recording(ctx context.Context, id string) (Recording, error)
	// PutRecording keeps one whose revision follows the kept one; another reports problem.ErrChanged. Revision 1 makes it.
	PutRecording(ctx context.Context, r Recording) error
	RemoveRecording(ctx context.Context, id string) error
	NewFile() (Spool, error)
	OpenFile(name string) (File, error)
	RemoveFile(name string) error
	// Mapping is what tables of a shape were said to be.
	Mapping(ctx context.Context, shape string) (Mapping, bool, error)
	PutMapping(ctx context.Context, shape string, m Mapping) error
	// VehicleSheet is what is known of a vehicle by its folded name; false when nothing is.
	VehicleSheet(ctx context.Context, key string) (VehicleSheet, bool, error)
	PutVehicleSheet(ctx context.Context, key string, v VehicleSheet) error
}

// Mapping is how the tables of one logger are read.
type Mapping struct {
	Layout   recording.Layout `json:"layout"`
	Channels []Channel        `json:"channels"` // names, units and roles
}

// VehicleSheet is what surrounds the unit of a vehicle.
type VehicleSheet struct {
	Vehicle  vibration.Vehicle `json:"vehicle"`
	Tire     string            `json:"tire,omitempty"` // its size as written on it
	Revision int               `json:"revision"`
	At       time.Time         `json:"at"`
	By       string            `json:"by,omitempty"`
}

// Service brings in, keeps and works out recordings.
type Service struct {
	Store   Store
	Cases   *cases.Service
	Library *library.Service
	Now     func() time.Time
	Tell    func(what string, rev int)
}
