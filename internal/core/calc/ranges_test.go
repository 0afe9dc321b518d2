package calc

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/field"
)

// mostExact is up to where a browser reads a whole number exactly.
const mostExact = 1 << 53

// Whatever the schema of a calculator lets through gives an answer of finite numbers that a browser reads exactly, or an error that names
// a field. The inputs are drawn from the schema itself, extremes included.
func TestEveryInputIsAnsweredOrRefusedByName(t *testing.T) {
	for _, c := range All() {
		t.Run(c.Name, func(t *testing.T) {
			t.Parallel()
			var in shape
			require.NoError(t, json.Unmarshal(c.In, &in))
			rapid.Check(t, func(t *rapid.T) {
				input, err := json.Marshal(in.draw(t, "in", &in))
				if err != nil {
					t.Fatal(err)
				}
				out, err := c.Call(context.Background(), input)
				var refused *field.Error
				switch {
				case errors.As(err, &refused):
					if refused.Path == "" {
						t.Fatalf("%s\nrefused without a field: %v", input, err)
					}
					return
				case err != nil:
					t.Fatalf("%s\nno field error: %v", input, err)
				}
				text, err := json.Marshal(out)
				if err != nil {
					t.Fatalf("%s\nis answered by what is no JSON: %v", input, err)
				}
				var answer any
				if err := json.Unmarshal(text, &answer); err != nil {
					t.Fatal(err)
				}
				if wild := wildIn(answer, ""); wild != "" {
					t.Fatalf("%s\n%s in %s", input, wild, text)
				}
			})
		})
	}
}

// wildIn finds a number that no browser reads exactly.
func wildIn(v any, path string) string {
	switch v := v.(type) {
	case float64:
		if math.Abs(v) > mostExact {
			return fmt.Sprintf("%s is %v", path, v)
		}
	case []any:
		for n, x := range v {
			if w := wildIn(x, fmt.Sprintf("%s[%d]", path, n)); w != "" {
				return w
			}
		}
	case map[string]any:
		for name, x := range v {
			if w := wildIn(x, path+"."+name); w != "" {
				return w
			}
		}
	}
	return ""
}

// A shape is a JSON schema as far as the calculators use it.
type shape struct {
	Type       any
	Ref        string `json:"$ref"`
	Format     string
	Enum       []any
	Properties map[string]*shape
	Required   []string
	Items      *shape
	Additional json.RawMessage `json:"additionalProperties"`
	Minimum    *float64
	Maximum    *float64
	Defs       map[string]*shape `json:"$defs"`
}

// extremes are numbers at which sums break.
var extremes = []float64{0, 1, -1, 0.5, 2, 7, 30, 100, 365, 1e-10, -1e-10, 1e-300, 1e300, -1e300, math.MaxFloat64, 1e15, 1e18, -1e18, 9007199254740991}

var wholes = []int64{0, 1, -1, 2, 3, 7, 30, 365, 5000, 100_000, math.MaxInt32, math.MinInt32, math.MaxInt64, math.MinInt64, 1 << 53, -9223372036854775806}

func (s *shape) draw(t *rapid.T, name string, root *shape) any {
	if s.Ref != "" {
		s = root.Defs[s.Ref[strings.LastIndex(s.Ref, "/")+1:]]
	}
	if len(s.Enum) > 0 {
		return rapid.SampledFrom(s.Enum).Draw(t, name)
	}
	kinds, one := s.Type.([]any)
	if !one && s.Type != nil {
		kinds = []any{s.Type}
	}
	if len(kinds) == 0 {
		return nil
	}
	switch rapid.SampledFrom(kinds).Draw(t, name+" type") {
	case "number":
		if rapid.IntRange(0, 2).Draw(t, name+" usual") > 0 {
			return rapid.Float64Range(0, 100).Draw(t, name)
		}
		return rapid.SampledFrom(extremes).Draw(t, name)
	case "integer":
		if rapid.IntRange(0, 2).Draw(t, name+" usual") > 0 {
			return rapid.IntRange(0, 60).Draw(t, name)
		}
		return rapid.SampledFrom(wholes).Draw(t, name)
	case "boolean":
		return rapid.Bool().Draw(t, name)
	case "string":
		if s.Format == "date" {
			return rapid.SampledFrom([]string{"2026-11-24", "2026-12-01", "2027-06-30", "1969-12-01", "1970-01-01", "0001-01-01", "9999-12-31", "2024-02-29"}).Draw(t, name)
		}
		return rapid.SampledFrom([]string{"violin", "4/4", "a", "b", "", "van", "bench"}).Draw(t, name)
	case "array":
		list := []any{}
		for n := range rapid.IntRange(0, 4).Draw(t, name+" length") {
			list = append(list, s.Items.draw(t, fmt.Sprintf("%s[%d]", name, n), root))
		}
		return list
	case "object":
		object := map[string]any{}
		for _, key := range slices.Sorted(maps.Keys(s.Properties)) {
			p := s.Properties[key]
			if slices.Contains(s.Required, key) || rapid.Bool().Draw(t, name+"."+key+" given") {
				object[key] = p.draw(t, name+"."+key, root)
			}
		}
		var value shape
		if len(s.Properties) == 0 && json.Unmarshal(s.Additional, &value) == nil {
			for _, key := range []string{"a", "violin"} {
				object[key] = value.draw(t, name+"."+key, root)
			}
		}
		return object
	}
	return nil
}
