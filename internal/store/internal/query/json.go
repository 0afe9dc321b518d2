package query

import (
	"database/sql/driver"
	"encoding/json"
	"fmt"
	"reflect"
)

// JSON is a column that holds a value as JSON; NULL stands for nil.
type JSON[T any] struct{ Of T }

// AsJSON is a value on its way into such a column.
func AsJSON[T any](of T) JSON[T] { return JSON[T]{of} }

// Value writes it.
func (j JSON[T]) Value() (driver.Value, error) {
	text, err := json.Marshal(j.Of)
	if err != nil || string(text) == "null" {
		return nil, err
	}
	return string(text), nil
}

// Scan reads it.
func (j *JSON[T]) Scan(from any) error {
	switch text := from.(type) {
	case nil:
		*j = JSON[T]{}
		return nil
	case string:
		return json.Unmarshal([]byte(text), &j.Of)
	case []byte:
		return json.Unmarshal(text, &j.Of)
	}
	return fmt.Errorf("reading JSON from a %T", from)
}

// AsRows writes structs as jsonb_populate_recordset reads rows: objects with the columns of their db tags. One statement keeps any number.
func AsRows[T any](list []T) (string, error) {
	columns := map[string][]int{}
	of := reflect.TypeFor[T]()
	for _, f := range reflect.VisibleFields(of) {
		if column := f.Tag.Get("db"); column != "" && column != "-" {
			columns[column] = f.Index
		}
	}
	rows := make([]map[string]any, len(list))
	for n := range list {
		row := make(map[string]any, len(columns))
		for column, at := range columns {
			row[column] = reflect.ValueOf(&list[n]).Elem().FieldByIndex(at).Interface()
		}
		rows[n] = row
	}
	text, err := json.Marshal(rows)
	return string(text), err
}
