package roster

import (
	"context"
	"strconv"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/formats"
	"solfeggio/internal/store/playerrows"
)

// ExportPlayers writes the players who are here as a file that ImportRoster reads, each with the latest measurement.
func (r *Room) ExportPlayers(ctx context.Context, by journal.Person, write formats.Writer) error {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return err
	}
	s, err := r.schools.Snapshot(ctx, by)
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
	for _, p := range s.Roster {
		if p.LeftOn != nil {
			continue
		}
		last := playerrows.Measurement{}
		if n := len(p.Measurements); n > 0 {
			last = p.Measurements[n-1]
		}
		rows = append(rows, []string{p.ExternalID, p.GivenName, p.FamilyName, p.GradeYear, strings.Join(s.EnsembleNames(p.Ensembles), ";"),
			p.Kind, p.Transport, p.ReedStrength, number(last.ArmLength), number(last.Height), number(&p.PracticeMinutes), p.Guardian})
	}
	var columns []string
	for _, c := range playerColumns {
		columns = append(columns, c.Name)
	}
	return write(columns, rows)
}
