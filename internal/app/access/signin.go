package access

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"strings"
	"time"

	"github.com/alexedwards/argon2id"
	"github.com/google/uuid"
	"golang.org/x/crypto/argon2"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/store"
	"solfeggio/internal/store/peoplerows"
	"solfeggio/internal/store/schoolrows"
)

// Sign-in is slowed down after this many wrong tries in a quarter of an hour. A device on which somebody has signed in before is counted
// by itself, so that guesses of others neither lock its owner out nor, from one address, the school behind it.
const (
	attemptsPerEmail  = 8
	attemptsPerOrigin = 60
	attemptWindow     = 15 * time.Minute
)

// deviceDays is for how long a device is remembered that nobody signs in on.
const deviceDays = 400

// knownDevice stands in place of an address.
const knownDevice = "a known device"

type deviceKey struct{}

// OnDevice is ctx of a device that brings the secret that it was given when somebody signed in on it.
func OnDevice(ctx context.Context, secret string) context.Context {
	return context.WithValue(ctx, deviceKey{}, secret)
}

// usualCost is what it takes to try a password: the second recommended option of RFC 9106, section 4 (64 MiB, 3 passes, 4 lanes).
var usualCost = argon2id.Params{Memory: 64 * 1024, Iterations: 3, Parallelism: 4, SaltLength: 16, KeyLength: 32}

// SignIn finds who has this e-mail address and password. The answer to a wrong address and to a wrong password is the
// same and takes as long.
func (r *Room) SignIn(ctx context.Context, email string, password Secret, origin string) (journal.Person, error) {
	return r.SignInWith(ctx, email, password, "", origin)
}

// SignInWith is SignIn with the code of a second factor, which is asked for once the password was right.
func (r *Room) SignInWith(ctx context.Context, email string, password, code Secret, origin string) (journal.Person, error) {
	email = strings.TrimSpace(email)
	counted, err := r.countGuess(ctx, email, origin)
	if err != nil {
		return journal.Person{}, err
	}
	p, err := r.schools.DB.SignInCandidate(ctx, email)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return journal.Person{}, err
	}
	same, err := r.passwordMatches(ctx, p.Hash, password)
	if err != nil {
		return journal.Person{}, err
	}
	if !same {
		return journal.Person{}, &journal.Fault{Kind: journal.Unauthorized, Message: "E-mail address or password is not right."}
	}
	if err := r.passes(ctx, p, code); err != nil {
		return journal.Person{}, journal.InPlainWords(err)
	}
	if err := r.schools.DB.ForgetSignIns(ctx, email, counted); err != nil {
		return journal.Person{}, err
	}
	return journal.Person{School: p.School, ID: p.ID, Name: p.Name, Role: journal.Role(p.Role)}, nil
}

// KeepDevice remembers a device, by its secret, as one on which a person signs in.
func (r *Room) KeepDevice(ctx context.Context, p journal.Person, secret string) error {
	today := day.Of(r.schools.Now())
	return journal.InPlainWords(r.schools.DB.WriteAside(ctx, p.School, func(tx *store.Tx) error {
		return peoplerows.KeepDevice(ctx, tx, p.ID, journal.Digest(secret), today, today-deviceDays)
	}))
}

var errTooManyGuesses = &journal.Fault{
	Kind: journal.TooMany, Message: "Too many attempts. Wait a quarter of an hour, then try again.",
}

// countGuess counts a try at a password, and refuses it after too many. It returns the name under which it counted, to be forgotten when
// the password was right. Without an origin the name alone counts.
func (r *Room) countGuess(ctx context.Context, email, origin string) (counted string, err error) {
	now := r.schools.Now()
	if device, _ := ctx.Value(deviceKey{}).(string); device != "" {
		known, err := r.schools.DB.DeviceKnown(ctx, email, journal.Digest(device))
		if err != nil {
			return "", journal.InPlainWords(err)
		}
		if known {
			email, origin = fmt.Sprintf("%s on %x", email, journal.Digest(device)[:6]), knownDevice
		}
	}
	byEmail, byOrigin, err := r.schools.DB.CountSignIns(ctx, email, origin, now, now.Add(-attemptWindow))
	if err != nil {
		return "", journal.InPlainWords(err)
	}
	if byEmail > attemptsPerEmail || byOrigin > attemptsPerOrigin && origin != knownDevice && origin != "" {
		return "", errTooManyGuesses
	}
	return email, nil
}

// NewSchool describes a school to be set up with its first director.
type NewSchool struct {
	School   schoolrows.School
	Name     string
	Email    string
	Password Secret
}

// SetUpSchool makes a school and its first director.
func (r *Room) SetUpSchool(ctx context.Context, in NewSchool) (journal.Person, error) {
	usual := care.UsualWeights
	in.School.WeighConvenience, in.School.WeighSound, in.School.WeighPlaying = usual[0], usual[1], usual[2]
	in.School.WeighHarm, in.School.WeighHealth = usual[3], usual[4]
	if in.School.HeatingBegins == "" && in.School.HeatingEnds == "" {
		in.School.HeatingBegins, in.School.HeatingEnds = clocks.DefaultHeatingBegins, clocks.DefaultHeatingEnds
	}
	if in.School.ChargeShare == 0 {
		in.School.ChargeShare = shop.WholeShare
	}
	if err := settings.CheckSchool(&in.School); err != nil {
		return journal.Person{}, err
	}
	hash, err := r.newHash(ctx, in.Password, in.School.Name, in.Name, in.Email)
	if err != nil {
		return journal.Person{}, err
	}
	p := peoplerows.Person{
		School: in.School.ID,
		ID:     uuid.Must(uuid.NewV7()),
		Email:  in.Email,
		Name:   in.Name,
		Role:   string(journal.Director),
		Hash:   hash,
		Active: true,
	}
	err = r.schools.DB.Write(ctx, in.School.ID, func(tx *store.Tx) error {
		if err := schoolrows.InsertSchool(ctx, tx, in.School); err != nil {
			return err
		}
		return peoplerows.PutPerson(ctx, tx, p)
	})
	return journal.Person{School: p.School, ID: p.ID, Name: p.Name, Role: journal.Director}, journal.InPlainWords(err)
}

// A Secret is a password on its way. It is written nowhere.
type Secret string

// MarshalJSON keeps it out of what is kept of a request, and out of logs.
func (Secret) MarshalJSON() ([]byte, error) { return []byte(`""`), nil }

// LogValue keeps it out of logs.
func (Secret) LogValue() slog.Value { return slog.StringValue("…") }

// hashing lets a few passwords be hashed at once, each of which takes 64 MiB, and a few more wait for that.
type hashing struct{ now, waiting chan struct{} }

const (
	hashedAtOnce  = 2
	hashesWaiting = 40 // with the usual tenth of a second each, two seconds
)

func newHashing() hashing {
	return hashing{make(chan struct{}, hashedAtOnce), make(chan struct{}, hashedAtOnce+hashesWaiting)}
}

// run runs f when it is its turn, and refuses at once when too many wait already.
func (h hashing) run(ctx context.Context, f func()) error {
	select {
	case h.waiting <- struct{}{}:
		defer func() { <-h.waiting }()
	default:
		return &journal.Fault{Kind: journal.Busy, Message: "Very many people sign in just now. Wait a moment, then try again."}
	}
	select {
	case h.now <- struct{}{}:
		defer func() { <-h.now }()
	case <-ctx.Done():
		return ctx.Err()
	}
	f()
	return nil
}

// newHash hashes a password that somebody has chosen. It refuses one that whoever knows these names would guess.
func (r *Room) newHash(ctx context.Context, password Secret, names ...string) (hash string, err error) {
	if err := checkStrength(password, names); err != nil {
		return "", err
	}
	if busy := r.hashing.run(ctx, func() { hash, err = argon2id.CreateHash(string(password), &r.Cost) }); busy != nil {
		return "", busy
	}
	return hash, err
}

// sealed is ctx with a request whose fingerprint holds the secrets too. They enter it by a slow hash that differs from request to
// request, so that nobody who reads what is kept of requests can guess them.
func (r *Room) sealed(ctx context.Context, secrets ...Secret) (context.Context, error) {
	request := journal.RequestOf(ctx)
	if request == nil || !slices.ContainsFunc(secrets, func(s Secret) bool { return s != "" }) {
		return ctx, nil
	}
	text, err := json.Marshal(plain(secrets))
	if err != nil {
		return ctx, err
	}
	err = r.hashing.run(ctx, func() {
		request.Fingerprint = argon2.IDKey(
			append(text, request.Fingerprint...),
			request.ID[:],
			r.Cost.Iterations,
			r.Cost.Memory,
			r.Cost.Parallelism,
			r.Cost.KeyLength,
		)
	})
	return journal.WithRequest(ctx, *request), err
}

func plain(secrets []Secret) (list []string) {
	for _, s := range secrets {
		list = append(list, string(s))
	}
	return list
}

// passwordMatches checks a password against a stored hash. With none that can be read it does the same work and says no.
func (r *Room) passwordMatches(ctx context.Context, hash string, password Secret) (same bool, err error) {
	err = r.hashing.run(ctx, func() {
		var unreadable error
		if same, unreadable = argon2id.ComparePasswordAndHash(string(password), hash); unreadable != nil {
			_, _ = argon2id.CreateHash(string(password), &r.Cost)
		}
	})
	return same, err
}
