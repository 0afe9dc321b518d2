package cards

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/report"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/eventrows"
)

// ReportRow is what a player reported and is not settled yet.
type ReportRow struct {
	cardrows.Report
	Tag      string          `json:"tag"`
	KindName string          `json:"kind_name"`
	Says     string          `json:"says" doc:"In the player's words"`
	Told     string          `json:"told" doc:"What the card told the player to do at once"`
	May      []school.Choice `json:"may" doc:"What it may turn out to be, in the order in which it is looked for"`
}

var gravest = []cardrows.Plays{cardrows.PlaysNot, cardrows.PlaysBadly, cardrows.PlaysWell}

// Unseen lists the reports that nobody has looked at yet.
func (r *Room) Unseen(s *school.Snapshot) []ReportRow {
	return slices.DeleteFunc(r.Unsettled(s), func(row ReportRow) bool { return row.State != report.Open })
}

// Unsettled lists the reports that are not settled: what nobody has looked at yet first, of these who cannot play, then the oldest. Each
// instrument stands once for each thing said of it, however often that was.
func (r *Room) Unsettled(s *school.Snapshot) []ReportRow {
	list := []ReportRow{}
	for _, i := range s.Instruments {
		for _, x := range i.Reports {
			row := ReportRow{Report: x, Tag: i.Tag, KindName: i.Named(), Says: x.Symptom, May: []school.Choice{}}
			if symptom, ok := r.schools.Catalog.Symptom(x.Symptom); ok {
				row.Says, row.Told, row.May = symptom.Name, symptom.First, r.mayBe(symptom)
			}
			list = append(list, row)
		}
	}
	slices.SortStableFunc(list, func(a, b ReportRow) int {
		return cmp.Or(
			slices.Index(report.States, a.State)-slices.Index(report.States, b.State),
			slices.Index(gravest, a.Plays)-slices.Index(gravest, b.Plays),
			a.ReportedAt.Compare(b.ReportedAt),
		)
	})
	return list
}

// mayBe lists the findings to which a symptom leads, in the order of its checks.
func (r *Room) mayBe(s *catalog.Symptom) []school.Choice {
	list := []school.Choice{}
	for _, code := range s.Findings() {
		if !slices.ContainsFunc(list, func(c school.Choice) bool { return c.Key == code }) {
			list = append(list, school.Choice{Key: code, Name: r.inspection.FindingName(code)})
		}
	}
	return list
}

// Reports lists what players reported.
func (r *Room) Reports(ctx context.Context, by journal.Person) ([]ReportRow, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	return r.Unsettled(s), nil
}

// Settling is what becomes of a report: a finding, or a word to the player.
type Settling struct {
	Finding string `json:"finding,omitempty" doc:"Code of the finding that it is"`
	Answer  string `json:"answer,omitempty" maxLength:"300" doc:"Shown on the card; nobody is named there"`
}

// Settled says what to undo.
type Settled struct {
	Events []uuid.UUID `json:"events"`
}

// Settle makes a finding of a report, or answers it. The photograph goes with the finding.
func (r *Room) Settle(ctx context.Context, by journal.Person, id uuid.UUID, in Settling) (Settled, error) {
	return school.Write(ctx, r.schools, by, journal.MayInspect, func(tx *store.Tx, s *school.Snapshot) (Settled, error) {
		in.Answer = strings.TrimSpace(in.Answer)
		if in.Finding == "" && in.Answer == "" {
			return Settled{}, journal.Refuse("answer", "say what it is, or a word to the player", "")
		}
		x, err := cardrows.ReportByID(ctx, tx, id)
		if err == nil && x.State.Settled() {
			err = store.ErrStale
		}
		if err != nil {
			return Settled{}, err
		}
		i, err := s.Instrument(x.Instrument)
		if err != nil {
			return Settled{}, err
		}
		now := r.schools.Now()
		x.State, x.Answer, x.SettledAt, x.SettledBy = x.State.After(report.Answers), in.Answer, &now, &by.ID
		out := Settled{}
		detail := ReportDetail{Report: x.ID, Symptom: x.Symptom, Plays: x.Plays, Answer: in.Answer}
		if symptom, ok := r.schools.Catalog.Symptom(x.Symptom); ok {
			detail.Symptom = symptom.Name
		}
		if in.Finding != "" {
			finding, err := r.asFinding(ctx, tx, by, i, x, in.Finding)
			if err != nil {
				return Settled{}, err
			}
			x.State, x.Finding, detail.Finding = report.Found, &finding, r.inspection.FindingName(in.Finding)
		}
		if err := cardrows.CarryReport(ctx, tx, x); err != nil {
			return Settled{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.ReportSettled, Instrument: &i.ID}, detail)
		out.Events = []uuid.UUID{event} // the finding stays when this is undone
		return out, err
	})
}

// asFinding makes a finding of a report.
func (r *Room) asFinding(
	ctx context.Context, tx *store.Tx, by journal.Person, i *school.Instrument, x cardrows.Report, code string,
) (finding uuid.UUID, err error) {
	symptom, known := r.schools.Catalog.Symptom(x.Symptom)
	if !r.inspection.CanBeFound(i, code) || !known {
		return uuid.Nil, journal.Refuse("finding", "cannot be found on a "+catalog.InText(i.Kind.Name), code)
	}
	said := inspection.Found{Code: code, Note: "A player said: " + symptom.Name}
	if x.Photo != nil {
		said.Photos = []uuid.UUID{*x.Photo}
	}
	made := r.inspection.NewFinding(i, "", said)
	made.Finding.FoundAt, made.Finding.FoundBy = r.schools.Now(), &by.ID
	finding, _, err = r.inspection.MakeFinding(ctx, tx, by, made)
	return finding, err
}
