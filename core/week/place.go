package week

import (
	"cmp"
	"math"
	"slices"
)

// busy are spans of open seconds that are taken, in order.
type busy []span

type span struct{ from, to int64 }

// hit is the first span that begins before to and ends after from.
func (b busy) hit(from, to int64) (span, bool) {
	i, end := 0, len(b) // a search by hand: nine tenths of a plan's time is spent here
	for i < end {
		if mid := (i + end) / 2; b[mid].to <= from {
			i = mid + 1
		} else {
			end = mid
		}
	}
	if i < len(b) && b[i].from < to {
		return b[i], true
	}
	return span{}, false
}

func (b busy) with(s span) busy {
	if s.from == s.to {
		return b
	}
	at, _ := slices.BinarySearchFunc(b, s, func(a, b span) int { return cmp.Compare(a.from, b.from) })
	return slices.Insert(b, at, s)
}

// laid is a job in its place, in open seconds.
type laid struct {
	job, bay       int
	from, to, late int64
	phases         []placed
}

type placed struct {
	from, to int64
	by       []int
}

// board is the shop as it fills.
type board struct {
	*finder
	bays, people []busy
}

// lay places jobs in an order.
func (f *finder) lay(order []int) []laid {
	b := board{f, make([]busy, len(f.shop.Bays)), make([]busy, len(f.shop.People))}
	out := make([]laid, 0, len(order))
	for _, i := range order {
		best := laid{bay: -1}
		for bay := range b.bays {
			if s := f.jobs[i].Set; s != nil && s.Bay >= 0 && s.Bay < len(b.bays) && s.Bay != bay {
				continue
			}
			limit := int64(math.MaxInt64)
			if best.bay >= 0 {
				limit = best.to
			}
			if x, earlier := b.place(i, bay, limit); earlier {
				best = x
			}
		}
		b.bays[best.bay] = b.bays[best.bay].with(span{best.from, best.to})
		for _, p := range best.phases {
			for _, who := range p.by {
				b.people[who] = b.people[who].with(span{p.from, p.to})
			}
		}
		if f.due[i] >= 0 {
			best.late = max(0, best.to-f.due[i])
		}
		out = append(out, best)
	}
	return out
}

// place is a job in a bay at the earliest; false when it does not end before limit there.
func (b *board) place(i, bay int, limit int64) (laid, bool) {
	at := b.ready[i]
	for at < limit {
		if hit, no := b.bays[bay].hit(at, at+1); no { // nothing can begin while another holds the bay
			at = hit.to
			continue
		}
		x := b.phases(i, bay, at)
		if x.to >= limit {
			break // later it ends no earlier
		}
		hit, no := b.bays[bay].hit(x.from, x.to)
		if !no {
			return x, true
		}
		at = hit.to
	}
	return laid{}, false
}

// phases places the phases of a job from a moment on, each as soon as who does it is free. A vehicle takes its bay when its first phase
// begins.
func (b *board) phases(i, bay int, at int64) laid {
	j := b.jobs[i]
	out := laid{job: i, bay: bay, phases: make([]placed, len(j.Phases))}
	must := -1
	if j.Set != nil {
		must = j.Set.Person
	}
	who := must
	begin := at
	for k, p := range j.Phases {
		at = b.clock.Later(at, p.Wait)
		x := placed{from: at, to: at}
		if p.Hours > 0 && p.People > 0 {
			x = b.crew(at, p, who, must >= 0 && must < len(b.people))
			if who < 0 && p.People == 1 {
				who = x.by[0] // whoever opened it goes on with it, where that costs nothing
			}
		}
		if k == 0 {
			out.from = x.from
			if j.InBay {
				out.from = begin
			}
		}
		at = x.to
		out.phases[k] = x
	}
	out.to = at
	return out
}

// crew finds the earliest time from which so many people are free for a phase. Of those who are free then, first goes first; with must
// nobody begins without that one.
func (b *board) crew(from int64, p Phase, first int, must bool) placed {
	long := int64(math.Round(p.Hours * 3600))
	for {
		x := placed{from: from, to: from + long}
		next := int64(math.MaxInt64)
		ask := func(i int) bool {
			hit, no := b.people[i].hit(x.from, x.to)
			if no {
				next = min(next, hit.to)
			} else if len(x.by) < p.People {
				x.by = append(x.by, i)
			}
			return !no
		}
		free := true
		if first >= 0 && first < len(b.people) {
			free = ask(first)
		}
		if free || !must {
			for i := range b.people {
				if i != first && len(x.by) < p.People {
					ask(i)
				}
			}
		}
		if len(x.by) == p.People && (free || !must) {
			return x
		}
		from = next
	}
}
