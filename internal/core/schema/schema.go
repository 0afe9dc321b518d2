// Package schema checks JSON against the shape of a Go type and says in one sentence what does not fit, and where.
//
// A field without "omitempty" is required, and fields that the type does not have are refused.
package schema

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"reflect"
	"strconv"
	"strings"

	reflector "github.com/invopop/jsonschema"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/santhosh-tekuri/jsonschema/v6/kind"
	"golang.org/x/text/language"
	"golang.org/x/text/message"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
)

// A Schema reads JSON into T.
type Schema[T any] struct {
	JSON  json.RawMessage // the JSON Schema document
	check *jsonschema.Schema
}

// Of derives the schema of T from its json and jsonschema tags. It panics on a type that has none, which is a
// programming error.
func Of[T any]() *Schema[T] {
	r := reflector.Reflector{
		Anonymous: true, DoNotReference: true,
		Mapper: func(t reflect.Type) *reflector.Schema {
			if t == reflect.TypeFor[day.Day]() {
				return &reflector.Schema{Type: "string", Format: "date"}
			}
			return nil
		},
	}
	text, err := json.Marshal(r.ReflectFromType(reflect.TypeFor[T]()))
	if err != nil {
		panic(err)
	}
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
	if err != nil {
		panic(err)
	}
	allowNull(reflect.TypeFor[T](), doc)
	if text, err = json.Marshal(doc); err != nil {
		panic(err)
	}
	compiler := jsonschema.NewCompiler()
	compiler.AssertFormat()
	if err := compiler.AddResource("schema.json", doc); err != nil {
		panic(err)
	}
	return &Schema[T]{JSON: text, check: compiler.MustCompile("schema.json")}
}

// allowNull lets a schema take null where the Go type holds a pointer and the value must be given: in lists, and in fields
// without "omitempty". The reflector knows pointers only as what may be left out.
func allowNull(t reflect.Type, doc any) {
	at, ok := doc.(map[string]any)
	if !ok {
		return
	}
	for t.Kind() == reflect.Pointer {
		t = t.Elem()
	}
	switch t.Kind() {
	case reflect.Slice, reflect.Array:
		allowNull(t.Elem(), at["items"])
		at["items"] = orNull(t.Elem(), at["items"])
	case reflect.Map:
		allowNull(t.Elem(), at["additionalProperties"])
	case reflect.Struct:
		properties, _ := at["properties"].(map[string]any)
		for _, f := range reflect.VisibleFields(t) {
			name, options, _ := strings.Cut(f.Tag.Get("json"), ",")
			of, known := properties[name]
			if !known {
				continue
			}
			allowNull(f.Type, of)
			if !strings.Contains(options, "omitempty") {
				properties[name] = orNull(f.Type, of)
			}
		}
	}
}

// orNull is a schema that takes null besides, if the type is a pointer.
func orNull(t reflect.Type, doc any) any {
	of, ok := doc.(map[string]any)
	if t.Kind() != reflect.Pointer || !ok {
		return doc
	}
	if kind, plain := of["type"].(string); plain && of["enum"] == nil {
		of["type"] = []any{kind, "null"}
		return of
	}
	return map[string]any{"anyOf": []any{of, map[string]any{"type": "null"}}}
}

// Read checks one JSON value and decodes it. Errors name the field by its path, such as rehearsals[0].minutes.
func (s *Schema[T]) Read(input []byte) (T, error) {
	var v T
	value, err := one(input)
	if err != nil {
		return v, field.Within("$", err)
	}
	if err := s.check.Validate(value); err != nil {
		return v, firstFault(err)
	}
	if err := json.Unmarshal(input, &v); err != nil {
		var wrong *json.UnmarshalTypeError
		if errors.As(err, &wrong) {
			dec := json.NewDecoder(bytes.NewReader(input))
			dec.UseNumber()
			at, _ := placeOf(wrong.Offset, dec, nil)
			return v, field.Errorf(at, "%s does not fit", wrong.Value)
		}
		return v, err
	}
	return v, nil
}

// placeOf reads one value and finds the path of the part of it that ends at an offset. The decoder's own error does not say at which
// entry of a list it stood.
func placeOf(offset int64, dec *json.Decoder, at []string) (string, bool) {
	token, err := dec.Token()
	if err != nil {
		return path(at), false
	}
	if open, ok := token.(json.Delim); ok {
		for i := 0; dec.More(); i++ {
			place := strconv.Itoa(i)
			if open == '{' {
				key, _ := dec.Token()
				place, _ = key.(string)
			}
			if found, ok := placeOf(offset, dec, append(at, place)); ok {
				return found, true
			}
		}
		_, _ = dec.Token() // what closes it
	}
	return path(at), dec.InputOffset() >= offset
}

func one(input []byte) (any, error) {
	if len(bytes.TrimSpace(input)) == 0 {
		return nil, errors.New("the input is empty; give one JSON object")
	}
	dec := json.NewDecoder(bytes.NewReader(input))
	dec.UseNumber()
	var value any
	if err := dec.Decode(&value); err != nil {
		return nil, fmt.Errorf("the input is not JSON: %w", err)
	}
	if _, err := dec.Token(); err != io.EOF {
		return nil, errors.New("something stands after the JSON object")
	}
	return value, nil
}

var english = message.NewPrinter(language.English)

// firstFault finds the first place in the validator's tree that does not fit.
func firstFault(err error) error {
	var v *jsonschema.ValidationError
	if !errors.As(err, &v) {
		return err
	}
	for len(v.Causes) > 0 {
		v = v.Causes[0]
	}
	switch k := v.ErrorKind.(type) {
	case *kind.AdditionalProperties:
		return field.Errorf(path(v.InstanceLocation, k.Properties[0]), "unknown field")
	case *kind.Required:
		return field.Errorf(path(v.InstanceLocation, k.Missing[0]), "missing")
	case *kind.Type:
		return field.Errorf(path(v.InstanceLocation), "got %s, want %s", k.Got, strings.Join(k.Want, " or "))
	case *kind.Format: // the only format in use
		return field.Errorf(path(v.InstanceLocation), "%q is not a day; write it as \"2026-11-24\"", k.Got)
	}
	return field.Errorf(path(v.InstanceLocation), "%s", v.ErrorKind.LocalizedString(english))
}

func path(at []string, more ...string) string {
	var b strings.Builder
	for _, p := range append(append([]string{}, at...), more...) {
		if _, err := strconv.Atoi(p); err == nil {
			b.WriteString("[" + p + "]")
			continue
		}
		if b.Len() > 0 {
			b.WriteByte('.')
		}
		b.WriteString(p)
	}
	if b.Len() == 0 {
		return "$"
	}
	return b.String()
}
