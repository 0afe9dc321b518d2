package care

import (
	"testing"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
)

// BenchmarkRead reads 75,000 clocks: 5,000 instruments with 15 clocks each, over a year of terms and breaks.
func BenchmarkRead(b *testing.B) {
	today := day.MustParse("2026-11-24")
	span := day.Span{From: today - 4*365, To: today + 10*366}
	var breaks []day.Span
	for d := span.From; d < span.To; d += 90 {
		breaks = append(breaks, day.Span{From: d, To: d + 14})
	}
	cal := usage.NewCalendar(span, breaks)
	limits := []Limits{
		{Days: f(30)}, {Days: f(120)}, {Days: f(365)}, {Days: f(180), PlayingHours: f(200)}, {Sessions: f(40)},
	}
	players := make([]*usage.Playing, 5000)
	for i := range players {
		h, err := usage.NewHabit(
			[]usage.Rehearsal{{Weekday: 1, Minutes: 50, PlayFactor: 0.6}, {Weekday: 4, Minutes: 50, PlayFactor: 0.6}},
			float64(60+i%120),
			0.25,
			5,
		)
		if err != nil {
			b.Fatal(err)
		}
		players[i] = usage.NewPlaying(cal, []usage.Stretch{{Span: span, Habit: h}}, nil)
	}
	b.ResetTimer()
	for range b.N {
		late := 0
		for i, p := range players {
			for k := range 15 {
				if r := Read(today-day.Day(i%300)-day.Day(k*7), today, limits[k%len(limits)], p, DefaultThresholds); r.State == Late {
					late++
				}
			}
		}
		if late == 0 {
			b.Fatal("no clock is late")
		}
	}
}
