// Package usage derives how long an instrument is played, because wear follows playing and nobody keeps a log.
//
// Rehearsals are known from the timetable; only a part of their minutes is playing (the play factor). Practice at
// home follows the player's habit: it accrues one seventh of the week's minutes a day, less in the breaks (the
// vacation share). All of it is common practice without a published source, and every figure is a setting.
package usage

import (
	"fmt"
	"math"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
)

// Defaults of the product, changeable by the school.
const (
	DefaultPlayFactor      = 0.6  // share of a rehearsal's minutes that is playing
	DefaultVacationShare   = 0.25 // share of the practice habit that survives in a break
	DefaultPracticeDays    = 5.0  // practice sessions a week
	DefaultPracticeMinutes = 60.0 // a week, of a player of whom nothing else is known
)

// Tolerance is the slack of every comparison against a limit.
const Tolerance = 1e-9

// A Rehearsal happens every week on its weekday, outside breaks.
type Rehearsal struct {
	Weekday    day.Weekday `json:"weekday" minimum:"1" maximum:"7" doc:"ISO weekday, Monday = 1"`
	Minutes    float64     `json:"minutes" doc:"Length in minutes"`
	PlayFactor float64     `json:"play_factor" doc:"Share of the minutes that is playing, 0 to 1"`
}

// An Extra session, such as a concert, counts whatever the day.
type Extra struct {
	Date       day.Day `json:"date"`
	Minutes    float64 `json:"minutes"`
	PlayFactor float64 `json:"play_factor"`
}

// A Log is practice that somebody wrote down; it replaces the estimate of its day.
type Log struct {
	Date    day.Day `json:"date"`
	Minutes float64 `json:"minutes"`
}

// In is the input of the calculator usage.minutes.
type In struct {
	From                   day.Day     `json:"from"`
	To                     day.Day     `json:"to" doc:"Included; not before from"`
	Rehearsals             []Rehearsal `json:"rehearsals"`
	Breaks                 []day.Span  `json:"breaks"`
	PracticeMinutesPerWeek float64     `json:"practice_minutes_per_week"`
	VacationShare          float64     `json:"vacation_share" doc:"Share of the habit kept up on break days, 0 to 1"`
	Extra                  []Extra     `json:"extra,omitempty"`
	Logged                 []Log       `json:"logged,omitempty"`
}

// Out is the playing time of a span, in minutes.
type Out struct {
	RehearsalMinutes float64 `json:"rehearsal_minutes"`
	PracticeMinutes  float64 `json:"practice_minutes"`
	TotalMinutes     float64 `json:"total_minutes"`
}

// Minutes is the calculator usage.minutes. Errors name the field by its JSON path.
func Minutes(in In) (Out, error) {
	span := day.Span{From: in.From, To: in.To}
	if in.To < in.From {
		return Out{}, field.Errorf("to", "%s is before from, %s", in.To, in.From)
	}
	if err := CheckSpanLength("to", span); err != nil {
		return Out{}, err
	}
	h, err := NewHabit(in.Rehearsals, in.PracticeMinutesPerWeek, in.VacationShare, DefaultPracticeDays)
	if err != nil {
		return Out{}, err
	}
	if err := CheckBreaks(in.Breaks); err != nil {
		return Out{}, err
	}
	cal := NewCalendar(span, in.Breaks)
	var out Out
	out.RehearsalMinutes, out.PracticeMinutes = h.minutes(cal, span)
	for i, x := range in.Extra {
		path := fmt.Sprintf("extra[%d]", i)
		if err := checkPlaying(path, x.Minutes, x.PlayFactor); err != nil {
			return Out{}, err
		}
		if span.Contains(x.Date) {
			out.RehearsalMinutes += x.Minutes * x.PlayFactor
		}
	}
	logged := map[day.Day]float64{}
	for i, l := range in.Logged {
		if err := checkMinutes(fmt.Sprintf("logged[%d].minutes", i), l.Minutes); err != nil {
			return Out{}, err
		}
		if span.Contains(l.Date) {
			logged[l.Date] += l.Minutes
		}
	}
	for d, m := range logged {
		_, estimate := h.minutes(cal, day.Span{From: d, To: d})
		out.PracticeMinutes += m - estimate
	}
	out.PracticeMinutes = math.Max(0, out.PracticeMinutes)
	out.TotalMinutes = out.RehearsalMinutes + out.PracticeMinutes
	return out, nil
}

// CheckBreaks refuses a break that ends before it begins.
func CheckBreaks(breaks []day.Span) error {
	for i, b := range breaks {
		if err := checkSpan(fmt.Sprintf("breaks[%d]", i), b); err != nil {
			return err
		}
	}
	return nil
}

// CheckSpanLength refuses spans of more than 200 years, which are typing errors and would only fill the memory.
func CheckSpanLength(path string, s day.Span) error {
	if s.Days() > 200*366 {
		return field.Errorf(path, "more than 200 years of days")
	}
	return nil
}

func checkPlaying(path string, minutes, factor float64) error {
	if err := checkMinutes(path+".minutes", minutes); err != nil {
		return err
	}
	return checkShare(path+".play_factor", factor)
}

func checkMinutes(path string, m float64) error {
	if !field.NotNegative(m) {
		return field.Errorf(path, "%v is not a number of minutes; use 0 or more", m)
	}
	return nil
}

func checkShare(path string, v float64) error {
	if !(v >= 0 && v <= 1) {
		return field.Errorf(path, "%v is not a share; use 0 to 1", v)
	}
	return nil
}
