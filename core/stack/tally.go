package stack

// Tally is how much there is to a stack.
type Tally struct {
	Parts  int // entries of the list, the case counted
	Pieces int // single pieces, plates and planets one by one
	Bolts  int
	Fits   int // families of sizes to choose from
	Limits int // windows that are measured on the bench, each counted once
	Once   int // entries that are never used again
	Valves int // bores of the valve body
	Balls  int // check balls in its drawing
}

// Tally counts a stack.
func (s *Stack) Tally() Tally {
	t := Tally{Parts: len(s.Parts)}
	limits := map[string]bool{}
	for _, p := range s.Parts {
		t.Pieces += p.Pieces()
		for _, b := range p.Bolts {
			t.Bolts += b.Count
		}
		if p.Fit != nil {
			t.Fits++
		}
		if p.Once {
			t.Once++
		}
		for _, l := range p.Limits {
			limits[l] = true
		}
	}
	t.Limits = len(limits)
	if b := s.Sheet.Body; b != nil {
		t.Valves = len(b.Bores)
		for _, x := range b.Balls {
			t.Balls += len(x.At)
		}
	}
	return t
}

// Pieces is how many single pieces an entry stands for.
func (p Part) Pieces() int {
	if n := len(p.Plates); n > 0 {
		return n
	}
	return max(1, p.Count)
}
