package roster

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/schoolrows"
)

// RosterReport says what a roster would change or changed.
type RosterReport struct {
	AsRead       formats.AsRead  `json:"as_read"`
	Classes      []RosterPart    `json:"classes" doc:"Of an archive, with all their pupils, also those that were not asked for"`
	Years        []RosterPart    `json:"years" doc:"The same by year"`
	Rows         int             `json:"rows"`
	Added        int             `json:"added"`
	Changed      int             `json:"changed"`
	Unchanged    int             `json:"unchanged"`
	NewEnsembles []string        `json:"new_ensembles" doc:"Classes that the school does not have as ensembles yet"`
	Leavers      []Leaver        `json:"leavers" doc:"Players of an earlier roster who are not in this one"`
	Faults       []formats.Fault `json:"faults" doc:"With even one, nothing is imported"`
	DryRun       bool            `json:"dry_run"`
}

// RosterPart is a class or a year of a roster.
type RosterPart struct {
	Name   string `json:"name"`
	Pupils int    `json:"pupils"`
}

// Leaver is a player who is in no roster any more.
type Leaver struct {
	ID    uuid.UUID `json:"id"`
	Name  string    `json:"name"`
	Holds []string  `json:"holds" doc:"Tags of what they still have"`
}

// RosterFile is a file of players and how to read it.
type RosterFile struct {
	Content     []byte
	Reading     formats.Reading // of a table
	Classes     []string        // of an archive: only who is in one of these; all when empty
	Years       []string        // the same by year
	MarkLeavers bool            // those who are missing have left today
	DryRun      bool
}

// ImportRoster reads players from a OneRoster archive, a CSV file or a workbook, all or nothing. Players are known again (see recognize),
// so that reading the same file again changes nothing.
func (r *Room) ImportRoster(ctx context.Context, by journal.Person, in RosterFile) (RosterReport, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return RosterReport{}, err
	}
	file := &rosterImport{
		app: r,
		report: RosterReport{
			AsRead:       formats.NotRead(),
			Classes:      []RosterPart{},
			Years:        []RosterPart{},
			NewEnsembles: []string{},
			Leavers:      []Leaver{},
			Faults:       []formats.Fault{},
			DryRun:       in.DryRun,
		},
	}
	done, err := formats.RoomFor(ctx, in.Content)
	var grid *formats.Grid
	if err == nil {
		defer done()
		grid, err = file.open(in)
	}
	if err == nil {
		var kept RosterReport
		kept, err = school.Write(
			ctx,
			r.schools,
			by,
			journal.MayChangeInstruments,
			func(tx *store.Tx, s *school.Snapshot) (RosterReport, error) { return file.run(ctx, tx, s, grid, in) },
		)
		if err == nil {
			return kept, nil
		}
	}
	var whole formats.Fault
	switch {
	case errors.As(err, &whole):
		file.report.Faults = append(file.report.Faults, whole)
	case !errors.Is(err, journal.ErrNothing):
		return RosterReport{}, err
	}
	return file.report, nil
}

// open reads the file as far as that needs no school: an archive whole, of a table its cells.
func (r *rosterImport) open(in RosterFile) (*formats.Grid, error) {
	if formats.IsRoster(in.Content) {
		return nil, r.readArchive(in)
	}
	return formats.OpenGrid(in.Content, in.Reading.Sheet)
}

// run compares the roster with the school and, unless it is only tried, saves what it changes.
func (r *rosterImport) run(ctx context.Context, tx *store.Tx, s *school.Snapshot, grid *formats.Grid, in RosterFile) (RosterReport, error) {
	remembered, err := schoolrows.GetImportColumns(ctx, tx)
	if err != nil {
		return r.report, err
	}
	r.snapshot = s
	if grid != nil {
		if err := r.readTable(grid, in.Reading, remembered); err != nil {
			return r.report, err
		}
	}
	r.compare()
	r.report.Faults = formats.Grouped(r.report.Faults)
	if in.DryRun || len(r.report.Faults) > 0 || len(r.report.AsRead.Questions) > 0 {
		return r.report, journal.ErrNothing
	}
	if err := r.save(ctx, tx, in.MarkLeavers); err != nil || grid == nil {
		return r.report, err
	}
	return r.report, schoolrows.PutImportColumns(ctx, tx, formats.Remember(remembered, playerFile, r.report.AsRead))
}

// rosterImport holds one roster while it is read, compared and saved.
type rosterImport struct {
	app      *Room
	snapshot *school.Snapshot
	report   RosterReport
	table    formats.Table
	rows     []rosterRow
	changed  []playerrows.Player // to be saved; their ensembles by name are in classes
	classes  map[uuid.UUID][]string
}

// rosterRow is one player as the file has them. A nil field is not in the file.
type rosterRow struct {
	line              int
	id, given, family string
	grade             *string
	ensembles         []string // nil leaves them as they are
	kind, transport   *string
	reedStrength      *string
	armLength, height *float64
	practiceMinutes   *float64
	guardian          *string
}

// readArchive reads the pupils of a OneRoster archive who are in one of the classes and one of the years that are wanted.
func (r *rosterImport) readArchive(in RosterFile) error {
	roster, faults, err := formats.ReadOneRoster(in.Content)
	if err != nil {
		return err
	}
	r.report.Faults = append(r.report.Faults, faults...)
	r.report.AsRead.Remarks = append(r.report.AsRead.Remarks, roster.Remarks...)
	classes, years := map[string]int{}, map[string]int{}
	for _, p := range roster.Players {
		for _, class := range p.Ensembles {
			classes[class]++
		}
		years[p.GradeYear]++
	}
	r.report.Classes, r.report.Years = parts(classes), parts(years)
	for _, p := range roster.Players {
		if len(in.Classes) > 0 {
			p.Ensembles = slices.DeleteFunc(p.Ensembles, func(class string) bool { return !slices.Contains(in.Classes, class) })
		}
		if len(in.Classes) > 0 && len(p.Ensembles) == 0 || len(in.Years) > 0 && !slices.Contains(in.Years, p.GradeYear) {
			continue
		}
		r.report.Rows++
		for _, text := range append([]string{p.ExternalID, p.GivenName, p.FamilyName, p.GradeYear}, p.Ensembles...) {
			if len([]rune(text)) > formats.MaxText {
				r.fault(p.Line, "users.csv", text, fmt.Sprintf("a text is longer than %d letters", formats.MaxText))
			}
		}
		row := rosterRow{
			line:      p.Line,
			id:        p.ExternalID,
			given:     p.GivenName,
			family:    p.FamilyName,
			grade:     &p.GradeYear,
			ensembles: append([]string{}, p.Ensembles...),
		}
		if p.Guardian != "" {
			row.guardian = &p.Guardian
		}
		if row.given == "" { // who has one name only
			row.given, row.family = row.family, ""
		}
		r.rows = append(r.rows, row)
	}
	return nil
}

func parts(pupils map[string]int) []RosterPart {
	list := []RosterPart{}
	for _, name := range slices.Sorted(maps.Keys(pupils)) {
		list = append(list, RosterPart{name, pupils[name]})
	}
	return list
}

// compare finds who is new, who changed and who is missing.
func (r *rosterImport) compare() {
	r.classes = map[uuid.UUID][]string{}
	once := r.rows[:0:0]
	first := map[string]int{}
	for _, row := range r.rows {
		key := cmp.Or(row.id, rosterName(row.given, row.family)+"\x00"+row.year())
		if line, twice := first[key]; twice {
			r.fault(
				row.line,
				"external_id",
				row.id,
				fmt.Sprintf("is the same player as row %d; two of one name need an external_id each", line),
			)
			continue
		}
		first[key] = row.line
		once = append(once, row)
	}
	known := recognize(r.snapshot.Roster, once)
	seen := map[uuid.UUID]bool{}
	for n, row := range once {
		p := playerrows.Player{
			ID:              uuid.Must(uuid.NewV7()),
			PracticeMinutes: usage.DefaultPracticeMinutes,
			PracticeDays:    usage.DefaultPracticeDays,
			VacationShare:   usage.DefaultVacationShare,
			Ensembles:       []uuid.UUID{},
			Measurements:    []playerrows.Measurement{},
		}
		switch old := known[n]; {
		case len(old) > 1:
			r.fault(
				row.line,
				"given_name",
				row.given,
				fmt.Sprintf("is the name of %d players here; give an external_id, or correct the year", len(old)),
			)
		case len(old) == 1:
			p = *old[0]
			seen[p.ID] = true
			r.apply(&p, row, old[0])
		default:
			r.apply(&p, row, nil)
		}
	}
	if len(r.report.Faults) > 0 {
		r.report.Added, r.report.Changed, r.report.Unchanged = 0, 0, 0
		return
	}
	for _, p := range r.snapshot.Roster {
		if p.ExternalID != "" && p.LeftOn == nil && !seen[p.ID] {
			r.report.Leavers = append(r.report.Leavers, Leaver{p.ID, p.Name(), r.snapshot.TagsOf(p.ID)})
		}
	}
}

func (r *rosterImport) fault(row int, column, value, message string) {
	r.report.Faults = append(r.report.Faults, formats.Fault{Row: row, Column: column, Value: value, Message: message})
}

// apply lays a row over a player and counts what it changes.
func (r *rosterImport) apply(p *playerrows.Player, row rosterRow, old *playerrows.Player) {
	before := *p
	p.ExternalID, p.GivenName, p.FamilyName, p.LeftOn = cmp.Or(row.id, p.ExternalID), row.given, row.family, nil
	if row.grade != nil {
		p.GradeYear = *row.grade
	}
	if row.kind != nil {
		p.Kind = *row.kind
	}
	if row.transport != nil {
		p.Transport = *row.transport
	}
	if row.reedStrength != nil {
		p.ReedStrength = *row.reedStrength
	} else if p.Kind != before.Kind {
		p.ReedStrength = ""
	}
	if err := r.app.checkStrength(p); err != nil {
		r.fault(row.line, "reed_strength", p.ReedStrength, err.Error())
	}
	if row.guardian != nil {
		p.Guardian = *row.guardian
	}
	if row.practiceMinutes != nil {
		p.PracticeMinutes = *row.practiceMinutes
	}
	same := before.ExternalID == p.ExternalID && before.GivenName == p.GivenName && before.FamilyName == p.FamilyName &&
		before.GradeYear == p.GradeYear &&
		before.Kind == p.Kind && before.Transport == p.Transport && before.ReedStrength == p.ReedStrength &&
		before.PracticeMinutes == p.PracticeMinutes && before.Guardian == p.Guardian &&
		before.LeftOn == nil
	if row.armLength != nil || row.height != nil {
		same = !r.measure(p, row) && same
	}
	names := r.snapshot.EnsembleNames(p.Ensembles)
	if row.ensembles != nil {
		for _, name := range row.ensembles {
			r.noteEnsemble(name)
		}
		same = same && SameNames(names, row.ensembles)
		names = row.ensembles
	}
	switch {
	case old == nil:
		r.report.Added++
	case same:
		r.report.Unchanged++
		return
	default:
		r.report.Changed++
	}
	r.classes[p.ID] = names
	r.changed = append(r.changed, *p)
}

// measure adds what the file measured, as of today, unless it is what was known.
func (r *rosterImport) measure(p *playerrows.Player, row rosterRow) bool {
	if n := len(p.Measurements); n > 0 {
		last := p.Measurements[n-1]
		if sameLength(last.ArmLength, row.armLength) && sameLength(last.Height, row.height) {
			return false
		}
	}
	p.Measurements = slices.DeleteFunc(
		slices.Clone(p.Measurements),
		func(m playerrows.Measurement) bool { return m.MeasuredOn == r.snapshot.Today },
	)
	p.Measurements = append(p.Measurements, playerrows.Measurement{MeasuredOn: r.snapshot.Today, ArmLength: row.armLength, Height: row.height})
	return true
}

func sameLength(known, given *float64) bool {
	return given == nil || known != nil && *known == *given
}

// SameNames reports whether two lists hold the same names in any order.
func SameNames(x, y []string) bool {
	lower := func(list []string) []string {
		out := []string{}
		for _, name := range list {
			out = append(out, strings.ToLower(name))
		}
		slices.Sort(out)
		return slices.Compact(out)
	}
	return slices.Equal(lower(x), lower(y))
}

func (r *rosterImport) noteEnsemble(name string) {
	same := func(other string) bool { return strings.EqualFold(other, name) }
	if !slices.ContainsFunc(r.snapshot.Ensembles, func(e schoolrows.Ensemble) bool { return same(e.Name) }) &&
		!slices.ContainsFunc(r.report.NewEnsembles, same) {
		r.report.NewEnsembles = append(r.report.NewEnsembles, name)
	}
}

func (r *rosterImport) save(ctx context.Context, tx *store.Tx, markLeavers bool) error {
	ids := map[string]uuid.UUID{}
	for _, e := range r.snapshot.Ensembles {
		ids[strings.ToLower(e.Name)] = e.ID
	}
	for _, name := range r.report.NewEnsembles {
		id := uuid.Must(uuid.NewV7())
		if err := schoolrows.PutEnsemble(ctx, tx, schoolrows.Ensemble{ID: id, Name: name}); err != nil {
			return err
		}
		ids[strings.ToLower(name)] = id
	}
	for _, p := range r.changed {
		p.Ensembles = []uuid.UUID{}
		for _, name := range r.classes[p.ID] {
			p.Ensembles = append(p.Ensembles, ids[strings.ToLower(name)])
		}
		if err := playerrows.PutPlayer(ctx, tx, p); err != nil {
			return fmt.Errorf("importing %s: %w", p.Name(), err)
		}
	}
	if !markLeavers {
		return nil
	}
	for _, l := range r.report.Leavers {
		p := *r.snapshot.Players[l.ID]
		p.LeftOn = &r.snapshot.Today
		if err := playerrows.PutPlayer(ctx, tx, p); err != nil {
			return fmt.Errorf("marking %s as left: %w", l.Name, err)
		}
	}
	return nil
}
