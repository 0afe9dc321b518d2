package bench

import (
	"fmt"
	"maps"
	"math"
	"sync"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/store/benchrows"
)

// timers remember when steps began by a clock that only goes forward evenly. The times of a run are kept by the server's wall clock,
// which somebody may set; one that jumps ahead must not cut a contact time short. After a restart the wall clock is all there is.
type timers struct {
	mu    sync.Mutex
	begun map[timerKey]time.Duration
}

type timerKey struct {
	run, instrument uuid.UUID
	step            int
}

func keyOf(s benchrows.BenchStep) timerKey { return timerKey{s.Run, s.Instrument, s.N} }

func (t *timers) begin(key timerKey, steady time.Duration) {
	t.mu.Lock()
	defer t.mu.Unlock()
	if t.begun == nil {
		t.begun = map[timerKey]time.Duration{}
	}
	maps.DeleteFunc(t.begun, func(_ timerKey, begun time.Duration) bool { return steady-begun > longestWait })
	t.begun[key] = steady
}

// longestWait is how long anything at a bench can wait for its next step; what began before that is over or was given up.
const longestWait = 48 * time.Hour

// left is how much of a wait is left by the steady clock; 0 when it is over or this process did not see it begin.
func (t *timers) left(key timerKey, wait, steady time.Duration) time.Duration {
	t.mu.Lock()
	defer t.mu.Unlock()
	begun, ok := t.begun[key]
	if !ok {
		return 0
	}
	return max(0, wait-(steady-begun))
}

// drift is by how much two honest clocks may differ over the waits of a bench.
const drift = 2 * time.Second

// tooEarly says why a step that was begun is not over yet; empty when it is.
func (r *Room) tooEarly(step benchrows.BenchStep) string {
	now, wait := r.schools.Now(), time.Duration(step.WaitMinutes)*time.Minute
	remaining := overAt(step).Sub(now)
	switch steady := r.timers.left(keyOf(step), wait, r.Steady()); {
	case now.Before(*step.BegunAt):
		return fmt.Sprintf(
			"The server's clock stands before the moment at which this began. Nothing is ticked until it has caught up and %d minutes are over.",
			step.WaitMinutes,
		)
	case remaining > 0:
		return fmt.Sprintf("%s must wait %s more.", step.Name, minutes(remaining))
	case steady > drift:
		return fmt.Sprintf(
			"The server's clock was set ahead. %s began %s ago and must wait %s more.",
			step.Name,
			minutes(wait-steady),
			minutes(steady),
		)
	}
	return ""
}

func minutes(d time.Duration) string {
	if d > time.Minute {
		return fmt.Sprintf("%d min", int(math.Ceil(d.Minutes())))
	}
	return fmt.Sprintf("%d s", int(math.Ceil(d.Seconds())))
}
