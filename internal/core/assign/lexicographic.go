package assign

import "slices"

// lexicographic turns the plan into the lexicographically smallest one of the same cost.
//
// By the prices every equally cheap plan uses only tight pairs, leaves only spare columns free and lets only idle rows go
// without. So that all of them are perfect matchings of one graph, each column gets a stand-in row that takes it when it is
// left, and each row a stand-in column that it takes when it goes without; stand-ins that are not needed take each other. Row
// by row the columns are then tried from the left: one will do if the row that loses it finds, along tight pairs, the way
// to the column that is given up.
func (p *plan) lexicographic() {
	s := newShuffle(p)
	for i := range p.rows {
		s.search, s.standInsReached = s.search+1, false
		for _, j := range s.tightOf(i) {
			if s.colOf[i] == int(j) {
				break
			}
			if s.seen[j] != s.search && !s.fixed[s.rowOf[j]] && s.give(i, int(j)) {
				break
			}
		}
		s.fixed[i] = true
	}
	for i := range p.rows {
		if p.colOf[i] = s.colOf[i]; p.colOf[i] >= p.cols {
			p.colOf[i] = nobody
		}
	}
}

// tight lists the pairs that cost nothing more by the prices: the columns of each row from the left, and where each row begins.
func (p *plan) tight() (columns []int32, begins []int) {
	begins, columns = make([]int, p.rows+1), make([]int32, 0, 4*p.rows)
	for i := range p.rows {
		most := p.u[i] + p.slack
		costs := p.cost[i*p.cols : (i+1)*p.cols]
		columns = slices.Grow(columns, p.cols)
		found, prices, n := columns[len(columns):len(columns)+p.cols], p.v[:len(costs)], 0
		for j, c := range costs { // without a jump that the processor could not foresee
			found[n] = int32(j)
			one := 0
			if c-prices[j] <= most {
				one = 1
			}
			n += one
		}
		columns = columns[:len(columns)+n]
		begins[i+1] = len(columns)
	}
	return columns, begins
}

// spare reports whether a column may stay free without loss.
func (p *plan) spare(j int) bool { return p.v[j] >= -p.slack }

// idle reports whether a row may go without without loss.
func (p *plan) idle(i int) bool { return p.without-p.u[i] <= p.slack }

// A shuffle is a plan with its stand-ins: rows from p.rows on stand in at columns, columns from p.cols on stand in for rows.
type shuffle struct {
	*plan
	colOf, rowOf []int
	fixed        []bool // rows that keep their column from now on
	search       int    // one for each row that looks for a column further left
	seen         []int  // by column: the search in which it was reached
	came         []int  // by column: the column whose row would take it
	queue        []int

	standInsReached bool // in this search

	columns []int32 // of tight pairs
	begins  []int
}

// tightOf is the columns that cost a row nothing more, from the left.
func (s *shuffle) tightOf(i int) []int32 { return s.columns[s.begins[i]:s.begins[i+1]] }

func newShuffle(p *plan) *shuffle {
	all := p.rows + p.cols
	s := &shuffle{
		plan:  p,
		colOf: make([]int, all),
		rowOf: make([]int, all),
		fixed: make([]bool, all),
		seen:  make([]int, all),
		came:  make([]int, all),
	}
	s.columns, s.begins = p.tight()
	pair := func(row, col int) { s.colOf[row], s.rowOf[col] = col, row }
	var idleStandIns []int // columns whose rows need them not
	for i, j := range p.colOf {
		if j == nobody {
			pair(i, p.cols+i)
			continue
		}
		pair(i, j)
		idleStandIns = append(idleStandIns, p.cols+i)
	}
	for j, i := range p.rowOf {
		if i == nobody {
			pair(p.rows+j, j)
			continue
		}
		pair(p.rows+j, idleStandIns[0])
		idleStandIns = idleStandIns[1:]
	}
	return s
}

// give lets row i have column j if the others can make up for it along pairs that cost nothing more. What an earlier column of the same
// search reached in vain leads nowhere from this one either.
func (s *shuffle) give(i, j int) bool {
	home := s.colOf[i]
	s.queue = append(s.queue[:0], j)
	s.seen[j], s.came[j] = s.search, nobody
	for at := 0; at < len(s.queue); at++ {
		c := s.queue[at]
		r := s.rowOf[c]
		reach := func(next int) bool {
			if next == home {
				s.carryOut(i, home, c)
				return true
			}
			if s.seen[next] != s.search && !s.fixed[s.rowOf[next]] {
				s.seen[next], s.came[next] = s.search, c
				s.queue = append(s.queue, next)
			}
			return false
		}
		if r < s.rows {
			for _, next := range s.tightOf(r) {
				if s.seen[next] != s.search && reach(int(next)) {
					return true
				}
			}
			if s.idle(r) && reach(s.cols+r) {
				return true
			}
			continue
		}
		if own := r - s.rows; s.spare(own) && reach(own) {
			return true
		}
		if s.standInsReached { // every stand-in row may take every stand-in column, so one of them is enough
			continue
		}
		s.standInsReached = true
		for k := range s.rows {
			if reach(s.cols + k) {
				return true
			}
		}
	}
	return false
}

// carryOut makes the rearrangement: the row of last takes what i leaves, and along the way back each row takes the column
// that was reached from its own, until i takes the first.
func (s *shuffle) carryOut(i, home, last int) {
	takes := home
	for c := last; c != nobody; c = s.came[c] {
		r := s.rowOf[c]
		s.colOf[r], s.rowOf[takes] = takes, r
		takes = c
	}
	s.colOf[i], s.rowOf[takes] = takes, i
}
