package formats

import (
	"bytes"
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/xuri/excelize/v2"
	"golang.org/x/text/encoding/charmap"
	"golang.org/x/text/encoding/unicode"
	"pgregory.net/rapid"

	"solfeggio/internal/officetest"
)

// room is a small file of instruments.
var room = Columns{
	File: "instruments",
	Known: []Column{
		{Name: "tag"}, {Name: "kind"}, {Name: "size", Type: Size}, {Name: "serial"}, {Name: "acquired_on", Type: Date},
		{Name: "price", Type: Amount}, {Name: "notes"},
	},
	Year:  2026,
	Sizes: []string{"1/32", "1/16", "1/10", "1/8", "1/4", "1/2", "3/4", "7/8", "4/4"},
}

func readAs(t *testing.T, content []byte, in Reading) (Table, AsRead, []Fault) {
	t.Helper()
	grid, err := OpenGrid(content, in.Sheet)
	require.NoError(t, err)
	table, as, faults, err := grid.Read(room, in, nil)
	require.NoError(t, err)
	return table, as, faults
}

func TestAFileAsPeopleHaveIt(t *testing.T) {
	const file = "Our instruments;;;\nas of June;;;\n\nInventar-Nr.;Instrument;Größe;Kaufdatum;Wert;Wer hat es\n17;Geige;½;24.11.2019;1.250,50 €;Ode\n18;Bratsche;3/4;3.4.2020;1.100;\n"
	utf16, err := unicode.UTF16(unicode.BigEndian, unicode.UseBOM).NewEncoder().String(file)
	require.NoError(t, err)
	western, err := charmap.Windows1252.NewEncoder().String(file)
	require.NoError(t, err)
	for encoding, content := range map[string]string{UTF8: file, UTF16: utf16, Windows1252: western} {
		table, as, faults := readAs(t, []byte(content), Reading{})
		assert.Empty(t, faults)
		assert.Empty(t, as.Questions)
		assert.Equal(t, encoding, as.Encoding)
		assert.Equal(t, 4, as.HeaderRow)
		assert.Equal(t, []ReadColumn{
			{"inventar-nr.", "tag", "17"}, {"instrument", "kind", "Geige"}, {"größe", "size", "½"},
			{"kaufdatum", "acquired_on", "24.11.2019"},
			{"wert", "price", "1.250,50 €"}, {"wer hat es", "", "Ode"},
		}, as.Columns, encoding)
		assert.Equal(t, []string{"1/2", "2019-11-24", "1250.50"},
			[]string{cell(t, table.Rows[0], "size"), cell(t, table.Rows[0], "acquired_on"), cell(t, table.Rows[0], "price")})
		assert.Equal(t, []string{"3/4", "2020-04-03", "1100"},
			[]string{cell(t, table.Rows[1], "size"), cell(t, table.Rows[1], "acquired_on"), cell(t, table.Rows[1], "price")},
			"the first row says how the second is meant")
		assert.Equal(t, 5, table.Rows[0].Line)
		assert.Equal(t, "größe", table.Theirs("size"))
		assert.Contains(t, strings.Join(as.Remarks, " "), "24.11.2019")
	}
}

func TestWhatCanBeReadInTwoWaysIsAskedOnce(t *testing.T) {
	const file = "tag,size,acquired_on,price\nVN-01,03-Apr,03/04/2020,\"1,250\"\nVN-02,Jan-32,05/06/2021,\"2,500\"\nVN-03,4/4,07/07/2021,12\n"
	table, as, faults := readAs(t, []byte(file), Reading{})
	assert.Empty(t, faults)
	require.Len(t, as.Questions, 3)
	assert.Equal(t, FileQuestion{"day_order", "Which day is “03/04/2020”?", 2,
		[]FileAnswer{{DayMonth, "3 April 2020"}, {MonthDay, "4 March 2020"}}}, as.Questions[0])
	assert.Equal(t, FileQuestion{"decimal", "How much is “1,250”?", 2,
		[]FileAnswer{{DecimalComma, "1 and 25/100"}, {DecimalPoint, "1250 exactly, no fraction"}}}, as.Questions[1])
	assert.Equal(t, "restore_sizes", as.Questions[2].About)
	assert.Contains(t, as.Questions[2].Text, "made a day of 3/4")
	assert.Equal(t, 2, as.Questions[2].Rows)
	assert.Equal(t, "2021-07-07", cell(t, table.Rows[2], "acquired_on"), "whose order does not matter")

	table, as, _ = readAs(t, []byte(file), Reading{DayOrder: MonthDay, Decimal: DecimalPoint, RestoreSizes: true})
	assert.Empty(t, as.Questions)
	got := [][]string{}
	for _, r := range table.Rows {
		got = append(got, []string{cell(t, r, "size"), cell(t, r, "acquired_on"), cell(t, r, "price")})
	}
	assert.Equal(t, [][]string{{"3/4", "2020-03-04", "1250"}, {"1/32", "2021-05-06", "2500"}, {"4/4", "2021-07-07", "12"}}, got)
}

// Days that a file cannot mean at once stay a question even where each alone has one reading.
func TestOrdersThatContradict(t *testing.T) {
	_, as, _ := readAs(t, []byte("tag,acquired_on\nA,24/11/2020\nB,11/24/2020\nC,03/04/2020\n"), Reading{})
	require.Len(t, as.Questions, 1)
	table, as, _ := readAs(t, []byte("tag,acquired_on\nA,24/11/2020\nB,11/24/2020\n"), Reading{})
	assert.Empty(t, as.Questions)
	assert.Equal(t, "2020-11-24", cell(t, table.Rows[1], "acquired_on"))
}

func TestDaysAsTheyAreWritten(t *testing.T) {
	for text, want := range map[string]string{
		"2026-11-24": "2026-11-24", "2026/11/24": "2026-11-24", "2026-11-24T00:00:00": "2026-11-24", "2026-11-24 00:00:00": "2026-11-24",
		"24.11.2026": "2026-11-24", "24. November 2026": "2026-11-24", "24 nov. 26": "2026-11-24", "Nov 24, 2026": "2026-11-24",
		"24th of November 2026": "2026-11-24", "24 de noviembre de 2026": "2026-11-24", "1er août 2019": "2019-08-01",
		"3. März 1998": "1998-03-03",
		"3.3.98":       "1998-03-03", "15 Dezember 1927": "1927-12-15", "24-Nov-87": "1987-11-24",
		"24-OCT-2026": "2026-10-24", "12 AUGUST 2026": "2026-08-12", "12 AOÛT 2019": "2019-08-12",
		"Aug 2012": "2012-08", "août 2012": "2012-08", "8/2012": "2012-08", "2012-08": "2012-08", "08.2012": "2012-08", "2022": "2022",
		"13/2012": "", "2027": "", "1750": "", "Aug 12 Sept": "",
		"30 February 2020": "", "spring 2019": "", "ju 3 2019": "", "1.2": "", "43831": "", "3.3.19988": "",
	} {
		got := ""
		if w, ok := dayIn(text, 2026); ok && w.year > 0 {
			got, _ = w.on(DayMonth)
		}
		assert.Equal(t, want, got, text)
	}
}

// A day and a number mean what they meant when they were written, whatever the style, as long as the style is told.
func TestWhatIsToldIsRead(t *testing.T) {
	rapid.Check(t, func(rt *rapid.T) {
		on := time.Date(1930, 1, 1, 0, 0, 0, 0, time.UTC).AddDate(0, 0, rapid.IntRange(0, 35000).Draw(rt, "day"))
		cents := rapid.IntRange(0, 99_999_999).Draw(rt, "cents")
		style := rapid.SampledFrom([]Reading{{DayOrder: DayMonth, Decimal: DecimalComma},
			{DayOrder: MonthDay, Decimal: DecimalPoint}}).Draw(rt, "style")
		layout, decimal, thousands := "02.01.2006", ",", "."
		if style.DayOrder == MonthDay {
			layout, decimal, thousands = "1/2/2006", ".", ","
		}
		whole := fmt.Sprint(cents / 100)
		for at := len(whole) - 3; at > 0; at -= 3 {
			whole = whole[:at] + thousands + whole[at:]
		}
		file := fmt.Sprintf("tag\tacquired_on\tprice\nVN-01\t%s\t%s%s%02d\n", on.Format(layout), whole, decimal, cents%100)
		table, as, faults := readAs(t, []byte(file), style)
		assert.Empty(rt, faults)
		assert.Empty(rt, as.Questions)
		assert.Equal(rt, on.Format("2006-01-02"), cell(t, table.Rows[0], "acquired_on"))
		assert.Equal(rt, fmt.Sprintf("%d.%02d", cents/100, cents%100), cell(t, table.Rows[0], "price"))
	})
}

func TestColumnsAreNamedByHandAndRemembered(t *testing.T) {
	grid, err := OpenGrid([]byte("Nr,What,Type\n1,violin,good\n"), "")
	require.NoError(t, err)
	_, as, faults, err := grid.Read(room, Reading{Columns: map[string]string{"What": "kind", "type": ""}}, nil)
	require.NoError(t, err)
	assert.Empty(t, faults)
	assert.Equal(t, []ReadColumn{{"nr", "tag", "1"}, {"what", "kind", "violin"}, {"type", "", "good"}}, as.Columns)
	_, again, _, err := grid.Read(room, Reading{}, map[string]string{"what": "kind", "type": ""})
	require.NoError(t, err)
	assert.Equal(t, as.Columns, again.Columns)
	_, _, faults, err = grid.Read(room, Reading{Columns: map[string]string{"what": "colour", "who": "tag", "nr": "kind", "type": "kind"}}, nil)
	require.NoError(t, err)
	messages := fmt.Sprint(faults)
	for _, want := range []string{"column what: is no column", "column who: is not in the header", "column type: is taken from another"} {
		assert.Contains(t, messages, want)
	}
	_, _, _, err = grid.Read(room, Reading{HeaderRow: 9}, nil)
	assert.ErrorContains(t, err, "row 9: is empty or not in the file")
}

// A workbook made by LibreOffice: days keep their day however they are shown, a size that became one is put back, a number that is
// text stays as it is typed, and the sheet with the data is found.
func TestAWorkbookOfLibreOffice(t *testing.T) {
	path := officetest.Workbook(t, "room",
		"Tag,Instrument,Size,Serial,Bought,Price\nVN-01,Violin,3/4,00123,24/11/2019,\"1,250.50\"\nVN-02,Viola,1/2,A7,03/04/2020,900\n", "4")
	content, err := os.ReadFile(path)
	require.NoError(t, err)
	_, as, faults := readAs(t, content, Reading{})
	assert.Empty(t, faults)
	assert.Equal(t, []string{"room"}, as.Sheets)
	require.Len(t, as.Questions, 1, "%v", as.Columns)
	assert.Contains(t, as.Questions[0].Text, "made a day of 3/4")
	table, as, _ := readAs(t, content, Reading{RestoreSizes: true})
	assert.Empty(t, as.Questions)
	got := [][]string{}
	for _, r := range table.Rows {
		got = append(got, []string{cell(t, r, "tag"), cell(t, r, "size"), cell(t, r, "serial"), cell(t, r, "acquired_on"), cell(t, r, "price")})
	}
	assert.Equal(t, [][]string{{"VN-01", "3/4", "00123", "2019-11-24", "1250.5"}, {"VN-02", "1/2", "A7", "2020-04-03", "900"}}, got)
}

func TestWorkbooksThatCannotBeRead(t *testing.T) {
	book := excelize.NewFile()
	defer book.Close()
	var empty, filled bytes.Buffer
	require.NoError(t, book.Write(&empty))
	_, err := book.NewSheet("Second")
	require.NoError(t, err)
	require.NoError(t, book.SetSheetRow("Second", "A3", &[]any{"tag", "kind"}))
	require.NoError(t, book.Write(&filled))
	for want, content := range map[string][]byte{"the workbook is empty": empty.Bytes(),
		"no workbook that can be read": []byte("PK\x03\x04 but no more")} {
		_, err := OpenGrid(content, "")
		assert.ErrorContains(t, err, want)
	}
	grid, err := OpenGrid(filled.Bytes(), "")
	require.NoError(t, err)
	assert.Equal(t, "Second", grid.Name)
	_, err = OpenGrid(filled.Bytes(), "Third")
	assert.ErrorContains(t, err, "has no sheet “Third”")
	// A damaged byte anywhere is refused or read, never a crash.
	for at := 0; at < filled.Len(); at += 41 {
		damaged := bytes.Clone(filled.Bytes())
		damaged[at] ^= 0xFF
		if grid, err := OpenGrid(damaged, ""); err == nil {
			_, _, _, _ = grid.Read(room, Reading{}, nil)
		}
	}
}

func TestOneFaultOnManyRowsIsOne(t *testing.T) {
	assert.Equal(t, []Fault{
		{Row: 2, Column: "kind", Value: "kazoo", Message: "is not known", More: []int{4, 5}},
		{Row: 3, Column: "tag", Message: "is empty"},
	}, Grouped([]Fault{
		{Row: 2, Column: "kind", Value: "kazoo", Message: "is not known"},
		{Row: 4, Column: "kind", Value: "kazoo", Message: "is not known"},
		{Row: 3, Column: "tag", Message: "is empty"},
		{Row: 5, Column: "kind", Value: "ocarina", Message: "is not known"},
	}))
}

// A column whose name says nothing is found by what stands in it: the one with the most that fits, if that is half of it and two at
// least. What a person said of a column, and what has a name that is known, stands above it.
func TestAColumnIsFoundByWhatStandsInIt(t *testing.T) {
	known := room
	known.Fits = map[string]func(string) bool{"kind": func(text string) bool { return text == "Geige" || text == "Horn" }}
	read := func(file string, in Reading) (kind string) {
		grid, err := OpenGrid([]byte(file), "")
		require.NoError(t, err)
		_, as, _, err := grid.Read(known, in, nil)
		require.NoError(t, err)
		for _, c := range as.Columns {
			if c.Ours == "kind" {
				kind = c.Theirs
			}
		}
		return kind
	}
	const file = "tag,what is it,beside it\n1,Geige,Horn\n2,Horn,Horn\n3,Tuba,Horn\n4,Oboe,\n"
	assert.Equal(t, "beside it", read(file, Reading{}))
	assert.Equal(t, "what is it", read(file, Reading{Columns: map[string]string{"beside it": ""}}),
		"of what is not to be read nothing is taken")
	assert.Equal(t, "tag", read(file, Reading{Columns: map[string]string{"tag": "kind"}}))
	assert.Equal(t, "kind", read("tag,kind,more\n1,x,Geige\n2,y,Horn\n", Reading{}))
	assert.Empty(t, read("tag,one,many\n1,Geige,a\n2,,b\n3,,c\n", Reading{}), "one text is no column")
	assert.Empty(t, read("tag,few\n1,Geige\n2,Horn\n3,a\n4,b\n5,c\n", Reading{}), "less than half")
}
