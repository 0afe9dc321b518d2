package usage

import (
	"fmt"
	"math"
	"sort"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
)

// A Habit is how an instrument is played while one holder has it: rehearsals by weekday, practice by the week.
// Make one with NewHabit; the zero Habit is an instrument that nobody plays.
type Habit struct {
	rehearsal     [8]float64 // playing minutes by weekday, 1…7
	rehearses     [8]bool
	practice      float64 // minutes a week
	vacationShare float64
	practiceDays  float64 // sessions a week
}

// NewHabit checks the figures and adds up the week. Errors name the fields as the calculators do.
func NewHabit(rehearsals []Rehearsal, practiceMinutesPerWeek, vacationShare, practiceDaysPerWeek float64) (Habit, error) {
	var h Habit
	for i, r := range rehearsals {
		path := fmt.Sprintf("rehearsals[%d]", i)
		if r.Weekday < 1 || r.Weekday > 7 {
			return Habit{}, field.Errorf(path+".weekday", "%d is no weekday; Monday is 1 and Sunday 7", r.Weekday)
		}
		if err := checkPlaying(path, r.Minutes, r.PlayFactor); err != nil {
			return Habit{}, err
		}
		h.rehearsal[r.Weekday] += r.Minutes * r.PlayFactor
		h.rehearses[r.Weekday] = true
	}
	if err := checkMinutes("practice_minutes_per_week", practiceMinutesPerWeek); err != nil {
		return Habit{}, err
	}
	if err := checkShare("vacation_share", vacationShare); err != nil {
		return Habit{}, err
	}
	if !(practiceDaysPerWeek >= 0 && practiceDaysPerWeek <= 7) {
		return Habit{}, field.Errorf("practice_days_per_week", "%v is not a number of days in a week; use 0 to 7", practiceDaysPerWeek)
	}
	h.practice, h.vacationShare, h.practiceDays = practiceMinutesPerWeek, vacationShare, practiceDaysPerWeek
	return h, nil
}

func (h *Habit) minutes(cal *Calendar, span day.Span) (rehearsal, practice float64) {
	lo, hi, days := cal.between(span)
	for w := 1; w <= 7; w++ {
		rehearsal += float64(hi[w]-lo[w]) * h.rehearsal[w]
	}
	open := float64(hi[0] - lo[0])
	practice = h.practice / 7 * (open + h.vacationShare*(float64(days)-open))
	return rehearsal, practice
}

// sessions returns the days with a rehearsal and, not yet rounded, the practice sessions.
func (h *Habit) sessions(cal *Calendar, span day.Span) (rehearsed int, practised float64) {
	lo, hi, _ := cal.between(span)
	for w := 1; w <= 7; w++ {
		if h.rehearses[w] {
			rehearsed += int(hi[w] - lo[w])
		}
	}
	return rehearsed, h.practiceDays * float64(hi[0]-lo[0]) / 7
}

// A Stretch is a Habit over a span of days.
type Stretch struct {
	Span  day.Span
	Habit Habit
}

// A Playing is the playing of one instrument over time: what has been, and the present habit carried on into the
// projected timetable. Stretches do not overlap. It is read-only once made.
type Playing struct {
	cal       *Calendar
	stretches []Stretch
	extra     []extra // by date; minutes are cumulative
}

type extra struct {
	on    day.Day
	total float64
}

// NewPlaying lays stretches over the school's calendar. Extras count for the instrument whoever holds it.
func NewPlaying(cal *Calendar, stretches []Stretch, extras []Extra) *Playing {
	p := &Playing{cal: cal, stretches: stretches}
	for _, x := range extras {
		p.extra = append(p.extra, extra{x.Date, x.Minutes * x.PlayFactor})
	}
	sort.SliceStable(p.extra, func(i, j int) bool { return p.extra[i].on < p.extra[j].on })
	for i := 1; i < len(p.extra); i++ {
		p.extra[i].total += p.extra[i-1].total
	}
	return p
}

// An Amount is what has been played over a span.
type Amount struct {
	Hours    float64
	Sessions int
}

// Over adds up the playing of a span.
func (p *Playing) Over(span day.Span) Amount {
	var minutes, practised float64
	var rehearsed int
	for i := range p.stretches {
		s := &p.stretches[i]
		in := span.Clip(s.Span)
		if in.Days() == 0 {
			continue
		}
		a, b := s.Habit.minutes(p.cal, in)
		minutes += a + b
		n, x := s.Habit.sessions(p.cal, in)
		rehearsed += n
		practised += x
	}
	if len(p.extra) > 0 {
		minutes += p.extrasUpTo(span.To) - p.extrasUpTo(span.From-1)
	}
	return Amount{Hours: minutes / 60, Sessions: rehearsed + int(math.Floor(practised+Tolerance))}
}

func (p *Playing) extrasUpTo(d day.Day) float64 {
	i := sort.Search(len(p.extra), func(i int) bool { return p.extra[i].on > d })
	if i == 0 {
		return 0
	}
	return p.extra[i-1].total
}
