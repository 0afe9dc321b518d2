package access

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"strings"
	"time"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/peoplerows"
	"solfeggio/internal/store/schoolrows"
)

// letterTime is for how long a mail server is waited for, behind.
const letterTime = time.Minute

// Forgotten sends who has forgotten their password a link by which they choose another; false where no mail is set up. Whether anybody has
// that address nobody learns, neither from the answer nor from how long it takes: the letter goes behind. Asking is counted like a try at a
// password.
func (r *Room) Forgotten(ctx context.Context, email, origin string) (mail bool, err error) {
	if r.Mail == nil {
		return false, nil
	}
	email = strings.TrimSpace(email)
	if _, err := r.countGuess(ctx, email+" forgotten", origin); err != nil {
		return true, err
	}
	p, err := r.schools.DB.SignInCandidate(ctx, email)
	if errors.Is(err, store.ErrNotFound) {
		return true, nil
	}
	if err != nil {
		return true, journal.InPlainWords(err)
	}
	secret, at := rand.Text()+rand.Text(), ""
	until := r.schools.Now().Add(linkLasts).UTC().Truncate(time.Second)
	err = r.schools.DB.WriteBeside(ctx, p.School, func(tx *store.Tx) error {
		of, err := schoolrows.GetSchool(ctx, tx)
		if err != nil {
			return err
		}
		at = of.Name
		if err := peoplerows.PutPasswordLink(ctx, tx, p.ID, journal.Digest(secret), until); err != nil {
			return err
		}
		by := journal.Person{School: p.School, ID: p.ID, Name: p.Name, Role: journal.Role(p.Role)}
		_, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": "password-forgotten"})
		return err
	})
	if err != nil {
		return true, journal.InPlainWords(err)
	}
	go func() {
		ctx, cancel := context.WithTimeout(context.Background(), letterTime)
		defer cancel()
		text := fmt.Sprintf(`Hello %s,

somebody, most likely you, has forgotten the password for %s. Choose another here, once, within a day:

%s/new-password#%s

If it was not you, do nothing: the password that you have holds.
`, p.Name, at, r.schools.Address, secret)
		if err := r.Mail.Send(ctx, email, "A new password for "+at, text); err != nil {
			r.schools.Log.Error("a link for a forgotten password was not sent", "error", err)
		}
	}()
	return true, nil
}
