package demo

import (
	"bytes"
	"context"
	"fmt"

	"github.com/google/uuid"

	"solfeggio/internal/app/inventory"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store/instrumentrows"
)

const (
	windBand        = "Wind band"
	orchestra       = "String orchestra"
	beginnerWinds   = "Beginner winds"
	beginnerStrings = "Beginner strings"
	percussionGroup = "Percussion group"

	instrumentRoom = "Instrument room"
	celloStore     = "Cello store"
)

var (
	winds      = [2]string{windBand, beginnerWinds}
	bowed      = [2]string{orchestra, beginnerStrings}
	percussion = [2]string{percussionGroup, percussionGroup}
)

// shelves are Quillhaven's racks, from the top.
var shelves = []struct {
	room, rack, name string
	slots            int
}{
	{instrumentRoom, "Woodwinds", "A", 16},
	{instrumentRoom, "Woodwinds", "B", 12},
	{instrumentRoom, "Woodwinds", "C", 14},
	{instrumentRoom, "Woodwinds", "D", 10},
	{instrumentRoom, "Woodwinds", "E", 15},
	{instrumentRoom, "Brass", "F", 16},
	{instrumentRoom, "Brass", "G", 10},
	{instrumentRoom, "Brass", "H", 10},
	{instrumentRoom, "Brass", "K", 9},
	{instrumentRoom, "Percussion", "L", 12},
	{celloStore, "Upper strings", "M", 18},
	{celloStore, "Upper strings", "N", 13},
	{celloStore, "Low strings", "P", 9},
	{celloStore, "Low strings", "Q", 5},
}

// stock is what Quillhaven owns. Makers and models are invented.
var stock = []struct {
	kind      string
	count     int
	shelf     string
	ensembles [2]string // advanced, beginners
	advanced  int       // how many play in the first
	makers    []string
	price     int
}{
	{"piccolo", 2, "A", winds, 2, []string{"Halvick P"}, 540},
	{"flute", 14, "A", winds, 8, []string{"Halvick 20", "Halvick 35", "Tessary F"}, 620},
	{"oboe", 3, "B", winds, 3, []string{"Ardenwell O2", "Oriel Reed"}, 1900},
	{"clarinet-e-flat", 1, "B", winds, 1, []string{"Ardenwell E"}, 760},
	{"clarinet-b-flat", 22, "C", winds, 13, []string{"Ardenwell C1", "Ardenwell C2", "Brindlemoor Wood"}, 540},
	{"clarinet-alto", 1, "B", winds, 1, []string{"Brindlemoor A"}, 1300},
	{"clarinet-bass", 3, "B", winds, 2, []string{"Brindlemoor B", "Ardenwell Low"}, 1850},
	{"bassoon", 2, "B", winds, 2, []string{"Oriel Fagott"}, 4200},
	{"alto-saxophone", 8, "E", winds, 5, []string{"Corvane Alto", "Halvick S"}, 1250},
	{"tenor-saxophone", 4, "E", winds, 3, []string{"Corvane Tenor"}, 1500},
	{"baritone-saxophone", 2, "E", winds, 2, []string{"Corvane Low"}, 3100},
	{"horn", 6, "G", winds, 4, []string{"Quandt Double", "Tessary H"}, 1900},
	{"trumpet", 16, "F", winds, 10, []string{"Tessary T1", "Quandt Field", "Quandt Hall"}, 580},
	{"cornet", 3, "G", winds, 1, []string{"Quandt Short"}, 560},
	{"trombone", 8, "H", winds, 5, []string{"Quandt Long", "Tessary TB"}, 690},
	{"trombone-valve", 2, "H", winds, 2, []string{"Quandt Long F"}, 1450},
	{"euphonium", 4, "K", winds, 3, []string{"Tessary EU"}, 1700},
	{"tuba", 4, "K", winds, 4, []string{"Tessary Low", "Quandt Grand"}, 3900},
	{"tuba-rotary", 1, "K", winds, 1, []string{"Quandt Rotor"}, 5200},
	{"vibraphone", 1, "L", percussion, 1, []string{"Marlo V3"}, 3600},
	{"marimba", 1, "L", percussion, 1, []string{"Marlo M4"}, 4100},
	{"xylophone", 1, "L", percussion, 1, []string{"Marlo X3"}, 1800},
	{"glockenspiel", 1, "L", percussion, 1, []string{"Marlo G"}, 900},
	{"timpani", 4, "L", percussion, 4, []string{"Brindlemoor Kettle"}, 2100},
	{"snare-drum", 3, "L", percussion, 3, []string{"Brindlemoor 14"}, 320},
	{"bass-drum", 1, "L", percussion, 1, []string{"Brindlemoor 32"}, 980},
	{"violin", 18, "M", bowed, 11, []string{"Lissom Workshop", "Oriel No. 2", "Oriel No. 4"}, 480},
	{"viola", 8, "N", bowed, 7, []string{"Lissom Workshop", "Oriel No. 3"}, 620},
	{"cello", 8, "P", bowed, 5, []string{"Lissom Workshop", "Oriel Cello"}, 1400},
	{"double-bass", 4, "Q", bowed, 3, []string{"Oriel Grand"}, 2800},
	{"bow", 4, "N", bowed, 4, []string{"Lissom Stick"}, 90},
}

// spare is the share of instruments that stand on the rack without a player.
const spare = 0.12

// spareOf is from how many of a kind on one of them is kept for loans.
const spareOf = 4

// instruments writes the school's instruments as the file that a director would import.
func (s *seeder) instruments() []byte {
	began := s.today - daysBack
	columns := []string{
		"tag",
		"kind",
		"size",
		"body",
		"maker",
		"model",
		"serial",
		"room",
		"slot",
		"acquired_on",
		"price",
		"care_from",
		"notes",
		"ensembles",
		"practice_minutes_per_week",
		"practice_days_per_week",
		"heavy_sweat",
	}
	last := map[string]int{} // column by name
	var rows [][]string
	filled := map[string]int{} // slots of a shelf
	for _, of := range stock {
		kind, _ := catalog.Embedded().Kind(of.kind)
		for n := range of.count {
			row := s.instrument(kind, n, of.count, of.advanced, of.ensembles)
			shelf := roomFor(of.shelf, filled)
			filled[shelf.name]++
			row["room"], row["slot"] = shelf.room, inventory.SlotName(shelf.name, filled[shelf.name])
			s.holders = append(s.holders, holderOf(row, of.kind))
			maker := of.makers[s.random.IntN(len(of.makers))]
			row["maker"] = maker
			row["price"] = fmt.Sprint(of.price + 10*s.random.IntN(20))
			row["serial"] = fmt.Sprintf("%05d", 10000+s.random.IntN(80000))
			row["acquired_on"] = (began - day.Day(100+s.random.IntN(2600))).String()
			row["care_from"] = (began - 90).String()
			// Each clock was last restarted somewhere within its interval before Quillhaven began with Solfeggio.
			for _, key := range kind.Routines {
				r, _ := catalog.Embedded().Routine(key)
				limits, ok := r.Limits.For("standard")
				if !ok || r.Who == catalog.Player {
					continue
				}
				for _, part := range r.Clocks() {
					name := "last:" + key
					if part != "" {
						name += ":" + part
					}
					if _, known := last[name]; !known {
						last[name] = len(columns)
						columns = append(columns, name)
					}
					row[name] = (began - day.Day(s.random.Float64()*0.95**limits.Days)).String()
				}
			}
			cells := make([]string, len(columns))
			for c, name := range columns {
				cells[c] = row[name]
			}
			rows = append(rows, cells)
		}
	}
	for n := range rows { // early rows do not have the later columns yet
		rows[n] = append(rows[n], make([]string, len(columns)-len(rows[n]))...)
	}
	var file bytes.Buffer
	if err := formats.WriteTable(&file, columns, rows); err != nil {
		panic(err) // a buffer takes everything
	}
	return file.Bytes()
}

// instrument is one row, without what its rack gives it.
func (s *seeder) instrument(kind *catalog.Kind, n, count, advanced int, ensembles [2]string) map[string]string {
	row := map[string]string{"tag": fmt.Sprintf("%s-%02d", kind.TagPrefix, n+1), "kind": kind.Key, "body": kind.Bodies[0]}
	if len(kind.Bodies) > 1 && s.random.IntN(8) == 0 {
		row["body"] = kind.Bodies[1]
	}
	if len(kind.Sizes) > 0 {
		row["size"] = kind.Sizes[len(kind.Sizes)-1]
		if n >= advanced {
			row["size"] = kind.Sizes[max(0, len(kind.Sizes)-2-s.random.IntN(3))]
		}
	}
	group, practice := 0, 90+15*s.random.IntN(9)
	if n >= advanced {
		group, practice = 1, 40+10*s.random.IntN(6)
	}
	if n == count-1 && count >= spareOf {
		row["notes"] = "Spare for loans"
		if len(kind.Sizes) > 0 {
			row["size"] = kind.Sizes[len(kind.Sizes)-1]
		}
		return row
	}
	if s.random.Float64() >= spare {
		row["ensembles"] = ensembles[group]
		row["practice_minutes_per_week"] = fmt.Sprint(practice)
		row["practice_days_per_week"] = fmt.Sprint(3 + s.random.IntN(3))
		if s.random.IntN(12) == 0 {
			row["heavy_sweat"] = "yes"
		}
	}
	return row
}

// A holder is how an instrument is to be played, told by its row; whoever plays it holds it.
type holder struct {
	tag, kind, size, ensemble string
	practice, days            string
	sweat                     bool
}

// holderOf takes out of a row how it is played, because it is played by somebody.
func holderOf(row map[string]string, kind string) holder {
	h := holder{
		row["tag"],
		kind,
		row["size"],
		row["ensembles"],
		row["practice_minutes_per_week"],
		row["practice_days_per_week"],
		row["heavy_sweat"] == "yes",
	}
	for _, column := range []string{"ensembles", "practice_minutes_per_week", "practice_days_per_week", "heavy_sweat"} {
		delete(row, column)
	}
	return h
}

// roomFor is the shelf of that name, or the next one while it is full.
func roomFor(name string, filled map[string]int) (at struct {
	room, rack, name string
	slots            int
}) {
	for n, shelf := range shelves {
		if shelf.name == name {
			for filled[shelves[n].name] >= shelves[n].slots {
				n++
			}
			return shelves[n]
		}
	}
	panic("no shelf " + name)
}

// shelves puts the racks up.
func (s *seeder) shelves(ctx context.Context) error {
	for n, shelf := range shelves {
		if err := s.app.Inventory.SaveShelf(ctx, s.director,
			instrumentrows.Shelf{ID: uuid.Must(uuid.NewV7()), Room: shelf.room, Rack: shelf.rack, Name: shelf.name, Position: n,
				Slots: shelf.slots}); err != nil {
			return err
		}
	}
	return nil
}
