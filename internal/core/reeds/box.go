package reeds

import (
	"math"

	"solfeggio/internal/core/day"
)

// Enough is how many reeds a player keeps going: the one in use and two to spare (common practice, no published source).
const Enough = 3

// HolderPlaces is how many reeds a holder takes (from memory).
const HolderPlaces = 4

// A Held reed lies in a player's box.
type Held struct {
	Opened  day.Day
	Program []float64 // minutes of its first playing days; empty for a reed that needs none
	Tires   int       // days of taking turns after which it is tired; 0 for never
}

// A Standing is how a reed stands on a day.
type Standing struct {
	State   State    `json:"state" enum:"breaking-in,ready,worn"`
	ReadyOn day.Day  `json:"ready_on"`
	TiredOn *day.Day `json:"tired_on,omitempty" doc:"From here on it counts as worn; left out for never"`
	Day     int      `json:"day" doc:"Of its break-in, from 1; 0 when it is over, or rests today"`
	Minutes float64  `json:"minutes" doc:"For today, while it is broken in"`
	Share   float64  `json:"share" doc:"Of the break-in that is behind it, 0 to 1"`
	Behind  float64  `json:"behind" doc:"Minutes of it that are"`
}

// Stand reads a reed on a day, not before it was opened. A reed that is a beginner's only one is excused from breaking in.
func (r Held) Stand(today day.Day, rest []day.Day, excused bool) (Standing, error) {
	out := Standing{State: Ready, ReadyOn: r.Opened, Share: 1}
	if len(r.Program) > 0 && !excused {
		plan, err := BreakIn(BreakInIn{r.Opened, r.Program, rest})
		if err != nil {
			return out, err
		}
		out.ReadyOn = plan.ReadyOn
		done := 0
		for n, d := range plan.Days {
			switch {
			case d.Date < today:
				done++
				out.Behind += d.Minutes
			case d.Date == today:
				out.Day, out.Minutes = n+1, d.Minutes
			}
		}
		if today < plan.ReadyOn {
			out.State, out.Share = BreakingIn, float64(done)/float64(len(plan.Days))
		}
	}
	if r.Tires > 0 {
		tired := out.ReadyOn + day.Day(r.Tires)
		out.TiredOn = &tired
		if today >= tired {
			out.State = Worn
		}
	}
	return out, nil
}

// ServesOn reports whether a reed that stands so is free and not tired on a day.
func (s Standing) ServesOn(on day.Day) bool {
	return s.ReadyOn <= on && (s.TiredOn == nil || on < *s.TiredOn)
}

// Turns works out which reeds were played since the first of them was free, as if each day's turn had been kept: on every playing day
// the one that Rotate names is played for the day's minutes. The reeds come back as they are this morning.
func Turns(list []Reed, standing map[string]Standing, today day.Day, rest []day.Day, minutesADay float64) ([]Reed, error) {
	resting := setOf(rest)
	out := append([]Reed{}, list...)
	first := today
	for _, s := range standing {
		first = min(first, s.ReadyOn)
	}
	for d := max(first, today-maxTurns); d < today; d++ {
		if resting[d] {
			continue
		}
		var free []Reed
		for _, r := range out {
			if s, known := standing[r.ID]; known && s.ServesOn(d) {
				r.State = Ready
				free = append(free, r)
			}
		}
		got, err := Rotate(RotateIn{Reeds: free, Today: d})
		if err != nil {
			return nil, err
		}
		for n := range out {
			if got.Play != nil && out[n].ID == *got.Play {
				played := d
				out[n].LastPlayed, out[n].MinutesPlayed = &played, out[n].MinutesPlayed+math.Max(0, minutesADay)
			}
		}
	}
	return out, nil
}

// maxTurns is how many days back turns are followed; before that they do not matter for whose turn it is.
const maxTurns = 60
