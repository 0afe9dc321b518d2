package app

import (
	"context"
	"crypto/sha256"
	"encoding/base32"
	"fmt"
	"io"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/formats"
)

// LabelWish says which labels to print.
type LabelWish struct {
	Tags    []string    // of the instruments, in the order of the sheet
	Players []uuid.UUID // whose cards to print, after the instruments
	Sheet   string      // key of the sheet
	Skip    int         // places that are used up already
}

// cardOf is what stands on a player's card: a code of their own that a scanner types, made of their id, so that it names
// nobody. Forty bits keep the players of any school apart.
func cardOf(player uuid.UUID) string {
	sum := sha256.Sum256(player[:])
	return "PL-" + cardLetters.EncodeToString(sum[:5])
}

// cardLetters are digits and capitals without the ones that are mistaken for others.
var cardLetters = base32.NewEncoding("0123456789ABCDEFGHJKMNPQRSTVWXYZ").WithPadding(base32.NoPadding)

// Labels writes the labels of instruments and the cards of players as PDF.
func (a *App) Labels(ctx context.Context, by Person, in LabelWish, w io.Writer) error {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return err
	}
	sheet, ok := formats.FindSheet(in.Sheet)
	if !ok {
		return invalid("sheet", "is no sheet; use one of "+formats.SheetChoices(), in.Sheet)
	}
	if in.Skip < 0 || in.Skip >= sheet.PerPage() {
		return invalid("skip", fmt.Sprintf("use 0 to %d on this sheet", sheet.PerPage()-1), in.Skip)
	}
	if len(in.Tags)+len(in.Players) == 0 {
		return invalid("tags", "say which instruments", "")
	}
	if len(in.Players) > 0 {
		if err := by.need(MayChangeInstruments); err != nil {
			return err
		}
	}
	byTag := map[string]*instrument{}
	for _, i := range s.instruments {
		byTag[i.Tag] = i
	}
	var labels []formats.Label
	for n, tag := range in.Tags {
		i := byTag[strings.ToUpper(strings.TrimSpace(tag))]
		if i == nil {
			return invalid(fmt.Sprintf("tags[%d]", n), "no instrument has this tag", tag)
		}
		labels = append(labels, formats.Label{Tag: i.Tag, Name: i.named(), School: s.school.Name})
	}
	for n, id := range in.Players {
		p := s.players[id]
		if p == nil {
			return invalid(fmt.Sprintf("players[%d]", n), "there is no such player", id)
		}
		kind, _ := a.catalog.Kind(p.Kind)
		label := formats.Label{Tag: p.Name(), Code: cardOf(id), Name: p.GradeYear, School: s.school.Name}
		if kind != nil {
			label.Name = strings.Trim(p.GradeYear+", "+kind.Name, ", ")
		}
		labels = append(labels, label)
	}
	return formats.WriteLabels(w, sheet, labels, in.Skip)
}
