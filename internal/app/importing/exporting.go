package importing

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/formats"
)

// Export writes all instruments as a file that Import reads.
func (r *Room) Export(ctx context.Context, by journal.Person, write formats.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	columns := columnNames()
	own := len(columns)
	for _, i := range s.Instruments {
		for key := range i.Care.Started {
			if name := lastColumn(key.Routine, key.Part); !slices.Contains(columns, name) {
				columns = append(columns, name)
			}
		}
	}
	slices.Sort(columns[own:])
	rows := make([][]string, len(s.Instruments))
	for n, i := range s.Instruments {
		rows[n] = exported(s, i, columns)
	}
	return write(columns, rows)
}

func columnNames() []string {
	var names []string
	for _, c := range instrumentColumns {
		names = append(names, c.Name)
	}
	return names
}

func lastColumn(routine, part string) string {
	if part == "" {
		return lastPrefix + routine
	}
	return lastPrefix + routine + ":" + part
}

// versionOf is what an instrument is, in short, as far as a row of a file can change it: eight digits that are others when it is.
func versionOf(s *school.Snapshot, i *school.Instrument) string {
	sum := sha256.New()
	cells := cellsOf(s, i)
	for _, column := range columnNames() {
		fmt.Fprintf(sum, "%q,", cells[column])
	}
	return hex.EncodeToString(sum.Sum(nil)[:4])
}

// cellsOf are the cells of an instrument that say what it is and how it is played.
func cellsOf(s *school.Snapshot, i *school.Instrument) map[string]string {
	cell := map[string]string{
		"tag": i.Tag, "kind": i.Instrument.Kind, "size": i.Size, "body": i.Body, "maker": i.Maker, "model": i.Model, "serial": i.Serial,
		"room": i.Room, "slot": i.Slot, "care_from": i.CareFrom.String(), "notes": i.Notes,
	}
	if i.AcquiredOn != nil {
		cell["acquired_on"] = i.AcquiredAs.In(*i.AcquiredOn)
	}
	if i.PriceCents != nil {
		cell["price"] = s.School.Currency.Plain(*i.PriceCents)
	}
	if i.BowCents != nil {
		cell["bow_value"] = s.School.Currency.Plain(*i.BowCents)
	}
	if h := i.Habit; h != nil {
		cell["ensembles"] = strings.Join(s.EnsembleNames(h.Ensembles), "|")
		cell["practice_minutes_per_week"] = strconv.FormatFloat(h.PracticeMinutes, 'f', -1, 64)
		cell["practice_days_per_week"] = strconv.FormatFloat(h.PracticeDaysPerWeek, 'f', -1, 64)
		cell["players"] = strconv.Itoa(h.Players)
		cell["heavy_sweat"] = map[bool]string{true: "yes", false: "no"}[h.HeavySweat]
	}
	return cell
}

func exported(s *school.Snapshot, i *school.Instrument, columns []string) []string {
	cell := cellsOf(s, i)
	cell[versionColumn] = versionOf(s, i)
	for key, on := range i.Care.Started {
		cell[lastColumn(key.Routine, key.Part)] = on.String()
	}
	row := make([]string, len(columns))
	for n, name := range columns {
		row[n] = cell[name]
	}
	return row
}
