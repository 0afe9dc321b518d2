package access

import (
	"context"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/store"
	"solfeggio/internal/store/peoplerows"
)

// SignedIn is where somebody is signed in.
type SignedIn struct {
	ID     uuid.UUID `json:"id"`
	Began  time.Time `json:"began"`
	Until  time.Time `json:"until" doc:"When it ends by itself"`
	Device string    `json:"device" doc:"As its browser calls itself"`
	Here   bool      `json:"here" doc:"It is this one"`
}

// Sessions lists where the person is signed in.
func (r *Room) Sessions(ctx context.Context, by journal.Person) ([]SignedIn, error) {
	list := []SignedIn{}
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		sessions, err := peoplerows.SignIns(ctx, tx, by.ID, r.schools.Now())
		for _, s := range sessions {
			list = append(list, SignedIn{s.ID, s.BeganAt, s.Expiry, s.Device, by.Session != "" && s.Token == by.Session})
		}
		return err
	})
	return list, journal.InPlainWords(err)
}

// EndSession signs the person out on one device.
func (r *Room) EndSession(ctx context.Context, by journal.Person, id uuid.UUID) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	_, err := journal.Write(ctx, r.schools.Beside(), by, journal.MayChangeOwnPassword, func(tx *store.Tx) (struct{}, error) {
		return struct{}{}, peoplerows.EndSignIn(ctx, tx, by.ID, id)
	})
	return err
}
