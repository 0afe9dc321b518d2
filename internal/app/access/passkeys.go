package access

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"
	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/peoplerows"
)

// A passkey (W3C Web Authentication, level 2) signs a question of the server with a key that never leaves the device, and only for the
// address that it was made for: a false page gets nothing from it. The device asks for a finger, a face or its own code first, so a
// passkey is two factors in one, and no password is asked for beside it.
const (
	mostPasskeys   = 20
	ceremonyLength = 5 * time.Minute
)

// Passkey is one of somebody's own.
type Passkey struct {
	ID      uuid.UUID `json:"id"`
	Name    string    `json:"name" doc:"As its owner calls the device"`
	AddedOn day.Day   `json:"added_on"`
	UsedOn  *day.Day  `json:"used_on,omitempty"`
}

// NewPasskey is what a device made, for who knows their password.
type NewPasskey struct {
	ID       uuid.UUID       `json:"id"`
	Name     string          `json:"name" minLength:"1" maxLength:"100"`
	Answer   json.RawMessage `json:"answer" doc:"A PublicKeyCredential as its toJSON() writes it"`
	Password Secret          `json:"password" maxLength:"200" doc:"One's own, once more"`
}

// A Ceremony is what is kept between a question to a device and its answer, in the session of the browser that asked.
type Ceremony struct {
	Data webauthn.SessionData `json:"data"`
	Till time.Time            `json:"till"`
}

// A keyholder is a person as the library of passkeys sees them.
type keyholder struct {
	person peoplerows.Person
	keys   []peoplerows.Passkey
	read   []webauthn.Credential
}

func (h keyholder) WebAuthnID() []byte                         { return append(h.person.School[:], h.person.ID[:]...) }
func (h keyholder) WebAuthnName() string                       { return h.person.Email }
func (h keyholder) WebAuthnDisplayName() string                { return h.person.Name }
func (h keyholder) WebAuthnCredentials() []webauthn.Credential { return h.read }

func keyholderOf(ctx context.Context, tx *store.Tx, id uuid.UUID) (keyholder, error) {
	person, err := peoplerows.GetPerson(ctx, tx, id)
	if err != nil {
		return keyholder{}, err
	}
	person.School = tx.School
	h := keyholder{person: person}
	if h.keys, err = peoplerows.Passkeys(ctx, tx, id); err != nil {
		return h, err
	}
	for _, k := range h.keys {
		var c webauthn.Credential
		if err := json.Unmarshal(k.Credential, &c); err != nil {
			return h, fmt.Errorf("passkey %s: %w", k.ID, err)
		}
		h.read = append(h.read, c)
	}
	return h, nil
}

// party is the program as a browser knows it that asked at an address: by the one under which people come, or on this machine as localhost.
func (r *Room) party(at string) (*webauthn.WebAuthn, error) {
	here := r.schools.Address
	if local, err := url.Parse(at); here == "" && err == nil && local.Hostname() == "localhost" {
		here = at
	}
	address, err := url.Parse(here)
	if err != nil || address.Hostname() == "" || net.ParseIP(address.Hostname()) != nil {
		return nil, &journal.Fault{Kind: journal.Conflict, Message: "Passkeys need the name under which people come here. " +
			"Whoever runs the server sets it as SOLFEGGIO_PUBLIC_URL (an address of numbers is none)."}
	}
	return webauthn.New(&webauthn.Config{
		RPID: address.Hostname(), RPDisplayName: "Solfeggio", RPOrigins: []string{address.Scheme + "://" + address.Host},
	})
}

// A Question is what a device is asked.
type Question struct {
	Options  json.RawMessage // of navigator.credentials.create or get, in JSON
	Ceremony Ceremony        // to be kept until it answers
}

func (r *Room) question(options any, data *webauthn.SessionData) (Question, error) {
	text, err := json.Marshal(options)
	return Question{text, Ceremony{Data: *data, Till: r.schools.Now().Add(ceremonyLength)}}, err
}

func (r *Room) stillAsked(c Ceremony) error {
	if c.Data.Challenge == "" || r.schools.Now().After(c.Till) {
		return &journal.Fault{Kind: journal.Conflict, Message: "The question to your device is more than five minutes old, or another one was asked since. Try again."}
	}
	return nil
}

// Passkeys lists one's own.
func (r *Room) Passkeys(ctx context.Context, by journal.Person) ([]Passkey, error) {
	list := []Passkey{}
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		keys, err := peoplerows.Passkeys(ctx, tx, by.ID)
		for _, k := range keys {
			list = append(list, Passkey{k.ID, k.Name, k.AddedOn, k.UsedOn})
		}
		return err
	})
	return list, journal.InPlainWords(err)
}

// AskForPasskey asks a device for a new passkey.
func (r *Room) AskForPasskey(ctx context.Context, by journal.Person, at string) (Question, error) {
	if err := by.NeedInPerson(); err != nil {
		return Question{}, err
	}
	party, err := r.party(at)
	if err != nil {
		return Question{}, err
	}
	var h keyholder
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		h, err = keyholderOf(ctx, tx, by.ID)
		return err
	}); err != nil {
		return Question{}, journal.InPlainWords(err)
	}
	asked, data, err := party.BeginRegistration(h,
		webauthn.WithAuthenticatorSelection(protocol.AuthenticatorSelection{
			ResidentKey: protocol.ResidentKeyRequirementRequired, RequireResidentKey: protocol.ResidentKeyRequired(),
			UserVerification: protocol.VerificationRequired,
		}),
		webauthn.WithConveyancePreference(protocol.PreferNoAttestation),
		webauthn.WithExclusions(webauthn.Credentials(h.read).CredentialDescriptors()))
	if err != nil {
		return Question{}, fmt.Errorf("asking a device for a passkey: %w", err)
	}
	return r.question(asked.Response, data)
}

// AddPasskey keeps what a device answered.
func (r *Room) AddPasskey(ctx context.Context, by journal.Person, at string, c Ceremony, in NewPasskey) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	party, err := r.party(at)
	if err != nil {
		return err
	}
	if in.Name = strings.TrimSpace(in.Name); in.Name == "" {
		return journal.Refuse("name", "is empty; call it by the device", in.Name)
	}
	answer, err := protocol.ParseCredentialCreationResponseBytes(in.Answer)
	if err != nil {
		return journal.Refuse("answer", "is not what a device answers", nil)
	}
	ctx, err = r.sealed(ctx, in.Password)
	if err != nil {
		return err
	}
	return r.changeFactor(ctx, by, in.Password, "passkey-added", func(tx *store.Tx, today day.Day) error {
		if err := r.stillAsked(c); err != nil {
			return err
		}
		h, err := keyholderOf(ctx, tx, by.ID)
		if err != nil {
			return err
		}
		if len(h.keys) >= mostPasskeys {
			return &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf("You have %d passkeys. Take one away that you use no more.", mostPasskeys)}
		}
		made, err := party.CreateCredential(h, c.Data, answer)
		if err != nil {
			return journal.Refuse("answer", "does not answer what was asked", nil)
		}
		text, err := json.Marshal(made)
		if err != nil {
			return err
		}
		return peoplerows.AddPasskey(ctx, tx, peoplerows.Passkey{ID: in.ID, Person: by.ID, Name: in.Name, Device: made.ID, Credential: text, AddedOn: today})
	})
}

// DropPasskey takes one of one's own away.
func (r *Room) DropPasskey(ctx context.Context, by journal.Person, id uuid.UUID, password Secret) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	ctx, err := r.sealed(ctx, password)
	if err != nil {
		return err
	}
	return r.changeFactor(ctx, by, password, "passkey-dropped", func(tx *store.Tx, _ day.Day) error {
		return peoplerows.DropPasskey(ctx, tx, by.ID, id)
	})
}

// endPasskeys takes a person's passkeys away but for some.
func endPasskeys(ctx context.Context, tx *store.Tx, person uuid.UUID, but []uuid.UUID) error {
	keys, err := peoplerows.Passkeys(ctx, tx, person)
	if err != nil {
		return err
	}
	for _, k := range keys {
		if slices.Contains(but, k.ID) {
			continue
		}
		if err := peoplerows.DropPasskey(ctx, tx, person, k.ID); err != nil {
			return err
		}
	}
	return nil
}

// AskToSignIn asks a device for any passkey that it has for this address. Questions from one origin are counted as guesses at passwords
// are, since each is kept for a while.
func (r *Room) AskToSignIn(ctx context.Context, at, origin string) (Question, error) {
	party, err := r.party(at)
	if err != nil {
		return Question{}, err
	}
	now := r.schools.Now()
	if _, times, err := r.schools.DB.CountSignIns(ctx, askedFrom(origin), origin, now, now.Add(-attemptWindow)); err != nil {
		return Question{}, journal.InPlainWords(err)
	} else if times > attemptsPerOrigin {
		return Question{}, errTooManyGuesses
	}
	asked, data, err := party.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return Question{}, fmt.Errorf("asking a device to sign in: %w", err)
	}
	return r.question(asked.Response, data)
}

// askedFrom is under what questions to passkeys are counted, which name nobody.
func askedFrom(origin string) string { return "a passkey from " + origin }

var errPasskeyUnknown = &journal.Fault{
	Kind: journal.Unauthorized, Message: "This passkey is not known here, or was taken away. Sign in with your password.",
}

// SignInByPasskey finds whose passkey answered.
func (r *Room) SignInByPasskey(ctx context.Context, at, origin string, c Ceremony, given json.RawMessage) (journal.Person, error) {
	party, err := r.party(at)
	if err != nil {
		return journal.Person{}, err
	}
	if err := r.stillAsked(c); err != nil {
		return journal.Person{}, err
	}
	answer, err := protocol.ParseCredentialRequestResponseBytes(given)
	if err != nil || len(answer.Response.UserHandle) != 2*len(uuid.UUID{}) {
		return journal.Person{}, journal.Refuse("answer", "is not what a device answers", nil)
	}
	school, person := uuid.UUID(answer.Response.UserHandle[:16]), uuid.UUID(answer.Response.UserHandle[16:])
	var out journal.Person
	err = r.schools.DB.WriteAside(ctx, school, func(tx *store.Tx) error {
		h, err := keyholderOf(ctx, tx, person)
		if err != nil {
			return err
		}
		used, err := party.ValidateDiscoverableLogin(
			func(_, _ []byte) (webauthn.User, error) { return h, nil }, c.Data, answer)
		if err != nil || used.Authenticator.CloneWarning {
			return errPasskeyUnknown
		}
		n := slices.IndexFunc(h.keys, func(k peoplerows.Passkey) bool { return slices.Equal(k.Device, used.ID) })
		if h.keys[n].Credential, err = json.Marshal(used); err != nil {
			return err
		}
		out = journal.Person{School: school, ID: person, Name: h.person.Name, Role: journal.Role(h.person.Role)}
		return peoplerows.UsePasskey(ctx, tx, h.keys[n], day.Of(r.schools.Now()))
	})
	if errors.Is(err, store.ErrNotFound) {
		return journal.Person{}, errPasskeyUnknown
	}
	if err != nil {
		return journal.Person{}, journal.InPlainWords(err)
	}
	return out, journal.InPlainWords(r.schools.DB.ForgetSignIns(ctx, askedFrom(origin), askedFrom(origin)))
}
