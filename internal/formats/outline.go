package formats

import (
	_ "embed"
	"encoding/json"
	"sync"
)

// The drawings of the screen as chains of points; the front end's tests keep them alike.
//
//go:embed outlines.json
var outlineFile []byte

type outline struct {
	Strokes [][]float64           `json:"strokes"` // x and y in turn
	Spots   map[string][2]float64 `json:"spots"`
}

var outlines = sync.OnceValue(func() (all map[string]outline) {
	if err := json.Unmarshal(outlineFile, &all); err != nil {
		panic(err) // it is part of the program, as a test makes sure
	}
	return all
})

// Drawing is the outline of an instrument by the name of its drawing, and where its spots are, in units of its own; empty for a name that
// has none.
func Drawing(name string) (strokes []Stroke, spots map[string][2]float64) {
	of := outlines()[name]
	for _, flat := range of.Strokes {
		var s Stroke
		for n := 0; n+1 < len(flat); n += 2 {
			s.Points = append(s.Points, [2]float64{flat[n], flat[n+1]})
		}
		strokes = append(strokes, s)
	}
	return strokes, of.Spots
}
