package demo

import (
	"context"
	"math/rand/v2"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/cards"
	"solfeggio/internal/store/cardrows"
)

// cards makes a card for every instrument. Classes drilled in the last weeks, and players have reported something.
func (s *seeder) cards(ctx context.Context, at func(daysAgo int) time.Time) error {
	room := s.app.Cards
	at(40)
	deck, err := room.Deck(ctx, s.director)
	if err != nil {
		return err
	}
	all := cards.Making{}
	for _, c := range deck.Cards {
		all.Instruments = append(all.Instruments, c.ID)
	}
	if _, err := room.Make(ctx, s.director, all); err != nil {
		return err
	}
	hands := rand.New(rand.NewPCG(1697, 5))
	for week := 5; week > 0; week-- {
		at(7 * week)
		for _, class := range []string{"Wind band", "String orchestra"} {
			if err := s.drill(ctx, s.ensembles[class], hands); err != nil {
				return err
			}
		}
	}
	if deck, err = room.Deck(ctx, s.director); err != nil {
		return err
	}
	for _, r := range []struct {
		kind, symptom string
		plays         cardrows.Plays
		daysAgo, said int
		answer        string
	}{
		{"Flute", "sticky-key", cardrows.PlaysBadly, 6, 1, "Paper under the pad did it. Rinse your mouth before playing."},
		{"Trumpet", "slow-valve", cardrows.PlaysBadly, 2, 2, ""},
		{"Violin", "peg-slips", cardrows.PlaysNot, 1, 1, ""},
		{"B-flat clarinet", "squeaks", cardrows.PlaysWell, 1, 1, ""},
	} {
		at(r.daysAgo)
		if err := s.report(ctx, deck, r.kind, cards.Saying{Symptom: r.symptom, Plays: r.plays, Origin: "demo"}, r.said, r.answer); err != nil {
			return err
		}
	}
	at(0)
	return nil
}

// drill asks a class six questions on the first kinds that it plays.
func (s *seeder) drill(ctx context.Context, ensemble uuid.UUID, hands *rand.Rand) error {
	last := ""
	class, err := s.app.Cards.Class(ctx, s.director, ensemble, "", "", "en")
	if err != nil {
		return err
	}
	for n := range 6 {
		kind := class.Kinds[n%min(3, len(class.Kinds))].Key
		next, err := s.app.Cards.Class(ctx, s.director, ensemble, kind, last, "en")
		if err != nil {
			return err
		}
		if next.Question == nil {
			continue
		}
		last = next.Question.ID
		right := 8 + hands.IntN(16)
		if _, err := s.app.Cards.Count(ctx, s.director, cards.Hands{
			Ensemble: ensemble, Kind: kind, Question: last, Right: right, Wrong: 24 - right,
		}); err != nil {
			return err
		}
	}
	return nil
}

// report says something on the card of the first instrument of a kind that somebody plays, and answers it where there is an answer.
func (s *seeder) report(ctx context.Context, deck cards.Deck, kind string, in cards.Saying, said int, answer string) error {
	for _, c := range deck.Cards {
		if !strings.HasPrefix(c.KindName, kind) || len(c.Ensembles) == 0 {
			continue
		}
		for range said {
			in.ID = uuid.Must(uuid.NewV7())
			if err := s.app.Cards.Say(ctx, strings.TrimPrefix(c.Path, cards.Path("")), in); err != nil {
				return err
			}
		}
		if answer == "" {
			return nil
		}
		open, err := s.app.Cards.Reports(ctx, s.director)
		if err != nil {
			return err
		}
		for _, r := range open {
			if r.Instrument == c.ID {
				_, err = s.app.Cards.Settle(ctx, s.director, r.ID, cards.Settling{Answer: answer})
			}
		}
		return err
	}
	return nil
}
