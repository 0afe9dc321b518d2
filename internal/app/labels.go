package app

import (
	"context"
	"fmt"
	"io"
	"strings"

	"solfeggio/internal/formats"
)

// LabelWish says which labels to print.
type LabelWish struct {
	Tags  []string // of the instruments, in the order of the sheet
	Sheet string   // key of the sheet
	Skip  int      // places that are used up already
}

// Labels writes the labels of instruments as PDF.
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
	if len(in.Tags) == 0 {
		return invalid("tags", "say which instruments", "")
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
		labels = append(labels, formats.Label{Tag: i.Tag, Name: strings.TrimSpace(i.kind.Name + " " + i.Size), School: s.school.Name})
	}
	return formats.WriteLabels(w, sheet, labels, in.Skip)
}
