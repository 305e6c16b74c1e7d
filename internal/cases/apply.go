package cases

import (
	"cmp"
	"slices"
	"strings"
)

// With is a case with changes made: what is appended has its number, which follows on from the last, and the revision is raised.
// It also returns the changes as numbered, to be kept.
func (c Case) With(ch Changes) (Case, Changes) {
	if ch.None() {
		return c, ch
	}
	out := c
	if ch.Plain != nil {
		out = c.withPlain(*ch.Plain)
	}
	out.Rev = c.Rev + 1
	ch.Measurements = numbered(c.Measurements, ch.Measurements, func(m *Measurement) *int { return &m.Seq })
	ch.Readings = numbered(c.Readings, ch.Readings, func(r *Reading) *int { return &r.Seq })
	ch.Bench = numbered(c.Bench, ch.Bench, func(n *BenchNote) *int { return &n.Seq })
	out.Bench = appended(c.Bench, ch.Bench...)
	ch.Estimate = numberedOne(c.Estimates, ch.Estimate, func(e *Estimate) *int { return &e.Seq })
	ch.Decision = numberedOne(c.Decisions, ch.Decision, func(d *Decision) *int { return &d.Seq })
	ch.Record = numberedOne(c.Records, ch.Record, func(r *Record) *int { return &r.Seq })
	out.Measurements, out.Readings = appended(c.Measurements, ch.Measurements...), appended(c.Readings, ch.Readings...)
	out.Estimates, out.Decisions, out.Records = appended(c.Estimates, one(ch.Estimate)...), appended(c.Decisions, one(ch.Decision)...), appended(c.Records, one(ch.Record)...)
	if ch.Countersign != nil {
		out.Decisions = slices.Clone(out.Decisions)
		for i := range out.Decisions {
			if out.Decisions[i].ID == ch.Countersign.Decision {
				out.Decisions[i].Signed = ch.Countersign
			}
		}
	}
	out.Marks = replaced(c.Marks, ch.Unmarked, ch.Marks, func(m Mark) string { return m.Kind + " " + m.Ref }, func(a, b Mark) int {
		return cmp.Or(a.At.Compare(b.At), strings.Compare(a.Ref, b.Ref))
	})
	out.Proofs = replaced(c.Proofs, nil, ch.Proofs, func(p Proof) string { return p.Item }, func(a, b Proof) int {
		return cmp.Or(a.At.Compare(b.At), strings.Compare(a.Item, b.Item))
	})
	out.Photos = replaced(c.Photos, nil, one(ch.Photo), func(p Photo) string { return p.ID }, func(a, b Photo) int {
		return cmp.Or(a.At.Compare(b.At), strings.Compare(a.ID, b.ID))
	})
	if i := slices.IndexFunc(out.Photos, func(p Photo) bool { return p.ID == ch.WithdrawnPhoto }); i >= 0 {
		out.Photos = slices.Clone(out.Photos)
		out.Photos[i].Gone = true
	}
	return out, ch
}

// withPlain takes the columns of a case that may change from another; what it was made with stays.
func (c Case) withPlain(p Case) Case {
	out := c
	out.UnitID, out.UnitVer, out.Nearest = p.UnitID, p.UnitVer, p.Nearest
	out.Words, out.Vehicle, out.Customer, out.Distance = p.Words, p.Vehicle, p.Customer, p.Distance
	out.Stage, out.Access, out.Bay, out.Owner, out.WaitsFor = p.Stage, p.Access, p.Bay, p.Owner, p.WaitsFor
	out.Closed, out.Root, out.Outcome, out.Damages, out.CuredBy, out.Learnt = p.Closed, p.Root, p.Outcome, p.Damages, p.CuredBy, p.Learnt
	out.Earlier, out.DueAt, out.DueDistance, out.DueNote = p.Earlier, p.DueAt, p.DueDistance, p.DueNote
	return out
}

// numbered gives what is appended to a list its numbers.
func numbered[T any](old, add []T, seq func(*T) *int) []T {
	next := 1
	if len(old) > 0 {
		last := old[len(old)-1]
		next = *seq(&last) + 1
	}
	add = slices.Clone(add)
	for i := range add {
		*seq(&add[i]) = next + i
	}
	return add
}

func numberedOne[T any](old []T, add *T, seq func(*T) *int) *T {
	if add == nil {
		return nil
	}
	return &numbered(old, []T{*add}, seq)[0]
}

func one[T any](p *T) []T {
	if p == nil {
		return nil
	}
	return []T{*p}
}

// appended leaves the old list as it is, for whoever still holds it.
func appended[T any](old []T, add ...T) []T { return append(slices.Clip(old), add...) }

// replaced is a list in which what has the key of something new, or of something dropped, has made room; in order.
func replaced[T any](old, drop, add []T, key func(T) string, order func(a, b T) int) []T {
	if len(drop)+len(add) == 0 {
		return old
	}
	gone := map[string]bool{}
	for _, x := range append(slices.Clip(drop), add...) {
		gone[key(x)] = true
	}
	out := slices.DeleteFunc(slices.Clone(old), func(x T) bool { return gone[key(x)] })
	out = append(out, add...)
	slices.SortStableFunc(out, order)
	if len(out) == 0 {
		return nil
	}
	return out
}
