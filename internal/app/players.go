package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/day"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store"
)

// ListedPlayer is a player with what they hold and what fits.
type ListedPlayer struct {
	store.Player
	Name          string      `json:"name"`
	EnsembleNames []string    `json:"ensemble_names"`
	KindName      string      `json:"kind_name"`
	Card          string      `json:"card" doc:"What a scanner types of the player's card"`
	Holds         []Held      `json:"holds"`
	Size          *PlayerSize `json:"size,omitempty" doc:"For a stringed instrument, once the player was measured"`
}

// Held is an instrument in a player's hands.
type Held struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	Kind         string    `json:"kind"`
	Size         string    `json:"size"`
	Stopped      string    `json:"stopped,omitempty"`
}

// PlayerSize is the size that fits a player, and when the next will.
type PlayerSize struct {
	Size      string   `json:"size" doc:"By the chart; the checks with the instrument in hand stand above it"`
	Next      string   `json:"next" doc:"The size after it; empty for the largest"`
	NextOn    *day.Day `json:"next_on,omitempty" doc:"When the player's growth reaches it; left out when that cannot be told"`
	NextFrom  *day.Day `json:"next_from,omitempty" doc:"The earlier end of the band"`
	NextUntil *day.Day `json:"next_until,omitempty" doc:"The later end"`
}

// Players lists the players who are here by name, then those who left. Notes, guardian and measurements are for those who hand
// instruments out; to others they are empty.
func (a *App) Players(ctx context.Context, by Person) ([]ListedPlayer, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	holds := map[uuid.UUID][]Held{}
	for _, i := range s.instruments {
		if i.habit != nil && i.habit.Player != nil {
			holds[*i.habit.Player] = append(holds[*i.habit.Player], Held{i.ID, i.Tag, i.Instrument.Kind, i.Size, i.care.Stopped})
		}
	}
	list := make([]ListedPlayer, len(s.roster))
	all := by.need(MayChangeInstruments) == nil
	for n, p := range s.roster {
		list[n] = ListedPlayer{Player: p, Name: p.Name(), Card: cardOf(p.ID), EnsembleNames: s.ensembleNames(p.Ensembles), Holds: append([]Held{}, holds[p.ID]...), Size: sizeOf(p)}
		if k, ok := a.catalog.Kind(p.Kind); ok {
			list[n].KindName = k.Name
		}
		if !all {
			list[n].Notes, list[n].Guardian, list[n].Measurements = "", "", []store.Measurement{}
		}
	}
	slices.SortStableFunc(list, func(x, y ListedPlayer) int {
		left := func(p ListedPlayer) int {
			if p.LeftOn != nil {
				return 1
			}
			return 0
		}
		return left(x) - left(y)
	})
	return list, nil
}

// sizeOf works out the size for a player's kind from the latest measurement, and when the next will fit.
func sizeOf(p store.Player) *PlayerSize {
	kind, ok := fit.ChartOf(p.Kind)
	if !ok {
		return nil
	}
	in := fit.SizeIn{Kind: kind}
	var grown []fit.Measurement
	for _, m := range p.Measurements {
		measure := m.ArmLength
		if fit.Charts[kind].Measure == "height_cm" {
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

// NewPlayer is a player of whom nothing is known yet but what is usual.
func (a *App) NewPlayer(by Person) (store.Player, error) {
	return store.Player{
		ID: uuid.Must(uuid.NewV7()), PracticeMinutes: usage.DefaultPracticeMinutes, PracticeDays: usage.DefaultPracticeDays, VacationShare: usage.DefaultVacationShare,
		Ensembles: []uuid.UUID{}, Measurements: []store.Measurement{},
	}, by.need(MayChangeInstruments)
}

// SavePlayer adds or changes a player.
func (a *App) SavePlayer(ctx context.Context, by Person, p store.Player) error {
	p.GivenName, p.FamilyName = strings.TrimSpace(p.GivenName), strings.TrimSpace(p.FamilyName)
	if p.GivenName == "" {
		return invalid("given_name", "give the player a name", p.GivenName)
	}
	if _, ok := a.catalog.Kind(p.Kind); !ok && p.Kind != "" {
		return invalid("kind", "is no kind of instrument", p.Kind)
	}
	if err := a.checkStrength(&p); err != nil {
		return invalid("reed_strength", err.Error(), p.ReedStrength)
	}
	_, err := write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (struct{}, error) {
		for n, m := range p.Measurements {
			path := fmt.Sprintf("measurements[%d].measured_on", n)
			if m.MeasuredOn > s.today {
				return struct{}{}, invalid(path, "lies in the future", m.MeasuredOn)
			}
			if slices.ContainsFunc(p.Measurements[:n], func(other store.Measurement) bool { return other.MeasuredOn == m.MeasuredOn }) {
				return struct{}{}, invalid(path, "is measured twice", m.MeasuredOn)
			}
		}
		return struct{}{}, tx.PutPlayer(ctx, p)
	})
	return err
}

// checkStrength refuses a strength that the reeds of a player's kind do not have.
func (a *App) checkStrength(p *store.Player) error {
	if p.ReedStrength == "" {
		return nil
	}
	kind, ok := a.catalog.Kind(p.Kind)
	if !ok {
		return errors.New("goes with an instrument; say which")
	}
	switch {
	case len(kind.Strengths) == 0:
		return errors.New("is left empty for an instrument without reeds")
	case !slices.Contains(kind.Strengths, p.ReedStrength):
		return fmt.Errorf("use one of %s", strings.Join(kind.Strengths, ", "))
	}
	return nil
}

// tagsOf lists what a player holds.
func (s *snapshot) tagsOf(player uuid.UUID) []string {
	tags := []string{}
	for _, i := range s.instruments {
		if i.habit != nil && i.habit.Player != nil && *i.habit.Player == player {
			tags = append(tags, i.Tag)
		}
	}
	return tags
}

// playerOf names the player of a hand-out or a return.
func (s *snapshot) playerOf(e store.Event) (string, error) {
	if e.What != store.HandedOut && e.What != store.Returned && e.What != store.Agreed {
		return "", nil
	}
	var detail HandedOutDetail
	if err := json.Unmarshal(e.Detail, &detail); err != nil {
		return "", fmt.Errorf("reading event %s: %w", e.ID, err)
	}
	return s.nameOf(detail.PlayerID), nil
}

// nameOf names a player; empty where nobody is named or the player was erased.
func (s *snapshot) nameOf(player *uuid.UUID) string {
	if player == nil || s.players[*player] == nil {
		return ""
	}
	return s.players[*player].Name()
}

// ErasePlayer forgets a player who left and has given everything back. What their instruments went through stays, without the name.
func (a *App) ErasePlayer(ctx context.Context, by Person, id uuid.UUID) error {
	_, err := write(ctx, a, by, MayChangeInstruments, func(tx *store.Tx, s *snapshot) (struct{}, error) {
		p := s.players[id]
		switch {
		case p == nil:
			return struct{}{}, store.ErrNotFound
		case p.LeftOn == nil:
			return struct{}{}, &Fault{Kind: Conflict, Message: p.Name() + " is still here. Only who has left is erased."}
		}
		if tags := s.tagsOf(id); len(tags) > 0 {
			return struct{}{}, &Fault{Kind: Conflict, Message: fmt.Sprintf("%s still has %s. Take it back first.", p.Name(), strings.Join(tags, ", "))}
		}
		return struct{}{}, tx.ErasePlayer(ctx, id, p.Version)
	})
	return err
}
