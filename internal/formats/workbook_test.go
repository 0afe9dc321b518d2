package formats

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// Numbers can be added up; what only looks like one, and what would be a formula, stays the text that it is.
func TestWorkbooks(t *testing.T) {
	rows := [][]string{
		{"Rosin cake", "12.50", "3"},
		{"=SUM(A1:A9)", "007", "1e9"},
		{"Reeds, 2½", "-4", ""},
		{"+49", "1.2.3", "."},
	}
	var file bytes.Buffer
	require.NoError(t, WriteWorkbook(&file, "Order", []string{"supply", "price", "packs"}, rows))
	book, err := excelize.OpenReader(bytes.NewReader(file.Bytes()))
	require.NoError(t, err)
	defer book.Close()
	got, err := book.GetRows("Order")
	require.NoError(t, err)
	assert.Equal(t, []string{"supply", "price", "packs"}, got[0])
	assert.Equal(t, []string{"Rosin cake", "12.5", "3"}, got[1])
	assert.Equal(t, []string{"=SUM(A1:A9)", "007", "1e9"}, got[2])
	assert.Equal(t, []string{"Reeds, 2½", "-4"}, got[3])
	assert.Equal(t, []string{"+49", "1.2.3", "."}, got[4])
	for cell, number := range map[string]bool{"B2": true, "C2": true, "A3": false, "B3": false, "C3": false, "B4": false, "A5": false, "B5": false, "C5": false} {
		kind, err := book.GetCellType("Order", cell)
		require.NoError(t, err)
		// A number is written without a type of its own (ISO/IEC 29500-1, 18.18.11: n is the default).
		assert.Equal(t, number, kind == excelize.CellTypeUnset || kind == excelize.CellTypeNumber, "%s is %v", cell, kind)
		formula, err := book.GetCellFormula("Order", cell)
		require.NoError(t, err)
		assert.Empty(t, formula, cell)
	}
	require.NoError(t, WriteWorkbook(&file, "Empty", nil, nil))
	assert.Error(t, WriteWorkbook(&file, "a name with [brackets] in it", nil, nil))
}
