package naming

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestANameIsTakenOut(t *testing.T) {
	ode := Of("Ode", "Marchetti")
	anna := Of("Anna-Lena Sophie", "van der Brück")
	for _, tt := range []struct {
		name       Name
		text, want string
	}{
		{ode, "Ode Marchetti says it fell.", "a player says it fell."},
		{ode, "Marchetti, Ode: pegs slip", "a player: pegs slip"},
		{ode, "ODE's mother rang; Ode’s bow is bent", "a player's mother rang; a player’s bow is bent"},
		{ode, "Odes Bogen, von O. Marchetti", "a player Bogen, von O. a player"},
		{ode, "ode M. Marchetti and Ode", "a player and a player"},
		{ode, "an oded mode of Marchettini", "an oded mode of Marchettini"},
		{ode, "\"Ode\"", "\"a player\""},
		{anna, "Anna-Lena van der Brück und Lena", "a player und a player"},
		{anna, "Sophie vd Brück; van der Laan der Brücke", "a player vd a player; van der Laan der Brücke"},
		{Of("Zoë", "O'Shea"), "zoë o'shea's strap, O'Shea’s too", "a player's strap, a player’s too"},
		{Of("Li", "de la Y"), "Li and de la Y", "a player and de la Y"},
		{Of("", ""), "nobody", "nobody"},
		{Of("李", "娜"), "李 娜", "李 娜"}, // single letters say nothing by themselves
		{Of("Émile"), "ÉMILE fell", "a player fell"},
	} {
		assert.Equal(t, tt.want, tt.name.TakeOut(tt.text), tt.text)
		assert.Empty(t, tt.name.In(tt.want))
	}
	assert.Equal(t, []string{"ode", "marchetti"}, ode.In("Marchetti's Ode, Ode"))
	assert.Equal(t, []string{"anna", "lena", "sophie", "brück"}, anna.Words())
}

// Once taken out no word of the name is found any more, and a text without it stays as it is.
func TestNothingIsLeftOfAName(t *testing.T) {
	piece := rapid.SampledFrom([]string{"Ode", "marchetti", "Marchetti's", " ", ", ", ". ", "-", "fell", "de", "O", "'", "é", "\n", "Odette", "s"})
	rapid.Check(t, func(rt *rapid.T) {
		name := Of("Ode", "Marchetti")
		text := strings.Join(rapid.SliceOfN(piece, 0, 12).Draw(rt, "text"), "")
		out := name.TakeOut(text)
		assert.Empty(rt, name.In(out), "%q became %q", text, out)
		if len(name.In(text)) == 0 {
			assert.Equal(rt, text, out)
		}
	})
}
