package web_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/web"
)

// A schema as the document of the API writes it.
type schema struct {
	Ref        string `json:"$ref"`
	Type       any
	Format     string
	Enum       []any
	Default    any
	Minimum    *float64
	Above      *float64 `json:"exclusiveMinimum"`
	MinLength  int
	MinItems   int
	Pattern    string
	Items      *schema
	Properties map[string]*schema
	Required   []string
}

type parameter struct {
	Name, In string
	Required bool
	Schema   *schema
}

type operation struct {
	OperationID string
	Summary     string
	Parameters  []parameter
	RequestBody *struct {
		Content map[string]struct{ Schema *schema }
	}
	Security []map[string][]string
	Offers   bool `json:"x-offers"`

	Responses map[string]struct {
		Content map[string]struct{ Schema *schema }
	}

	method, path string
}

// contract is the document of the API, read as anybody outside would.
type contract struct {
	Paths      map[string]map[string]*operation
	Components struct{ Schemas map[string]*schema }

	full bool // examples give everything that may be given
}

func readContract(t testing.TB) (c contract, all []*operation) {
	t.Helper()
	text, err := web.OpenAPI()
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(text, &c))
	for _, path := range slices.Sorted(maps.Keys(c.Paths)) {
		for _, method := range slices.Sorted(maps.Keys(c.Paths[path])) {
			o := c.Paths[path][method]
			o.method, o.path = strings.ToUpper(method), path
			all = append(all, o)
		}
	}
	require.Greater(t, len(all), 50)
	return c, all
}

// example is the least that a schema asks for, or all of it.
func (c contract) example(s *schema) any {
	if s.Ref != "" {
		return c.example(c.Components.Schemas[s.Ref[strings.LastIndex(s.Ref, "/")+1:]])
	}
	kind := fmt.Sprint(s.Type)
	switch {
	case s.Default != nil:
		return s.Default
	case len(s.Enum) > 0:
		return s.Enum[0]
	case strings.Contains(kind, "object"):
		out := map[string]any{}
		for name, of := range s.Properties {
			if name != "$schema" && (c.full || slices.Contains(s.Required, name)) {
				out[name] = c.example(of)
			}
		}
		return out
	case strings.Contains(kind, "array"):
		out := []any{}
		for range max(s.MinItems, map[bool]int{true: 1}[c.full]) {
			out = append(out, c.example(s.Items))
		}
		return out
	case strings.Contains(kind, "number"), strings.Contains(kind, "integer"):
		if s.Above != nil {
			return *s.Above + 1
		}
		if s.Minimum != nil && *s.Minimum > 0 {
			return *s.Minimum
		}
		return 0
	case strings.Contains(kind, "boolean"):
		return false
	}
	if strings.Contains(s.Pattern, "-") && strings.Contains(s.Pattern, "[0-3]") {
		return "10-15" // a day of the year
	}
	switch s.Format {
	case "uuid":
		return uuid.NewString()
	case "date":
		return "2026-11-20"
	case "date-time":
		return "2026-11-20T08:00:00Z"
	case "email":
		return "tiva@quillhaven.example"
	}
	return "Aa1" + strings.Repeat("a", max(0, s.MinLength-3))
}

// text is an example as it stands in an address.
func (c contract) text(s *schema) string {
	if list, ok := c.example(s).([]any); ok {
		var parts []string
		for _, one := range list {
			parts = append(parts, fmt.Sprint(one))
		}
		return strings.Join(parts, ",")
	}
	return fmt.Sprint(c.example(s))
}

// url fills the address of an operation: the id given, and what must stand in the query.
func (c contract) url(o *operation, id string) string {
	path, query := o.path, ""
	for _, p := range o.Parameters {
		switch {
		case p.In == "path" && p.Name == "id":
			path = strings.ReplaceAll(path, "{id}", id)
		case p.In == "path":
			path = strings.ReplaceAll(path, "{"+p.Name+"}", fmt.Sprint(c.example(p.Schema)))
		case p.In == "query" && p.Required:
			query += fmt.Sprintf("&%s=%v", p.Name, c.example(p.Schema))
		}
	}
	return path + "?" + strings.TrimPrefix(query, "&")
}

// body is the least body of an operation and its type; empty when there is none.
func (c contract) body(t *testing.T, o *operation) (body, kind string) {
	t.Helper()
	if o.RequestBody == nil {
		return "", ""
	}
	for kind, content := range o.RequestBody.Content {
		if kind != "application/json" {
			return "given_name\nOde\n", kind
		}
		text, err := json.Marshal(c.example(content.Schema))
		require.NoError(t, err)
		return string(text), kind
	}
	return "", ""
}
