package app_test

import (
	"fmt"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
)

const factorSecret = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ" // the 20 bytes of RFC 6238, appendix B

// The codes are those of RFC 6238, appendix B (SHA-1, of whose eight digits a telephone shows the last six).
func TestCodesAreThoseOfTheStandard(t *testing.T) {
	for at, want := range map[int64]string{59: "287082", 1111111109: "081804", 1111111111: "050471", 1234567890: "005924",
		2000000000: "279037", 20000000000: "353130"} {
		h := newHouse(t)
		h.now = time.Unix(at, 0)
		assert.NoError(t, h.Access.TurnOnFactor(ctx, h.director, h.factor(want)), "at %d", at)
	}
}

func (h *house) factor(code string) access.NewFactor {
	in := access.NewFactor{Secret: factorSecret, Code: access.Secret(code), Password: "copper lantern waltz"}
	for n := range 10 {
		in.Paper = append(in.Paper, access.Secret(fmt.Sprintf("abcd-efgh-jkmn-%04d", n)))
	}
	return in
}

func (h *house) code() access.Secret {
	code, err := totp.GenerateCode(factorSecret, h.now)
	require.NoError(h.t, err)
	return access.Secret(code)
}

// Whoever has chosen a second factor signs in with the password and a code: of the telephone, a little early or late, or from paper; each
// serves once. Guesses at codes count as guesses at the password do.
func TestSigningInWithASecondFactor(t *testing.T) {
	h := newHouse(t)
	signIn := func(code access.Secret) error {
		_, err := h.Access.SignInWith(ctx, "ines@quillhaven.example", "copper lantern waltz", code, "10.0.0.1")
		return err
	}
	require.NoError(t, signIn(""), "off at first")
	wrong := h.factor("000000")
	assert.Equal(t, "code", fault(t, h.Access.TurnOnFactor(ctx, h.director, wrong), journal.Invalid).Fields[0].Path)
	wrong = h.factor(string(h.code()))
	wrong.Password = "a guess"
	assert.Equal(t, "password", fault(t, h.Access.TurnOnFactor(ctx, h.director, wrong), journal.Invalid).Fields[0].Path)
	byKey := h.director
	byKey.Key = uuid.New()
	fault(t, h.Access.TurnOnFactor(ctx, byKey, h.factor(string(h.code()))), journal.Forbidden)
	require.NoError(t, h.Access.TurnOnFactor(ctx, h.director, h.factor(string(h.code()))))

	assert.Equal(t, "code", fault(t, signIn(""), journal.Unauthorized).Fields[0].Path)
	fault(t, signIn(h.code()), journal.Unauthorized) // it showed that the telephone has the secret, and served for that
	h.now = h.now.Add(30 * time.Second)
	require.NoError(t, signIn(h.code()))
	fault(t, signIn(h.code()), journal.Unauthorized)
	later := h.code()
	h.now = h.now.Add(55 * time.Second)
	fault(t, signIn(later), journal.Unauthorized)
	h.now = h.now.Add(time.Minute)
	early := h.code()
	h.now = h.now.Add(-29 * time.Second)
	require.NoError(t, signIn(early), "a telephone may be half a minute off")
	require.NoError(t, signIn("ABCD EFGH JKMN 0003"), "from paper, however it is typed")
	fault(t, signIn("abcd-efgh-jkmn-0003"), journal.Unauthorized)
	own, err := h.Access.OwnFactor(ctx, h.director)
	require.NoError(t, err)
	assert.True(t, own.On)
	assert.Equal(t, 9, own.OnPaper)
	_, err = h.Access.SignInWith(ctx, "ines@quillhaven.example", "a guess", h.code(), "10.0.0.1")
	assert.Empty(t, fault(t, err, journal.Unauthorized).Fields, "who does not know the password learns nothing of codes")
	for range 8 {
		err = signIn("123456")
	}
	fault(t, err, journal.TooMany)

	h.now = h.now.Add(time.Hour)
	assert.Equal(t, "code", fault(t, h.Access.TurnOffFactor(ctx, h.director, "copper lantern waltz", "000000"), journal.Invalid).Fields[0].Path)
	require.NoError(t, h.Access.TurnOffFactor(ctx, h.director, "copper lantern waltz", h.code()))
	require.NoError(t, signIn(""))
}

// A school may ask for it. A director lets somebody in again who has lost everything; the server's command line does so for the director.
func TestASchoolAsksForASecondFactor(t *testing.T) {
	h := newHouse(t)
	pell := access.Colleague{ID: uuid.New(), Name: "Pell Arrowby", Email: "pell@quillhaven.example", Role: journal.Helper, Active: true}
	require.NoError(t, h.Access.SaveColleague(ctx, h.director, pell, "a long password"))
	helper, err := h.Access.SignIn(ctx, pell.Email, "a long password", "")
	require.NoError(t, err)
	lacks := func(p journal.Person) bool {
		l, err := h.Access.LacksFactor(ctx, p)
		require.NoError(t, err)
		return l
	}
	set, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	for _, tt := range []struct {
		asks             string
		director, helper bool
	}{{"chosen", false, false}, {"directors", true, false}, {"everybody", true, true}} {
		set.School.SecondFactor = tt.asks
		require.NoError(t, h.Settings.SaveSchool(ctx, h.director, set.School))
		set.School.Version++
		assert.Equal(t, []bool{tt.director, tt.helper}, []bool{lacks(h.director), lacks(helper)}, tt.asks)
	}
	in := h.factor(string(h.code()))
	in.Password = "a long password"
	require.NoError(t, h.Access.TurnOnFactor(ctx, helper, in))
	assert.False(t, lacks(helper))
	_, err = h.Access.SignIn(ctx, pell.Email, "a long password", "")
	fault(t, err, journal.Unauthorized)
	fault(t, h.Access.DropFactorOf(ctx, helper, h.director.ID, "a long password"), journal.Forbidden)
	fault(t, h.Access.DropFactorOf(ctx, h.director, helper.ID, "a guess"), journal.Invalid)
	require.NoError(t, h.Access.DropFactorOf(ctx, h.director, helper.ID, "copper lantern waltz"))
	_, err = h.Access.SignIn(ctx, pell.Email, "a long password", "")
	require.NoError(t, err)

	require.NoError(t, h.Access.TurnOnFactor(ctx, h.director, h.factor(string(h.code()))))
	require.NoError(t, h.Access.DropFactorByCommand(ctx, "ines@quillhaven.example"))
	assert.True(t, lacks(h.director))
}
