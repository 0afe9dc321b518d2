package importing

import (
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/schoolrows"
)

func (im *importer) readRow(row formats.Row) {
	c := cells{row, im}
	tag := strings.ToUpper(c.text("tag", ""))
	if !inventory.TagShape.MatchString(tag) {
		c.bad("tag", inventory.TagRule)
		return
	}
	if first, twice := im.tags[tag]; twice {
		c.bad("tag", fmt.Sprintf("stands in row %d already", first))
		return
	}
	im.tags[tag] = row.Line
	kind := c.kind()
	if kind == nil {
		return
	}
	r := importRow{
		Instrument: instrumentrows.Instrument{
			ID:       uuid.Must(uuid.NewV7()),
			Tag:      tag,
			Kind:     kind.Key,
			Body:     kind.Bodies[0],
			CareFrom: im.snapshot.Today,
		},
		Last: map[string]day.Day{},
	}
	habit := school.UsualHabit()
	switch i := im.here[tag]; {
	case i == nil && im.left[tag] && c.text(versionColumn, "") != "":
		c.bad("tag", tag+" has left the school since this file was made; take it out of the file")
		return
	case i != nil:
		if i.Kind.Key != kind.Key {
			c.bad("kind", tag+" is a "+i.Kind.Name+" already")
			return
		}
		r.old, r.Instrument = i, i.Instrument
		if h := i.Habit; h != nil {
			habit = school.HabitOf(h)
		}
	}
	i := &r.Instrument
	i.Size = c.oneOf("size", i.Size, kind.Sizes, inventory.SizeRule(kind))
	i.Body = c.oneOf("body", i.Body, kind.Bodies, inventory.BodyRule(kind))
	i.Maker, i.Model, i.Serial = c.text("maker", i.Maker), c.text("model", i.Model), c.text("serial", i.Serial)
	i.Room, i.Slot, i.Notes = c.text("room", i.Room), c.text("slot", i.Slot), c.text("notes", i.Notes)
	if d, as, ok := c.partOfDay("acquired_on"); ok {
		i.AcquiredOn, i.AcquiredAs = &d, as
	}
	if p, ok := c.number("price", 0, 1e7); ok {
		cents := im.snapshot.School.Currency.Cents(p)
		i.PriceCents = &cents
	}
	if p, ok := c.number("bow_value", 0, 1e6); ok {
		cents := im.snapshot.School.Currency.Cents(p)
		i.BowCents = &cents
		if !slices.ContainsFunc(kind.Parts, func(p catalog.Part) bool { return p.Material == catalog.BowHair }) {
			c.bad("bow_value", kind.Name+" has no bow")
		}
	}
	from, known := c.day("care_from")
	if known {
		i.CareFrom = from
	}
	if m, ok := c.number("practice_minutes_per_week", 0, 10080); ok {
		habit.PracticeMinutes = m
	}
	if n, ok := c.number("practice_days_per_week", 0, 7); ok {
		habit.PracticeDays = n
	}
	if n, ok := c.number("players", 1, 99); ok {
		if habit.Players = int(n); float64(habit.Players) != n {
			c.bad("players", "is no whole number")
		}
	}
	habit.HeavySweat = c.yes("heavy_sweat", habit.HeavySweat)
	r.Ensembles = im.snapshot.EnsembleNames(habit.Ensembles)
	if text, ok := row.Cell("ensembles"); ok {
		r.Ensembles = []string{}
		for _, name := range strings.FieldsFunc(text, func(r rune) bool { return r == '|' || r == ';' }) {
			if name = strings.TrimSpace(name); name != "" {
				r.Ensembles = append(r.Ensembles, name)
				im.noteEnsemble(name)
			}
		}
	}
	for column, keys := range im.last {
		if d, ok := c.day(column); ok {
			if !clocks.Has(im.app.schools.Catalog, kind.Key, keys[0]) {
				c.bad(column, "is no care of a "+kind.Name)
			}
			r.Last[column] = d
		}
	}
	if r.old == nil && !known && len(r.Last) == 0 {
		im.report.NoHistory++
	}
	if len(r.Ensembles) > 0 || habit.PracticeMinutes > 0 {
		r.Habit = &habit
	}
	if r.old != nil {
		im.checkAgainst(c, r)
	}
	im.rows = append(im.rows, r)
}

// checkAgainst refuses what a row must not do to an instrument that is here: let it out or take it back past what holds it, or
// undo what happened since the file was made.
func (im *importer) checkAgainst(c cells, r importRow) {
	i := r.old
	if version := c.text(versionColumn, ""); version != "" && version != versionOf(im.snapshot, i) && !im.leavesAsItIs(r) {
		c.bad(versionColumn, i.Tag+" was changed here since this file was made; export it again, or correct this row and empty its version")
		return
	}
	switch {
	case i.Habit == nil && r.Habit != nil:
		if refused := i.CannotBeHandedOut(); refused != nil {
			c.bad("ensembles", "cannot be: "+refused.Error())
		}
	case i.Habit != nil && i.Habit.Player != nil && r.Habit == nil:
		c.bad(
			"ensembles",
			fmt.Sprintf(
				"cannot be empty: %s is in the hands of %s. Take it back under Return, so that it is looked at",
				i.Tag,
				im.snapshot.NameOf(i.Habit.Player),
			),
		)
	}
}

// leavesAsItIs reports whether a row says what is so already.
func (im *importer) leavesAsItIs(r importRow) bool {
	i := r.old
	if !lending.SameInstrument(i.Instrument, r.Instrument) || (i.Habit == nil) != (r.Habit == nil) {
		return false
	}
	if i.Habit == nil {
		return true
	}
	has := school.HabitOf(i.Habit)
	wants := *r.Habit
	wants.Ensembles = has.Ensembles
	return lending.SameHabit(&has, &wants) && roster.SameNames(im.snapshot.EnsembleNames(has.Ensembles), r.Ensembles)
}

func (im *importer) noteEnsemble(name string) {
	same := func(other string) bool { return strings.EqualFold(other, name) }
	if !slices.ContainsFunc(im.snapshot.Ensembles, func(e schoolrows.Ensemble) bool { return same(e.Name) }) &&
		!slices.ContainsFunc(im.report.NewEnsembles, same) {
		im.report.NewEnsembles = append(im.report.NewEnsembles, name)
	}
}
