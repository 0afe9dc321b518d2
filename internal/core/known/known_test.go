package known

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/core/day"
)

func TestSentences(t *testing.T) {
	look := &Look{On: day.MustParse("2026-09-12"), By: "Ines Corvane"}
	seam := Fault{"Open seam", day.MustParse("2026-10-03"), "Pell Arrowby"}
	for name, x := range map[string]struct {
		of   Condition
		want []string
	}{
		"nobody has said a word": {Condition{}, []string{"Nobody has looked it over here yet."}},
		"a remark is no look": {Condition{Remark: " bridge\nwarped "}, []string{
			"Nobody has looked it over here yet.", "Remark in the school’s list: “bridge warped”."}},
		"one thing was found in passing": {Condition{Faults: []Fault{seam}}, []string{
			"Nobody has looked the whole of it over here yet.", "Open seam: known since 3 October 2026 by Pell Arrowby."}},
		"looked over":                  {Condition{Look: look}, []string{"Looked over on 12 September 2026 by Ines Corvane: nothing wrong is known."}},
		"looked over, by nobody known": {Condition{Look: &Look{On: day.MustParse("2026-09-12")}}, []string{"Looked over on 12 September 2026: nothing wrong is known."}},
		"ticked off": {Condition{Look: &Look{On: day.MustParse("2026-09-12"), Ticked: true}}, []string{
			"Its check was ticked off on 12 September 2026; what was seen was not written down."}},
		"looked over, and found later": {Condition{Look: look, Faults: []Fault{{Name: "Crack", Since: day.MustParse("2026-10-01")}, seam}}, []string{
			"Looked over on 12 September 2026 by Ines Corvane.", "Crack: known since 1 October 2026.", "Open seam: known since 3 October 2026 by Pell Arrowby."}},
	} {
		assert.Equal(t, x.want, x.of.Sentences(), name)
	}
}

// Whatever fact changes, a sentence changes with it.
func TestEachFactIsSaid(t *testing.T) {
	whole := func() Condition {
		return Condition{&Look{On: 20000, By: "A"}, []Fault{{"Crack", 20010, "B"}}, "scratched"}
	}
	said := whole().Sentences()
	for name, change := range map[string]func(*Condition){
		"when it was looked over": func(c *Condition) { c.Look.On++ },
		"who looked":              func(c *Condition) { c.Look.By = "C" },
		"that it was only ticked": func(c *Condition) { c.Look.Ticked = true },
		"that nobody looked":      func(c *Condition) { c.Look = nil },
		"what was found":          func(c *Condition) { c.Faults[0].Name = "Open seam" },
		"when it was found":       func(c *Condition) { c.Faults[0].Since++ },
		"who found it":            func(c *Condition) { c.Faults[0].By = "" },
		"that it was mended":      func(c *Condition) { c.Faults = nil },
		"what the remark says":    func(c *Condition) { c.Remark = "worn" },
		"that there is no remark": func(c *Condition) { c.Remark = "" },
	} {
		c := whole()
		change(&c)
		assert.NotEqual(t, said, c.Sentences(), name)
	}
}
