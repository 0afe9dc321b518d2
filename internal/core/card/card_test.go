package card_test

import (
	"slices"
	"strings"
	"testing"
	"unicode/utf8"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/card"
	"solfeggio/internal/core/catalog"
)

// subjects are instruments of every kind and body under the defaults, and under every other option of every practice.
func subjects(t *testing.T) (list []catalog.Subject) {
	t.Helper()
	c := catalog.Embedded()
	choices := []catalog.Choices{c.Choose()}
	for _, p := range c.Practices {
		for _, o := range p.Options[1:] {
			choices = append(choices, c.Choose(catalog.Choices{p.Key: o.Key}))
		}
	}
	for n := range c.Kinds {
		for _, body := range c.Kinds[n].Bodies {
			for _, chosen := range choices {
				list = append(list, catalog.Subject{Kind: &c.Kinds[n], Body: body, Choices: chosen})
			}
		}
	}
	return list
}

func TestEveryKindHasACardInEveryLanguageAndSchoolOfPractice(t *testing.T) {
	c := catalog.Embedded()
	require.Greater(t, len(card.Languages()), 1)
	unsaid := map[string]bool{}
	for _, of := range subjects(t) {
		made := card.Make(c, of)
		for _, s := range made.Sections {
			if s.Key != "weekly" { // not everything asks for something every week
				assert.GreaterOrEqual(t, len(s.Lines), 1, "%s of %s", s.Key, of.Kind.Name)
			}
			for _, l := range s.Lines {
				assert.LessOrEqual(t, utf8.RuneCountInString(l.Text), 60, "too long to be read at arm's length: %s", l.Text)
			}
		}
		assert.NotEmpty(t, made.Stuck)
		assert.NotEmpty(t, made.Case)
		for _, l := range card.Languages()[1:] {
			for _, text := range texts(made) {
				if _, ok := l.Says[text]; !ok {
					unsaid[l.Key+": "+text] = true
				}
			}
		}
	}
	assert.Empty(t, unsaid, "sentences that a language lacks")
}

func texts(c card.Card) (list []string) {
	list = append(list, c.KindName)
	for _, s := range c.Sections {
		list = append(list, s.Title)
		for _, l := range s.Lines {
			list = append(list, l.Text)
		}
	}
	for _, f := range c.Stuck {
		list = append(list, f.Says, f.Do)
	}
	return append(list, c.Case...)
}

func TestACardFollowsTheSchool(t *testing.T) {
	c := catalog.Embedded()
	flute, _ := c.Kind("flute")
	lines := func(chosen catalog.Choices) string {
		return strings.Join(texts(card.Make(c, catalog.Subject{Kind: flute, Body: flute.Bodies[0], Choices: c.Choose(chosen)})), "\n")
	}
	assert.Contains(t, lines(nil), "Push the cloth right through the body, never back.")
	assert.Contains(t, lines(catalog.Choices{"flute-swab": "both-ends"}), "Push the cloth right through, from both ends.")
	assert.NotContains(t, lines(catalog.Choices{"flute-swab": "both-ends"}), "never back.")
}

// Where a crack or an open seam forbids what is wet, no line of the card brings it.
func TestWhatAMaterialForbidsStandsOnNoCard(t *testing.T) {
	c := catalog.Embedded()
	for _, of := range subjects(t) {
		of.DryOnly = "Open seam"
		for _, r := range c.PlayerRoutines(of) {
			for _, s := range r.OnCard() {
				for _, p := range s.Parts {
					part, _ := of.Kind.Part(p)
					material, ok := c.Material(part.MaterialOf(of))
					for _, product := range s.Products {
						assert.False(t, ok && slices.Contains(material.Forbids, product), "%s brings %s to %s", s.Short, product, p)
					}
				}
			}
		}
	}
}

// What keeps people whole is on the smallest card too.
func TestLinesOnLiftingAreNeverLeftOut(t *testing.T) {
	c := catalog.Embedded()
	for _, of := range subjects(t) {
		before := card.Make(c, of).Sections[0]
		for _, l := range before.Lines {
			assert.True(t, l.Guards || !strings.HasPrefix(l.Text, "Two people"), "%s: %s", of.Kind.Name, l.Text)
		}
	}
}

func TestASmallCardKeepsWhatGuardsAgainstMistakes(t *testing.T) {
	s := card.Section{Lines: []card.Line{{Text: "a"}, {Text: "b", Guards: true}, {Text: "c"}, {Text: "d", Guards: true}}}
	var kept []string
	for _, l := range s.Of(3).Lines {
		kept = append(kept, l.Text)
	}
	assert.Equal(t, []string{"a", "b", "d"}, kept)
	assert.Len(t, s.Of(1).Lines, 1)
	assert.Len(t, s.Lines, 4, "and the whole one is left as it was")
}

func TestALanguageThatLacksASentenceSaysItInEnglish(t *testing.T) {
	assert.Equal(t, "Nie", card.LanguageOf("de").Say("Never"))
	assert.Equal(t, "No such sentence", card.LanguageOf("de").Say("No such sentence"))
	assert.Equal(t, card.English.Key, card.LanguageOf("tlh").Key)
}
