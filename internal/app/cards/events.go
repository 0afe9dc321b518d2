package cards

import (
	"context"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/cardrows"
	"solfeggio/internal/store/eventrows"
)

// ReportDetail is what the log keeps of a report and of what became of it.
type ReportDetail struct {
	Report  uuid.UUID      `json:"report"`
	Symptom string         `json:"symptom"` // its name
	Plays   cardrows.Plays `json:"plays"`
	Finding string         `json:"finding,omitempty"` // its name
	Answer  string         `json:"answer,omitempty"`
}

var playsWords = map[cardrows.Plays]string{cardrows.PlaysWell: "can play", cardrows.PlaysBadly: "can play, but badly", cardrows.PlaysNot: "cannot play"}

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[ReportDetail]{
		Name: eventrows.Reported,
		Sentence: func(d ReportDetail, _ school.Told) string {
			return fmt.Sprintf("Reported on the card: %s (%s)", catalog.InText(d.Symptom), playsWords[d.Plays])
		},
	})
	school.Register(r.schools, school.EventKind[ReportDetail]{
		Name: eventrows.ReportSettled,
		Sentence: func(d ReportDetail, _ school.Told) string {
			if d.Finding != "" {
				return fmt.Sprintf("Report of “%s” became a finding: %s", d.Symptom, catalog.InText(d.Finding))
			}
			return fmt.Sprintf("Report of “%s” answered: %s", d.Symptom, d.Answer)
		},
		Undo: func(ctx context.Context, tx *store.Tx, _ school.Undoing, d ReportDetail) ([]string, error) {
			var stays []string
			if d.Finding != "" {
				stays = append(stays, "the finding that was made of it")
			}
			return stays, cardrows.ReopenReport(ctx, tx, d.Report)
		},
	})
}
