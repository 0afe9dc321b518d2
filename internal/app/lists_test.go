package app_test

import (
	"bytes"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/formats"
)

func TestLists(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,serial,room,slot,ensembles\nVN-01,violin,4/4,77,Store,F-02,\nTR-01,trumpet,,9,Store,F-01,Wind band\nFL-01,flute,,5,Loft,A-01,\n")
	h.roster("given_name,family_name,grade_year,instrument\nOde,Marchetti,7,violin\n", nil)
	player := h.player("Ode Marchetti")
	_, err := h.Lending.HandOut(ctx, h.director, lending.HandOut{Pairs: []school.Pair{{PlayerID: player.ID, InstrumentID: h.id("VN-01")}}})
	require.NoError(t, err)
	for name, tt := range map[string]struct {
		write func(formats.Writer) error
		want  []string
	}{
		"who has what": {
			func(w formats.Writer) error { return h.Inventory.WriteHolders(ctx, h.director, w) },
			[]string{"Marchetti,Ode,7,,VN-01,Violin,4/4,77,2026-11-24,", ",,,Wind band,TR-01,Trumpet,,9,2026-11-24,"},
		},
		"shelves": {
			func(w formats.Writer) error { return h.Inventory.WriteShelves(ctx, h.director, w) },
			[]string{
				"Loft,A-01,FL-01,Flute,,,,5,here", `Store,F-01,TR-01,Trumpet,,,,9,"here, class set"`,
				"Store,F-02,VN-01,Violin,4/4,,,77,with Ode Marchetti",
			},
		},
		"sections": {
			func(w formats.Writer) error { return h.Inventory.WriteSections(ctx, h.director, w) },
			[]string{
				"Flutes,Flute,,FL-01,5,,,ready,", "Trumpets,Trumpet,,TR-01,9,,Wind band,ready,",
				"Violins,Violin,4/4,VN-01,77,Ode Marchetti,,in a player’s hands,",
			},
		},
	} {
		var file bytes.Buffer
		require.NoError(t, tt.write(formats.CSV(&file)))
		lines := strings.Split(strings.TrimSpace(file.String()), "\n")[1:]
		require.Len(t, lines, len(tt.want), name)
		for n, want := range tt.want {
			assert.True(t, strings.HasPrefix(lines[n], want), "%s: %s", name, lines[n])
		}
	}
}
