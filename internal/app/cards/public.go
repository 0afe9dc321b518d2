package cards

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"sync/atomic"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/card"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/drill"
	"solfeggio/internal/core/report"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/eventrows"
)

// What signed-out people may do in an hour. A school sits behind one address.
const (
	reportsPerCard   = 6
	reportsPerOrigin = 60
	reportWindow     = time.Hour

	answersPerCard = 240 // are counted in an hour of the clock, one in fifteen seconds; more are judged all the same
	cardsAnswering = 10_000
)

// reportsShown is for how long a card shows what became of its reports.
const reportsShown = 60 * 24 * time.Hour

// Nowhere is the fault of an address that leads nowhere. It is the same for one that never was and one that was ended.
var Nowhere = &journal.Fault{Kind: journal.NotFound, Message: "This card leads nowhere any more. Ask for a new one."}

// Page is what the page of a card shows: nothing of who has the instrument, what it is worth or where the school is.
type Page struct {
	Card    card.Card
	Tag     string
	Due     []card.Line // what the player's own clocks ask for now
	Advice  upkeep.ForPlayer
	Reports []Told
	PackUp  bool // its ensemble packs up or sets up just now
	Ready   bool // and its section is ready
	Phase   string
}

// Told is a report as whoever made it sees it.
type Told struct {
	Says   string // in the player's words
	Became string
	Answer string // of the director; empty for none
}

// open finds the instrument behind an address.
func (r *Room) open(ctx context.Context, secret string) (*school.Snapshot, *school.Instrument, error) {
	h, err := r.schools.DB.CardHolder(ctx, secret)
	if errors.Is(err, store.ErrNotFound) {
		return nil, nil, Nowhere
	}
	if err != nil {
		return nil, nil, journal.InPlainWords(err)
	}
	s, err := r.schools.Snapshot(school.AsOf(ctx, h.Revision), anybody(h.School))
	if err != nil {
		return nil, nil, err
	}
	i := s.ByID[h.Instrument]
	if i == nil { // it left the school
		return nil, nil, Nowhere
	}
	return s, i, nil
}

// Known reports by an error when an address leads nowhere.
func (r *Room) Known(ctx context.Context, secret string) error {
	_, _, err := r.open(ctx, secret)
	return err
}

// anybody is who looks at a card: they may see what it shows, and are nobody in the log.
func anybody(school uuid.UUID) journal.Person {
	return journal.Person{School: school, Role: journal.Viewer}
}

// Page reads the page of a card in a language.
func (r *Room) Page(ctx context.Context, secret string, l card.Language) (Page, error) {
	s, i, err := r.open(ctx, secret)
	if err != nil {
		return Page{}, err
	}
	page := Page{Card: r.cardOf(i, l), Tag: i.Tag, Due: r.dueOf(i, l)}
	if page.Advice, err = r.upkeep.ForPlayer(s, i); err != nil {
		return Page{}, err
	}
	var reports []cardrows.Report
	err = r.schools.Read(ctx, anybody(s.School.ID), func(tx *store.Tx) (err error) {
		if reports, err = cardrows.ReportsOf(ctx, tx, i.ID, r.schools.Now().Add(-reportsShown)); err != nil {
			return err
		}
		page.Phase, page.Ready, err = r.together(ctx, tx, i)
		return err
	})
	if err != nil {
		return Page{}, journal.InPlainWords(err)
	}
	page.PackUp = page.Phase != ""
	for _, x := range reports {
		page.Reports = append(page.Reports, r.told(x, i, l))
	}
	return page, nil
}

// dueOf lists what the clocks that the player answers for ask for now, in the words of the card.
func (r *Room) dueOf(i *school.Instrument, l card.Language) []card.Line {
	var lines []card.Line
	for _, c := range i.Clocks {
		if c.Of.Who != catalog.Player || c.Reading.State != care.Due && c.Reading.State != care.Late {
			continue
		}
		resolved, wanted := r.schools.Catalog.Resolve(c.Of, r.schools.Subject(i))
		if !wanted {
			continue
		}
		for _, s := range resolved.OnCard() {
			text := l.Say(s.Short)
			if !slices.ContainsFunc(lines, func(x card.Line) bool { return x.Text == text }) {
				lines = append(lines, card.Line{Text: text, Parts: s.Parts})
			}
		}
	}
	return lines
}

func (r *Room) told(x cardrows.Report, i *school.Instrument, l card.Language) Told {
	facts := report.Facts{State: x.State, Cleared: x.Cleared, Answered: x.Answer != "", Away: i.Away(), Back: i.ComesIn(),
		Coming: i.Job != nil && !i.Job.State.Begun()}
	t := Told{Says: x.Symptom, Became: facts.Told(), Answer: x.Answer}
	if facts.AtShop() && i.Job.ExpectedOn != nil {
		t.Became = fmt.Sprintf(l.Say("At the shop until about %s"), l.Day(*i.Job.ExpectedOn))
	} else if t.Became != "" {
		t.Became = l.Say(t.Became)
	}
	if symptom, ok := r.schools.Catalog.Symptom(x.Symptom); ok {
		t.Says = l.Say(symptom.Name)
	}
	return t
}

// Saying is what a player says is wrong.
type Saying struct {
	ID      uuid.UUID // made by the page, so that a report sent twice is one
	Symptom string
	Plays   cardrows.Plays
	Photo   []byte // nil for none
	Origin  string // the address that it comes from
}

// Say keeps a report under the address of a card. What is already said and open counts there, so that a flood of one card is one line on
// Today.
func (r *Room) Say(ctx context.Context, secret string, in Saying) error {
	s, i, err := r.open(ctx, secret)
	if err != nil {
		return err
	}
	symptom, ok := r.schools.Catalog.Symptom(in.Symptom)
	if !ok || !symptom.Can(i.Kind) {
		return journal.Refuse("symptom", "Choose what is wrong.", in.Symptom)
	}
	if playsWords[in.Plays] == "" {
		return journal.Refuse("plays", "Say whether you can still play.", in.Plays)
	}
	now := r.schools.Now()
	picture, err := r.readPhoto(ctx, in.Photo)
	if err != nil {
		return err
	}
	return journal.InPlainWords(r.schools.DB.Write(ctx, s.School.ID, func(tx *store.Tx) error {
		report := cardrows.Report{ID: in.ID, Instrument: i.ID, Symptom: in.Symptom, Plays: in.Plays, ReportedAt: now}
		if picture != nil {
			// Of one report one picture: its id is the report's, so that sent again it is kept once.
			p := checkrows.Photo{ID: in.ID, Instrument: i.ID, TakenAt: now, Width: picture.Width, Height: picture.Height}
			if err := checkrows.InsertPhoto(ctx, tx, p, picture.Full, picture.Thumbnail); err != nil {
				return err
			}
			report.Photo = &p.ID
		}
		_, isNew, err := cardrows.InsertReport(ctx, tx, report)
		if err != nil || !isNew {
			return err
		}
		_, err = r.schools.Record(ctx, tx, anybody(s.School.ID), eventrows.Event{What: eventrows.Reported, Instrument: &i.ID},
			ReportDetail{Report: in.ID, Symptom: symptom.Name, Plays: in.Plays})
		return err
	}))
}

// MaySay counts a report against what an hour takes of a card and of an address, before anything of it is read.
func (r *Room) MaySay(ctx context.Context, secret, origin string) error {
	now := r.schools.Now()
	byCard, byOrigin, err := r.schools.DB.CountReports(ctx, secret, origin, now, now.Add(-reportWindow))
	if err != nil {
		return journal.InPlainWords(err)
	}
	if byCard > reportsPerCard || byOrigin > reportsPerOrigin {
		return &journal.Fault{Kind: journal.TooMany, Message: "Too many reports from here just now. Tell your teacher."}
	}
	return nil
}

// readPhoto reads the photograph of a report; nil for none.
func (r *Room) readPhoto(ctx context.Context, file []byte) (*formats.Photo, error) {
	if len(file) == 0 {
		return nil, nil
	}
	picture, err := formats.ReadPhoto(ctx, file, formats.PlayerPhotoPixels)
	if errors.Is(err, formats.ErrNoPhoto) {
		return nil, journal.Refuse("photo", "This file is no picture, or too large.", nil)
	}
	return &picture, err
}

// Practice is a question on an instrument, mixed for a day, and whether there is one.
type Practice struct {
	Question drill.Exercise
	More     bool
}

// Practise chooses the next question for whoever holds the card. What they know is kept on their phone and nowhere else.
func (r *Room) Practise(ctx context.Context, secret string, boxes map[string]drill.Known, last string, l card.Language) (Practice, error) {
	s, i, err := r.open(ctx, secret)
	if err != nil {
		return Practice{}, err
	}
	var out Practice
	q, more := drill.Next(drill.Questions(r.schools.Catalog, r.schools.Subject(i)), boxes, s.Today, last)
	if out.More = more; more {
		out.Question = q.Shuffled(s.Today.String()).In(l)
	}
	return out, nil
}

// Question reads one question as it is asked today.
func (r *Room) Question(ctx context.Context, secret, id string, l card.Language) (drill.Exercise, error) {
	s, i, err := r.open(ctx, secret)
	if err != nil {
		return drill.Exercise{}, err
	}
	questions := drill.Questions(r.schools.Catalog, r.schools.Subject(i))
	n := slices.IndexFunc(questions, func(q drill.Exercise) bool { return q.ID == id })
	if n < 0 {
		return drill.Exercise{}, Nowhere
	}
	return questions[n].Shuffled(s.Today.String()).In(l), nil
}

// Answered is how an answer went.
type Answered struct {
	Question drill.Exercise // as it was asked
	Right    bool
	Box      drill.Known
}

// Answer judges an answer, counts it by kind and habit, and says when the question comes again. Counting holds nobody up, and of one card
// only so many count, so that a phone that answers without end neither slows the school down nor says what is to be taught next.
func (r *Room) Answer(ctx context.Context, secret, question string, chosen []int, box drill.Known, l card.Language) (Answered, error) {
	s, i, err := r.open(ctx, secret)
	if err != nil {
		return Answered{}, err
	}
	q, err := r.Question(ctx, secret, question, l)
	if err != nil {
		return Answered{}, err
	}
	out := Answered{Question: q, Right: q.IsRight(chosen)}
	out.Box = box.After(out.Right, s.Today)
	count := cardrows.DrillCount{On: s.Today, Kind: i.Kind.Base(), Habit: q.Habit}
	if out.Right {
		count.Right = 1
	} else {
		count.Wrong = 1
	}
	if !r.counts(secret) {
		return out, nil
	}
	return out, journal.InPlainWords(r.schools.DB.WriteAside(ctx, s.School.ID, func(tx *store.Tx) error { return cardrows.CountAnswer(ctx, tx, count) }))
}

// counts reports whether one more answer on a card counts in this hour.
func (r *Room) counts(secret string) bool {
	of := fmt.Sprintf("%x in hour %d", journal.Digest(secret), r.schools.Now().Unix()/3600)
	n := &atomic.Int32{}
	if before, there, _ := r.answers.PeekOrAdd(of, n); there {
		n = before
	}
	return n.Add(1) <= answersPerCard
}

// SectionReady says that the section of a card's instrument has packed up. Only who says so first, while an ensemble packs up, writes.
func (r *Room) SectionReady(ctx context.Context, secret string) error {
	s, i, err := r.open(ctx, secret)
	if err != nil {
		return err
	}
	waits := false
	err = r.schools.Read(ctx, anybody(s.School.ID), func(tx *store.Tx) error {
		return r.eachPackUp(ctx, tx, i, func(p cardrows.PackUp) error {
			waits = waits || !slices.Contains(p.Ready, i.Kind.Section)
			return nil
		})
	})
	if err != nil || !waits {
		return err
	}
	return journal.InPlainWords(r.schools.DB.Write(ctx, s.School.ID, func(tx *store.Tx) error {
		return r.eachPackUp(ctx, tx, i, func(p cardrows.PackUp) error {
			if slices.Contains(p.Ready, i.Kind.Section) {
				return nil
			}
			p.Ready = append(p.Ready, i.Kind.Section)
			return cardrows.PutPackUp(ctx, tx, p)
		})
	}))
}

// together says whether an ensemble of an instrument packs up just now, or sets up, and whether its section is ready.
func (r *Room) together(ctx context.Context, tx *store.Tx, i *school.Instrument) (phase string, ready bool, err error) {
	err = r.eachPackUp(ctx, tx, i, func(p cardrows.PackUp) error {
		phase, ready = cmp.Or(phase, p.Phase), ready || slices.Contains(p.Ready, i.Kind.Section)
		return nil
	})
	return phase, ready, err
}

// afterTheBell is how long a section may still say that it is ready.
const afterTheBell = 10 * time.Minute

// eachPackUp goes through what the ensembles of an instrument do together just now.
func (r *Room) eachPackUp(ctx context.Context, tx *store.Tx, i *school.Instrument, f func(cardrows.PackUp) error) error {
	if i.Habit == nil {
		return nil
	}
	for _, e := range i.Habit.Ensembles {
		p, err := cardrows.PackUpOf(ctx, tx, e)
		switch {
		case errors.Is(err, store.ErrNotFound) || err == nil && r.schools.Now().After(p.EndsAt.Add(afterTheBell)):
		case err != nil:
			return err
		default:
			if err := f(p); err != nil {
				return err
			}
		}
	}
	return nil
}
