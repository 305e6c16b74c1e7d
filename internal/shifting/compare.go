package shifting

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strings"

	"innercompass/core/faultmap"
	"innercompass/core/knowledge"
	"innercompass/core/trials"
	"innercompass/internal/cases"
	"innercompass/internal/present"
	"innercompass/internal/problem"
)

// Compared are two drives held against each other.
type Compared struct {
	Before, After Told
	Kinds         []trials.Kind
	Effect        trials.Effect // when the later drive is a trial after the earlier one
	Follows       bool
}

// Compare holds the shifts of two recordings against each other. Both have to be of one unit.
func (s *Service) Compare(ctx context.Context, before, after string, a Asked) (Compared, error) {
	if before == after {
		return Compared{}, problem.Field("after", "the same recording", "another of the same unit")
	}
	x, err := s.Shifts(ctx, before, a)
	if err != nil {
		return Compared{}, err
	}
	y, err := s.Shifts(ctx, after, Asked{Selector: a.Selector, Sound: a.Sound})
	if err != nil {
		return Compared{}, err
	}
	if x.Unit.Sheet.ID != y.Unit.Sheet.ID {
		return Compared{}, problem.Field("after", y.Unit.Sheet.Name, "a recording of a "+x.Unit.Sheet.Name)
	}
	out := Compared{Before: x, After: y}
	sound := y.Shifts[:0:0]
	if a.Sound != "" {
		other, err := s.find(ctx, a.Sound, Asked{Selector: a.Selector})
		if err != nil {
			return Compared{}, err
		}
		sound = other.Shifts
	}
	out.Kinds = trials.Compare(x.Shifts, y.Shifts, sound)
	if t := y.Recording.Trial; t != nil && t.Since == before {
		out.Follows, out.Effect = true, trials.Effect{Changed: t.Changed, Kinds: out.Kinds, Several: len(t.Changed) > 1}
		if out.Effect.Upon, err = s.earlier(ctx, x, t.Changed); err != nil {
			return Compared{}, err
		}
	}
	return out, nil
}

// earlier are the changes of the trials before that alter what a change does.
func (s *Service) earlier(ctx context.Context, x Told, changed []trials.Change) ([]trials.Change, error) {
	var row []trials.Trial
	for t := x.Recording.Trial; t != nil && len(row) < 30; {
		row = append(row, trials.Trial{Changed: t.Changed})
		before, err := s.Recordings.Store.Recording(ctx, t.Since)
		if err != nil {
			return nil, err
		}
		t = before.Trial
	}
	slices.Reverse(row)
	row = append([]trials.Trial{{}}, append(row, trials.Trial{Changed: changed})...)
	effects := trials.Follow(row, nil)
	return effects[len(effects)-1].Upon, nil
}

// quantities in words, with how many decimals and in which unit.
var quantities = map[trials.Quantity]struct {
	name, unit string
	decimals   int
}{trials.Inertia: {"inertia time", "s", 2}, trials.Flare: {"flare", "rpm", 0}, trials.Fill: {"fill", "s", 2}, trials.Overlap: {"both hold", "s", 2}, trials.After: {"slip after", "rpm", 0}, trials.Heat: {"heat", "J", 0}}

// Named is a quantity in words.
func Named(q trials.Quantity) (name, unit string, decimals int) {
	x := quantities[q]
	return x.name, x.unit, x.decimals
}

// Difference says one in words: "inertia time 0.55 to 0.32 s, shorter by 0.23 ± 0.05".
func Difference(d trials.Difference) string {
	q := quantities[d.Quantity]
	x := func(v float64) string {
		if math.Abs(v) < 0.5*math.Pow(10, -float64(q.decimals)) {
			v = 0
		}
		return fmt.Sprintf("%.*f", q.decimals, v)
	}
	text := fmt.Sprintf("%s %s to %s %s", q.name, x(d.Before.Mean), x(d.After.Mean), q.unit)
	if math.IsInf(d.Bound, 1) {
		return text + ", one shift only: cannot tell"
	}
	word := "less by"
	if d.Change > 0 {
		word = "more by"
	}
	text += fmt.Sprintf(", %s %s ± %s", word, x(math.Abs(d.Change)), x(d.Bound))
	if d.Verdict == trials.CannotTell {
		text += ": cannot tell"
	}
	return text
}

// Headline says what the comparison comes to.
func (c Compared) Headline() string {
	t := trials.Sum(c.Kinds)
	switch {
	case len(c.Kinds) == 0:
		return "The two drives have no shift in common."
	case !slices.ContainsFunc(c.Kinds, func(k trials.Kind) bool { return !k.Unlike }):
		return "No shifts at like throttle and temperature: not comparable."
	case t.Worse > 0 && t.Better > 0:
		return fmt.Sprintf("Better in %d, worse in %d.", t.Better, t.Worse)
	case t.Worse > 0:
		return fmt.Sprintf("Worse in %d. Nothing is better.", t.Worse)
	case t.Better > 0:
		return fmt.Sprintf("Better in %d. Each difference stands clear of zero.", t.Better)
	case t.Changed > 0:
		return "Changed, inside the windows before and after."
	}
	return "No difference can be told."
}

// Warnings say what keeps a difference from being laid at the change.
func (c Compared) Warnings() []string {
	var out []string
	if c.Follows && c.Effect.Several {
		out = append(out, "More than one thing was changed: what is told cannot be laid at one of them.")
	}
	for _, x := range c.Effect.Upon {
		out = append(out, fmt.Sprintf("The %s was changed before: it alters what this change does.", x))
	}
	if !c.Follows {
		out = append(out, "What was changed between the two drives is not noted.")
	}
	return out
}

// IntoProof notes a comparison at what the proof repeats: each shift that failed before, by what its differences say. It returns what was noted.
func (s *Service) IntoProof(ctx context.Context, before, after string, a Asked, by string) (cases.Saved, []string, error) {
	c, err := s.Compare(ctx, before, after, a)
	if err != nil {
		return cases.Saved{}, nil, err
	}
	id := c.After.Recording.Case
	if id == "" || c.Before.Recording.Case != id {
		return cases.Saved{}, nil, problem.Field("case", "the two recordings are not of one case", "say of both recordings which case they are of")
	}
	held, err := s.Cases.Case(ctx, id)
	if err != nil {
		return cases.Saved{}, nil, err
	}
	n, err := s.Cases.NetworkOf(ctx, id)
	if err != nil {
		return cases.Saved{}, nil, err
	}
	items := present.Proofs(held, n)
	var saved cases.Saved
	var noted []string
	for _, k := range c.Kinds {
		if k.Unlike {
			continue
		}
		behaviour := faultmap.Shift
		if k.Down {
			behaviour = faultmap.Down
		}
		for _, temperature := range []string{"hot", "cold"} {
			item := "repeat." + knowledge.RoadID(temperature, faultmap.Cell{Range: k.To, Behaviour: behaviour})
			i := slices.IndexFunc(items, func(x present.ProofView) bool { return x.ID == item })
			if i < 0 {
				continue
			}
			note, result := proven(c, k)
			if saved, err = s.Verification.SetProof(ctx, id, cases.Guard{}, cases.Proof{Item: item, Result: result, Note: note, By: by}); err != nil {
				return cases.Saved{}, nil, err
			}
			noted = append(noted, items[i].Title)
		}
	}
	if len(noted) == 0 {
		return cases.Saved{}, nil, problem.Field("proof", "no shift of these drives is to be repeated in the proof", "readings of the drive before, put into the case first")
	}
	return saved, noted, nil
}

// proven is what a kind of shift shows: it passes when all that was told is better, or in its windows, and nothing is out of them in the later drive.
func proven(c Compared, k trials.Kind) (note, result string) {
	var said []string
	result = "pass"
	for _, d := range k.Differences {
		if d.Quantity == trials.Heat || d.Quantity == trials.Overlap {
			continue
		}
		if d.Verdict == trials.Better || d.Verdict == trials.Worse {
			said = append(said, Difference(d))
		}
		if d.Verdict == trials.Worse {
			result = "fail"
		}
	}
	out := 0
	for i, s := range c.After.Shifts {
		if s.From == k.From && s.To == k.To && c.After.Against[i].Any() {
			out++
		}
	}
	if out > 0 {
		result = "fail"
		said = append(said, fmt.Sprintf("%d still out of the window", out))
	}
	if len(said) == 0 {
		said, result = []string{"no difference can be told"}, "open"
	}
	note = strings.Join(said, "; ") + fmt.Sprintf(" (%d and %d shifts)", len(k.Before), len(k.After))
	return note[:min(len(note), problem.MaxNote)], result
}
