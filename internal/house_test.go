// Package internal guards how the packages of the house may know each other.
package internal

import (
	"errors"
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const module = "solfeggio/"

// The rooms of the house and which others each knows. Arrows run one way: cmd → web → app → store and core, formats → core, and core
// knows nobody of ours but core. A name that ends in a slash stands for all below it.
var house = map[string][]string{
	"cmd/":                    {"internal/"},
	"cmd/solfeggio":           {"internal/", "web"},
	"e2e":                     {"internal/"},
	"web":                     {},
	"internal/web":            {"internal/app", "internal/app/", "internal/core/", "internal/formats", "internal/kept"},
	"internal/demo":           {"internal/app", "internal/app/", "internal/core/", "internal/formats", "internal/store", "internal/store/"},
	"internal/app":            {"internal/app/", "internal/core/", "internal/store"},
	"internal/standin":        {"internal/core/", "internal/repairshop"},
	"internal/store":          {"internal/core/", "internal/store/"},
	"internal/store/":         {"internal/core/", "internal/store/internal/query"},
	"internal/store/cardrows": {"internal/core/", "internal/store/internal/query", "internal/store/checkrows"},
	"internal/formats":        {"internal/core/", "internal/officetest"},
	"internal/pgtest":         {"internal/store", "internal/store/"},
	"internal/kept":           {},
	"internal/sumtest":        {"internal/app", "internal/app/", "internal/core/", "internal/formats"},
	"internal/glpktest":       {},
	"internal/officetest":     {},

	"internal/repairshop": {"internal/core/"},
	"internal/mailing":    {},
	"internal/core/":      {"internal/core/"},
}

// The rooms of the work, each with those that it knows besides core, formats and store. Every room but the journal knows the school,
// and through it the journal.
var rooms = map[string][]string{
	"journal":    {},
	"school":     {},
	"settings":   {},
	"care":       {},
	"inspection": {},
	"demand":     {},
	"supply":     {"demand"},
	"roster":     {},
	"placing":    {},
	"access":     {"settings"},
	"letters":    {"supply"},
	"lending":    {"inspection", "supply", "letters"},
	"products":   {"supply"},
	"bench":      {"supply", "demand", "care", "products"},
	"inventory":  {"inspection", "supply", "lending", "roster", "settings"},
	"importing":  {"inventory", "lending", "settings", "care", "roster"},
	"rentals":    {"inventory", "lending"},
	"upkeep":     {"care", "supply"},
	"preparing":  {"upkeep"},
	"shop":       {"inspection", "letters", "lending", "bench", "care", "placing"},
	"season":     {"shop", "placing"},
	"cards":      {"inspection", "upkeep"},
	"today":      {"supply", "letters", "preparing", "shop", "season", "cards", "placing"},
}

// The tables that each room reads and writes by itself, as the packages below store that keep them.
var tables = map[string][]string{
	"journal": {"event", "people", "school"},
	"school": {
		"bench", "card", "care", "check", "event", "instrument", "lending", "letter", "player", "school", "season", "shop", "supply", "upkeep",
	},
	"settings":   {"event", "school"},
	"care":       {"care", "event", "upkeep"},
	"inspection": {"card", "care", "check", "event"},
	"demand":     {"event", "supply"},
	"supply":     {"event", "school", "supply"},
	"roster":     {"event", "player", "school"},
	"placing":    {"event", "instrument", "player"},
	"access":     {"event", "people", "school"},
	"letters":    {"event", "lending", "letter"},
	"lending":    {"bench", "check", "event", "instrument", "lending", "player", "school", "shop"},
	"bench":      {"bench", "care", "event", "instrument", "lending", "people", "school", "supply"},
	"inventory":  {"check", "event", "instrument", "school", "shop"},
	"products":   {"bench", "event", "supply"},
	"importing":  {"event", "instrument", "school"},
	"rentals":    {"event", "instrument", "lending"},
	"upkeep":     {"event", "school", "supply", "upkeep"},
	"preparing":  {"school", "upkeep"},
	"shop":       {"check", "event", "lending", "letter", "shop"},
	"season":     {"player", "school", "season"},
	"cards":      {"card", "check", "event", "school"},
	"today":      {"bench", "people", "player", "school", "supply"},
}

func TestArrowsRunOneWay(t *testing.T) {
	for room, knows := range rooms {
		allowed := []string{"internal/core/", "internal/formats", "internal/kept", "internal/store"}
		for _, table := range tables[room] {
			allowed = append(allowed, "internal/store/"+table+"rows")
		}
		if room != "journal" {
			allowed = append(allowed, "internal/app/journal")
			if room != "school" {
				allowed = append(allowed, "internal/app/school")
			}
		}
		for _, other := range knows {
			allowed = append(allowed, "internal/app/"+other)
		}
		if room == "shop" {
			allowed = append(allowed, "internal/repairshop")
		}
		house["internal/app/"+room] = allowed
	}
	cmd := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, "./...")
	cmd.Dir = ".."
	out, err := cmd.Output()
	require.NoError(t, err)
	used := map[string]bool{}
	for line := range strings.Lines(string(out)) {
		packages := strings.Fields(line)
		from := strings.TrimPrefix(packages[0], module)
		if from == "internal" {
			continue
		}
		allowed, known := house[from]
		for room, doors := range house {
			if !known && strings.HasSuffix(room, "/") && strings.HasPrefix(from, room) {
				allowed, known = doors, true
			}
		}
		assert.True(t, known, "%s has no place in the house", from)
		for _, imported := range packages[1:] {
			to, ours := strings.CutPrefix(imported, module)
			switch {
			case ours:
				ok := slices.ContainsFunc(allowed, func(door string) bool {
					return to == door || strings.HasSuffix(door, "/") && strings.HasPrefix(to, door)
				})
				assert.True(t, ok, "%s may not import %s", from, to)
				used[from+" "+to] = true
			case strings.HasPrefix(from, "internal/core/"):
				assert.NotContains(
					t,
					[]string{
						"net/http",
						"database/sql",
						"database/sql/driver",
						"os",
						"github.com/gin-gonic/gin",
						"github.com/jmoiron/sqlx",
					},
					to,
					"of %s",
					from,
				)
			}
		}
	}
	for room, knows := range rooms {
		for _, other := range knows {
			assert.True(t, used["internal/app/"+room+" internal/app/"+other], "%s does not need to know %s", room, other)
		}
		for _, table := range tables[room] {
			assert.True(t, used["internal/app/"+room+" internal/store/"+table+"rows"], "%s does not need the tables of %s", room, table)
		}
	}
}

func TestRoomsFormNoCircle(t *testing.T) {
	var walk func(room string, path []string)
	walk = func(room string, path []string) {
		require.NotContains(t, path, room, "a circle")
		for _, other := range rooms[room] {
			walk(other, append(slices.Clone(path), room))
		}
	}
	for room := range rooms {
		walk(room, nil)
	}
}

func TestARoomHasWhatItUses(t *testing.T) {
	for room := range rooms {
		file, err := parser.ParseFile(token.NewFileSet(), filepath.Join("app", room, "room.go"), nil, 0)
		if errors.Is(err, fs.ErrNotExist) {
			continue // journal and school, which the rooms stand on
		}
		require.NoError(t, err)
		ast.Inspect(file, func(n ast.Node) bool {
			if s, is := n.(*ast.StructType); is {
				for _, f := range s.Fields.List {
					assert.NotEmpty(t, f.Names, "the room %s embeds what it should name, so that its callers get all of it", room)
				}
			}
			return true
		})
	}
}
