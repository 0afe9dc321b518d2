package school

import (
	"context"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/store"
)

// Write is journal.Write, and hands the use case the school as it stands there.
func Write[Out any](
	ctx context.Context,
	all *Schools,
	by journal.Person,
	need journal.Right,
	f func(tx *store.Tx, s *Snapshot) (Out, error),
) (Out, error) {
	return journal.Write(ctx, all.Journal, by, need, withSchool(ctx, all, f))
}

// WriteBeside is Write for what no snapshot holds (journal.Beside).
func WriteBeside[Out any](
	ctx context.Context,
	all *Schools,
	by journal.Person,
	need journal.Right,
	f func(tx *store.Tx, s *Snapshot) (Out, error),
) (Out, error) {
	return journal.Write(ctx, all.Beside(), by, need, withSchool(ctx, all, f))
}

// WritePrepared is journal.WritePrepared, and hands the use case the school as it stands there.
func WritePrepared[Out any](
	ctx context.Context,
	all *Schools,
	by journal.Person,
	need journal.Right,
	prepare func() error,
	f func(tx *store.Tx, s *Snapshot) (Out, error),
) (Out, error) {
	return journal.WritePrepared(ctx, all.Journal, by, need, prepare, withSchool(ctx, all, f))
}

func withSchool[Out any](
	ctx context.Context,
	all *Schools,
	f func(tx *store.Tx, s *Snapshot) (Out, error),
) func(tx *store.Tx) (Out, error) {
	return func(tx *store.Tx) (out Out, err error) {
		s, err := all.current(ctx, tx)
		if err != nil {
			return out, err
		}
		return f(tx, s)
	}
}
