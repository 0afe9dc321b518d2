package condition

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/catalog"
)

// Every symptom, whatever is answered, ends in a finding, and does so after few questions.
func TestEveryDiagnosisReachesAnEnd(t *testing.T) {
	c := catalog.Embedded()
	for i := range c.Symptoms {
		s := &c.Symptoms[i]
		ends := 0
		var walk func(answers []bool)
		walk = func(answers []bool) {
			require.LessOrEqual(t, len(answers), 2*len(s.Checks), "%s does not end", s.Key)
			step, err := Diagnose(c, s, answers)
			require.NoError(t, err)
			if step.End != nil {
				require.Nil(t, step.Ask)
				require.NotNil(t, step.End.Finding, "%s after %v", s.Key, answers)
				_, err = Diagnose(c, s, append(answers, true))
				require.ErrorContains(t, err, "are too many")
				ends++
				return
			}
			require.NotEmpty(t, step.Ask.Text)
			walk(append(answers[:len(answers):len(answers)], true))
			walk(append(answers[:len(answers):len(answers)], false))
		}
		walk(nil)
		assert.Greater(t, ends, 1, s.Key)
	}
}

// A buzz, from the outside in: seam, crack, string, what is loose, nut, board, then the luthier. Common practice.
func TestABuzz(t *testing.T) {
	c := catalog.Embedded()
	buzz, _ := c.Symptom("buzz")
	ask := func(answers ...bool) Step {
		step, err := Diagnose(c, buzz, answers)
		require.NoError(t, err)
		return step
	}
	assert.Equal(t, "look", ask().Ask.Risk)
	assert.Equal(t, "open-seam", ask(true).End.Finding.Code)
	assert.Equal(t, "crack", ask(false, true).End.Finding.Code)
	loose := ask(false, false, false, true)
	assert.Equal(t, "Does that help?", loose.Ask.Text)
	assert.NotEmpty(t, loose.Ask.Try)
	assert.True(t, ask(false, false, false, true, true).End.Fixed)
	assert.Equal(t, "chin-rest-loose", ask(false, false, false, true, false).End.Finding.Code, "it did not help, so the finding remains")
	assert.Equal(t, "cannot-tell", ask(false, false, false, false, false, false).End.Finding.Code)
}

func TestParseMeasure(t *testing.T) {
	tests := []struct {
		text, unit string
		want       float64
	}{
		{"3.5", "mm", 3.5}, {"3,5", "mm", 3.5}, {" 3,5 mm ", "mm", 3.5}, {"0.35 cm", "mm", 3.5}, {".5", "mm", 0.5},
		{"0.14 in", "mm", 3.556}, {`0.14"`, "mm", 3.556}, {"9/64 in", "mm", 3.571875}, {`1 1/2"`, "mm", 38.1}, {"1-1/2 inches", "mm", 38.1},
		{"-4", "cents", -4}, {"−4 cents", "cents", -4}, {"45 %", "%", 45},
	}
	for _, tt := range tests {
		got, err := ParseMeasure(tt.text, tt.unit)
		require.NoError(t, err, tt.text)
		assert.InDelta(t, tt.want, got, 1e-9, tt.text)
	}
	for _, wrong := range []string{"", "mm", "three", "3.5.1", "1/0 in", "NaN", "1e400", "3 kg", "9/64", "99999999999"} {
		_, err := ParseMeasure(wrong, "mm")
		assert.Error(t, err, wrong)
	}
	_, err := ParseMeasure("4 mm", "cents")
	assert.EqualError(t, err, `"4 mm" is not in cents`)
}

// Set-up heights of full sizes, from memory: violin E 3.5, G 5.5; cello A 5.5, C 8; bass G 7, E 10 mm, each with its tolerance.
func TestJudge(t *testing.T) {
	c := catalog.Embedded()
	tests := []struct {
		kind, size, point string
		value             float64
		want              string
	}{
		{
			"violin",
			"4/4",
			"height-treble",
			3.5,
			"",
		}, {"violin", "4/4", "height-treble", 4.0, ""}, {"violin", "4/4", "height-treble", 4.01, "action-high"},
		{"violin", "4/4", "height-bass", 4.9, "action-low"}, {"violin", "1/2", "height-bass", 9, ""}, // no figure is kept for it
		{
			"viola",
			"16",
			"height-bass",
			6.6,
			"action-high",
		}, {"cello", "4/4", "height-treble", 6.5, ""}, {"cello", "4/4", "height-bass", 9.1, "action-high"},
		{
			"double-bass",
			"3/4",
			"height-bass",
			8.9,
			"action-low",
		}, {"flute", "", "tuning-cork", 1, ""}, {"flute", "", "tuning-cork", -2, "tuning-cork-off"},
		{"vibraphone", "", "bars", 6, "bar-pitch"},
	}
	for _, tt := range tests {
		kind, _ := c.Kind(tt.kind)
		p, ok := c.Inspection(kind).Point(tt.point)
		require.True(t, ok)
		assert.Equal(t, tt.want, Judge(*p.Measure, tt.kind, tt.size, tt.value), "%s %s %s %v", tt.kind, tt.size, tt.point, tt.value)
	}
}
