package access

import (
	"context"
	"fmt"
	"net/mail"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/peoplerows"
)

// Colleague is someone who signs in, as the director sees them.
type Colleague struct {
	ID      uuid.UUID    `json:"id"`
	Name    string       `json:"name" minLength:"1" maxLength:"80"`
	Email   string       `json:"email" minLength:"3" maxLength:"200"`
	Role    journal.Role `json:"role" enum:"director,assistant,helper,viewer"`
	Active  bool         `json:"active" doc:"Whether they may sign in"`
	Tries   int          `json:"tries,omitempty" doc:"Wrong tries at the password within the last quarter of an hour"`
	Factor  bool         `json:"second_factor,omitempty" doc:"They have a second factor"`
	Version int          `json:"version" doc:"0 for a new one; else the version that was read"`
}

// People lists who signs in.
func (r *Room) People(ctx context.Context, by journal.Person) ([]Colleague, error) {
	if err := by.Need(journal.MayChangeSettings); err != nil {
		return nil, err
	}
	list := []Colleague{}
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		people, err := peoplerows.People(ctx, tx)
		if err != nil {
			return err
		}
		factors, err := peoplerows.HasSecondFactor(ctx, tx)
		if err != nil {
			return err
		}
		tries, err := peoplerows.Guesses(ctx, tx, r.schools.Now().Add(-attemptWindow))
		for _, p := range people {
			list = append(list, Colleague{p.ID, p.Name, p.Email, journal.Role(p.Role), p.Active, tries[p.Email], slices.Contains(factors, p.ID), p.Version})
		}
		return err
	})
	return list, err
}

// SaveColleague adds or changes somebody. The password is needed for a new one; for others an empty one leaves theirs as
// it is. Nobody takes their own rights away, so that a school is never left without a director.
func (r *Room) SaveColleague(ctx context.Context, by journal.Person, c Colleague, password Secret) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	c, hash, err := r.checked(ctx, by.School, c, password)
	switch {
	case err != nil:
		return err
	case c.ID == by.ID && (c.Role != by.Role || !c.Active):
		return journal.Refuse("role", "is your own; ask another director to change it", nil)
	case c.ID == by.ID && password != "":
		return journal.Refuse("password", "is your own; change it where the present one is asked for", nil)
	}
	if ctx, err = r.sealed(ctx, password); err != nil {
		return err
	}
	return r.schools.ChangeSettings(ctx, by, "save-person", c, func(tx *store.Tx, _ *school.Snapshot) error { return putColleague(ctx, tx, c, hash) })
}

// checked is a colleague as they will be kept, and the hash of their password; empty where it stays as it is.
func (r *Room) checked(ctx context.Context, school uuid.UUID, c Colleague, password Secret) (_ Colleague, hash string, err error) {
	c.Email, c.Name = strings.TrimSpace(c.Email), strings.TrimSpace(c.Name)
	address, wrong := mail.ParseAddress(c.Email)
	switch {
	case wrong != nil || address.Address != c.Email:
		return c, "", journal.Refuse("email", "is not an e-mail address", c.Email)
	case !c.Role.Known():
		return c, "", journal.Refuse("role", "is not a role", c.Role)
	}
	if password != "" || c.Version == 0 {
		hash, err = r.newHash(ctx, password, r.schoolName(ctx, school), c.Name, c.Email)
	}
	return c, hash, err
}

// putColleague keeps a colleague. Whoever gets a password from somebody else or is switched off is out everywhere, and no key of theirs
// lives again when they are switched on; who may do less from now on loses the keys that may more.
func putColleague(ctx context.Context, tx *store.Tx, c Colleague, hash string) error {
	if hash != "" || !c.Active {
		if err := endWaysIn(ctx, tx, c.ID, "", nil); err != nil {
			return err
		}
		if err := peoplerows.EndPasswordLink(ctx, tx, c.ID); err != nil {
			return err
		}
	}
	err := endKeys(ctx, tx, func(k peoplerows.AccessKey) bool {
		return k.Person == c.ID && c.Role.Lesser(journal.Role(k.Role)) != journal.Role(k.Role)
	})
	if err != nil {
		return err
	}
	return peoplerows.PutPerson(
		ctx, tx,
		peoplerows.Person{ID: c.ID, Email: c.Email, Name: c.Name, Role: string(c.Role), Hash: hash, Active: c.Active, Version: c.Version},
	)
}

// endWaysIn ends a person's sessions but that one, their keys and passkeys but those, and what is remembered of their devices.
func endWaysIn(ctx context.Context, tx *store.Tx, person uuid.UUID, session string, keys []uuid.UUID) error {
	if err := peoplerows.EndSessions(ctx, tx, person, session); err != nil {
		return err
	}
	if err := peoplerows.ForgetDevices(ctx, tx, person); err != nil {
		return err
	}
	if err := endPasskeys(ctx, tx, person, keys); err != nil {
		return err
	}
	return endKeys(ctx, tx, func(k peoplerows.AccessKey) bool { return k.Person == person && !slices.Contains(keys, k.ID) })
}

// known finds a person who is signed in and asked for their own password once more; field is what the input calls it. Guesses count by
// the account alone, apart from those at the door: others neither use them up nor clear them.
func (r *Room) known(ctx context.Context, by journal.Person, field string, password Secret) (p peoplerows.Person, err error) {
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		p, err = peoplerows.GetPerson(ctx, tx, by.ID)
		return err
	}); err != nil {
		return p, err
	}
	counted, err := r.countGuess(ctx, p.Email+" signed in", "")
	if err != nil {
		return p, err
	}
	switch same, err := r.passwordMatches(ctx, p.Hash, password); {
	case err != nil:
		return p, err
	case !same:
		return p, journal.Refuse(field, "is not your password", nil)
	}
	return p, r.schools.DB.ForgetSignIns(ctx, counted, counted)
}

// inPerson writes what f does for somebody who has given their own password once more, and records what f tells of it.
func (r *Room) inPerson(
	ctx context.Context, by journal.Person, password Secret, f func(tx *store.Tx, today day.Day) (map[string]any, error),
) error {
	var was string
	prepare := func() error {
		known, err := r.known(ctx, by, "password", password)
		was = known.Hash
		return err
	}
	_, err := journal.WritePrepared(ctx, r.schools.Beside(), by, journal.MayChangeOwnPassword, prepare,
		func(tx *store.Tx) (struct{}, error) {
			switch p, err := peoplerows.GetPerson(ctx, tx, by.ID); {
			case err != nil:
				return struct{}{}, err
			case p.Hash != was:
				return struct{}{}, journal.ErrOvertaken
			}
			today, err := r.schools.TodayIn(ctx, tx)
			if err != nil {
				return struct{}{}, err
			}
			detail, err := f(tx, today)
			if err != nil {
				return struct{}{}, err
			}
			_, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, detail)
			return struct{}{}, err
		})
	return err
}

// ChangePassword gives the person a new password, if they know the old one. It ends their other sessions, a link for a new password and
// their keys; those of keep stay.
func (r *Room) ChangePassword(ctx context.Context, by journal.Person, old, password Secret, keep []uuid.UUID) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	ctx, err := r.sealed(ctx, old, password)
	if err != nil {
		return err
	}
	var hash, was string
	prepare := func() error {
		known, err := r.known(ctx, by, "old", old)
		if err != nil {
			return err
		}
		was = known.Hash
		hash, err = r.newHash(ctx, password, r.schoolName(ctx, by.School), by.Name, known.Email)
		return err
	}
	_, err = journal.WritePrepared(
		ctx,
		r.schools.Beside(),
		by,
		journal.MayChangeOwnPassword,
		prepare,
		func(tx *store.Tx) (struct{}, error) {
			p, err := peoplerows.GetPerson(ctx, tx, by.ID)
			switch {
			case err != nil:
				return struct{}{}, err
			case p.Hash != was:
				return struct{}{}, journal.ErrOvertaken
			}
			p.Hash = hash
			if err := peoplerows.PutPerson(ctx, tx, p); err != nil {
				return struct{}{}, fmt.Errorf("changing a password: %w", err)
			}
			if err := endWaysIn(ctx, tx, by.ID, by.Session, keep); err != nil {
				return struct{}{}, err
			}
			if err := peoplerows.EndPasswordLink(ctx, tx, by.ID); err != nil {
				return struct{}{}, err
			}
			_, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": "change-password"})
			return struct{}{}, err
		},
	)
	return err
}
