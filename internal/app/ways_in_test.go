package app_test

import (
	"context"
	"errors"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/day"
)

const secret = access.Secret("a-secret-of-at-least-32-characters-of-chance")

// A link lets its owner choose a password once and for a day, and whoever was signed in as them is out.
func TestANewPasswordByLink(t *testing.T) {
	h := newHouse(t)
	jory := access.Colleague{ID: uuid.New(), Name: "Jory Tamm", Email: "jory@quillhaven.example", Role: journal.Helper, Active: true}
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, jory, "the first password"))
	helper := journal.Person{School: h.director.School, ID: jory.ID, Name: jory.Name, Role: jory.Role}
	_, err := h.Access.LinkFor(ctx, helper, h.director.ID, secret)
	fault(t, err, journal.Forbidden)
	_, err = h.Access.LinkFor(ctx, h.director, jory.ID, "short")
	fault(t, err, journal.Invalid)
	link, err := h.Access.LinkFor(ctx, h.director, jory.ID, secret)
	require.NoError(t, err)
	assert.Equal(t, h.now.Add(24*time.Hour).UTC(), link.Until)

	_, err = h.Access.ByLink(ctx, access.Secret(strings.Repeat("x", 40)), "another password")
	fault(t, err, journal.NotFound)
	_, err = h.Access.ByLink(ctx, secret, "short")
	fault(t, err, journal.Invalid)
	for range 9 { // they tried until nobody listened any more
		_, err = h.Access.SignIn(ctx, jory.Email, "forgotten", "here")
	}
	fault(t, err, journal.TooMany)
	email, err := h.Access.ByLink(ctx, secret, "another password")
	require.NoError(t, err)
	assert.Equal(t, jory.Email, email)
	_, err = h.Access.SignIn(ctx, jory.Email, "another password", "here")
	assert.NoError(t, err)
	_, err = h.Access.ByLink(ctx, secret, "a third password")
	fault(t, err, journal.NotFound)
	_, err = h.Access.ByLink(ctx, secret, "another password")
	assert.NoError(t, err, "who got no answer may press again")

	_, err = h.Access.LinkFor(ctx, h.director, jory.ID, secret)
	require.NoError(t, err)
	h.now = h.now.Add(25 * time.Hour)
	_, err = h.Access.ByLink(ctx, secret, "a third password")
	fault(t, err, journal.NotFound)
}

// Where mail is set up a link is sent to its person, once however often it is asked for under the same key, and a letter that cannot be
// handed over does not take the link back.
func TestALinkIsSent(t *testing.T) {
	h := newHouse(t)
	post := &letterBox{}
	h.Access.Mail, h.Access.Address = post, "https://solfeggio.quillhaven.example"
	asked := journal.WithRequest(ctx, journal.Request{ID: uuid.New()})
	for range 2 {
		link, err := h.Access.LinkFor(asked, h.director, h.director.ID, secret)
		require.NoError(t, err)
		assert.Contains(t, link.SentTo, "@quillhaven.example")
		assert.False(t, link.NotSent)
	}
	require.Len(t, post.letters, 1)
	assert.Contains(t, post.letters[0], "https://solfeggio.quillhaven.example/new-password#"+string(secret))

	post.full = errors.New("452 the disk is full")
	link, err := h.Access.LinkFor(ctx, h.director, h.director.ID, secret)
	require.NoError(t, err)
	assert.Empty(t, link.SentTo)
	assert.True(t, link.NotSent)
	_, err = h.Access.ByLink(ctx, secret, "another password")
	assert.NoError(t, err)
}

// A letterBox keeps what is sent, until it is full.
type letterBox struct {
	letters []string
	full    error
}

func (b *letterBox) Send(_ context.Context, to, subject, text string) error {
	b.letters = append(b.letters, to+"\n"+subject+"\n"+text)
	return b.full
}

// A key may do no more than its person, ends on its day, and is ended by its owner or a director.
func TestKeysForScripts(t *testing.T) {
	h := newHouse(t)
	today := day.Of(h.now)
	key := access.NewKey{ID: uuid.New(), Name: "nightly lists", Role: journal.Viewer, EndsOn: today + 1, Secret: secret}
	require.NoError(t, h.Access.AddKey(ctx, h.director, key))
	who, revision, err := h.Access.ByKey(ctx, secret)
	require.NoError(t, err)
	assert.Equal(t, []any{h.director.ID, journal.Viewer}, []any{who.ID, who.Role})
	assert.Positive(t, revision)

	jory := access.Colleague{ID: uuid.New(), Name: "Jory Tamm", Email: "jory@quillhaven.example", Role: journal.Helper, Active: true}
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, jory, "the first password"))
	helper := journal.Person{School: h.director.School, ID: jory.ID, Name: jory.Name, Role: jory.Role}
	theirs := access.NewKey{ID: uuid.New(), Name: "mine", Role: journal.Director, EndsOn: today, Secret: secret + "2"}
	fault(t, h.Access.AddKey(ctx, helper, theirs), journal.Invalid)
	theirs.Role = journal.Helper
	require.NoError(t, h.Access.AddKey(ctx, helper, theirs))
	theirs.ID, theirs.EndsOn = uuid.New(), today+500
	fault(t, h.Access.AddKey(ctx, helper, theirs), journal.Invalid)
	own, err := h.Access.Keys(ctx, helper)
	require.NoError(t, err)
	require.Len(t, own, 1)
	all, err := h.Access.Keys(ctx, h.director)
	require.NoError(t, err)
	require.Len(t, all, 2)
	fault(t, h.Access.EndKey(ctx, helper, key.ID), journal.NotFound)

	// Who may do less by now, or may not come in any more, has no key that may more.
	jory.Version, jory.Active = 1, false
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, jory, ""))
	_, _, err = h.Access.ByKey(ctx, secret+"2")
	fault(t, err, journal.Unauthorized)
	h.now = h.now.Add(48 * time.Hour)
	_, _, err = h.Access.ByKey(ctx, secret)
	fault(t, err, journal.Unauthorized)
	h.now = h.now.Add(-48 * time.Hour)
	require.NoError(t, h.Access.EndKey(ctx, h.director, key.ID))
	_, _, err = h.Access.ByKey(ctx, secret)
	fault(t, err, journal.Unauthorized)
}

// Whoever has the command line adds people beside somebody and gives new passwords, also to the last director.
func TestPeopleByCommand(t *testing.T) {
	h := newHouse(t)
	people, err := h.Access.Staff(ctx, "ines@quillhaven.example")
	require.NoError(t, err)
	require.Len(t, people, 1)
	_, err = h.Access.Staff(ctx, "nobody@quillhaven.example")
	assert.ErrorIs(t, err, access.ErrNobody)
	colleague := access.Colleague{Name: "Jory Tamm", Email: "jory@quillhaven.example", Role: journal.Assistant}
	require.NoError(t, h.Access.Appoint(ctx, "ines@quillhaven.example", colleague, "a long password"))
	_, err = h.Access.SignIn(ctx, colleague.Email, "a long password", "here")
	require.NoError(t, err)
	require.NoError(t, h.Access.SetPassword(ctx, "ines@quillhaven.example", "yet another password"))
	_, err = h.Access.SignIn(ctx, "ines@quillhaven.example", "yet another password", "here")
	assert.NoError(t, err)
}
