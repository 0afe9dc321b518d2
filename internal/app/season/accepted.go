package season

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/season"
	"solfeggio/internal/store"
	"solfeggio/internal/store/seasonrows"
)

// Accepted is a plan that is to hold.
type Accepted struct {
	Pieces []seasonrows.SeasonPiece `json:"pieces" maxItems:"5000" doc:"All of them; an empty list drops the plan"`
}

// Accept puts a plan in the place of the present one. Its pieces stand on Today in their week.
func (r *Room) Accept(ctx context.Context, by journal.Person, in Accepted) error {
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		if err := journal.AsSeen(ctx, s.Season); err != nil {
			return struct{}{}, err
		}
		seen := map[seasonrows.SeasonPiece]bool{}
		for n, p := range in.Pieces {
			p.Pinned = false
			at := fmt.Sprintf("pieces[%d]", n)
			i := s.ByID[p.Instrument]
			switch {
			case i == nil:
				return struct{}{}, journal.Refuse(at+".instrument_id", "no such instrument", p.Instrument)
			case p.Work != atShop && len(clocksOf(i, p.Work)) == 0:
				return struct{}{}, journal.Refuse(at+".work", "is no care of "+i.Tag, p.Work)
			case p.Monday.Weekday() != 1:
				return struct{}{}, journal.Refuse(at+".monday", "is no Monday", p.Monday)
			case seen[p]:
				return struct{}{}, journal.Refuse(at+".monday", i.Tag+" has it twice in that week", p.Monday)
			}
			seen[p] = true
		}
		return struct{}{}, seasonrows.SetSeasonPieces(ctx, tx, in.Pieces, s.Today)
	})
	return err
}

// SaveSettings says what the weeks of a season hold.
func (r *Room) SaveSettings(ctx context.Context, by journal.Person, in seasonrows.SeasonSettings) error {
	return r.schools.ChangeSettings(ctx, by, "save-season", in, func(tx *store.Tx, s *school.Snapshot) error {
		if err := journal.AsSeen(ctx, s.SeasonSet); err != nil {
			return err
		}
		return seasonrows.SetSeasonSettings(ctx, tx, in)
	})
}

func clocksOf(i *school.Instrument, routine string) (list []clocks.Clock) {
	for _, c := range i.Clocks {
		if c.Routine == routine {
			list = append(list, c)
		}
	}
	return list
}

// acceptedStill are the accepted weeks that are not over, by the id of the first piece of that work, in their order.
func acceptedStill(s *school.Snapshot, h horizon) map[string][]seasonrows.SeasonPiece {
	rows := map[string][]seasonrows.SeasonPiece{}
	for _, p := range s.Season {
		name := id(p.Instrument, p.Work, 0)
		rows[name] = append(rows[name], p)
	}
	for name, list := range rows {
		i := s.ByID[list[0].Instrument]
		if i == nil {
			delete(rows, name)
			continue
		}
		var mondays []day.Day
		for _, p := range list {
			mondays = append(mondays, p.Monday)
		}
		rows[name] = list[season.Over(mondays, list[0].AcceptedOn, lastDone(i, list[0].Work, h)):]
	}
	return rows
}

// lastDone is when a routine was last done on all of an instrument that comes due within the season; 0 where nothing does.
func lastDone(i *school.Instrument, routine string, h horizon) (on day.Day) {
	for _, c := range clocksOf(i, routine) {
		if due := c.Reading.DueOn; !due.IsZero() && due < h.end() && (on.IsZero() || c.Started < on) {
			on = c.Started
		}
	}
	return on
}

// Due is an accepted piece whose week has come.
type Due struct {
	InstrumentID uuid.UUID  `json:"instrument_id"`
	Tag          string     `json:"tag"`
	Title        string     `json:"title"`
	Monday       day.Day    `json:"monday"`
	Missed       bool       `json:"missed" doc:"Its week has gone by"`
	JobID        *uuid.UUID `json:"job_id,omitempty" doc:"Of a job for a shop"`
}

// ThisWeek lists the accepted pieces of this week and those that were missed, which nobody has done since.
func (r *Room) ThisWeek(s *school.Snapshot) []Due {
	list := []Due{}
	h := horizonOf(s)
	monday := h.monday
	still := acceptedStill(s, h)
	for _, p := range s.Season {
		i := s.ByID[p.Instrument]
		if i == nil || p.Monday > monday || !slices.Contains(still[id(p.Instrument, p.Work, 0)], p) {
			continue
		}
		due := Due{InstrumentID: i.ID, Tag: i.Tag, Monday: p.Monday, Missed: p.Monday < monday}
		if p.Work == atShop {
			if i.Job == nil || i.Job.State.Begun() {
				continue
			}
			due.Title, due.JobID = "to the shop", &i.Job.ID
			list = append(list, due)
			continue
		}
		open := 0
		for _, c := range clocksOf(i, p.Work) {
			if c.Reading.Wear >= s.School.OpensAt && c.Started < p.Monday {
				open++
				due.Title = c.Of.Title
			}
		}
		if open > 0 {
			due.Title = strings.TrimSuffix(due.Title, ".")
			list = append(list, due)
		}
	}
	return list
}
