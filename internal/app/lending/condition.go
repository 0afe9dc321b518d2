package lending

import (
	"context"
	"errors"
	"strings"
	"time"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/known"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
)

// ConditionAt is what was known of an instrument at a moment, since when and by whom. Its remark is that of now.
func (r *Room) ConditionAt(
	ctx context.Context, tx *store.Tx, s *school.Snapshot, i *school.Instrument, at time.Time,
) (c known.Condition, err error) {
	on := func(at time.Time) day.Day { return day.Of(at.In(s.Zone)) }
	look, err := checkrows.LookBefore(ctx, tx, i.ID, at)
	switch {
	case err == nil:
		c.Look = &known.Look{On: on(look.At), By: look.By}
	case !errors.Is(err, store.ErrNotFound):
		return c, err
	}
	// A check that was ticked off later than somebody walked is the last that is known.
	if ticked := i.Looked; !ticked.IsZero() && ticked <= on(at) && (c.Look == nil || c.Look.On < ticked) {
		c.Look = &known.Look{On: ticked, Ticked: true}
	}
	faults, err := checkrows.FaultsAt(ctx, tx, i.ID, at)
	for _, f := range faults {
		c.Faults = append(c.Faults, known.Fault{Name: r.inspection.FindingName(f.Code), Since: on(f.Since), By: f.By})
	}
	c.Remark = i.Notes
	return c, err
}

// knownAt tells it, a sentence a line.
func (r *Room) knownAt(ctx context.Context, tx *store.Tx, s *school.Snapshot, i *school.Instrument, at time.Time) (string, error) {
	c, err := r.ConditionAt(ctx, tx, s, i, at)
	return strings.Join(c.Sentences(), "\n"), err
}
