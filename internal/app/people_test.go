package app_test

import (
	"errors"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
)

func TestPeopleComeChangeAndGo(t *testing.T) {
	h := newHouse(t)
	helper := pell()
	assert.Equal(t, "password", fault(t, h.Access.SaveColleague(ctx, h.director, helper, "short"), journal.Invalid).Fields[0].Path)
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, helper, "a long password"))
	p, err := h.Access.SignIn(ctx, helper.Email, "a long password", "here")
	require.NoError(t, err)
	assert.Equal(t, journal.Helper, p.Role)
	_, err = h.Access.People(ctx, p)
	fault(t, err, journal.Forbidden)
	fault(t, h.Access.SaveColleague(ctx, p, pell(), "a long password"), journal.Forbidden)

	helper.Version, helper.Role = 1, journal.Assistant
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, helper, ""))
	fault(t, h.Access.SaveColleague(ctx, h.director, helper, ""), journal.Conflict) // an old version
	p, err = h.Access.SignIn(ctx, helper.Email, "a long password", "here")
	require.NoError(t, err, "the password stayed")
	assert.Equal(t, journal.Assistant, p.Role)

	helper.Version, helper.Active = 2, false
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, helper, ""))
	_, err = h.Access.SignIn(ctx, helper.Email, "a long password", "here")
	fault(t, err, journal.Unauthorized)
	list, err := h.Access.People(ctx, h.director)
	require.NoError(t, err)
	assert.Len(t, list, 2)
}

func TestPeopleThatCannotBe(t *testing.T) {
	h := newHouse(t)
	me := access.Colleague{
		ID:      h.director.ID,
		Name:    "Ines Corvane",
		Email:   "ines@quillhaven.example",
		Role:    journal.Helper,
		Active:  true,
		Version: 1,
	}
	assert.Equal(t, "role", fault(t, h.Access.SaveColleague(ctx, h.director, me, ""), journal.Invalid).Fields[0].Path)
	me.Role, me.Active = journal.Director, false
	fault(t, h.Access.SaveColleague(ctx, h.director, me, ""), journal.Invalid)
	for field, c := range map[string]access.Colleague{
		"email": {ID: uuid.New(), Name: "x", Email: "@quillhaven", Role: journal.Helper},
		"role":  {ID: uuid.New(), Name: "x", Email: "x@quillhaven.example", Role: "king"},
	} {
		assert.Equal(t, field, fault(t, h.Access.SaveColleague(ctx, h.director, c, "a long password"), journal.Invalid).Fields[0].Path)
	}
	taken := pell()
	taken.Email = "INES@quillhaven.example"
	assert.Contains(t, fault(t, h.Access.SaveColleague(ctx, h.director, taken, "a long password"), journal.Invalid).Message, "taken")
}

// A password that was changed is answered again under its key, though the old one is not the old one any more; and another under the
// same key is another thing.
func TestChangingAPasswordTwice(t *testing.T) {
	h := newHouse(t)
	once := request("a change")
	require.NoError(t, h.Access.ChangePassword(once, h.director, "copper lantern waltz", "a new password", nil))
	require.NoError(t, h.Access.ChangePassword(once, h.director, "copper lantern waltz", "a new password", nil))
	assert.Contains(
		t,
		fault(t, h.Access.ChangePassword(once, h.director, "copper lantern waltz", "quite another", nil), journal.Conflict).Message,
		"other contents",
	)
	_, err := h.Access.SignIn(ctx, "ines@quillhaven.example", "a new password", "here")
	require.NoError(t, err)
}

// While many sign in, each of whom takes 64 MiB and a tenth of a second, a few are served at once, some wait, the others are told; and
// nobody's writing waits for them.
func TestManySignInAtOnce(t *testing.T) {
	h := newHouse(t)
	h.bring(violin)
	h.Access.Cost = app.New(h.db, time.Now, quiet).Access.Cost
	var wait sync.WaitGroup
	var told atomic.Int32
	begun := make(chan struct{}, 100)
	for n := range 100 {
		wait.Go(func() {
			begun <- struct{}{}
			_, err := h.Access.SignIn(ctx, fmt.Sprintf("nobody-%d@quillhaven.example", n), "guess", fmt.Sprintf("10.0.0.%d", n))
			var refused *journal.Fault
			if errors.As(err, &refused) && refused.Kind == journal.Busy {
				told.Add(1)
			}
		})
	}
	<-begun
	_, err := h.tick(h.director, "VN-01", eString)
	require.NoError(t, err)
	wait.Wait()
	assert.Greater(t, int(told.Load()), 20, "of a hundred, no more than forty-two are let in")
}

func TestChangePassword(t *testing.T) {
	h := newHouse(t)
	wrong := h.Access.ChangePassword(ctx, h.director, "a guess", "a new password", nil)
	assert.Equal(t, "old", fault(t, wrong, journal.Invalid).Fields[0].Path)
	require.NoError(t, h.Access.ChangePassword(ctx, h.director, "copper lantern waltz", "a new password", nil))
	_, err := h.Access.SignIn(ctx, "ines@quillhaven.example", "copper lantern waltz", "here")
	fault(t, err, journal.Unauthorized)
	_, err = h.Access.SignIn(ctx, "ines@quillhaven.example", "a new password", "here")
	require.NoError(t, err)
}
