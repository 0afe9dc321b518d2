package season

import (
	"context"
	"fmt"
	"io"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/season"
	"solfeggio/internal/formats"
)

// ScoreSheet writes the season as it stands for the wall, as PDF: what was accepted, else what would be proposed.
func (r *Room) ScoreSheet(ctx context.Context, by journal.Person, paper formats.Paper, atOnce bool, w io.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	score, err := r.Plan(ctx, by, Planning{Pins: []Pin{}, AtOnce: atOnce})
	if err != nil {
		return err
	}
	sheet := score.sheet()
	sheet.School = s.School.Name
	state := "proposed, not accepted yet"
	if score.Accepted {
		state = "accepted"
	}
	if score.Improving {
		state += ", still being worked out"
	}
	sheet.Below = fmt.Sprintf("As of %s: %d pieces of work, %s.", s.Today.Words(), len(score.Pieces), state)
	return formats.WriteScoreSheet(w, sheet, paper)
}

// sheet is the score on paper.
func (score Score) sheet() formats.ScoreSheet {
	sheet := formats.ScoreSheet{List: make([]formats.ScoreWeek, len(score.Weeks))}
	for n, w := range score.Weeks {
		bar := formats.ScoreBar{
			Name: w.Monday.Time().Format("2 Jan"), Rest: w.Break != "", Concert: strings.Join(w.Concerts, ", "), Minutes: w.Minutes,
			Used: w.UsedMinutes,
		}
		if w.Trip {
			bar.Trip = fmt.Sprintf("%d/%d", w.UsedPlaces, w.Places)
		}
		sheet.Weeks = append(sheet.Weeks, bar)
		sheet.List[n].Heading = w.heading()
	}
	for _, s := range score.Staves {
		sheet.Staves = append(sheet.Staves, formats.ScoreStaff{Name: s.Section, Family: s.Family})
	}
	for _, n := range score.Notes {
		sheet.Notes = append(sheet.Notes, formats.ScoreNote{
			Staff: n.Staff, Week: n.Week, Back: n.Back, Shop: n.Place == season.Van, Early: n.When == Early, Late: n.When == Late,
			Pinned: n.Pinned,
			Count:  len(n.Pieces),
		})
		var tags []string
		for _, k := range n.Pieces {
			tags = append(tags, score.Pieces[k].Tag)
		}
		line := n.Title + ": " + strings.Join(tags, ", ")
		if n.Place == season.Van {
			line += " (to a shop)"
		}
		sheet.List[n.Week].Lines = append(sheet.List[n.Week].Lines, line)
	}
	sheet.List = append(sheet.List, score.waiting()...)
	first, last := score.Weeks[0].Monday, score.Weeks[len(score.Weeks)-1].Monday
	sheet.Heading = fmt.Sprintf("The season from %s to %s", first.Words(), (last + 6).Words())
	return sheet
}

// heading names a week, with what happens in it.
func (w Week) heading() string {
	text := w.Monday.Time().Format("2 January")
	if w.Name != "" {
		text = "Week " + w.Name + ", " + text
	}
	for _, more := range append([]string{w.Break}, w.Concerts...) {
		if more != "" {
			text += ", " + more
		}
	}
	return text
}

// waiting is the work that finds no week.
func (score Score) waiting() []formats.ScoreWeek {
	var lines []string
	for _, p := range score.Pieces {
		if p.Week == nil {
			lines = append(lines, p.Tag+": "+p.Title)
		}
	}
	if len(lines) == 0 {
		return nil
	}
	return []formats.ScoreWeek{{Heading: "Finds no week", Lines: lines}}
}

// ReadinessSheet writes who will be ready for which concert, as PDF.
func (r *Room) ReadinessSheet(ctx context.Context, by journal.Person, w io.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	list, err := r.Readiness(ctx, by)
	if err != nil {
		return err
	}
	sheet := formats.ReadinessSheet{School: s.School.Name, Day: s.Today.Words()}
	for _, c := range list {
		concert := formats.ConcertSheet{
			Heading: c.Concert + ", " + c.On.Words(), Ready: fmt.Sprintf("%d of %d chairs ready", c.Ready, c.Chairs),
		}
		var seats []string
		for _, e := range c.Ensembles {
			seats = append(seats, fmt.Sprintf("%s %d of %d", e.Name, e.Ready, e.Chairs))
		}
		concert.Seats = strings.Join(seats, " · ")
		for _, n := range c.NotReady {
			when := "nobody knows when"
			switch {
			case n.By != nil && *n.By == s.Today:
				when = "today"
			case n.By != nil:
				when = n.By.Time().Format("2 Jan")
				if !n.InTime {
					when += ", too late"
				}
			}
			concert.Rows = append(concert.Rows, []string{n.Tag, n.Player + "\n" + n.Ensemble, n.Because, n.Way, when})
		}
		sheet.Concerts = append(sheet.Concerts, concert)
	}
	return formats.WriteReadinessSheet(w, sheet)
}
