package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/descope/virtualwebauthn"
	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
	"solfeggio/internal/store/peoplerows"
)

// here is the program as a browser knows it.
var here = virtualwebauthn.RelyingParty{Name: "Solfeggio", ID: "solfeggio.quillhaven.example", Origin: "https://solfeggio.quillhaven.example"}

// A device makes passkeys and signs with them, as a telephone would.
type device struct {
	virtualwebauthn.Authenticator
	key virtualwebauthn.Credential
}

func (w *world) device() *device {
	w.app.Schools.Address = here.Origin
	handle := append(bytes.Clone(w.by.School[:]), w.by.ID[:]...)
	return &device{
		virtualwebauthn.NewAuthenticatorWithOptions(virtualwebauthn.AuthenticatorOptions{UserHandle: handle}),
		virtualwebauthn.NewCredential(virtualwebauthn.KeyTypeEC2),
	}
}

// givePasskey keeps one that no device has.
func (w *world) givePasskey() {
	w.t.Helper()
	id := uuid.New()
	w.put("passkey", id)
	require.NoError(w.t, w.app.Schools.DB.WriteAside(context.Background(), w.by.School, func(tx *store.Tx) error {
		return peoplerows.AddPasskey(context.Background(), tx, peoplerows.Passkey{
			ID: id, Person: w.by.ID, Name: "A tablet", Device: id[:], Credential: []byte(`{}`), AddedOn: 20000,
		})
	}))
}

// made is what a device sends that was asked for a passkey by who is signed in.
func (s *site) made(d *device) string {
	s.t.Helper()
	asked := s.call("POST", "/api/v1/session/passkeys/question", "")
	if asked.status == http.StatusUnauthorized {
		return `{}` // what it is for is refused too
	}
	require.Equal(s.t, http.StatusOK, asked.status, asked.body)
	options, err := virtualwebauthn.ParseAttestationOptions(string(field(s.t, asked.body, "options")))
	require.NoError(s.t, err)
	answer := virtualwebauthn.CreateAttestationResponse(here, d.Authenticator, d.key, *options)
	body, err := json.Marshal(map[string]any{"id": uuid.New(), "name": "A telephone", "password": password, "answer": json.RawMessage(answer)})
	require.NoError(s.t, err)
	return string(body)
}

// signed is what a device sends that was asked to sign in at a party.
func (s *site) signed(d *device, at virtualwebauthn.RelyingParty) string {
	s.t.Helper()
	asked := s.call("POST", "/api/v1/session/question", "")
	require.Equal(s.t, http.StatusOK, asked.status, asked.body)
	options, err := virtualwebauthn.ParseAssertionOptions(string(field(s.t, asked.body, "options")))
	require.NoError(s.t, err)
	d.key.Counter++
	return `{"answer":` + virtualwebauthn.CreateAssertionResponse(at, d.Authenticator, d.key, *options) + `}`
}

// A passkey lets its owner in, once for each question, and nobody who has a copy, answers for another address or was not asked.
func TestSigningInWithAPasskey(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	telephone := w.device()
	require.Less(t, w.call("POST", "/api/v1/session/passkeys", w.made(telephone)).status, 300)
	assert.Contains(t, w.call("GET", "/api/v1/session/passkeys", "").body, `"name":"A telephone"`)

	fresh := w.visitor()
	answer := fresh.signed(telephone, here)
	in := fresh.call("POST", "/api/v1/session/answer", answer)
	require.Equal(t, http.StatusOK, in.status, in.body)
	assert.Equal(t, http.StatusOK, fresh.call("GET", "/api/v1/today", "").status)
	assert.Contains(t, w.call("GET", "/api/v1/session/passkeys", "").body, `"used_on":"2026-11-24"`)

	refused := func(s *site, body string, status int, why string) {
		t.Helper()
		got := s.call("POST", "/api/v1/session/answer", body)
		assert.Equal(t, status, got.status, "%s: %s", why, got.body)
		assert.Equal(t, http.StatusUnauthorized, s.call("GET", "/api/v1/session", "").status)
	}
	refused(w.visitor(), answer, http.StatusConflict, "what was answered once")
	asked := w.visitor()
	asked.signed(telephone, here)
	refused(asked, answer, http.StatusUnauthorized, "the answer to another question")
	phished := w.visitor()
	refused(phished, phished.signed(telephone, virtualwebauthn.RelyingParty{
		Name: "Solfeggio", ID: here.ID, Origin: "https://solfeggio.quillhaven.example.marl.example",
	}), http.StatusUnauthorized, "signed for a false page")
	copied := *telephone
	copied.key.Counter -= 3
	clone := w.visitor()
	refused(clone, clone.signed(&copied, here), http.StatusUnauthorized, "a copy that has counted less")
	unseen := *telephone
	unseen.Options.UserNotVerified = true
	taken := w.visitor()
	refused(taken, taken.signed(&unseen, here), http.StatusUnauthorized, "nobody's finger")
	late := w.visitor()
	body := late.signed(telephone, here)
	w.now = w.now.Add(6 * time.Minute)
	refused(late, body, http.StatusConflict, "five minutes are over")
	refused(w.visitor(), `{"answer":{"id":"x"}}`, http.StatusConflict, "nothing was asked")

	// What a lost telephone held is taken away with it.
	require.Less(t, w.call("POST", w.fill("/api/v1/settings/people/{me}/no-second-factor"), `{"password":"`+password+`"}`).status, 300)
	gone := w.visitor()
	refused(gone, gone.signed(telephone, here), http.StatusUnauthorized, "it was taken away")
}

// A school that asks for a second factor is content with a passkey, and then not with the password alone.
func TestAPasskeyIsASecondFactor(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	telephone := w.device()
	school := strings.Replace(w.things["school"], `"second_factor":"chosen"`, `"second_factor":"everybody"`, 1)
	require.Less(t, w.call("PUT", "/api/v1/settings/school", school).status, 300)
	require.Equal(t, http.StatusForbidden, w.call("GET", "/api/v1/today", "").status)
	require.Less(t, w.call("POST", "/api/v1/session/passkeys", w.made(telephone)).status, 300)
	assert.Equal(t, http.StatusOK, w.call("GET", "/api/v1/today", "").status)
	byWord := w.visitor().call("POST", "/api/v1/session", `{"email":"`+email+`","password":"`+password+`"}`)
	assert.Equal(t, http.StatusUnauthorized, byWord.status)
	assert.Contains(t, byWord.body, "Sign in with your passkey")
	fresh := w.visitor()
	got := fresh.call("POST", "/api/v1/session/answer", fresh.signed(telephone, here))
	assert.Equal(t, http.StatusOK, got.status)
	assert.Contains(t, got.body, `"lacks_factor":false`)
}

// A passkey ends with a new password, as keys for scripts do, but for one that is ticked to stay; whoever made it with a password that they
// had learned is out.
func TestAPasskeyEndsWithThePassword(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	kept, other := w.device(), w.device()
	made := w.made(kept)
	require.Less(t, w.call("POST", "/api/v1/session/passkeys", made).status, 300)
	require.Less(t, w.call("POST", "/api/v1/session/passkeys", w.made(other)).status, 300)
	id := string(field(t, made, "id"))
	change := `{"old":"` + password + `","password":"plum harbour lantern","keep_keys":[` + id + `]}`
	require.Less(t, w.call("PUT", "/api/v1/session/password", change).status, 300)
	in := func(d *device) int {
		fresh := w.visitor()
		return fresh.call("POST", "/api/v1/session/answer", fresh.signed(d, here)).status
	}
	assert.Equal(t, http.StatusOK, in(kept))
	assert.Equal(t, http.StatusUnauthorized, in(other))
	reset := w.call("POST", "/api/v1/new-password", w.fill(`{"secret":"{link}","password":"quince meadow barrel"}`))
	require.Equal(t, http.StatusNotFound, reset.status, "the link ended with the password too")
	require.Less(t, w.call("PUT", w.fill("/api/v1/settings/people/{me}/link"), `{"secret":"`+keySecret+`"}`).status, 300)
	byLink := w.call("POST", "/api/v1/new-password", `{"secret":"`+keySecret+`","password":"quince meadow barrel"}`)
	require.Equal(t, http.StatusOK, byLink.status, byLink.body)
	assert.Equal(t, http.StatusUnauthorized, in(kept), "a link leaves none")
}

// Where the program does not know under which name people come, no device is asked.
func TestPasskeysNeedAName(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), email)
	for _, address := range []string{"", "http://192.0.2.7:8080"} {
		w.app.Schools.Address = address
		for _, path := range []string{"/api/v1/session/question", "/api/v1/session/passkeys/question"} {
			got := w.call("POST", path, "")
			assert.Equal(t, http.StatusConflict, got.status, got.body)
			assert.Contains(t, got.body, "SOLFEGGIO_PUBLIC_URL")
		}
	}
	w.app.Schools.Address = here.Origin
	for n := range 61 {
		got := w.visitor().call("POST", "/api/v1/session/question", "")
		require.Equal(t, map[bool]int{true: http.StatusOK, false: http.StatusTooManyRequests}[n < 60], got.status)
	}
}
