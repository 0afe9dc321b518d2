// Package assign pairs players with instruments: as many as can be, at the least cost, and of equal plans always the same.
//
// The search is the shortest augmenting path method for the assignment problem (Kuhn and Munkres, in the form of Jonker and
// Volgenant): prices on rows and columns prove that no cheaper plan exists, and the same prices show every plan that is as
// cheap, among which the lexicographically smallest is taken.
package assign

import (
	"fmt"
	"math"
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
		return MatchOut{}, fmt.Errorf("cost: %d × %d are too many", rows, cols)
	}
	low, high := math.Inf(1), math.Inf(-1)
	for i, row := range in.Cost {
		if len(row) != cols {
			return MatchOut{}, fmt.Errorf("cost[%d]: has %d entries, and the first row has %d", i, len(row), cols)
		}
		for j, c := range row {
			if c == nil {
				continue
			}
			if !(math.Abs(*c) <= largestCost) {
				return MatchOut{}, fmt.Errorf("cost[%d][%d]: %v is no cost; use at most %v", i, j, *c, largestCost)
			}
			low, high = math.Min(low, *c), math.Max(high, *c)
		}
	}
	out := MatchOut{Pairs: [][2]int{}, UnmatchedRows: []int{}, UnmatchedCols: []int{}}
	p := newPlan(in.Cost, rows, cols, low, high)
	for i := range rows {
		p.seat(i)
	}
	p.smallest()
	taken := make([]bool, cols)
	for i, j := range p.colOf {
		if j == nobody {
			out.UnmatchedRows = append(out.UnmatchedRows, i)
			continue
		}
		taken[j] = true
		out.Pairs = append(out.Pairs, [2]int{i, j})
		out.Total += *in.Cost[i][j]
	}
	for j, t := range taken {
		if !t {
			out.UnmatchedCols = append(out.UnmatchedCols, j)
		}
	}
	return out, nil
}

// nobody is the column of a row that goes without, and the row of a free column.
const nobody = -1

// A plan is a cheapest plan for the rows seated so far, with the prices that prove it: u[i] + v[j] ≤ cost, equal on every
// pair of the plan, v ≤ 0 and v = 0 on free columns, u ≤ without, and u = without on every row that goes without.
type plan struct {
	rows, cols int
	cost       []float64 // row by row; +Inf is forbidden
	without    float64   // what it costs to leave a row out: more than any plan could save by it
	u, v       []float64
	colOf      []int
	rowOf      []int
	slack      float64 // below it a difference counts as none

	// scratch of a search
	dist []float64
	from []int
	done []bool
}

func newPlan(cost [][]*float64, rows, cols int, low, high float64) *plan {
	p := &plan{
		rows: rows, cols: cols, cost: make([]float64, rows*cols), u: make([]float64, rows), v: make([]float64, cols),
		colOf: make([]int, rows), rowOf: make([]int, cols), dist: make([]float64, cols), from: make([]int, cols), done: make([]bool, cols),
	}
	if low > high { // every pair is forbidden
		low, high = 0, 0
	}
	// Shifted to begin at zero; every plan with the most pairs shifts by the same amount.
	p.without = (high-low+1)*float64(min(rows, cols)+1) + 1
	p.slack = math.Max(1e-9, 1e-13*p.without)
	for i, row := range cost {
		p.colOf[i] = nobody
		for j, c := range row {
			p.cost[i*cols+j] = math.Inf(1)
			if c != nil {
				p.cost[i*cols+j] = *c - low
			}
		}
	}
	for j := range p.rowOf {
		p.rowOf[j] = nobody
	}
	return p
}

// seat adds a row: the cheapest way to rearrange the plan so that the row is paired, or that one row goes without.
func (p *plan) seat(row int) {
	for j := range p.cols {
		p.dist[j], p.from[j], p.done[j] = math.Inf(1), row, false
	}
	least := p.without - p.u[row] // the shortest way so far to leave a row out, and which
	out := row
	var scanned []int
	at, here := row, 0.
	end := nobody
	for {
		costs := p.cost[at*p.cols : (at+1)*p.cols]
		next, shortest := nobody, math.Inf(1)
		for j, c := range costs {
			if p.done[j] {
				continue
			}
			if d := here + c - p.u[at] - p.v[j]; d < p.dist[j] {
				p.dist[j], p.from[j] = d, at
			}
			// Of columns as near the free one ends the search.
			if p.dist[j] < shortest || p.dist[j] == shortest && next != nobody && p.rowOf[next] != nobody && p.rowOf[j] == nobody {
				next, shortest = j, p.dist[j]
			}
		}
		if next == nobody || shortest >= least {
			here = least
			break
		}
		here = shortest
		p.done[next] = true
		scanned = append(scanned, next)
		if p.rowOf[next] == nobody {
			end = next
			break
		}
		at = p.rowOf[next]
		if d := here + p.without - p.u[at]; d < least {
			least, out = d, at
		}
	}
	// Prices: every row on the way pays more, every column on the way gets less, by how much sooner it was reached.
	p.u[row] += here
	for _, j := range scanned {
		if r := p.rowOf[j]; r != nobody {
			p.u[r] += here - p.dist[j]
		}
		p.v[j] -= here - p.dist[j]
	}
	if end == nobody { // out goes without; its column is taken by those behind it
		end = p.colOf[out]
		p.colOf[out] = nobody
		if out == row {
			return
		}
	}
	for {
		r := p.from[end]
		end, p.colOf[r], p.rowOf[end] = p.colOf[r], end, r
		if r == row {
			return
		}
	}
}
