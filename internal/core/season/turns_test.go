package season

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"solfeggio/internal/core/day"
)

func TestOver(t *testing.T) {
	accepted := day.MustParse("2026-09-01")
	mondays := []day.Day{day.MustParse("2026-10-05"), day.MustParse("2027-01-11"), day.MustParse("2027-05-10")}
	for done, over := range map[string]int{
		"2026-08-30": 0, // before anybody planned
		"2026-09-01": 0,
		"2026-09-03": 1, // early
		"2026-10-09": 1,
		"2026-11-02": 1, // late
		"2026-12-20": 2, // the second, early
		"2027-01-12": 2,
		"2027-05-14": 3,
	} {
		assert.Equal(t, over, Over(mondays, accepted, day.MustParse(done)), done)
	}
	assert.Zero(t, Over(nil, accepted, accepted+9))
}
