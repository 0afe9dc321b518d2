package hygiene

import (
	"context"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/schedule"
)

// A batch of June: forty winds and strings, four people. The plan is held against its bound, and the benchmark measures it.
func june() schedule.In {
	c := catalog.Embedded()
	in := schedule.In{People: 4, Stations: usualStations(c)}
	kinds := []string{
		"clarinet-b-flat",
		"flute",
		"trumpet",
		"alto-saxophone",
		"violin",
		"trombone",
		"horn",
		"clarinet-b-flat",
		"cello",
		"oboe",
	}
	for n := range 40 {
		k, _ := c.Kind(kinds[n%len(kinds)])
		p := Prepare(
			c,
			c.BenchRoutines(k, catalog.Turnover)[0],
			catalog.Subject{Kind: k, Body: k.Bodies[0], Choices: c.Choose()},
			catalog.Turnover,
			owned(),
			nil,
		)
		in.Instruments = append(in.Instruments, p.Job(fmt.Sprint("i", n)))
	}
	return in
}

func TestAPlanOfFortyIsNearItsBound(t *testing.T) {
	for _, in := range []schedule.In{june(),
		func() schedule.In { in := june(); in.Stations["sink"], in.Stations["drying"] = 3, 4; return in }()} {
		out, err := schedule.Plan(context.Background(), in)
		require.NoError(t, err)
		assert.LessOrEqual(
			t,
			float64(out.MakespanMinutes),
			1.05*float64(out.LowerBoundMinutes),
			"%d minutes, bound %d by %s",
			out.MakespanMinutes,
			out.LowerBoundMinutes,
			out.BoundBy,
		)
	}
}

func BenchmarkBenchOfForty(b *testing.B) {
	in := june()
	for b.Loop() {
		if _, err := schedule.Plan(context.Background(), in); err != nil {
			b.Fatal(err)
		}
	}
}
