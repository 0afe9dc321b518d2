package access

import (
	"context"
	"fmt"
	"strings"
	"unicode"

	"github.com/google/uuid"
	"github.com/trustelem/zxcvbn"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/store"
	"solfeggio/internal/store/schoolrows"
)

// What a password must be. Signing in is slowed down, so one that takes more than a million guesses is good enough (score 2 of 4 of
// D. L. Wheeler's zxcvbn, USENIX Security 2016). The library is of 2019 and finished: younger ones in Go follow the estimate of 2012.
const (
	shortestPassword = 8
	leastScore       = 2
)

// checkStrength refuses a password that is short or easily guessed by somebody who knows these names.
func checkStrength(password Secret, names []string) error {
	if len([]rune(password)) < shortestPassword {
		return journal.Refuse("password", fmt.Sprintf("use at least %d characters", shortestPassword), nil)
	}
	var known []string
	for _, name := range names {
		known = append(known, name)
		known = append(known, strings.FieldsFunc(name, func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })...)
	}
	if zxcvbn.PasswordStrength(string(password), known).Score < leastScore {
		return journal.Refuse("password", "is easily guessed; three or four words that have nothing to do with each other are good", nil)
	}
	return nil
}

// schoolName is the name of a school; empty for one that is not there yet.
func (r *Room) schoolName(ctx context.Context, id uuid.UUID) string {
	var name string
	_ = r.schools.DB.Read(ctx, id, func(tx *store.Tx) error { // without it the estimate knows a word less
		s, err := schoolrows.GetSchool(ctx, tx)
		name = s.Name
		return err
	})
	return name
}
