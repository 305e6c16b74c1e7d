package casebench

// Sum is what a bench comes to.
type Sum struct {
	Cases             int
	Unlisted          int // with a root that has no entry: a miss at every stage
	First, Three      int // root first, and among the first three, at the sure stage
	Stages            map[string]*StageSum
	NextGood, NextBad int
	WrongStop         int // at any stage: the advice is to stop while the leader is no root
	WrongCertain      int // a leader that is no root above nine in ten
	OptionDo          int // options advised that are what a careful shop does
	OptionNever       int
	Lines, Lacks      int
	Brier             float64 // mean over cases and stages of (share of the leader − whether it is right)²
	Bins              [5]Bin
}

// StageSum counts one stage.
type StageSum struct{ Cases, First, Three int }

// Bin is the calibration in one fifth of probability: how often the leader was right, beside what it was said to be.
type Bin struct {
	Count       int
	Said, Right float64 // sums
}

// Add sums results up.
func Add(results []Result) Sum {
	out := Sum{Stages: map[string]*StageSum{}}
	seen := 0
	for _, r := range results {
		out.Cases++
		out.Lines += r.Lines
		out.Lacks += len(r.Lacks)
		switch r.Sure.Rank {
		case 0:
			out.Unlisted++
		case 1:
			out.First++
			out.Three++
		case 2, 3:
			out.Three++
		}
		for _, s := range r.Stages {
			at := out.Stages[s.Stage]
			if at == nil {
				at = &StageSum{}
				out.Stages[s.Stage] = at
			}
			at.Cases++
			if s.Rank == 1 {
				at.First++
			}
			if s.Rank >= 1 && s.Rank <= 3 {
				at.Three++
			}
			right := 0.0
			if s.Right {
				right = 1
			} else {
				if s.Stop {
					out.WrongStop++
				}
				if s.LeaderShare > 0.9 {
					out.WrongCertain++
				}
			}
			b := &out.Bins[min(4, int(5*s.LeaderShare))]
			b.Count++
			b.Said += s.LeaderShare
			b.Right += right
			out.Brier += (s.LeaderShare - right) * (s.LeaderShare - right)
			seen++
		}
		switch r.NextIs {
		case "good":
			out.NextGood++
		case "bad":
			out.NextBad++
		}
		switch r.OptionIs {
		case "do":
			out.OptionDo++
		case "never":
			out.OptionNever++
		}
	}
	if seen > 0 {
		out.Brier /= float64(seen)
	}
	return out
}
