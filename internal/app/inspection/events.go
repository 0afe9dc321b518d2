package inspection

import (
	"context"
	"fmt"
	"strings"

	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/eventrows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[InspectedDetail]{
		Name: eventrows.Inspected,
		Sentence: func(d InspectedDetail, _ school.Told) string {
			found, gone := ", nothing found", ""
			if len(d.Found) > 0 {
				found = ": " + inText(d.Found)
			}
			if len(d.Cleared) > 0 {
				gone = "; no longer seen: " + inText(d.Cleared)
			}
			return "Checked" + found + gone + ". " + d.Grade.Words()
		},
	})
	school.Register(r.schools, school.EventKind[FindingDetail]{
		Name: eventrows.FindingMade,
		Sentence: func(d FindingDetail, _ school.Told) string {
			if d.Note != "" {
				return fmt.Sprintf("Found: %s (%s)", d.Title, d.Note)
			}
			return "Found: " + d.Title
		},
	})
	school.Register(r.schools, school.EventKind[FindingDetail]{
		Name: eventrows.FindingCleared,
		Sentence: func(d FindingDetail, _ school.Told) string {
			if d.How != "" {
				return "Cleared: " + d.Title + ", " + d.How
			}
			return "Cleared: " + d.Title
		},
		Undo: func(ctx context.Context, tx *store.Tx, _ school.Undoing, d FindingDetail) ([]string, error) {
			return nil, checkrows.ReopenFinding(ctx, tx, d.Finding)
		},
	})
}

func inText(names []string) string {
	list := make([]string, len(names))
	for n, name := range names {
		list[n] = catalog.InText(name)
	}
	return strings.Join(list, ", ")
}
