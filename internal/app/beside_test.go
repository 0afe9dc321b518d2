package app_test

import (
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/cards"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
)

// What nobody keeps in memory of a school, such as a device on which somebody signs in, an ended key or hands in a drill, voids no answer.
func TestWhatNoScreenShowsVoidsNoAnswer(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,ensembles\nVN-01,violin,Strings\n")
	set, err := h.Settings.Settings(ctx, h.director)
	require.NoError(t, err)
	before, err := h.Schools.DB.Revision(ctx, h.director.School)
	require.NoError(t, err)
	require.NoError(t, h.Access.KeepDevice(ctx, h.director, "a device"))
	require.NoError(t, h.Access.AddKey(ctx, h.director, access.NewKey{
		ID: uuid.New(), Name: "nightly lists", Role: journal.Viewer, EndsOn: day.Of(h.now) + 1, Secret: secret, Password: directorsPassword,
	}))
	class, err := h.Cards.Class(ctx, h.director, set.Ensembles[0].ID, "violin", "", "en")
	require.NoError(t, err)
	_, err = h.Cards.Count(ctx, h.director,
		cards.Hands{Ensemble: set.Ensembles[0].ID, Kind: "violin", Question: class.Question.ID, Right: 5})
	require.NoError(t, err)
	after, err := h.Schools.DB.Revision(ctx, h.director.School)
	require.NoError(t, err)
	assert.Equal(t, before, after)
	err = h.Schools.DB.WriteBeside(ctx, h.director.School, func(tx *store.Tx) error {
		return instrumentrows.LeaveSchool(ctx, tx, h.id("VN-01"), day.Of(h.now), "sold")
	})
	assert.Error(t, err, "what is kept in memory is not changed behind its back")
}
