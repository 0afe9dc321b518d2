package importing

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/schoolrows"
)

// save writes the rows. It counts what they change.
func (im *importer) save(ctx context.Context, tx *store.Tx) error {
	ensembles := map[string]uuid.UUID{}
	for _, e := range im.snapshot.Ensembles {
		ensembles[strings.ToLower(e.Name)] = e.ID
	}
	for _, name := range im.report.NewEnsembles {
		id := uuid.Must(uuid.NewV7())
		if err := schoolrows.PutEnsemble(ctx, tx, schoolrows.Ensemble{ID: id, Name: name}); err != nil {
			return err
		}
		ensembles[strings.ToLower(name)] = id
	}
	for _, r := range im.rows {
		if r.Habit != nil {
			r.Habit.Ensembles = []uuid.UUID{}
			for _, name := range r.Ensembles {
				r.Habit.Ensembles = append(r.Habit.Ensembles, ensembles[strings.ToLower(name)])
			}
		}
		var err error
		if r.old == nil {
			im.report.Added++
			err = im.add(ctx, tx, r)
		} else {
			err = im.update(ctx, tx, r)
		}
		if err != nil {
			return fmt.Errorf("importing %s: %w", r.Instrument.Tag, err)
		}
	}
	if _, err := im.app.inventory.SaveChanges(ctx, tx, im.by, im.changes...); err != nil {
		return err
	}
	_, err := im.app.lending.ChangePlayingOfMany(ctx, tx, im.by, im.snapshot, im.wants)
	return err
}

func (im *importer) add(ctx context.Context, tx *store.Tx, r importRow) error {
	i := r.Instrument
	if err := instrumentrows.InsertInstrument(ctx, tx, i); err != nil {
		return err
	}
	event, err := im.app.schools.Record(ctx, tx, im.by, eventrows.Event{What: eventrows.Imported, Instrument: &i.ID}, i)
	if err != nil {
		return err
	}
	im.report.Events = append(im.report.Events, event)
	if r.Habit != nil {
		// It is taken to have been played like this for as long as its care is known.
		from := i.CareFrom
		for _, d := range r.Last {
			from = min(from, d)
		}
		if err := instrumentrows.PutAssignments(ctx, tx, r.Habit.Assignment(uuid.Must(uuid.NewV7()), i.ID, from)); err != nil {
			return err
		}
	}
	kind, _ := im.app.schools.Catalog.Kind(i.Kind)
	return im.remember(ctx, tx, r, &school.Instrument{Instrument: i, Kind: kind})
}

// update notes what changes of an instrument that is here already; all of them are saved at the end.
func (im *importer) update(ctx context.Context, tx *store.Tx, r importRow) error {
	var has *school.Habit
	if r.old.Habit != nil {
		played := school.HabitOf(r.old.Habit)
		has = &played
	}
	same := lending.SameInstrument(r.old.Instrument, r.Instrument)
	if !same {
		im.changes = append(im.changes, inventory.Edited{Before: r.old.Instrument, After: r.Instrument})
	}
	im.wants = append(im.wants, lending.Wanted{Instrument: r.old, Habit: r.Habit})
	if same && lending.SameHabit(has, r.Habit) {
		im.report.Unchanged++
	} else {
		im.report.Changed++
	}
	return im.remember(ctx, tx, r, r.old)
}

// remember records the care that the file says was done, where it is news.
func (im *importer) remember(ctx context.Context, tx *store.Tx, r importRow, i *school.Instrument) error {
	for column, on := range r.Last {
		for _, key := range im.last[column] {
			if i.Care.Started[key] >= on {
				continue
			}
			if _, err := im.app.care.MarkDone(ctx, tx, im.by, i, key, on); err != nil {
				return err
			}
		}
	}
	return nil
}
