package said

import (
	"bytes"
	"context"
	"encoding/csv"
	"errors"
	"fmt"
	"io"
	"slices"
	"strings"
	"time"

	"innercompass/core/heard"
	"innercompass/core/intake"
	"innercompass/core/knowledge"
	"innercompass/core/wordbench"
	"innercompass/internal/cases"
	"innercompass/internal/problem"
)

// OwnWord is a way of saying that the shop added: these words mean this reading.
type OwnWord struct {
	ID, Say, Finding, State string
	By                      string
	At                      time.Time
}

// Store keeps the shop's own words.
type Store interface {
	OwnWords(ctx context.Context) ([]OwnWord, error)
	// AddOwnWords keeps words, all or none; the same words again are replaced.
	AddOwnWords(ctx context.Context, words []OwnWord) error
	RemoveOwnWord(ctx context.Context, id string) error
}

// mostOwnWords is how many words a shop may add: the texts are read again with each of them.
const mostOwnWords = 300

// heardWith is a reader with the words that it was made with.
type heardWith struct {
	of     string
	reader *intake.Reader
}

// reader is the reader of words with the shop's own.
func (s *Service) reader(ctx context.Context) (*intake.Reader, error) {
	own, err := s.Store.OwnWords(ctx)
	if err != nil {
		return nil, err
	}
	of := fmt.Sprint(own)
	if h := s.heard.Load(); h != nil && h.of == of {
		return h.reader, nil
	}
	r, err := s.with(own)
	if err != nil {
		return nil, err
	}
	s.heard.Store(&heardWith{of, r})
	return r, nil
}

// with makes a reader with some words of the shop.
func (s *Service) with(own []OwnWord) (*intake.Reader, error) {
	ways := make([]intake.Own, len(own))
	for i, w := range own {
		ways[i] = intake.Own{Say: w.Say, Finding: w.Finding, State: w.State, Title: s.titleOf(w)}
	}
	return intake.New(s.Words.WithOwn(ways), intake.Unit{})
}

// titleOf is what a word means, by the first unit that knows it.
func (s *Service) titleOf(w OwnWord) string {
	for _, n := range s.networks() {
		if f, ok := n.Finding(w.Finding); ok && f.StateAt(w.State) >= 0 {
			if f.StateTitle(w.State) == "yes" {
				return f.Title
			}
			return f.Title + ": " + f.StateTitle(w.State)
		}
	}
	return w.Finding + " " + w.State
}

// networks of the units that come with the app, in the order of their ids.
func (s *Service) networks() []*knowledge.Network {
	shipped := s.Library.Sheets.Shipped()
	var out []*knowledge.Network
	for _, n := range shipped {
		out = append(out, n)
	}
	slices.SortFunc(out, func(a, b *knowledge.Network) int { return strings.Compare(a.Unit.Sheet.ID, b.Unit.Sheet.ID) })
	return out
}

// Own lists the shop's own words with what they mean.
func (s *Service) Own(ctx context.Context) ([]OwnWord, []string, error) {
	own, err := s.Store.OwnWords(ctx)
	if err != nil {
		return nil, nil, err
	}
	titles := make([]string, len(own))
	for i, w := range own {
		titles[i] = s.titleOf(w)
	}
	return own, titles, nil
}

// Teach adds words of the shop, all or none. What is too common is refused, and what would change how one of the texts is read that the
// reader is measured on: a word that helps with one customer must not mislead with the next.
func (s *Service) Teach(ctx context.Context, words []OwnWord) error {
	own, err := s.Store.OwnWords(ctx)
	if err != nil {
		return err
	}
	if len(own)+len(words) > mostOwnWords {
		return problem.Field("words", fmt.Sprintf("%d words", len(own)+len(words)), fmt.Sprintf("at most %d", mostOwnWords))
	}
	before, err := s.with(own)
	if err != nil {
		return err
	}
	plain, err := s.with(nil)
	if err != nil {
		return err
	}
	for i := range words {
		w := &words[i]
		w.Say = strings.Join(strings.Fields(strings.ToLower(w.Say)), " ")
		if err := s.checkOwn(*w); err != nil {
			return err
		}
		if i := slices.IndexFunc(plain.Read(w.Say), intake.Span.Symptom); i >= 0 {
			return problem.Field("say", fmt.Sprintf("“%s” is known already: %s", w.Say, plain.Read(w.Say)[i].Title), "words that are not known yet")
		}
		own = slices.DeleteFunc(own, func(o OwnWord) bool { return o.Say == w.Say })
		own = append(own, *w)
		w.ID = cases.NewID("w")
	}
	after, err := s.with(own)
	if err != nil {
		return problem.Field("say", "these words clash with what is known", "other words")
	}
	if text, err := s.changed(before, after); err != nil {
		return err
	} else if text != "" {
		return problem.Field("say", fmt.Sprintf("with it, another customer's words would be read differently: “%s”", text), "more of the words that were said, so that they mean one thing")
	}
	if err := s.Store.AddOwnWords(ctx, words); err != nil {
		return err
	}
	s.Tell("words", 0)
	return nil
}

func (s *Service) checkOwn(w OwnWord) error {
	if err := problem.CheckText("by", w.By, problem.MaxShort, false); err != nil {
		return err
	}
	var bad intake.Problem
	if err := s.Words.CheckOwn(w.Say); errors.As(err, &bad) {
		return problem.Field(bad.Path, bad.Reason, bad.Accepted)
	}
	known := slices.ContainsFunc(s.networks(), func(n *knowledge.Network) bool {
		f, ok := n.Finding(w.Finding)
		return ok && f.Stage == "complaint" && f.StateAt(w.State) >= 0
	})
	if !known {
		return problem.Field("means", fmt.Sprintf("no customer can say %s %s", w.Finding, w.State), "a finding of the complaint and one of its states")
	}
	return nil
}

// changed is the text that two readers read differently; "" when there is none.
func (s *Service) changed(before, after *intake.Reader) (string, error) {
	networks := s.Library.Sheets.Shipped()
	report := func(r *intake.Reader, c wordbench.Case) (wordbench.Report, error) {
		return wordbench.Measure([]wordbench.Case{c}, func(unit string) (*intake.Reader, error) {
			n, ok := networks[unit]
			if !ok {
				return nil, fmt.Errorf("no unit %q", unit)
			}
			return r.For(heard.Unit(n)), nil
		})
	}
	for _, c := range s.Texts {
		a, err := report(before, c)
		if err != nil {
			return "", err
		}
		b, err := report(after, c)
		if err != nil {
			return "", err
		}
		if a.Everything != b.Everything || len(a.Misses) != len(b.Misses) {
			return c.Text, nil
		}
	}
	return "", nil
}

// Forget takes a word of the shop away; what was taken by it in cases stays.
func (s *Service) Forget(ctx context.Context, id string) error {
	if err := s.Store.RemoveOwnWord(ctx, id); err != nil {
		return err
	}
	s.Tell("words", 0)
	return nil
}

// ownHeads are the columns of the shop's words as a table.
var ownHeads = []string{"say", "finding", "state", "by", "day"}

// WordTable writes the shop's words as a table (CSV), for another shop or a spreadsheet.
func (s *Service) WordTable(ctx context.Context) ([]byte, error) {
	own, err := s.Store.OwnWords(ctx)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	rows := [][]string{ownHeads}
	for _, o := range own {
		rows = append(rows, []string{o.Say, o.Finding, o.State, strings.TrimLeft(o.By, "=+-@"), o.At.Format(time.DateOnly)})
	}
	err = w.WriteAll(rows)
	return b.Bytes(), err
}

// ReadWordTable adds the words of a table, all or none; an error names the row.
func (s *Service) ReadWordTable(ctx context.Context, text string, now time.Time) error {
	r := csv.NewReader(strings.NewReader(strings.TrimPrefix(text, "\ufeff")))
	r.FieldsPerRecord = -1
	var words []OwnWord
	for row := 1; ; row++ {
		cells, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return problem.Field("text", err.Error(), "a table (CSV) with the columns "+strings.Join(ownHeads, ", "))
		}
		if row == 1 {
			if len(cells) < 3 || !slices.Equal(cells[:3], ownHeads[:3]) {
				return problem.Field("row 1", strings.Join(cells, ", "), "the columns "+strings.Join(ownHeads, ", "))
			}
			continue
		}
		cells = append(cells, "", "", "", "", "")
		at, err := time.Parse(time.DateOnly, cells[4])
		if err != nil {
			at = now
		}
		w := OwnWord{Say: cells[0], Finding: cells[1], State: cells[2], By: cells[3], At: at}
		if err := s.checkOwn(w); err != nil {
			var field *problem.FieldError
			if errors.As(err, &field) {
				return problem.Field(fmt.Sprintf("row %d, %s", row, field.Field), field.Reason, field.Accepted)
			}
			return err
		}
		words = append(words, w)
	}
	return s.Teach(ctx, words)
}
