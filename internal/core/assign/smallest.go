package assign

// smallest turns the plan into the lexicographically smallest one of the same cost.
//
// By the prices every equally cheap plan uses only tight pairs, leaves only spare columns free and lets only idle rows go
// without. So that all of them are perfect matchings of one graph, each column gets a stand-in row that takes it when it is
// left, and each row a stand-in column that it takes when it goes without; stand-ins that are not needed take each other. Row
// by row the columns are then tried from the left: one will do if the row that loses it finds, along tight pairs, the way
// to the column that is given up.
func (p *plan) smallest() {
	s := newShuffle(p)
	for i := range p.rows {
		for j := range p.cols {
			if s.colOf[i] == j {
				break
			}
			if p.tight(i, j) && !s.fixed[s.rowOf[j]] && s.give(i, j) {
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

// tight reports whether a pair costs nothing more by the prices.
func (p *plan) tight(i, j int) bool { return p.cost[i*p.cols+j]-p.u[i]-p.v[j] <= p.slack }

// spare reports whether a column may stay free without loss.
func (p *plan) spare(j int) bool { return p.v[j] >= -p.slack }

// idle reports whether a row may go without without loss.
func (p *plan) idle(i int) bool { return p.without-p.u[i] <= p.slack }

// A shuffle is a plan with its stand-ins: rows from p.rows on stand in at columns, columns from p.cols on stand in for rows.
type shuffle struct {
	*plan
	colOf, rowOf []int
	fixed        []bool // rows that keep their column from now on
	search       int
	seen         []int // by column: the search in which it was reached
	came         []int // by column: the column whose row would take it
	queue        []int
}

func newShuffle(p *plan) *shuffle {
	all := p.rows + p.cols
	s := &shuffle{plan: p, colOf: make([]int, all), rowOf: make([]int, all), fixed: make([]bool, all), seen: make([]int, all), came: make([]int, all)}
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

// give lets row i have column j if the others can make up for it along pairs that cost nothing more.
func (s *shuffle) give(i, j int) bool {
	s.search++
	home := s.colOf[i]
	s.queue = append(s.queue[:0], j)
	s.seen[j], s.came[j] = s.search, nobody
	standInsReached := false
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
			for next := range s.cols {
				if s.tight(r, next) && reach(next) {
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
		if standInsReached { // every stand-in row may take every stand-in column, so one of them is enough
			continue
		}
		standInsReached = true
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
