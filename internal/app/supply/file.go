package supply

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/core/money"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/supplyrows"
)

// The columns of the file that says how supplies are bought and what is there.
var supplyColumns = []formats.Column{
	{Name: "supply", Words: "Supply"},
	{Name: "size", Words: "Size or strength"},
	{Name: "supplier", Words: "Supplier"},
	{Name: "pack_size", Words: "Units in a pack", Type: formats.Amount},
	{Name: "pack_price", Words: "Price of a pack", Type: formats.Amount},
	{Name: "lead_weeks", Words: "Weeks until it comes", Type: formats.Amount},
	{Name: "in_stock", Words: "Units in stock", Type: formats.Amount},
}

// supplyFile is what headings call this kind of file.
const supplyFile = "supplies"

// File is a file of supplies and how to read it.
type File struct {
	Content []byte
	Reading formats.Reading
	DryRun  bool
}

// FileReport says what a file of supplies would do or did.
type FileReport struct {
	AsRead    formats.AsRead  `json:"as_read"`
	Rows      int             `json:"rows"`
	Changed   int             `json:"changed" doc:"Supplies of which something is bought otherwise than before"`
	Counted   int             `json:"counted" doc:"Supplies of which another number is there than the books said"`
	Unchanged int             `json:"unchanged"`
	Own       []string        `json:"own" doc:"Supplies that the catalogue does not have; they become the school's own"`
	Faults    []formats.Fault `json:"faults" doc:"With even one, nothing is imported"`
	DryRun    bool            `json:"dry_run"`
}

// Import reads suppliers, prices and stock from a CSV file or a workbook, all or nothing. What a row leaves empty stays as it is.
func (r *Room) Import(ctx context.Context, by journal.Person, in File) (FileReport, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return FileReport{}, err
	}
	im := fileImport{
		room:   r,
		report: FileReport{AsRead: formats.NotRead(), Own: []string{}, Faults: []formats.Fault{}, DryRun: in.DryRun},
		seen:   map[supplyrows.Stocked]int{},
	}
	done, err := formats.RoomFor(ctx, in.Content)
	var grid *formats.Grid
	if err == nil {
		defer done()
		grid, err = formats.OpenGrid(in.Content, in.Reading.Sheet)
	}
	var whole formats.Fault
	if errors.As(err, &whole) {
		im.report.Faults = append(im.report.Faults, whole)
		return im.report, nil
	}
	if err != nil {
		return FileReport{}, err
	}
	kept, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (FileReport, error) {
		remembered, err := schoolrows.GetImportColumns(ctx, tx)
		if err != nil {
			return FileReport{}, err
		}
		im.read(grid, in.Reading, remembered[supplyFile])
		if len(im.report.Faults) > 0 || len(im.report.AsRead.Questions) > 0 {
			return im.report, journal.ErrNothing
		}
		if err := im.save(ctx, tx, by, s); err != nil {
			return im.report, err
		}
		if in.DryRun {
			return im.report, journal.ErrNothing
		}
		return im.report, schoolrows.PutImportColumns(ctx, tx, formats.Remember(remembered, supplyFile, im.report.AsRead))
	})
	if errors.Is(err, journal.ErrNothing) {
		return im.report, nil
	}
	return kept, err
}

// fileImport holds one file while it is read and saved.
type fileImport struct {
	room   *Room
	report FileReport
	table  formats.Table
	rows   []fileRow
	seen   map[supplyrows.Stocked]int // the row in which a supply stands
}

// fileRow is a row as it was read. A nil field is not in the file.
type fileRow struct {
	of                                      supplyrows.Stocked
	supplier                                *string
	packSize, packPrice, leadWeeks, inStock *float64
}

func (im *fileImport) read(grid *formats.Grid, reading formats.Reading, remembered map[string]string) {
	fits := func(text string) bool { _, ok := im.room.schools.Catalog.SupplyCalled(text); return ok }
	known := formats.Columns{File: supplyFile, Known: supplyColumns, Fits: map[string]func(string) bool{"supply": fits}}
	table, as, faults, err := grid.Read(known, reading, remembered)
	im.report.AsRead, im.table = as, table
	var whole formats.Fault
	if errors.As(err, &whole) {
		faults = append(faults, whole)
	}
	im.report.Rows, im.report.Faults = len(table.Rows), append(im.report.Faults, faults...)
	if err == nil && !slices.Contains(table.Columns, "supply") {
		im.report.Faults = append(im.report.Faults, formats.Fault{
			Row: as.HeaderRow, Column: "supply", Message: "is missing from the header; say which column holds it",
		})
		return
	}
	if len(as.Questions) == 0 {
		for _, row := range table.Rows {
			im.readRow(row)
		}
	}
	im.report.Faults = formats.Grouped(im.report.Faults)
}

func (im *fileImport) bad(row formats.Row, column, message string) {
	text, _ := row.Cell(column)
	im.report.Faults = append(im.report.Faults, formats.Fault{Row: row.Line, Column: im.table.Theirs(column), Value: text, Message: message})
}

func (im *fileImport) readRow(row formats.Row) {
	supply := im.supply(row)
	if supply == nil {
		return
	}
	r := fileRow{of: supplyrows.Stocked{Supply: supply.Key}}
	r.of.Size, _ = row.Cell("size")
	if _, err := im.room.StockedName(r.of); err != nil {
		im.bad(row, "size", "say which size or strength, and only where there are several")
		return
	}
	if first, twice := im.seen[r.of]; twice {
		im.bad(row, "supply", fmt.Sprintf("stands in row %d already", first))
		return
	}
	im.seen[r.of] = row.Line
	if text, ok := row.Cell("supplier"); ok && text != "" {
		if len([]rune(text)) > 120 {
			im.bad(row, "supplier", "is longer than 120 letters")
		}
		r.supplier = &text
	}
	r.packSize = im.number(row, "pack_size", 0.001, 100_000)
	r.packPrice = im.number(row, "pack_price", 0, 1_000_000)
	r.leadWeeks = im.number(row, "lead_weeks", 0, 104)
	r.inStock = im.number(row, "in_stock", 0, 1_000_000)
	im.rows = append(im.rows, r)
}

// supply finds what a row is about: of the catalogue, or the school's own. A name that is nearly one of the catalogue is taken for a slip.
func (im *fileImport) supply(row formats.Row) *catalog.Supply {
	text, _ := row.Cell("supply")
	if s, ok := im.room.schools.Catalog.SupplyCalled(text); ok {
		return s
	}
	if s, ok := im.room.schools.Catalog.Supply(text); ok { // own~Saddle soap
		return s
	}
	if near, ok := im.room.schools.Catalog.SupplySpelled(text); ok {
		im.bad(row, "supply", "is spelled nearly like “"+near.Name+"”; write that, or another name for a supply of your own")
		return nil
	}
	key, err := im.room.schools.Catalog.OwnSupplyKey(text)
	if err != nil {
		im.bad(row, "supply", err.Error())
		return nil
	}
	s, _ := im.room.schools.Catalog.Supply(key)
	if !slices.Contains(im.report.Own, s.Name) {
		im.report.Own = append(im.report.Own, s.Name)
	}
	return s
}

func (im *fileImport) number(row formats.Row, column string, least, most float64) *float64 {
	text, _ := row.Cell(column)
	if text == "" {
		return nil
	}
	v, err := formats.Number(text)
	if err != nil || !(v >= least && v <= most) {
		im.bad(row, column, fmt.Sprintf("is no number from %v to %.0f", least, most))
		return nil
	}
	return &v
}

func (im *fileImport) save(ctx context.Context, tx *store.Tx, by journal.Person, s *school.Snapshot) error {
	settings, err := supplyrows.SupplySettings(ctx, tx)
	if err != nil {
		return err
	}
	stock, err := Usable(ctx, tx, s.Today)
	if err != nil {
		return err
	}
	for _, row := range im.rows {
		same := true
		before, after, known := row.buying(im.room.schools.Catalog, s.School.Currency, settings)
		if !known || !sameSetting(before, after) {
			if err := supplyrows.PutSupplySetting(ctx, tx, after); err != nil {
				return err
			}
			im.report.Changed++
			same = false
		}
		if row.inStock != nil && *row.inStock != stock[row.of] {
			if _, err := im.room.count(ctx, tx, by, Count{Stocked: row.of, Quantity: *row.inStock}, s.Today); err != nil {
				return err
			}
			im.report.Counted++
			same = false
		}
		if same {
			im.report.Unchanged++
		}
	}
	return nil
}

// buying is how the supply of a row is bought so far, and from now on; known is whether it is listed already.
func (row fileRow) buying(
	c *catalog.Catalog, in money.Currency, settings []supplyrows.SupplySetting,
) (before, after supplyrows.SupplySetting, known bool) {
	supply, _ := c.Supply(row.of.Supply)
	if before, known = settingOf(settings, row.of); !known {
		before = supplyrows.SupplySetting{Stocked: row.of, PackSize: supply.Pack, LeadWeeks: kits.UsualLeadWeeks}
		known = !supply.Own()
	}
	after = before
	if row.supplier != nil {
		after.Supplier = *row.supplier
	}
	if row.packSize != nil {
		after.PackSize = *row.packSize
	}
	if row.leadWeeks != nil {
		after.LeadWeeks = *row.leadWeeks
	}
	if row.packPrice != nil {
		cents := in.Cents(*row.packPrice)
		after.PackPriceCents = &cents
	}
	return before, after, known
}

func sameSetting(x, y supplyrows.SupplySetting) bool {
	if (x.PackPriceCents == nil) != (y.PackPriceCents == nil) || x.PackPriceCents != nil && *x.PackPriceCents != *y.PackPriceCents {
		return false
	}
	x.PackPriceCents, y.PackPriceCents = nil, nil
	return x == y
}

// Export writes how supplies are bought and what is there, as a file that Import reads.
func (r *Room) Export(ctx context.Context, by journal.Person, write formats.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	list, err := r.Supplies(ctx, by, 1, 0.5) // for its lines alone; what to order does not stand in the file
	if err != nil {
		return err
	}
	number := func(v float64) string { return strconv.FormatFloat(v, 'f', -1, 64) }
	var rows [][]string
	for _, l := range list.Lines {
		supply, _ := r.schools.Catalog.Supply(l.Supply)
		price := ""
		if l.PackPriceCents != nil {
			price = s.School.Currency.Plain(*l.PackPriceCents)
		}
		rows = append(rows, []string{supply.Name, l.Size, l.Supplier, number(l.PackSize), price, number(l.LeadWeeks), number(l.InStock)})
	}
	var columns []string
	for _, c := range supplyColumns {
		columns = append(columns, c.Name)
	}
	return write(columns, rows)
}
