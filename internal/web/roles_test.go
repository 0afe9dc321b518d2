package web_test

import (
	"context"
	"fmt"
	"net/http"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/pgtest"
)

const rolesFile = "../../docs/roles.md"

const rolesIntro = `# Who may do what

Every operation of the API, tried as each role by TestWhoMayDoWhat, which also writes this page (SOLFEGGIO_WRITE_ROLES=1). A key for
scripts may do what both its own role and that of its person may. Whoever has a care card's address may read its page, report, practise
and say that a section is ready, without a sign-in; nobody's name stands there.

Beside this, what a helper or a viewer sees of players leaves out notes, guardians and measurements.

| | director | assistant | helper | viewer |
|---|---|---|---|---|
`

// Each operation is tried as each role; what comes of it beyond a refusal does not matter here.
func TestWhoMayDoWhat(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "roles@quillhaven.example")
	c, all := readContract(t)
	roles := []journal.Role{journal.Director, journal.Assistant, journal.Helper, journal.Viewer}
	sites := map[journal.Role]*site{journal.Director: w.site}
	for _, role := range roles[1:] {
		email := string(role) + "@quillhaven.example"
		require.NoError(t, w.app.Access.SaveColleague(context.Background(), w.by, access.Colleague{
			ID: uuid.New(), Name: "Pell Arrowby", Email: email, Role: role, Active: true,
		}, password))
		s := w.visitor()
		require.Equal(t, 200, s.call("POST", "/api/v1/session", fmt.Sprintf(`{"email":%q,"password":%q}`, email, password)).status)
		sites[role] = s
	}
	var page strings.Builder
	page.WriteString(rolesIntro)
	for _, o := range all {
		if len(o.Security) == 0 || o.OperationID == "change-password" { // which are everybody's own
			continue
		}
		url := w.url(c, o)
		body, kind := w.body(t, c, o)
		allowed := map[journal.Role]bool{}
		fmt.Fprintf(&page, "| %s |", o.Summary)
		for _, role := range slices.Backward(roles) { // those who may less first, so that little is changed before
			got := sites[role].call(o.method, url, body, "Content-Type", kind)
			require.NotEqual(t, http.StatusUnauthorized, got.status, "%s as %s", o.OperationID, role)
			allowed[role] = got.status != http.StatusForbidden
		}
		for _, role := range roles {
			fmt.Fprintf(&page, " %s |", map[bool]string{true: "yes", false: ""}[allowed[role]])
		}
		page.WriteString("\n")
		for n, role := range roles[1:] {
			assert.True(t, allowed[roles[n]] || !allowed[role], "%s may %s, and a %s may not", role, o.OperationID, roles[n])
		}
	}
	if os.Getenv("SOLFEGGIO_WRITE_ROLES") != "" {
		require.NoError(t, os.WriteFile(rolesFile, []byte(page.String()), 0o644))
	}
	kept, err := os.ReadFile(rolesFile)
	require.NoError(t, err)
	was, is := strings.Split(string(kept), "\n"), strings.Split(page.String(), "\n")
	changed := slices.DeleteFunc(slices.Concat(was, is), func(line string) bool { return slices.Contains(was, line) && slices.Contains(is, line) })
	assert.Empty(t, changed, "write the page anew, and look at what changed")
}
