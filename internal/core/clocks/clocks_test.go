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
	"solfeggio/internal/core/why"
)

var (
	today   = day.MustParse("2026-11-24")
	heating = Heating{YearDay{10, 15}, YearDay{4, 15}}
)

func unplayed() *usage.Playing {
	return usage.NewPlaying(usage.NewCalendar(day.Span{From: today - 800, To: today + 4000}, nil), nil, nil)
}

// violinist is a violin in a school that chose a profile.
func violinist(profile string) Instrument {
	return Instrument{
		Kind:      "violin",
		Choices:   catalog.Embedded().Choose(catalog.Choices{catalog.ProfilePractice: profile}),
		ChoiceSet: profile,
		CareFrom:  today,
		Playing:   unplayed(),
	}
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
	r := NewReader(catalog.Embedded(), Settings{Heating: heating, Weights: care.UsualWeights, Thresholds: care.DefaultThresholds}, today)
	violin := violinist("standard")
	violin.CareFrom, violin.Started, violin.Players = today-100, map[Key]day.Day{{"violin-strings", "string-e"}: today - 200}, 4
	clocks := r.Read(violin)
	e := find(t, clocks, Key{"violin-strings", "string-e"})
	assert.Equal(t, "90 days or 200 h of playing", e.Limits.String(), "180 days, halved because four share it; hours are those of all four")
	assert.Equal(t, care.Late, e.Reading.State)
	assert.Equal(t, "E string", e.PartName())
	assert.InDelta(t, 200./90*3*2, e.Value, 0.005, "urgency × 3 for sound × √4 for four players")
	assert.Equal(t, "Change the string: E string", e.Title())
	assert.Equal(t, "Replace the rosin cake", find(t, clocks, Key{"rosin-cake", "rosin"}).Title(), "it says which part by itself")
	assert.Equal(t, today-100, find(t, clocks, Key{"violin-strings", "string-g"}).Started)
	for _, c := range clocks {
		assert.NotEqual(t, catalog.Player, c.Of.Who, "players are trusted with %s", c.Routine)
		reasons, err := r.Why(c, violin, "")
		require.NoError(t, err)
		require.Len(t, reasons, 3)
		assert.NotEmpty(t, reasons[1].Statement, "%s", c.Routine)
	}
}

func TestProfilesAndTrackedPlayers(t *testing.T) {
	r := NewReader(
		catalog.Embedded(),
		Settings{Heating: heating, Weights: care.UsualWeights, TrackAll: true, Thresholds: care.DefaultThresholds},
		today,
	)
	classroom, concert := r.Read(violinist("classroom")), r.Read(violinist("concert"))
	assert.Equal(t, "365 days or 300 h of playing", find(t, classroom, Key{"violin-strings", "string-a"}).Limits.String())
	assert.Equal(t, "75 days or 120 h of playing", find(t, concert, Key{"violin-strings", "string-a"}).Limits.String())
	assert.Len(t, classroom, len(concert)-1, "planing has no clock in the classroom")
	find(t, classroom, Key{"strings-dust", "body"})
	assert.Empty(t, NewReader(catalog.Embedded(), Settings{}, today).Read(Instrument{Kind: "kazoo"}))
}

func TestABathRestartsTheMouthpieceWash(t *testing.T) {
	c := catalog.Embedded()
	assert.Equal(
		t,
		[]Key{{"valve-brass-bath", ""}, {"brass-mouthpiece-wash", "mouthpiece"}, {"brass-slide-check", "slides"}},
		Restarts(c, "trumpet", Key{"valve-brass-bath", ""}),
	)
	assert.Equal(t, []Key{{"violin-strings", "string-e"}}, Restarts(c, "violin", Key{"violin-strings", "string-e"}))
	assert.True(t, Has(c, "violin", Key{"violin-strings", "string-e"}))
	for _, wrong := range []Key{{"violin-strings", ""}, {"violin-strings", "string-c"}, {"trombone-bath", ""}} {
		assert.False(t, Has(c, "violin", wrong), "%v", wrong)
	}
}

func TestOffered(t *testing.T) {
	r := NewReader(catalog.Embedded(), Settings{Heating: heating, Weights: care.UsualWeights, Thresholds: care.DefaultThresholds}, today)
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
		{
			"one string a day, the most worn first",
			map[Key]day.Day{g: 190, e: 200, a: 185},
			0,
			[]Key{e},
			map[Key]string{g: "only one of them", a: "only one of them"},
		},
		{"the next string waits for tomorrow", map[Key]day.Day{e: 0, a: 200}, 0, nil, map[Key]string{a: "done today"}},
		{"a new string settles three days before a concert", map[Key]day.Day{e: 200}, today + 2, nil, map[Key]string{e: "settling"}},
		{"three days are enough", map[Key]day.Day{e: 200}, today + 3, []Key{e}, nil},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			violin := violinist("standard")
			violin.CareFrom, violin.Started, violin.Concert = today-1, map[Key]day.Day{}, tt.concert
			for key, ago := range tt.daysAgo {
				violin.Started[key] = today - ago
			}
			offered, held := r.Offered(r.Read(violin), violin)
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

// What somebody has chosen a day for is not offered besides, and on that day no other string of the instrument is.
func TestOfferedLeavesThePlanAlone(t *testing.T) {
	r := NewReader(catalog.Embedded(), Settings{Heating: heating, Weights: care.UsualWeights, Thresholds: care.DefaultThresholds}, today)
	e, a := Key{"violin-strings", "string-e"}, Key{"violin-strings", "string-a"}
	violin := violinist("standard")
	violin.CareFrom, violin.Started = today-1, map[Key]day.Day{e: today - 200, a: today - 200}
	violin.Planned = map[Key]day.Day{e: today + 3}
	offered, held := r.Offered(r.Read(violin), violin)
	assert.Len(t, offered, 1)
	assert.Equal(t, a, offered[0].Key)
	assert.Contains(t, held[e], "it stands on the plan for")
	violin.Planned[e] = today
	offered, held = r.Offered(r.Read(violin), violin)
	assert.Empty(t, offered)
	assert.Contains(t, held[a], "one of them stands on the plan for today")
}

// Whatever stands on the clocks: of a one-a-day routine at most one is offered, nothing that is fresh or a technician's
// is, and what is due is either offered or held back with a reason.
func TestOfferedHoldsItsPromises(t *testing.T) {
	c := catalog.Embedded()
	r := NewReader(c, Settings{Heating: heating, Weights: care.UsualWeights, TrackAll: true, Thresholds: care.DefaultThresholds}, today)
	rapid.Check(t, func(t *rapid.T) {
		kind := rapid.SampledFrom(c.Kinds).Draw(t, "kind")
		in := Instrument{
			Kind: kind.Key, Choices: anyChoices(t, c), CareFrom: today - 5,
			Started: map[Key]day.Day{}, Planned: map[Key]day.Day{}, Playing: unplayed(),
		}
		for _, name := range kind.Routines {
			routine, _ := c.Routine(name)
			for _, part := range routine.Clocks() {
				in.Started[Key{name, part}] = today - day.Day(rapid.IntRange(0, 700).Draw(t, "days ago"))
				if rapid.IntRange(0, 9).Draw(t, "planned") == 0 {
					in.Planned[Key{name, part}] = today + day.Day(rapid.IntRange(-2, 5).Draw(t, "planned for"))
				}
			}
		}
		in.ChoiceSet = in.Choices.String()
		in.Concert = today + day.Day(rapid.IntRange(-3, 9).Draw(t, "concert"))
		in.Returned = today - day.Day(rapid.IntRange(0, 60).Draw(t, "returned"))
		if rapid.IntRange(0, 9).Draw(t, "stopped") == 0 {
			in.Stopped = "open seam"
		}
		all := r.Read(in)
		offered, held := r.Offered(all, in)
		if in.Stopped != "" && len(offered) > 0 {
			t.Fatalf("%d offered on a stopped instrument", len(offered))
		}
		has := map[Key]bool{}
		perDay := map[string]int{}
		for _, o := range offered {
			has[o.Key] = true
			if o.OneADay {
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

// anyChoices draws a side of each disagreement.
func anyChoices(t *rapid.T, c *catalog.Catalog) catalog.Choices {
	choices := catalog.Choices{}
	for _, p := range c.Practices {
		choices[p.Key] = rapid.SampledFrom(p.Options).Draw(t, p.Key).Key
	}
	return choices
}

// What makes care due beside its limits. The numbers of days are common practice or from memory; they stand in the catalogue.
func TestOccasions(t *testing.T) {
	r := NewReader(catalog.Embedded(), Settings{Heating: heating, Weights: care.UsualWeights, Thresholds: care.DefaultThresholds}, today)
	season, storage := Key{"strings-season-check", ""}, Key{"strings-storage", ""}
	concert, term := Key{"strings-before-concert", ""}, Key{"strings-term-check", ""}
	tests := []struct {
		name    string
		with    func(*Instrument)
		key     Key
		state   care.State
		on      day.Day
		binding care.Binding
	}{
		{"the heating season began on 15 October", func(*Instrument) {}, season, care.Late, day.MustParse("2026-10-15"), care.BySeason},
		{
			"done since, the next turn counts",
			func(i *Instrument) { i.Started[season] = today - 10 },
			season,
			care.Fresh,
			day.MustParse("2027-04-15"),
			care.BySeason,
		},
		{"a concert in three weeks", func(i *Instrument) { i.Concert = today + 21 }, concert, care.Fresh, today + 14, care.ByConcert},
		{"a concert in five days", func(i *Instrument) { i.Concert = today + 5 }, concert, care.Due, today - 2, care.ByConcert},
		{"got ready for it", func(i *Instrument) { i.Concert = today + 5; i.Started[concert] = today - 1 }, concert, care.Fresh, 0, ""},
		{"a concert that is over", func(i *Instrument) { i.Concert = today - 1 }, concert, care.Fresh, 0, ""},
		{
			"returned yesterday",
			func(i *Instrument) { i.Returned = today - 1; i.Started[term] = today - 30 },
			term,
			care.Due,
			today - 1,
			care.ByReturn,
		},
		{
			"returned, and checked since",
			func(i *Instrument) { i.Returned = today - 9; i.Started[term] = today - 8 },
			term,
			care.Fresh,
			today - 8 + 120,
			care.ByDays,
		},
		{"unplayed for thirty days", func(i *Instrument) { i.RestsSince = today - 30 }, storage, care.Due, today, care.ByRest},
		{"unplayed for ten", func(i *Instrument) { i.RestsSince = today - 10 }, storage, care.Fresh, today + 20, care.ByRest},
	}
	for _, tt := range tests {
		t.Run(tt.name, func(t *testing.T) {
			violin := violinist("standard")
			violin.CareFrom, violin.Started = today-100, map[Key]day.Day{}
			tt.with(&violin)
			got := find(t, r.Read(violin), tt.key)
			assert.Equal(t, tt.state, got.Reading.State)
			assert.Equal(t, tt.on, got.Reading.DueOn)
			assert.Equal(t, tt.binding, got.Reading.Binding)
			reasons, err := r.Why(got, violin, "")
			require.NoError(t, err)
			if tt.binding != "" {
				assert.Contains(t, reasons[0].Statement, tt.on.Words())
			}
		})
	}
}

func TestOwnLimitsAndOwnChoices(t *testing.T) {
	r := NewReader(catalog.Embedded(), Settings{Heating: heating, Weights: care.UsualWeights, Thresholds: care.DefaultThresholds}, today)
	ninety := 90.
	e, board := Key{"violin-strings", "string-e"}, Key{"fingerboard-planing", "fingerboard"}
	violin := violinist("classroom")
	violin.CareFrom, violin.HeavySweat = today-70, true
	violin.Own = map[Key]care.Limits{e: {Days: &ninety}, board: {Days: &ninety}}
	list := r.Read(violin)
	own := find(t, list, e)
	assert.Equal(t, "63 days", own.Limits.String(), "an own limit of 90 days, × 0.7 for heavy sweat")
	assert.Equal(t, care.Due, own.Reading.State)
	assert.Equal(t, "255 days or 210 h of playing", find(t, list, Key{"violin-strings", "string-a"}).Limits.String(), "the others stay as they were")
	assert.Equal(t, "63 days", find(t, list, board).Limits.String(), "a clock that the profile does not keep can be set all the same")
	reasons, err := r.Why(own, violin, "")
	require.NoError(t, err)
	assert.Equal(t, why.SchoolSetting, reasons[1].Basis.Kind)

	saxophone := Instrument{
		Kind:      "alto-saxophone",
		CareFrom:  today,
		Playing:   unplayed(),
		ChoiceSet: "half-yearly",
		Choices:   catalog.Embedded().Choose(catalog.Choices{"saxophone-shop": "half-yearly"}),
	}
	shop := find(t, r.Read(saxophone), Key{"saxophone-technician-check", ""})
	assert.Equal(t, "182 days", shop.Limits.String(), "the choice of the school is followed at once")
	reasons, err = r.Why(shop, saxophone, "")
	require.NoError(t, err)
	assert.Equal(t, why.Input{Name: "check-up of saxophones", Value: "Every six months"}, reasons[1].Inputs[0])
	assert.Contains(
		t,
		reasons[1].Alternatives,
		why.Alternative{Name: "Every twelve months", Statement: "With all other winds, once a year."},
	)
}

// A clock read ahead is due again after its limit, at the next concert that it was not done for, and at the next turn of the seasons.
func TestReadAhead(t *testing.T) {
	r := NewReader(catalog.Embedded(), Settings{Heating: heating, Weights: care.UsualWeights, Thresholds: care.DefaultThresholds}, today)
	violin := violinist("standard")
	violin.Concert = day.MustParse("2026-12-12")
	concerts := []day.Day{violin.Concert, day.MustParse("2027-04-17"), day.MustParse("2027-06-10")}
	list := r.Read(violin)
	e := find(t, list, Key{"violin-strings", "string-e"})
	done := day.MustParse("2027-01-11")
	assert.Equal(t, done+180, r.Ahead(e, violin, done, concerts).DueOn)

	ready := find(t, list, Key{"strings-before-concert", ""})
	before := day.Day(ready.Of.Triggers.BeforeConcertDays)
	require.Positive(t, before)
	assert.Equal(t, concerts[0]-before, ready.Reading.DueOn)
	assert.Equal(t, concerts[1]-before, r.Ahead(ready, violin, concerts[0]-before, concerts).DueOn)
	assert.Equal(t, concerts[1]-before, r.Ahead(ready, violin, concerts[1]-before-1, concerts).DueOn)
	assert.True(t, r.Ahead(ready, violin, concerts[2], concerts).DueOn.IsZero(), "no concert is left")

	turn := find(t, list, Key{"strings-season-check", ""})
	assert.Equal(t, day.MustParse("2027-04-15"), r.Ahead(turn, violin, done, concerts).DueOn)
	assert.Equal(t, day.MustParse("2027-10-15"), r.Ahead(turn, violin, day.MustParse("2027-04-15"), concerts).DueOn)
}
