package access

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/peoplerows"
	"solfeggio/internal/store/schoolrows"
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
	var to peoplerows.Person
	var at string
	link, err := journal.Write(ctx, r.schools.Beside(), by, journal.MayChangeSettings,
		func(tx *store.Tx) (link PasswordLink, err error) {
			of, err := schoolrows.GetSchool(ctx, tx)
			if err != nil {
				return link, err
			}
			if to, err = peoplerows.GetPerson(ctx, tx, person); err != nil {
				return link, err
			}
			// Until the mail server has taken the letter, it was not sent.
			at, link = of.Name, PasswordLink{Until: r.schools.Now().Add(linkLasts).UTC().Truncate(time.Second), NotSent: r.Mail != nil}
			if err := peoplerows.PutPasswordLink(ctx, tx, person, digest, link.Until); err != nil {
				return link, err
			}
			_, err = r.schools.Record(
				ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": "password-link", "for": person})
			return link, err
		})
	if err != nil || at == "" || r.Mail == nil { // at is empty where it was answered before
		return link, err
	}
	if err := r.sendLink(ctx, by, at, to, secret); err != nil {
		r.schools.Log.Error("a link for a new password was not sent", "error", err)
		return link, nil // it can be given by hand
	}
	link.SentTo, link.NotSent = to.Email, false
	if err := journal.Amend(ctx, r.schools.Journal, by, link); err != nil {
		r.schools.Log.Error("that a link was sent is not noted", "error", err)
	}
	return link, nil
}

// sendLink sends a link to its person.
func (r *Room) sendLink(ctx context.Context, by journal.Person, at string, p peoplerows.Person, secret Secret) error {
	text := fmt.Sprintf(`Hello %s,

%s lets you choose a new password for %s. Here, once, within a day:

%s/new-password#%s

If you did not ask for it, tell %s. Your old password holds until you choose another.
`, p.Name, by.Name, at, r.schools.Address, string(secret), by.Name)
	return r.Mail.Send(ctx, p.Email, "A new password for "+at, text)
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
	p, err := r.schools.DB.PasswordLinkHolder(ctx, digest, r.schools.Now())
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
		return p.Email, journal.InPlainWords(r.schools.DB.ForgetSignIns(ctx, p.Email, counted))
	}
	if err := r.setPassword(ctx, p.Person, password, "password-by-link"); err != nil {
		return "", err
	}
	return p.Email, journal.InPlainWords(r.schools.DB.ForgetSignIns(ctx, p.Email, p.Email))
}

// setPassword gives a person a password on nobody's behalf but their own; their link is used up, and their sessions
// and keys end.
func (r *Room) setPassword(ctx context.Context, who peoplerows.Person, password Secret, operation string) error {
	hash, err := r.newHash(ctx, password, r.schoolName(ctx, who.School), who.Name, who.Email)
	if err != nil {
		return err
	}
	return journal.InPlainWords(r.schools.DB.WriteBeside(ctx, who.School, func(tx *store.Tx) error {
		p, err := peoplerows.GetPerson(ctx, tx, who.ID)
		if err != nil {
			return err
		}
		p.Hash = hash
		if err := peoplerows.PutPerson(ctx, tx, p); err != nil {
			return err
		}
		if err := peoplerows.UsePasswordLink(ctx, tx, p.ID); err != nil {
			return err
		}
		if err := endWaysIn(ctx, tx, p.ID, "", nil); err != nil {
			return err
		}
		by := journal.Person{School: who.School, ID: p.ID, Name: p.Name, Role: journal.Role(p.Role)}
		_, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": operation})
		return err
	}))
}
