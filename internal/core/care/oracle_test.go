//go:build oracle

package care

import (
	"context"
	"fmt"
	"math/rand/v2"
	"solfeggio/internal/glpktest"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The same model as a mixed-integer program, solved by glpsol (GLPK): sixty tasks, where the time box must be exact.
func TestTimeBoxAgainstGLPK(t *testing.T) {
	random := rand.New(rand.NewPCG(1, 2))
	for round := range 8 {
		in := TimeBoxIn{Minutes: 25, Helpers: round % 3, Setups: map[string]float64{"sink": 4, "bench": 3, "shelf": 2}}
		for i := range 60 {
			in.Tasks = append(in.Tasks, Task{
				fmt.Sprint(i), float64(1+random.IntN(500)) / 100, float64(2 + random.IntN(30)),
				[]string{"", "sink", "bench", "shelf"}[random.IntN(4)],
			})
		}
		got, err := TimeBox(context.Background(), in)
		require.NoError(t, err)
		assert.True(t, got.Exact)
		assert.InDelta(t, solve(t, in), got.Value, 1e-6, "round %d", round)
	}
}

func solve(t *testing.T, in TimeBoxIn) float64 {
	var goal, load, rules, binaries strings.Builder
	for name, m := range in.Setups {
		fmt.Fprintf(&load, " + %g y_%s", m, name)
		fmt.Fprintf(&binaries, " y_%s\n", name)
	}
	for _, task := range in.Tasks {
		fmt.Fprintf(&goal, " + %g x%s", task.Value, task.ID)
		fmt.Fprintf(&load, " + %g x%s", task.Minutes, task.ID)
		fmt.Fprintf(&binaries, " x%s\n", task.ID)
		if task.Setup != "" {
			fmt.Fprintf(&rules, " x%s - y_%s <= 0\n", task.ID, task.Setup)
		}
		if task.Minutes > in.Minutes {
			fmt.Fprintf(&rules, " x%s = 0\n", task.ID)
		}
	}
	text := fmt.Sprintf(
		"Maximize\n value:%s\nSubject To\n%s %s <= %g\nBinary\n%sEnd\n",
		goal.String(),
		rules.String(),
		load.String(),
		in.Minutes*float64(1+in.Helpers),
		binaries.String(),
	)
	return glpktest.Optimum(t, text)
}
