package school

import (
	"context"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
)

// Removed is what the log keeps of a setting that was taken away.
type Removed struct {
	ID      uuid.UUID `json:"id"`
	Version int       `json:"version"`
}

// ChangeSettings runs one change of the settings and records it.
func (all *Schools) ChangeSettings(ctx context.Context, by journal.Person, operation string, in any, f func(tx *store.Tx, s *Snapshot) error) error {
	_, err := Write(ctx, all, by, journal.MayChangeSettings, func(tx *store.Tx, s *Snapshot) (struct{}, error) {
		if err := f(tx, s); err != nil {
			return struct{}{}, err
		}
		_, err := all.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": operation, "to": in})
		return struct{}{}, err
	})
	return err
}
