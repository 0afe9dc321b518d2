// Package access decides who may come in: signing in, the people of a school, their passwords, and setting up a school.
package access

import (
	"context"

	"github.com/alexedwards/argon2id"

	"solfeggio/internal/app/school"
)

// A Room does it for all schools.
type Room struct {
	schools *school.Schools
	Mail    Mailer          // nil where no mail is set up
	Cost    argon2id.Params // of trying a password; a test that is about something else takes a lower one
	hashing hashing
}

// A Mailer hands letters to a mail server.
type Mailer interface {
	Send(ctx context.Context, to, subject, text string) error
}

// New makes the room.
func New(all *school.Schools) *Room {
	return &Room{schools: all, Cost: usualCost, hashing: newHashing()}
}
