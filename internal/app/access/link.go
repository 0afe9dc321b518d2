package access

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
)

// linkLasts is how long a link for a new password leads somewhere.
const linkLasts = 24 * time.Hour

// PasswordLink says until when a link leads somewhere.
type PasswordLink struct {
	Until time.Time `json:"until"`
}

// LinkFor lets a person choose a new password by a link with that secret, once and for a day. Only they should get it.
func (r *Room) LinkFor(ctx context.Context, by journal.Person, person uuid.UUID, secret Secret) (PasswordLink, error) {
	digest, err := journal.NewDigest(string(secret))
	if err != nil {
		return PasswordLink{}, err
	}
	if ctx, err = r.sealed(ctx, secret); err != nil {
		return PasswordLink{}, err
	}
	return school.Write(ctx, r.Schools, by, journal.MayChangeSettings, func(tx *store.Tx, _ *school.Snapshot) (PasswordLink, error) {
		if _, err := tx.GetPerson(ctx, person); err != nil {
			return PasswordLink{}, err
		}
		until := r.Now().Add(linkLasts).UTC().Truncate(time.Second)
		if err := tx.PutPasswordLink(ctx, person, digest, until); err != nil {
			return PasswordLink{}, err
		}
		_, err := r.Record(ctx, tx, by, store.Event{What: store.SettingsChanged}, map[string]any{"operation": "password-link", "for": person})
		return PasswordLink{until}, err
	})
}

// ByLink gives whoever has a link the password they chose, and signs them out everywhere. It returns their e-mail address.
func (r *Room) ByLink(ctx context.Context, secret, password Secret) (email string, err error) {
	noLonger := &journal.Fault{
		Kind: journal.NotFound, Message: "This link leads nowhere any more: it was used, or a day has passed. Ask for a new one.",
	}
	digest, err := journal.NewDigest(string(secret))
	if err != nil {
		return "", noLonger
	}
	p, err := r.DB.PasswordLinkHolder(ctx, digest, r.Now())
	if errors.Is(err, store.ErrNotFound) {
		return "", noLonger
	}
	if err != nil {
		return "", journal.InPlainWords(err)
	}
	if p.Used { // the same once more is somebody who got no answer
		switch same, err := r.passwordMatches(ctx, p.Hash, password); {
		case err != nil:
			return "", err
		case !same:
			return "", noLonger
		}
		return p.Email, nil
	}
	if err := r.setPassword(ctx, p.Person, password, "password-by-link"); err != nil {
		return "", err
	}
	return p.Email, journal.InPlainWords(r.DB.ForgetSignIns(ctx, p.Email))
}

// setPassword gives a person a password on nobody's behalf but their own; their link is used up and their sessions end.
func (r *Room) setPassword(ctx context.Context, who store.Person, password Secret, operation string) error {
	hash, err := r.newHash(ctx, password, r.schoolName(ctx, who.School), who.Name, who.Email)
	if err != nil {
		return err
	}
	return journal.InPlainWords(r.DB.Write(ctx, who.School, func(tx *store.Tx) error {
		p, err := tx.GetPerson(ctx, who.ID)
		if err != nil {
			return err
		}
		p.Hash = hash
		if err := tx.PutPerson(ctx, p); err != nil {
			return err
		}
		if err := tx.UsePasswordLink(ctx, p.ID); err != nil {
			return err
		}
		if err := tx.EndSessions(ctx, p.ID, ""); err != nil {
			return err
		}
		by := journal.Person{School: who.School, ID: p.ID, Name: p.Name, Role: journal.Role(p.Role)}
		_, err = r.Record(ctx, tx, by, store.Event{What: store.SettingsChanged}, map[string]any{"operation": operation})
		return err
	}))
}
