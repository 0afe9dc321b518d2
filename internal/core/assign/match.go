// Package assign pairs players with instruments: as many as can be, at the least cost, and of equal plans always the same.
//
// The search is the shortest augmenting path method for the assignment problem (Kuhn and Munkres, in the form of Jonker and
// Volgenant): prices on rows and columns prove that no cheaper plan exists, and the same prices show every plan that is as
// cheap, among which the lexicographically smallest is taken.
package assign

import (
	"fmt"
	"math"

	"solfeggio/internal/core/field"
)

// MatchIn is the input of the calculator assign.match. A null is a pair that must not be.
type MatchIn struct {
	Cost [][]*float64 `json:"cost" doc:"A row for each player, a column for each instrument"`
}

// MatchOut is its result.
type MatchOut struct {
	Pairs         [][2]int `json:"pairs" doc:"Row and column, by row"`
	Total         float64  `json:"total"`
	UnmatchedRows []int    `json:"unmatched_rows"`
	UnmatchedCols []int    `json:"unmatched_cols"`
}

const (
	largestCost = 1e9
	mostCells   = 25_000_000
)

// Match is the calculator assign.match: most pairs first, then the least total, then the lexicographically smallest pairs.
func Match(in MatchIn) (MatchOut, error) {
	rows, cols := len(in.Cost), 0
	if rows > 0 {
		cols = len(in.Cost[0])
	}
	if rows*cols > mostCells {
		return MatchOut{}, field.Errorf("cost", "%d × %d are too many", rows, cols)
	}
	flat := make([]float64, 0, rows*cols)
	for i, row := range in.Cost {
		if len(row) != cols {
			return MatchOut{}, field.Errorf(fmt.Sprintf("cost[%d]", i), "has %d entries, and the first row has %d", len(row), cols)
		}
		for j, c := range row {
			switch {
			case c == nil:
				flat = append(flat, Forbidden)
			case !(math.Abs(*c) <= largestCost):
				return MatchOut{}, field.Errorf(fmt.Sprintf("cost[%d][%d]", i, j), "%v is no cost; use at most %v", *c, largestCost)
			default:
				flat = append(flat, *c)
			}
		}
	}
	return Solve(rows, cols, flat), nil
}

// Forbidden is the cost of a pair that must not be.
var Forbidden = math.Inf(1)

// Solve is Match for costs that lie row by row, each at most 1e9 from zero or Forbidden.
func Solve(rows, cols int, cost []float64) MatchOut {
	out := MatchOut{Pairs: [][2]int{}, UnmatchedRows: []int{}, UnmatchedCols: []int{}}
	p := newPlan(rows, cols, cost)
	for _, i := range p.rush() {
		p.seat(i)
	}
	p.lexicographic()
	taken := make([]bool, cols)
	for i, j := range p.colOf {
		if j == nobody {
			out.UnmatchedRows = append(out.UnmatchedRows, i)
			continue
		}
		taken[j] = true
		out.Pairs = append(out.Pairs, [2]int{i, j})
		out.Total += cost[i*cols+j]
	}
	for j, t := range taken {
		if !t {
			out.UnmatchedCols = append(out.UnmatchedCols, j)
		}
	}
	return out
}

// nobody is the column of a row that goes without, and the row of a free column.
const nobody = -1

// A plan is a cheapest plan for the rows seated so far, with the prices that prove it: u[i] + v[j] ≤ cost, equal on every
// pair of the plan, v ≤ 0 and v = 0 on free columns, u ≤ without, and u = without on every row that goes without.
type plan struct {
	rows, cols int
	cost       []float64 // row by row
	without    float64   // what it costs to leave a row out: more than any plan could save by it
	u, v       []float64
	colOf      []int
	rowOf      []int
	slack      float64 // below it a difference counts as none

	// scratch of a search
	dist    []float64
	from    []int32
	pending []int32 // columns that the search has not reached
	scanned []int32
}

func newPlan(rows, cols int, cost []float64) *plan {
	p := &plan{
		rows: rows, cols: cols, cost: cost, u: make([]float64, rows), v: make([]float64, cols), colOf: make([]int, rows),
		rowOf: make([]int, cols),
		dist:  make([]float64, cols), from: make([]int32, cols), pending: make([]int32, cols),
	}
	low, high := span(cost)
	most := (high-low+1)*float64(min(rows, cols)+1) + 1
	p.without = low + most
	p.slack = math.Max(1e-9, 1e-13*most)
	for i := range p.colOf {
		p.colOf[i] = nobody
	}
	for j := range p.rowOf {
		p.rowOf[j] = nobody
	}
	return p
}

// span is the least and the largest cost that is not Forbidden; zeros if all are. It compares the bits of the costs as whole numbers,
// put so that they follow the same order, since that needs no jumps, and which pairs are forbidden no processor foresees.
func span(cost []float64) (low, high float64) {
	inOrder := func(bits uint64) int64 { return int64(bits) ^ int64(bits)>>63&math.MaxInt64 }
	forbidden := inOrder(math.Float64bits(Forbidden))
	least, most := forbidden, int64(math.MinInt64)
	for _, c := range cost {
		at := inOrder(math.Float64bits(c))
		least = min(least, at)
		if at == forbidden {
			at = math.MinInt64
		}
		most = max(most, at)
	}
	if least == forbidden {
		return 0, 0
	}
	outOfOrder := func(at int64) float64 { return math.Float64frombits(uint64(inOrder(uint64(at)))) }
	return outOfOrder(least), outOfOrder(most)
}

// rush pairs what can be paired without a search: each row with the column that is cheapest for it, and whoever is pushed out by
// another with the next best, while prices say that nothing better is lost (column reduction and augmenting row reduction of Jonker
// and Volgenant 1987, named from memory). It returns the rows that are left for a search.
func (p *plan) rush() (left []int) {
	var free []int
	for i := range p.rows {
		best, first, _ := p.cheapest(i)
		p.u[i] = math.Min(first, p.without)
		if best != nobody && first < p.without && p.rowOf[best] == nobody {
			p.colOf[i], p.rowOf[best] = best, i
			continue
		}
		free = append(free, i)
	}
	var out []int
	steps := 8 * p.rows // whoever is pushed out looks on at once, but not for ever
	for len(free) > 0 {
		i := free[len(free)-1]
		free = free[:len(free)-1]
		for i != nobody {
			best, first, second := p.cheapest(i)
			if best == nobody || first >= p.without {
				p.u[i] = p.without
				out = append(out, i)
				break
			}
			second = math.Min(second, p.without)
			p.u[i] = second
			gain := second - first
			if gain <= 0 && p.rowOf[best] != nobody || steps == 0 { // nobody gives way for nothing
				p.u[i] = first
				out = append(out, i)
				break
			}
			steps--
			p.v[best] -= gain
			pushed := p.rowOf[best]
			p.colOf[i], p.rowOf[best] = best, i
			if pushed != nobody {
				p.colOf[pushed] = nobody
			}
			i = pushed
		}
	}
	return out
}

// cheapest finds the column that costs a row least by the prices, of equal ones a free one, and what that and the second cost.
func (p *plan) cheapest(i int) (best int, first, second float64) {
	best, first, second = nobody, math.Inf(1), math.Inf(1)
	costs := p.cost[i*p.cols : (i+1)*p.cols]
	v := p.v[:len(costs)]
	for j, c := range costs {
		switch d := c - v[j]; {
		case d < first:
			best, first, second = j, d, first
		case d == first && best != nobody:
			if second = d; p.rowOf[best] != nobody && p.rowOf[j] == nobody {
				best = j
			}
		case d < second:
			second = d
		}
	}
	return best, first, second
}

// seat adds a row: the cheapest way to rearrange the plan so that the row is paired, or that one row goes without.
func (p *plan) seat(row int) {
	pending := p.pending[:p.cols]
	for j := range pending {
		pending[j] = int32(j)
		p.dist[j] = math.Inf(1)
	}
	least := p.without - p.u[row] // the shortest way so far to leave a row out, and which
	out := row
	p.scanned = p.scanned[:0]
	at, here := row, 0.
	end := nobody
	dist, v := p.dist[:p.cols], p.v[:p.cols]
	for {
		costs := p.cost[at*p.cols : (at+1)*p.cols]
		offset := here - p.u[at]
		next, shortest, free := -1, math.Inf(1), false
		for k, j := range pending {
			d := dist[j]
			if by := offset + costs[j] - v[j]; by < d {
				d = by
				dist[j], p.from[j] = by, int32(at)
			}
			// Of columns as near the free one ends the search.
			if d < shortest {
				if next, shortest, free = k, d, p.rowOf[j] == nobody; free && d <= here {
					break // nothing can be nearer
				}
			} else if d == shortest && next >= 0 && !free && p.rowOf[j] == nobody {
				if next, free = k, true; d <= here {
					break
				}
			}
		}
		if next < 0 || shortest >= least {
			here = least
			break
		}
		here = shortest
		j := pending[next]
		pending[next] = pending[len(pending)-1]
		pending = pending[:len(pending)-1]
		p.scanned = append(p.scanned, j)
		if free {
			end = int(j)
			break
		}
		at = p.rowOf[j]
		if d := here + p.without - p.u[at]; d < least {
			least, out = d, at
		}
	}
	// Prices: every row on the way pays more, every column on the way gets less, by how much sooner it was reached.
	p.u[row] += here
	for _, j := range p.scanned {
		if r := p.rowOf[j]; r != nobody {
			p.u[r] += here - dist[j]
		}
		v[j] -= here - dist[j]
	}
	if end == nobody { // out goes without; its column is taken by those behind it
		end = p.colOf[out]
		p.colOf[out] = nobody
		if out == row {
			return
		}
	}
	for {
		r := int(p.from[end])
		end, p.colOf[r], p.rowOf[end] = p.colOf[r], end, r
		if r == row {
			return
		}
	}
}
