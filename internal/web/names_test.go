package web_test

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"log/slog"
	"maps"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/pgtest"
)

// gone is the family name of a player of the world who has left.
const gone = "Osei"

// A planting puts the name of somebody who left into whatever text a body has room for.
type planting struct {
	recipe, full any
	not          map[string]bool // paths of what is no free text
	at           []string        // paths of what was planted
}

func (p *planting) body() string {
	p.at = nil
	text, _ := json.Marshal(p.with(p.recipe, p.full, "body")) // made of JSON
	return string(text)
}

func (p *planting) with(recipe, full any, path string) any {
	switch of := full.(type) {
	case map[string]any:
		in, ok := recipe.(map[string]any)
		if !ok {
			break
		}
		out := maps.Clone(in)
		for _, name := range slices.Sorted(maps.Keys(of)) {
			value, has := in[name]
			if _, text := of[name].(string); !has && text {
				value, has = "", true
			}
			if has {
				if planted := p.with(value, of[name], path+"."+name); planted != "" || in[name] != nil {
					out[name] = planted
				}
			}
		}
		return out
	case []any:
		in, ok := recipe.([]any)
		if !ok || len(of) == 0 {
			break
		}
		out := slices.Clone(in)
		for n := range out {
			out[n] = p.with(out[n], of[0], fmt.Sprintf("%s[%d]", path, n))
		}
		return out
	case string:
		in, ok := recipe.(string)
		if !ok || !strings.HasPrefix(of, "Aa1") || p.not[path] {
			break
		}
		p.at = append(p.at, path)
		return strings.TrimSpace(in + " " + gone + " said")
	}
	return recipe
}

// plant sends a write with the name in each text that takes it, and returns what was sent.
func (w *world) plant(t *testing.T, c contract, o *operation, body, kind string, send func(body string) answer) (sent string, got answer) {
	t.Helper()
	c.full = true
	full, _ := c.body(t, o)
	p := &planting{not: map[string]bool{}}
	if kind != "application/json" || strings.HasPrefix(o.OperationID, "sign-") || json.Unmarshal([]byte(body), &p.recipe) != nil ||
		json.Unmarshal([]byte(full), &p.full) != nil {
		return body, send(body)
	}
	for {
		sent = p.body()
		if len(p.at) == 0 {
			return body, send(body)
		}
		if got = send(sent); got.status < 300 {
			return sent, got
		}
		_, places := got.problem(t)
		refused := slices.DeleteFunc(slices.Clone(p.at), func(path string) bool { _, named := places[path]; return !named })
		if len(refused) == 0 {
			refused = p.at[:1]
		}
		for _, path := range refused {
			p.not[path] = true
		}
	}
}

// nameable are the tables that keep names of things, which people choose, and of those who work at the school.
var nameable = []string{
	"instrument", "ensemble", "concert", "term", "school_break", "school", "shelf", "stocktake", "person", "access_key", "shop", "rental", "product",
	"stocktake_scan", "supply_lot", "supply_order", "supply_setting", "supply_order_line", "part_life", "reed", "player", "season_piece",
}

// forgets erases the player who left, and finds the name nowhere any more, whatever was written before.
func (w *world) forgets(t *testing.T, raw *sqlx.DB) {
	t.Helper()
	ctx, bram := context.Background(), uuid.MustParse(w.things["bram"])
	fresh := app.New(w.app.Schools.DB, w.app.Schools.Now, slog.New(slog.DiscardHandler)) // which reads the school anew
	list, err := fresh.Roster.Mentions(ctx, w.by, bram)
	var missing *journal.Fault
	if errors.As(err, &missing) && missing.Kind == journal.NotFound {
		return // the write was that they were erased
	}
	require.NoError(t, err)
	how := roster.Erasing{}
	for _, m := range list {
		how.Texts = append(how.Texts, roster.ErasedText{Text: m.Text, How: roster.TakeOutName})
	}
	require.NoError(t, fresh.Roster.ErasePlayer(ctx, w.by, bram, how))
	for row := range strings.Lines(pgtest.Everything(t, raw, w.by.School)) {
		table, _, _ := strings.Cut(row, " ")
		if strings.Contains(row, gone) && !slices.Contains(nameable, table) {
			assert.Fail(t, "a name was left", "%s; what was typed is listed in internal/store/typed.go", row)
		}
	}
}
