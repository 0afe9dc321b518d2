package settings

import (
	"context"
	"maps"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/field"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/schoolrows"
)

// SchoolPractice is a disagreement of the trade with what the school chose.
type SchoolPractice struct {
	catalog.Practice
	Chosen  string `json:"chosen" doc:"Key of the option that holds"`
	Version string `json:"version"`
	Asked   bool   `json:"asked" doc:"The default has changed since, and nobody has said yet which is to hold"`
}

// FilePractice is a disagreement that touches an instrument.
type FilePractice struct {
	catalog.Chosen
	Options []catalog.Option `json:"options"`
	Own     bool             `json:"own" doc:"Chosen for this instrument alone"`
	School  string           `json:"school" doc:"Key of what the school chose"`
	Version string           `json:"version"`
}

// Practices lists everything on which the trade disagrees, with what holds at this school.
func (r *Room) Practices(ctx context.Context, by journal.Person) ([]SchoolPractice, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	list := make([]SchoolPractice, len(r.schools.Catalog.Practices))
	for n, p := range r.schools.Catalog.Practices {
		list[n] = SchoolPractice{p, s.Choices[p.Key], journal.Version(s.Choices[p.Key]), slices.Contains(s.Asked(), p.Key)}
	}
	return list, nil
}

// ChoosePractices saves what the school chose; practices that are not named stay as they are.
func (r *Room) ChoosePractices(ctx context.Context, by journal.Person, choices catalog.Choices) error {
	for practice, option := range choices {
		if err := r.checkChoice("choices."+practice, practice, option); err != nil {
			return err
		}
	}
	return r.schools.ChangeSettings(ctx, by, "choose-practices", choices, func(tx *store.Tx, s *school.Snapshot) error {
		var now []any
		for _, practice := range slices.Sorted(maps.Keys(choices)) {
			now = append(now, s.Choices[practice])
		}
		if err := journal.AsSeen(ctx, now...); err != nil {
			return err
		}
		for practice, option := range choices {
			if err := schoolrows.SetSchoolChoice(ctx, tx, practice, option); err != nil {
				return err
			}
		}
		return nil
	})
}

func (r *Room) checkChoice(path, practice, option string) error {
	p, ok := r.schools.Catalog.Practice(practice)
	if !ok {
		return journal.Refuse(path, "is nothing that the trade disagrees on", practice)
	}
	if _, ok := p.Option(option); !ok {
		return journal.Refuse(path, "is not one of its sides", option)
	}
	return nil
}

// PracticesOf lists the disagreements that shape an instrument's routines.
func (r *Room) PracticesOf(i *school.Instrument) []FilePractice {
	keys := append([]string{catalog.ProfilePractice}, i.Kind.Surfaces()...)
	kit := r.schools.Catalog.KitOf(i.Kind)
	if slices.ContainsFunc(kit.Items, func(item catalog.KitItem) bool { return kit.Tier(item, i.Moved) == catalog.FullKit }) {
		keys = append(keys, catalog.KitPractice)
	}
	for _, key := range i.Kind.Routines {
		r, _ := r.schools.Catalog.Routine(key)
		for _, k := range r.Practices() {
			if !slices.Contains(keys, k) {
				keys = append(keys, k)
			}
		}
	}
	list := []FilePractice{}
	for _, c := range r.schools.Catalog.Chosen(keys, i.Care.Choices) {
		p, _ := r.schools.Catalog.Practice(c.Practice)
		option, own := i.Own[c.Practice]
		list = append(list, FilePractice{Chosen: c, Options: p.Options, Own: own, School: i.SchoolChoices[c.Practice],
			Version: journal.Version(option)})
	}
	return list
}

// PracticeChange chooses for one instrument.
type PracticeChange struct {
	Practice string `json:"practice"`
	Option   string `json:"option" doc:"Empty to follow the school again"`
}

// OwnChange is what the log keeps of an instrument's own choice or limit.
type OwnChange struct {
	Practice string       `json:"practice,omitempty"`
	Option   string       `json:"option,omitempty"`
	Clock    *clocks.Key  `json:"clock,omitempty"`
	Title    string       `json:"title"`
	Limits   *care.Limits `json:"limits,omitempty"`
}

// ChooseForInstrument lets one instrument follow another side than the school.
func (r *Room) ChooseForInstrument(ctx context.Context, by journal.Person, id uuid.UUID, in PracticeChange) error {
	if in.Option != "" {
		if err := r.checkChoice("option", in.Practice, in.Option); err != nil {
			return err
		}
	}
	p, ok := r.schools.Catalog.Practice(in.Practice)
	if !ok {
		return journal.Refuse("practice", "is nothing that the trade disagrees on", in.Practice)
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return struct{}{}, err
		}
		if err := journal.AsSeen(ctx, i.Own[in.Practice]); err != nil {
			return struct{}{}, err
		}
		if err := schoolrows.SetInstrumentChoice(ctx, tx, id, in.Practice, in.Option); err != nil {
			return struct{}{}, err
		}
		_, err = r.schools.Record(
			ctx,
			tx,
			by,
			eventrows.Event{What: eventrows.OwnChoice, Instrument: &id},
			OwnChange{Practice: in.Practice, Option: in.Option, Title: p.Title},
		)
		return struct{}{}, err
	})
	return err
}

// LimitChange sets an instrument's own limit of a clock.
type LimitChange struct {
	clocks.Key
	Limits *care.Limits `json:"limits,omitempty" doc:"Left out to follow the usual limit again"`
}

// SetOwnLimit gives one clock of one instrument its own limit, in place of the usual one.
func (r *Room) SetOwnLimit(ctx context.Context, by journal.Person, id uuid.UUID, in LimitChange) error {
	if in.Limits != nil {
		if _, err := care.Limit(care.LimitIn{Base: *in.Limits}); err != nil {
			return journal.Refuse("limits", field.Of(err).Message, in.Limits.String())
		}
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return struct{}{}, err
		}
		if !clocks.Has(r.schools.Catalog, i.Kind.Key, in.Key) {
			return struct{}{}, journal.Refuse("routine", "this instrument has no such care", in.Routine)
		}
		if err := journal.AsSeen(ctx, i.OwnLimit(in.Key)); err != nil {
			return struct{}{}, err
		}
		if err := schoolrows.SetOwnLimit(ctx, tx, id, in.Key, in.Limits); err != nil {
			return struct{}{}, err
		}
		routine, _ := r.schools.Catalog.Routine(in.Routine)
		title := clocks.Clock{Key: in.Key, Kind: i.Kind, Of: routine}.Title()
		_, err = r.schools.Record(
			ctx,
			tx,
			by,
			eventrows.Event{What: eventrows.OwnChoice, Instrument: &id},
			OwnChange{Clock: &in.Key, Title: title, Limits: in.Limits},
		)
		return struct{}{}, err
	})
	return err
}
