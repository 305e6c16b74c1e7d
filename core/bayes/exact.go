package bayes

import (
	"context"
	"math"
	"slices"
)

// Exact is the exact answer.
type Exact struct {
	Total    float64   // weight of everything, in the unit of Evidence.Nothing
	Rounding float64   // bound on the error of Total by rounding, relative
	Present  []float64 // posterior probability of each node; −1 for a damage on which no reading bears by itself
}

// Limits of exact inference: entries of one table, and of all that are kept for the way back.
const (
	maxWidth = 22
	maxKept  = 1 << 23
	// A total that rounding may have changed by more than this is not called exact.
	maxRounding = 1e-6
)

// bucket is one step of the elimination: everything that speaks of one variable, summed out over it.
//
// A "brought about" variable of a damage and of an abnormal reading is 1 for "whatever the parents do" and 0 for "no
// parent does it". In this cumulative form parents multiply, and inclusion and exclusion come in once, with the
// damage itself and with what was read [1, 4].
type bucket struct {
	scope []int      // variables that stay, the last eliminated first: bit 0, 1, … of the table; the bucket's own is above them
	own   [2]float64 // factor of the variable itself
	with  [][4]float64
	from  []*message // of earlier buckets
	to    message
	node  int // −1 when the variable is no node
}

// message is what a bucket leaves behind, over its scope; back is the adjoint.
type message struct {
	scope   []int
	t, back []float64
}

// Plan is the order in which an exact answer would be computed.
type Plan struct {
	e     *Evidence
	order []int   // variables
	stay  [][]int // by step: variables that stay, last eliminated first
	rank  []int
	Work  int // table entries, a measure of time: some ten million in a second
	Width int // most variables in one table
}

// variables: nodes, then for each node "brought about" (of damages with several parents), then abnormal readings.
func (e *Evidence) brought(node int) int   { return e.net.Nodes() + node }
func (e *Evidence) heard(abnormal int) int { return 2*e.net.Nodes() + abnormal }

// graph returns which variables share a factor, and the parents of each damage that matters.
func (e *Evidence) graph() (*graph, [][]child) {
	n := e.net
	g := newGraph(2*n.Nodes() + len(e.abnormal))
	parents := make([][]child, n.Nodes())
	for v := range n.Nodes() {
		if !e.takesPart(v, parents) {
			continue
		}
		g.add(v)
		for _, h := range e.hits[v] {
			g.link(v, e.heard(h.abnormal))
		}
		for _, c := range e.below[v] {
			parents[c.node] = append(parents[c.node], child{v, c.p})
		}
	}
	for v, from := range parents {
		switch {
		case len(from) == 1:
			g.link(from[0].node, v)
		case len(from) > 1:
			y := e.brought(v)
			g.link(y, v)
			for _, p := range from {
				g.link(p.node, y)
			}
		}
	}
	for i := range e.abnormal {
		g.add(e.heard(i))
	}
	return g, parents
}

func (e *Evidence) takesPart(v int, parents [][]child) bool {
	if v < e.net.Roots() {
		return e.touched(v) && e.odds[v] > 0
	}
	return len(parents[v]) > 0
}

// Plan chooses the order of elimination: always the variable that joins the fewest others that were not joined.
func (e *Evidence) Plan() Plan {
	g, _ := e.graph()
	p := Plan{e: e, rank: make([]int, len(g.alive))}
	for {
		v, ok := g.next()
		if !ok {
			break
		}
		p.rank[v] = len(p.order)
		p.order = append(p.order, v)
		stay := g.eliminate(v)
		p.stay = append(p.stay, stay)
		p.Width = max(p.Width, len(stay)+1)
		p.Work += 1 << min(len(stay)+1, 40)
	}
	for _, stay := range p.stay {
		slices.SortFunc(stay, func(a, b int) int { return p.rank[b] - p.rank[a] })
	}
	return p
}

// Exact sums over everything that can be present by eliminating one variable after the other, then goes back for
// every marginal at once. It reports false when the plan is too wide, rounding could show, or ctx ended.
func (p Plan) Exact(ctx context.Context) (Exact, bool) {
	if p.Width > maxWidth || p.Work > 2*maxKept {
		return Exact{}, false
	}
	e := p.e
	buckets := p.buckets()
	var w tables
	total, off := e.scale, 0.0
	for i := range buckets {
		if ctx.Err() != nil {
			return Exact{}, false
		}
		b := &buckets[i]
		if w.forward(b); len(b.to.scope) == 0 {
			off = off*math.Abs(b.to.t[0]) + math.Abs(total)*b.to.back[0]
			total *= b.to.t[0]
		}
	}
	out := Exact{Total: total, Present: make([]float64, e.net.Nodes())}
	out.Rounding = off / math.Max(math.Abs(total), tiny)
	for v := range out.Present {
		out.Present[v] = -1
	}
	for r, o := range e.odds {
		if !e.touched(r) || o == 0 {
			out.Total *= 1 + o
			out.Present[r] = o / (1 + o)
		}
	}
	if total == 0 && off == 0 {
		return out, true
	}
	if !(out.Rounding < maxRounding) || total <= 0 {
		return out, false
	}
	for i := len(buckets) - 1; i >= 0; i-- {
		if ctx.Err() != nil {
			return Exact{}, false
		}
		b := &buckets[i]
		if x := w.backward(b); b.node >= 0 {
			out.Present[b.node] = math.Max(0, math.Min(1, x))
		}
	}
	return out, true
}

// Exact plans and computes.
func (e *Evidence) Exact() (Exact, bool) { return e.Plan().Exact(context.Background()) }

func (p Plan) buckets() []bucket {
	e := p.e
	_, parents := e.graph()
	out := make([]bucket, len(p.order))
	for i, stay := range p.stay {
		b := bucket{scope: stay, own: [2]float64{1, 1}, with: make([][4]float64, len(stay)), node: -1}
		for j := range b.with {
			b.with[j] = [4]float64{1, 1, 1, 1}
		}
		b.to = message{scope: stay}
		out[i] = b
	}
	// put places a factor of two variables, by value 2·a + b, with the one that goes first.
	put := func(a, b int, f [4]float64) {
		if p.rank[a] > p.rank[b] {
			a, b, f = b, a, [4]float64{f[0], f[2], f[1], f[3]}
		}
		into := &out[p.rank[a]]
		at := slices.Index(into.scope, b)
		for k := range f {
			into.with[at][k] *= f[k]
		}
	}
	for i, v := range p.order {
		switch n := e.net.Nodes(); {
		case v < n:
			out[i].node = v
			out[i].own[1] = e.normal[v]
			if v < e.net.Roots() {
				out[i].own[1] *= e.odds[v]
			}
			for _, h := range e.hits[v] {
				put(v, e.heard(h.abnormal), [4]float64{1, 1, h.u, h.u + h.h})
			}
			switch from := parents[v]; {
			case len(from) == 1:
				put(from[0].node, v, [4]float64{1, 0, 1 - from[0].p, from[0].p})
			case len(from) > 1:
				put(e.brought(v), v, [4]float64{1, -1, 0, 1})
				for _, x := range from {
					put(x.node, e.brought(v), [4]float64{1, 1, 1 - x.p, 1})
				}
			}
		case v >= 2*n:
			l := e.abnormal[v-2*n]
			out[i].own = [2]float64{-l.missed, l.missed + l.by}
		}
	}
	for i := range out {
		if b := &out[i]; len(b.scope) > 0 {
			first := slices.MinFunc(b.scope, func(x, y int) int { return p.rank[x] - p.rank[y] })
			to := &out[p.rank[first]]
			to.from = append(to.from, &b.to)
		}
	}
	return out
}

// tables is scratch space of the elimination.
type tables struct {
	t, off []float64
	spare  [][]float64
}

// ulp is half a unit in the last place, the relative error of one operation.
const ulp = 0x1p-53

// fill writes the product of the bucket's own factors, by the variables that stay and, above them, its own.
func (b *bucket) fill(t []float64) []float64 {
	n := 1 << len(b.scope)
	t = slices.Grow(t[:0], 2*n)[:2*n]
	for own := range 2 {
		half := t[own*n : (own+1)*n]
		half[0] = b.own[own]
		for j, f := range b.with {
			f0, f1 := f[2*own], f[2*own+1]
			low, high := half[:1<<j], half[1<<j:2<<j]
			for s, x := range low {
				low[s], high[s] = x*f0, x*f1
			}
		}
	}
	return t
}

// forward sums a bucket out into its message. Until the way back, its adjoint holds a bound on the error of each
// entry: errors of products add up relatively, those of sums absolutely, and every operation adds its own.
func (w *tables) forward(b *bucket) {
	w.t = b.fill(w.t)
	w.off = slices.Grow(w.off[:0], len(w.t))[:len(w.t)]
	own := ulp * float64(2*len(b.with)+len(b.from)+2)
	for s, x := range w.t {
		w.off[s] = own * math.Abs(x)
	}
	for _, m := range b.from {
		b.runs(m, len(w.t), func(s, k, n int) {
			t, off, y, err := w.t[s:s+n], w.off[s:s+n], m.t[k:k+n], m.back[k:k+n]
			for i, x := range t {
				off[i] = off[i]*math.Abs(y[i]) + math.Abs(x)*err[i]
				t[i] = x * y[i]
			}
		}, func(s, k, n int) {
			t, off, y, err := w.t[s:s+n], w.off[s:s+n], m.t[k], m.back[k]
			size := math.Abs(y)
			for i, x := range t {
				off[i] = off[i]*size + math.Abs(x)*err
				t[i] = x * y
			}
		})
	}
	n := len(w.t) / 2
	b.to.t, b.to.back = make([]float64, n), make([]float64, n)
	for s := range n {
		b.to.t[s] = w.t[s] + w.t[n+s]
		b.to.back[s] = w.off[s] + w.off[n+s] + ulp*math.Abs(b.to.t[s])
	}
}

// backward takes the adjoint of a bucket's message to those that went into it, and returns the posterior
// probability that its variable is 1.
func (w *tables) backward(b *bucket) float64 {
	n := 1 << len(b.scope)
	w.t = b.fill(w.t)
	if len(b.scope) == 0 {
		b.to.back[0] = 1 / b.to.t[0]
	}
	for s, x := range b.to.back {
		w.t[s] *= x
		w.t[n+s] *= x
	}
	if len(b.from) == 0 {
		return sum(w.t[n:])
	}
	return w.share(b, w.t, b.from, 0, n)
}

func sum(t []float64) float64 {
	out := 0.0
	for _, x := range t {
		out += x
	}
	return out
}

// share gives each message the product of everything but itself, halving the list so that few tables are made.
func (w *tables) share(b *bucket, t []float64, list []*message, depth, half int) float64 {
	if len(list) == 1 {
		m := list[0]
		clear(m.back)
		present := 0.0
		b.runs(m, len(t), func(s, k, n int) {
			t, y, back := t[s:s+n], m.t[k:k+n], m.back[k:k+n]
			for i, x := range t {
				back[i] += x
			}
			if s >= half {
				for i, x := range t {
					present += x * y[i]
				}
			}
		}, func(s, k, n int) {
			x := sum(t[s : s+n])
			m.back[k] += x
			if s >= half {
				present += x * m.t[k]
			}
		})
		return present
	}
	mid := len(list) / 2
	for len(w.spare) <= depth {
		w.spare = append(w.spare, nil)
	}
	var out float64
	for side, rest := range [][]*message{list[mid:], list[:mid]} {
		next := append(w.spare[depth][:0], t...)
		w.spare[depth] = next
		for _, m := range rest {
			b.runs(m, len(next), func(s, k, n int) {
				t, y := next[s:s+n], m.t[k:k+n]
				for i := range t {
					t[i] *= y[i]
				}
			}, func(s, k, n int) {
				t, y := next[s:s+n], m.t[k]
				for i := range t {
					t[i] *= y
				}
			})
		}
		out = w.share(b, next, [][]*message{list[:mid], list[mid:]}[side], depth+1, half)
	}
	return out
}

// runs goes through the places of a bucket's table, n of them, with those of a message that they meet. Variables
// keep their order, so that whole runs either go in step or meet one and the same place.
func (b *bucket) runs(m *message, n int, step, same func(at, place, run int)) {
	width := len(b.scope) + 1
	bit := make([]int, width) // by position in the bucket: bit of the message, 0 for none
	for j, v := range m.scope {
		at := slices.Index(b.scope, v)
		if at < 0 {
			at = width - 1 // the bucket's own variable
		}
		bit[at] = 1 << j
	}
	low := min(1, width-1)
	visit := same
	if bit[0] != 0 {
		visit = step
	}
	for low < width-1 && (bit[low] != 0) == (bit[0] != 0) { // the two halves stay apart
		low++
	}
	run := 1 << low
	place := 0
	for s := 0; s < n; s += run {
		visit(s, place, run)
		// Count up: every bit that turns over takes its place with it.
		for j := low; j < width; j++ {
			if s>>j&1 == 0 {
				place += bit[j]
				break
			}
			place -= bit[j]
		}
	}
}
