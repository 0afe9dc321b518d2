// Package standin holds small stand-ins for what a school has around it. Each speaks the open interface that the real thing would, and
// says that it is simulated.
package standin

import (
	"encoding/json"
	"fmt"
	"hash/fnv"
	"math/rand/v2"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/repairshop"
)

// Shop is a simulated repair shop. It quotes, takes its time, is late now and then, leaves things unmended and adds up wrongly, as real
// ones do; the same seed and the same job come to the same.
type Shop struct {
	Seed uint64
	Day  time.Duration // how long one of its working days takes; 0 when all is done at once
	Now  func() time.Time

	mu   sync.Mutex
	jobs map[uuid.UUID]*atShop
}

type atShop struct {
	order             repairshop.Order
	times             int // that it was asked anew
	given, agreed     time.Time
	handedOver        time.Time
	declined, fetched bool
	quote             repairshop.Quote
	quoteTakes        int // working days, as the following
	workTakes, isLate int
	result            repairshop.Result
}

// Handler serves the shop's interface.
func (s *Shop) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /openapi.yaml", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/yaml")
		_, _ = w.Write(repairshop.OpenAPI)
	})
	mux.HandleFunc("PUT /v1/jobs/{id}", s.give)
	mux.HandleFunc("GET /v1/jobs/{id}", s.known(func(http.ResponseWriter, *http.Request, *atShop) bool { return true }))
	mux.HandleFunc("DELETE /v1/jobs/{id}", s.known(func(_ http.ResponseWriter, _ *http.Request, j *atShop) bool {
		j.declined = true
		return true
	}))
	mux.HandleFunc("POST /v1/jobs/{id}/decision", s.known(s.decide))
	mux.HandleFunc("POST /v1/jobs/{id}/handed-over", s.known(func(_ http.ResponseWriter, _ *http.Request, j *atShop) bool {
		if j.handedOver.IsZero() {
			j.handedOver = s.Now()
		}
		return true
	}))
	mux.HandleFunc("POST /v1/jobs/{id}/fetched", s.known(func(_ http.ResponseWriter, _ *http.Request, j *atShop) bool {
		j.fetched = true
		return true
	}))
	return mux
}

const mostOrder = 64 << 10

func (s *Shop) give(w http.ResponseWriter, r *http.Request) {
	var o repairshop.Order
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, mostOrder)).Decode(&o); err != nil || o.ID.String() != r.PathValue("id") {
		http.Error(w, "the order cannot be read", http.StatusUnprocessableEntity)
		return
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.jobs == nil {
		s.jobs = map[uuid.UUID]*atShop{}
	}
	j := s.jobs[o.ID]
	if j == nil || (j.declined || !sameWorks(j.order, o)) && j.handedOver.IsZero() { // asked anew, it looks anew
		times := 0
		if j != nil {
			times = j.times + 1
		}
		j = s.take(o, times)
		s.jobs[o.ID] = j
	}
	s.answer(w, j)
}

func sameWorks(a, b repairshop.Order) bool {
	return strings.Join(a.Works, "\n") == strings.Join(b.Works, "\n") && a.Asks == b.Asks
}

// known finds the job of a request, does something with it and answers how far it is.
func (s *Shop) known(do func(http.ResponseWriter, *http.Request, *atShop) bool) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		id, _ := uuid.Parse(r.PathValue("id"))
		s.mu.Lock()
		defer s.mu.Unlock()
		j := s.jobs[id]
		if j == nil {
			http.Error(w, "no such job", http.StatusNotFound)
			return
		}
		if do(w, r, j) {
			s.answer(w, j)
		}
	}
}

func (s *Shop) decide(w http.ResponseWriter, r *http.Request, j *atShop) bool {
	var d repairshop.Decision
	if err := json.NewDecoder(http.MaxBytesReader(w, r.Body, mostOrder)).Decode(&d); err != nil || d.Quote != j.quote.ID {
		http.Error(w, "that is not the last quote", http.StatusConflict)
		return false
	}
	j.declined = !d.Agreed
	if d.Agreed && j.agreed.IsZero() {
		j.agreed = s.Now()
	}
	return true
}

// What may go otherwise than one hopes, each in so many of a hundred jobs.
const (
	addsUpWrongly = 12
	comesLate     = 30
	leavesOne     = 18
	asksMore      = 25 // than it quoted
)

// take decides, from the seed and the job, all that will come of it.
func (s *Shop) take(o repairshop.Order, times int) *atShop {
	sum := fnv.New64a()
	_, _ = sum.Write([]byte(o.ID.String() + strings.Join(o.Works, "\n") + o.Asks))
	if times > 0 {
		_, _ = fmt.Fprint(sum, times)
	}
	chance := rand.New(rand.NewPCG(s.Seed, sum.Sum64()))
	in100 := func(n int) bool { return chance.IntN(100) < n }
	j := &atShop{order: o, times: times, given: s.Now(), quoteTakes: chance.IntN(4), workTakes: 3 + chance.IntN(12)}
	if in100(comesLate) {
		j.isLate = 2 + chance.IntN(9)
	}
	works := o.Works
	if len(works) == 0 {
		works = []string{"Looked at"}
	}
	until := day.Of(s.Now()) + 21
	j.quote = repairshop.Quote{ID: uuid.NewSHA1(o.ID, sum.Sum(nil)), Currency: o.Currency, ValidUntil: &until}
	unmended := -1
	if len(works) > 1 && in100(leavesOne) {
		unmended = chance.IntN(len(works))
	}
	for n, words := range works {
		cents := usual(words) * int64(80+chance.IntN(70)) / 100 / 50 * 50
		j.quote.Lines = append(j.quote.Lines, repairshop.Priced{Words: words, Cents: cents})
		j.quote.TotalCents += cents
		done := repairshop.Done{Words: words, Mended: n != unmended, Cents: cents}
		if n == unmended {
			done.Cents, done.Note = 0, "The part is not to be had before next month."
		} else if in100(asksMore) {
			done.Cents += 500
		}
		j.result.Lines = append(j.result.Lines, done)
		j.result.TotalCents += done.Cents
	}
	if in100(addsUpWrongly) {
		j.quote.TotalCents += 1000
		j.quote.Note = "Small parts."
	}
	return j
}

// usual is about what a work costs anywhere.
func usual(words string) int64 {
	for _, r := range catalog.Embedded().Repairs {
		if strings.EqualFold(r.Name, words) {
			return r.Cents
		}
	}
	return 4000
}

// over reports whether so many working days have gone by since a moment.
func (s *Shop) over(since time.Time, days int) bool {
	return !since.IsZero() && s.Now().Sub(since) >= time.Duration(days)*s.Day
}

func (s *Shop) answer(w http.ResponseWriter, j *atShop) {
	p := repairshop.Progress{State: repairshop.Received, Note: "Simulated."}
	if s.over(j.given, j.quoteTakes) {
		quote := j.quote
		p.State, p.Quote = repairshop.Quoted, &quote
	}
	switch {
	case j.declined:
		p.State = repairshop.Declined
	case !j.agreed.IsZero():
		p.State = repairshop.Agreed
	}
	if !j.handedOver.IsZero() {
		p.State = repairshop.InWork
		promised := day.Of(j.handedOver) + day.Day(j.workTakes)
		p.ReadyOn = &promised
		if s.over(j.handedOver, j.workTakes+j.isLate) {
			now := day.Of(s.Now())
			p.State, p.ReadyOn, p.Result = repairshop.Ready, &now, &j.result
		} else if s.over(j.handedOver, j.workTakes) {
			p.Note = "Simulated. It will take a little longer."
		}
		if j.fetched {
			p.State = repairshop.Fetched
		}
	}
	w.Header().Set("Content-Type", "application/json")
	_ = json.NewEncoder(w).Encode(p)
}
