// Package internal guards how the packages of the house may know each other.
package internal

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Arrows run one way: cmd → web → app → store and core, formats → core, and core knows nobody of ours but core.
func TestArrowsRunOneWay(t *testing.T) {
	may := map[string][]string{
		"solfeggio/cmd/":             {"solfeggio/"},
		"solfeggio/e2e":              {"solfeggio/internal/"},
		"solfeggio/web":              {},
		"solfeggio/internal/web":     {"solfeggio/internal/app", "solfeggio/internal/core/", "solfeggio/internal/formats", "solfeggio/internal/store"},
		"solfeggio/internal/demo":    {"solfeggio/internal/app", "solfeggio/internal/core/", "solfeggio/internal/formats", "solfeggio/internal/store"},
		"solfeggio/internal/app":     {"solfeggio/internal/core/", "solfeggio/internal/formats", "solfeggio/internal/store"},
		"solfeggio/internal/store":   {"solfeggio/internal/core/"},
		"solfeggio/internal/formats": {"solfeggio/internal/core/"},
		"solfeggio/internal/pgtest":  {"solfeggio/internal/store"},
		"solfeggio/internal/core/":   {"solfeggio/internal/core/"},
	}
	cmd := exec.Command("go", "list", "-f", `{{.ImportPath}} {{join .Imports " "}}`, "./...")
	cmd.Dir = ".."
	out, err := cmd.Output()
	require.NoError(t, err)
	for _, line := range strings.Split(strings.TrimSpace(string(out)), "\n") {
		from, imports, _ := strings.Cut(line, " ")
		var allowed []string
		known := from == "solfeggio/internal"
		for room, doors := range may {
			if from == room || strings.HasSuffix(room, "/") && strings.HasPrefix(from, room) {
				allowed, known = doors, true
			}
		}
		assert.True(t, known, "%s has no place in the house", from)
		for _, to := range strings.Fields(imports) {
			if !strings.HasPrefix(to, "solfeggio/") {
				if strings.HasPrefix(from, "solfeggio/internal/core/") {
					// database/sql/driver is only the shape in which a Day hands itself over.
					for _, outside := range []string{"net/http", "database/sql", "os", "github.com/gin-gonic/gin", "github.com/jmoiron/sqlx"} {
						assert.NotEqual(t, outside, to, "%s imports %s", from, to)
					}
				}
				continue
			}
			ok := false
			for _, door := range allowed {
				ok = ok || to == door || strings.HasSuffix(door, "/") && strings.HasPrefix(to, door)
			}
			assert.True(t, ok, "%s may not import %s", from, to)
		}
	}
}
