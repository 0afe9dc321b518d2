package cards

import (
	"context"
	"crypto/rand"
	"encoding/base64"
	"fmt"
	"io"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/card"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
)

// Deck is the cards of the school.
type Deck struct {
	Cards     []Carded        `json:"cards" doc:"All instruments in score order"`
	Languages []card.Language `json:"languages"`
	Sizes     []CardSize      `json:"sizes"`
}

// Carded is an instrument and whether it has a card.
type Carded struct {
	ID        uuid.UUID `json:"id"`
	Tag       string    `json:"tag"`
	KindName  string    `json:"kind_name"`
	Section   string    `json:"section"`
	Ensembles []string  `json:"ensembles"`
	MadeOn    *day.Day  `json:"made_on,omitempty" doc:"Left out while it has none"`
	Path      string    `json:"path,omitempty" doc:"Where its page stands; left out while it has none"`
	Drawing   string    `json:"drawing"`
}

// CardSize is a size in which cards are printed.
type CardSize struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// Path is where the page of a card stands.
func Path(secret string) string { return "/c/" + secret }

// Deck lists all instruments with their cards.
func (r *Room) Deck(ctx context.Context, by journal.Person) (Deck, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Deck{}, err
	}
	cards, err := r.cardsOf(ctx, by)
	if err != nil {
		return Deck{}, err
	}
	out := Deck{Cards: []Carded{}, Languages: card.Languages(), Sizes: []CardSize{}}
	for _, size := range formats.CardSizes {
		out.Sizes = append(out.Sizes, CardSize{size.Key, size.Name})
	}
	for _, i := range s.Instruments {
		c := Carded{ID: i.ID, Tag: i.Tag, KindName: i.Named(), Section: i.Kind.Section, Ensembles: []string{}, Drawing: i.Kind.Drawing}
		if i.Habit != nil {
			c.Ensembles = s.EnsembleNames(i.Habit.Ensembles)
		}
		if made, ok := cards[i.ID]; ok {
			c.MadeOn, c.Path = &made.MadeOn, Path(made.Secret)
		}
		out.Cards = append(out.Cards, c)
	}
	return out, nil
}

func (r *Room) cardsOf(ctx context.Context, by journal.Person, of ...uuid.UUID) (map[uuid.UUID]cardrows.Card, error) {
	cards := map[uuid.UUID]cardrows.Card{}
	err := r.schools.Read(ctx, by, func(tx *store.Tx) error {
		list, err := cardrows.Cards(ctx, tx, of...)
		for _, c := range list {
			cards[c.Instrument] = c
		}
		return err
	})
	return cards, err
}

// Making says which instruments get a card.
type Making struct {
	Instruments []uuid.UUID `json:"instruments" minItems:"1" maxItems:"5000"`
	Anew        bool        `json:"anew,omitempty" doc:"Also where there is one; its address then leads nowhere any more"`
}

// Made says how many cards were made.
type Made struct {
	Cards int `json:"cards"`
}

// Make gives instruments a card, each with an address of its own that nobody can guess.
func (r *Room) Make(ctx context.Context, by journal.Person, in Making) (Made, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (Made, error) {
		list, err := cardrows.Cards(ctx, tx, in.Instruments...)
		if err != nil {
			return Made{}, err
		}
		made := Made{}
		for n, id := range in.Instruments {
			if s.ByID[id] == nil {
				return Made{}, journal.Refuse(fmt.Sprintf("instruments[%d]", n), "is not here", id)
			}
			if !in.Anew && slices.ContainsFunc(list, func(c cardrows.Card) bool { return c.Instrument == id }) {
				continue
			}
			if err := cardrows.PutCard(ctx, tx, cardrows.Card{Instrument: id, Secret: newSecret(), MadeOn: s.Today}); err != nil {
				return Made{}, err
			}
			made.Cards++
		}
		return made, nil
	})
}

// secretBytes of chance make an address: 160 bits.
const secretBytes = 20

func newSecret() string {
	b := make([]byte, secretBytes)
	_, _ = rand.Read(b) // never fails
	return base64.RawURLEncoding.EncodeToString(b)
}

// OneCard is a care card as it is read, and where its page stands.
type OneCard struct {
	card.Card
	Tag  string `json:"tag"`
	Path string `json:"path,omitempty" doc:"Left out while it has no address"`
}

// Card writes the card of an instrument in a language.
func (r *Room) Card(ctx context.Context, by journal.Person, id uuid.UUID, language string) (OneCard, error) {
	_, i, err := r.inspection.Instrument(ctx, by, id)
	if err != nil {
		return OneCard{}, err
	}
	cards, err := r.cardsOf(ctx, by, id)
	if err != nil {
		return OneCard{}, err
	}
	out := OneCard{Card: r.cardOf(i, card.LanguageOf(language)), Tag: i.Tag}
	if made, ok := cards[id]; ok {
		out.Path = Path(made.Secret)
	}
	return out, nil
}

func (r *Room) cardOf(i *school.Instrument, l card.Language) card.Card {
	c := card.Make(r.schools.Catalog, r.schools.Subject(i)).In(l)
	if i.Size != "" {
		c.KindName += " " + i.Size
	}
	return c
}

// Printing says which cards to print, and how.
type Printing struct {
	Instruments []uuid.UUID
	Size        string // key of a size
	Language    string // key of a language
	At          string // address of the program, before the path of a card
}

// Print writes cards as PDF, for those of the instruments that have one.
func (r *Room) Print(ctx context.Context, by journal.Person, in Printing, w io.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	size, ok := formats.FindCardSize(in.Size)
	if !ok {
		return journal.Refuse("size", "is none; use one of "+formats.CardSizeChoices(), in.Size)
	}
	cards, err := r.cardsOf(ctx, by, in.Instruments...)
	if err != nil {
		return err
	}
	l := card.LanguageOf(in.Language)
	var list []formats.CareCard
	for n, id := range in.Instruments {
		i, made := s.ByID[id], cards[id]
		if i == nil || made.Secret == "" {
			return journal.Refuse(fmt.Sprintf("instruments[%d]", n), "has no card; make one first", id)
		}
		list = append(list, formats.CareCard{
			Card: r.cardOf(i, l), Tag: i.Tag, School: s.School.Name, Address: in.At + Path(made.Secret), Language: l,
		})
	}
	if len(list) == 0 {
		return journal.Refuse("instruments", "say which instruments", "")
	}
	return formats.WriteCareCards(w, size, list)
}
