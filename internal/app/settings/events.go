package settings

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/eventrows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[OwnChange]{
		Name: eventrows.OwnChoice,
		Sentence: func(d OwnChange, _ school.Told) string {
			if d.Option != "" || d.Limits != nil {
				return "Its own way: " + d.Title
			}
			return "As the school again: " + d.Title
		},
	})
}
