package inventory

import (
	"context"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
)

// Turn is what becomes of an instrument whose kind is corrected.
type Turn struct {
	KindName string   `json:"kind_name"`
	Ends     []string `json:"ends" doc:"Care that its new kind does not have; what was done stays in its timeline"`
	Begins   []string `json:"begins" doc:"Care that comes anew; its clocks begin where the care of the instrument is known from"`
	Size     string   `json:"size"`
	Body     string   `json:"body" doc:"Name of its material"`
	Refused  string   `json:"refused" doc:"Why it cannot be, now; empty when it can"`
}

// AsKind says what would become of an instrument if it were of another kind. Nothing is changed.
func (r *Room) AsKind(ctx context.Context, by journal.Person, id uuid.UUID, kind string) (Turn, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return Turn{}, err
	}
	i, err := s.Instrument(id)
	if err != nil {
		return Turn{}, journal.InPlainWords(err)
	}
	k, ok := r.schools.Catalog.Kind(kind)
	if !ok {
		return Turn{}, journal.Refuse("kind", "is no kind that is known", kind)
	}
	after := asKind(i.Instrument, k)
	body, _ := r.schools.Catalog.Material(after.Body)
	out := Turn{KindName: k.Name, Ends: r.besides(s, i.Kind, k), Begins: r.besides(s, k, i.Kind), Size: after.Size, Body: body.Name}
	if refused := r.cannotTurn(i, k); refused != nil {
		out.Refused = refused.Error()
	}
	return out, nil
}

// Turning corrects the kind of an instrument.
type Turning struct {
	Kind    string `json:"kind" maxLength:"100"`
	Version int    `json:"version" doc:"That was read"`
}

// Turn corrects the kind of an instrument. A size or a body that its new kind does not have is left open or usual.
func (r *Room) Turn(ctx context.Context, by journal.Person, id uuid.UUID, in Turning) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		i, err := s.Instrument(id)
		if err != nil {
			return journal.Changed{}, err
		}
		k, ok := r.schools.Catalog.Kind(in.Kind)
		switch {
		case !ok:
			return journal.Changed{}, journal.Refuse("kind", "is no kind that is known", in.Kind)
		case in.Version != i.Instrument.Version:
			return journal.Changed{}, store.ErrStale
		}
		if err := r.cannotTurn(i, k); err != nil {
			return journal.Changed{}, err
		}
		events, err := r.SaveChanges(ctx, tx, by, Edited{i.Instrument, asKind(i.Instrument, k)})
		return journal.Changed{Version: in.Version + 1, Events: events}, err
	})
}

func asKind(i instrumentrows.Instrument, k *catalog.Kind) instrumentrows.Instrument {
	i.Kind = k.Key
	if !slices.Contains(k.Sizes, i.Size) {
		i.Size = ""
	}
	if !slices.Contains(k.Bodies, i.Body) {
		i.Body = k.Bodies[0]
	}
	return i
}

// besides lists the titles of the care that comes due on a kind and that another one has not.
func (r *Room) besides(s *school.Snapshot, k, other *catalog.Kind) []string {
	titles := []string{}
	for _, key := range k.Routines {
		routine, _ := r.schools.Catalog.Routine(key)
		if _, _, limited := routine.LimitsFor(s.Choices); limited && !slices.Contains(other.Routines, key) &&
			!slices.Contains(titles, routine.Title) {
			titles = append(titles, routine.Title)
		}
	}
	return titles
}

// cannotTurn is why an instrument cannot become another kind as it stands.
func (r *Room) cannotTurn(i *school.Instrument, k *catalog.Kind) error {
	refuse := func(format string, args ...any) error {
		return &journal.Fault{Kind: journal.Conflict, Message: fmt.Sprintf(format, args...)}
	}
	switch {
	case i.Kind.Key == k.Key:
		return refuse("It is a %s already.", k.Name)
	case i.Bench != nil:
		return refuse("It lies at the bench; finish it or take it off first.")
	case i.Job != nil:
		return refuse("It has an open repair; close it or call it off first.")
	}
	for _, f := range i.Findings {
		if !slices.ContainsFunc(r.schools.Catalog.FindingsOf(k), func(of *catalog.FindingKind) bool { return of.Code == f.Code }) {
			of, _ := r.schools.Catalog.Finding(f.Code)
			return refuse("“%s” is open, which a %s does not have; end it first.", of.Name, k.Name)
		}
	}
	return nil
}
