package inventory

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/formats"
)

// WriteHolders writes who has which instrument, by name; class sets, which nobody has, stand last by their ensembles.
func (r *Room) WriteHolders(ctx context.Context, by journal.Person, write formats.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	var rows [][]string
	for _, i := range s.Instruments {
		if i.Habit == nil {
			continue
		}
		family, given, year := "", "", ""
		if i.Habit.Player != nil {
			p := s.Players[*i.Habit.Player]
			family, given, year = p.FamilyName, p.GivenName, p.GradeYear
		}
		rows = append(rows, []string{
			family, given, year, ensemblesOf(s, i), i.Tag, i.Kind.Name, i.Size, i.Serial, i.Habit.StartsOn.String(),
			map[bool]string{true: "yes"}[i.Rental != nil],
		})
	}
	slices.SortStableFunc(rows, func(x, y []string) int {
		nobody := func(row []string) int { return map[bool]int{true: 1}[row[0]+row[1] == ""] }
		return cmp.Or(nobody(x)-nobody(y), strings.Compare(x[0], y[0]), strings.Compare(x[1], y[1]), strings.Compare(x[3], y[3]))
	})
	return write([]string{"family_name", "given_name", "grade_year", "ensembles", "tag", "kind", "size", "serial", "since", "rented"}, rows)
}

// WriteShelves writes what stands where, and where each is now, slot by slot.
func (r *Room) WriteShelves(ctx context.Context, by journal.Person, write formats.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	var rows [][]string
	for _, i := range s.Instruments {
		rows = append(rows, []string{i.Room, i.Slot, i.Tag, i.Kind.Name, i.Size, i.Maker, i.Model, i.Serial, whereNow(s, i)})
	}
	slices.SortStableFunc(rows, func(x, y []string) int {
		return cmp.Or(strings.Compare(x[0], y[0]), strings.Compare(x[1], y[1]), strings.Compare(x[2], y[2]))
	})
	return write([]string{"room", "slot", "tag", "kind", "size", "maker", "model", "serial", "is"}, rows)
}

// WriteSections writes all instruments in score order: how each stands, who has it and what it needs next.
func (r *Room) WriteSections(ctx context.Context, by journal.Person, write formats.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	marks := map[string]string{}
	for _, m := range school.Marks {
		marks[m.Key] = m.Words
	}
	var rows [][]string
	for _, i := range s.Instruments {
		l := s.Listed(i)
		due := ""
		if l.NextOn != nil {
			due = l.NextOn.String()
		}
		rows = append(rows, []string{l.Section, l.KindName, l.Size, l.Tag, l.Serial, l.Holder, ensemblesOf(s, i), marks[string(l.Mark)],
			l.Next, due})
	}
	return write([]string{"section", "kind", "size", "tag", "serial", "holder", "ensembles", "mark", "next", "next_on"}, rows)
}

func ensemblesOf(s *school.Snapshot, i *school.Instrument) string {
	if i.Habit == nil {
		return ""
	}
	return strings.Join(s.EnsembleNames(i.Habit.Ensembles), ", ")
}

// whereNow is where an instrument is, as one would say it.
func whereNow(s *school.Snapshot, i *school.Instrument) string {
	switch {
	case i.Away():
		return "at the shop"
	case i.InHands() && i.Habit.Player != nil:
		return "with " + s.NameOf(i.Habit.Player)
	case i.InHands():
		return "with players"
	case i.Habit != nil:
		return "here, class set"
	case i.Hold != nil:
		return "here, held"
	}
	return "here"
}
