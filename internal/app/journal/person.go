package journal

import (
	"fmt"
	"strings"

	"github.com/google/uuid"
)

// Person is who is signed in.
type Person struct {
	School uuid.UUID `json:"-"`
	ID     uuid.UUID `json:"id"`
	Name   string    `json:"name"`
	Role   Role      `json:"role" enum:"director,assistant,helper,viewer"`

	Session string    `json:"-"` // in which they are signed in, by its token as it is kept; empty for a script
	Key     uuid.UUID `json:"-"` // with which a script speaks for them; zero for themselves
}

// Role is what a person may do.
type Role string

// The roles, from most to least.
const (
	Director  Role = "director"
	Assistant Role = "assistant"
	Helper    Role = "helper"
	Viewer    Role = "viewer"
)

// A Right is something that a role may do.
type Right string

// The rights.
const (
	MayFinishCare        Right = "finish care"
	MayInspect           Right = "inspect"
	MayClearStops        Right = "clear stops"
	MayChangeInstruments Right = "change instruments"
	MayChangeSettings    Right = "change settings"

	MayChangeOwnPassword Right = "change the own password" // everybody may, so it is not listed
)

var rights = map[Role][]Right{
	Director:  {MayFinishCare, MayInspect, MayClearStops, MayChangeInstruments, MayChangeSettings},
	Assistant: {MayFinishCare, MayInspect, MayClearStops, MayChangeInstruments},
	Helper:    {MayFinishCare, MayInspect},
}

// Lesser is the one of two roles that may do less.
func (r Role) Lesser(other Role) Role {
	if len(rights[r]) < len(rights[other]) {
		return r
	}
	return other
}

// Known reports whether there is such a role.
func (r Role) Known() bool { return rights[r] != nil || r == Viewer }

// Rights lists what the person may do.
func (p Person) Rights() []Right { return append([]Right{}, rights[p.Role]...) }

// oneOf names one of the role at the beginning of a sentence.
func (r Role) oneOf() string {
	if strings.ContainsAny(string(r)[:1], "aeiou") {
		return "An " + string(r)
	}
	return "A " + string(r)
}

// NeedInPerson is the fault that a key asks for what concerns ways in, which could go on working when the key has ended; nil for somebody
// who signed in.
func (p Person) NeedInPerson() error {
	if p.Key == uuid.Nil {
		return nil
	}
	return &Fault{Kind: Forbidden, Message: "Keys, links, people and passwords are closed to a key. Sign in with your password."}
}

// Need is the fault that a right is missing; nil when the person has it.
func (p Person) Need(r Right) error {
	if r == MayChangeOwnPassword {
		return nil
	}
	for _, has := range rights[p.Role] {
		if has == r {
			return nil
		}
	}
	return &Fault{Kind: Forbidden, Message: fmt.Sprintf("%s may not %s; ask the director.", p.Role.oneOf(), r)}
}
