package season

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"slices"
	"sync"
	"time"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/season"
	"solfeggio/internal/store"
	"solfeggio/internal/store/seasonrows"
)

// A question is a season to be planned.
type question struct {
	in   season.In
	must func(job int) bool // whether its pin must hold
	own  bool               // it is the school's plan, and no question what would be
}

// digest is another one where anything is that a plan depends on, or its words.
func (q question) digest() ([32]byte, error) {
	asked := struct {
		In    season.In
		Musts []int
		Weeks []string
	}{In: q.in}
	for n := range q.in.Jobs {
		if q.must(n) {
			asked.Musts = append(asked.Musts, n)
		}
	}
	for w := range q.in.Weeks {
		asked.Weeks = append(asked.Weeks, q.in.WeekName(w))
	}
	text, err := json.Marshal(asked)
	return sha256.Sum256(text), err
}

// A planned season, and which pins were given up.
type planned struct {
	out   season.Out
	given []int
}

// planned answers a question with the plan that was worked out for it. While there is none it is worked out, or, at once, carried over from
// the school's latest plan and worked out behind: then the answer says that it was cut.
func (r *Room) planned(ctx context.Context, by journal.Person, q question, atOnce bool) (season.Out, []int, error) {
	key, err := q.digest()
	if err != nil {
		return season.Out{}, nil, err
	}
	if known, ok := r.plans.Get(key); ok {
		return known.out, known.given, nil
	}
	var latest seasonrows.SeasonPlan
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		latest, err = seasonrows.GetSeasonPlan(ctx, tx)
		return err
	})
	if err != nil {
		return season.Out{}, nil, err
	}
	before := func(id string) (season.Start, bool) { start, known := latest.Starts[id]; return start, known }
	known := string(latest.Asked) == string(key[:])
	if known || atOnce {
		out, given, err := season.Carry(q.in, before, q.must)
		switch {
		case err != nil:
		case known:
			out.Cut, out.LowerBoundCents = false, min(latest.BoundCents, out.TotalCents)
			r.plans.Add(key, planned{out, given}, int64(pieceBytes*(len(q.in.Jobs)+1)))
		default:
			r.workBehind(by, key, q)
		}
		return out, given, err
	}
	out, given, err := season.Mend(ctx, q.in, q.must)
	r.keep(ctx, by, key, q, planned{out, given}, err)
	if err == nil && out.Cut {
		r.workBehind(by, key, q)
	}
	return out, given, err
}

// workBehind works a plan out while those who asked go on.
func (r *Room) workBehind(by journal.Person, key [32]byte, q question) {
	q.in.Jobs = slices.Clone(q.in.Jobs) // who asked goes on with theirs
	r.behind.work(key, func(ctx context.Context) {
		defer func() { // as in a request, one that fails takes no others with it
			if fault := recover(); fault != nil {
				r.schools.Log.Error("working a season out", "panic", fault)
			}
		}()
		out, given, err := season.Mend(ctx, q.in, q.must)
		r.keep(ctx, by, key, q, planned{out, given}, err)
	})
}

// keep keeps a plan that was worked out to its end, the school's own so that it outlives the process. Nobody waits for that, and it can be
// worked out again.
func (r *Room) keep(ctx context.Context, by journal.Person, key [32]byte, q question, p planned, fault error) {
	if fault != nil || p.out.Cut {
		return
	}
	r.plans.Add(key, p, int64(pieceBytes*(len(q.in.Jobs)+1)))
	if !q.own {
		return
	}
	latest := seasonrows.SeasonPlan{Asked: key[:], Starts: map[string]season.Start{}, BoundCents: p.out.LowerBoundCents, MadeAt: r.schools.Now()}
	for _, at := range p.out.Placements {
		latest.Starts[at.ID] = season.Start{Week: at.Week, Loaner: at.Loaner}
	}
	err := r.schools.DB.WriteAside(ctx, by.School, func(tx *store.Tx) error { return seasonrows.SetSeasonPlan(ctx, tx, latest) })
	if err != nil {
		r.schools.Log.Warn("keeping a season's plan", "error", err)
	}
}

const (
	behindTime = 2 * time.Minute  // for one plan
	wantedFor  = 10 * time.Second // since somebody asked for it; a plan that nobody waits for any more is not begun
)

// behind works plans out one after the other, while those who asked go on.
type behind struct {
	turn sync.Mutex

	mu    sync.Mutex
	asked map[[32]byte]time.Time // when each that waits or is worked on was asked for last
}

// work does something behind, once for a key however often it is asked for.
func (b *behind) work(key [32]byte, do func(context.Context)) {
	b.mu.Lock()
	defer b.mu.Unlock()
	_, underWay := b.asked[key]
	if b.asked == nil {
		b.asked = map[[32]byte]time.Time{}
	}
	b.asked[key] = time.Now()
	if underWay {
		return
	}
	go func() {
		b.turn.Lock()
		defer b.turn.Unlock()
		b.mu.Lock()
		wanted := time.Since(b.asked[key]) < wantedFor
		b.mu.Unlock()
		if wanted {
			ctx, cancel := context.WithTimeout(context.Background(), behindTime)
			do(ctx)
			cancel()
		}
		b.mu.Lock()
		delete(b.asked, key)
		b.mu.Unlock()
	}()
}
