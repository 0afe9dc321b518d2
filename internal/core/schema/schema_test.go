package schema

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/day"
)

type shape struct {
	On    day.Day  `json:"on"`
	Kind  string   `json:"kind" jsonschema:"enum=a,enum=b"`
	Parts []part   `json:"parts" jsonschema:"minItems=1"`
	Most  *float64 `json:"most,omitempty"`
}

type part struct {
	Count int `json:"count" jsonschema:"minimum=1"`
}

func TestRead(t *testing.T) {
	s := Of[shape]()
	got, err := s.Read([]byte(`{"on":"2026-11-24","kind":"a","parts":[{"count":2}]}`))
	require.NoError(t, err)
	assert.Equal(t, shape{On: day.MustParse("2026-11-24"), Kind: "a", Parts: []part{{2}}}, got)
	tests := map[string]string{
		`{"kind":"a","parts":[{"count":2}]}`:                                      "on: missing",
		`{"on":"24.11.2026","kind":"a","parts":[{"count":2}]}`:                    `on: "24.11.2026" is not a day`,
		`{"on":"2026-11-24","kind":"c","parts":[{"count":2}]}`:                    "kind: value must be one of",
		`{"on":"2026-11-24","kind":"a","parts":[]}`:                               "parts: minItems",
		`{"on":"2026-11-24","kind":"a","parts":[{"count":2},{"count":0}]}`:        "parts[1].count: minimum",
		`{"on":"2026-11-24","kind":"a","parts":[{"count":2,"colour":"red"}]}`:     "parts[0].colour: unknown field",
		`{"on":"2026-11-24","kind":"a","parts":[{"count":99999999999999999999}]}`: "number 99999999999999999999 does not fit",
		`{"on":"2026-11-24","kind":"a","parts":[{"count":1}],"most":null}`:        "most: got null, want number",
		`{"on":"2026-11-24","kind":"a","parts":[{"count":1}],"most":NaN}`:         "the input is not JSON",
		`{"on":"2026-11-24","kind":"a","parts":[{"count":1}]} and more`:           "something stands after",
		"": "the input is empty",
	}
	for in, want := range tests {
		_, err := s.Read([]byte(in))
		assert.ErrorContains(t, err, want, in)
	}
}
