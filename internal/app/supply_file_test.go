package app_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/formats"
)

// Suppliers, prices and stock come in from the list that a school has; what the catalogue does not know becomes the school's own, and the
// file that goes out comes in again unchanged.
func TestAFileOfSupplies(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size\nTR-01,trumpet,\nVN-01,violin,3/4\n")
	bring := func(dry bool, file string) supply.FileReport {
		report, err := h.Supply.Import(ctx, h.director, supply.File{Content: []byte(file), DryRun: dry})
		require.NoError(t, err)
		return report
	}
	const file = "Artikel;Größe;Lieferant;Preis;Bestand\nValve oil;;Marrow Music;6,50;4\nViolin strings;3/4;Marrow Music;22,90;\nSaddle soap;;;3,20;2\n"
	tried := bring(true, file)
	assert.Equal(t, []any{3, 2, []string{"Saddle soap"}}, []any{tried.Changed, tried.Counted, tried.Own})
	lines := func() map[string]supply.SupplyLine {
		list, err := h.Supply.Supplies(ctx, h.director, 12, 0.9)
		require.NoError(t, err)
		out := map[string]supply.SupplyLine{}
		for _, l := range list.Lines {
			out[l.Name] = l
		}
		return out
	}
	assert.Nil(t, lines()["Valve oil"].PackPriceCents, "a dry run keeps nothing")
	done := bring(false, file)
	assert.Equal(t, []int{3, 2}, []int{done.Changed, done.Counted})
	oil, soap := lines()["Valve oil"], lines()["Saddle soap"]
	assert.Equal(t, []any{int64(650), "Marrow Music", 4.}, []any{*oil.PackPriceCents, oil.Supplier, oil.InStock})
	assert.Equal(t, []any{int64(320), 2., "piece", float64(kits.UsualLeadWeeks)},
		[]any{*soap.PackPriceCents, soap.InStock, soap.Unit, soap.LeadWeeks})

	var out bytes.Buffer
	require.NoError(t, h.Supply.Export(ctx, h.director, formats.CSV(&out)))
	again := bring(false, out.String())
	assert.Empty(t, again.Faults)
	assert.Equal(t, []int{0, 0}, []int{again.Changed, again.Counted})

	for row, want := range map[string]string{
		"supply,price\nValve oyl,3\n":             "row 2, column supply: is spelled nearly like “Valve oil”; write that, or another name for a supply of your own",
		"supply,price\nViolin strings,3\n":        "row 2, column size: say which size or strength, and only where there are several",
		"supply,price\nPencil,3\npencil,4\n":      "row 3, column supply: stands in row 2 already",
		"supply,weeks\nPencil,300\n":              "row 2, column weeks: is no number from 0 to 104",
		"supply,price\n,3\n":                      "row 2, column supply: needs a name of at most 40 letters",
		"what,price\nsomething that nobody has,3": "row 1, column supply: is missing from the header; say which column holds it",
	} {
		report := bring(false, row)
		require.NotEmpty(t, report.Faults, row)
		assert.Equal(t, want, report.Faults[0].Error())
	}

	require.NoError(t, h.Supply.NameSupply(ctx, h.director, supply.OwnSupply{Name: "Cane glue"}))
	assert.Contains(t, lines(), "Cane glue")
	fault(t, h.Supply.NameSupply(ctx, h.director, supply.OwnSupply{Name: "valve oil"}), journal.Invalid)
}
