package app

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
)

// ListedPlayer is a player with what they hold and what fits.
type ListedPlayer struct {
	store.Player
	Name          string      `json:"name"`
	EnsembleNames []string    `json:"ensemble_names"`
	KindName      string      `json:"kind_name"`
	Holds         []Held      `json:"holds"`
	Size          *PlayerSize `json:"size,omitempty" doc:"For a stringed instrument, once the player was measured"`
}

// Held is an instrument in a player's hands.
type Held struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	Kind         string    `json:"kind"`
	Size         string    `json:"size"`
	Stopped      string    `json:"stopped,omitempty"`
}

// PlayerSize is the size that fits a player, and when the next will.
type PlayerSize struct {
	Size      string   `json:"size" doc:"By the chart; the checks with the instrument in hand stand above it"`
	Next      string   `json:"next" doc:"The size after it; empty for the largest"`
	NextOn    *day.Day `json:"next_on,omitempty" doc:"When the player's growth reaches it; left out when that cannot be told"`
	NextFrom  *day.Day `json:"next_from,omitempty" doc:"The earlier end of the band"`
	NextUntil *day.Day `json:"next_until,omitempty" doc:"The later end"`
}

// fitKind is what the chart calls a kind.
var fitKind = map[string]string{"violin": "violin", "viola": "viola", "cello": "cello", "double-bass": "bass"}

// Players lists the players who are here by name, then those who left.
func (a *App) Players(ctx context.Context, by Person) ([]ListedPlayer, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	holds := map[uuid.UUID][]Held{}
	for _, i := range s.instruments {
		if i.habit != nil && i.habit.Player != nil {
			holds[*i.habit.Player] = append(holds[*i.habit.Player], Held{i.ID, i.Tag, i.Instrument.Kind, i.Size, i.care.Stopped})
		}
	}
	list := make([]ListedPlayer, len(s.roster))
	for n, p := range s.roster {
		list[n] = ListedPlayer{Player: p, Name: p.Name(), EnsembleNames: s.ensembleNames(p.Ensembles), Holds: append([]Held{}, holds[p.ID]...), Size: sizeOf(p)}
		if k, ok := a.catalog.Kind(p.Kind); ok {
			list[n].KindName = k.Name
		}
	}
	slices.SortStableFunc(list, func(x, y ListedPlayer) int {
		left := func(p ListedPlayer) int {
			if p.LeftOn != nil {
				return 1
			}
			return 0
		}
		return left(x) - left(y)
	})
	return list, nil
}

// sizeOf works out the size for a player's kind from the latest measurement, and when the next will fit.
func sizeOf(p store.Player) *PlayerSize {
	kind, ok := fitKind[p.Kind]
	if !ok {
		return nil
	}
	in := fit.SizeIn{Kind: kind}
	var grown []fit.Measurement
	for _, m := range p.Measurements {
		measure := m.ArmLength
		if fit.Charts[kind].Measure == "height_cm" {
			measure = m.Height
		}
		if measure == nil {
			continue
		}
		in.ArmLengthCM, in.HeightCM = m.ArmLength, m.Height
		grown = append(grown, fit.Measurement{Date: m.MeasuredOn, CM: *measure})
	}
	got, err := fit.Size(in)
	if err != nil { // not measured yet
		return nil
	}
	out := &PlayerSize{Size: got.Size}
	next, from, larger := fit.Next(kind, got.Size)
	if !larger {
		return out
	}
	out.Next = next
	if growth, err := fit.Growth(fit.GrowthIn{Measurements: grown, ThresholdCM: from}); err == nil {
		out.NextOn, out.NextFrom, out.NextUntil = growth.ReachesOn, growth.LowOn, growth.HighOn
	}
	return out
}

// SavePlayer adds or changes a player.
func (a *App) SavePlayer(ctx context.Context, by Person, p store.Player) error {
	p.GivenName, p.FamilyName = strings.TrimSpace(p.GivenName), strings.TrimSpace(p.FamilyName)
	if p.GivenName == "" {
		return invalid("given_name", "give the player a name", p.GivenName)
	}
	if _, ok := a.catalog.Kind(p.Kind); !ok && p.Kind != "" {
		return invalid("kind", "is no kind of instrument", p.Kind)
	}
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return err
	}
	for n, m := range p.Measurements {
		if m.MeasuredOn > s.today {
			return invalid(fmt.Sprintf("measurements[%d].measured_on", n), "lies in the future", m.MeasuredOn)
		}
		if slices.ContainsFunc(p.Measurements[:n], func(other store.Measurement) bool { return other.MeasuredOn == m.MeasuredOn }) {
			return invalid(fmt.Sprintf("measurements[%d].measured_on", n), "is measured twice", m.MeasuredOn)
		}
	}
	_, err = write(ctx, a, by, MayChangeInstruments, "save-player", p, func(tx *store.Tx) (struct{}, error) {
		return struct{}{}, tx.PutPlayer(ctx, p)
	})
	return err
}

// RosterReport says what a roster would change or changed.
type RosterReport struct {
	Rows         int             `json:"rows"`
	Added        int             `json:"added"`
	Changed      int             `json:"changed"`
	Unchanged    int             `json:"unchanged"`
	NewEnsembles []string        `json:"new_ensembles" doc:"Classes that the school does not have as ensembles yet"`
	Leavers      []Leaver        `json:"leavers" doc:"Players of an earlier roster who are not in this one"`
	Columns      []string        `json:"columns" doc:"Columns of a CSV file as it names them, for the mapping"`
	Faults       []formats.Fault `json:"faults" doc:"With even one, nothing is imported"`
	DryRun       bool            `json:"dry_run"`
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
	Mapping     map[string]string // our column by theirs
	MarkLeavers bool              // those who are missing have left today
	DryRun      bool
}

// ImportRoster reads players from a OneRoster archive or a CSV file, all or nothing. Players are known again by their id in
// the roster, or by name and year where there is none, so that reading the same file again changes nothing.
func (a *App) ImportRoster(ctx context.Context, by Person, in RosterFile) (RosterReport, error) {
	if err := by.need(MayChangeInstruments); err != nil {
		return RosterReport{}, err
	}
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return RosterReport{}, err
	}
	r := &rosterImport{app: a, snapshot: s, report: RosterReport{NewEnsembles: []string{}, Leavers: []Leaver{}, Columns: []string{}, Faults: []formats.Fault{}, DryRun: in.DryRun}}
	var whole formats.Fault
	switch err := r.read(in); {
	case errors.As(err, &whole):
		r.report.Faults = append(r.report.Faults, whole)
		return r.report, nil
	case err != nil:
		return RosterReport{}, err
	}
	r.compare()
	if len(r.report.Faults) > 0 {
		r.report.Added, r.report.Changed, r.report.Unchanged = 0, 0, 0
		return r.report, nil
	}
	if in.DryRun {
		return r.report, nil
	}
	return write(ctx, a, by, MayChangeInstruments, "import-roster", in.Content, func(tx *store.Tx) (RosterReport, error) {
		return r.report, r.save(ctx, tx, in.MarkLeavers)
	})
}

// rosterImport holds one roster while it is read, compared and saved.
type rosterImport struct {
	app      *App
	snapshot *snapshot
	report   RosterReport
	rows     []rosterRow
	changed  []store.Player // to be saved; their ensembles by name are in classes
	classes  map[uuid.UUID][]string
}

// rosterRow is one player as the file has them. A nil field is not in the file.
type rosterRow struct {
	line              int
	id, given, family string
	grade             *string
	ensembles         []string // nil leaves them as they are
	kind, transport   *string
	armLength, height *float64
	practiceMinutes   *float64
}

var isZip = []byte("PK\x03\x04")

func (r *rosterImport) read(in RosterFile) error {
	if len(in.Content) >= len(isZip) && string(in.Content[:len(isZip)]) == string(isZip) {
		roster, faults, err := formats.ReadOneRoster(in.Content)
		if err != nil {
			return err
		}
		r.report.Faults = append(r.report.Faults, faults...)
		for _, p := range roster.Players {
			r.rows = append(r.rows, rosterRow{line: p.Line, id: p.ExternalID, given: cmp.Or(p.GivenName, p.FamilyName), family: map[bool]string{true: p.FamilyName}[p.GivenName != ""], grade: &p.GradeYear, ensembles: append([]string{}, p.Ensembles...)})
		}
		r.report.Rows = roster.Rows
		return nil
	}
	return r.readTable(in)
}

// The columns of a player file.
var playerColumns = []string{"external_id", "given_name", "family_name", "grade_year", "ensembles", "instrument", "transport", "arm_length_cm", "height_cm", "practice_minutes_per_week"}

// compare finds who is new, who changed and who is missing.
func (r *rosterImport) compare() {
	byID, byName := map[string]*store.Player{}, map[string]*store.Player{}
	for n := range r.snapshot.roster {
		p := &r.snapshot.roster[n]
		if p.ExternalID != "" {
			byID[p.ExternalID] = p
		} else {
			byName[nameKey(p.GivenName, p.FamilyName, p.GradeYear)] = p
		}
	}
	r.classes = map[uuid.UUID][]string{}
	seen, first := map[uuid.UUID]bool{}, map[string]int{}
	for _, row := range r.rows {
		key := row.id
		old := byID[row.id]
		if row.id == "" {
			grade := ""
			if row.grade != nil {
				grade = *row.grade
			}
			key = nameKey(row.given, row.family, grade)
			old = byName[key]
		}
		if line, twice := first[key]; twice {
			r.fault(row.line, "external_id", row.id, fmt.Sprintf("is the same player as row %d; two of one name need an external_id each", line))
			continue
		}
		first[key] = row.line
		p := store.Player{ID: uuid.Must(uuid.NewV7()), PracticeMinutes: defaultPractice, PracticeDays: usage.DefaultPracticeDays, VacationShare: usage.DefaultVacationShare, Ensembles: []uuid.UUID{}, Measurements: []store.Measurement{}}
		if old != nil {
			p = *old
			seen[old.ID] = true
		}
		r.apply(&p, row, old)
	}
	for _, p := range r.snapshot.roster {
		if p.ExternalID != "" && p.LeftOn == nil && !seen[p.ID] {
			r.report.Leavers = append(r.report.Leavers, Leaver{p.ID, p.Name(), r.snapshot.tagsOf(p.ID)})
		}
	}
}

// defaultPractice is what is assumed of a player of whom nothing else is known, in minutes a week (from memory).
const defaultPractice = 60

func nameKey(given, family, grade string) string {
	return strings.ToLower(given + "\x00" + family + "\x00" + grade)
}

func (r *rosterImport) fault(row int, column, value, message string) {
	r.report.Faults = append(r.report.Faults, formats.Fault{Row: row, Column: column, Value: value, Message: message})
}

// apply lays a row over a player and counts what it changes.
func (r *rosterImport) apply(p *store.Player, row rosterRow, old *store.Player) {
	before := *p
	p.ExternalID, p.GivenName, p.FamilyName, p.LeftOn = row.id, row.given, row.family, nil
	if row.grade != nil {
		p.GradeYear = *row.grade
	}
	if row.kind != nil {
		p.Kind = *row.kind
	}
	if row.transport != nil {
		p.Transport = *row.transport
	}
	if row.practiceMinutes != nil {
		p.PracticeMinutes = *row.practiceMinutes
	}
	same := before.ExternalID == p.ExternalID && before.GivenName == p.GivenName && before.FamilyName == p.FamilyName && before.GradeYear == p.GradeYear &&
		before.Kind == p.Kind && before.Transport == p.Transport && before.PracticeMinutes == p.PracticeMinutes && before.LeftOn == nil
	if row.armLength != nil || row.height != nil {
		same = !r.measure(p, row) && same
	}
	names := r.snapshot.ensembleNames(p.Ensembles)
	if row.ensembles != nil {
		for _, name := range row.ensembles {
			r.noteEnsemble(name)
		}
		same = same && sameNames(names, row.ensembles)
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
func (r *rosterImport) measure(p *store.Player, row rosterRow) bool {
	if n := len(p.Measurements); n > 0 {
		last := p.Measurements[n-1]
		if sameLength(last.ArmLength, row.armLength) && sameLength(last.Height, row.height) {
			return false
		}
	}
	p.Measurements = slices.DeleteFunc(slices.Clone(p.Measurements), func(m store.Measurement) bool { return m.MeasuredOn == r.snapshot.today })
	p.Measurements = append(p.Measurements, store.Measurement{MeasuredOn: r.snapshot.today, ArmLength: row.armLength, Height: row.height})
	return true
}

func sameLength(known, given *float64) bool {
	return given == nil || known != nil && *known == *given
}

func sameNames(x, y []string) bool {
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
	if !slices.ContainsFunc(r.snapshot.ensembles, func(e store.Ensemble) bool { return same(e.Name) }) && !slices.ContainsFunc(r.report.NewEnsembles, same) {
		r.report.NewEnsembles = append(r.report.NewEnsembles, name)
	}
}

func (r *rosterImport) save(ctx context.Context, tx *store.Tx, markLeavers bool) error {
	ids := map[string]uuid.UUID{}
	for _, e := range r.snapshot.ensembles {
		ids[strings.ToLower(e.Name)] = e.ID
	}
	for _, name := range r.report.NewEnsembles {
		id := uuid.Must(uuid.NewV7())
		if err := tx.PutEnsemble(ctx, store.Ensemble{ID: id, Name: name}); err != nil {
			return err
		}
		ids[strings.ToLower(name)] = id
	}
	for _, p := range r.changed {
		p.Ensembles = []uuid.UUID{}
		for _, name := range r.classes[p.ID] {
			p.Ensembles = append(p.Ensembles, ids[strings.ToLower(name)])
		}
		if err := tx.PutPlayer(ctx, p); err != nil {
			return fmt.Errorf("importing %s: %w", p.Name(), err)
		}
	}
	if !markLeavers {
		return nil
	}
	for _, l := range r.report.Leavers {
		p := *r.snapshot.players[l.ID]
		p.LeftOn = &r.snapshot.today
		if err := tx.PutPlayer(ctx, p); err != nil {
			return fmt.Errorf("marking %s as left: %w", l.Name, err)
		}
	}
	return nil
}

// tagsOf lists what a player holds.
func (s *snapshot) tagsOf(player uuid.UUID) []string {
	tags := []string{}
	for _, i := range s.instruments {
		if i.habit != nil && i.habit.Player != nil && *i.habit.Player == player {
			tags = append(tags, i.Tag)
		}
	}
	return tags
}
