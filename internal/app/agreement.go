package app

import (
	"context"
	"fmt"
	"io"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
)

// DraftAgreement writes the agreement of a pair as PDF before anything was handed out, to be printed and signed by hand.
func (a *App) DraftAgreement(ctx context.Context, by Person, pair Pair, dueBack *day.Day, w io.Writer) error {
	if err := by.need(MayChangeInstruments); err != nil {
		return err
	}
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return err
	}
	p, i, err := s.pair("", pair)
	if err != nil {
		return err
	}
	kit := map[string]catalog.KitState{}
	for supply, fault := range i.kit {
		kit[supply] = fault.State
	}
	return a.writeAgreement(s, i, p.Name(), store.HandOver{GivenAt: a.now(), DueBackOn: dueBack, Kit: kit, Terms: s.wording(wording.Agreement)}, i.findings, w)
}

// Agreement writes the agreement of a hand-over as PDF, in the words that were agreed.
func (a *App) Agreement(ctx context.Context, by Person, id uuid.UUID, w io.Writer) error {
	if err := by.need(MayChangeInstruments); err != nil {
		return err
	}
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return err
	}
	var h store.HandOver
	var known []store.Finding
	err = a.read(ctx, by, func(tx *store.Tx) error {
		if h, err = tx.HandOver(ctx, id); err != nil {
			return err
		}
		known, err = tx.FindingsAt(ctx, h.Instrument, h.GivenAt)
		return err
	})
	if err != nil {
		return err
	}
	i := s.byID[h.Instrument]
	if i == nil {
		i = s.gone[h.Instrument]
	}
	if i == nil {
		return inPlainWords(store.ErrNotFound)
	}
	player := "a player who was erased"
	if h.Player != nil && s.players[*h.Player] != nil {
		player = s.players[*h.Player].Name()
	}
	if h.Terms == "" { // handed out without an agreement, as a class is: the present one is what there is to sign
		h.Terms = s.wording(wording.Agreement)
	}
	return a.writeAgreement(s, i, player, h, known, w)
}

func (a *App) writeAgreement(s *snapshot, i *instrument, player string, h store.HandOver, known []store.Finding, w io.Writer) error {
	given := day.Of(h.GivenAt.In(s.zone))
	sheet := formats.Agreement{School: s.school.Name, Facts: [][2]string{{"Instrument", i.named() + ", " + i.Tag}}}
	sheet.Heading, sheet.Terms = wording.Fill(h.Terms, s.agreementPlaces(i, player, h.DueBackOn, given))
	for _, fact := range [][2]string{{"Maker", i.Maker + " " + i.Model}, {"Serial number", i.Serial}, {"Player", player}, {"Telephone", s.school.Phone}} {
		if strings.TrimSpace(fact[1]) != "" {
			sheet.Facts = append(sheet.Facts, fact)
		}
	}
	for _, item := range a.catalog.KitOf(i.kind).Items {
		supply, _ := a.catalog.Supply(item.Supply)
		name := supply.Name
		if item.Wanted() > 1 {
			name = fmt.Sprintf("%d × %s", item.Wanted(), name)
		}
		if state, faulty := h.Kit[item.Supply]; state == catalog.Missing {
			continue
		} else if faulty {
			name += fmt.Sprintf(" (%s)", state)
		}
		sheet.Kit = append(sheet.Kit, name)
	}
	for _, f := range known {
		sheet.Known = append(sheet.Known, a.findingName(f.Code))
	}
	if sign := h.Signature; sign.At != nil {
		sheet.Signed = formats.Signed{By: sign.By, At: sign.At.In(s.zone), Strokes: sign.Strokes, OnPaper: sign.How == "paper"}
	}
	return formats.WriteAgreement(w, sheet)
}
