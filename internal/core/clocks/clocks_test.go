package clocks

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
)

var today = day.MustParse("2026-11-24")

func unplayed() *usage.Playing {
	return usage.NewPlaying(usage.NewCalendar(day.Span{From: today - 800, To: today + 4000}, nil), nil, nil)
}

func find(t *testing.T, list []Clock, key Key) Clock {
	t.Helper()
	for _, c := range list {
		if c.Key == key {
			return c
		}
	}
	require.Fail(t, "no clock", "%v", key)
	return Clock{}
}

func TestReadAViolin(t *testing.T) {
	r := NewReader(catalog.Embedded(), Settings{Profile: "standard", Thresholds: care.DefaultThresholds}, today)
	clocks := r.Read(Instrument{Kind: "violin", CareFrom: today - 100, Started: map[Key]day.Day{{"violin-strings", "string-e"}: today - 200}, Playing: unplayed(), Players: 4})
	e := find(t, clocks, Key{"violin-strings", "string-e"})
	assert.Equal(t, "90 days", e.Limits.String(), "180 days, halved because four share it")
	assert.Equal(t, care.Late, e.Reading.State)
	assert.Equal(t, "E string", e.PartName())
	assert.InDelta(t, 200./90*3, e.Value, 0.005)
	assert.Equal(t, "Change the string: E string", e.Title())
	assert.Equal(t, "Replace the rosin cake", find(t, clocks, Key{"rosin-cake", "rosin"}).Title(), "it says which part by itself")
	assert.Equal(t, today-100, find(t, clocks, Key{"violin-strings", "string-g"}).Started)
	for _, c := range clocks {
		assert.NotEqual(t, catalog.Player, c.Of.Who, "players are trusted with %s", c.Routine)
		reasons, err := r.Why(c, Instrument{Players: 4})
		require.NoError(t, err)
		assert.Len(t, reasons, 3)
	}
}

func TestProfilesAndTrackedPlayers(t *testing.T) {
	violin := Instrument{Kind: "violin", CareFrom: today, Playing: unplayed()}
	classroom := NewReader(catalog.Embedded(), Settings{Profile: "classroom", TrackAll: true, Thresholds: care.DefaultThresholds}, today).Read(violin)
	concert := NewReader(catalog.Embedded(), Settings{Profile: "concert", TrackAll: true, Thresholds: care.DefaultThresholds}, today).Read(violin)
	assert.Equal(t, "365 days", find(t, classroom, Key{"violin-strings", "string-a"}).Limits.String())
	assert.Equal(t, "75 days", find(t, concert, Key{"violin-strings", "string-a"}).Limits.String())
	assert.Len(t, classroom, len(concert)-1, "planing has no clock in the classroom")
	find(t, classroom, Key{"strings-dust", "body"})
	assert.Empty(t, NewReader(catalog.Embedded(), Settings{}, today).Read(Instrument{Kind: "kazoo"}))
}

func TestABathRestartsTheMouthpieceWash(t *testing.T) {
	c := catalog.Embedded()
	assert.Equal(t, []Key{{"valve-brass-bath", ""}, {"brass-mouthpiece-wash", "mouthpiece"}, {"brass-slide-check", "slides"}}, Restarts(c, "trumpet", Key{"valve-brass-bath", ""}))
	assert.Equal(t, []Key{{"violin-strings", "string-e"}}, Restarts(c, "violin", Key{"violin-strings", "string-e"}))
	assert.True(t, Has(c, "violin", Key{"violin-strings", "string-e"}))
	for _, wrong := range []Key{{"violin-strings", ""}, {"violin-strings", "string-c"}, {"trombone-bath", ""}} {
		assert.False(t, Has(c, "violin", wrong), "%v", wrong)
	}
}

func TestReadyForTheTimeBox(t *testing.T) {
	r := NewReader(catalog.Embedded(), Settings{Profile: "standard", Thresholds: care.DefaultThresholds}, today)
	read := func(key Key, daysAgo day.Day) bool {
		return find(t, r.Read(Instrument{Kind: "violin", CareFrom: today, Started: map[Key]day.Day{key: today - daysAgo}, Playing: unplayed()}), key).Ready()
	}
	rosin, check, rehair := Key{"rosin-cake", "rosin"}, Key{"strings-term-check", ""}, Key{"bow-rehair", "bow-hair"}
	assert.True(t, read(check, 110), "looking early does no harm")
	assert.False(t, read(check, 20))
	assert.False(t, read(rosin, 350), "a part is not thrown away before its time")
	assert.True(t, read(rosin, 365))
	assert.False(t, read(rehair, 400), "nobody rehairs a bow in a prep period")
}
