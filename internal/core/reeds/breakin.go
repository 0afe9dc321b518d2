// Package reeds decides how a new reed is broken in, when it must be opened at the latest, and which reed of a box is played today.
//
// A reed soaks up water slowly; played long at first it warps. It is therefore played a few minutes on each of its first days
// (common practice, no published source: 1, 5, 10, 20 and 30 minutes) and is free on the day after the last. Afterwards
// three or four reeds take turns, so that each dries between two days of playing.
package reeds

import (
	"fmt"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/field"
)

// A Playing is that of one break-in day.
type Playing struct {
	Date    day.Day `json:"date"`
	Minutes float64 `json:"minutes"`
}

// BreakInIn is the input of the calculator reeds.break-in.
type BreakInIn struct {
	Opened         day.Day   `json:"opened"`
	ProgramMinutes []float64 `json:"program_minutes" doc:"Minutes on successive playing days; at least one"`
	RestDays       []day.Day `json:"rest_days,omitempty" doc:"Days without playing"`
}

// BreakInOut is its result.
type BreakInOut struct {
	Days    []Playing `json:"days"`
	ReadyOn day.Day   `json:"ready_on" doc:"From here on the reed is played freely"`
}

// BreakIn is the calculator reeds.break-in: it lays the program on the calendar from the day the reed is opened, skipping rest days.
// A reed opened on a rest day starts on the next day that is none. Errors name the field by its JSON path.
func BreakIn(in BreakInIn) (BreakInOut, error) {
	if err := checkProgram(in.ProgramMinutes); err != nil {
		return BreakInOut{}, err
	}
	rest := setOf(in.RestDays)
	out := BreakInOut{Days: make([]Playing, 0, len(in.ProgramMinutes))}
	d := in.Opened
	for _, minutes := range in.ProgramMinutes {
		for rest[d] {
			d++
		}
		out.Days = append(out.Days, Playing{d, minutes})
		d++
	}
	out.ReadyOn = d
	return out, nil
}

// LatestOpenIn is the input of the calculator reeds.latest-open.
type LatestOpenIn struct {
	NeededOn       day.Day   `json:"needed_on"`
	ProgramMinutes []float64 `json:"program_minutes" doc:"Minutes on successive playing days; at least one"`
	RestDays       []day.Day `json:"rest_days,omitempty" doc:"Days without playing"`
}

// LatestOpenOut is its result.
type LatestOpenOut struct {
	OpenBy day.Day `json:"open_by" doc:"The latest day, itself no rest day, on which a reed may be opened and is free in time"`
}

// LatestOpen is the calculator reeds.latest-open. Errors name the field by its JSON path.
func LatestOpen(in LatestOpenIn) (LatestOpenOut, error) {
	if err := checkProgram(in.ProgramMinutes); err != nil {
		return LatestOpenOut{}, err
	}
	rest := setOf(in.RestDays)
	d := in.NeededOn
	for range in.ProgramMinutes {
		d--
		for rest[d] {
			d--
		}
	}
	return LatestOpenOut{OpenBy: d}, nil
}

// longest is how many days a program may have; more is a typing error.
const longest = 366

func checkProgram(minutes []float64) error {
	switch {
	case len(minutes) == 0:
		return field.Errorf("program_minutes", "a program needs at least one day")
	case len(minutes) > longest:
		return field.Errorf("program_minutes", "%d days are no break-in; use at most %d", len(minutes), longest)
	}
	for i, m := range minutes {
		if !(m > 0 && m <= 24*60) {
			return field.Errorf(fmt.Sprintf("program_minutes[%d]", i), "%v is no playing time; use more than 0, at most 1440", m)
		}
	}
	return nil
}

func setOf(days []day.Day) map[day.Day]bool {
	set := make(map[day.Day]bool, len(days))
	for _, d := range days {
		set[d] = true
	}
	return set
}
