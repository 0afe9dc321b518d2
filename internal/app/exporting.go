package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"solfeggio/internal/formats"
	"solfeggio/internal/store"
)

// Export writes all instruments as a CSV file that Import reads.
func (a *App) Export(ctx context.Context, by Person, w io.Writer) error {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return err
	}
	columns := append([]string{}, instrumentColumns...)
	for _, i := range s.instruments {
		for key := range i.care.Started {
			if name := lastColumn(key.Routine, key.Part); !slices.Contains(columns, name) {
				columns = append(columns, name)
			}
		}
	}
	slices.Sort(columns[len(instrumentColumns):])
	rows := make([][]string, len(s.instruments))
	for n, i := range s.instruments {
		rows[n] = s.exported(i, columns)
	}
	return formats.WriteTable(w, columns, rows)
}

func lastColumn(routine, part string) string {
	if part == "" {
		return lastPrefix + routine
	}
	return lastPrefix + routine + ":" + part
}

// versionOf is what an instrument is, in short, as far as a row of a file can change it: eight digits that are others when it is.
func (s *snapshot) versionOf(i *instrument) string {
	sum := sha256.New()
	cells := s.cells(i)
	for _, column := range instrumentColumns {
		fmt.Fprintf(sum, "%q,", cells[column])
	}
	return hex.EncodeToString(sum.Sum(nil)[:4])
}

// cells are the cells of an instrument that say what it is and how it is played.
func (s *snapshot) cells(i *instrument) map[string]string {
	cell := map[string]string{
		"tag": i.Tag, "kind": i.Instrument.Kind, "size": i.Size, "body": i.Body, "maker": i.Maker, "model": i.Model, "serial": i.Serial,
		"room": i.Room, "slot": i.Slot, "care_from": i.CareFrom.String(), "notes": i.Notes,
	}
	if i.AcquiredOn != nil {
		cell["acquired_on"] = i.AcquiredOn.String()
	}
	if i.PriceCents != nil {
		cell["price"] = formats.Decimal(*i.PriceCents)
	}
	if h := i.habit; h != nil {
		cell["ensembles"] = strings.Join(s.ensembleNames(h.Ensembles), "|")
		cell["practice_minutes_per_week"] = strconv.FormatFloat(h.PracticeMinutes, 'f', -1, 64)
		cell["practice_days_per_week"] = strconv.FormatFloat(h.PracticeDaysPerWeek, 'f', -1, 64)
		cell["players"] = strconv.Itoa(h.Players)
		cell["heavy_sweat"] = map[bool]string{true: "yes", false: "no"}[h.HeavySweat]
	}
	return cell
}

func (s *snapshot) exported(i *instrument, columns []string) []string {
	cell := s.cells(i)
	cell[versionColumn] = s.versionOf(i)
	for key, on := range i.care.Started {
		cell[lastColumn(key.Routine, key.Part)] = on.String()
	}
	row := make([]string, len(columns))
	for n, name := range columns {
		row[n] = cell[name]
	}
	return row
}

// ExportPlayers writes the players who are here as a CSV file that ImportRoster reads, each with the latest measurement.
func (a *App) ExportPlayers(ctx context.Context, by Person, w io.Writer) error {
	if err := by.need(MayChangeInstruments); err != nil {
		return err
	}
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return err
	}
	number := func(v *float64) string {
		if v == nil {
			return ""
		}
		return strconv.FormatFloat(*v, 'f', -1, 64)
	}
	var rows [][]string
	for _, p := range s.roster {
		if p.LeftOn != nil {
			continue
		}
		last := store.Measurement{}
		if n := len(p.Measurements); n > 0 {
			last = p.Measurements[n-1]
		}
		rows = append(rows, []string{p.ExternalID, p.GivenName, p.FamilyName, p.GradeYear, strings.Join(s.ensembleNames(p.Ensembles), ";"),
			p.Kind, p.Transport, p.ReedStrength, number(last.ArmLength), number(last.Height), number(&p.PracticeMinutes)})
	}
	return formats.WriteTable(w, playerColumns, rows)
}
