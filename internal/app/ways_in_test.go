package app_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/preparing"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/peoplerows"
	"solfeggio/internal/store/shoprows"
)

const directorsPassword = access.Secret("copper lantern waltz")

const secret = access.Secret("a-secret-of-at-least-32-characters-of-chance")

// jory is a colleague who signs in, with the first password.
func (h *house) jory(role journal.Role) (access.Colleague, journal.Person) {
	h.t.Helper()
	c := access.Colleague{ID: uuid.New(), Name: "Jory Tamm", Email: "jory@quillhaven.example", Role: role, Active: true}
	require.NoError(h.t, h.Access.SaveColleague(ctx, h.director, c, "the first password"))
	return c, journal.Person{School: h.director.School, ID: c.ID, Name: c.Name, Role: role}
}

// A link lets its owner choose a password once and for a day, and whoever was signed in as them is out.
func TestANewPasswordByLink(t *testing.T) {
	h := newHouse(t)
	jory, helper := h.jory(journal.Helper)
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
	h.Access.Mail, h.Schools.Address = post, "https://solfeggio.quillhaven.example"
	post.meanwhile = func() {
		at := shoprows.RepairShop{ID: uuid.New(), Name: "Larch Row", Trades: []string{"bows"}, Way: shoprows.ByMessage}
		require.NoError(t, h.Shop.SaveShop(ctx, h.director, at), "nobody waits for the mail server")
	}
	asked := journal.WithRequest(ctx, journal.Request{ID: uuid.New()})
	for range 2 {
		link, err := h.Access.LinkFor(asked, h.director, h.director.ID, secret)
		require.NoError(t, err)
		assert.Contains(t, link.SentTo, "@quillhaven.example")
		assert.False(t, link.NotSent)
	}
	require.Len(t, post.letters, 1)
	assert.Contains(t, post.letters[0], "https://solfeggio.quillhaven.example/new-password#"+string(secret))

	post.full, post.meanwhile = errors.New("452 the disk is full"), nil
	link, err := h.Access.LinkFor(ctx, h.director, h.director.ID, secret)
	require.NoError(t, err)
	assert.Empty(t, link.SentTo)
	assert.True(t, link.NotSent)
	_, err = h.Access.ByLink(ctx, secret, "another password")
	assert.NoError(t, err)
}

// Who has forgotten their password is sent a link; who asks for an address that nobody has hears the same, and too many are refused.
func TestAForgottenPassword(t *testing.T) {
	h := newHouse(t)
	mail, err := h.Access.Forgotten(ctx, "ines@quillhaven.example", "here")
	require.NoError(t, err)
	assert.False(t, mail, "no mail is set up")
	post := &letterBox{sent: make(chan string, 1)}
	h.Access.Mail, h.Schools.Address = post, "https://solfeggio.quillhaven.example"
	mail, err = h.Access.Forgotten(ctx, "nobody@quillhaven.example", "here")
	require.NoError(t, err)
	assert.True(t, mail)
	director, err := h.Access.People(ctx, h.director)
	require.NoError(t, err)
	mail, err = h.Access.Forgotten(ctx, " "+director[0].Email+" ", "here")
	require.NoError(t, err)
	assert.True(t, mail)
	letter := <-post.sent
	to, _, _ := strings.Cut(letter, "\n")
	assert.Equal(t, director[0].Email, to)
	_, link, found := strings.Cut(letter, "/new-password#")
	require.True(t, found, letter)
	given, _, _ := strings.Cut(link, "\n")
	_, err = h.Access.ByLink(ctx, access.Secret(given), "another password")
	require.NoError(t, err)
	_, err = h.Access.SignIn(ctx, director[0].Email, "another password", "here")
	assert.NoError(t, err)
	assert.Empty(t, post.sent, "nobody else was written to")
	for range 9 {
		_, err = h.Access.Forgotten(ctx, "nobody@quillhaven.example", "there")
	}
	fault(t, err, journal.TooMany)
}

// A letterBox keeps what is sent, until it is full.
type letterBox struct {
	letters   []string
	full      error
	sent      chan string // told of each, if there is one
	meanwhile func()      // somebody else's work while the mail server takes its time
}

func (b *letterBox) Send(_ context.Context, to, subject, text string) error {
	if b.meanwhile != nil {
		b.meanwhile()
	}
	b.letters = append(b.letters, to+"\n"+subject+"\n"+text)
	if b.sent != nil {
		b.sent <- b.letters[len(b.letters)-1]
	}
	return b.full
}

// A key may do no more than its person, ends on its day, and is ended by its owner or a director.
func TestKeysForScripts(t *testing.T) {
	h := newHouse(t)
	today := day.Of(h.now)
	key := access.NewKey{
		ID: uuid.New(), Name: "nightly lists", Role: journal.Viewer, EndsOn: today + 1, Secret: secret, Password: directorsPassword,
	}
	require.NoError(t, h.Access.AddKey(ctx, h.director, key))
	who, revision, err := h.Access.ByKey(ctx, secret, "10.0.0.7")
	require.NoError(t, err)
	assert.Equal(t, []any{h.director.ID, journal.Viewer}, []any{who.ID, who.Role})
	assert.Positive(t, revision)

	jory, helper := h.jory(journal.Helper)
	theirs := access.NewKey{
		ID: uuid.New(), Name: "mine", Role: journal.Director, EndsOn: today, Secret: secret + "2", Password: "the first password",
	}
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
	mine := all[slices.IndexFunc(all, func(k access.ScriptKey) bool { return k.ID == key.ID })]
	assert.Equal(t, []any{&today, "10.0.0.7", true}, []any{mine.LastUsedOn, mine.LastUsedFrom, mine.Own})
	fault(t, h.Access.EndKey(ctx, helper, key.ID), journal.NotFound)

	// Who may do less by now, or may not come in any more, has no key that may more.
	jory.Version, jory.Active = 1, false
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, jory, ""))
	_, _, err = h.Access.ByKey(ctx, secret+"2", "here")
	fault(t, err, journal.Unauthorized)
	h.now = h.now.Add(48 * time.Hour)
	_, _, err = h.Access.ByKey(ctx, secret, "here")
	fault(t, err, journal.Unauthorized)
	h.now = h.now.Add(-48 * time.Hour)
	require.NoError(t, h.Access.EndKey(ctx, h.director, key.ID))
	_, _, err = h.Access.ByKey(ctx, secret, "here")
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

// With a new password all that was given before it ends: sessions, keys, links; but the keys that were named stay.
func TestWhatANewPasswordEnds(t *testing.T) {
	h := newHouse(t)
	stays, ends := uuid.New(), uuid.New()
	for id, of := range map[uuid.UUID]access.Secret{stays: secret + "stays", ends: secret + "ends"} {
		require.NoError(t, h.Access.AddKey(ctx, h.director, access.NewKey{
			ID: id, Name: "lists", Role: journal.Director, EndsOn: thisDay + 366, Secret: of, Password: directorsPassword,
		}))
	}
	_, err := h.Access.LinkFor(ctx, h.director, h.director.ID, secret)
	require.NoError(t, err)
	require.NoError(t, h.Access.ChangePassword(ctx, h.director, directorsPassword, "a new password", []uuid.UUID{stays}))
	_, _, err = h.Access.ByKey(ctx, secret+"ends", "here")
	fault(t, err, journal.Unauthorized)
	_, _, err = h.Access.ByKey(ctx, secret+"stays", "here")
	require.NoError(t, err)
	_, err = h.Access.ByLink(ctx, secret, "of somebody who had the link")
	fault(t, err, journal.NotFound)

	_, err = h.Access.LinkFor(ctx, h.director, h.director.ID, secret)
	require.NoError(t, err)
	_, err = h.Access.ByLink(ctx, secret, "a third password")
	require.NoError(t, err)
	_, _, err = h.Access.ByKey(ctx, secret+"stays", "here")
	fault(t, err, journal.Unauthorized)
}

// Who is switched off and on again, or may do less for a while, has no key that lives again.
func TestNoKeyLivesAgain(t *testing.T) {
	h := newHouse(t)
	jory, by := h.jory(journal.Director)
	save := func(role journal.Role, active bool) {
		jory.Version, jory.Role, jory.Active = jory.Version+1, role, active
		require.NoError(t, h.Access.SaveColleague(ctx, h.director, jory, ""))
	}
	for _, less := range []func(){func() { save(journal.Director, false) }, func() { save(journal.Helper, true) }} {
		require.NoError(t, h.Access.AddKey(ctx, by, access.NewKey{
			ID: uuid.New(), Name: "lists", Role: journal.Director, EndsOn: thisDay, Secret: secret, Password: "the first password",
		}))
		less()
		save(journal.Director, true)
		_, _, err := h.Access.ByKey(ctx, secret, "here")
		fault(t, err, journal.Unauthorized)
	}
}

// A key that leaked makes nothing that would outlast it, though it is a director's; nor does a session alone, without the password.
func TestAKeyMakesNoWayIn(t *testing.T) {
	h := newHouse(t)
	id := uuid.New()
	key := access.NewKey{ID: id, Name: "lists", Role: journal.Director, EndsOn: thisDay + 30, Secret: secret, Password: "a guess"}
	assert.Equal(t, "password", fault(t, h.Access.AddKey(ctx, h.director, key), journal.Invalid).Fields[0].Path)
	key.Password = directorsPassword
	require.NoError(t, h.Access.AddKey(ctx, h.director, key))
	script, _, err := h.Access.ByKey(ctx, secret, "here")
	require.NoError(t, err)
	h.bring(violin)
	_, err = h.tick(script, "VN-01", eString)
	require.NoError(t, err, "all else of its person's it may")

	another := key
	another.ID, another.Secret = uuid.New(), secret+"2"
	jory := access.Colleague{ID: uuid.New(), Name: "Jory Tamm", Email: "jory@quillhaven.example", Role: journal.Director, Active: true}
	_, link := h.Access.LinkFor(ctx, script, script.ID, secret)
	_, calendar := h.Preparing.Share(ctx, script, preparing.Sharing{Secret: string(secret)})
	for what, err := range map[string]error{
		"a key":        h.Access.AddKey(ctx, script, another),
		"a longer key": h.Access.RenewKey(ctx, script, id, access.Renewal{EndsOn: thisDay + 300, Password: directorsPassword}),
		"no other key": h.Access.EndKey(ctx, script, id),
		"a person":     h.Access.SaveColleague(ctx, script, jory, "the first password"),
		"a password":   h.Access.ChangePassword(ctx, script, directorsPassword, "a new password", nil),
		"a link":       link,
		"a calendar":   calendar,
	} {
		t.Run(what, func(t *testing.T) { fault(t, err, journal.Forbidden) })
	}

	require.NoError(t, h.Access.RenewKey(ctx, h.director, id, access.Renewal{EndsOn: thisDay + 366, Password: directorsPassword}))
	tooFar := h.Access.RenewKey(ctx, h.director, id, access.Renewal{EndsOn: thisDay + 367, Password: directorsPassword})
	assert.Equal(t, "ends_on", fault(t, tooFar, journal.Invalid).Fields[0].Path)
	h.now = h.now.AddDate(0, 0, 367)
	_, _, err = h.Access.ByKey(ctx, secret, "here")
	fault(t, err, journal.Unauthorized)
	fault(t, h.Access.RenewKey(ctx, h.director, id, access.Renewal{EndsOn: thisDay + 400, Password: directorsPassword}), journal.NotFound)
}

// Two directors who end each other's rights at once: one of them does. Rights are read where nobody else writes, so that what was taken
// away does not serve for one more write.
func TestTwoDirectorsAtOnce(t *testing.T) {
	h := newHouse(t)
	jory, other := h.jory(journal.Director)
	ines := access.Colleague{
		ID: h.director.ID, Name: "Ines Corvane", Email: "ines@quillhaven.example", Role: journal.Helper, Active: true, Version: 1,
	}
	jory.Version, jory.Role = 1, journal.Helper
	var errs [2]error
	var wait sync.WaitGroup
	wait.Go(func() { errs[0] = h.Access.SaveColleague(ctx, h.director, jory, "") })
	wait.Go(func() { errs[1] = h.Access.SaveColleague(ctx, other, ines, "") })
	wait.Wait()
	if errs[0] != nil {
		errs[0], errs[1] = errs[1], errs[0]
	}
	require.NoError(t, errs[0])
	fault(t, errs[1], journal.Forbidden)
	require.NoError(t, h.db.Read(ctx, h.director.School, func(tx *store.Tx) error {
		people, err := peoplerows.People(ctx, tx)
		assert.Len(t, slices.DeleteFunc(people, func(p peoplerows.Person) bool { return p.Role != string(journal.Director) }), 1)
		return err
	}))
}

// A session and a key that ended serve for no further write, even by a request that was let in before.
func TestWhatEndedWritesNoMore(t *testing.T) {
	h := newHouse(t)
	h.bring(violin)
	require.NoError(t, h.Access.AddKey(ctx, h.director, access.NewKey{
		ID: uuid.New(), Name: "lists", Role: journal.Director, EndsOn: thisDay, Secret: secret, Password: directorsPassword,
	}))
	script, _, err := h.Access.ByKey(ctx, secret, "here")
	require.NoError(t, err)
	elsewhere := h.director
	elsewhere.Session = "ended"
	require.NoError(t, h.Access.EndKey(ctx, h.director, script.Key))
	for _, by := range []journal.Person{script, elsewhere} {
		_, err := h.tick(by, "VN-01", eString)
		fault(t, err, journal.Unauthorized)
	}
}

// Wrong guesses of somebody signed in count by their account alone, and right passwords count nothing.
func TestWhoCountsGuesses(t *testing.T) {
	h := newHouse(t)
	_, by := h.jory(journal.Helper)
	for range 62 { // of one account
		_ = h.Access.ChangePassword(ctx, by, "a guess", "a new password", nil)
	}
	fault(t, h.Access.ChangePassword(ctx, by, "the first password", "a new password", nil), journal.TooMany)
	require.NoError(t, h.Access.ChangePassword(ctx, h.director, directorsPassword, "a new password", nil))

	device := access.OnDevice(ctx, "a device of the director's, known by now")
	require.NoError(t, h.Access.KeepDevice(ctx, h.director, "a device of the director's, known by now"))
	for n := range 70 {
		_, err := h.Access.SignIn(device, "ines@quillhaven.example", "a new password", "the school")
		require.NoError(t, err, n)
	}
}
