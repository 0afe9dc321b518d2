package access

import (
	"context"
	"errors"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/peoplerows"
)

// Whoever has the server's command line may do the following without signing in; they could read the database anyway.

// ErrNobody says that nobody signs in with an e-mail address.
var ErrNobody = errors.New("nobody signs in with this e-mail address")

// Staff lists the people of the school to which the person with that e-mail address belongs.
func (r *Room) Staff(ctx context.Context, email string) (people []peoplerows.Person, err error) {
	p, err := r.called(ctx, email)
	if err != nil {
		return nil, err
	}
	err = r.schools.DB.Read(ctx, p.School, func(tx *store.Tx) (err error) {
		people, err = peoplerows.People(ctx, tx)
		return err
	})
	return people, err
}

// Appoint adds somebody to the school of the person with the e-mail address beside.
func (r *Room) Appoint(ctx context.Context, beside string, c Colleague, password Secret) error {
	p, err := r.called(ctx, beside)
	if err != nil {
		return err
	}
	c.ID, c.Active = uuid.Must(uuid.NewV7()), true
	c, hash, err := r.checked(ctx, p.School, c, password)
	if err != nil {
		return err
	}
	return journal.InPlainWords(r.schools.DB.Write(ctx, p.School, func(tx *store.Tx) error {
		if err := putColleague(ctx, tx, c, hash); err != nil {
			return err
		}
		by := journal.Person{School: p.School, ID: p.ID, Name: p.Name, Role: journal.Director}
		_, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": "appoint", "value": c})
		return err
	}))
}

// SetPassword gives the person with that e-mail address a new password and signs them out everywhere.
func (r *Room) SetPassword(ctx context.Context, email string, password Secret) error {
	p, err := r.called(ctx, email)
	if err != nil {
		return err
	}
	return r.setPassword(ctx, p, password, "password-by-command")
}

func (r *Room) called(ctx context.Context, email string) (peoplerows.Person, error) {
	p, err := r.schools.DB.SignInCandidate(ctx, email)
	if errors.Is(err, store.ErrNotFound) {
		return p, ErrNobody
	}
	return p, err
}
