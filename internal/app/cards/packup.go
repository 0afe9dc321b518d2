package cards

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/card"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/schoolrows"
)

// Phase is what a rehearsal's first or last minutes are for.
type Phase string

// The phases, with the rhythms of what is done in them.
const (
	SetUp  Phase = "set-up"
	PackUp Phase = "pack-up"
)

var rhythmsOf = map[Phase][]string{SetUp: {"assembly"}, PackUp: {"every time", "casing"}}

// PackUpBoard is what all sections of an ensemble do side by side.
type PackUpBoard struct {
	Ensemble string         `json:"ensemble" doc:"Its name"`
	Phase    Phase          `json:"phase" enum:"set-up,pack-up"`
	Sections []BoardSection `json:"sections" doc:"In score order"`
	Minutes  float64        `json:"minutes" doc:"Of the longest routine"`
	Bell     *time.Time     `json:"bell,omitempty" doc:"End of the ensemble's rehearsal that runs now or comes next today; left out when there is none"`
	Damp     bool           `json:"damp" doc:"Something damp stays outside the cases"`
}

// BoardSection is a section with its steps.
type BoardSection struct {
	Name    string      `json:"name"`
	Kind    string      `json:"kind" doc:"Name of the kind that most of it play, whose steps they are"`
	Others  []string    `json:"others" doc:"Names of other kinds in it, which follow their own cards"`
	Drawing string      `json:"drawing"`
	Players int         `json:"players"`
	Steps   []card.Line `json:"steps"`
	Minutes float64     `json:"minutes"`
	Caution string      `json:"caution" doc:"To be read before the first step; empty for none"`
}

// Board reads what an ensemble does in a phase.
func (r *Room) Board(ctx context.Context, by journal.Person, ensemble uuid.UUID, phase Phase, language string) (PackUpBoard, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return PackUpBoard{}, err
	}
	e, err := ensembleOf(s, ensemble)
	if err != nil {
		return PackUpBoard{}, err
	}
	l := card.LanguageOf(language)
	out := PackUpBoard{Ensemble: e.Name, Phase: phase, Sections: []BoardSection{}, Bell: r.bell(s, e)}
	for _, group := range sectionsOf(s, ensemble) {
		section, damp := r.boardSection(group, phase, l)
		out.Sections, out.Damp = append(out.Sections, section), out.Damp || damp
		out.Minutes = max(out.Minutes, section.Minutes)
	}
	return out, nil
}

func ensembleOf(s *school.Snapshot, id uuid.UUID) (schoolrows.Ensemble, error) {
	n := slices.IndexFunc(s.Ensembles, func(e schoolrows.Ensemble) bool { return e.ID == id })
	if n < 0 {
		return schoolrows.Ensemble{}, journal.Refuse("ensemble", "is none of the school's", id)
	}
	return s.Ensembles[n], nil
}

// sectionsOf gathers the instruments of an ensemble by section, in score order.
func sectionsOf(s *school.Snapshot, ensemble uuid.UUID) (groups [][]*school.Instrument) {
	at := map[string]int{}
	for _, i := range s.Instruments {
		if i.Habit == nil || !slices.Contains(i.Habit.Ensembles, ensemble) {
			continue
		}
		n, known := at[i.Kind.Section]
		if !known {
			n = len(groups)
			at[i.Kind.Section], groups = n, append(groups, nil)
		}
		groups[n] = append(groups[n], i)
	}
	return groups
}

// boardSection writes the steps of a section, as most of its players do them. Damp says that something of it stays outside the cases.
func (r *Room) boardSection(group []*school.Instrument, phase Phase, l card.Language) (out BoardSection, damp bool) {
	usual := commonest(group)
	out = BoardSection{
		Name: usual.Kind.Section, Kind: l.Say(usual.Kind.Name), Others: []string{}, Drawing: usual.Kind.Drawing,
		Players: len(group), Steps: []card.Line{},
	}
	for _, i := range group {
		if name := l.Say(i.Kind.Name); i.Kind != usual.Kind && !slices.Contains(out.Others, name) && name != out.Kind {
			out.Others = append(out.Others, name)
		}
	}
	for _, routine := range r.schools.Catalog.PlayerRoutines(r.schools.Subject(usual)) {
		if !slices.Contains(rhythmsOf[phase], routine.Rhythm) {
			continue
		}
		out.Minutes += routine.Minutes
		if len(routine.Cautions) > 0 && out.Caution == "" {
			out.Caution = routine.Cautions[0]
		}
		for _, step := range routine.OnCard() {
			line := card.Line{Text: l.Say(step.Short), Parts: append([]string{}, step.Parts...), Guards: step.Prevents != ""}
			if !slices.ContainsFunc(out.Steps, func(x card.Line) bool { return x.Text == line.Text }) {
				out.Steps = append(out.Steps, line)
			}
			damp = damp || slices.Contains(step.Parts, "swab")
		}
	}
	return out, damp
}

// commonest is an instrument of the kind that most of a group are of; of two alike the one higher in the score.
func commonest(group []*school.Instrument) *school.Instrument {
	count := map[string]int{}
	for _, i := range group {
		count[i.Kind.Key]++
	}
	usual := group[0]
	for _, i := range group {
		if count[i.Kind.Key] > count[usual.Kind.Key] {
			usual = i
		}
	}
	return usual
}

// bell is when the rehearsal of an ensemble ends that runs now or comes next today; nil when there is none.
func (r *Room) bell(s *school.Snapshot, e schoolrows.Ensemble) *time.Time {
	if s.Calendar.IsBreak(s.Today) {
		return nil
	}
	now := r.schools.Now().In(s.Zone)
	var first *time.Time
	for _, rehearsal := range e.Rehearsals {
		if day.Weekday(rehearsal.Weekday) != s.Today.Weekday() {
			continue
		}
		begins, err := time.ParseInLocation("15:04", rehearsal.StartsAt[:min(5, len(rehearsal.StartsAt))], s.Zone)
		if err != nil {
			continue
		}
		ends := time.Date(now.Year(), now.Month(), now.Day(), begins.Hour(), begins.Minute()+rehearsal.Minutes, 0, 0, s.Zone)
		if ends.After(now) && (first == nil || ends.Before(*first)) {
			first = &ends
		}
	}
	return first
}

// Progress is how far an ensemble has come. Time is told as what is left, since clocks of two machines differ.
type Progress struct {
	ID       uuid.UUID `json:"id" doc:"Of this time, made by the client"`
	Ensemble uuid.UUID `json:"ensemble"`
	Phase    Phase     `json:"phase" enum:"set-up,pack-up"`
	Seconds  int       `json:"seconds" minimum:"0" maximum:"14400" doc:"Until the bell"`
	Ready    []string  `json:"ready" maxItems:"100" doc:"Names of sections"`
}

// Begin keeps how far an ensemble has come, so that sections can say by their cards that they are ready.
func (r *Room) Begin(ctx context.Context, by journal.Person, in Progress) (Progress, error) {
	return school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (Progress, error) {
		if _, err := ensembleOf(s, in.Ensemble); err != nil {
			return Progress{}, err
		}
		for n, name := range in.Ready {
			if !slices.ContainsFunc(r.schools.Catalog.Kinds, func(k catalog.Kind) bool { return k.Section == name }) {
				return Progress{}, journal.Refuse(fmt.Sprintf("ready[%d]", n), "is no section", name)
			}
		}
		in.Ready = append([]string{}, in.Ready...)
		ends := r.schools.Now().Add(time.Duration(in.Seconds) * time.Second)
		return in, cardrows.PutPackUp(ctx, tx, cardrows.PackUp{Ensemble: in.Ensemble, ID: in.ID, Phase: string(in.Phase), EndsAt: ends, Ready: in.Ready})
	})
}

// Progress reads how far an ensemble has come.
func (r *Room) Progress(ctx context.Context, by journal.Person, ensemble uuid.UUID) (Progress, error) {
	out := Progress{Ensemble: ensemble, Phase: PackUp, Ready: []string{}}
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		p, err := cardrows.PackUpOf(ctx, tx, ensemble)
		if err == nil {
			out.ID, out.Phase, out.Ready = p.ID, Phase(p.Phase), append(out.Ready, p.Ready...)
			out.Seconds = max(0, int(p.EndsAt.Sub(r.schools.Now()).Seconds()))
		}
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		return err
	})
	return out, journal.InPlainWords(err)
}
