package app_test

import (
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
)

func TestImportNamesRowAndColumn(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind\nCL-09,clarinet-b-flat\n")
	tests := map[string]string{
		"name,kind\nVN-01,violin\n":                                       "row 1, column name: is not a column",
		"tag\nVN-01\n":                                                    "row 1, column kind: is missing from the header",
		"tag,kind,last:polish\n":                                          "row 1, column last:polish: there is no routine polish",
		"tag,kind,last:violin-strings:string-c\n":                         "row 1, column last:violin-strings:string-c: the routine has no clock on string-c",
		"tag,kind\nVN 01,violin\n":                                        "row 2, column tag: use letters, digits and dashes",
		"tag,kind\nVN-01,violin\nVN-02,violin\nvn-01,violin\n":            "row 4, column tag: stands in row 2 already",
		"tag,kind\nKZ-01,kazoo\n":                                         "row 2, column kind: is not known",
		"tag,kind\nCL-09,violin\n":                                        "row 2, column kind: CL-09 is a B-flat clarinet already",
		"tag,kind,size\nVN-01,violin,5/4\n":                               "row 2, column size: is no size of Violin",
		"tag,kind,size\nFL-01,flute,4/4\n":                                "row 2, column size: Flute has one size only",
		"tag,kind,body\nVN-01,violin,plastic\n":                           "row 2, column body: is no body of Violin; use varnish",
		"tag,kind,acquired_on\nVN-01,violin,24.11.2026\n":                 "row 2, column acquired_on: is not a day",
		"tag,kind,acquired_on\nVN-01,violin,2026-02-30\n":                 "row 2, column acquired_on: is not a day",
		"tag,kind,care_from\nVN-01,violin,2027-01-01\n":                   "row 2, column care_from: lies in the future",
		"tag,kind,price\nVN-01,violin,\"1,500\"\n":                        "row 2, column price: is not a number",
		"tag,kind,heavy_sweat\nVN-01,violin,sometimes\n":                  "row 2, column heavy_sweat: is neither yes nor no",
		"tag,kind,notes\nVN-01,violin,=HYPERLINK(1)\n":                    "row 2, column notes: looks like a formula",
		"tag,kind,notes\nVN-01,violin," + strings.Repeat("x", 201) + "\n": "row 2, column notes: is longer than 200 letters",
		"tag,kind,last:bow-rehair\nFL-01,flute,2026-01-01\n":              "row 2, column last:bow-rehair: is no care of a Flute",
		"tag,kind\nVN-01,violin\nVN-02,M\xfcller\n":                       "row 3: holds a character that is not UTF-8",
		strings.Repeat("rubbish\x00\xff", 50<<20/9):                       "the file is larger than 5 MB",
	}
	for file, want := range tests {
		for _, dryRun := range []bool{true, false} {
			report, err := h.Inventory.Import(ctx, h.director, strings.NewReader(file), dryRun)
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
	report, err := h.Inventory.Import(
		ctx,
		h.director,
		strings.NewReader("tag,kind,size\nVN-01,violin,4/4\nVN-02,violin,9/9\nVN-03,kazoo,\nVN-04,violin,8/8\n"),
		false,
	)
	require.NoError(t, err)
	rows := []int{}
	for _, f := range report.Faults {
		rows = append(rows, f.Row)
	}
	assert.Equal(t, []int{3, 4, 5}, rows)
	assert.Zero(t, report.Added)
}

func TestDryRunKeepsNothingAndReimportChanges(t *testing.T) {
	h := newHouse(t)
	const file = "tag,kind,maker,ensembles\nVN-01,violin,Oriel,Orchestra\nVN-02,violin,Oriel,\n"
	dry, err := h.Inventory.Import(ctx, h.director, strings.NewReader(file), true)
	require.NoError(t, err)
	assert.Equal(
		t,
		inventory.ImportReport{Rows: 2, Added: 2, NoHistory: 2, NewEnsembles: []string{"Orchestra"}, Faults: dry.Faults, DryRun: true, Events: []uuid.UUID{}},
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
			_, faults[n] = h.another().Inventory.Import(ctx, h.director, strings.NewReader("tag,kind\nVN-01,violin\nVN-02,violin\n"), false)
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
