package roster

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/naming"
	"solfeggio/internal/store"
	"solfeggio/internal/store/playerrows"
)

// What becomes of a text when a player is erased.
const (
	TakeOutName  = "name"  // a player stands where the name stood
	TakeOutWhole = "whole" // the text goes
	Leave        = "leave" // it is about somebody or something else
)

// A Mention is a text that people typed about a player, or that may be about them.
type Mention struct {
	Text     string         `json:"text"`
	Names    []string       `json:"names" doc:"Words of the player's name that stand in it; none when it was only typed about an instrument while they had it"`
	Places   []MentionPlace `json:"places"`
	Suggests string         `json:"suggests" enum:"name,whole,leave"`
	Because  string         `json:"because" doc:"Why that is suggested"`
	Without  string         `json:"without" doc:"The text without the name"`
}

// A MentionPlace is where such a text stands.
type MentionPlace struct {
	What string   `json:"what"`
	Tag  string   `json:"tag" doc:"Of the instrument; empty where it is of none"`
	On   *day.Day `json:"on" nullable:"true"`
}

// Erasing says what becomes of the texts.
type Erasing struct {
	Texts []ErasedText `json:"texts" maxItems:"5000" doc:"Of each text in which a word of the name stands; one that is about an instrument only stays when it is left out"`
}

// An ErasedText is a text as it was shown.
type ErasedText struct {
	Text string `json:"text" maxLength:"20000"`
	How  string `json:"how" enum:"name,whole,leave"`
}

// Mentions lists what people typed about a player, by the name's words and by when they had which instrument.
func (r *Room) Mentions(ctx context.Context, by journal.Person, id uuid.UUID) ([]Mention, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return nil, err
	}
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	p := s.Players[id]
	if p == nil {
		return nil, journal.InPlainWords(store.ErrNotFound)
	}
	found := &mentions{school: s, of: p, name: nameOf(p)}
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) error { return found.read(ctx, tx) }); err != nil {
		return nil, journal.InPlainWords(err)
	}
	return found.list, nil
}

// ErasePlayer forgets a player who left and has given everything back. What their instruments went through stays, without the name; of
// what was typed about them becomes what is said.
func (r *Room) ErasePlayer(ctx context.Context, by journal.Person, id uuid.UUID, in Erasing) error {
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		p := s.Players[id]
		switch {
		case p == nil:
			return struct{}{}, store.ErrNotFound
		case p.LeftOn == nil:
			return struct{}{}, &journal.Fault{Kind: journal.Conflict, Message: p.Name() + " is still here. Only who has left is erased."}
		}
		if tags := s.TagsOf(id); len(tags) > 0 {
			return struct{}{}, &journal.Fault{
				Kind:    journal.Conflict,
				Message: fmt.Sprintf("%s still has %s. Take it back first.", p.Name(), strings.Join(tags, ", ")),
			}
		}
		found := &mentions{school: s, of: p, name: nameOf(p), how: map[string]string{}}
		for _, t := range in.Texts {
			found.how[t.Text] = t.How
		}
		if err := found.read(ctx, tx); err != nil {
			return struct{}{}, err
		}
		for _, m := range found.list {
			if _, said := found.how[m.Text]; !said && len(m.Names) > 0 {
				return struct{}{}, &journal.Fault{
					Kind:    journal.Conflict,
					Message: fmt.Sprintf("Something that names %s was not looked at yet: “%s”. Look again, then erase.", p.Name(), m.Text),
				}
			}
		}
		if err := found.reword(ctx, tx); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, playerrows.ErasePlayer(ctx, tx, id, p.Version)
	})
	return err
}

func nameOf(p *playerrows.Player) naming.Name { return naming.Of(p.GivenName, p.FamilyName) }

// mentions is what was typed about a player.
type mentions struct {
	school *school.Snapshot
	of     *playerrows.Player
	name   naming.Name
	how    map[string]string // what becomes of a text, by the text

	rows []playerrows.TypedRow
	list []Mention
	at   map[string]int // of a text in the list
}

func (m *mentions) read(ctx context.Context, tx *store.Tx) error {
	var err error
	if m.rows, err = playerrows.TypedRows(ctx, tx, patterns(m.name), m.of.ID); err != nil {
		return err
	}
	m.list, m.at = []Mention{}, map[string]int{}
	for _, row := range m.rows {
		for _, typed := range row.Texts {
			if typed.What == playerrows.AnswersAgain {
				continue // copies of what stands elsewhere
			}
			if _, err := eachText(typed, func(key, text string) string {
				names := m.name.In(text)
				switch {
				case len(names) > 0 && m.isAnothers(row, names):
				case len(names) > 0, row.During && !typed.Ours && typedUnder(key, text):
					m.add(row, typed.What, text, names)
				}
				return text
			}); err != nil {
				return err
			}
		}
	}
	// What names them comes first.
	slices.SortStableFunc(m.list, func(x, y Mention) int { return cmp.Compare(min(len(y.Names), 1), min(len(x.Names), 1)) })
	return nil
}

func (m *mentions) add(row playerrows.TypedRow, what, text string, names []string) {
	n, known := m.at[text]
	if !known {
		n = len(m.list)
		m.at[text] = n
		mention := Mention{Text: text, Names: append([]string{}, names...), Places: []MentionPlace{}, Without: m.name.TakeOut(text)}
		mention.Suggests, mention.Because = m.suggest(row, text, names)
		m.list = append(m.list, mention)
	}
	place := MentionPlace{What: what}
	if row.Instrument != nil {
		place.Tag = m.tag(*row.Instrument)
	}
	if row.At != nil {
		on := day.Of(row.At.In(m.school.Zone))
		place.On = &on
	}
	same := func(p MentionPlace) bool { return p.What == place.What && p.Tag == place.Tag }
	if !slices.ContainsFunc(m.list[n].Places, same) {
		m.list[n].Places = append(m.list[n].Places, place)
	}
}

func (m *mentions) tag(instrument uuid.UUID) string {
	if i := m.school.ByID[instrument]; i != nil {
		return i.Tag
	}
	if i := m.school.Gone[instrument]; i != nil {
		return i.Tag
	}
	return ""
}

// suggest says what is likely right: the name goes, unless it is likely not theirs.
func (m *mentions) suggest(row playerrows.TypedRow, text string, names []string) (how, because string) {
	switch {
	case len(names) == 0:
		return Leave, "Nobody is named; it was typed about the instrument while " + m.of.GivenName + " had it, or in the week after."
	case row.Player != nil && *row.Player != m.of.ID:
		if other := m.school.Players[*row.Player]; other != nil {
			return Leave, "It is of " + other.Name() + "."
		}
		return Leave, "It is of another player."
	}
	for _, name := range names {
		if !m.doubtful(name, text) {
			return TakeOutName, "It names " + m.of.Name() + "."
		}
	}
	for _, p := range m.school.Roster {
		if p.ID != m.of.ID && len(nameOf(&p).In(strings.Join(names, " "))) > 0 {
			return Leave, p.Name() + " is called so too."
		}
	}
	return Leave, "It may be a word and no name."
}

// isAnothers reports whether a row is about another player who bears all those names.
func (m *mentions) isAnothers(row playerrows.TypedRow, names []string) bool {
	if row.Player == nil || *row.Player == m.of.ID || m.school.Players[*row.Player] == nil {
		return false
	}
	theirs := nameOf(m.school.Players[*row.Player]).Words()
	return !slices.ContainsFunc(names, func(name string) bool { return !slices.Contains(theirs, name) })
}

// doubtful reports whether a word of the name may mean something or somebody else: it stands in small letters, or another player bears it.
func (m *mentions) doubtful(name, text string) bool {
	for _, p := range m.school.Roster {
		if p.ID != m.of.ID && slices.Contains(nameOf(&p).Words(), name) {
			return true
		}
	}
	first := []rune(name)[0]
	if unicode.ToUpper(first) == first { // of a writing without capitals
		return false
	}
	capital := string(unicode.ToUpper(first)) + string([]rune(name)[1:])
	return !strings.Contains(text, capital) && !strings.Contains(text, strings.ToUpper(name))
}

// reword does what was said with the texts, wherever they stand. The name also goes from copies that are kept to answer again.
func (m *mentions) reword(ctx context.Context, tx *store.Tx) error {
	for _, row := range m.rows {
		for n, typed := range row.Texts {
			text, err := eachText(typed, func(_, text string) string {
				switch how, said := m.how[text]; {
				case how == TakeOutWhole:
					return naming.Gone
				case how == TakeOutName, !said && typed.What == playerrows.AnswersAgain:
					return m.name.TakeOut(text)
				}
				return text
			})
			if err != nil {
				return err
			}
			row.Texts[n].Text = text
		}
		if err := playerrows.Retype(ctx, tx, row); err != nil {
			return err
		}
	}
	return nil
}

// patterns find a text in which a word of the name may stand. Capitals of other alphabets are no matter of the database.
func patterns(name naming.Name) []string {
	list := []string{}
	for _, word := range name.Words() {
		runes := []rune(word)
		for _, way := range []string{word, strings.ToUpper(word), string(unicode.ToUpper(runes[0])) + string(runes[1:])} {
			// JSON writes some letters as escapes.
			quoted, _ := json.Marshal(way) // a text can always be written
			list = append(list, "%"+escaped(way)+"%", "%"+escaped(string(bytes.Trim(quoted, `"`)))+"%")
		}
	}
	return list
}

// escaped is a text as LIKE takes it, for itself.
func escaped(text string) string {
	return strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(text)
}

// typedKeys are what the log and other JSON call what people typed.
var typedKeys = []string{"note", "notes", "how", "reason", "asks", "not_wanted", "reported", "answer", "override"}

// typedUnder reports whether a text was likely typed freely: more than a word, and not under a name of the program's own.
func typedUnder(key, text string) bool {
	return strings.Contains(text, " ") && (key == "" || slices.Contains(typedKeys, key))
}

// eachText does something with each text of a column, in JSON with the key under which it stands, and returns the column as it is then.
func eachText(typed playerrows.TypedText, do func(key, text string) string) (string, error) {
	if typed.Text == "" {
		return "", nil
	}
	if !typed.JSON {
		return do("", typed.Text), nil
	}
	var whole any
	read := json.NewDecoder(strings.NewReader(typed.Text))
	read.UseNumber()
	if err := read.Decode(&whole); err != nil {
		return "", fmt.Errorf("reading %s: %w", typed.What, err)
	}
	changed := false
	var walk func(key string, at any) any
	walk = func(key string, at any) any {
		switch v := at.(type) {
		case string:
			out := do(key, v)
			changed = changed || out != v
			return out
		case []any:
			for n := range v {
				v[n] = walk(key, v[n])
			}
		case map[string]any:
			for name := range v {
				v[name] = walk(name, v[name])
			}
		}
		return at
	}
	whole = walk("", whole)
	if !changed {
		return typed.Text, nil
	}
	out, err := json.Marshal(whole)
	return string(out), err
}
