package cards

import (
	"context"
	"fmt"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/catalog"
)

// Lesson is the first day with an instrument: how it is put together, step by step, and what its kit is for.
type Lesson struct {
	Kind    string       `json:"kind" doc:"Name of it"`
	Drawing string       `json:"drawing"`
	Parts   []LessonPart `json:"parts"`
	Steps   []LessonStep `json:"steps"`
	Kit     []LessonKit  `json:"kit"`
}

// LessonPart is a part by its name.
type LessonPart struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// LessonStep is a step of putting together, with the caution before it.
type LessonStep struct {
	Caution string   `json:"caution" doc:"To be read before it; empty for none"`
	Do      string   `json:"do"`
	Short   string   `json:"short"`
	Reason  string   `json:"reason"`
	Parts   []string `json:"parts"`
}

// LessonKit is a thing of the kit and the routines that use it.
type LessonKit struct {
	Name string `json:"name"`
	Note string `json:"note"`
	For  string `json:"for" doc:"What it is for; empty where its name says it"`
}

// Lesson writes the lesson for a kind of instrument, as the school does it.
func (r *Room) Lesson(ctx context.Context, by journal.Person, kind string) (Lesson, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Lesson{}, err
	}
	k, ok := r.schools.Catalog.Kind(kind)
	if !ok {
		return Lesson{}, &journal.Fault{Kind: journal.NotFound, Message: fmt.Sprintf("There is no kind %q.", kind)}
	}
	of := catalog.Subject{Kind: k, Body: k.Bodies[0], Choices: s.Choices, Moved: s.Moved}
	out := Lesson{Kind: k.Name, Drawing: k.Drawing, Parts: []LessonPart{}, Steps: []LessonStep{}, Kit: []LessonKit{}}
	for _, p := range k.Parts {
		out.Parts = append(out.Parts, LessonPart{p.Key, p.Name})
	}
	for _, routine := range r.schools.Catalog.PlayerRoutines(of) {
		if routine.Rhythm != "assembly" {
			continue
		}
		for n, step := range routine.Steps {
			if step.Gate != "" {
				continue
			}
			l := LessonStep{step.Caution, step.Do, step.Short, step.Reason, append([]string{}, step.Parts...)}
			if n == 0 && len(routine.Cautions) > 0 {
				l.Caution = routine.Cautions[0]
			}
			out.Steps = append(out.Steps, l)
		}
	}
	for _, item := range r.schools.Catalog.CaseOf(of) {
		if thing, ok := r.schools.Catalog.Supply(item.Supply); ok {
			out.Kit = append(out.Kit, LessonKit{thing.Name, item.Note, thing.For})
		}
	}
	return out, nil
}
