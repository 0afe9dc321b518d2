package access

import (
	"bytes"
	"context"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"image/png"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/pquerna/otp"
	"github.com/pquerna/otp/hotp"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/peoplerows"
	"solfeggio/internal/store/schoolrows"
)

// A second factor is a code of six digits that changes every half minute (RFC 6238, with HMAC-SHA-1 as all the programs for telephones
// have it), asked for beside the password. Codes on paper stand in for the telephone, each once.
const (
	stepSeconds = 30
	stepsAround = 1 // a telephone's clock may be so many steps off
	paperCodes  = 10
	pictureEdge = 240 // points
)

// SecondFactor is how one's own stands.
type SecondFactor struct {
	On       bool     `json:"on"`
	Since    *day.Day `json:"since,omitempty"`
	OnPaper  int      `json:"on_paper" doc:"Codes on paper that were not used yet"`
	Asked    bool     `json:"asked" doc:"The school asks for it, or for a passkey"`
	Passkeys int      `json:"passkeys" doc:"How many one has"`
}

// NewFactor turns a second factor on. Its secrets are made by the client.
type NewFactor struct {
	Secret   Secret   `json:"secret" maxLength:"32" doc:"32 letters and digits of base 32 (RFC 4648), 160 bits of chance"`
	Code     Secret   `json:"code" maxLength:"20" doc:"Of the telephone, which shows that it has the secret"`
	Paper    []Secret `json:"paper" minItems:"10" maxItems:"10" doc:"Codes to print, each at least 16 characters of chance"`
	Password Secret   `json:"password" maxLength:"200" doc:"One's own, once more"`
}

// FactorAddress is a secret as a telephone takes it.
type FactorAddress struct {
	Address string `json:"address" doc:"otpauth://"`
	Picture string `json:"picture" doc:"A QR code of it, as a data: address of a PNG"`
}

// errCodeWanted says that the password was right and a code is asked for too.
var errCodeWanted = &journal.Fault{
	Kind: journal.Unauthorized, Message: "Type the code that your telephone shows now, or one from paper.",
	Fields: []journal.Field{{Path: "code", Message: "is asked for too"}},
}

var errCodeWrong = &journal.Fault{
	Kind: journal.Unauthorized, Message: "This code is not right, or was used already. Codes change every half minute.",
	Fields: []journal.Field{{Path: "code", Message: "is not right"}},
}

var errPasskeyWanted = &journal.Fault{
	Kind: journal.Unauthorized, Message: "Your school asks for more than a password. Sign in with your passkey.",
}

// passes checks the code beside a password that was right. Each code serves once. Where the school asks for a second factor and somebody
// has passkeys only, the password alone does not do.
func (r *Room) passes(ctx context.Context, p peoplerows.Person, code Secret) error {
	return r.schools.DB.WriteAside(ctx, p.School, func(tx *store.Tx) error {
		f, err := peoplerows.SecondFactorOf(ctx, tx, p.ID)
		switch {
		case errors.Is(err, store.ErrNotFound):
			asked, err := factorAsked(ctx, tx, journal.Role(p.Role))
			if err != nil || !asked {
				return err // none was chosen
			}
			keys, err := peoplerows.Passkeys(ctx, tx, p.ID)
			if err != nil || len(keys) == 0 {
				return err // the next step is to choose one
			}
			return errPasskeyWanted
		case err != nil:
			return err
		case code == "":
			return errCodeWanted
		}
		return r.use(ctx, tx, p.ID, f, code)
	})
}

func (r *Room) use(ctx context.Context, tx *store.Tx, person uuid.UUID, f peoplerows.SecondFactor, code Secret) error {
	typed := plainCode(code)
	step, ok := stepOf(f.Secret, typed, r.schools.Now())
	err := error(nil)
	if ok {
		err = peoplerows.UseStep(ctx, tx, person, step)
	} else {
		err = peoplerows.UsePaperCode(ctx, tx, person, journal.Digest(typed), day.Of(r.schools.Now()))
	}
	if errors.Is(err, store.ErrStale) {
		return errCodeWrong
	}
	return err
}

// plainCode is a code as it was meant: without the blanks and dashes by which it is read out.
func plainCode(code Secret) string {
	return strings.NewReplacer(" ", "", "-", "").Replace(strings.ToLower(string(code)))
}

// stepOf finds the half minute around now whose code was typed.
func stepOf(secret, typed string, now time.Time) (step int64, ok bool) {
	at := now.Unix() / stepSeconds
	for step := at - stepsAround; step <= at+stepsAround; step++ {
		code, err := hotp.GenerateCodeCustom(secret, uint64(step), hotp.ValidateOpts{Digits: otp.DigitsSix, Algorithm: otp.AlgorithmSHA1})
		if err == nil && subtle.ConstantTimeCompare([]byte(code), []byte(typed)) == 1 {
			return step, true
		}
	}
	return 0, false
}

func factorAsked(ctx context.Context, tx *store.Tx, role journal.Role) (bool, error) {
	s, err := schoolrows.GetSchool(ctx, tx)
	return s.SecondFactor == "everybody" || s.SecondFactor == "directors" && role == journal.Director, err
}

// LacksFactor reports whether the school asks somebody who has just signed in for a second factor that they do not have.
func (r *Room) LacksFactor(ctx context.Context, p journal.Person) (bool, error) {
	f, err := r.OwnFactor(ctx, p)
	return f.Asked && !f.On && f.Passkeys == 0, err
}

// OwnFactor says how one's own second factor stands.
func (r *Room) OwnFactor(ctx context.Context, by journal.Person) (out SecondFactor, err error) {
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		var err error
		if out.Asked, err = factorAsked(ctx, tx, by.Role); err != nil {
			return err
		}
		keys, err := peoplerows.Passkeys(ctx, tx, by.ID)
		if err != nil {
			return err
		}
		out.Passkeys = len(keys)
		f, err := peoplerows.SecondFactorOf(ctx, tx, by.ID)
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		out.On, out.Since, out.OnPaper = err == nil, &f.Since, f.OnPaper
		return err
	})
	return out, journal.InPlainWords(err)
}

// AddressOf makes of a secret what a telephone takes. Nothing is kept.
func (r *Room) AddressOf(ctx context.Context, by journal.Person, secret Secret) (FactorAddress, error) {
	if err := checkFactorSecret(secret); err != nil {
		return FactorAddress{}, err
	}
	var email string
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		p, err := peoplerows.GetPerson(ctx, tx, by.ID)
		email = p.Email
		return err
	}); err != nil {
		return FactorAddress{}, journal.InPlainWords(err)
	}
	address := url.URL{Scheme: "otpauth", Host: "totp", Path: "/Solfeggio:" + email,
		RawQuery: url.Values{"secret": {string(secret)}, "issuer": {"Solfeggio"}}.Encode()}
	key, err := otp.NewKeyFromURL(address.String())
	if err != nil {
		return FactorAddress{}, fmt.Errorf("the address of a second factor: %w", err)
	}
	picture, err := key.Image(pictureEdge, pictureEdge)
	if err != nil {
		return FactorAddress{}, fmt.Errorf("the picture of a second factor: %w", err)
	}
	var file bytes.Buffer
	if err := png.Encode(&file, picture); err != nil {
		return FactorAddress{}, err
	}
	return FactorAddress{address.String(), "data:image/png;base64," + base64.StdEncoding.EncodeToString(file.Bytes())}, nil
}

func checkFactorSecret(secret Secret) error {
	if len(secret) != 32 || strings.Trim(string(secret), "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567") != "" {
		return journal.Refuse("secret", "is not 32 letters and digits of base 32", nil)
	}
	return nil
}

// TurnOnFactor gives oneself a second factor; one that is there is turned off first, which takes a code of it. It signs one out everywhere
// else.
func (r *Room) TurnOnFactor(ctx context.Context, by journal.Person, in NewFactor) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	if err := checkFactorSecret(in.Secret); err != nil {
		return err
	}
	digests := make([][]byte, len(in.Paper))
	for n, code := range in.Paper {
		typed := plainCode(code)
		if len(typed) < 16 {
			return journal.Refuse(fmt.Sprintf("paper[%d]", n), "has less than 16 characters", nil)
		}
		digests[n] = journal.Digest(typed)
		if slices.ContainsFunc(digests[:n], func(d []byte) bool { return bytes.Equal(d, digests[n]) }) {
			return journal.Refuse(fmt.Sprintf("paper[%d]", n), "stands twice", nil)
		}
	}
	ctx, err := r.sealed(ctx, append([]Secret{in.Secret, in.Password}, in.Paper...)...)
	if err != nil {
		return err
	}
	return r.changeFactor(ctx, by, in.Password, "second-factor-on", func(tx *store.Tx, today day.Day) error {
		if _, err := peoplerows.SecondFactorOf(ctx, tx, by.ID); !errors.Is(err, store.ErrNotFound) {
			return errors.Join(err, &journal.Fault{Kind: journal.Conflict, Message: "You have a second factor. Turn it off first, with a code of it."})
		}
		step, ok := stepOf(string(in.Secret), plainCode(in.Code), r.schools.Now())
		if !ok {
			return journal.Refuse("code", "is not the one of this secret; is the telephone's clock right?", nil)
		}
		if err := peoplerows.PutSecondFactor(ctx, tx, by.ID, peoplerows.SecondFactor{Secret: string(in.Secret), Since: today, LastStep: step}, digests); err != nil {
			return err
		}
		return peoplerows.EndSessions(ctx, tx, by.ID, by.Session)
	})
}

// TurnOffFactor takes one's own second factor away, for who has the password and a code. Where the school asks for one, another is chosen
// before anything else is done.
func (r *Room) TurnOffFactor(ctx context.Context, by journal.Person, password, code Secret) error {
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	ctx, err := r.sealed(ctx, password)
	if err != nil {
		return err
	}
	return r.changeFactor(ctx, by, password, "second-factor-off", func(tx *store.Tx, _ day.Day) error {
		f, err := peoplerows.SecondFactorOf(ctx, tx, by.ID)
		if err != nil {
			return err
		}
		if err := r.use(ctx, tx, by.ID, f, code); err != nil {
			return journal.Refuse("code", "is not right, or was used already", nil)
		}
		return peoplerows.DropSecondFactor(ctx, tx, by.ID)
	})
}

// changeFactor changes a second factor, for who knows their own password.
func (r *Room) changeFactor(ctx context.Context, by journal.Person, password Secret, operation string, f func(*store.Tx, day.Day) error) error {
	return r.inPerson(ctx, by, password, func(tx *store.Tx, today day.Day) (map[string]any, error) {
		return map[string]any{"operation": operation}, f(tx, today)
	})
}

// DropFactorOf takes away the second factor and the passkeys of somebody who has lost their telephone and their paper. The director who
// does it gives
// their own password once more, and has looked who is asking.
func (r *Room) DropFactorOf(ctx context.Context, by journal.Person, person uuid.UUID, password Secret) error {
	if err := by.Need(journal.MayChangeSettings); err != nil {
		return err
	}
	if err := by.NeedInPerson(); err != nil {
		return err
	}
	ctx, err := r.sealed(ctx, password)
	if err != nil {
		return err
	}
	return r.changeFactor(ctx, by, password, "second-factor-lost", func(tx *store.Tx, _ day.Day) error {
		if _, err := peoplerows.GetPerson(ctx, tx, person); err != nil {
			return err
		}
		return dropFactors(ctx, tx, person, by.Session)
	})
}

// DropFactorByCommand is DropFactorOf from the server's own command line, for the director whom nobody else can let in again.
func (r *Room) DropFactorByCommand(ctx context.Context, email string) error {
	p, err := r.called(ctx, email)
	if err != nil {
		return err
	}
	return journal.InPlainWords(r.schools.DB.Write(ctx, p.School, func(tx *store.Tx) error {
		return dropFactors(ctx, tx, p.ID, "")
	}))
}

// dropFactors takes away what was on a lost telephone, and signs its owner out everywhere but in one session.
func dropFactors(ctx context.Context, tx *store.Tx, person uuid.UUID, but string) error {
	if err := peoplerows.DropSecondFactor(ctx, tx, person); err != nil {
		return err
	}
	if err := endPasskeys(ctx, tx, person, nil); err != nil {
		return err
	}
	return peoplerows.EndSessions(ctx, tx, person, but)
}
