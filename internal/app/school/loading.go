package school

import (
	"cmp"
	"context"
	"maps"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/letterrows"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/seasonrows"
	"solfeggio/internal/store/shoprows"
	"solfeggio/internal/store/supplyrows"
	"solfeggio/internal/store/upkeeprows"
)

// fewTouched is up to how many instruments and players are read anew one by one; with more, all are.
const fewTouched = 200

// caughtUp is the school at a revision, 0 for the one that the transaction sees. What was known before is kept as far as no write
// since has touched it.
func (all *Schools) caughtUp(ctx context.Context, tx *store.Tx, known *Snapshot, revision int64) (*Snapshot, error) {
	if known == nil || !all.holds(known) {
		return all.load(ctx, tx, revision)
	}
	school, err := schoolrows.GetSchool(ctx, tx)
	if err != nil {
		return nil, err
	}
	if revision != 0 {
		school.Revision = revision
	}
	if known.School.Revision >= school.Revision {
		return known, nil
	}
	touched, err := schoolrows.TouchedSince(ctx, tx, known.School.Revision, school.Revision)
	if err != nil {
		return nil, err
	}
	if touched.Whole || len(touched.Instruments)+len(touched.Players) > fewTouched {
		return all.load(ctx, tx, revision)
	}
	s := *known
	s.School = school
	if len(touched.Instruments)+len(touched.Players) == 0 {
		return &s, nil
	}
	s.worklist = known.worklist.after(touched.Instruments)
	if len(touched.Players) > 0 {
		if err := s.meet(ctx, tx, touched.Players); err != nil {
			return nil, err
		}
	}
	if len(touched.Instruments) > 0 {
		s.ByID, s.Gone, s.Reader = maps.Clone(s.ByID), maps.Clone(s.Gone), all.reader(&s)
		var r records
		if err := r.read(ctx, tx, all.Now(), touched.Instruments...); err != nil {
			return nil, err
		}
		for _, id := range touched.Instruments {
			delete(s.ByID, id)
			delete(s.Gone, id)
		}
		if err := all.place(&s, &r); err != nil {
			return nil, err
		}
	}
	return &s, nil
}

// meet reads players anew. Instruments in their hands know what reeds they play.
func (s *Snapshot) meet(ctx context.Context, tx *store.Tx, players []uuid.UUID) error {
	fresh, err := playerrows.Players(ctx, tx, players...)
	if err != nil {
		return err
	}
	others := slices.DeleteFunc(slices.Clone(s.Roster), func(p playerrows.Player) bool { return slices.Contains(players, p.ID) })
	s.enrol(append(others, fresh...))
	reeds, err := upkeeprows.Reeds(ctx, tx, players...)
	if err != nil {
		return err
	}
	s.Reeds = maps.Clone(s.Reeds)
	for _, id := range players {
		delete(s.Reeds, id)
	}
	s.fillBoxes(reeds)
	byID, instruments := maps.Clone(s.ByID), slices.Clone(s.Instruments)
	for n, i := range s.Instruments {
		if i.Habit == nil || i.Habit.Player == nil || !slices.Contains(players, *i.Habit.Player) {
			continue
		}
		again := *i
		if again.Reeds = ""; s.Players[*i.Habit.Player] != nil {
			again.Reeds = s.Players[*i.Habit.Player].ReedStrength
		}
		byID[i.ID], instruments[n] = &again, &again
	}
	s.ByID, s.Instruments = byID, instruments
	s.partInto()
	return nil
}

// fillBoxes puts reeds into their players' boxes.
func (s *Snapshot) fillBoxes(reeds []upkeeprows.Reed) {
	for _, r := range reeds {
		s.Reeds[r.Player] = append(s.Reeds[r.Player], r)
	}
}

// enrol sets the roster, by name.
func (s *Snapshot) enrol(roster []playerrows.Player) {
	slices.SortFunc(roster, func(x, y playerrows.Player) int {
		return cmp.Or(
			strings.Compare(x.FamilyName, y.FamilyName),
			strings.Compare(x.GivenName, y.GivenName),
			slices.Compare(x.ID[:], y.ID[:]),
		)
	})
	s.Roster, s.Players = roster, make(map[uuid.UUID]*playerrows.Player, len(roster))
	for n := range roster {
		s.Players[roster[n].ID] = &roster[n]
	}
}

// load reads the school and all its clocks, at a revision, 0 for the one that the transaction sees.
func (all *Schools) load(ctx context.Context, tx *store.Tx, revision int64) (*Snapshot, error) {
	s := &Snapshot{
		ByID:     map[uuid.UUID]*Instrument{},
		Gone:     map[uuid.UUID]*Instrument{},
		Wordings: map[string]letterrows.Letter{},
		Reeds:    map[uuid.UUID][]upkeeprows.Reed{},
		worklist: &worklist{},
	}
	var err error
	if s.School, err = schoolrows.GetSchool(ctx, tx); err != nil {
		return nil, err
	}
	if revision != 0 {
		s.School.Revision = revision
	}
	if s.Terms, err = schoolrows.Periods(ctx, tx, schoolrows.Terms); err != nil {
		return nil, err
	}
	if s.Breaks, err = schoolrows.Periods(ctx, tx, schoolrows.Breaks); err != nil {
		return nil, err
	}
	if s.Ensembles, err = schoolrows.Ensembles(ctx, tx); err != nil {
		return nil, err
	}
	if s.Concerts, err = schoolrows.Concerts(ctx, tx); err != nil {
		return nil, err
	}
	if s.Choices, err = schoolrows.SchoolChoices(ctx, tx); err != nil {
		return nil, err
	}
	if s.Moved, err = supplyrows.KitTiers(ctx, tx); err != nil {
		return nil, err
	}
	if s.Shelves, err = instrumentrows.Shelves(ctx, tx); err != nil {
		return nil, err
	}
	if s.RentalPrices, err = instrumentrows.RentalPrices(ctx, tx); err != nil {
		return nil, err
	}
	letters, err := letterrows.Letters(ctx, tx)
	if err != nil {
		return nil, err
	}
	for _, l := range letters {
		s.Wordings[l.Key] = l
	}
	roster, err := playerrows.Players(ctx, tx)
	if err != nil {
		return nil, err
	}
	s.enrol(roster)
	reeds, err := upkeeprows.Reeds(ctx, tx)
	if err != nil {
		return nil, err
	}
	s.fillBoxes(reeds)
	if s.BreakIns, err = upkeeprows.BreakIns(ctx, tx); err != nil {
		return nil, err
	}
	if s.Learned, err = upkeeprows.LearnedIntervals(ctx, tx); err != nil {
		return nil, err
	}
	if s.Shops, err = shoprows.Shops(ctx, tx); err != nil {
		return nil, err
	}
	s.Today, s.Zone = all.Today(s.School), all.Zone(s.School)
	if s.Trips, err = shoprows.Trips(ctx, tx, s.Today); err != nil {
		return nil, err
	}
	if s.Season, err = seasonrows.SeasonPieces(ctx, tx); err != nil {
		return nil, err
	}
	if set, ok, err := seasonrows.GetSeasonSettings(ctx, tx); err != nil {
		return nil, err
	} else if ok {
		s.SeasonSet = &set
	}
	s.Choices = all.Catalog.Choose(s.Choices)
	span := day.Span{From: s.Today.AddYears(-yearsBack), To: s.Today.AddYears(yearsAhead)}
	s.Calendar = usage.NewCalendar(span, breakSpans(span, s.Terms, s.Breaks))
	if s.heating, err = HeatingOf(s.School); err != nil {
		return nil, err
	}
	s.Reader = all.reader(s)
	var r records
	if err := r.read(ctx, tx, all.Now()); err != nil {
		return nil, err
	}
	return s, all.place(s, &r)
}

// reader reads the clocks of a school. It is used for one loading.
func (all *Schools) reader(s *Snapshot) *clocks.Reader {
	learned := map[clocks.LearnedKey]clocks.Learned{}
	for _, l := range s.Learned {
		learned[clocks.LearnedKey{Kind: l.Kind, Routine: l.Routine}] = clocks.Learned{Days: l.Days, Observations: l.Observations}
	}
	return clocks.NewReader(all.Catalog, clocks.Settings{
		TrackAll: s.School.PlayerCare == "tracked", Heating: s.heating, Learned: learned,
		Thresholds: care.Thresholds{OpensAt: s.School.OpensAt, LateAt: s.School.LateAt}, Weights: weightsOf(s.School),
	}, s.Today)
}
