package bayes

import "math/bits"

// graph is an undirected graph over variables that loses them one by one.
type graph struct {
	words int
	adj   [][]uint64 // by variable: set of neighbours
	alive []bool
	fill  []int // by variable: pairs of neighbours that are not joined; −1 when not known
}

func newGraph(n int) *graph {
	words := (n + 63) / 64
	return &graph{words: words, adj: make([][]uint64, n), alive: make([]bool, n), fill: make([]int, n)}
}

func (g *graph) add(v int) {
	if !g.alive[v] {
		g.alive[v], g.adj[v], g.fill[v] = true, make([]uint64, g.words), -1
	}
}

func (g *graph) link(a, b int) {
	g.add(a)
	g.add(b)
	g.adj[a][b/64] |= 1 << (b % 64)
	g.adj[b][a/64] |= 1 << (a % 64)
}

// members lists a set.
func members(set []uint64) []int {
	var out []int
	for w, x := range set {
		for ; x != 0; x &= x - 1 {
			out = append(out, 64*w+bits.TrailingZeros64(x))
		}
	}
	return out
}

// next returns the variable that is cheapest to eliminate, false when none is left. Ties go to the one with fewest
// neighbours.
func (g *graph) next() (int, bool) {
	best, cost := -1, 0
	for v, alive := range g.alive {
		if !alive {
			continue
		}
		if g.fill[v] < 0 {
			g.fill[v] = g.missing(v)
		}
		if best < 0 || g.fill[v] < cost {
			best, cost = v, g.fill[v]
		}
	}
	return best, best >= 0
}

// missing counts the pairs of neighbours that are not joined, with the number of neighbours to break ties.
func (g *graph) missing(v int) int {
	set := g.adj[v]
	degree, missing := 0, 0
	for w, x := range set {
		degree += bits.OnesCount64(x)
		for ; x != 0; x &= x - 1 {
			a := g.adj[64*w+bits.TrailingZeros64(x)]
			for i, y := range set {
				missing += bits.OnesCount64(y &^ a[i])
			}
		}
	}
	return (missing-degree)/2<<8 + min(degree, 255) // every neighbour misses itself
}

// eliminate joins the neighbours of a variable, takes it away, and returns them.
func (g *graph) eliminate(v int) []int {
	g.alive[v] = false
	near := members(g.adj[v])
	joined := g.fill[v]>>8 == 0
	for _, a := range near {
		g.adj[a][v/64] &^= 1 << (v % 64)
		g.fill[a] = -1
		if joined {
			continue
		}
		for i, x := range g.adj[v] {
			g.adj[a][i] |= x
		}
		g.adj[a][a/64] &^= 1 << (a % 64)
	}
	if !joined { // who sees two of those that were joined has fewer pairs missing
		for _, a := range near {
			for _, b := range members(g.adj[a]) {
				g.fill[b] = -1
			}
		}
	}
	return near
}
