package app_test

import (
	"bytes"
	"fmt"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
)

func TestImportNamesRowAndColumn(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind\nCL-09,clarinet-b-flat\n")
	tests := map[string]string{
		"name,kind\nVN-01,violin\n":                                       "row 1, column tag: is missing from the header",
		"tag\nVN-01\n":                                                    "row 1, column kind: is missing from the header",
		"tag,kind,last:polish\n":                                          "row 1, column last:polish: there is no routine polish",
		"tag,kind,last:violin-strings:string-c\n":                         "row 1, column last:violin-strings:string-c: the routine has no clock on string-c",
		"tag,kind\nVN 01,violin\n":                                        "row 2, column tag: use letters, digits and dashes",
		"tag,kind\nVN-01,violin\nVN-02,violin\nvn-01,violin\n":            "row 4, column tag: stands in row 2 already",
		"tag,kind\nKZ-01,kazoo\n":                                         "row 2, column kind: is no kind that is known here",
		"tag,kind\nCL-09,violin\n":                                        "row 2, column kind: CL-09 is a B-flat clarinet already",
		"tag,kind,size\nVN-01,violin,5/4\n":                               "row 2, column size: is no size of Violin",
		"tag,kind,size\nFL-01,flute,4/4\n":                                "row 2, column size: Flute has one size only",
		"tag,kind,body\nVN-01,violin,plastic\n":                           "row 2, column body: is no body of Violin; use varnish",
		"tag,kind,acquired_on\nVN-01,violin,spring\n":                     "row 2, column acquired_on: is not a day",
		"tag,kind,acquired_on\nVN-01,violin,2026-02-30\n":                 "row 2, column acquired_on: is not a day",
		"tag,kind,care_from\nVN-01,violin,2027-01-01\n":                   "row 2, column care_from: lies in the future",
		"tag,kind,price\nVN-01,violin,cheap\n":                            "row 2, column price: is not a number",
		"tag,kind,heavy_sweat\nVN-01,violin,sometimes\n":                  "row 2, column heavy_sweat: is neither yes nor no",
		"tag,kind,notes\nVN-01,violin,=HYPERLINK(1)\n":                    "row 2, column notes: looks like a formula",
		"tag,kind,notes\nVN-01,violin," + strings.Repeat("x", 201) + "\n": "row 2, column notes: is longer than 200 letters",
		"tag,kind,last:bow-rehair\nFL-01,flute,2026-01-01\n":              "row 2, column last:bow-rehair: is no care of a Flute",
		"tag,kind\nVN-01,violin\nVN-02,M\x81ller\n":                       "row 3: holds a letter that cannot be read",
		strings.Repeat("rubbish\x00\xff", 50<<20/9):                       "the file is larger than 5 MB",
	}
	for file, want := range tests {
		for _, dryRun := range []bool{true, false} {
			report, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: []byte(file), DryRun: dryRun})
			require.NoError(t, err)
			require.NotEmpty(t, report.Faults, want)
			assert.Contains(t, report.Faults[0].Error(), want)
		}
	}
	list, err := h.Inventory.Instruments(ctx, h.director)
	require.NoError(t, err)
	assert.Len(t, list, 1, "nothing was half imported")
}

func TestAllBadRowsAreListed(t *testing.T) {
	h := newHouse(t)
	report, err := h.Importing.Import(ctx, h.director,
		importing.InstrumentFile{Content: []byte("tag,kind,size\nVN-01,violin,4/4\nVN-02,violin,9/9\nVN-03,kazoo,\nVN-04,violin,8/8\n")})
	require.NoError(t, err)
	rows := []int{}
	for _, f := range report.Faults {
		rows = append(append(rows, f.Row), f.More...)
	}
	assert.ElementsMatch(t, []int{3, 4, 5}, rows)
	assert.Zero(t, report.Added)
}

func TestDryRunKeepsNothingAndReimportChanges(t *testing.T) {
	h := newHouse(t)
	const file = "tag,kind,maker,ensembles\nVN-01,violin,Oriel,Orchestra\nVN-02,violin,Oriel,\n"
	dry, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: []byte(file), DryRun: true})
	require.NoError(t, err)
	assert.Equal(
		t,
		importing.ImportReport{
			AsRead: dry.AsRead, Rows: 2, Added: 2, NoHistory: 2, NewEnsembles: []string{"Orchestra"}, Faults: dry.Faults,
			DryRun: true, Events: []uuid.UUID{},
		},
		dry,
	)
	today, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	assert.True(t, today.Empty)

	h.bring(file)
	report := h.bring("tag;kind;maker;price\nVN-01;violin;Lissom;1250,5\nVN-02;violin;Oriel;\n")
	assert.Equal(t, []int{0, 1, 1}, []int{report.Added, report.Changed, report.Unchanged})
	f, err := h.Inventory.File(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	assert.Equal(t, "Lissom", f.Instrument.Maker)
	assert.EqualValues(t, 125050, *f.Instrument.PriceCents, "a comma is as good as a point")
	assert.Equal(t, []string{"Orchestra"}, f.Listed.Ensembles, "columns that the file does not have stay as they were")
}

func TestTwoImportsAtOnce(t *testing.T) {
	h := newHouse(t)
	var wait sync.WaitGroup
	faults := make([]error, 4)
	for n := range faults {
		wait.Go(func() {
			_, faults[n] = h.another().Importing.Import(ctx, h.director,
				importing.InstrumentFile{Content: []byte("tag,kind\nVN-01,violin\nVN-02,violin\n")})
		})
	}
	wait.Wait()
	for _, err := range faults {
		if err != nil {
			fault(t, err, journal.Invalid) // whoever came second hears that the tag is taken
		}
	}
	list, err := h.Inventory.Instruments(ctx, h.director)
	require.NoError(t, err)
	assert.Len(t, list, 2)
}

// What a spreadsheet leaves open is asked, and nothing comes in before it is answered.
func TestAnImportAsks(t *testing.T) {
	h := newHouse(t)
	const file = "Inventory no,Instrument,Size,Bought\nVN-01,Geige,03-Apr,03/04/2020\nVN-02,Geige,4/4,05/06/2020\nVN-03,kazoo,4/4,\nVN-04,kazoo,4/4,\n"
	bring := func(reading formats.Reading, csv string) importing.ImportReport {
		report, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: []byte(csv), Reading: reading})
		require.NoError(t, err)
		return report
	}
	asked := bring(formats.Reading{}, file)
	require.Len(t, asked.AsRead.Questions, 2)
	assert.Zero(t, asked.Added)
	answers := formats.Reading{DayOrder: formats.DayMonth, RestoreSizes: true}
	faulty := bring(answers, file)
	require.Len(t, faulty.Faults, 1, "one fault on two rows is one")
	assert.Equal(t, formats.Fault{Row: 4, Column: "instrument", Value: "kazoo",
		Message: "is no kind that is known here. For another kind write what it is like, such as “kazoo like flute”", More: []int{5}},
		faulty.Faults[0])
	report := bring(answers, strings.ReplaceAll(file, "kazoo", "Bratsche")[:strings.Index(file, "VN-03")])
	assert.Empty(t, report.Faults)
	assert.Equal(t, 2, report.Added)
	f, err := h.Inventory.File(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	assert.Equal(t, "3/4", f.Instrument.Size)
	assert.Equal(t, "2020-04-03", f.Instrument.AcquiredOn.String())
}

// Names that are no kind are asked once: another word for one, or a kind of one's own. What was said holds for the next file, of players
// too. A column of kinds is found by what stands in it.
func TestAnImportAsksWhatAnInstrumentIs(t *testing.T) {
	h := newHouse(t)
	const file = "Inventory no,Thing\nVN-01,Geige\nVN-02,Geige\nVN-03,Geige\nCJ-01,Cajonita\nCJ-02,cajonita\nCL-01,B-flat clarnt\n"
	bring := func(kinds map[string]string) importing.ImportReport {
		report, err := h.Importing.Import(ctx, h.director,
			importing.InstrumentFile{Content: []byte(file), Reading: formats.Reading{Kinds: kinds}})
		require.NoError(t, err)
		return report
	}
	asked := bring(nil)
	assert.Zero(t, asked.Added)
	assert.Equal(t, []formats.UnknownKind{{Text: "Cajonita", Rows: 2}, {Text: "B-flat clarnt", Rows: 1, Near: "B-flat clarinet"}},
		asked.AsRead.Unknown)
	wrong := bring(map[string]string{"cajonita": "spoon", "B-flat clarnt": "Bflat"})
	assert.Len(t, wrong.AsRead.Unknown, 2, "what is said must be known itself")
	report := bring(map[string]string{"Cajonita": "Cajonita like Snare drum", "B-flat clarnt": "B-flat clarinet"})
	require.Empty(t, report.Faults)
	assert.Empty(t, report.AsRead.Unknown)
	assert.Equal(t, 6, report.Added)
	f, err := h.Inventory.File(ctx, h.director, h.id("CJ-02"))
	require.NoError(t, err)
	assert.Equal(t, "snare-drum~Cajonita", f.Instrument.Kind)

	players, err := h.Roster.ImportRoster(ctx, h.director, roster.RosterFile{Content: []byte("Name,Plays\nOdo,b-flat clarnt\n")})
	require.NoError(t, err)
	assert.Empty(t, players.Faults, "what was said of instruments holds for players")
	assert.Equal(t, 1, players.Added)
	unknown, err := h.Roster.ImportRoster(ctx, h.director, roster.RosterFile{Content: []byte("Name,Plays\nUma,zither\n")})
	require.NoError(t, err)
	assert.Equal(t, []formats.UnknownKind{{Text: "zither", Rows: 1}}, unknown.AsRead.Unknown)
}

// A column of something else is no list of kinds: nobody is asked about more than fifty names, and all stand among what is wrong.
func TestAnImportAsksAboutFiftyNamesAtMost(t *testing.T) {
	h := newHouse(t)
	file := "tag,kind\n"
	for n := range 70 {
		file += fmt.Sprintf("X%d,thing%c%c%c\n", n, 'a'+n%26, 'p'+n%7, 'q'+n/26)
	}
	report, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: []byte(file)})
	require.NoError(t, err)
	assert.Len(t, report.AsRead.Unknown, 50)
	assert.Len(t, report.Faults, 70)
}

// What is exported as a workbook comes in again unchanged.
func TestAWorkbookComesBack(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,serial,price,care_from,notes,practice_minutes_per_week\nVN-01,violin,3/4,00123,1250.5,2026-01-01,'=not a formula,30\nCL-01,clarinet-b-flat,,777,80,2026-01-01,,\n")
	var book bytes.Buffer
	require.NoError(t, h.Importing.Export(ctx, h.director, formats.Workbook(&book, "instruments")))
	report, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: book.Bytes()})
	require.NoError(t, err)
	assert.Empty(t, report.Faults)
	assert.Empty(t, report.AsRead.Questions)
	assert.Equal(t, 2, report.Unchanged)
}

// Of an instrument the year or the month may be all that is known; a telephone number is no formula; and nobody is seven tenths of a player.
func TestWhatIsKnownInPart(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,acquired on\nVN-01,violin,4/4,2022\nVN-02,violin,4/4,Aug 2012\nVN-03,violin,4/4,24-OCT-2025\n")
	parts := map[string]day.Precision{"VN-01": day.ToYear, "VN-02": day.ToMonth, "VN-03": day.Exact}
	for tag, as := range parts {
		i := h.file(tag).Instrument
		assert.Equal(t, as, i.AcquiredAs, tag)
		assert.True(t, as.Begins(*i.AcquiredOn), tag)
	}
	var written bytes.Buffer
	require.NoError(t, h.Importing.Export(ctx, h.director, formats.CSV(&written)))
	assert.Contains(t, written.String(), "2012-08,")
	again, err := h.Importing.Import(ctx, h.director, importing.InstrumentFile{Content: written.Bytes()})
	require.NoError(t, err)
	assert.Empty(t, again.Faults)
	assert.Equal(t, day.ToMonth, h.file("VN-02").Instrument.AcquiredAs, "a file that comes back knows no more")

	for column, text := range map[string]string{"players": "2.7", "care_from": "2022"} {
		report, err := h.Importing.Import(ctx, h.director,
			importing.InstrumentFile{Content: []byte("tag,kind,size," + column + "\nVN-04,violin,4/4," + text + "\n")})
		require.NoError(t, err)
		require.Len(t, report.Faults, 1, column)
		assert.Equal(t, column, report.Faults[0].Column)
	}
	assert.Empty(t, h.roster("given_name,family_name,guardian\nMia,Abara,+49 170 5550142\n", nil).Faults)
}
