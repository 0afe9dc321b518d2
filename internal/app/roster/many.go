package roster

import (
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/schoolrows"
)

// Many is one change of many players. What is left out stays as it is with each of them.
type Many struct {
	Players   []uuid.UUID `json:"players" minItems:"1" maxItems:"2000"`
	GradeYear *string     `json:"grade_year,omitempty" maxLength:"20"`
	Kind      *string     `json:"kind,omitempty" maxLength:"100" doc:"Key of the kind that they learn"`
	Join      []uuid.UUID `json:"join,omitempty" maxItems:"100" doc:"Ensembles in which they play from now on"`
	Leave     []uuid.UUID `json:"leave,omitempty" maxItems:"100" doc:"Ensembles in which they do not play any more"`
	Left      *bool       `json:"left,omitempty" doc:"They have left today, or are here after all"`
}

// manyDetail is what the log keeps: how they were, by id and not by name, so that who is erased is in it no more.
type manyDetail struct {
	Before []wasPlayer `json:"before"`
}

type wasPlayer struct {
	ID        uuid.UUID   `json:"id"`
	GradeYear string      `json:"grade_year"`
	Kind      string      `json:"kind"`
	Strength  string      `json:"reed_strength"`
	Ensembles []uuid.UUID `json:"ensembles"`
	LeftOn    *day.Day    `json:"left_on"`
	Version   int         `json:"version"` // that the change made
}

// ChangeMany changes many players at once, all or none; it can be undone.
func (r *Room) ChangeMany(ctx context.Context, by journal.Person, in Many) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		if err := r.checkMany(s, in); err != nil {
			return journal.Changed{}, err
		}
		var detail manyDetail
		for _, id := range in.Players {
			p := *s.Players[id]
			was := wasPlayer{p.ID, p.GradeYear, p.Kind, p.ReedStrength, slices.Clone(p.Ensembles), p.LeftOn, p.Version + 1}
			if !in.change(&p, s.Today) {
				continue
			}
			if err := playerrows.PutPlayer(ctx, tx, p); err != nil {
				return journal.Changed{}, fmt.Errorf("changing %s: %w", p.Name(), err)
			}
			detail.Before = append(detail.Before, was)
		}
		if len(detail.Before) == 0 {
			return journal.Changed{Events: []uuid.UUID{}}, nil
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.PlayersChanged}, detail)
		return journal.Changed{Events: []uuid.UUID{event}}, err
	})
}

func (r *Room) checkMany(s *school.Snapshot, in Many) error {
	for n, id := range in.Players {
		if s.Players[id] == nil {
			return journal.Refuse(fmt.Sprintf("players[%d]", n), "is not here any more", id)
		}
		if slices.Contains(in.Players[:n], id) {
			return journal.Refuse(fmt.Sprintf("players[%d]", n), "is named twice", id)
		}
	}
	if in.Kind != nil && *in.Kind != "" {
		if _, ok := r.schools.Catalog.Kind(*in.Kind); !ok {
			return journal.Refuse("kind", "is no kind of instrument", *in.Kind)
		}
	}
	for path, list := range map[string][]uuid.UUID{"join": in.Join, "leave": in.Leave} {
		for n, id := range list {
			if !slices.ContainsFunc(s.Ensembles, func(e schoolrows.Ensemble) bool { return e.ID == id }) {
				return journal.Refuse(fmt.Sprintf("%s[%d]", path, n), "is no ensemble", id)
			}
		}
	}
	return nil
}

// change makes the change of one player and reports whether it is one.
func (in Many) change(p *playerrows.Player, today day.Day) bool {
	before := *p
	if in.GradeYear != nil {
		p.GradeYear = *in.GradeYear
	}
	if in.Kind != nil && *in.Kind != p.Kind {
		p.Kind, p.ReedStrength = *in.Kind, "" // which belongs to the kind
	}
	p.Ensembles = slices.DeleteFunc(slices.Clone(p.Ensembles), func(e uuid.UUID) bool { return slices.Contains(in.Leave, e) })
	for _, e := range in.Join {
		if !slices.Contains(p.Ensembles, e) {
			p.Ensembles = append(p.Ensembles, e)
		}
	}
	switch {
	case in.Left == nil:
	case *in.Left && p.LeftOn == nil:
		p.LeftOn = &today
	case !*in.Left:
		p.LeftOn = nil
	}
	return before.GradeYear != p.GradeYear || before.Kind != p.Kind || before.LeftOn != p.LeftOn ||
		!slices.Equal(before.Ensembles, p.Ensembles)
}

// undoMany gives many players back what they were, as long as nobody changed them since. Who was erased stays so.
func (r *Room) undoMany(ctx context.Context, tx *store.Tx, u school.Undoing, d manyDetail) (stays []string, err error) {
	for _, was := range d.Before {
		p := u.School.Players[was.ID]
		switch {
		case p == nil:
			continue
		case p.Version != was.Version:
			return nil, &journal.Fault{Kind: journal.Conflict, Message: p.Name() + " was changed since; change the others by hand."}
		}
		again := *p
		again.GradeYear, again.Kind, again.ReedStrength, again.LeftOn = was.GradeYear, was.Kind, was.Strength, was.LeftOn
		again.Ensembles = slices.DeleteFunc(was.Ensembles, func(id uuid.UUID) bool {
			return !slices.ContainsFunc(u.School.Ensembles, func(e schoolrows.Ensemble) bool { return e.ID == id })
		})
		if err := playerrows.PutPlayer(ctx, tx, again); err != nil {
			return nil, err
		}
	}
	return nil, nil
}
