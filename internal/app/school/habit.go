package school

import (
	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store/instrumentrows"
)

// HabitOf is the habit of an assignment.
func HabitOf(at *instrumentrows.Assignment) Habit {
	return Habit{
		append([]uuid.UUID{}, at.Ensembles...),
		at.PracticeMinutes,
		at.PracticeDaysPerWeek,
		at.VacationShare,
		at.HeavySweat,
		at.Players,
		at.Player,
	}
}

// Assignment is a stretch of it on an instrument from a day on.
func (h Habit) Assignment(id, instrument uuid.UUID, from day.Day) instrumentrows.Assignment {
	return instrumentrows.Assignment{
		ID: id, Instrument: instrument, StartsOn: from, Ensembles: h.Ensembles, PracticeMinutes: h.PracticeMinutes,
		PracticeDaysPerWeek: h.PracticeDays,
		VacationShare:       h.VacationShare, HeavySweat: h.HeavySweat, Players: h.Players, Player: h.PlayerID,
	}
}

// UsualHabit is the product's guess for an instrument of which nothing else is known.
func UsualHabit() Habit {
	return Habit{Ensembles: []uuid.UUID{}, PracticeDays: usage.DefaultPracticeDays, VacationShare: usage.DefaultVacationShare, Players: 1}
}

// Habit is how an instrument is played until players are kept.
type Habit struct {
	Ensembles       []uuid.UUID `json:"ensembles"`
	PracticeMinutes float64     `json:"practice_minutes_per_week" minimum:"0" maximum:"10080"`
	PracticeDays    float64     `json:"practice_days_per_week" minimum:"0" maximum:"7"`
	VacationShare   float64     `json:"vacation_share" minimum:"0" maximum:"1"`
	HeavySweat      bool        `json:"heavy_sweat"`
	Players         int         `json:"players" minimum:"1" maximum:"99" doc:"How many share it"`
	PlayerID        *uuid.UUID  `json:"player_id,omitempty" doc:"Who holds it; left out while nobody is named"`
}
