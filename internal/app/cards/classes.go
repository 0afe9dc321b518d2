package cards

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/card"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/drill"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
)

// Class is a drill of an ensemble on a kind of instrument, with the question that comes next.
type Class struct {
	Ensemble string          `json:"ensemble" doc:"Its name"`
	Kinds    []school.Choice `json:"kinds" doc:"That are played there"`
	Kind     string          `json:"kind" doc:"Key of the one that is drilled"`
	Question *drill.Exercise `json:"question,omitempty" doc:"Left out when all are known for today"`
	Box      drill.Known     `json:"box" doc:"How well the class knows it"`
	All      int             `json:"all" doc:"Questions on the kind"`
	Known    int             `json:"known" doc:"Of them, not to be asked before another day"`
	NextOn   *day.Day        `json:"next_on,omitempty" doc:"When the next comes; left out while there is one today"`
}

// Class chooses the next question for an ensemble: of the kind asked for, or of the first that is played there.
func (r *Room) Class(ctx context.Context, by journal.Person, ensemble uuid.UUID, kind, last, language string) (Class, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Class{}, err
	}
	e, err := ensembleOf(s, ensemble)
	if err != nil {
		return Class{}, err
	}
	l := card.LanguageOf(language)
	out := Class{Ensemble: e.Name, Kinds: []school.Choice{}, Kind: kind}
	subjects := map[string]catalog.Subject{}
	for _, group := range sectionsOf(s, ensemble) {
		for _, i := range group {
			key := i.Kind.Base()
			if _, known := subjects[key]; !known {
				subjects[key] = r.schools.Subject(i)
				out.Kinds = append(out.Kinds, school.Choice{Key: key, Name: l.Say(i.Kind.Name)})
			}
		}
	}
	if len(out.Kinds) == 0 {
		return out, nil
	}
	if kind == "" {
		out.Kind = out.Kinds[0].Key
	}
	of, known := subjects[out.Kind]
	if !known {
		return Class{}, journal.Refuse("kind", "is not played there", kind)
	}
	var boxes map[string]drill.Known
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		boxes, err = cardrows.DrillBoxes(ctx, tx, ensemble, out.Kind)
		return err
	}); err != nil {
		return Class{}, journal.InPlainWords(err)
	}
	questions := drill.Questions(r.schools.Catalog, of)
	out.All = len(questions)
	for _, q := range questions {
		if due := boxes[q.ID].Due; due > s.Today {
			out.Known++
			if out.NextOn == nil || due < *out.NextOn {
				out.NextOn = &due
			}
		}
	}
	if q, more := drill.Next(questions, boxes, s.Today, last); more {
		q := q.Shuffled(s.Today.String()).In(l)
		out.Question, out.Box, out.NextOn = &q, boxes[q.ID], nil
	}
	return out, nil
}

// Hands are how many of a class held up the right number, and how many a wrong one.
type Hands struct {
	Ensemble uuid.UUID `json:"ensemble"`
	Kind     string    `json:"kind"`
	Question string    `json:"question" doc:"Its id"`
	Right    int       `json:"right" minimum:"0" maximum:"500"`
	Wrong    int       `json:"wrong" minimum:"0" maximum:"500"`
}

// Count keeps how a class answered. The question comes back sooner when fewer than three quarters were right.
func (r *Room) Count(ctx context.Context, by journal.Person, in Hands) (drill.Known, error) {
	return school.WriteBeside(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (drill.Known, error) {
		if in.Right+in.Wrong == 0 {
			return drill.Known{}, journal.Refuse("right", "say how many hands were up", 0)
		}
		if _, err := ensembleOf(s, in.Ensemble); err != nil {
			return drill.Known{}, err
		}
		k, ok := r.schools.Catalog.Kind(in.Kind)
		if !ok {
			return drill.Known{}, journal.Refuse("kind", "is none", in.Kind)
		}
		questions := drill.Questions(r.schools.Catalog, catalog.Subject{Kind: k, Body: k.Bodies[0], Choices: s.Choices})
		n := slices.IndexFunc(questions, func(q drill.Exercise) bool { return q.ID == in.Question })
		if n < 0 {
			return drill.Known{}, journal.Refuse("question", "is none of that kind", in.Question)
		}
		boxes, err := cardrows.DrillBoxes(ctx, tx, in.Ensemble, in.Kind)
		if err != nil {
			return drill.Known{}, err
		}
		count := cardrows.DrillCount{On: s.Today, Kind: in.Kind, Ensemble: in.Ensemble, Habit: questions[n].Habit, Right: in.Right, Wrong: in.Wrong}
		if err := cardrows.CountAnswer(ctx, tx, count); err != nil {
			return drill.Known{}, err
		}
		box := boxes[in.Question].After(drill.ClassKnows(in.Right, in.Wrong), s.Today)
		return box, cardrows.PutDrillBox(ctx, tx, in.Ensemble, in.Kind, in.Question, box)
	})
}
