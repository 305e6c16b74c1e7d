package verification

import (
	"context"
	"fmt"
	"strings"
	"time"

	"innercompass/internal/cases"
	"innercompass/internal/problem"
	"innercompass/internal/shop"
)

// FollowUp notes when a vehicle is to be looked at again: a day, a distance, or both; empty takes it back. It may be noted
// on a closed case, which is when it is agreed on.
func (s *Service) FollowUp(ctx context.Context, id string, g cases.Guard, day, driven, note string) (cases.Saved, error) {
	st, err := s.Shop.Settings(ctx)
	if err != nil {
		return cases.Saved{}, err
	}
	if day != "" {
		at, err := time.Parse(time.DateOnly, day)
		if err != nil {
			return cases.Saved{}, problem.Field("day", fmt.Sprintf("%q", day), "a day such as 2027-03-31")
		}
		today := shop.DayOf(s.Now(), st.Location())
		if at.Before(today) || at.After(today.AddDate(10, 0, 0)) {
			return cases.Saved{}, problem.Field("day", day, "a day to come, within ten years")
		}
	}
	run, err := shop.ReadDistance("distance", st.Style(), driven, st.Distance)
	if err != nil {
		return cases.Saved{}, err
	}
	if err := problem.CheckText("note", note, problem.MaxNote, false); err != nil {
		return cases.Saved{}, err
	}
	return s.Cases.Change(ctx, id, g, "follow up", []string{day, driven, note}, func(h cases.Held) (cases.Changes, error) {
		c := h.Case
		c.DueAt, c.DueDistance, c.DueNote = day, run, strings.TrimSpace(note)
		return cases.Changes{Plain: &c}, nil
	})
}

// Calendar is the recheck of a case as a calendar file (RFC 5545): a day's entry, with a reminder two days before.
func (s *Service) Calendar(ctx context.Context, id string) ([]byte, error) {
	c, err := s.Cases.Case(ctx, id)
	if err != nil {
		return nil, err
	}
	if c.DueAt == "" {
		return nil, &problem.StateError{Reason: "no day is noted for a recheck", Accepted: "note one first"}
	}
	st, err := s.Shop.Settings(ctx)
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
