package interview

import (
	"cmp"
	"context"
	"slices"
	"time"

	"innercompass/core/plan"
	"innercompass/internal/cases"
)

// Moves are the suspects after the words, after each answer, and now: how each answer moved them.
type Moves struct {
	Columns []string // "words", then the number of each question that was answered
	Rows    []Moved
}

// Moved is a suspect with its probability in each column.
type Moved struct {
	ID, Title string
	Shares    []float64
}

// shownMoves is how many of the suspects of the last column are drawn; who led before is drawn besides.
const shownMoves = 5

// MovesOf returns how the suspects of a case moved; no columns while nothing was said.
func (s *Service) MovesOf(ctx context.Context, id string) (Moves, error) {
	c, n, err := s.Cases.Load(ctx, id)
	if err != nil {
		return Moves{}, err
	}
	var asked []cases.Mark
	for _, m := range c.Marks {
		if m.Kind == Asked && m.Note == answered {
			asked = append(asked, m)
		}
	}
	slices.SortStableFunc(asked, func(a, b cases.Mark) int { return a.At.Compare(b.At) })
	valid := c.Valid()
	if len(valid) == 0 {
		return Moves{}, nil
	}
	column := make([]int, len(valid))
	for i, r := range valid {
		column[i] = columnOf(r, asked, func(m cases.Mark) bool {
			q, ok := plan.QuestionOf(n, m.Ref)
			return ok && r.Source == "customer" && q.Speaks(r.Finding, r.State)
		})
	}
	var out Moves
	shares := map[string][]float64{}
	titles, place := map[string]string{}, map[string]int{} // place in the last column
	var keep []string
	for k := 0; k <= len(asked); k++ {
		var sofar []cases.Reading
		for i, r := range valid {
			if column[i] <= k {
				sofar = append(sofar, r)
			}
		}
		if len(sofar) == 0 {
			continue
		}
		a, err := s.Assessing.Assess(ctx, n, c.Situation(sofar), false)
		if err != nil {
			return Moves{}, err
		}
		name := "words"
		if k > 0 {
			name = string(rune('0' + k))
		}
		out.Columns = append(out.Columns, name)
		for i, x := range a.Suspects {
			shares[x.Cause.ID] = append(shares[x.Cause.ID], x.Probability)
			titles[x.Cause.ID], place[x.Cause.ID] = x.Cause.Title, i
			if (i == 0 || k == len(asked) && i < shownMoves) && !slices.Contains(keep, x.Cause.ID) {
				keep = append(keep, x.Cause.ID)
			}
		}
	}
	slices.SortFunc(keep, func(a, b string) int { return cmp.Compare(place[a], place[b]) })
	for _, id := range keep {
		out.Rows = append(out.Rows, Moved{id, titles[id], shares[id]})
	}
	return out, nil
}

// columnOf is the column from which a reading counts: that of the question that it answers, or of the time at which it was made.
func columnOf(r cases.Reading, asked []cases.Mark, answers func(cases.Mark) bool) int {
	if i := slices.IndexFunc(asked, answers); i >= 0 {
		return i + 1
	}
	k := 0
	for i, m := range asked {
		if !r.At.Before(m.At.Add(time.Millisecond)) {
			k = i + 1
		}
	}
	return k
}
