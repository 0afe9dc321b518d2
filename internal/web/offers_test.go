package web_test

import (
	"context"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
)

// promise keeps an instrument for somebody.
func (w *world) promise() {
	w.t.Helper()
	w.put("promised", w.things["free"])
	player, instrument := uuid.MustParse(w.things["ilse"]), uuid.MustParse(w.things["free"])
	require.NoError(w.t, w.app.Schools.DB.Write(context.Background(), w.by.School, func(tx *store.Tx) error {
		return instrumentrows.PutPromise(context.Background(), tx, instrumentrows.Promise{Instrument: instrument, Player: player, Until: 20790})
	}))
}

// Whatever answer names a loaner, a pair or a spare says so in the API's document, and no other does: those that do are held against each
// other in internal/app.
func TestAnswersThatOfferSaySo(t *testing.T) {
	c, all := readContract(t)
	offers := []string{"loaner", "loaner_id", "gets", "pairs", "offers", "spare"}
	for _, o := range all {
		if strings.HasPrefix(o.path, "/api/v1/calc") { // which know no school
			continue
		}
		named := c.names(o, offers)
		assert.Equal(t, len(named) > 0, o.Offers, "%s names %v", o.OperationID, slices.Compact(named))
	}
}

// names are which of some properties stand anywhere in the answer of an operation.
func (c contract) names(o *operation, wanted []string) (found []string) {
	seen := map[*schema]bool{}
	var walk func(s *schema)
	walk = func(s *schema) {
		if s != nil && s.Ref != "" {
			s = c.Components.Schemas[strings.TrimPrefix(s.Ref, "#/components/schemas/")]
		}
		if s == nil || seen[s] {
			return
		}
		seen[s] = true
		walk(s.Items)
		for name, p := range s.Properties {
			if slices.Contains(wanted, name) && p.Type != "boolean" {
				found = append(found, name)
			}
			walk(p)
		}
	}
	for status, r := range o.Responses {
		for _, content := range r.Content {
			if strings.HasPrefix(status, "2") {
				walk(content.Schema)
			}
		}
	}
	slices.Sort(found)
	return found
}
