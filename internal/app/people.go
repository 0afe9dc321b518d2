package app

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/store"
)

// Colleague is someone who signs in, as the director sees them.
type Colleague struct {
	ID      uuid.UUID `json:"id"`
	Name    string    `json:"name" minLength:"1" maxLength:"80"`
	Email   string    `json:"email" minLength:"3" maxLength:"200"`
	Role    Role      `json:"role" enum:"director,assistant,helper,viewer"`
	Active  bool      `json:"active" doc:"Whether they may sign in"`
	Version int       `json:"version" doc:"0 for a new one; else the version that was read"`
}

// People lists who signs in.
func (a *App) People(ctx context.Context, by Person) ([]Colleague, error) {
	if err := by.need(MayChangeSettings); err != nil {
		return nil, err
	}
	list := []Colleague{}
	err := a.read(ctx, by, func(tx *store.Tx) error {
		people, err := tx.People(ctx)
		for _, p := range people {
			list = append(list, Colleague{p.ID, p.Name, p.Email, Role(p.Role), p.Active, p.Version})
		}
		return err
	})
	return list, err
}

// SaveColleague adds or changes somebody. The password is needed for a new one; for others an empty one leaves theirs as
// it is. Nobody takes their own rights away, so that a school is never left without a director.
func (a *App) SaveColleague(ctx context.Context, by Person, c Colleague, password string) error {
	c.Email, c.Name = strings.TrimSpace(c.Email), strings.TrimSpace(c.Name)
	at := strings.Index(c.Email, "@")
	switch {
	case at < 1 || at == len(c.Email)-1:
		return invalid("email", "is not an e-mail address", c.Email)
	case rights[c.Role] == nil && c.Role != Viewer:
		return invalid("role", "is not a role", c.Role)
	case c.ID == by.ID && (c.Role != by.Role || !c.Active):
		return invalid("role", "is your own; ask another director to change it", nil)
	}
	hash := ""
	if password != "" || c.Version == 0 {
		var err error
		if hash, err = newHash(password); err != nil {
			return err
		}
	}
	// The password is no part of what is recorded.
	return a.change(ctx, by, "save-person", c, func(tx *store.Tx) error {
		return tx.PutPerson(ctx, store.Person{ID: c.ID, Email: c.Email, Name: c.Name, Role: string(c.Role), Hash: hash, Active: c.Active, Version: c.Version})
	})
}

// ChangePassword gives the person a new password, if they know the old one.
func (a *App) ChangePassword(ctx context.Context, by Person, old, password string) error {
	hash, err := newHash(password)
	if err != nil {
		return err
	}
	return inPlainWords(a.db.Write(ctx, by.School, func(tx *store.Tx) error {
		p, err := tx.GetPerson(ctx, by.ID)
		if err != nil {
			return err
		}
		if !passwordMatches(p.Hash, old) {
			return invalid("old", "is not your password", nil)
		}
		p.Hash = hash
		if err := tx.PutPerson(ctx, p); err != nil {
			return fmt.Errorf("changing a password: %w", err)
		}
		_, err = a.record(ctx, tx, by, store.Event{What: store.SettingsChanged}, map[string]any{"operation": "change-password"})
		return err
	}))
}
