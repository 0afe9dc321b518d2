package store_test

import (
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/upkeeprows"
)

// A school that ticked strings off before there were lives has them after the migration: each ends where the next began, but for
// what was undone and for what renews nothing.
func TestTickedStringsBecomeLives(t *testing.T) {
	db, owner, migrations := before(t, 12)
	id, violin := uuid.New(), uuid.New()
	exec := executing(t, owner)
	exec(`INSERT INTO school (school_id, name, time_zone, locale, currency) VALUES ($1, 'Quillhaven', 'UTC', 'en-GB', 'EUR')`, id)
	exec(
		`INSERT INTO instrument (school_id, id, tag, kind, body, care_from) VALUES ($1, $2, 'VN-01', 'violin', 'varnish', '2026-01-01')`,
		id,
		violin,
	)
	ticked := func(routine, part string, on day.Day, undone bool) {
		event := uuid.Must(uuid.NewV7())
		exec(
			`INSERT INTO event (school_id, id, at, instrument_id, what) VALUES ($1, $2, $3, $4, 'care-done')`,
			id,
			event,
			time.Now(),
			violin,
		)
		exec(
			`INSERT INTO completion (school_id, event_id, instrument_id, routine, part, done_on, implied, undone)
				VALUES ($1, $2, $3, $4, $5, $6, false, $7)`,
			id,
			event,
			violin,
			routine,
			part,
			on.String(),
			undone,
		)
	}
	ticked("violin-strings", "string-e", today-300, false)
	ticked("violin-strings", "string-e", today-100, false)
	ticked("violin-strings", "string-e", today-50, true)
	ticked("violin-strings", "string-a", today-20, false)
	ticked("strings-dust", "", today-5, false)
	_, err := migrations.Up(ctx)
	require.NoError(t, err)

	var lives []upkeeprows.PartLife
	require.NoError(t, db.Read(ctx, id, func(tx *store.Tx) (err error) {
		lives, err = upkeeprows.Lives(ctx, tx)
		return err
	}))
	require.Len(t, lives, 3)
	assert.Equal(t, []any{"string-a", today - 20, (*day.Day)(nil)}, []any{lives[0].Part, lives[0].PutOn, lives[0].EndedOn})
	assert.Equal(t, []any{"string-e", today - 300, today - 100}, []any{lives[1].Part, lives[1].PutOn, *lives[1].EndedOn})
	assert.Nil(t, lives[2].EndedOn)
	assert.Equal(t, lives[2].BegunBy, *lives[1].EndedBy)
}
