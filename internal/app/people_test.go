package app_test

import (
	"errors"
	"fmt"
	"sync"
	"sync/atomic"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
)

func TestPeopleComeChangeAndGo(t *testing.T) {
	h := newHouse(t)
	helper := pell()
	assert.Equal(t, "password", fault(t, h.SaveColleague(ctx, h.director, helper, "short"), app.Invalid).Fields[0].Path)
	require.NoError(t, h.SaveColleague(ctx, h.director, helper, "a long password"))
	p, err := h.SignIn(ctx, helper.Email, "a long password", "here")
	require.NoError(t, err)
	assert.Equal(t, app.Helper, p.Role)
	_, err = h.People(ctx, p)
	fault(t, err, app.Forbidden)
	fault(t, h.SaveColleague(ctx, p, pell(), "a long password"), app.Forbidden)

	helper.Version, helper.Role = 1, app.Assistant
	require.NoError(t, h.SaveColleague(ctx, h.director, helper, ""))
	fault(t, h.SaveColleague(ctx, h.director, helper, ""), app.Conflict) // an old version
	p, err = h.SignIn(ctx, helper.Email, "a long password", "here")
	require.NoError(t, err, "the password stayed")
	assert.Equal(t, app.Assistant, p.Role)

	helper.Version, helper.Active = 2, false
	require.NoError(t, h.SaveColleague(ctx, h.director, helper, ""))
	_, err = h.SignIn(ctx, helper.Email, "a long password", "here")
	fault(t, err, app.Unauthorized)
	list, err := h.People(ctx, h.director)
	require.NoError(t, err)
	assert.Len(t, list, 2)
}

func TestPeopleThatCannotBe(t *testing.T) {
	h := newHouse(t)
	me := app.Colleague{ID: h.director.ID, Name: "Ines Corvane", Email: "ines@quillhaven.example", Role: app.Helper, Active: true, Version: 1}
	assert.Equal(t, "role", fault(t, h.SaveColleague(ctx, h.director, me, ""), app.Invalid).Fields[0].Path)
	me.Role, me.Active = app.Director, false
	fault(t, h.SaveColleague(ctx, h.director, me, ""), app.Invalid)
	for field, c := range map[string]app.Colleague{
		"email": {ID: uuid.New(), Name: "x", Email: "@quillhaven", Role: app.Helper},
		"role":  {ID: uuid.New(), Name: "x", Email: "x@quillhaven.example", Role: "king"},
	} {
		assert.Equal(t, field, fault(t, h.SaveColleague(ctx, h.director, c, "a long password"), app.Invalid).Fields[0].Path)
	}
	taken := pell()
	taken.Email = "INES@quillhaven.example"
	assert.Contains(t, fault(t, h.SaveColleague(ctx, h.director, taken, "a long password"), app.Invalid).Message, "taken")
}

// A password that was changed is answered again under its key, though the old one is not the old one any more; and another under the
// same key is another thing.
func TestChangingAPasswordTwice(t *testing.T) {
	h := newHouse(t)
	once := request("a change")
	require.NoError(t, h.ChangePassword(once, h.director, "quillhaven", "a new password"))
	require.NoError(t, h.ChangePassword(once, h.director, "quillhaven", "a new password"))
	assert.Contains(t, fault(t, h.ChangePassword(once, h.director, "quillhaven", "quite another"), app.Conflict).Message, "other contents")
	_, err := h.SignIn(ctx, "ines@quillhaven.example", "a new password", "here")
	require.NoError(t, err)
}

// While many sign in, each of whom takes 64 MiB and a tenth of a second, a few are served at once, some wait, the others are told; and
// nobody's writing waits for them.
func TestManySignInAtOnce(t *testing.T) {
	h := newHouse(t)
	h.bring(violin)
	var wait sync.WaitGroup
	var told atomic.Int32
	begun := make(chan struct{}, 100)
	for n := range 100 {
		wait.Go(func() {
			begun <- struct{}{}
			_, err := h.SignIn(ctx, fmt.Sprintf("nobody-%d@quillhaven.example", n), "guess", fmt.Sprintf("10.0.0.%d", n))
			var refused *app.Fault
			if errors.As(err, &refused) && refused.Kind == app.Busy {
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
	assert.Equal(t, "old", fault(t, h.ChangePassword(ctx, h.director, "a guess", "a new password"), app.Invalid).Fields[0].Path)
	require.NoError(t, h.ChangePassword(ctx, h.director, "quillhaven", "a new password"))
	_, err := h.SignIn(ctx, "ines@quillhaven.example", "quillhaven", "here")
	fault(t, err, app.Unauthorized)
	_, err = h.SignIn(ctx, "ines@quillhaven.example", "a new password", "here")
	require.NoError(t, err)
}
