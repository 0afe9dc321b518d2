package school

import (
	"cmp"
	"slices"
	"strings"
	"sync"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
)

const stripDays = 14

// doings is what one instrument adds to the worklist of its school.
type doings struct {
	due, ready []Task
	count      map[care.State]int
	on         []day.Day // on which its clocks become due within the strip, those that are due already on the first day
	next       day.Day   // when the next of what is not due yet is; zero for never
	title      string    // of that
	more       int       // others on the same day
}

// doingsOf works out what is to be done of an instrument.
func doingsOf(i *Instrument, today day.Day) *doings {
	d := &doings{count: map[care.State]int{}}
	for _, c := range i.Clocks {
		d.count[c.Reading.State]++
		on := c.Reading.DueOn
		if !on.IsZero() && on < today+stripDays {
			d.on = append(d.on, max(today, on))
		}
		switch {
		case c.Reading.State == care.Due || c.Reading.State == care.Late:
			d.due = append(d.due, TaskOf(i, c))
		case on.IsZero() || !d.next.IsZero() && on > d.next:
		case on == d.next:
			d.more++
		default:
			d.next, d.title, d.more = on, c.Title(), 0
		}
	}
	for _, c := range i.offered {
		d.ready = append(d.ready, TaskOf(i, c))
	}
	for _, list := range [][]Task{d.due, d.ready} {
		for n := range list {
			list[n].kind, list[n].n = i.Kind, n
		}
		slices.SortFunc(list, func(x, y Task) int { return mostWorthFirst(&x, &y) })
	}
	return d
}

// mostWorthFirst orders tasks by value; of equal ones the instrument that stands earlier in the score comes first.
func mostWorthFirst(x, y *Task) int {
	return cmp.Or(cmp.Compare(y.Value, x.Value), byKind(x.kind, y.kind), strings.Compare(x.Tag, y.Tag), x.n-y.n)
}

// scoreOrder is that of instruments.
func scoreOrder(x, y *Instrument) int {
	return cmp.Or(byKind(x.Kind, y.Kind), strings.Compare(x.Tag, y.Tag))
}

func byKind(x, y *catalog.Kind) int {
	return cmp.Or(x.ScoreOrder-y.ScoreOrder, strings.Compare(x.Key, y.Key))
}

// A worklist is what is to be done of a school. It is worked out when it is first asked for, and then from the one before, as far as that
// was not touched.
type worklist struct {
	Due, Ready []*Task // most worth first
	Pressing   int     // of Ready, those that are due or late
	Ahead      *Ahead
	Strip      []StripDay
	Count      map[care.State]int

	mu      sync.Mutex
	done    bool
	before  *worklist          // to begin with; nil for nothing, and once it is done
	touched map[uuid.UUID]bool // instruments that are not as in before
}

// after is the worklist of a school in which these instruments changed. It never waits for somebody who works out this one.
func (w *worklist) after(touched []uuid.UUID) *worklist {
	next := &worklist{touched: map[uuid.UUID]bool{}}
	if !w.mu.TryLock() {
		return next
	}
	defer w.mu.Unlock()
	switch {
	case w.done:
		next.before = w
	case w.before != nil:
		next.before = w.before
		for id := range w.touched {
			next.touched[id] = true
		}
	}
	for _, id := range touched {
		next.touched[id] = true
	}
	return next
}

// Work is the worklist of the school.
func (s *Snapshot) Work() *worklist {
	w := s.worklist
	w.mu.Lock()
	defer w.mu.Unlock()
	if !w.done {
		w.fill(s)
		w.done, w.before, w.touched = true, nil, nil
	}
	return w
}

func (w *worklist) fill(s *Snapshot) {
	w.Count, w.Strip = map[care.State]int{}, s.strip()
	fresh := func(*Instrument) bool { return true }
	if w.before != nil {
		fresh = func(i *Instrument) bool { return w.touched[i.ID] }
		stays := func(list []*Task) []*Task {
			kept := make([]*Task, 0, len(list)+16)
			for _, t := range list {
				if !w.touched[t.InstrumentID] {
					kept = append(kept, t)
				}
			}
			return kept
		}
		w.Due, w.Ready = stays(w.before.Due), stays(w.before.Ready)
	}
	due, ready := len(w.Due), len(w.Ready)
	for _, i := range s.Instruments {
		d := i.doings
		for state, n := range d.count {
			w.Count[state] += n
		}
		for _, on := range d.on {
			w.Strip[on-s.Today].Due++
		}
		switch {
		case d.next.IsZero() || w.Ahead != nil && d.next > w.Ahead.On:
		case w.Ahead != nil && d.next == w.Ahead.On:
			w.Ahead.More += 1 + d.more
		default:
			w.Ahead = &Ahead{On: d.next, Tag: i.Tag, Title: d.title, More: d.more}
		}
		if fresh(i) {
			for n := range d.due {
				w.Due = append(w.Due, &d.due[n])
			}
			for n := range d.ready {
				w.Ready = append(w.Ready, &d.ready[n])
			}
		}
	}
	w.Due, w.Ready = merged(w.Due, due), merged(w.Ready, ready)
	for _, t := range w.Ready {
		if t.Pressing() {
			w.Pressing++
		}
	}
}

// merged is a list in order whose first n are, and whose others are not yet.
func merged(list []*Task, n int) []*Task {
	others := list[n:]
	slices.SortFunc(others, mostWorthFirst)
	if n == 0 {
		return others
	}
	if len(others) == 0 {
		return list
	}
	out := make([]*Task, 0, len(list))
	for _, t := range list[:n] {
		for len(others) > 0 && mostWorthFirst(others[0], t) < 0 {
			out, others = append(out, others[0]), others[1:]
		}
		out = append(out, t)
	}
	return append(out, others...)
}

// strip is the coming two weeks, without what becomes due in them.
func (s *Snapshot) strip() []StripDay {
	strip := make([]StripDay, stripDays)
	for n := range strip {
		d := s.Today + day.Day(n)
		strip[n] = StripDay{Date: d, Break: s.Calendar.IsBreak(d)}
		for _, c := range s.Concerts {
			if c.HeldOn == d {
				strip[n].Concert = c.Name
			}
		}
	}
	return strip
}
