package clocks

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

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
		reasons, err := r.Why(c, Instrument{Players: 4}, "")
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

func TestOffered(t *testing.T) {
	r := NewReader(catalog.Embedded(), Settings{Profile: "standard", Thresholds: care.DefaultThresholds}, today)
	rosin, check, rehair := Key{"rosin-cake", "rosin"}, Key{"strings-term-check", ""}, Key{"bow-rehair", "bow-hair"}
	e, a, g := Key{"violin-strings", "string-e"}, Key{"violin-strings", "string-a"}, Key{"violin-strings", "string-g"}
	tests := []struct {
		name    string
		daysAgo map[Key]day.Day
		concert day.Day
		offered []Key
		held    map[Key]string
	}{
		{"looking early does no harm, throwing away early does", map[Key]day.Day{check: 110, rosin: 350}, 0, []Key{check}, nil},
		{"a part is replaced when it is due", map[Key]day.Day{rosin: 365}, 0, []Key{rosin}, nil},
		{"nobody rehairs a bow in a prep period", map[Key]day.Day{rehair: 400}, 0, nil, map[Key]string{rehair: "technician"}},
		{"one string a day, the most worn first", map[Key]day.Day{g: 190, e: 200, a: 185}, 0, []Key{e}, map[Key]string{g: "only one of them", a: "only one of them"}},
		{"the next string waits for tomorrow", map[Key]day.Day{e: 0, a: 200}, 0, nil, map[Key]string{a: "done today"}},
		{"a new string settles three days before a concert", map[Key]day.Day{e: 200}, today + 2, nil, map[Key]string{e: "settling"}},
		{"three days are enough", map[Key]day.Day{e: 200}, today + 3, []Key{e}, nil},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			violin := Instrument{Kind: "violin", CareFrom: today - 1, Started: map[Key]day.Day{}, Playing: unplayed()}
			for key, ago := range tt.daysAgo {
				violin.Started[key] = today - ago
			}
			offered, held := r.Offered(r.Read(violin), tt.concert)
			var keys []Key
			for _, c := range offered {
				keys = append(keys, c.Key)
			}
			assert.Equal(t, tt.offered, keys)
			for key, because := range tt.held {
				assert.Contains(t, held[key], because)
			}
		})
	}
}

// Whatever stands on the clocks: of a one-a-day routine at most one is offered, nothing that is fresh or a technician's
// is, and what is due is either offered or held back with a reason.
func TestOfferedHoldsItsPromises(t *testing.T) {
	c := catalog.Embedded()
	r := NewReader(c, Settings{Profile: "standard", TrackAll: true, Thresholds: care.DefaultThresholds}, today)
	rapid.Check(t, func(t *rapid.T) {
		kind := rapid.SampledFrom(c.Kinds).Draw(t, "kind")
		in := Instrument{Kind: kind.Key, CareFrom: today - 5, Started: map[Key]day.Day{}, Playing: unplayed()}
		for _, name := range kind.Routines {
			routine, _ := c.Routine(name)
			for _, part := range routine.Clocks() {
				in.Started[Key{name, part}] = today - day.Day(rapid.IntRange(0, 700).Draw(t, "days ago"))
			}
		}
		concert := today + day.Day(rapid.IntRange(-3, 9).Draw(t, "concert"))
		all := r.Read(in)
		offered, held := r.Offered(all, concert)
		has := map[Key]bool{}
		perDay := map[string]int{}
		for _, o := range offered {
			has[o.Key] = true
			if o.Of.OneADay {
				perDay[o.Routine]++
			}
			if o.Reading.State == care.Fresh || o.Of.Who == catalog.Technician || o.Of.Replaces && o.Reading.State == care.Opening {
				t.Fatalf("%s is offered", o.Title())
			}
		}
		for routine, n := range perDay {
			if n > 1 {
				t.Fatalf("%d of %s in a day", n, routine)
			}
		}
		for _, o := range all {
			if (o.Reading.State == care.Due || o.Reading.State == care.Late) && has[o.Key] == (held[o.Key] != "") {
				t.Fatalf("%s: offered %v, held %q", o.Title(), has[o.Key], held[o.Key])
			}
		}
	})
}
