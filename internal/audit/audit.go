// Package audit is the trail of who did what: each entry carries the hash of the one before, so that nothing can be altered, put in between or
// taken out without every later entry saying so.
package audit

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"time"
)

// Entry is one change, as it was made. It holds nothing of a customer: what it changed is named by table and key.
type Entry struct {
	Seq       int64     `json:"seq"`
	At        time.Time `json:"at"`
	Person    string    `json:"person,omitempty"` // id; empty in a shop that is not set up, for the customer, and at the machine
	Name      string    `json:"name,omitempty"`
	Role      string    `json:"role,omitempty"`
	Device    string    `json:"device,omitempty"` // name of an admitted device
	Operation string    `json:"operation,omitempty"`
	Request   string    `json:"request,omitempty"` // as in the log
	Case      string    `json:"case,omitempty"`
	Words     string    `json:"words,omitempty"`
	Rows      []Row     `json:"rows,omitempty"`
	Prev      string    `json:"prev"` // hash of the entry before; of the first one: empty
	Hash      string    `json:"hash,omitempty"`
}

// Row is what a row of the database came to. The last entry that names a row says how it must stand.
type Row struct {
	Table  string `json:"table"` // with the version of its columns, such as readings/1
	Key    string `json:"key"`
	Digest string `json:"digest,omitempty"` // SHA-256 of its columns; empty when it was taken away
}

// Sum is the hash of an entry: SHA-256 over its JSON without the hash itself, hexadecimal.
func (e Entry) Sum() (string, error) {
	e.Hash = ""
	e.At = e.At.UTC()
	data, err := json.Marshal(e)
	if err != nil {
		return "", err
	}
	sum := sha256.Sum256(data)
	return hex.EncodeToString(sum[:]), nil
}

// Head is where a trail ends.
type Head struct {
	Seq  int64  `json:"seq"`
	Hash string `json:"hash"`
}

// Chain checks entries in their order, one after the other.
type Chain struct {
	Last Head
	// At is the time of the last entry.
	At time.Time
}

// Next reports what is wrong with the entry that follows; empty when nothing is.
func (c *Chain) Next(e Entry) string {
	sum, err := e.Sum()
	wrong := ""
	switch {
	case err != nil:
		wrong = fmt.Sprintf("entry %d cannot be read: %v", e.Seq, err)
	case e.Seq != c.Last.Seq+1:
		wrong = fmt.Sprintf("entry %d follows entry %d: %d are missing", e.Seq, c.Last.Seq, e.Seq-c.Last.Seq-1)
	case e.Prev != c.Last.Hash:
		wrong = fmt.Sprintf("entry %d does not follow the one before it", e.Seq)
	case sum != e.Hash:
		wrong = fmt.Sprintf("entry %d was altered", e.Seq)
	}
	c.Last, c.At = Head{e.Seq, e.Hash}, e.At
	return wrong
}

// Query asks for a part of the trail, the newest first.
type Query struct {
	Case, Person string
	Before       int64 // entries before this one; 0 for the newest
	Limit        int
}

// Store keeps the trail.
type Store interface {
	Audit(ctx context.Context, q Query) ([]Entry, error)
	Trail(ctx context.Context) (Report, error)
	// Vehicles are those of cases, by id: the trail itself does not name them.
	Vehicles(ctx context.Context, cases []string) (map[string]string, error)
}

// Report is what a check of a whole data folder came to.
type Report struct {
	Entries  int64    `json:"entries"`
	Rows     int      `json:"rows"`     // named by the trail and as it says
	Records  int      `json:"records"`  // with a signature that holds
	Pictures int      `json:"pictures"` // files that are what their digest says
	Wrong    []string `json:"wrong"`
	Head     Head     `json:"head"`
}

// MostWrong is how many faults are written out.
const MostWrong = 50

// Fault adds one.
func (r *Report) Fault(format string, args ...any) {
	if len(r.Wrong) < MostWrong {
		r.Wrong = append(r.Wrong, fmt.Sprintf(format, args...))
	}
}
