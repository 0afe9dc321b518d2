package roster

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store"
	"solfeggio/internal/store/playerrows"
)

// ListedPlayer is a player with what they hold and what fits.
type ListedPlayer struct {
	playerrows.Player
	Name          string             `json:"name"`
	EnsembleNames []string           `json:"ensemble_names"`
	KindName      string             `json:"kind_name"`
	Card          string             `json:"card" doc:"What a scanner types of the player's card"`
	Holds         []Held             `json:"holds"`
	Size          *school.PlayerSize `json:"size,omitempty" doc:"For a stringed instrument, once the player was measured"`
}

// Held is an instrument in a player's hands.
type Held struct {
	InstrumentID uuid.UUID `json:"instrument_id"`
	Tag          string    `json:"tag"`
	Kind         string    `json:"kind"`
	Size         string    `json:"size"`
	Stopped      string    `json:"stopped,omitempty"`
}

// Players lists the players who are here by name, then those who left. Notes, guardian and measurements are for those who hand
// instruments out; to others they are empty.
func (r *Room) Players(ctx context.Context, by journal.Person) ([]ListedPlayer, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	holds := map[uuid.UUID][]Held{}
	for _, i := range s.Instruments {
		if i.Habit != nil && i.Habit.Player != nil {
			holds[*i.Habit.Player] = append(holds[*i.Habit.Player], Held{i.ID, i.Tag, i.Instrument.Kind, i.Size, i.Care.Stopped})
		}
	}
	list := make([]ListedPlayer, len(s.Roster))
	all := by.Need(journal.MayChangeInstruments) == nil
	for n, p := range s.Roster {
		list[n] = ListedPlayer{
			Player:        p,
			Name:          p.Name(),
			Card:          CardOf(p.ID),
			EnsembleNames: s.EnsembleNames(p.Ensembles),
			Holds:         append([]Held{}, holds[p.ID]...),
			Size:          school.SizeOf(p),
		}
		if k, ok := r.schools.Catalog.Kind(p.Kind); ok {
			list[n].KindName = k.Name
		}
		if !all {
			list[n].Notes, list[n].Guardian, list[n].Measurements = "", "", []playerrows.Measurement{}
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

// NewPlayer is a player of whom nothing is known yet but what is usual.
func (r *Room) NewPlayer(by journal.Person) (playerrows.Player, error) {
	return playerrows.Player{
		ID: uuid.Must(
			uuid.NewV7(),
		), PracticeMinutes: usage.DefaultPracticeMinutes, PracticeDays: usage.DefaultPracticeDays, VacationShare: usage.DefaultVacationShare,
		Ensembles: []uuid.UUID{}, Measurements: []playerrows.Measurement{},
	}, by.Need(journal.MayChangeInstruments)
}

// SavePlayer adds or changes a player.
func (r *Room) SavePlayer(ctx context.Context, by journal.Person, p playerrows.Player) error {
	p.GivenName, p.FamilyName = strings.TrimSpace(p.GivenName), strings.TrimSpace(p.FamilyName)
	if p.GivenName == "" {
		return journal.Refuse("given_name", "give the player a name", p.GivenName)
	}
	if _, ok := r.schools.Catalog.Kind(p.Kind); !ok && p.Kind != "" {
		return journal.Refuse("kind", "is no kind of instrument", p.Kind)
	}
	if err := r.checkStrength(&p); err != nil {
		return journal.Refuse("reed_strength", err.Error(), p.ReedStrength)
	}
	_, err := school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (struct{}, error) {
		for n, m := range p.Measurements {
			path := fmt.Sprintf("measurements[%d].measured_on", n)
			if m.MeasuredOn > s.Today {
				return struct{}{}, journal.Refuse(path, "lies in the future", m.MeasuredOn)
			}
			if slices.ContainsFunc(p.Measurements[:n], func(other playerrows.Measurement) bool { return other.MeasuredOn == m.MeasuredOn }) {
				return struct{}{}, journal.Refuse(path, "is measured twice", m.MeasuredOn)
			}
		}
		return struct{}{}, playerrows.PutPlayer(ctx, tx, p)
	})
	return err
}

// checkStrength refuses a strength that the reeds of a player's kind do not have.
func (r *Room) checkStrength(p *playerrows.Player) error {
	if p.ReedStrength == "" {
		return nil
	}
	kind, ok := r.schools.Catalog.Kind(p.Kind)
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

// PlayerData writes all that is kept of a player, for whoever has the right to ask for it.
func (r *Room) PlayerData(ctx context.Context, by journal.Person, id uuid.UUID) ([]byte, error) {
	if err := by.Need(journal.MayChangeInstruments); err != nil {
		return nil, err
	}
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	if s.Players[id] == nil {
		return nil, journal.InPlainWords(store.ErrNotFound)
	}
	var all map[string]json.RawMessage
	if err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		all, err = playerrows.PlayerData(ctx, tx, id)
		return err
	}); err != nil {
		return nil, journal.InPlainWords(err)
	}
	return json.MarshalIndent(all, "", "  ")
}
