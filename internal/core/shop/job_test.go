package shop

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/why"
)

func TestTheUsualWayOfAJob(t *testing.T) {
	s := Wanted
	for _, step := range []Step{Ask, Quote, Accept, Book, Send, Fetch, CheckIn} {
		assert.Contains(t, s.Steps(), step)
		next, err := s.After(step)
		require.NoError(t, err)
		s = next
	}
	assert.Equal(t, Closed, s)
	assert.False(t, s.Open())
	assert.Empty(t, s.Steps())
	_, err := Away.After(CallOff)
	assert.EqualError(t, err, "you cannot call it off: the job is at the shop")
	_, err = Wanted.After("paint")
	assert.ErrorContains(t, err, "paint")
	assert.Equal(t, "called off", CalledOff.Words())
}

// However a job is moved, what has left is never called off or asked about, and only a check-in or a calling off ends it.
func TestJobsEndOneWay(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := Wanted
		for s.Open() {
			step := rapid.SampledFrom(s.Steps()).Draw(t, "step")
			next, err := s.After(step)
			if err != nil {
				t.Fatalf("%s was offered: %v", step, err)
			}
			if s.Begun() && !next.Begun() {
				t.Fatalf("%s after %s brings it back to %s", step, s, next)
			}
			if !next.Open() && step != CheckIn && step != CallOff {
				t.Fatalf("%s ended it", step)
			}
			if s = next; rapid.IntRange(0, 30).Draw(t, "enough") == 0 {
				return
			}
		}
	})
}

// From every state that is open both ends are within reach, or only the check-in once it has left.
func TestEveryJobCanEnd(t *testing.T) {
	for _, known := range States {
		reached, walk := map[State]bool{known.State: true}, []State{known.State}
		for len(walk) > 0 {
			s := walk[0]
			walk = walk[1:]
			for _, step := range s.Steps() {
				next, err := s.After(step)
				require.NoError(t, err)
				if !reached[next] {
					reached[next], walk = true, append(walk, next)
				}
			}
		}
		if known.State.Open() {
			assert.True(t, reached[Closed], known.Words)
			assert.Equal(t, !known.State.Begun(), reached[CalledOff], known.Words)
		}
	}
}

func TestQuoteDiffers(t *testing.T) {
	assert.Equal(t, int64(1000), QuoteDiffers([]int64{21500, 4000}, 26500))
	assert.Equal(t, int64(-500), QuoteDiffers([]int64{21500, 4000}, 25000))
	assert.Zero(t, QuoteDiffers([]int64{21500, 4000}, 25500))
	assert.Zero(t, QuoteDiffers(nil, 25500), "a total alone cannot differ")
}

// Common practice, no source: what comes out last goes in first, and nothing lies on a soft case.
func TestLoadingOrder(t *testing.T) {
	order := func(loads ...Load) (tags []string) {
		for _, l := range LoadingOrder(loads, []string{"Quoin Street", "Tarn Lane"}) {
			tags = append(tags, l.Tag)
		}
		return tags
	}
	assert.Equal(t, []string{"TU-02", "CO-01", "TB-03", "VC-01", "VN-01"}, order(
		Load{Tag: "VN-01", Places: 1, Shop: "Quoin Street", Soft: true}, Load{Tag: "TB-03", Places: 1, Shop: "Tarn Lane"},
		Load{Tag: "CO-01", Places: 1, Shop: "Tarn Lane"}, Load{Tag: "VC-01", Places: 2, Shop: "Quoin Street", Soft: true},
		Load{Tag: "TU-02", Places: 2, Shop: "Tarn Lane"},
	), "the second shop's lies deepest, of each the largest")
	assert.Equal(t, 5, PlacesTaken([]Load{{Places: 2}, {Places: 3}}))
}

func TestOpenOn(t *testing.T) {
	wednesday := day.MustParse("2026-11-25")
	require.NoError(t, OpenOn("Tarn Lane", []int{2, 3}, wednesday))
	require.NoError(t, OpenOn("Tarn Lane", nil, wednesday), "nobody knows its days")
	assert.ErrorContains(t, OpenOn("Tarn Lane", []int{1, 5}, wednesday), "Tarn Lane is closed on")
}

func TestExpectedDays(t *testing.T) {
	f := func(v float64) *float64 { return &v }
	promise := 10
	for _, tt := range []struct {
		name    string
		in      TurnaroundOut
		promise *int
		want    int
		basis   why.Kind
	}{
		{"enough came back", TurnaroundOut{MedianDays: f(9), P90Days: f(20.5), Finished: 6, Enough: true}, &promise, 21, why.LearnedHere},
		{"nine of ten is not reached", TurnaroundOut{MedianDays: f(9), Finished: 6, Enough: true}, &promise, 9, why.LearnedHere},
		{"too few", TurnaroundOut{MedianDays: f(9), P90Days: f(20), Finished: 3}, &promise, 9, why.LearnedHere},
		{"none", TurnaroundOut{Open: 1}, &promise, 10, why.SchoolSetting},
		{"nothing is known", TurnaroundOut{}, nil, UsualDays, why.FromMemory},
	} {
		got := ExpectedDays(tt.in, tt.promise)
		assert.Equal(t, tt.want, got.Days, tt.name)
		assert.Equal(t, tt.basis, got.Why.Basis.Kind, tt.name)
	}
}

func TestLookAhead(t *testing.T) {
	age := 6.
	o, err := LookAhead(Record{NewCents: 100_000, AgeYears: &age, LifeYears: 10}, 12_000)
	require.NoError(t, err)
	assert.Equal(t, int64(12_000), o.QuoteCents)
	assert.Equal(t, int64(26_214), o.ResaleCents, "0.8 to the sixth")
	assert.Equal(t, float64(o.Economic.LifeYears), o.ReplacementLifeYears)
	assert.Greater(t, o.UpkeepCentsPerYear, o.ReplacementUpkeepCentsPerYear, "an old one takes more care")
	assert.Equal(t, why.FromMemory, o.Why[1].Basis.Kind)

	learned, err := LookAhead(Record{NewCents: 100_000, AgeYears: &age, LifeYears: 10, Paid: []int64{30_000, 50_000}, PlayedYears: 10}, 12_000)
	require.NoError(t, err)
	assert.Equal(t, why.LearnedHere, learned.Why[1].Basis.Kind)
	assert.Equal(t, 2, learned.Why[1].Basis.Observations)
	assert.Greater(t, learned.UpkeepCentsPerYear, o.UpkeepCentsPerYear, "8,000 a year was paid")

	unknown, err := LookAhead(Record{NewCents: 100_000, LifeYears: 10}, 0)
	require.NoError(t, err)
	assert.Contains(t, unknown.Why[3].Statement, "Nobody knows how old it is")
}

// Whatever the record, its figures can be weighed, and an older instrument is worth no more and serves no longer.
func TestLookAheadCanAlwaysBeWeighed(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		age := rapid.Float64Range(0, 60).Draw(t, "age")
		r := Record{
			NewCents: rapid.Int64Range(0, 1e7).Draw(t, "new"), LifeYears: rapid.Float64Range(0.5, 25).Draw(t, "life"), AgeYears: &age,
			Paid:        rapid.SliceOfN(rapid.Int64Range(0, 1e6), 0, 5).Draw(t, "paid"),
			PlayedYears: rapid.Float64Range(0, 200).Draw(t, "played"),
		}
		young, err := LookAhead(r, 5000)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := RepairOrReplace(young.RepairOrReplaceIn); err != nil {
			t.Fatal(err)
		}
		age++
		old, err := LookAhead(r, 5000)
		if err != nil || old.ResaleCents > young.ResaleCents || old.LifeAfterRepairYears > young.LifeAfterRepairYears {
			t.Fatalf("%v: %+v after %+v", err, old.RepairOrReplaceIn, young.RepairOrReplaceIn)
		}
	})
}
