// Package privacy finds what a shop holds of a customer, and takes it away on request or when its time is over: names are replaced, and what the law keeps
// (issued records, decisions, what was measured) stays without them.
package privacy

import (
	"context"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"innercompass/internal/problem"
)

// Removed stands where a name was.
const Removed = "[removed]"

// Subject is a customer, with the cases that name them.
type Subject struct {
	Customer string
	Cases    []Case
}

// Case of a customer.
type Case struct {
	ID, Vehicle string
	Opened      time.Time
	Closed      *time.Time
	Records     []string // numbers of what was issued
	Pictures    int
}

// Times are how long after its closing a case keeps what; 0 keeps it until somebody asks.
type Times struct {
	Names    int `json:"names_years"`    // customer, vehicle, signature
	Pictures int `json:"pictures_years"` // pictures, but those on a record
	Rev      int `json:"-"`
}

// Done is what an erasure came to.
type Done struct {
	Cases    []string
	Records  []string // kept by law, their names replaced
	Pictures int
}

// Store finds and rewrites.
type Store interface {
	Kept(ctx context.Context, name string) (content []byte, rev int, err error)
	Keep(ctx context.Context, name string, content []byte, rev int, words string) error
	// Subjects are customers whose name has all words of q in it; the exact name alone when whole.
	Subjects(ctx context.Context, q string, whole bool, most int) ([]Subject, error)
	// Overdue are closed cases from before a time that still name their customer, or have pictures.
	Overdue(ctx context.Context, names, pictures time.Time, most int) (named, pictured []string, err error)
	// Rewrite replaces texts of cases, all or none: replace gets every text that a person has typed or that is frozen in a snapshot.
	Rewrite(ctx context.Context, ids []string, replace func(text string) string, why string) ([]string, error)
	// DropPictures takes the pictures of cases away that stand on no record.
	DropPictures(ctx context.Context, ids []string, why string) (int, error)
}

// Service answers a customer who asks.
type Service struct {
	Store Store
	Now   func() time.Time
	Tell  func(what string, rev int)
}

const timesName = "privacy-times"

// mostYears bounds a time.
const mostYears = 100

// Times are those of the shop.
func (s *Service) Times(ctx context.Context) (Times, error) {
	var t Times
	text, rev, err := s.Store.Kept(ctx, timesName)
	if err == nil && rev > 0 {
		err = json.Unmarshal(text, &t)
	}
	t.Rev = rev
	return t, err
}

// SaveTimes sets them.
func (s *Service) SaveTimes(ctx context.Context, t Times) (Times, error) {
	for field, v := range map[string]int{"names": t.Names, "pictures": t.Pictures} {
		if v < 0 || v > mostYears {
			return t, problem.Field(field, fmt.Sprint(v), fmt.Sprintf("0 to %d years; 0 keeps it until somebody asks", mostYears))
		}
	}
	text, err := json.Marshal(t)
	if err != nil {
		return t, err
	}
	if err := s.Store.Keep(ctx, timesName, text, t.Rev, fmt.Sprintf("kept after closing: names %d years, pictures %d years (0: until asked)", t.Names, t.Pictures)); err != nil {
		return t, err
	}
	return s.Times(ctx)
}

// Find lists customers by some words of their name.
func (s *Service) Find(ctx context.Context, q string) ([]Subject, error) {
	if utf8.RuneCountInString(strings.TrimSpace(q)) < 2 {
		return nil, problem.Field("q", "too short", "at least two letters of the customer's name")
	}
	return s.Store.Subjects(ctx, q, false, 50)
}

// Erase takes the names of a customer out of all their cases. Open ones are worked on: they have to be closed first.
func (s *Service) Erase(ctx context.Context, customer, why string) (Done, error) {
	if err := problem.CheckText("why", why, problem.MaxShort, true); err != nil {
		return Done{}, err
	}
	found, err := s.Store.Subjects(ctx, customer, true, 1)
	if err != nil {
		return Done{}, err
	}
	if len(found) == 0 {
		return Done{}, problem.NotFound("customer", customer, "a name as it stands in a case")
	}
	var d Done
	var open []string
	for _, c := range found[0].Cases {
		if c.Closed == nil {
			open = append(open, c.Vehicle)
			continue
		}
		d.Cases = append(d.Cases, c.ID)
		d.Records = append(d.Records, c.Records...)
	}
	if len(open) > 0 {
		return Done{}, &problem.StateError{Reason: "still worked on: " + strings.Join(open, ", "), Accepted: "close these cases first"}
	}
	return d, s.erase(ctx, &d, found[0].Customer, why)
}

func (s *Service) erase(ctx context.Context, d *Done, customer, why string) error {
	changed, err := s.Store.Rewrite(ctx, d.Cases, Replacer(customer), "names removed: "+why)
	if err != nil {
		return err
	}
	if d.Pictures, err = s.Store.DropPictures(ctx, d.Cases, "pictures removed: "+why); err != nil {
		return err
	}
	for _, id := range changed {
		s.Tell(id, 0)
	}
	return nil
}

// Replacer takes a name out of texts: as a whole, and each of its words that is longer than two letters, whatever the case of its letters.
func Replacer(name string) func(string) string {
	words := []string{name}
	for _, w := range strings.FieldsFunc(name, func(r rune) bool { return strings.ContainsRune(" ,.;/()", r) }) {
		if utf8.RuneCountInString(w) > 2 && !slices.Contains([]string{"the", "and", "von", "van", "der", "ltd", "inc", "llc"}, strings.ToLower(w)) {
			words = append(words, w)
		}
	}
	var parts []string
	for _, w := range words {
		if strings.TrimSpace(w) != "" {
			parts = append(parts, regexp.QuoteMeta(strings.TrimSpace(w)))
		}
	}
	if len(parts) == 0 {
		return func(t string) string { return t }
	}
	re := regexp.MustCompile(`(?i)(^|[^\pL\pN])(` + strings.Join(parts, "|") + `)($|[^\pL\pN])`)
	return func(t string) string {
		for { // neighbors share the character between them
			n := re.ReplaceAllString(t, "${1}"+Removed+"${3}")
			if n == t {
				return t
			}
			t = n
		}
	}
}

// atOnce is how many cases are done in one go.
const atOnce = 20

// Tidy does what time alone asks for: names and pictures of cases that were closed long enough ago. It reports whether something is left.
func (s *Service) Tidy(ctx context.Context) (more bool, err error) {
	t, err := s.Times(ctx)
	if err != nil || t.Names == 0 && t.Pictures == 0 {
		return false, err
	}
	before := func(years int) time.Time {
		if years == 0 {
			return time.Time{}
		}
		return s.Now().AddDate(-years, 0, 0)
	}
	named, pictured, err := s.Store.Overdue(ctx, before(t.Names), before(t.Pictures), atOnce)
	if err != nil {
		return false, err
	}
	if len(pictured) > 0 {
		if _, err := s.Store.DropPictures(ctx, pictured, "pictures removed: their time is over"); err != nil {
			return false, err
		}
	}
	for _, id := range named {
		found, err := s.Store.Subjects(ctx, id, true, 1) // by the id of a case
		if err != nil {
			return false, err
		}
		if len(found) == 0 {
			continue
		}
		if _, err := s.Store.Rewrite(ctx, []string{id}, Replacer(found[0].Customer), "names removed: their time is over"); err != nil {
			return false, err
		}
		s.Tell(id, 0)
	}
	return len(named)+len(pictured) > 0, nil
}
