package formats

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
)

// A column of numbers can be added up; one in which anything is none, or would be a formula, stays the text that it is.
func TestWorkbooks(t *testing.T) {
	rows := [][]string{
		{"Rosin cake", "12.50", "3", "12"},
		{"=SUM(A1:A9)", "12", "1e9", "12.50"},
		{"Reeds, 2½", "4", "", ""},
		{"+49", "0.5", ".", ""},
	}
	var file bytes.Buffer
	require.NoError(t, WriteWorkbook(&file, "Order", []string{"supply", "price", "packs", "sum"}, rows))
	book, err := excelize.OpenReader(bytes.NewReader(file.Bytes()))
	require.NoError(t, err)
	defer book.Close()
	got, err := book.GetRows("Order")
	require.NoError(t, err)
	assert.Equal(t, []string{"supply", "price", "packs", "sum"}, got[0])
	assert.Equal(t, []string{"Rosin cake", "12.5", "3", "12"}, got[1])
	assert.Equal(t, []string{"=SUM(A1:A9)", "12", "1e9", "12.5"}, got[2])
	assert.Equal(t, []string{"Reeds, 2½", "4"}, got[3])
	assert.Equal(t, []string{"+49", "0.5", "."}, got[4])
	for cell, number := range map[string]bool{"A2": false, "B2": true, "C2": false, "D2": true, "A3": false, "B3": true, "C3": false,
		"D3": true, "B4": true, "A5": false, "B5": true, "C5": false} {
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
