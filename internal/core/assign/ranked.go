package assign

import (
	"cmp"
	"slices"
)

// mostRanked is up to how many cells a match by rank chooses by cost who goes without.
const mostRanked = 4_000_000

// SolveRanked is Solve where some rows come before others: of the rows with the lowest rank as many as can be get a column, then of the
// next, and so on; only then the least total counts, among all who get one. A row that comes first never loses its column to a later one,
// however cheap that would be, but it may have to take another.
//
// Which rows can be seated together is a matroid, so seating them one by one by rank, each where an augmenting path finds room, seats the
// most of every rank (J. Edmonds, D. R. Fulkerson, Transversals and matroid partition, 1965; cited from memory).
func SolveRanked(ranks []int, cols int, cost []float64) MatchOut {
	byRank := make([]int, len(ranks))
	for i := range byRank {
		byRank[i] = i
	}
	slices.SortStableFunc(byRank, func(a, b int) int { return cmp.Compare(ranks[a], ranks[b]) })
	rowOf := slices.Repeat([]int{nobody}, cols)
	dead := make([]bool, cols) // from here no search will ever find room: one that failed has been everywhere around
	var seen []bool
	var seat func(i int) bool
	seat = func(i int) bool {
		for j := range cols {
			if seen[j] || cost[i*cols+j] == Forbidden {
				continue
			}
			seen[j] = true
			if rowOf[j] == nobody || seat(rowOf[j]) {
				rowOf[j] = i
				return true
			}
		}
		return false
	}
	left := map[int][]int{} // the stand-in columns of each rank, one for each row that goes without
	seated := make([]bool, len(ranks))
	wide := cols
	for _, i := range byRank {
		seen = slices.Clone(dead)
		if seated[i] = seat(i); !seated[i] {
			dead = seen
			left[ranks[i]] = append(left[ranks[i]], wide)
			wide++
		}
	}
	rows := make([]int, 0, len(ranks))
	large := len(ranks)*wide > mostRanked
	if large { // who goes without is settled then by who stands first in the list, and not by the cost
		left, wide = nil, cols
	}
	for i := range ranks {
		if seated[i] || !large {
			rows = append(rows, i)
		}
	}
	// How many of a rank go without is known now, and not who: each rank gets so many columns of its own that stand for that and cost
	// nothing. Then every row has one, and the least total is that of an ordinary match.
	among := make([]float64, 0, len(rows)*wide)
	for n, i := range rows {
		among = append(among, cost[i*cols:(i+1)*cols]...)
		among = append(among, slices.Repeat([]float64{Forbidden}, wide-cols)...)
		for _, j := range left[ranks[i]] {
			among[n*wide+j] = 0
		}
	}
	all := Solve(len(rows), wide, among)
	out := MatchOut{Pairs: [][2]int{}, UnmatchedRows: []int{}, UnmatchedCols: []int{}, Total: all.Total}
	got := make([]bool, len(ranks))
	for _, pair := range all.Pairs {
		if pair[1] < cols {
			out.Pairs = append(out.Pairs, [2]int{rows[pair[0]], pair[1]})
			got[rows[pair[0]]] = true
		}
	}
	for i, has := range got {
		if !has {
			out.UnmatchedRows = append(out.UnmatchedRows, i)
		}
	}
	for _, j := range all.UnmatchedCols {
		if j < cols {
			out.UnmatchedCols = append(out.UnmatchedCols, j)
		}
	}
	return out
}
