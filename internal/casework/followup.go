package casework

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
	"time"
)

// Visit is another visit of the same vehicle, as far as it matters for this one.
type Visit struct {
	ID, Words, Outcome, Root, Vehicle string
	At                                time.Time
	Closed                            bool
	Declined                          []string // titles of what was advised and declined then
	Agreed                            string   // title of what was done
}

// visit sums a case up.
func (s *Service) visit(ctx context.Context, c Case) Visit {
	v := Visit{ID: c.ID, Words: c.Words, Outcome: c.Outcome, Vehicle: c.Vehicle, At: c.Opened, Closed: c.Closed != nil}
	for _, d := range c.Decisions {
		var snap Snapshot
		if json.Unmarshal(d.Snapshot, &snap) != nil {
			continue
		}
		for _, o := range snap.Options {
			switch {
			case o.ID == d.Option && d.Choice == "declined":
				v.Declined = append(v.Declined, o.Title)
			case o.ID == d.Option:
				v.Agreed = o.Title
			}
		}
	}
	if n, err := s.network(ctx, c); err == nil {
		if root, ok := n.Cause(c.Root); ok {
			v.Root = root.Title
		}
	}
	return v
}

// EarlierVisits lists the visits of a vehicle, newest first: those whose vehicle and, where both name one, customer are
// written alike.
func (s *Service) EarlierVisits(ctx context.Context, vehicle, customer string) ([]Visit, error) {
	if Fold(vehicle) == "" {
		return nil, nil
	}
	cases, err := s.Store.Visits(ctx, Fold(vehicle), Fold(customer))
	if err != nil {
		return nil, err
	}
	var out []Visit
	for _, c := range cases {
		out = append(out, s.visit(ctx, c))
	}
	return out, nil
}

// visits puts the earlier and later visits into a view.
func (s *Service) visits(ctx context.Context, v *View) error {
	if v.Case.Earlier != "" {
		c, err := s.Store.Case(ctx, v.Case.Earlier)
		if err != nil {
			return err
		}
		x := s.visit(ctx, c)
		v.Earlier = &x
	}
	later, err := s.Store.Returns(ctx, v.Case.ID)
	if err != nil {
		return err
	}
	for _, c := range later {
		v.Later = append(v.Later, s.visit(ctx, c))
	}
	return nil
}

// Link says that a case is a return of an earlier one; an empty id takes that back. A case is no return of itself, nor of
// one that is a return of it.
func (s *Service) Link(ctx context.Context, id string, g Guard, earlier string) (View, error) {
	s.linking.Lock() // two links at once could make a ring that neither sees
	defer s.linking.Unlock()
	for at, steps := earlier, 0; at != ""; steps++ {
		if at == id || steps > 100 {
			return View{}, &FieldError{"earlier", "a case is no return of itself", "a visit before this one"}
		}
		before, err := s.Store.Case(ctx, at)
		if errors.Is(err, ErrNotFound) {
			return View{}, &FieldError{"earlier", fmt.Sprintf("no case %q", at), "the id of an earlier case"}
		}
		if err != nil {
			return View{}, err
		}
		at = before.Earlier
	}
	return s.changed(ctx, id, g, "link", earlier, func(h Held) (Changes, error) {
		c := h.Case
		c.Earlier = earlier
		return Changes{Plain: &c}, nil
	})
}

// FollowUp notes when a vehicle is to be looked at again: a day, a distance, or both; empty takes it back. It may be noted
// on a closed case, which is when it is agreed on.
func (s *Service) FollowUp(ctx context.Context, id string, g Guard, day, driven, note string) (View, error) {
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return View{}, err
	}
	if day != "" {
		at, err := time.Parse(time.DateOnly, day)
		if err != nil {
			return View{}, &FieldError{"day", fmt.Sprintf("%q", day), "a day such as 2027-03-31"}
		}
		today := dayOf(s.Now(), st.Location())
		if at.Before(today) || at.After(today.AddDate(10, 0, 0)) {
			return View{}, &FieldError{"day", day, "a day to come, within ten years"}
		}
	}
	run, err := distance("distance", st.Style(), driven, st.Distance)
	if err != nil {
		return View{}, err
	}
	if err := checkText("note", note, maxNote, false); err != nil {
		return View{}, err
	}
	return s.changed(ctx, id, g, "follow up", []string{day, driven, note}, func(h Held) (Changes, error) {
		c := h.Case
		c.DueAt, c.DueDistance, c.DueNote = day, run, strings.TrimSpace(note)
		return Changes{Plain: &c}, nil
	})
}

// Calendar is the recheck of a case as a calendar file (RFC 5545): a day's entry, with a reminder two days before.
func (s *Service) Calendar(ctx context.Context, id string) ([]byte, error) {
	c, err := s.Store.Case(ctx, id)
	if err != nil {
		return nil, err
	}
	if c.DueAt == "" {
		return nil, &StateError{"no day is noted for a recheck", "note one first"}
	}
	st, err := s.Store.Settings(ctx)
	if err != nil {
		return nil, err
	}
	day, err := time.Parse(time.DateOnly, c.DueAt)
	if err != nil {
		return nil, err
	}
	what := []string{"Complaint: " + c.Words}
	if c.DueDistance != "" {
		what = append(what, "Or at "+st.Style().Localise(c.DueDistance)+", whichever comes first.")
	}
	if c.DueNote != "" {
		what = append(what, c.DueNote)
	}
	lines := []string{"BEGIN:VCALENDAR", "VERSION:2.0", "PRODID:-//Inner Compass//recheck//EN", "BEGIN:VEVENT", "UID:" + c.ID + "@inner-compass", "DTSTAMP:" + s.Now().UTC().Format("20060102T150405Z"),
		"DTSTART;VALUE=DATE:" + day.Format("20060102"), "DTEND;VALUE=DATE:" + day.AddDate(0, 0, 1).Format("20060102"), "SUMMARY:" + escaped("Recheck: "+c.Vehicle), "DESCRIPTION:" + escaped(strings.Join(what, "\n"))}
	if st.Shop != "" {
		lines = append(lines, "LOCATION:"+escaped(st.Shop))
	}
	lines = append(lines, "BEGIN:VALARM", "ACTION:DISPLAY", "DESCRIPTION:"+escaped("Recheck: "+c.Vehicle), "TRIGGER:-P2D", "END:VALARM", "END:VEVENT", "END:VCALENDAR")
	var b strings.Builder
	for _, l := range lines {
		b.WriteString(folded(l))
	}
	return []byte(b.String()), nil
}

// dayOf is the day that a moment falls on in a zone, as days are compared: midnight in UTC.
func dayOf(at time.Time, zone *time.Location) time.Time {
	y, m, d := at.In(zone).Date()
	return time.Date(y, m, d, 0, 0, 0, 0, time.UTC)
}

// escaped writes a text as RFC 5545, 3.3.11, wants it.
func escaped(text string) string {
	return strings.NewReplacer("\\", "\\\\", ";", "\\;", ",", "\\,", "\r\n", "\\n", "\n", "\\n", "\r", "").Replace(text)
}

// folded breaks a line after 75 octets, between characters (RFC 5545, 3.1).
func folded(line string) string {
	var out strings.Builder
	room := 75
	for _, r := range line {
		c := string(r)
		if len(c) > room {
			out.WriteString("\r\n ")
			room = 74
		}
		out.WriteString(c)
		room -= len(c)
	}
	return out.String() + "\r\n"
}
