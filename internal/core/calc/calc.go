// Package calc is the register through which the command line and HTTP reach the rules.
//
// A calculator is a pure function from one JSON object to another. Its input is checked against the schema of its Go
// type before it runs: unknown fields, missing fields and wrong types are refused by their JSON path, and the rule
// itself refuses values that cannot be.
package calc

import (
	"context"
	"encoding/json"

	"solfeggio/internal/core/schema"
)

// A Calculator is one registered rule.
type Calculator struct {
	Name string          `json:"name"`
	In   json.RawMessage `json:"input_schema"`
	Out  json.RawMessage `json:"output_schema"`

	call func(ctx context.Context, input []byte) (any, error)
}

// Call runs the calculator on a JSON object. An error names the offending field by its JSON path, or is that of ctx: a search ends
// when nobody waits for it any more.
func (c *Calculator) Call(ctx context.Context, input []byte) (any, error) { return c.call(ctx, input) }

// of makes a calculator from a rule that answers at once.
func of[In, Out any](name string, rule func(In) (Out, error)) *Calculator {
	return search(name, func(_ context.Context, in In) (Out, error) { return rule(in) })
}

// search makes a calculator from a rule that may take a while.
func search[In, Out any](name string, rule func(context.Context, In) (Out, error)) *Calculator {
	in := schema.Of[In]()
	return &Calculator{
		Name: name, In: in.JSON, Out: schema.Of[Out]().JSON,
		call: func(ctx context.Context, input []byte) (any, error) {
			v, err := in.Read(input)
			if err != nil {
				return nil, err
			}
			return rule(ctx, v)
		},
	}
}
