package app_test

import (
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
	_, err = h.Who(ctx, p.School, p.ID)
	fault(t, err, app.Unauthorized) // whoever is signed in is out at once
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

func TestChangePassword(t *testing.T) {
	h := newHouse(t)
	assert.Equal(t, "old", fault(t, h.ChangePassword(ctx, h.director, "a guess", "a new password"), app.Invalid).Fields[0].Path)
	require.NoError(t, h.ChangePassword(ctx, h.director, "quillhaven", "a new password"))
	_, err := h.SignIn(ctx, "ines@quillhaven.example", "quillhaven", "here")
	fault(t, err, app.Unauthorized)
	_, err = h.SignIn(ctx, "ines@quillhaven.example", "a new password", "here")
	require.NoError(t, err)
}
