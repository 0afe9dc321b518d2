package access

import (
	"context"
	"errors"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
)

// longestKey is how many days ahead a key may end.
const longestKey = 400

// ScriptKey lets a script sign in as a person, with no more rights than theirs.
type ScriptKey struct {
	ID         uuid.UUID    `json:"id"`
	Name       string       `json:"name"`
	Person     string       `json:"person" doc:"Whose it is"`
	Role       journal.Role `json:"role" enum:"director,assistant,helper,viewer" doc:"It may do what both this role and its person may"`
	MadeOn     day.Day      `json:"made_on"`
	EndsOn     day.Day      `json:"ends_on" doc:"Its last day"`
	LastUsedOn *day.Day     `json:"last_used_on,omitempty"`
}

// NewKey is a key to be made. Its secret is made by the client and shown there once.
type NewKey struct {
	ID     uuid.UUID    `json:"id" doc:"Made by the client"`
	Name   string       `json:"name" minLength:"1" maxLength:"80"`
	Role   journal.Role `json:"role" enum:"director,assistant,helper,viewer"`
	EndsOn day.Day      `json:"ends_on"`
	Secret Secret       `json:"secret" maxLength:"100" doc:"At least 32 characters of chance"`
}

// Keys lists one's own keys; a director sees all of the school.
func (r *Room) Keys(ctx context.Context, by journal.Person) ([]ScriptKey, error) {
	list := []ScriptKey{}
	err := r.Read(ctx, by, func(tx *store.Tx) error {
		people, err := tx.People(ctx)
		if err != nil {
			return err
		}
		names := map[uuid.UUID]string{}
		for _, p := range people {
			names[p.ID] = p.Name
		}
		keys, err := tx.AccessKeys(ctx)
		for _, k := range keys {
			if k.Person == by.ID || by.Role == journal.Director {
				list = append(list, ScriptKey{k.ID, k.Name, names[k.Person], journal.Role(k.Role), k.MadeOn, k.EndsOn, k.LastUsedOn})
			}
		}
		return err
	})
	return list, err
}

// AddKey makes a key for oneself.
func (r *Room) AddKey(ctx context.Context, by journal.Person, in NewKey) error {
	digest, err := journal.NewDigest(string(in.Secret))
	switch {
	case err != nil:
		return err
	case !in.Role.Known():
		return journal.Refuse("role", "is not a role", in.Role)
	case in.Role.Lesser(by.Role) != in.Role:
		return journal.Refuse("role", "may do more than you", in.Role)
	}
	if ctx, err = r.sealed(ctx, in.Secret); err != nil {
		return err
	}
	_, err = school.Write(ctx, r.Schools, by, journal.MayChangeOwnPassword, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		if in.EndsOn < s.Today || in.EndsOn > s.Today+longestKey {
			return struct{}{}, journal.Refuse("ends_on", "must lie between today and 400 days ahead", in.EndsOn)
		}
		err := tx.InsertAccessKey(ctx, store.AccessKey{
			ID: in.ID, Person: by.ID, Name: in.Name, Role: string(in.Role), Digest: digest, MadeOn: s.Today, EndsOn: in.EndsOn,
		})
		if err != nil {
			return struct{}{}, err
		}
		detail := map[string]any{"operation": "add-key", "name": in.Name, "role": in.Role, "ends_on": in.EndsOn}
		_, err = r.Record(ctx, tx, by, store.Event{What: store.SettingsChanged}, detail)
		return struct{}{}, err
	})
	return err
}

// EndKey ends one's own key, or as a director anybody's.
func (r *Room) EndKey(ctx context.Context, by journal.Person, id uuid.UUID) error {
	_, err := school.Write(ctx, r.Schools, by, journal.MayChangeOwnPassword, func(tx *store.Tx, _ *school.Snapshot) (struct{}, error) {
		keys, err := tx.AccessKeys(ctx)
		if err != nil {
			return struct{}{}, err
		}
		n := slices.IndexFunc(keys, func(k store.AccessKey) bool { return k.ID == id })
		if n < 0 || keys[n].Person != by.ID && by.Role != journal.Director {
			return struct{}{}, store.ErrNotFound
		}
		if err := tx.DeleteAccessKey(ctx, id); err != nil {
			return struct{}{}, err
		}
		_, err = r.Record(ctx, tx, by, store.Event{What: store.SettingsChanged}, map[string]any{"operation": "end-key", "name": keys[n].Name})
		return struct{}{}, err
	})
	return err
}

// ByKey finds who a key signs in, with the lesser of both roles, and how often their school was written to.
func (r *Room) ByKey(ctx context.Context, secret Secret) (who journal.Person, revision int64, err error) {
	digest, err := journal.NewDigest(string(secret))
	if err != nil {
		return who, 0, noKey
	}
	h, err := r.DB.KeyHolder(ctx, digest, r.Now())
	if errors.Is(err, store.ErrNotFound) {
		return who, 0, noKey
	}
	if err != nil {
		return who, 0, journal.InPlainWords(err)
	}
	return journal.Person{
		School: h.School, ID: h.Person, Name: h.Name, Role: journal.Role(h.KeyRole).Lesser(journal.Role(h.Role)),
	}, h.Revision, nil
}

var noKey = &journal.Fault{Kind: journal.Unauthorized, Message: "This key is not known, or it has ended."}
