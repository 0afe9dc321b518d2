package app_test

import (
	"testing"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/store/schoolrows"
)

func TestWhoMayDoWhat(t *testing.T) {
	h := newHouse(t)
	h.bring(violin)
	as := func(r journal.Role) journal.Person { p := h.director; p.Role = r; return p }
	for _, tt := range []struct {
		role                      journal.Role
		finish, instruments, rest bool
	}{{journal.Director, true, true, true}, {journal.Assistant, true, true, false}, {journal.Helper, true, false, false},
		{journal.Viewer, false, false, false}} {
		check := func(may bool, err error) {
			t.Helper()
			if may {
				assert.NoError(t, err, tt.role)
			} else {
				fault(t, err, journal.Forbidden)
			}
		}
		_, err := h.tick(as(tt.role), "VN-01", eString)
		check(tt.finish, err)
		_, err = h.Importing.Import(ctx, as(tt.role), importing.InstrumentFile{Content: []byte(violin), DryRun: true})
		check(tt.instruments, err)
		check(
			tt.rest,
			h.Settings.SavePeriod(
				ctx,
				as(tt.role),
				schoolrows.Breaks,
				schoolrows.Period{ID: uuid.New(), Name: "Fog", StartsOn: thisDay, EndsOn: thisDay},
			),
		)
		_, err = h.Today.Today(ctx, as(tt.role), 25, 0)
		assert.NoError(t, err, "everybody may look")
	}
}

func TestSignIn(t *testing.T) {
	h := newHouse(t)
	p, err := h.Access.SignIn(ctx, " INES@quillhaven.example ", "copper lantern waltz", "10.0.0.1")
	require.NoError(t, err)
	assert.Equal(t, h.director, p)

	_, wrong := h.Access.SignIn(ctx, "ines@quillhaven.example", "Quillhaven", "10.0.0.1")
	_, nobody := h.Access.SignIn(ctx, "nobody@quillhaven.example", "copper lantern waltz", "10.0.0.1")
	assert.Equal(t, fault(t, wrong, journal.Unauthorized).Message, fault(t, nobody, journal.Unauthorized).Message)

	for range 8 {
		_, err = h.Access.SignIn(ctx, "ines@quillhaven.example", "guess", "10.0.0.1")
	}
	fault(t, err, journal.TooMany)
	_, err = h.Access.SignIn(ctx, "ines@quillhaven.example", "copper lantern waltz", "10.0.0.2")
	fault(t, err, journal.TooMany)
	people, err := h.Access.People(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, 10, people[0].Tries, "and the director sees it")
	device := access.OnDevice(ctx, "a device on which she has signed in")
	_, err = h.Access.SignIn(device, "ines@quillhaven.example", "copper lantern waltz", "10.0.0.1")
	fault(t, err, journal.TooMany)
	require.NoError(t, h.Access.KeepDevice(ctx, h.director, "a device on which she has signed in"))
	_, err = h.Access.SignIn(device, "ines@quillhaven.example", "copper lantern waltz", "10.0.0.1")
	require.NoError(t, err, "there nobody else's guesses keep her out")
	for range 9 {
		_, err = h.Access.SignIn(device, "ines@quillhaven.example", "guess", "10.0.0.1")
	}
	fault(t, err, journal.TooMany)
	h.now = h.now.Add(16 * time.Minute)
	_, err = h.Access.SignIn(ctx, "ines@quillhaven.example", "copper lantern waltz", "10.0.0.1")
	assert.NoError(t, err, "a quarter of an hour later the right password works again")
}

// The tests go quickly; the program does not: a password costs what RFC 9106, section 4 recommends second.
func TestAPasswordCostsTime(t *testing.T) {
	assert.Equal(t, argon2id.Params{Memory: 64 << 10, Iterations: 3, Parallelism: 4, SaltLength: 16, KeyLength: 32},
		app.New(nil, time.Now, quiet).Access.Cost)
}
