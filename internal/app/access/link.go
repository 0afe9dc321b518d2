package access

import (
	"context"
	"errors"
	"fmt"
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
	Until   time.Time `json:"until"`
	SentTo  string    `json:"sent_to" doc:"Where it was sent; empty where no mail is set up or the letter could not be handed over"`
	NotSent bool      `json:"not_sent" doc:"Mail is set up, but the letter could not be handed over"`
}

// LinkFor lets a person choose a new password by a link with that secret, once and for a day. Only they should get it.
func (r *Room) LinkFor(ctx context.Context, by journal.Person, person uuid.UUID, secret Secret) (PasswordLink, error) {
	if err := by.NeedInPerson(); err != nil {
		return PasswordLink{}, err
	}
	digest, err := journal.NewDigest(string(secret))
	if err != nil {
		return PasswordLink{}, err
	}
	if ctx, err = r.sealed(ctx, secret); err != nil {
		return PasswordLink{}, err
	}
	return school.Write(ctx, r.Schools, by, journal.MayChangeSettings, func(tx *store.Tx, s *school.Snapshot) (PasswordLink, error) {
		p, err := tx.GetPerson(ctx, person)
		if err != nil {
			return PasswordLink{}, err
		}
		until := r.Now().Add(linkLasts).UTC().Truncate(time.Second)
		if err := tx.PutPasswordLink(ctx, person, digest, until); err != nil {
			return PasswordLink{}, err
		}
		if _, err := r.Record(
			ctx, tx, by, store.Event{What: store.SettingsChanged}, map[string]any{"operation": "password-link", "for": person},
		); err != nil {
			return PasswordLink{}, err
		}
		return r.sendLink(ctx, by, s, p, secret, PasswordLink{Until: until}), nil
	})
}

// sendLink sends a link to its person where mail is set up. It is the last deed of the write, so that the answer that is kept says what
// came of it; a letter that cannot be handed over is no reason to take the link back, since it can be given by hand.
func (r *Room) sendLink(
	ctx context.Context, by journal.Person, s *school.Snapshot, p store.Person, secret Secret, link PasswordLink,
) PasswordLink {
	if r.Mail == nil {
		return link
	}
	text := fmt.Sprintf(`Hello %s,

%s lets you choose a new password for %s. Here, once, within a day:

%s/new-password#%s

If you did not ask for it, tell %s. Your old password holds until you choose another.
`, p.Name, by.Name, s.School.Name, r.Address, string(secret), by.Name)
	if err := r.Mail.Send(ctx, p.Email, "A new password for "+s.School.Name, text); err != nil {
		r.Log.Error("a link for a new password was not sent", "error", err)
		link.NotSent = true
		return link
	}
	link.SentTo = p.Email
	return link
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
		counted, err := r.countGuess(ctx, p.Email+" by link", "")
		if err != nil {
			return "", err
		}
		switch same, err := r.passwordMatches(ctx, p.Hash, password); {
		case err != nil:
			return "", err
		case !same:
			return "", noLonger
		}
		return p.Email, journal.InPlainWords(r.DB.ForgetSignIns(ctx, p.Email, counted))
	}
	if err := r.setPassword(ctx, p.Person, password, "password-by-link"); err != nil {
		return "", err
	}
	return p.Email, journal.InPlainWords(r.DB.ForgetSignIns(ctx, p.Email, p.Email))
}

// setPassword gives a person a password on nobody's behalf but their own; their link is used up, and their sessions
// and keys end.
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
		if err := endWaysIn(ctx, tx, p.ID, "", nil); err != nil {
			return err
		}
		by := journal.Person{School: who.School, ID: p.ID, Name: p.Name, Role: journal.Role(p.Role)}
		_, err = r.Record(ctx, tx, by, store.Event{What: store.SettingsChanged}, map[string]any{"operation": operation})
		return err
	}))
}
