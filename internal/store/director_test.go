package store_test

import (
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/store"
	"solfeggio/internal/store/peoplerows"
)

// The database itself leaves no school without a director: two who end each other's rights at once, past the program's own lock, leave one.
func TestASchoolAlwaysHasADirector(t *testing.T) {
	db, owner := both(t)
	exec := executing(t, owner)
	newSchool := func() uuid.UUID {
		id := uuid.New()
		exec(`INSERT INTO school (school_id, name, time_zone, locale, currency) VALUES ($1, 'Quillhaven', 'UTC', 'en-GB', 'EUR')`, id)
		return id
	}
	for range 10 {
		school, people := newSchool(), []uuid.UUID{uuid.New(), uuid.New()}
		for _, id := range people {
			exec(`INSERT INTO person (school_id, id, email, name, role, password_hash) VALUES ($1, $2, $3, 'Ines Corvane', 'director', '')`,
				school, id, id.String()+"@quillhaven.example")
		}
		errs := make([]error, 2)
		var begun, done sync.WaitGroup
		begun.Add(2)
		for n, id := range people {
			done.Go(func() {
				tx, err := owner.BeginTx(ctx, nil)
				if !assert.NoError(t, err) {
					begun.Done()
					return
				}
				defer tx.Rollback() //nolint:errcheck // after Commit there is nothing to roll back
				begun.Done()
				begun.Wait()
				if _, errs[n] = tx.ExecContext(ctx, `UPDATE person SET role = 'helper' WHERE school_id = $1 AND id = $2`, school, id); errs[n] == nil {
					errs[n] = tx.Commit()
				}
			})
		}
		done.Wait()
		var left int
		require.NoError(t, owner.QueryRowContext(ctx, `SELECT count(*) FROM person WHERE school_id = $1 AND role = 'director'`, school).Scan(&left))
		require.Equal(t, 1, left)
		if errs[0] == nil {
			errs[0] = errs[1]
		}
		require.ErrorContains(t, errs[0], "a school always has a director")
	}

	school := newSchool()
	ines := peoplerows.Person{ID: uuid.New(), Email: "ines@quillhaven.example", Name: "Ines Corvane", Role: "director", Hash: "x", Active: true}
	put := func(p peoplerows.Person) error {
		return db.Write(ctx, school, func(tx *store.Tx) error { return peoplerows.PutPerson(ctx, tx, p) })
	}
	require.NoError(t, put(ines))
	ines.Version, ines.Active = 1, false
	var broken *store.Violation
	require.ErrorAs(t, put(ines), &broken)
	assert.Equal(t, "always_a_director", broken.Constraint)
}
