package jobs

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"strconv"
	"strings"

	"innercompass/internal/ics"
)

// whyWords are why a part is on the list.
var whyWords = map[string]string{"work": "renewed by the work", "once": "comes out, never used again", "with": "always goes with another", "noted": "noted at the bench", "maybe": "may be found bad"}

// PartsTable is the parts list of a job as a table: a part on each row, money and shares with a point.
func (j Job) PartsTable() ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	rows := [][]string{{"part", "name", "pieces", "kit of", "why", "needed", "order before opening", "where", "days", "price", "currency"}}
	for _, p := range j.Plan.Parts {
		order := ""
		if p.Order && !p.On() {
			order = "yes"
		}
		price := ""
		if p.Price > 0 {
			price = strconv.FormatFloat(p.Price, 'f', 2, 64)
		}
		rows = append(rows, []string{p.ID, p.Name, strconv.Itoa(p.Count), strings.Join(p.Holds, "; "), whyWords[p.Why], strconv.FormatFloat(p.Need, 'f', 3, 64), order, p.Stock.State, strconv.FormatFloat(p.Lead, 'f', -1, 64), price, j.Settings.Currency})
	}
	if err := w.WriteAll(rows); err != nil {
		return nil, err
	}
	return b.Bytes(), nil
}

// Calendar is the planned jobs as entries of a calendar: one for each, with its phases and who does them.
func (s *Service) Calendar(ctx context.Context) ([]byte, error) {
	w, err := s.Week(ctx)
	if err != nil {
		return nil, err
	}
	var out []ics.Event
	for _, x := range w.Slots {
		p := w.Jobs[x.Job]
		lines := []string{p.Work, p.Unit}
		for _, ph := range x.Phases {
			var by []string
			for _, i := range ph.By {
				by = append(by, w.Workshop.People[i])
			}
			lines = append(lines, fmt.Sprintf("%s to %s: %s, %s", ph.From.Format("Mon 15:04"), ph.To.Format("Mon 15:04"), ph.Title, strings.Join(by, ", ")))
		}
		out = append(out, ics.Event{ID: "job-" + x.Job, Title: p.Case.Vehicle + ": " + p.Work, Text: strings.Join(lines, "\n"), Place: w.Workshop.Bays[x.Bay], From: x.From, To: x.To})
	}
	return ics.Write("week", s.Now(), out), nil
}
