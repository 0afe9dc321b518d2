package importing

import (
	"context"
	"errors"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/schoolrows"
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
)

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
	done, err := formats.RoomFor(ctx, in.Content)
	var grid *formats.Grid
	if err == nil {
		defer done()
		grid, err = formats.OpenGrid(in.Content, in.Reading.Sheet)
	}
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
		r.schools,
		by,
		journal.MayChangeInstruments,
		func(tx *store.Tx, s *school.Snapshot) (ImportReport, error) {
			remembered, err := schoolrows.GetImportColumns(ctx, tx)
			if err != nil {
				return ImportReport{}, err
			}
			im := newImporter(r, s, by, in.DryRun)
			if refused := im.read(grid, in.Reading, remembered); refused {
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
				err = schoolrows.PutImportColumns(ctx, tx, formats.Remember(remembered, instrumentFile, report.AsRead))
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
func (im *importer) read(grid *formats.Grid, reading formats.Reading, remembered map[string]map[string]string) (refused bool) {
	im.kinds = im.app.schools.KindNamesOf(im.snapshot, reading.Kinds, remembered[formats.RememberedKinds])
	known := formats.Columns{
		File: instrumentFile, Known: instrumentColumns, Sizes: im.app.schools.Catalog.AllSizes(), Year: im.snapshot.Today.Time().Year(),
		Open: func(name string) bool { return strings.HasPrefix(name, lastPrefix) },
		Fits: map[string]func(string) bool{"kind": func(text string) bool { _, ok := im.app.schools.Catalog.KindCalled(text); return ok }},
	}
	table, as, faults, err := grid.Read(known, reading, remembered[instrumentFile])
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
		im.report.AsRead.Unknown = im.kinds.Unknown
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
	kinds    *school.KindNames
	last     map[string][]clocks.Key // by column name
	rows     []importRow
	tags     map[string]int                // the row in which a tag stands
	here     map[string]*school.Instrument // by tag
	left     map[string]bool               // tags of instruments that are not at the school any more
	changes  []inventory.Edited            // of instruments that are here
	wants    []lending.Wanted
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
	Instrument instrumentrows.Instrument
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
		r, ok := im.app.schools.Catalog.Routine(key)
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
