package demo

import (
	"bytes"
	"fmt"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
)

const (
	windBand        = "Wind band"
	orchestra       = "String orchestra"
	beginnerWinds   = "Beginner winds"
	beginnerStrings = "Beginner strings"
)

// stock is what Quillhaven owns. Makers and models are invented.
var stock = []struct {
	kind      string
	count     int
	rack      string
	room      string
	ensembles [2]string // advanced, beginners
	advanced  int       // how many play in the first
	makers    []string
	price     int
}{
	{"flute", 22, "A", instrumentRoom, [2]string{windBand, beginnerWinds}, 12, []string{"Halvick 20", "Halvick 35", "Tessary F"}, 620},
	{"clarinet-b-flat", 32, "B", instrumentRoom, [2]string{windBand, beginnerWinds}, 18, []string{"Ardenwell C1", "Ardenwell C2", "Brindlemoor Wood"}, 540},
	{"alto-saxophone", 14, "C", instrumentRoom, [2]string{windBand, beginnerWinds}, 9, []string{"Corvane Alto", "Halvick S"}, 1250},
	{"trumpet", 24, "D", instrumentRoom, [2]string{windBand, beginnerWinds}, 14, []string{"Tessary T1", "Quandt Field", "Quandt Hall"}, 580},
	{"trombone", 14, "E", instrumentRoom, [2]string{windBand, beginnerWinds}, 9, []string{"Quandt Long", "Tessary TB"}, 690},
	{"violin", 38, "F", instrumentRoom, [2]string{orchestra, beginnerStrings}, 22, []string{"Lissom Workshop", "Oriel No. 2", "Oriel No. 4"}, 480},
	{"cello", 16, "G", celloStore, [2]string{orchestra, beginnerStrings}, 9, []string{"Lissom Workshop", "Oriel Cello"}, 1400},
}

const (
	instrumentRoom = "Instrument room"
	celloStore     = "Cello store"
)

// spare is the share of instruments that stand on the rack without a player.
const spare = 0.12

// instruments writes the school's instruments as the file that a director would import.
func (s *seeder) instruments() []byte {
	began := s.today - daysBack
	columns := []string{"tag", "kind", "size", "body", "maker", "model", "serial", "room", "slot", "acquired_on", "price", "care_from", "notes", "ensembles", "practice_minutes_per_week", "practice_days_per_week", "heavy_sweat"}
	last := map[string]int{} // column by name
	var rows [][]string
	for _, of := range stock {
		kind, _ := catalog.Embedded().Kind(of.kind)
		for n := range of.count {
			row := s.instrument(kind, n, of.count, of.advanced, of.ensembles)
			row["room"], row["slot"] = of.room, fmt.Sprintf("%s-%02d", of.rack, n+1)
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
			row["size"] = kind.Sizes[len(kind.Sizes)-2-s.random.IntN(3)]
		}
	}
	group, practice := 0, 90+15*s.random.IntN(9)
	if n >= advanced {
		group, practice = 1, 40+10*s.random.IntN(6)
	}
	if s.random.Float64() >= spare {
		row["ensembles"] = ensembles[group]
		row["practice_minutes_per_week"] = fmt.Sprint(practice)
		row["practice_days_per_week"] = fmt.Sprint(3 + s.random.IntN(3))
		if s.random.IntN(12) == 0 {
			row["heavy_sweat"] = "yes"
		}
	}
	if n == count-1 {
		row["notes"] = "Spare for loans"
	}
	return row
}
