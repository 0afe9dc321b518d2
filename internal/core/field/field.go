// Package field holds errors that name their place in an input.
package field

import (
	"errors"
	"fmt"
)

// An Error says that something in an input cannot be used.
type Error struct {
	Path    string // as in JSON, such as rehearsals[0].minutes; empty for the input as a whole
	Message string // what is wrong there, for people
	Kind    error  // tells it apart where a caller must; nil where none does
}

func (e *Error) Error() string {
	if e.Path == "" {
		return e.Message
	}
	return e.Path + ": " + e.Message
}

// Unwrap is the kind.
func (e *Error) Unwrap() error { return e.Kind }

// Errorf is an Error at a path.
func Errorf(path, format string, args ...any) error {
	return &Error{Path: path, Message: fmt.Sprintf(format, args...)}
}

// Of is the place and the message of an error; an error that names no place concerns the input as a whole.
func Of(err error) *Error {
	var e *Error
	if errors.As(err, &e) {
		return e
	}
	return &Error{Message: err.Error()}
}

// Within is an error of something that stands at a path in a larger input.
func Within(path string, err error) error {
	if err == nil {
		return nil
	}
	e := *Of(err)
	if e.Path != "" {
		path += "." + e.Path
	}
	e.Path = path
	return &e
}
