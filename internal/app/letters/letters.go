package letters

import (
	"context"

	"golang.org/x/text/language"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/store"
	"solfeggio/internal/store/letterrows"
)

// SchoolLetter is a letter as the school words it.
type SchoolLetter struct {
	wording.Letter
	Own     bool `json:"own" doc:"The school words it itself"`
	Version int  `json:"version" doc:"0 while the program words it; sent back when it is changed"`
}

// Letters lists the letters with the wording that holds.
func (r *Room) Letters(ctx context.Context, by journal.Person) ([]SchoolLetter, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	list := []SchoolLetter{}
	for _, l := range wording.All {
		own, ok := s.Wordings[l.Key]
		l.Wording = WordingOf(s, l.Key)
		list = append(list, SchoolLetter{l, ok, own.Version})
	}
	return list, nil
}

// Wording is how a letter is worded from now on. What was agreed before stays as it was worded then.
type Wording struct {
	Key     string `json:"key"`
	Wording string `json:"wording" maxLength:"20000"`
	Version int    `json:"version"`
}

// SaveWording changes the wording of a letter.
func (r *Room) SaveWording(ctx context.Context, by journal.Person, in Wording) error {
	l, ok := wording.Find(in.Key)
	if !ok {
		return journal.Refuse("key", "is no letter", in.Key)
	}
	if err := l.Check(in.Wording); err != nil {
		return journal.Refuse("wording", err.Error(), nil)
	}
	return r.schools.ChangeSettings(ctx, by, "save-wording", in, func(tx *store.Tx, _ *school.Snapshot) error {
		return letterrows.PutLetter(ctx, tx, letterrows.Letter{Key: in.Key, Wording: in.Wording, Version: in.Version})
	})
}

// WordingOf is how the school words a letter.
func WordingOf(s *school.Snapshot, key string) string {
	if own, ok := s.Wordings[key]; ok {
		return own.Wording
	}
	l, _ := wording.Find(key)
	return l.Wording
}

// AgreementPlaces fill the agreement for an instrument and a player.
func AgreementPlaces(s *school.Snapshot, i *school.Instrument, player string, dueBack *day.Day, given day.Day) map[string]string {
	places := places(s, i, player)
	places["today"], places["due_back"] = given.Words(), "further notice"
	if dueBack != nil {
		places["due_back"] = dueBack.Words()
	}
	return places
}

// places are what every letter about an instrument may name.
func places(s *school.Snapshot, i *school.Instrument, player string) map[string]string {
	return map[string]string{"player": player, "instrument": catalog.InText(i.Named()), "tag": i.Tag, "school": s.School.Name}
}

// money writes an amount as the school does.
func money(s *school.Snapshot, cents int64) string {
	tag, err := language.Parse(s.School.Locale)
	if err != nil {
		tag = language.English
	}
	return s.School.Currency.In(tag, cents)
}
