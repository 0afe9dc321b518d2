package app_test

import (
	"archive/zip"
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/formats"
)

// counts are rows added, changed and unchanged.
func counts(r roster.RosterReport) []int { return []int{r.Added, r.Changed, r.Unchanged} }

// A plain file without ids comes first, a year on the same class one year up, then the school's roster program with its ids:
// one player each all the way.
func TestARosterKnowsItsPlayersAgain(t *testing.T) {
	h := newHouse(t)
	assert.Equal(t, []int{2, 0, 0}, counts(h.roster("given_name,family_name,grade_year\nOde,Marchetti,7\nIlse,Quandt,7\n", nil)))
	assert.Equal(
		t,
		[]int{0, 2, 0},
		counts(h.roster("given_name,family_name,grade_year\nODE,Marchetti,8\nIlse,Quandt,8\n", nil)),
		"everybody moved up",
	)
	withIDs := "external_id,given_name,family_name,grade_year\np1,Ode,Marchetti,8\np2,Ilse,Quandt,8\n"
	assert.Equal(t, []int{0, 2, 0}, counts(h.roster(withIDs, nil)), "the ids are new, the players are not")
	assert.Equal(t, "p1", h.player("Ode Marchetti").ExternalID)
	assert.Equal(
		t,
		[]int{0, 0, 1},
		counts(h.roster("given_name,family_name,grade_year\nOde,Marchetti,8\n", nil)),
		"and a file without ids takes none away",
	)
	assert.Equal(
		t,
		[]int{0, 1, 0},
		counts(h.roster("external_id,given_name,family_name,grade_year\np1,Ode,Lorne,8\n", nil)),
		"a new family name, the same id",
	)

	// Another Ode Lorne in year 6 is somebody else, as long as the file tells them apart.
	assert.Equal(t, []int{1, 0, 1}, counts(h.roster("given_name,family_name,grade_year\nOde,Lorne,6\nOde,Lorne,8\n", nil)))
	both := h.roster("given_name,family_name,grade_year\nOde,Lorne,9\n", nil)
	require.Len(t, both.Faults, 1)
	assert.Equal(
		t,
		formats.Fault{
			Row:     2,
			Column:  "given_name",
			Value:   "Ode",
			Message: "is the name of 2 players here; give an external_id, or correct the year",
		},
		both.Faults[0],
	)

	// Who left and is in no roster is not known by name alone: it may be somebody new.
	h.roster("external_id,given_name,family_name,grade_year\np1,Ode,Lorne,8\n", func(f *roster.RosterFile) { f.MarkLeavers = true })
	assert.NotNil(t, h.player("Ilse Quandt").LeftOn)
	assert.Equal(t, []int{1, 0, 0}, counts(h.roster("given_name,family_name,grade_year\nIlse,Quandt,5\n", nil)))
	back := h.roster("external_id,given_name,family_name,grade_year\np2,Ilse,Quandt,9\n", nil)
	assert.Equal(t, []int{0, 1, 0}, counts(back), "with the id it is she, and she is back")
}

// What goes out comes in again and changes nothing.
func TestPlayersGoOutAndComeIn(t *testing.T) {
	h := newHouse(t)
	h.roster(players, nil)
	h.roster("given_name,family_name,height_cm,practice_minutes_per_week\nTiva,Lorne,151.5,75\n", nil)
	var file bytes.Buffer
	require.NoError(t, h.Roster.ExportPlayers(ctx, h.director, formats.CSV(&file)))
	assert.Contains(t, file.String(), "p1,Ode,Marchetti,7,String orchestra,violin,bus,,60,,60,\n")
	assert.Contains(t, file.String(), ",Tiva,Lorne,,,,,,,151.5,75,\n")
	h.now = h.now.AddDate(0, 0, 9)
	assert.Equal(t, []int{0, 0, 4}, counts(h.roster(file.String(), nil)))
	h.roster("external_id,given_name\np2,Ilse\n", func(f *roster.RosterFile) { f.MarkLeavers = true })
	file.Reset()
	require.NoError(t, h.Roster.ExportPlayers(ctx, h.director, formats.CSV(&file)))
	assert.NotContains(t, file.String(), "Marchetti", "who has left is left out")
	helper := h.director
	helper.Role = journal.Helper
	fault(t, h.Roster.ExportPlayers(ctx, helper, formats.CSV(&file)), journal.Forbidden)
}

// zipped is a OneRoster archive with these users and classes; everybody is in the first class.
func zipped(t require.TestingT, users, classes [][2]string) []byte {
	quote := func(s string) string { return `"` + strings.ReplaceAll(s, `"`, `""`) + `"` }
	var u, c, e strings.Builder
	u.WriteString("sourcedId,role,givenName,familyName,grades\n")
	c.WriteString("sourcedId,title\n")
	e.WriteString("classSourcedId,userSourcedId,role\n")
	for _, x := range users {
		u.WriteString(quote(x[0]) + ",student," + quote(x[1]) + ",,7\n")
		e.WriteString(quote(classes[0][0]) + "," + quote(x[0]) + ",student\n")
	}
	for _, x := range classes {
		c.WriteString(quote(x[0]) + "," + quote(x[1]) + "\n")
	}
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	for name, text := range map[string]string{"users.csv": u.String(), "classes.csv": c.String(), "enrollments.csv": e.String()} {
		w, err := z.Create(name)
		require.NoError(t, err)
		_, err = w.Write([]byte(text))
		require.NoError(t, err)
	}
	require.NoError(t, z.Close())
	return b.Bytes()
}

// Whatever stands in the cells, a roster is imported or its faults are named; it never fails half-way in the database. And
// what was imported is known again.
func TestARosterOfAnything(t *testing.T) {
	h := newHouse(t)
	cell := rapid.OneOf(
		rapid.StringN(
			0,
			12,
			-1,
		),
		rapid.SampledFrom(
			[]string{
				"",
				" ",
				"Ode",
				"ode",
				"=1+1",
				"\x00",
				"Ä̈",
				"0",
				"-1",
				"1e999",
				"NaN",
				"violin",
				"bus",
				"String orchestra; ;Band",
				strings.Repeat("x", 400),
			},
		),
	)
	check := func(rt *rapid.T, content []byte) {
		report, err := h.Roster.ImportRoster(ctx, h.director, roster.RosterFile{Content: content})
		require.NoError(rt, err)
		if len(report.Faults) > 0 {
			for _, f := range report.Faults {
				require.NotEmpty(rt, f.Message)
			}
			return
		}
		again, err := h.Roster.ImportRoster(ctx, h.director, roster.RosterFile{Content: content})
		require.NoError(rt, err)
		require.Empty(rt, again.Faults)
		require.Equal(rt, []int{0, 0, report.Rows}, counts(again))
	}
	rapid.Check(t, func(rt *rapid.T) {
		var rows [][]string
		columns := []string{
			"external_id",
			"given_name",
			"family_name",
			"grade_year",
			"ensembles",
			"instrument",
			"transport",
			"reed_strength",
			"arm_length_cm",
			"height_cm",
			"practice_minutes_per_week",
		}
		for range rapid.IntRange(1, 3).Draw(rt, "rows") {
			row := make([]string, len(columns))
			row[1] = rapid.SampledFrom([]string{"Ode", "Ilse", "Bram"}).Draw(rt, "name")
			for range rapid.IntRange(0, 3).Draw(rt, "cells") {
				row[rapid.IntRange(0, len(columns)-1).Draw(rt, "column")] = cell.Draw(rt, "cell")
			}
			rows = append(rows, row)
		}
		var file bytes.Buffer
		require.NoError(rt, formats.WriteTable(&file, columns, rows))
		check(rt, file.Bytes())
	})
	rapid.Check(t, func(rt *rapid.T) {
		pair := rapid.Custom(func(t *rapid.T) [2]string { return [2]string{cell.Draw(t, "id"), cell.Draw(t, "name")} })
		check(rt, zipped(rt, rapid.SliceOfN(pair, 1, 3).Draw(rt, "users"), rapid.SliceOfN(pair, 1, 2).Draw(rt, "classes")))
	})
}

// A strength goes with the reeds of the kind: another kind has none or others, and whoever changes over has not chosen yet.
func TestReedStrengthsInARoster(t *testing.T) {
	h := newHouse(t)
	bad := h.roster("given_name,instrument,reed_strength\nFen,B-flat clarinet,soft\nBram,trumpet,2.5\nIlse,,3\n", nil)
	require.Len(t, bad.Faults, 3)
	for n, message := range []string{"use one of 1.5, 2, 2.5, 3, 3.5, 4", "is left empty for an instrument without reeds",
		"goes with an instrument; say which"} {
		assert.Equal(t, []string{"reed_strength", message}, []string{bad.Faults[n].Column, bad.Faults[n].Message})
	}
	h.roster("external_id,given_name,instrument,reed_strength\np1,Fen,B-flat clarinet,2.5\n", nil)
	assert.Equal(t, "2.5", h.player("Fen").ReedStrength)
	var file bytes.Buffer
	require.NoError(t, h.Roster.ExportPlayers(ctx, h.director, formats.CSV(&file)))
	assert.Equal(t, []int{0, 0, 1}, counts(h.roster(file.String(), nil)))
	assert.Equal(t, []int{0, 1, 0}, counts(h.roster("external_id,given_name,reed_strength\np1,Fen,3\n", nil)))
	assert.Equal(t, []int{0, 1, 0}, counts(h.roster("external_id,given_name,instrument\np1,Fen,oboe\n", nil)))
	fen := h.player("Fen")
	assert.Empty(t, fen.ReedStrength)
	fen.ReedStrength = "2.5"
	assert.Equal(t, "reed_strength", fault(t, h.Roster.SavePlayer(ctx, h.director, fen.Player), journal.Invalid).Fields[0].Path)
}
