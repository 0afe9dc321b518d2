package card

import (
	"cmp"
	"embed"
	"fmt"
	"io/fs"
	"slices"
	"strings"
	"sync"

	"github.com/goccy/go-yaml"

	"solfeggio/internal/core/day"
)

// A Language is one in which players may read their cards. The zero value is English, in which everything is written.
type Language struct {
	Key   string            `yaml:"key" json:"key"`
	Name  string            `yaml:"name" json:"name"`
	Draft bool              `yaml:"draft" json:"draft" doc:"Nobody who speaks it has read it yet"`
	Days  string            `yaml:"days" json:"-"` // how a day of this year is written, as package time has it
	Says  map[string]string `yaml:"says" json:"-"`
}

// English is the language of the catalogue.
var English = Language{Key: "en", Name: "English"}

//go:embed words
var wordFiles embed.FS

// Languages lists them, English first and the others by name. They are read once; a file that cannot be read is a programming error
// and panics.
var Languages = sync.OnceValue(func() []Language {
	list := []Language{English}
	files, err := fs.Glob(wordFiles, "words/*.yaml")
	if err != nil {
		panic(err)
	}
	for _, name := range files {
		text, err := wordFiles.ReadFile(name)
		if err != nil {
			panic(err)
		}
		var l Language
		if err := yaml.Unmarshal(text, &l); err != nil {
			panic(fmt.Sprintf("%s: %v", name, err))
		}
		list = append(list, l)
	}
	slices.SortFunc(list[1:], func(a, b Language) int { return strings.Compare(a.Name, b.Name) })
	return list
})

// LanguageOf finds a language by its key; English where there is none.
func LanguageOf(key string) Language {
	for _, l := range Languages() {
		if l.Key == key {
			return l
		}
	}
	return English
}

// Say is a sentence in the language, or in English where the language lacks it.
func (l Language) Say(english string) string {
	if said, ok := l.Says[english]; ok {
		return said
	}
	return english
}

// Day writes a day of this year.
func (l Language) Day(d day.Day) string { return d.Time().Format(cmp.Or(l.Days, "2 January")) }

// In is the card in a language.
func (c Card) In(l Language) Card {
	c.KindName = l.Say(c.KindName)
	c.Sections = slices.Clone(c.Sections)
	for n := range c.Sections {
		s := &c.Sections[n]
		s.Title, s.Lines = l.Say(s.Title), slices.Clone(s.Lines)
		for i := range s.Lines {
			s.Lines[i].Text = l.Say(s.Lines[i].Text)
		}
	}
	c.Stuck, c.Case = slices.Clone(c.Stuck), slices.Clone(c.Case)
	for n := range c.Stuck {
		c.Stuck[n].Says, c.Stuck[n].Do = l.Say(c.Stuck[n].Says), l.Say(c.Stuck[n].Do)
	}
	for n := range c.Case {
		c.Case[n] = l.Say(c.Case[n])
	}
	return c
}
