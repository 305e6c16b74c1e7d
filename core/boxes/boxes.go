// Package boxes moves masses by a step in time that are held to each other by things which hold no more than so much: plates, bands, one-way clutches, dogs, a
// vehicle brake.
//
// Model. Speeds v over n coordinates with a constant mass M; each hold e has a row r: its slip is r·v, and the impulse λ that it takes is bounded, lo ≤ λ ≤ hi. A hold
// whose impulse lies inside its bounds does not slip; at a bound it slips against it: at the upper one r·v ≤ 0, at the lower one r·v ≥ 0. After a step,
// A·v = p + Rᵀ·λ, where A is the mass with what is implicit in it and p the impulse of everything else. That is a linear complementarity problem with a symmetric
// matrix W = R·A⁻¹·Rᵀ [1]: plates have bounds of both signs, a one-way clutch zero and its strength, a hold that is open zero twice. No other logic of sticking or
// slipping is needed.
//
// Method: the set of holds that do not slip is guessed from the step before, solved, and those that contradict it are turned over, all at once; when that has not
// settled after some rounds, only the first of them at a time, which ends for a matrix like this one [2]. Holds that repeat each other share their impulse: the diagonal
// is raised by a billionth.
//
// Units: any that agree; speeds in rad/s, impulses in N·m·s, masses in kg·m².
//
// References, recalled from memory: [1] R. W. Cottle, J.-S. Pang, R. E. Stone, The Linear Complementarity Problem, 1992; [2] K. G. Murty, Note on a Bard-type
// scheme for solving the complementarity problem, 1974.
package boxes

import (
	"errors"
	"fmt"
	"math"

	"gonum.org/v1/gonum/mat"
)

// Bounds are what a hold takes at least and at most in one step, as impulses. Equal bounds are an impulse that is given.
type Bounds struct{ Lo, Hi float64 }

// Holds are the holds on one mass matrix. They keep what the step before found and scratch space: for one goroutine.
type Holds struct {
	n, m   int
	mass   []float64 // A, n × n
	free   []float64 // A⁻¹, n × n
	rows   []float64 // m × n
	lift   []float64 // A⁻¹·Rᵀ, n × m
	w      []float64 // m × m
	at     []place   // by hold, after the last step
	impuls []float64 // by hold
	slip   []float64 // by hold, without any hold
	stuck  []int     // scratch
	a, b   []float64 // scratch of the solution
	rounds int
	hard   int
}

// place is where the impulse of a hold lies.
type place int8

const (
	inside place = iota
	low
	high
)

// Rounds in which all that contradicts the guess is turned over, and after which it is given up.
const (
	boldRounds = 12
	mostRounds = 2000
)

// New prepares holds over a mass: n × n, symmetric and positive definite; each row has n entries.
func New(mass mat.Symmetric, rows [][]float64) (*Holds, error) {
	n := mass.SymmetricDim()
	var c mat.Cholesky
	if !c.Factorize(mass) {
		return nil, errors.New("boxes: the mass is not positive definite: something has no inertia")
	}
	var inv mat.SymDense
	if err := c.InverseTo(&inv); err != nil {
		return nil, fmt.Errorf("boxes: the mass cannot be inverted: %w", err)
	}
	m := len(rows)
	h := &Holds{n: n, m: m, mass: make([]float64, n*n), free: make([]float64, n*n), rows: make([]float64, 0, n*m), lift: make([]float64, n*m), w: make([]float64, m*m), at: make([]place, m),
		impuls: make([]float64, m), slip: make([]float64, m), stuck: make([]int, 0, m), a: make([]float64, m*m), b: make([]float64, m)}
	for i := range n {
		for j := range n {
			h.mass[i*n+j], h.free[i*n+j] = mass.At(i, j), inv.At(i, j)
		}
	}
	for k, r := range rows {
		if len(r) != n {
			return nil, fmt.Errorf("boxes: row %d has %d entries of %d", k, len(r), n)
		}
		h.rows = append(h.rows, r...)
	}
	for k := range m {
		for i := range n {
			h.lift[i*m+k] = dot(h.free[i*n:i*n+n], h.row(k))
		}
	}
	for k := range m {
		for l := range m {
			for i := range n {
				h.w[k*m+l] += h.rows[k*n+i] * h.lift[i*m+l]
			}
		}
		h.w[k*m+k] *= 1 + 1e-9
	}
	return h, nil
}

func (h *Holds) row(k int) []float64 { return h.rows[k*h.n : k*h.n+h.n] }

// Slip is the speed across a hold.
func (h *Holds) Slip(k int, v []float64) float64 { return dot(h.row(k), v) }

// Impulses are what the holds took in the last step, in their order. The slice is the holds' own.
func (h *Holds) Impulses() []float64 { return h.impuls }

// Rounds reports how many rounds all steps took together, and how many steps needed more than the bold ones.
func (h *Holds) Rounds() (all, hard int) { return h.rounds, h.hard }

// Take has these holds begin from what others found over another mass: the same holds, in another state of the rest.
func (h *Holds) Take(from *Holds) { copy(h.at, from.at) }

// Step writes into v the speeds after a step with an impulse p on the coordinates: A·v = p + Rᵀ·λ.
func (h *Holds) Step(v, p []float64, bounds []Bounds) {
	n, m := h.n, h.m
	for i := range n {
		v[i] = dot(h.free[i*n:i*n+n], p)
	}
	for k := range m {
		h.slip[k] = dot(h.row(k), v)
	}
	h.settle(bounds)
	for i := range n {
		for k, x := range h.impuls {
			v[i] += h.lift[i*m+k] * x
		}
	}
}

// settle turns the guess over until nothing contradicts it.
func (h *Holds) settle(bounds []Bounds) {
	for round := range mostRounds {
		h.rounds++
		if round == boldRounds {
			h.hard++
		}
		h.stuck = h.stuck[:0]
		for k, b := range bounds {
			switch {
			case b.Lo >= b.Hi:
				h.at[k], h.impuls[k] = low, b.Lo
			case h.w[k*h.m+k] == 0: // holds what turns as one anyway
				h.impuls[k] = 0
			case h.at[k] == low:
				h.impuls[k] = b.Lo
			case h.at[k] == high:
				h.impuls[k] = b.Hi
			default:
				h.impuls[k] = 0
				h.stuck = append(h.stuck, k)
			}
		}
		h.solve()
		again := false
		for k, b := range bounds {
			if again && round >= boldRounds {
				break
			}
			if b.Lo >= b.Hi || h.w[k*h.m+k] == 0 {
				continue
			}
			// What is rounding, against impulses and slips of the hold's own size.
			tiny := 1e-9 * (math.Abs(h.impuls[k]) + 1e-6)
			switch h.at[k] {
			case inside:
				if x := h.impuls[k]; x > b.Hi+tiny {
					h.at[k], again = high, true
				} else if x < b.Lo-tiny {
					h.at[k], again = low, true
				}
			case low:
				if h.after(k) < -1e-9 {
					h.at[k], again = inside, true
				}
			case high:
				if h.after(k) > 1e-9 {
					h.at[k], again = inside, true
				}
			}
		}
		if !again {
			return
		}
	}
}

// after is the slip of a hold with all impulses as they are.
func (h *Holds) after(k int) float64 { return h.slip[k] + dot(h.w[k*h.m:k*h.m+h.m], h.impuls) }

// solve finds the impulses of the holds that do not slip, by Cholesky's method: a part of W is positive definite as W is.
func (h *Holds) solve() {
	s := len(h.stuck)
	for i, k := range h.stuck {
		row := h.w[k*h.m : k*h.m+h.m]
		h.b[i] = -(h.slip[k] + dot(row, h.impuls))
		for j := 0; j <= i; j++ {
			x := row[h.stuck[j]]
			for l := range j {
				x -= h.a[i*s+l] * h.a[j*s+l]
			}
			if i > j {
				h.a[i*s+j] = x / h.a[j*s+j]
				continue
			}
			h.a[i*s+i] = math.Sqrt(max(x, 1e-12*row[k])) // what rounding leaves of holds that repeat each other
		}
	}
	for i := range s {
		for l := range i {
			h.b[i] -= h.a[i*s+l] * h.b[l]
		}
		h.b[i] /= h.a[i*s+i]
	}
	for i := s - 1; i >= 0; i-- {
		for l := i + 1; l < s; l++ {
			h.b[i] -= h.a[l*s+i] * h.b[l]
		}
		h.b[i] /= h.a[i*s+i]
	}
	for i, k := range h.stuck {
		h.impuls[k] = h.b[i]
	}
}

func dot(a, b []float64) float64 {
	s := 0.0
	for i, x := range a {
		s += x * b[i]
	}
	return s
}
