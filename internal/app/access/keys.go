package access

import (
	"context"
	"errors"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/peoplerows"
)

// longestKey is how many days ahead a key may end: a year. Then it is renewed by its person or nobody misses it.
const longestKey = 366

// ScriptKey lets a script sign in as a person, with no more rights than theirs.
type ScriptKey struct {
	ID           uuid.UUID    `json:"id"`
	Name         string       `json:"name"`
	Person       string       `json:"person" doc:"Whose it is"`
	Own          bool         `json:"own" doc:"It is of whoever asks"`
	Role         journal.Role `json:"role" enum:"director,assistant,helper,viewer" doc:"It may do what both this role and its person may"`
	MadeOn       day.Day      `json:"made_on"`
	EndsOn       day.Day      `json:"ends_on" doc:"Its last day"`
	LastUsedOn   *day.Day     `json:"last_used_on,omitempty"`
	LastUsedFrom string       `json:"last_used_from,omitempty" doc:"The address from which it came then"`
}

// NewKey is a key to be made. Its secret is made by the client and shown there once.
type NewKey struct {
	ID       uuid.UUID    `json:"id" doc:"Made by the client"`
	Name     string       `json:"name" minLength:"1" maxLength:"80"`
	Role     journal.Role `json:"role" enum:"director,assistant,helper,viewer"`
	EndsOn   day.Day      `json:"ends_on" doc:"Its last day, at most 366 days ahead"`
	Secret   Secret       `json:"secret" maxLength:"100" doc:"At least 32 characters of chance"`
	Password Secret       `json:"password" maxLength:"200" doc:"One's own, once more"`
}

// Renewal lets a key end later, or sooner.
type Renewal struct {
	EndsOn   day.Day `json:"ends_on" doc:"Its last day, at most 366 days ahead"`
	Password Secret  `json:"password" maxLength:"200" doc:"One's own, once more"`
}

// Keys lists one's own keys; a director sees all of the school.
func (r *Room) Keys(ctx context.Context, by journal.Person) ([]ScriptKey, error) {
	list := []ScriptKey{}
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		people, err := peoplerows.People(ctx, tx)
		if err != nil {
			return err
		}
		names := map[uuid.UUID]string{}
		for _, p := range people {
			names[p.ID] = p.Name
		}
		keys, err := peoplerows.AccessKeys(ctx, tx)
		for _, k := range keys {
			if k.Person == by.ID || by.Role == journal.Director {
				list = append(list, ScriptKey{
					ID: k.ID, Name: k.Name, Person: names[k.Person], Own: k.Person == by.ID, Role: journal.Role(k.Role),
					MadeOn: k.MadeOn, EndsOn: k.EndsOn, LastUsedOn: k.LastUsedOn, LastUsedFrom: k.LastUsedFrom,
				})
			}
		}
		return err
	})
	return list, err
}

// AddKey makes a key for oneself.
func (r *Room) AddKey(ctx context.Context, by journal.Person, in NewKey) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	digest, err := journal.NewDigest(string(in.Secret))
	switch {
	case err != nil:
		return err
	case !in.Role.Known():
		return journal.Refuse("role", "is not a role", in.Role)
	case in.Role.Lesser(by.Role) != in.Role:
		return journal.Refuse("role", "may do more than you", in.Role)
	}
	if ctx, err = r.sealed(ctx, in.Secret, in.Password); err != nil {
		return err
	}
	return r.changeKeys(ctx, by, in.Password, in.EndsOn, func(tx *store.Tx, today day.Day) (map[string]any, error) {
		detail := map[string]any{"operation": "add-key", "name": in.Name, "role": in.Role, "ends_on": in.EndsOn}
		return detail, peoplerows.InsertAccessKey(ctx, tx, peoplerows.AccessKey{
			ID: in.ID, Person: by.ID, Name: in.Name, Role: string(in.Role), Digest: digest, MadeOn: today, EndsOn: in.EndsOn,
		})
	})
}

// RenewKey lets one's own key that has not ended yet end on another day.
func (r *Room) RenewKey(ctx context.Context, by journal.Person, id uuid.UUID, in Renewal) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	ctx, err := r.sealed(ctx, in.Password)
	if err != nil {
		return err
	}
	return r.changeKeys(ctx, by, in.Password, in.EndsOn, func(tx *store.Tx, today day.Day) (map[string]any, error) {
		keys, err := peoplerows.AccessKeys(ctx, tx)
		if err != nil {
			return nil, err
		}
		n := slices.IndexFunc(keys, func(k peoplerows.AccessKey) bool { return k.ID == id && k.Person == by.ID && k.EndsOn >= today })
		if n < 0 {
			return nil, store.ErrNotFound
		}
		return map[string]any{"operation": "renew-key", "name": keys[n].Name, "ends_on": in.EndsOn}, peoplerows.RenewAccessKey(ctx, tx, id, in.EndsOn)
	})
}

// changeKeys writes what f does to one's own keys, which end on a day, for who knows their password, and records what f tells of it.
func (r *Room) changeKeys(
	ctx context.Context, by journal.Person, password Secret, endsOn day.Day, f func(*store.Tx, day.Day) (map[string]any, error),
) error {
	return r.inPerson(ctx, by, password, func(tx *store.Tx, today day.Day) (map[string]any, error) {
		if endsOn < today || endsOn > today+longestKey {
			return nil, journal.Refuse("ends_on", "must lie between today and a year ahead", endsOn)
		}
		return f(tx, today)
	})
}

// endKeys ends the keys of the school for which end is true.
func endKeys(ctx context.Context, tx *store.Tx, end func(peoplerows.AccessKey) bool) error {
	keys, err := peoplerows.AccessKeys(ctx, tx)
	if err != nil {
		return err
	}
	for _, k := range keys {
		if end(k) {
			if err := peoplerows.DeleteAccessKey(ctx, tx, k.ID); err != nil {
				return err
			}
		}
	}
	return nil
}

// EndKey ends one's own key, or as a director anybody's.
func (r *Room) EndKey(ctx context.Context, by journal.Person, id uuid.UUID) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	_, err := journal.Write(ctx, r.schools.Beside(), by, journal.MayChangeOwnPassword, func(tx *store.Tx) (struct{}, error) {
		keys, err := peoplerows.AccessKeys(ctx, tx)
		if err != nil {
			return struct{}{}, err
		}
		n := slices.IndexFunc(keys, func(k peoplerows.AccessKey) bool { return k.ID == id })
		if n < 0 || keys[n].Person != by.ID && by.Role != journal.Director {
			return struct{}{}, store.ErrNotFound
		}
		if err := peoplerows.DeleteAccessKey(ctx, tx, id); err != nil {
			return struct{}{}, err
		}
		_, err = r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.SettingsChanged}, map[string]any{"operation": "end-key", "name": keys[n].Name})
		return struct{}{}, err
	})
	return err
}

// ByKey finds who a key signs in, with the lesser of both roles, and how often their school was written to. It notes from which address
// the key came.
func (r *Room) ByKey(ctx context.Context, secret Secret, origin string) (who journal.Person, revision int64, err error) {
	digest, err := journal.NewDigest(string(secret))
	if err != nil {
		return who, 0, noKey
	}
	h, err := r.schools.DB.KeyHolder(ctx, digest, r.schools.Now(), origin)
	if errors.Is(err, store.ErrNotFound) {
		return who, 0, noKey
	}
	if err != nil {
		return who, 0, journal.InPlainWords(err)
	}
	return journal.Person{
		School: h.School, ID: h.Person, Name: h.Name, Role: journal.Role(h.KeyRole).Lesser(journal.Role(h.Role)),
		Key: h.Key,
	}, h.Revision, nil
}

var noKey = &journal.Fault{Kind: journal.Unauthorized, Message: "This key is not known, or it has ended."}
