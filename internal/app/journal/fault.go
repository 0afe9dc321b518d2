package journal

import (
	"errors"

	"solfeggio/internal/core/field"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
)

// FaultKind says what sort of answer a fault needs.
type FaultKind int

// The kinds of faults that are a person's to mend.
const (
	Invalid FaultKind = iota
	Unauthorized
	Forbidden
	NotFound
	Conflict
	TooMany
	Busy
)

// A Fault is an error that a person can do something about. Its message is written for them.
type Fault struct {
	Kind    FaultKind
	Message string
	Fields  []Field
}

// A Field is one place in the input that cannot be used.
type Field struct {
	Path    string
	Message string
	Value   any
}

func (f *Fault) Error() string { return f.Message }

// Refuse is the fault of one field of an input.
func Refuse(path, message string, value any) error {
	return &Fault{Kind: Invalid, Message: "Some fields cannot be used.", Fields: []Field{{path, message, value}}}
}

// RefuseInput is the fault of the field that an error of core names.
func RefuseInput(err error) error {
	at := field.Of(err)
	return Refuse(at.Path, at.Message, nil)
}

// InPlainWords turns what the store reports into faults that a person can act on.
func InPlainWords(err error) error {
	var v *store.Violation
	switch {
	case errors.Is(err, store.ErrNotFound):
		return &Fault{Kind: NotFound, Message: "This is not there, or not any more."}
	case errors.Is(err, store.ErrStale):
		return &Fault{
			Kind:    Conflict,
			Message: "Somebody else changed this since you opened it. What you typed is still here; reload to see theirs, then save again.",
		}
	case errors.Is(err, store.ErrCharacter):
		return &Fault{Kind: Invalid, Message: "A text holds a character that cannot be kept. Type it again."}
	case errors.Is(err, eventrows.ErrOtherRequest):
		return &Fault{Kind: Conflict, Message: "This was sent before with other contents, or by somebody else."}
	case errors.As(err, &v):
		if f, ok := violations[v.Constraint]; ok {
			return f
		}
		return &Fault{Kind: Conflict, Message: "This contradicts something that is already kept (" + v.Constraint + ")."}
	}
	return err
}

var violations = map[string]*Fault{
	"term_overlap": {Kind: Invalid, Message: "Two terms overlap.", Fields: []Field{{Path: "starts_on", Message: "lies in another term"}}},
	"ensemble_name": {
		Kind:    Invalid,
		Message: "There is an ensemble of that name already.",
		Fields:  []Field{{Path: "name", Message: "is taken"}},
	},
	"always_a_director": {
		Kind:    Conflict,
		Message: "This is the last director, and a school always has one. Make somebody else a director first.",
	},
	"person_email": {
		Kind:    Invalid,
		Message: "This e-mail address is taken.",
		Fields:  []Field{{Path: "email", Message: "this e-mail address is taken"}},
	},
	"instrument_tag": {
		Kind:    Invalid,
		Message: "There is an instrument with that tag already.",
		Fields:  []Field{{Path: "tag", Message: "is taken"}},
	},
	"assignment_ensemble_school_id_ensemble_id_fkey": {
		Kind:    Conflict,
		Message: "Instruments still play in this ensemble. Take them out first.",
	},
	"concert_ensemble_school_id_ensemble_id_fkey": {
		Kind:    Invalid,
		Message: "One of the ensembles is not there any more.",
		Fields:  []Field{{Path: "ensembles", Message: "holds an unknown ensemble"}},
	},
	"assignment_school_id_player_id_fkey": {Kind: Conflict, Message: "That player was erased in the meantime."},
	"player_external_id": {
		Kind:    Invalid,
		Message: "Another player has that id in the roster.",
		Fields:  []Field{{Path: "external_id", Message: "is another player's"}},
	},
	"assignment_overlap": {Kind: Conflict, Message: "Somebody else handed it out in the meantime."},
	"player_ensemble_school_id_ensemble_id_fkey": {
		Kind:    Conflict,
		Message: "Players still belong to this ensemble. Take them out first.",
	},
	"shelf_name": {
		Kind:    Invalid,
		Message: "There is a shelf of that name in the room already.",
		Fields:  []Field{{Path: "name", Message: "is taken in this room"}},
	},
	"hand_over_open":  {Kind: Conflict, Message: "Somebody else handed it out in the meantime."},
	"hold_open":       {Kind: Conflict, Message: "It is held again since, for another reason."},
	"bench_item_open": {Kind: Conflict, Message: "One of them lies on another bench already. Finish it there or take it off."},
	"product_name": {
		Kind:    Invalid,
		Message: "There is a product of that name already.",
		Fields:  []Field{{Path: "name", Message: "is taken"}},
	},
	"charge_once":       {Kind: Conflict, Message: "This return was charged for already."},
	"notice_once":       {Kind: Conflict, Message: "This was sent already. Nothing was sent twice."},
	"rental_running":    {Kind: Conflict, Message: "It is rented under another contract already."},
	"finding_open":      {Kind: Conflict, Message: "The same was found again since, so it stands open as it is."},
	"event_undone_once": {Kind: Conflict, Message: "This was undone already."},
}
