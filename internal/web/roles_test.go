package web_test

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
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
scripts may do what both its own role and that of its person may, but make or end no key, session, link or calendar address, and change
no person and no password. Whoever has a care card's address may read its page, report, practise
and say that a section is ready, without a sign-in; nobody's name stands there.

## Operations

| | director | assistant | helper | viewer |
|---|---|---|---|---|
`

const fieldsIntro = `
## Fields

What answers hold for some roles only, found by asking every question as each of them. A question that a role may not ask at all
stands above.

| question | field | director | assistant | helper | viewer |
|---|---|---|---|---|---|
`

// kept are words of the world that only who hands out may read: from whom the school rents and under which contract, a guardian, a note.
var kept = []string{"Marl & Daughter", "MD-1707", "home@quillhaven.example", "Left-handed"}

// whoSeesWhat asks every question as each role and writes down which fields only some of them see.
func whoSeesWhat(t *testing.T, w *world, c contract, all []*operation, roles []journal.Role, sites map[journal.Role]*site) string {
	var page strings.Builder
	page.WriteString(fieldsIntro)
	told := map[string]bool{}
	for _, o := range all {
		if o.method != http.MethodGet || len(o.Security) == 0 {
			continue
		}
		seen := map[string][]journal.Role{}
		asked := 0
		for _, role := range roles {
			// Where any instrument is meant, the one that somebody else owns.
			got := sites[role].call(o.method, strings.ReplaceAll(w.url(c, o), w.things["free"], w.things["rented"]), "")
			if got.status != http.StatusOK {
				continue
			}
			asked++
			for _, word := range kept {
				if strings.Contains(got.body, word) {
					told[word] = true
					assert.Contains(t, roles[:2], role, "%s tells a %s %q", o.OperationID, role, word)
				}
			}
			var answer any
			if json.Unmarshal([]byte(got.body), &answer) != nil {
				continue // a file
			}
			paths := map[string]bool{}
			fieldsOf(answer, "", paths)
			for path := range paths {
				seen[path] = append(seen[path], role)
			}
		}
		for _, path := range slices.Sorted(maps.Keys(seen)) {
			if len(seen[path]) == asked {
				continue
			}
			fmt.Fprintf(&page, "| %s | %s |", o.Summary, path)
			for _, role := range roles {
				fmt.Fprintf(&page, " %s |", map[bool]string{true: "yes", false: ""}[slices.Contains(seen[path], role)])
			}
			page.WriteString("\n")
		}
	}
	for _, word := range kept {
		assert.True(t, told[word], "nobody is told %q, so that nothing is tried", word)
	}
	return page.String()
}

// fieldsOf gathers the paths of what a JSON value says; what is empty says nothing.
func fieldsOf(value any, path string, into map[string]bool) {
	switch v := value.(type) {
	case map[string]any:
		for name, inner := range v {
			if len(name) == 36 { // an id as a name
				name = "…"
			}
			fieldsOf(inner, strings.TrimPrefix(path+"."+name, "."), into)
		}
	case []any:
		for _, inner := range v {
			fieldsOf(inner, path+"[]", into)
		}
	case nil:
	case string:
		if v != "" {
			into[path] = true
		}
	default:
		into[path] = true
	}
}

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
	fields := whoSeesWhat(t, w, c, all, roles, sites) // while nothing has changed yet
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
	page.WriteString(fields)
	if os.Getenv("SOLFEGGIO_WRITE_ROLES") != "" {
		require.NoError(t, os.WriteFile(rolesFile, []byte(page.String()), 0o644))
	}
	kept, err := os.ReadFile(rolesFile)
	require.NoError(t, err)
	was, is := strings.Split(string(kept), "\n"), strings.Split(page.String(), "\n")
	changed := slices.DeleteFunc(slices.Concat(was, is),
		func(line string) bool { return slices.Contains(was, line) && slices.Contains(is, line) })
	assert.Empty(t, changed, "write the page anew, and look at what changed")
}
