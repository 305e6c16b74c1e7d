// Package ics writes entries for a calendar (RFC 5545).
package ics

import (
	"time"

	ical "github.com/arran4/golang-ical"
)

// Event is one entry.
type Event struct {
	ID, Title, Text, Place string
	From, To               time.Time
	WholeDay               bool   // the day of From
	Remind                 string // such as -P2D; empty for none
}

// Write is a calendar file; what says what it is of.
func Write(what string, now time.Time, events []Event) []byte {
	c := ical.NewCalendar()
	c.SetProductId("-//Inner Compass//" + what + "//EN")
	c.SetMethod(ical.MethodPublish)
	for _, e := range events {
		x := c.AddEvent(e.ID + "@inner-compass")
		x.SetDtStampTime(now)
		if e.WholeDay {
			x.SetAllDayStartAt(e.From)
			x.SetAllDayEndAt(e.From.AddDate(0, 0, 1))
		} else {
			x.SetStartAt(e.From)
			x.SetEndAt(e.To)
		}
		x.SetSummary(e.Title)
		if e.Text != "" {
			x.SetDescription(e.Text)
		}
		if e.Place != "" {
			x.SetLocation(e.Place)
		}
		if e.Remind != "" {
			a := x.AddAlarm()
			a.SetAction(ical.ActionDisplay)
			a.SetDescription(e.Title)
			a.SetTrigger(e.Remind)
		}
	}
	return []byte(c.Serialize(ical.WithNewLineWindows))
}
