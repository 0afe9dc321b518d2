// Package habit tells from findings and drills which habits of players cost most, and how sure that is.
package habit

import (
	"cmp"
	"fmt"
	"math"
	"slices"
)

// QuotedShare is the share of damage that comes from handling, assembly and missed cleaning, as it is widely quoted: common practice, no
// published source.
const QuotedShare = 0.8

// A Share is how many of some things are of one sort, with the interval in which the true share lies 95 times of 100.
type Share struct {
	Of   int     `json:"of"`
	All  int     `json:"all"`
	At   float64 `json:"at" doc:"Of over all, from 0 to 1; 0 where there are none"`
	From float64 `json:"from"`
	To   float64 `json:"to"`
}

// normal95 bounds 95 of 100 of the normal distribution.
const normal95 = 1.959963984540054

// ShareOf is the share of of in all, with the score interval of E. B. Wilson, Probable inference (1927), which stays honest for small
// numbers. Without anything to count it is all from 0 to 1.
func ShareOf(of, all int) (Share, error) {
	switch {
	case all < 0:
		return Share{}, fmt.Errorf("share: all is %d, and cannot be below 0", all)
	case of < 0 || of > all:
		return Share{}, fmt.Errorf("share: %d of %d", of, all)
	case all == 0:
		return Share{To: 1}, nil
	}
	n, p, z := float64(all), float64(of)/float64(all), normal95
	middle := (p + z*z/(2*n)) / (1 + z*z/n)
	half := z / (1 + z*z/n) * math.Sqrt(p*(1-p)/n+z*z/(4*n*n))
	return Share{of, all, p, max(0, middle-half), min(1, middle+half)}, nil
}

// A Cost is what a habit has cost, and how it went in drills.
type Cost struct {
	Habit string
	Found int   // findings that it brought about
	Cents int64 // what mending them costs
	Right int   // answers in drills
	Wrong int
}

// A Lesson is a habit and what teaching it is worth.
type Lesson struct {
	Cost
	Missed float64 // the share of wrong answers that is to be expected of the next ones, by Laplace's rule of succession
	Worth  float64 // cents, what it costs times how often it is missed
}

// TeachNext orders habits by what their causes cost times how often they are missed, the most worth first.
func TeachNext(costs []Cost) []Lesson {
	list := make([]Lesson, len(costs))
	for n, c := range costs {
		missed := float64(c.Wrong+1) / float64(c.Right+c.Wrong+2)
		list[n] = Lesson{c, missed, missed * float64(c.Cents)}
	}
	slices.SortStableFunc(list, func(x, y Lesson) int {
		return cmp.Or(cmp.Compare(y.Worth, x.Worth), cmp.Compare(y.Found, x.Found), cmp.Compare(y.Missed, x.Missed))
	})
	return list
}
