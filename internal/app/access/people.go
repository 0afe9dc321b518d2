package access

import (
	"context"
	"fmt"
	"net/mail"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
)

// Colleague is someone who signs in, as the director sees them.
type Colleague struct {
	ID      uuid.UUID    `json:"id"`
	Name    string       `json:"name" minLength:"1" maxLength:"80"`
	Email   string       `json:"email" minLength:"3" maxLength:"200"`
	Role    journal.Role `json:"role" enum:"director,assistant,helper,viewer"`
	Active  bool         `json:"active" doc:"Whether they may sign in"`
	Tries   int          `json:"tries,omitempty" doc:"Wrong tries at the password within the last quarter of an hour"`
	Version int          `json:"version" doc:"0 for a new one; else the version that was read"`
}

// People lists who signs in.
func (r *Room) People(ctx context.Context, by journal.Person) ([]Colleague, error) {
	if err := by.Need(journal.MayChangeSettings); err != nil {
		return nil, err
	}
	list := []Colleague{}
	err := r.Read(ctx, by, func(tx *store.Tx) error {
		people, err := tx.People(ctx)
		if err != nil {
			return err
		}
		tries, err := tx.Guesses(ctx, r.Now().Add(-attemptWindow))
		for _, p := range people {
			list = append(list, Colleague{p.ID, p.Name, p.Email, journal.Role(p.Role), p.Active, tries[p.Email], p.Version})
		}
		return err
	})
	return list, err
}

// SaveColleague adds or changes somebody. The password is needed for a new one; for others an empty one leaves theirs as
// it is. Nobody takes their own rights away, so that a school is never left without a director.
func (r *Room) SaveColleague(ctx context.Context, by journal.Person, c Colleague, password Secret) error {
	c.Email, c.Name = strings.TrimSpace(c.Email), strings.TrimSpace(c.Name)
	address, wrong := mail.ParseAddress(c.Email)
	switch {
	case wrong != nil || address.Address != c.Email:
		return journal.Refuse("email", "is not an e-mail address", c.Email)
	case !c.Role.Known():
		return journal.Refuse("role", "is not a role", c.Role)
	case c.ID == by.ID && (c.Role != by.Role || !c.Active):
		return journal.Refuse("role", "is your own; ask another director to change it", nil)
	}
	ctx, err := r.sealed(ctx, password)
	if err != nil {
		return err
	}
	hash := ""
	if password != "" || c.Version == 0 {
		if hash, err = r.newHash(ctx, password, r.schoolName(ctx, by.School), c.Name, c.Email); err != nil {
			return err
		}
	}
	return r.ChangeSettings(ctx, by, "save-person", c, func(tx *store.Tx) error {
		if hash != "" || !c.Active {
			if err := tx.EndSessions(ctx, c.ID, sessionOf(ctx)); err != nil {
				return err
			}
		}
		return tx.PutPerson(
			ctx,
			store.Person{ID: c.ID, Email: c.Email, Name: c.Name, Role: string(c.Role), Hash: hash, Active: c.Active, Version: c.Version},
		)
	})
}

// ChangePassword gives the person a new password, if they know the old one, and ends their other sessions. Guesses of the old one count
// as sign-ins do.
func (r *Room) ChangePassword(ctx context.Context, by journal.Person, old, password Secret) error {
	ctx, err := r.sealed(ctx, old, password)
	if err != nil {
		return err
	}
	var hash, was string
	prepare := func() error {
		var email string
		if err := r.Read(ctx, by, func(tx *store.Tx) error {
			p, err := tx.GetPerson(ctx, by.ID)
			was, email = p.Hash, p.Email
			return err
		}); err != nil {
			return err
		}
		if err := r.countGuess(ctx, email, "signed in"); err != nil {
			return err
		}
		same, err := r.passwordMatches(ctx, was, old)
		if err != nil {
			return err
		}
		if !same {
			return journal.Refuse("old", "is not your password", nil)
		}
		if err := r.DB.ForgetSignIns(ctx, email); err != nil {
			return err
		}
		hash, err = r.newHash(ctx, password, r.schoolName(ctx, by.School), by.Name, email)
		return err
	}
	_, err = school.WritePrepared(
		ctx,
		r.Schools,
		by,
		journal.MayChangeOwnPassword,
		prepare,
		func(tx *store.Tx, _ *school.Snapshot) (struct{}, error) {
			p, err := tx.GetPerson(ctx, by.ID)
			switch {
			case err != nil:
				return struct{}{}, err
			case p.Hash != was:
				return struct{}{}, journal.ErrOvertaken
			}
			p.Hash = hash
			if err := tx.PutPerson(ctx, p); err != nil {
				return struct{}{}, fmt.Errorf("changing a password: %w", err)
			}
			if err := tx.EndSessions(ctx, by.ID, sessionOf(ctx)); err != nil {
				return struct{}{}, err
			}
			_, err = r.Record(ctx, tx, by, store.Event{What: store.SettingsChanged}, map[string]any{"operation": "change-password"})
			return struct{}{}, err
		},
	)
	return err
}
