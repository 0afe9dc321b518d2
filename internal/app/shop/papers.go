package shop

import (
	"context"
	"fmt"
	"io"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/shoprows"
)

// JobSheet writes the sheet that goes with an instrument to the shop, as PDF.
func (r *Room) JobSheet(ctx context.Context, by journal.Person, id uuid.UUID, w io.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	var sheet formats.JobSheet
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		j, err := shoprows.JobByID(ctx, tx, id)
		if err != nil {
			return err
		}
		i, err := s.Instrument(j.Instrument)
		if err != nil {
			return err
		}
		sheet = formats.JobSheet{
			School: strings.Join(filled(s.School.Name, s.School.Phone), ", "), Asks: j.Asks, NotWanted: j.NotWanted,
			Label:   formats.Label{Tag: i.Tag, Name: i.Named(), School: s.School.Name},
			Decides: strings.Join(filled(j.Decides, s.School.Phone), ", "),
			Facts: [][2]string{{"Maker, model", strings.Join(filled(i.Maker, i.Model), " ")}, {"Serial number", i.Serial},
				{"Body", r.bodyName(i)}, {"As it stood on", s.Today.Words()}},
		}
		if j.Shop != nil {
			sheet.Facts = append([][2]string{{"For", shopName(s, j.Shop)}}, sheet.Facts...)
		}
		if j.AgreedCents != nil {
			sheet.Facts = append(sheet.Facts, [2]string{"Agreed", s.School.Currency.Say(*j.AgreedCents)})
		}
		for _, l := range j.Lines {
			work := l.Words
			if n := slices.IndexFunc(i.Findings, func(f checkrows.Finding) bool { return l.Finding != nil && f.ID == *l.Finding }); n >= 0 {
				work += ": " + catalog.InText(r.inspection.FindingName(i.Findings[n].Code))
			}
			sheet.Works = append(sheet.Works, work)
		}
		return r.found(ctx, tx, i, j, &sheet)
	})
	if err != nil {
		return err
	}
	return formats.WriteJobSheet(w, sheet)
}

// found puts what was found and is for the shop, or is asked for, into the sheet, numbered in the drawing, with its photographs.
func (r *Room) found(ctx context.Context, tx *store.Tx, i *school.Instrument, j shoprows.Job, sheet *formats.JobSheet) error {
	photos, err := checkrows.Photos(ctx, tx, i.ID)
	if err != nil {
		return err
	}
	var spots map[string][2]float64
	sheet.Outline, spots = formats.Drawing(i.Kind.Drawing)
	for _, f := range r.inspection.Described(i, i.Findings, photos) {
		asked := slices.ContainsFunc(j.Lines, func(l shoprows.JobLine) bool { return l.Finding != nil && *l.Finding == f.ID })
		if !asked && !needsShop(r.schools.Catalog, i.Kind, f.Finding) {
			continue
		}
		said := formats.SheetFinding{Text: f.Name}
		if f.Note != "" {
			said.Text += ": " + strings.ReplaceAll(f.Note, "\n", " ")
		}
		if at, ok := spots[f.Spot]; ok {
			said.Number = len(sheet.Spots) + 1
			sheet.Spots = append(sheet.Spots, formats.SheetSpot{Number: said.Number, X: at[0], Y: at[1]})
		}
		sheet.Found = append(sheet.Found, said)
		for _, p := range f.Photos {
			jpeg, err := checkrows.PhotoBytes(ctx, tx, p.ID, false)
			if err != nil {
				return err
			}
			sheet.Photos = append(sheet.Photos, jpeg)
		}
	}
	return nil
}

func (r *Room) bodyName(i *school.Instrument) string {
	if m, ok := r.schools.Catalog.Material(i.Body); ok {
		return m.Name
	}
	return i.Body
}

// filled leaves empty texts out.
func filled(texts ...string) (list []string) {
	for _, t := range texts {
		if t != "" {
			list = append(list, t)
		}
	}
	return list
}

// TripSheet writes what a driver takes along, as PDF.
func (r *Room) TripSheet(ctx context.Context, by journal.Person, id uuid.UUID, w io.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	t, ok := tripOf(s, id)
	if !ok {
		return journal.InPlainWords(store.ErrNotFound)
	}
	trip := r.trip(s, t)
	sheet := formats.TripSheet{School: s.School.Name, Day: t.On.Words(), Driver: t.Driver, Note: t.Note, AsOf: s.Today.Words()}
	for _, rides := range trip.Riders {
		places := "1 place"
		if rides.Places != 1 {
			places = fmt.Sprintf("%d places", rides.Places)
		}
		sheet.Load = append(sheet.Load, []string{rides.Tag, rides.KindName, places, rides.Where, rides.Shop})
	}
	for _, name := range trip.Shops {
		c := formats.Counter{Name: name}
		for _, at := range s.Shops {
			if at.Name == name {
				c.Address = strings.Join(filled(at.Address, at.Phone), ", ")
			}
		}
		for _, i := range s.Instruments {
			if i.Job == nil || shopName(s, i.Job.Shop) != name {
				continue
			}
			row := []string{i.Tag, i.Named(), strings.ReplaceAll(strings.Join(filled(worksText(*i.Job), i.Job.Asks), "\n"), "– ", "")}
			switch {
			case i.Job.State == shop.Booked && i.Job.Trip != nil && *i.Job.Trip == id:
				c.Leave = append(c.Leave, row)
			case i.Away() && (i.Job.ReadyOn != nil || *i.Job.ExpectedOn <= t.On):
				c.Fetch = append(c.Fetch, row)
			}
		}
		sheet.Shops = append(sheet.Shops, c)
	}
	return formats.WriteTripSheet(w, sheet)
}
