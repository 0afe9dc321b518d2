package report

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestAfter(t *testing.T) {
	for _, x := range []struct {
		from State
		act  Act
		to   State
	}{
		{Open, Looks, Seen}, {Seen, Looks, Seen}, {Open, Notes, Found}, {Seen, Notes, Found}, {Open, Answers, Answered}, {Seen, Answers, Answered},
		{Open, LooksOver, Sound}, {Seen, LooksOver, Sound}, {Open, ChecksIn, Mended}, {Seen, ChecksIn, Mended},
		{Found, LooksOver, Found}, {Answered, Notes, Answered}, {Sound, ChecksIn, Sound}, {Mended, Looks, Mended},
		{Answered, TakesBack, Open}, {Found, TakesBack, Open},
	} {
		assert.Equal(t, x.to, x.from.After(x.act), "%s, somebody %s", x.from, x.act)
	}
}

// From every state that is not settled each end is reached, and no act leaves a settled report open but its being taken back.
func TestEveryEndIsReached(t *testing.T) {
	for _, from := range States {
		reached := map[State]bool{}
		for _, act := range Acts {
			to := from.After(act)
			assert.Contains(t, States, to)
			reached[to] = true
			assert.True(t, act == TakesBack || !from.Settled() || to == from)
		}
		for _, end := range States {
			assert.True(t, from.Settled() || !end.Settled() || reached[end], "%s is not reached from %s", end, from)
		}
	}
}

// What a player reads changes with every fact that matters, and nobody reads that nobody looked once somebody has.
func TestTold(t *testing.T) {
	for _, x := range []struct {
		of   Facts
		want string
	}{
		{Facts{State: Open}, "Sent, nobody has looked yet"},
		{Facts{State: Open, Coming: true}, "Sent, nobody has looked yet"}, // the job is about something else
		{Facts{State: Seen}, "Seen: somebody will look at it"},
		{Facts{State: Found, Coming: true}, "Seen: it goes to a shop"},
		{Facts{State: Found, Away: true}, "At the shop"},
		{Facts{State: Seen, Back: true}, "Back from the shop, to be tried first"},
		{Facts{State: Found, Cleared: true}, "Mended"},
		{Facts{State: Mended}, "Mended"},
		{Facts{State: Sound}, "Looked over: nothing wrong was found"},
		{Facts{State: Answered, Answered: true}, ""},
		{Facts{State: Found, Answered: true}, ""},
	} {
		assert.Equal(t, x.want, x.of.Told(), "%+v", x.of)
	}
	for _, s := range States {
		for bits := range 1 << 4 {
			f := Facts{State: s, Cleared: bits&1 > 0, Coming: bits&2 > 0, Away: bits&4 > 0, Back: bits&8 > 0}
			assert.True(t, s == Open || f.Told() != "Sent, nobody has looked yet", "%+v", f)
		}
	}
}
