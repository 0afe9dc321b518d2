package school

import (
	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/store/playerrows"
)

// HandedOutDetail is what the log keeps of a hand-out or a return. It holds no name, so that a player can be erased from a log
// that is only added to.
type HandedOutDetail struct {
	PlayerID *uuid.UUID `json:"player_id,omitempty"`
	HandOver *uuid.UUID `json:"hand_over,omitempty"`
	Habit    *Habit     `json:"habit,omitempty" doc:"Of a return: how it was played until then; of a loan: how it is played since"`
	LentFor  *uuid.UUID `json:"lent_for,omitempty" doc:"Of a loan: the return of the instrument instead of which it is lent"`
	Hold     *uuid.UUID `json:"hold,omitempty" doc:"Of a return: what it waits for since"`
	Charge   *uuid.UUID `json:"charge,omitempty" doc:"Of a return: what was charged"`
	Together bool       `json:"together,omitempty" doc:"Of a return: it came back with others, unseen"`
	ClassSet *Habit     `json:"class_set,omitempty" doc:"Of a hand-out from a class set: how it was played there until then"`
}

// PlayerSize is the size that fits a player, and when the next will.
type PlayerSize struct {
	Size      string   `json:"size" doc:"By the chart; the checks with the instrument in hand stand above it"`
	Next      string   `json:"next" doc:"The size after it; empty for the largest"`
	NextOn    *day.Day `json:"next_on,omitempty" doc:"When the player's growth reaches it; left out when that cannot be told"`
	NextFrom  *day.Day `json:"next_from,omitempty" doc:"The earlier end of the band"`
	NextUntil *day.Day `json:"next_until,omitempty" doc:"The later end"`
}

// SizeOf works out the size for a player's kind from the latest measurement, and when the next will fit.
func SizeOf(p playerrows.Player) *PlayerSize {
	kind, ok := fit.ChartOf(p.Kind)
	if !ok {
		return nil
	}
	in := fit.SizeIn{Kind: kind}
	var grown []fit.Measurement
	for _, m := range p.Measurements {
		measure := m.ArmLength
		if fit.MeasureOf(kind) == "height_cm" {
			measure = m.Height
		}
		if measure == nil {
			continue
		}
		in.ArmLengthCM, in.HeightCM = m.ArmLength, m.Height
		grown = append(grown, fit.Measurement{Date: m.MeasuredOn, CM: *measure})
	}
	got, err := fit.Size(in)
	if err != nil { // not measured yet
		return nil
	}
	out := &PlayerSize{Size: got.Size}
	next, from, larger := fit.Next(kind, got.Size)
	if !larger {
		return out
	}
	out.Next = next
	if growth, err := fit.Growth(fit.GrowthIn{Measurements: grown, ThresholdCM: from}); err == nil {
		out.NextOn, out.NextFrom, out.NextUntil = growth.ReachesOn, growth.LowOn, growth.HighOn
	}
	return out
}

// TagsOf lists what a player holds.
func (s *Snapshot) TagsOf(player uuid.UUID) []string {
	tags := []string{}
	for _, i := range s.Instruments {
		if i.Habit != nil && i.Habit.Player != nil && *i.Habit.Player == player {
			tags = append(tags, i.Tag)
		}
	}
	return tags
}

// NameOf names a player; empty where nobody is named or the player was erased.
func (s *Snapshot) NameOf(player *uuid.UUID) string {
	if player == nil || s.Players[*player] == nil {
		return ""
	}
	return s.Players[*player].Name()
}

// Pair is a player and an instrument.
type Pair struct {
	PlayerID     uuid.UUID `json:"player_id"`
	InstrumentID uuid.UUID `json:"instrument_id"`
}
