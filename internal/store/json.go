package store

import (
	"database/sql/driver"
	"encoding/json"
	"fmt"
)

// asJSON is a column that holds a value as JSON; NULL stands for nil.
type asJSON[T any] struct{ Of T }

// Value writes it.
func (j asJSON[T]) Value() (driver.Value, error) {
	text, err := json.Marshal(j.Of)
	if err != nil || string(text) == "null" {
		return nil, err
	}
	return string(text), nil
}

// Scan reads it.
func (j *asJSON[T]) Scan(from any) error {
	switch text := from.(type) {
	case nil:
		*j = asJSON[T]{}
		return nil
	case string:
		return json.Unmarshal([]byte(text), &j.Of)
	case []byte:
		return json.Unmarshal(text, &j.Of)
	}
	return fmt.Errorf("reading JSON from a %T", from)
}
