package inventory

import (
	"context"
	"errors"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
)

// The columns of the instrument file. Beside them stand columns such as last:violin-strings:string-e, the day on
// which a routine was last done; without a part, last:violin-strings holds for all its parts.
var instrumentColumns = []formats.Column{
	{Name: "tag", Words: "Tag"},
	{Name: "kind", Words: "Kind of instrument"},
	{Name: "size", Words: "Size", Type: formats.Size},
	{Name: "body", Words: "Body"},
	{Name: "maker", Words: "Maker"},
	{Name: "model", Words: "Model"},
	{Name: "serial", Words: "Serial number"},
	{Name: "room", Words: "Room"},
	{Name: "slot", Words: "Slot"},
	{Name: "acquired_on", Words: "Acquired on", Type: formats.Date},
	{Name: "price", Words: "Price", Type: formats.Amount},
	{Name: "bow_value", Words: "Value of its bow", Type: formats.Amount},
	{Name: "care_from", Words: "Care is known from", Type: formats.Date},
	{Name: "notes", Words: "Notes"},
	{Name: "ensembles", Words: "Ensembles, divided by ;"},
	{Name: "practice_minutes_per_week", Words: "Practice, minutes a week", Type: formats.Amount},
	{Name: "practice_days_per_week", Words: "Practice, days a week", Type: formats.Amount},
	{Name: "players", Words: "How many play it", Type: formats.Amount},
	{Name: "heavy_sweat", Words: "Heavy sweat, yes or no"},
	{Name: versionColumn, Words: "Version, from an export"},
}

const (
	versionColumn = "version" // what the row was when it was written; a file made by hand needs none
	lastPrefix    = "last:"
	tagRule       = "use letters, digits and dashes, at most 16, such as VN-01"
)

var tagShape = regexp.MustCompile(`^[A-Z0-9][A-Z0-9-]{0,15}$`)

func sizeRule(k *catalog.Kind) string {
	if len(k.Sizes) == 0 {
		return k.Name + " has one size only; leave it empty"
	}
	return "is no size of " + k.Name + "; use one of " + strings.Join(k.Sizes, ", ")
}

func bodyRule(k *catalog.Kind) string {
	return "is no body of " + k.Name + "; use " + strings.Join(k.Bodies, " or ")
}

// ImportReport says what an import would do or did.
type ImportReport struct {
	AsRead       formats.AsRead  `json:"as_read"`
	Rows         int             `json:"rows"`
	Added        int             `json:"added"`
	Changed      int             `json:"changed"`
	Unchanged    int             `json:"unchanged"`
	NewEnsembles []string        `json:"new_ensembles" doc:"Ensembles that the file names and the school does not have yet"`
	NoHistory    int             `json:"no_history" doc:"Instruments without care_from and last: columns, whose clocks begin today"`
	Faults       []formats.Fault `json:"faults" doc:"With even one, nothing is imported"`
	DryRun       bool            `json:"dry_run"`
	Events       []uuid.UUID     `json:"events" doc:"Of what was added, to undo it; what was changed stays changed"`
}

// InstrumentFile is a file of instruments and how to read it.
type InstrumentFile struct {
	Content []byte
	Reading formats.Reading
	DryRun  bool
}

// Import reads instruments from a CSV file or a workbook, all or nothing. A dry run does everything but keep it. Which column is which
// is remembered from the import before.
func (r *Room) Import(ctx context.Context, by journal.Person, in InstrumentFile) (ImportReport, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return ImportReport{}, err
	}
	report := newReport(in.DryRun)
	grid, err := formats.OpenGrid(in.Content, in.Reading.Sheet)
	var whole formats.Fault
	if errors.As(err, &whole) {
		report.Faults = append(report.Faults, whole)
		return report, nil
	}
	if err != nil {
		return ImportReport{}, err
	}
	kept, err := school.Write(
		ctx,
		r.Schools,
		by,
		journal.MayChangeInstruments,
		func(tx *store.Tx, s *school.Snapshot) (ImportReport, error) {
			remembered, err := tx.GetImportColumns(ctx)
			if err != nil {
				return ImportReport{}, err
			}
			im := newImporter(r, s, by, in.DryRun)
			if refused := im.read(grid, in.Reading, remembered[instrumentFile]); refused {
				report = im.report
				report.Added, report.Changed, report.Unchanged = 0, 0, 0
				return report, journal.ErrNothing
			}
			err = im.save(ctx, tx)
			if report = im.report; err == nil && in.DryRun {
				report.Events = []uuid.UUID{} // nothing came in that could be undone
				return report, journal.ErrNothing
			}
			if err == nil {
				err = tx.PutImportColumns(ctx, formats.Remember(remembered, instrumentFile, report.AsRead))
			}
			return report, err
		},
	)
	if errors.Is(err, journal.ErrNothing) {
		return report, nil
	}
	return kept, err
}

// instrumentFile is what headings call this kind of file.
const instrumentFile = "instruments"

func newReport(dryRun bool) ImportReport {
	return ImportReport{
		AsRead: formats.NotRead(), NewEnsembles: []string{}, Faults: []formats.Fault{}, DryRun: dryRun, Events: []uuid.UUID{},
	}
}

// read reads the whole file and reports whether it is refused: for a fault, or for what only a person can say.
func (im *importer) read(grid *formats.Grid, reading formats.Reading, remembered map[string]string) (refused bool) {
	known := formats.Columns{
		File: instrumentFile, Known: instrumentColumns, Sizes: im.app.Catalog.AllSizes(), Year: im.snapshot.Today.Time().Year(),
		Open: func(name string) bool { return strings.HasPrefix(name, lastPrefix) },
	}
	table, as, faults, err := grid.Read(known, reading, remembered)
	im.report.AsRead, im.table = as, table
	var whole formats.Fault
	if errors.As(err, &whole) {
		faults = append(faults, whole)
	}
	im.report.Rows, im.report.Faults = len(table.Rows), append(im.report.Faults, faults...)
	if err == nil {
		im.readColumns(table.Columns)
	}
	if len(im.report.Faults) == len(faults) && err == nil && len(as.Questions) == 0 {
		for _, row := range table.Rows {
			im.readRow(row)
		}
	}
	im.report.Faults = formats.Grouped(im.report.Faults)
	return len(im.report.Faults) > 0 || len(as.Questions) > 0
}

// importer holds one import while it is read and saved.
type importer struct {
	app      *Room
	snapshot *school.Snapshot
	by       journal.Person
	report   ImportReport
	table    formats.Table
	last     map[string][]clocks.Key // by column name
	rows     []importRow
	tags     map[string]int                // the row in which a tag stands
	here     map[string]*school.Instrument // by tag
	left     map[string]bool               // tags of instruments that are not at the school any more
}

func newImporter(a *Room, s *school.Snapshot, by journal.Person, dryRun bool) *importer {
	im := &importer{
		app: a, snapshot: s, by: by, report: newReport(dryRun),
		last: map[string][]clocks.Key{}, tags: map[string]int{}, here: map[string]*school.Instrument{}, left: map[string]bool{},
	}
	for _, i := range s.Instruments {
		im.here[i.Tag] = i
	}
	for _, i := range s.Gone {
		im.left[i.Tag] = true
	}
	return im
}

type importRow struct {
	Instrument store.Instrument
	Habit      *school.Habit
	Ensembles  []string
	Last       map[string]day.Day // by column name
	old        *school.Instrument
}

func (im *importer) fault(row int, column, value, message string) {
	im.report.Faults = append(im.report.Faults, formats.Fault{Row: row, Column: column, Value: value, Message: message})
}

func (im *importer) readColumns(columns []string) {
	for _, name := range columns {
		if !strings.HasPrefix(name, lastPrefix) {
			continue
		}
		key, part, whole := strings.Cut(strings.TrimPrefix(name, lastPrefix), ":")
		r, ok := im.app.Catalog.Routine(key)
		if !ok {
			im.fault(im.report.AsRead.HeaderRow, name, "", "there is no routine "+key)
			continue
		}
		parts := r.Clocks()
		if whole {
			if !slices.Contains(parts, part) {
				im.fault(im.report.AsRead.HeaderRow, name, "", "the routine has no clock on "+part)
				continue
			}
			parts = []string{part}
		}
		for _, p := range parts {
			im.last[name] = append(im.last[name], clocks.Key{Routine: key, Part: p})
		}
	}
	for _, needed := range []string{"tag", "kind"} {
		if !slices.Contains(columns, needed) {
			im.fault(im.report.AsRead.HeaderRow, needed, "", "is missing from the header; say which column holds it")
		}
	}
}

func (im *importer) readRow(row formats.Row) {
	c := cells{row, im}
	tag := strings.ToUpper(c.text("tag", ""))
	if !tagShape.MatchString(tag) {
		c.bad("tag", tagRule)
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
		Instrument: store.Instrument{
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
	i.Size = c.oneOf("size", i.Size, kind.Sizes, sizeRule(kind))
	i.Body = c.oneOf("body", i.Body, kind.Bodies, bodyRule(kind))
	i.Maker, i.Model, i.Serial = c.text("maker", i.Maker), c.text("model", i.Model), c.text("serial", i.Serial)
	i.Room, i.Slot, i.Notes = c.text("room", i.Room), c.text("slot", i.Slot), c.text("notes", i.Notes)
	if d, ok := c.day("acquired_on"); ok {
		i.AcquiredOn = &d
	}
	if p, ok := c.number("price", 0, 1e7); ok {
		cents := int64(math.Round(p * 100))
		i.PriceCents = &cents
	}
	if p, ok := c.number("bow_value", 0, 1e6); ok {
		cents := int64(math.Round(p * 100))
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
		habit.Players = int(n)
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
			if !clocks.Has(im.app.Catalog, kind.Key, keys[0]) {
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
	if !slices.ContainsFunc(im.snapshot.Ensembles, func(e store.Ensemble) bool { return same(e.Name) }) &&
		!slices.ContainsFunc(im.report.NewEnsembles, same) {
		im.report.NewEnsembles = append(im.report.NewEnsembles, name)
	}
}

// save writes the rows. It counts what they change.
func (im *importer) save(ctx context.Context, tx *store.Tx) error {
	ensembles := map[string]uuid.UUID{}
	for _, e := range im.snapshot.Ensembles {
		ensembles[strings.ToLower(e.Name)] = e.ID
	}
	for _, name := range im.report.NewEnsembles {
		id := uuid.Must(uuid.NewV7())
		if err := tx.PutEnsemble(ctx, store.Ensemble{ID: id, Name: name}); err != nil {
			return err
		}
		ensembles[strings.ToLower(name)] = id
	}
	for _, r := range im.rows {
		if r.Habit != nil {
			r.Habit.Ensembles = []uuid.UUID{}
			for _, name := range r.Ensembles {
				r.Habit.Ensembles = append(r.Habit.Ensembles, ensembles[strings.ToLower(name)])
			}
		}
		var err error
		if r.old == nil {
			im.report.Added++
			err = im.add(ctx, tx, r)
		} else {
			err = im.update(ctx, tx, r)
		}
		if err != nil {
			return fmt.Errorf("importing %s: %w", r.Instrument.Tag, err)
		}
	}
	return nil
}

func (im *importer) add(ctx context.Context, tx *store.Tx, r importRow) error {
	i := r.Instrument
	if err := tx.InsertInstrument(ctx, i); err != nil {
		return err
	}
	event, err := im.app.Record(ctx, tx, im.by, store.Event{What: store.Imported, Instrument: &i.ID}, i)
	if err != nil {
		return err
	}
	im.report.Events = append(im.report.Events, event)
	if r.Habit != nil {
		// It is taken to have been played like this for as long as its care is known.
		from := i.CareFrom
		for _, d := range r.Last {
			from = min(from, d)
		}
		if err := tx.PutAssignment(ctx, r.Habit.Assignment(uuid.Must(uuid.NewV7()), i.ID, from)); err != nil {
			return err
		}
	}
	kind, _ := im.app.Catalog.Kind(i.Kind)
	return im.remember(ctx, tx, r, &school.Instrument{Instrument: i, Kind: kind})
}

func (im *importer) update(ctx context.Context, tx *store.Tx, r importRow) error {
	i := r.Instrument
	same := lending.SameInstrument(r.old.Instrument, i)
	if !same {
		if err := tx.UpdateInstrument(ctx, i); err != nil {
			return err
		}
		i.Version++
		if _, err := im.app.Record(ctx, tx, im.by, store.Event{What: store.InstrumentChanged, Instrument: &i.ID}, lending.ChangeDetail{Before: &r.old.Instrument, After: &i}); err != nil {
			return err
		}
	}
	played, err := im.app.lending.ChangePlaying(ctx, tx, im.by, im.snapshot, r.old, r.Habit)
	if err != nil {
		return err
	}
	if same && len(played) == 0 {
		im.report.Unchanged++
	} else {
		im.report.Changed++
	}
	return im.remember(ctx, tx, r, r.old)
}

// remember records the care that the file says was done, where it is news.
func (im *importer) remember(ctx context.Context, tx *store.Tx, r importRow, i *school.Instrument) error {
	for column, on := range r.Last {
		for _, key := range im.last[column] {
			if i.Care.Started[key] >= on {
				continue
			}
			if _, err := im.app.care.MarkDone(ctx, tx, im.by, i, key, on); err != nil {
				return err
			}
		}
	}
	return nil
}
