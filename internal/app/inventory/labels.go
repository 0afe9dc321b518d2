package inventory

import (
	"context"
	"fmt"
	"io"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/formats"
)

// LabelWish says which labels to print.
type LabelWish struct {
	Tags    []string    // of the instruments, in the order of the sheet
	Players []uuid.UUID // whose cards to print, after the instruments
	Sheet   string      // key of the sheet
	Skip    int         // places that are used up already
}

// Labels writes the labels of instruments and the cards of players as PDF.
func (r *Room) Labels(ctx context.Context, by journal.Person, in LabelWish, w io.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	sheet, ok := formats.FindSheet(in.Sheet)
	if !ok {
		return journal.Refuse("sheet", "is no sheet; use one of "+formats.SheetChoices(), in.Sheet)
	}
	if in.Skip < 0 || in.Skip >= sheet.PerPage() {
		return journal.Refuse("skip", fmt.Sprintf("use 0 to %d on this sheet", sheet.PerPage()-1), in.Skip)
	}
	if len(in.Tags)+len(in.Players) == 0 {
		return journal.Refuse("tags", "say which instruments", "")
	}
	if len(in.Players) > 0 {
		if err := by.Need(journal.MayChangeInstruments); err != nil {
			return err
		}
	}
	byTag := map[string]*school.Instrument{}
	for _, i := range s.Instruments {
		byTag[i.Tag] = i
	}
	var labels []formats.Label
	for n, tag := range in.Tags {
		i := byTag[strings.ToUpper(strings.TrimSpace(tag))]
		if i == nil {
			return journal.Refuse(fmt.Sprintf("tags[%d]", n), "no instrument has this tag", tag)
		}
		labels = append(labels, formats.Label{Tag: i.Tag, Name: i.Named(), School: s.School.Name})
	}
	for n, id := range in.Players {
		p := s.Players[id]
		if p == nil {
			return journal.Refuse(fmt.Sprintf("players[%d]", n), "there is no such player", id)
		}
		kind, _ := r.schools.Catalog.Kind(p.Kind)
		label := formats.Label{Tag: p.Name(), Code: roster.CardOf(id), Name: p.GradeYear, School: s.School.Name}
		if kind != nil {
			label.Name = strings.Trim(p.GradeYear+", "+kind.Name, ", ")
		}
		labels = append(labels, label)
	}
	return formats.WriteLabels(w, sheet, labels, in.Skip)
}
