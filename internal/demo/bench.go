package demo

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/supplyrows"
)

// products are what Quillhaven disinfects with: invented, and so are their labels.
var products = []benchrows.Product{
	{
		Name:           "Brightwater 70",
		MadeOf:         []string{"alcohol"},
		StrengthPct:    new(70.),
		ContactMinutes: 1,
		RegisteredUse:  "Bacteria and enveloped viruses on hard surfaces",
		Surfaces:       []string{"reed-mouthpiece", "metal-mouthpiece", "body-outside", "bore", "lip-plate", "metal-frame"},
		Hazards:        "Burns; vapour makes dizzy; fresh air, no flame",
		SafetySheet:    "Red folder, page 3",
		Supply:         "alcohol-70",
	},
	{
		Name:           "Stillwater case spray",
		MadeOf:         []string{"quaternary-ammonium"},
		ContactMinutes: 5,
		RegisteredUse:  "Bacteria and viruses on hard surfaces and lining",
		Surfaces:       []string{"case-outside", "case-lining"},
		Hazards:        "Irritates eyes and skin; gloves",
		SafetySheet:    "Red folder, page 5",
		Supply:         "case-spray",
	},
	{
		Name:           "Calm Case Wipes",
		MadeOf:         []string{"alcohol", "quaternary-ammonium"},
		ContactMinutes: 4,
		RegisteredUse:  "Bacteria and viruses on hard surfaces",
		Surfaces:       []string{"case-outside"},
		Hazards:        "Irritates eyes; gloves",
		SafetySheet:    "Red folder, page 6",
		Supply:         "wipes",
	},
}

// cameBackToday are instruments of players who moved away; they wait for the bench.
var cameBackToday = []string{"CL-14", "CL-22", "FL-06", "OB-02", "SX-05", "HN-03", "VN-15"}

// wereIll are instruments whose players came back from an illness; they were on the bench.
var wereIll = []string{"FL-05", "CL-07"}

// bench is the cupboard of the bench, a run of last week, and what waits today.
func (s *seeder) bench(ctx context.Context, now time.Time) error {
	ids, err := s.ids(ctx)
	if err != nil {
		return err
	}
	for _, p := range products {
		p.ID = uuid.Must(uuid.NewV7())
		if err := s.app.Products.SaveProduct(ctx, s.director, p); err != nil {
			return fmt.Errorf("%s: %w", p.Name, err)
		}
	}
	later := s.today + 500
	behind := supply.Count{
		Stocked:   supplyrows.Stocked{Supply: "case-spray"},
		Quantity:  3,
		Lot:       "Q-2208",
		ExpiresOn: &later,
	} // one more bottle than there was
	if _, err := s.app.Supply.CountStock(ctx, s.director, behind); err != nil {
		return err
	}
	if err := s.app.Products.SaveVessel(ctx, s.director,
		hygiene.Vessel{InnerDiameterMM: 110, CorkHeightMM: 62, MouthpieceVolumeML: 14, AtOnce: 4}); err != nil {
		return err
	}
	*s.clock = now.AddDate(0, 0, -5)
	if err := s.disinfect(ctx, ids); err != nil {
		return err
	}
	*s.clock = now.AddDate(0, 0, -1)
	for _, tag := range cameBackToday {
		if err := s.movedAway(ctx, ids[tag]); err != nil {
			return fmt.Errorf("%s: %w", tag, err)
		}
	}
	*s.clock = now
	return nil
}

// disinfect runs a batch from the first glove to the last swab, waiting as long as the labels say.
func (s *seeder) disinfect(ctx context.Context, ids map[string]uuid.UUID) error {
	in := bench.Benching{People: 2}
	for _, tag := range wereIll {
		in.Instruments = append(in.Instruments, bench.OnBench{InstrumentID: ids[tag], Reason: catalog.Illness})
	}
	begun, err := s.app.Bench.Begin(ctx, s.director, in)
	if err != nil {
		return err
	}
	run, err := s.app.Bench.Run(ctx, s.director, begun.ID)
	if err != nil {
		return err
	}
	for _, item := range run.Items {
		for _, step := range item.Steps {
			*s.clock = s.clock.Add(time.Duration(step.Active) * time.Minute)
			tick := bench.Tick{InstrumentID: item.InstrumentID, N: step.N, Do: "begin"}
			if _, err := s.app.Bench.Tick(ctx, s.director, run.ID, tick); err != nil {
				return fmt.Errorf("%s, %s: %w", item.Tag, step.Name, err)
			}
			if step.Wait == 0 {
				continue
			}
			*s.clock = s.clock.Add(time.Duration(step.Wait)*time.Minute + 20*time.Second)
			tick.Do = "done"
			if _, err := s.app.Bench.Tick(ctx, s.director, run.ID, tick); err != nil {
				return fmt.Errorf("%s, %s: %w", item.Tag, step.Name, err)
			}
		}
	}
	return nil
}

// movedAway takes an instrument back from a player who left the school.
func (s *seeder) movedAway(ctx context.Context, id uuid.UUID) error {
	f, err := s.app.Inventory.File(ctx, s.director, id)
	if err != nil || f.Listed.Holder == "" {
		return err
	}
	if _, err := s.app.Lending.Return(ctx, s.director, id, lending.Returning{}); err != nil {
		return err
	}
	players, err := s.app.Roster.Players(ctx, s.director)
	if err != nil {
		return err
	}
	for _, p := range players {
		if p.Name == f.Listed.Holder && len(p.Holds) == 0 {
			left := p.Player
			left.LeftOn = new(s.today - 1)
			return s.app.Roster.SavePlayer(ctx, s.director, left)
		}
	}
	return nil
}
