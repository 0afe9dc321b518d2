package letters

import (
	"solfeggio/internal/app/school"
	"solfeggio/internal/store/eventrows"
)

// registerEvents makes known what this room writes into the log.
func (r *Room) registerEvents() {
	school.Register(r.schools, school.EventKind[NoticeDetail]{
		Name:     eventrows.NoticeSent,
		Sentence: func(NoticeDetail, school.Told) string { return "A notice was put into the simulated outbox" },
	})
}
