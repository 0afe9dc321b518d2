package web_test

import (
	"context"
	"strings"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/cards"
	"solfeggio/internal/store/cardrows"
)

// cards gives an instrument of the world a card, and lets its player report something.
func (w *world) cards() {
	w.t.Helper()
	ctx := context.Background()
	must := func(err error) { w.t.Helper(); require.NoError(w.t, err) }
	out := uuid.MustParse(w.things["out"])
	_, err := w.app.Cards.Make(ctx, w.by, cards.Making{Instruments: []uuid.UUID{out}})
	must(err)
	card, err := w.app.Cards.Card(ctx, w.by, out, "en")
	must(err)
	w.put("card", card.Path)
	must(w.app.Cards.Say(ctx, strings.TrimPrefix(card.Path, cards.Path("")), cards.Saying{
		ID: uuid.New(), Symptom: "peg-slips", Plays: cardrows.PlaysNot, Origin: uuid.NewString(),
	}))
	reports, err := w.app.Cards.Reports(ctx, w.by)
	must(err)
	w.put("report", reports[0].ID)
	settings, err := w.app.Settings.Settings(ctx, w.by)
	must(err)
	for _, e := range settings.Ensembles {
		if e.Name == "Strings" {
			w.put("class", e.ID)
		}
	}
}
