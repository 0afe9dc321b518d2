package formats

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"sync"

	"codeberg.org/go-pdf/fpdf"
)

// The drawings of the screen as chains of points; the front end's tests keep them alike.
//
//go:embed outlines.json
var outlineFile []byte

type outline struct {
	Turn    float64               `json:"turn"` // degrees, of the paths
	Box     [4]float64            `json:"box"`
	Paths   [][5]string           `json:"paths"`   // SVG path, transform, part, weight, open or not
	Strokes [][]float64           `json:"strokes"` // x and y in turn
	Fine    [][]float64           `json:"fine"`    // the same of details
	Hold    [][2]float64          `json:"hold"`    // where hands hold it
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
	for n, flat := range slices.Concat(of.Strokes, of.Fine) {
		s := Stroke{Fine: n >= len(of.Strokes)}
		for n := 0; n+1 < len(flat); n += 2 {
			s.Points = append(s.Points, [2]float64{flat[n], flat[n+1]})
		}
		strokes = append(strokes, s)
	}
	return strokes, of.Spots
}

// DrawingSVG is a drawing as an SVG picture in the colour of the text around it; empty for a name that has none.
func DrawingSVG(name string) string {
	of, known := outlines()[name]
	if !known {
		return ""
	}
	var b strings.Builder
	fmt.Fprintf(&b, `<svg viewBox="%g %g %g %g" aria-hidden="true"><g transform="rotate(%g)">`, of.Box[0], of.Box[1], of.Box[2],
		of.Box[3], of.Turn)
	for _, p := range of.Paths {
		moved := ""
		if p[1] != "" {
			moved = fmt.Sprintf(` transform="%s"`, p[1])
		}
		fmt.Fprintf(&b, `<path class="%s" d="%s"%s/>`, strings.TrimSpace(p[3]+" "+p[4]), p[0], moved)
	}
	b.WriteString("</g></svg>")
	return b.String()
}

// A Stroke of a drawing, in its own units. A fine one is a detail.
type Stroke struct {
	Points [][2]float64
	Fine   bool
}

// drawOutline draws strokes as large as a box allows, in its middle, and returns where a place of the drawing stands on the page. Without
// strokes nothing is drawn.
func drawOutline(pdf *fpdf.Fpdf, strokes []Stroke, x, y, width, height float64) (at func([2]float64) (float64, float64), drawn bool) {
	var low, high [2]float64
	for _, stroke := range strokes {
		for _, p := range stroke.Points {
			for axis := range p {
				if !drawn || p[axis] < low[axis] {
					low[axis] = p[axis]
				}
				if !drawn || p[axis] > high[axis] {
					high[axis] = p[axis]
				}
			}
			drawn = true
		}
	}
	if !drawn {
		return nil, false
	}
	w, h := max(1, high[0]-low[0]), max(1, high[1]-low[1])
	scale := min(width/w, height/h)
	left, top := x+(width-w*scale)/2, y+(height-h*scale)/2
	at = func(p [2]float64) (float64, float64) { return left + (p[0]-low[0])*scale, top + (p[1]-low[1])*scale }
	pdf.SetDrawColor(0, 0, 0)
	for _, stroke := range strokes {
		pdf.SetLineWidth(map[bool]float64{false: 0.25, true: 0.12}[stroke.Fine])
		for n := 1; n < len(stroke.Points); n++ {
			x1, y1 := at(stroke.Points[n-1])
			x2, y2 := at(stroke.Points[n])
			pdf.Line(x1, y1, x2, y2)
		}
	}
	return at, true
}
