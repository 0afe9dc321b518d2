package formats

import (
	"bytes"
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func cell(t *testing.T, r Row, column string) string {
	t.Helper()
	text, ok := r.Cell(column)
	require.True(t, ok, column)
	return text
}

func TestReadTable(t *testing.T) {
	for name, text := range map[string]string{
		"commas, quoted":       "Tag,Maker\nVN-01,\"Lindqvist, Sons\"\n\nVN-02,\n",
		"semicolons and a BOM": "\ufeffTag;Maker\r\nVN-01;Lindqvist, Sons\r\n;\r\nVN-02;\r\n",
		"tabs":                 "Tag\tMaker\nVN-01\tLindqvist, Sons\nVN-02\n",
	} {
		t.Run(name, func(t *testing.T) {
			table, faults, err := ReadTable(strings.NewReader(text))
			require.NoError(t, err)
			assert.Empty(t, faults)
			require.Len(t, table.Rows, 2)
			assert.Equal(t, "Lindqvist, Sons", cell(t, table.Rows[0], "maker"))
			assert.Equal(t, "VN-02", cell(t, table.Rows[1], "tag"))
		})
	}
}

func TestReadTableRefuses(t *testing.T) {
	tests := map[string]string{
		"":                                   "the file is empty",
		"tag,maker\nVN-01,M\x81ller\n":       "row 2: holds a letter that cannot be read",
		"tag,Tag\n":                          "row 1, column tag: stands in the header twice",
		"tag\n\"VN-01\n":                     "row 2: the quotation marks do not match",
		"tag\nPK\x00\x03":                    "this is neither a text nor a workbook",
		strings.Repeat("x", MaxTableBytes+1): "the file is larger than 5 MB",
		"tag\n" + strings.Repeat("x\n", MaxTableRows+1): "more than 10000 rows",
	}
	for text, want := range tests {
		_, _, err := ReadTable(strings.NewReader(text))
		assert.ErrorContains(t, err, want)
	}
}

func TestReadTableListsCellsItCannotUse(t *testing.T) {
	_, faults, err := ReadTable(strings.NewReader("tag,notes,price\nVN-01,=1+1,-5\nVN-02,@sum,-\nVN-03,a,b,c\n"))
	require.NoError(t, err)
	assert.Equal(t, []Fault{
		{Row: 2, Column: "notes", Value: "=1+1", Message: "looks like a formula; write its value"},
		{Row: 3, Column: "notes", Value: "@sum", Message: "looks like a formula; write its value"},
		{Row: 4, Message: "has 4 fields, the header 3"},
	}, faults)
}

// Some spreadsheet programs look past blanks for a formula.
func TestBlanksDoNotHideAFormula(t *testing.T) {
	for _, cell := range []string{" =1+1", "\u00a0@sum(a1)", "\ufeff +1"} {
		var file bytes.Buffer
		require.NoError(t, WriteTable(&file, []string{"notes"}, [][]string{{cell}}))
		assert.Contains(t, file.String(), "'"+cell)
	}
}

func TestWhatIsWrittenReadsBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		want := strings.TrimSpace(rapid.StringMatching(`['=+@a-]{0,3}[a-z",; \n=]{0,6}x`).Draw(t, "cell"))
		var file bytes.Buffer
		require.NoError(t, WriteTable(&file, []string{"tag", "notes"}, [][]string{{"VN-01", want}}))
		raw, err := csv.NewReader(bytes.NewReader(file.Bytes())).ReadAll()
		require.NoError(t, err)
		assert.NotContains(t, formulaStarts, raw[1][1][:1], "a spreadsheet program would run it")
		table, faults, err := ReadTable(&file)
		require.NoError(t, err)
		assert.Empty(t, faults)
		got, _ := table.Rows[0].Cell("notes")
		assert.Equal(t, want, got)
	})
}
