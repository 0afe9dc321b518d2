// Package demo fills an empty database with Quillhaven Community School: a school year under way, told by running the
// program itself through the year, session by session, with its clock set back. Names, makers and places are invented.
// The same start day gives the same school.
package demo

import (
	"context"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"math"
	"math/rand/v2"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store"
	"solfeggio/internal/store/schoolrows"
)

// The sign-ins of the demo school.
const (
	DirectorEmail = "director@quillhaven.example"
	HelperEmail   = "helper@quillhaven.example"
	Password      = "copper lantern waltz"
)

const (
	daysBack    = 400 // how long ago the school began with Solfeggio
	daysBetween = 4   // between two afternoons of care
	vanEvery    = 7   // afternoons between two trips to the shop

	sectionLeader = catalog.Who("section leader")
)

// Seed makes the demo school as of now, unless it is there already.
func Seed(ctx context.Context, db *store.DB, now time.Time, log *slog.Logger) error {
	// The helper comes last and so marks a school that is complete.
	if _, err := db.SignInCandidate(ctx, HelperEmail); err == nil {
		return letIn(ctx, app.New(db, func() time.Time { return now }, log))
	}
	if _, err := db.SignInCandidate(ctx, DirectorEmail); err == nil {
		return errors.New("the demo school was left half made by an earlier start; begin anew with make demo-reset")
	}
	log.Info("making the demo school; this takes a few seconds")
	clock := now.AddDate(0, 0, -daysBack)
	quiet := slog.New(slog.NewTextHandler(io.Discard, nil))
	s := &seeder{
		app:    app.New(db, func() time.Time { return clock }, quiet),
		today:  day.Of(now),
		random: rand.New(rand.NewPCG(1742, 6)),
		clock:  &clock,
		fate:   rand.New(rand.NewPCG(1685, 3)),
		fails:  map[string]day.Day{},
	}
	if err := s.setUp(ctx); err != nil {
		return fmt.Errorf("setting up the demo school: %w", err)
	}
	for n := daysBack - 1; n > 0; n -= daysBetween {
		clock = now.AddDate(0, 0, -n)
		if err := s.afternoon(ctx, n); err != nil {
			return fmt.Errorf("an afternoon %d days ago: %w", n, err)
		}
	}
	at := func(daysAgo int) time.Time {
		clock = now.AddDate(0, 0, -daysAgo)
		return clock
	}
	if err := s.belongings(ctx, at); err != nil {
		return fmt.Errorf("supplies and rented instruments: %w", err)
	}
	if err := s.goneWrong(ctx, at); err != nil {
		return fmt.Errorf("what has gone wrong: %w", err)
	}
	if err := s.upkeep(ctx); err != nil {
		return fmt.Errorf("bows, reeds and plans: %w", err)
	}
	if err := s.bench(ctx, now); err != nil {
		return fmt.Errorf("the bench: %w", err)
	}
	if err := s.repairs(ctx, at); err != nil {
		return fmt.Errorf("repairs: %w", err)
	}
	if err := s.cards(ctx, at); err != nil {
		return fmt.Errorf("cards, reports and drills: %w", err)
	}
	if err := s.newcomers(ctx); err != nil {
		return fmt.Errorf("this week's beginners: %w", err)
	}
	return s.app.Access.SaveColleague(
		ctx,
		s.director,
		access.Colleague{ID: uuid.Must(uuid.NewV7()), Name: "Pell Arrowby", Email: HelperEmail, Role: journal.Helper, Active: true},
		Password,
	)
}

// letIn gives the people of a demo school that an earlier edition made the password that is printed now.
func letIn(ctx context.Context, a *app.App) error {
	for _, email := range []string{DirectorEmail, HelperEmail} {
		_, err := a.Access.SignIn(ctx, email, Password, "demo")
		var fault *journal.Fault
		switch {
		case errors.As(err, &fault) && fault.Kind == journal.Unauthorized && len(fault.Fields) > 0:
			err = nil // the password is right; they have chosen a second factor since
		case errors.As(err, &fault) && fault.Kind == journal.Unauthorized:
			err = a.Access.SetPassword(ctx, email, Password)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

type seeder struct {
	app        *app.App
	today      day.Day
	random     *rand.Rand
	director   journal.Person
	clock      *time.Time
	afternoons int
	ensembles  map[string]uuid.UUID
	holders    []holder

	fate  *rand.Rand         // of strings and hair, so that the rest of the school is the same without them
	fails map[string]day.Day // when what is on an instrument will be worn, by its id and part
	tags  map[string]string  // of instruments by their ids
}

func (s *seeder) setUp(ctx context.Context) error {
	school := schoolrows.School{
		ID: uuid.NewSHA1(uuid.NameSpaceDNS, []byte("quillhaven.example")), Name: "Quillhaven Community School",
		TimeZone: "UTC", Locale: "en-GB", Currency: "EUR", PlayerCare: "trusted", OpensAt: 0.75, LateAt: 1.25, Phone: "555 0142",
	}
	var err error
	if s.director, err = s.app.Access.SetUpSchool(ctx,
		access.NewSchool{School: school, Name: "Ines Corvane", Email: DirectorEmail, Password: Password}); err != nil {
		return err
	}
	// Its ensembles meet often, so it keeps the standard intervals and not the longest, with which a new school begins.
	if err := s.app.Settings.ChoosePractices(ctx, s.director, catalog.Choices{catalog.ProfilePractice: "standard"}); err != nil {
		return err
	}
	if err := s.calendar(ctx); err != nil {
		return err
	}
	if err := s.shelves(ctx); err != nil {
		return err
	}
	report, err := s.app.Importing.Import(ctx, s.director, importing.InstrumentFile{Content: s.instruments()})
	if err != nil {
		return err
	}
	if len(report.Faults) > 0 {
		return report.Faults[0]
	}
	return s.players(ctx)
}

// monday is the Monday of the week that lies so many weeks from now.
func (s *seeder) monday(weeks int) day.Day {
	return s.today - day.Day(s.today.Weekday()-1) + day.Day(7*weeks)
}

func (s *seeder) calendar(ctx context.Context) error {
	period := func(table schoolrows.PeriodTable, name string, from, to day.Day) error {
		return s.app.Settings.SavePeriod(
			ctx,
			s.director,
			table,
			schoolrows.Period{ID: uuid.Must(uuid.NewV7()), Name: name, StartsOn: from, EndsOn: to},
		)
	}
	for _, p := range []struct {
		table schoolrows.PeriodTable
		name  string
		from  day.Day
		to    day.Day
	}{
		{schoolrows.Terms, "Last autumn", s.monday(-64), s.monday(-48) + 4},
		{schoolrows.Terms, "Last spring", s.monday(-45), s.monday(-22) + 4},
		{schoolrows.Terms, "Autumn term", s.monday(-12), s.monday(3) + 4},
		{schoolrows.Terms, "Spring term", s.monday(6), s.monday(29) + 4},
		{schoolrows.Breaks, "Spring break", s.monday(-33), s.monday(-33) + 6},
		{schoolrows.Breaks, "Autumn break", s.monday(-4), s.monday(-4) + 6},
		{schoolrows.Breaks, "Teachers' day", s.monday(1) + 4, s.monday(1) + 4},
	} {
		if err := period(p.table, p.name, p.from, p.to); err != nil {
			return err
		}
	}
	type slot struct {
		weekday int
		at      string
		minutes int
	}
	ids := map[string]uuid.UUID{}
	s.ensembles = ids
	for _, e := range []struct {
		name  string
		times []slot
	}{
		{windBand, []slot{{1, "13:05", 50}, {3, "13:05", 50}}},
		{orchestra, []slot{{3, "10:20", 50}, {5, "10:20", 45}}},
		{beginnerWinds, []slot{{2, "09:30", 40}, {4, "09:30", 40}}},
		{beginnerStrings, []slot{{2, "11:15", 40}, {4, "11:15", 40}}},
		{percussionGroup, []slot{{1, "14:10", 45}, {3, "13:05", 50}}},
	} {
		ensemble := schoolrows.Ensemble{ID: uuid.Must(uuid.NewV7()), Name: e.name}
		ids[e.name] = ensemble.ID
		for _, t := range e.times {
			ensemble.Rehearsals = append(
				ensemble.Rehearsals,
				schoolrows.Rehearsal{
					ID:         uuid.Must(uuid.NewV7()),
					Weekday:    t.weekday,
					StartsAt:   t.at,
					Minutes:    t.minutes,
					PlayFactor: usage.DefaultPlayFactor,
				},
			)
		}
		if err := s.app.Settings.SaveEnsemble(ctx, s.director, ensemble); err != nil {
			return err
		}
	}
	for _, c := range []struct {
		name      string
		on        day.Day
		ensembles []uuid.UUID
	}{
		{"Summer concert last year", s.today - 165, []uuid.UUID{ids[windBand], ids[orchestra]}},
		{"Winter concert", s.today + 18, []uuid.UUID{ids[windBand], ids[orchestra], ids[beginnerStrings], ids[percussionGroup]}},
		{"Spring festival", s.monday(20) + 5, []uuid.UUID{ids[windBand]}},
		{"Summer concert", s.monday(28) + 3, []uuid.UUID{ids[windBand], ids[orchestra], ids[beginnerWinds], ids[beginnerStrings]}},
	} {
		concert := schoolrows.Concert{
			ID:         uuid.Must(uuid.NewV7()),
			Name:       c.name,
			HeldOn:     c.on,
			Minutes:    90,
			PlayFactor: usage.DefaultPlayFactor,
			Ensembles:  c.ensembles,
		}
		if err := s.app.Settings.SaveConcert(ctx, s.director, concert); err != nil {
			return err
		}
	}
	return nil
}

// neglected are the instruments whose work keeps being put off: their rehairs, strings and check-ups run late.
var neglected = map[string]bool{"VN-03": true, "VN-12": true, "VN-09": true, "VC-05": true, "SX-04": true, "CL-19": true}

// afternoon does a part of what was due on that day. Near the end a few things are left lying, as they are before a
// concert.
func (s *seeder) afternoon(ctx context.Context, daysAgo int) error {
	s.afternoons++
	van := s.afternoons%vanEvery == 0
	if err := s.wornOut(ctx, daysAgo); err != nil {
		return err
	}
	willing := 0.85
	if daysAgo < 16 {
		willing = 0.55
	}
	due, err := s.app.Today.Due(ctx, s.director, 0, math.MaxInt32)
	if err != nil {
		return err
	}
	var done care.Finish
	strings := map[string]bool{} // of which one was changed this afternoon; the next waits
	for _, round := range due.Places {
		for _, task := range round.Tasks {
			chance := willing
			switch {
			case putOff(task.Tag, task.Part, daysAgo):
				chance = 0
			case neglected[task.Tag]:
				chance = 0.1
			case task.Routine == "valve-brass-bath" && daysAgo < 60:
				chance = 0.1 // the sink was being repaired
			case task.Who == catalog.Technician:
				chance = map[bool]float64{true: 0.9}[van]
			case task.Who == sectionLeader:
				chance = 0.95
			}
			routine, _ := catalog.Embedded().Routine(task.Routine)
			if s.random.Float64() < chance && !strings[task.Tag] {
				strings[task.Tag] = len(routine.OneADay) > 0
				if task.Guided {
					if err := s.renew(ctx, task, daysAgo); err != nil {
						return err
					}
					continue
				}
				done.Tasks = append(done.Tasks, care.FinishTask{InstrumentID: task.InstrumentID, Key: task.Key})
			}
		}
	}
	for len(done.Tasks) > 0 {
		n := min(len(done.Tasks), 500)
		if _, err := s.app.Care.Finish(ctx, s.director, care.Finish{Tasks: done.Tasks[:n]}); err != nil {
			return err
		}
		done.Tasks = done.Tasks[n:]
	}
	return nil
}
