package lending

import (
	"context"
	"fmt"
	"io"
	"maps"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/wording"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/lendingrows"
)

// DraftAgreement writes the agreement of a pair as PDF before anything was handed out, to be printed and signed by hand.
func (r *Room) DraftAgreement(ctx context.Context, by journal.Person, pair school.Pair, dueBack *day.Day, w io.Writer) error {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return err
	}
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	p, i, err := matched(s, "", pair)
	if err != nil {
		return err
	}
	found := supply.KeptStates{}
	for thing, fault := range i.Kit {
		found[thing] = fault.State
	}
	kit := r.givenWith(i, found)
	h := lendingrows.HandOver{GivenAt: r.schools.Now(), DueBackOn: dueBack, Kit: kit, Terms: letters.WordingOf(s, wording.Agreement)}
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		h.Known, err = r.knownAt(ctx, tx, s, i, h.GivenAt)
		return err
	}); err != nil {
		return err
	}
	return r.writeAgreement(s, i, p.Name(), h, w)
}

// Agreement writes the agreement of a hand-over as PDF, in the words that were agreed.
func (r *Room) Agreement(ctx context.Context, by journal.Person, id uuid.UUID, w io.Writer) error {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return err
	}
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	var h lendingrows.HandOver
	var i *school.Instrument
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		if h, err = lendingrows.HandOverByID(ctx, tx, id); err != nil {
			return err
		}
		if i = s.ByID[h.Instrument]; i == nil {
			i = s.Gone[h.Instrument]
		}
		switch {
		case i == nil:
			return store.ErrNotFound
		case h.Known == "":
			h.Known, err = r.knownAt(ctx, tx, s, i, h.GivenAt)
		}
		return err
	})
	if err != nil {
		return journal.InPlainWords(err)
	}
	player := "a player who was erased"
	if h.Player != nil && s.Players[*h.Player] != nil {
		player = s.Players[*h.Player].Name()
	}
	if h.Terms == "" { // handed out without an agreement, as a class is: the present one is what there is to sign
		h.Terms = letters.WordingOf(s, wording.Agreement)
	}
	return r.writeAgreement(s, i, player, h, w)
}

func (r *Room) writeAgreement(
	s *school.Snapshot,
	i *school.Instrument,
	player string,
	h lendingrows.HandOver,
	w io.Writer,
) error {
	given := day.Of(h.GivenAt.In(s.Zone))
	sheet := formats.Agreement{School: s.School.Name, Facts: [][2]string{{"Instrument", i.Named() + ", " + i.Tag}}}
	sheet.Heading, sheet.Terms = wording.Fill(h.Terms, letters.AgreementPlaces(s, i, player, h.DueBackOn, given))
	for _, fact := range [][2]string{{"Maker", i.Maker + " " + i.Model}, {"Serial number", i.Serial}, {"Player", player},
		{"Telephone", s.School.Phone}} {
		if strings.TrimSpace(fact[1]) != "" {
			sheet.Facts = append(sheet.Facts, fact)
		}
	}
	// One from before things were kept in several places names only what was not in order.
	listed := slices.Contains(slices.Collect(maps.Values(h.Kit)), catalog.There)
	for _, item := range r.schools.Catalog.KitOf(i.Kind).Items {
		thing, _ := r.schools.Catalog.Supply(item.Supply)
		name := thing.Name
		if item.Wanted() > 1 {
			name = fmt.Sprintf("%d × %s", item.Wanted(), name)
		}
		state, noted := h.Kit[item.Supply]
		if state == catalog.Missing || !noted && listed {
			continue
		}
		if noted && state != catalog.There {
			name += fmt.Sprintf(" (%s)", state)
		}
		sheet.Kit = append(sheet.Kit, name)
	}
	sheet.Known = strings.Split(h.Known, "\n")
	if sign := h.Signature; sign.At != nil {
		sheet.Signed = formats.Signed{By: sign.By, At: sign.At.In(s.Zone), Strokes: sign.Strokes, OnPaper: sign.How == "paper"}
	}
	return formats.WriteAgreement(w, sheet)
}
