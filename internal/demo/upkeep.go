package demo

import (
	"context"
	"math"
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/app/preparing"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store/upkeeprows"
)

// Invented strings, and how long they last here: days after which two of three are worn, and how much alike they are in that.
var stringProducts = []struct {
	name, tension string
	scale, shape  float64
}{
	{"Heronbill", "medium", 240, 2.4},
	{"Saltgrass", "soft", 175, 2.0},
}

// wornCauses are how strings end at Quillhaven, the commonest more than once.
var wornCauses = []string{"dull", "dull", "unravelled", "rosin-thick", "snapped-tuning", "snapped-playing", "rusty", "unsettled"}

// putOff says for which renewals nobody has found the time: the violas' strings since the spring, the hair of two cheap bows since last
// winter.
func putOff(tag, part string, daysAgo int) bool {
	switch {
	case strings.HasPrefix(part, "string-"):
		return daysAgo < 200 && strings.HasPrefix(tag, "VA-")
	case part == "bow-hair":
		return daysAgo < 300 && cheapBows[tag]
	}
	return false
}

// cheapBows came with their instruments and are worth little.
var cheapBows = map[string]bool{"VN-09": true, "VN-12": true}

// renew puts something new on when it was due: the old one was still sound.
func (s *seeder) renew(ctx context.Context, t school.Task, daysAgo int) error {
	in := upkeep.Renewed{Part: t.Part}
	if strings.HasPrefix(t.Part, "string-") {
		in.Cause = "over-age"
		if s.fate.IntN(4) == 0 {
			in.Cause = wornCauses[s.fate.IntN(4)]
		}
	}
	return s.putOn(ctx, t.InstrumentID, in, daysAgo)
}

// wornOut renews what came to its end before it was due.
func (s *seeder) wornOut(ctx context.Context, daysAgo int) error {
	if s.tags == nil {
		ids, err := s.ids(ctx)
		if err != nil {
			return err
		}
		s.tags = map[string]string{}
		for tag, id := range ids {
			s.tags[id.String()] = tag
		}
	}
	on := s.today - day.Day(daysAgo)
	worn := []string{}
	for key, fails := range s.fails {
		if fails <= on {
			worn = append(worn, key)
		}
	}
	slices.Sort(worn)
	for _, key := range worn {
		id, part, _ := strings.Cut(key, " ")
		if putOff(s.tags[id], part, daysAgo) {
			continue
		}
		delete(s.fails, key)
		worn := upkeep.Renewed{Part: part, Cause: wornCauses[s.fate.IntN(len(wornCauses))]}
		if err := s.putOn(ctx, uuid.MustParse(id), worn, daysAgo); err != nil {
			return err
		}
	}
	return nil
}

// putOn puts something new on and decides its fate.
func (s *seeder) putOn(ctx context.Context, id uuid.UUID, in upkeep.Renewed, daysAgo int) error {
	if strings.HasPrefix(in.Part, "string-") {
		p := stringProducts[s.fate.IntN(len(stringProducts))]
		in.Product, in.Tension, in.EndKind = p.name, p.tension, "ball"
		lasts := p.scale * math.Pow(-math.Log(1-s.fate.Float64()), 1/p.shape)
		s.fails[id.String()+" "+in.Part] = s.today - day.Day(daysAgo) + day.Day(lasts)
	}
	_, err := s.app.Upkeep.Renew(ctx, s.director, id, in)
	return err
}

// reedless are the clarinets in whose boxes lies no reed for the winter concert.
var reedless = map[string]bool{"CL-02": true, "CL-06": true, "CL-08": true, "CL-09": true}

// boxes are how long ago the reeds in a box were opened, from box to box.
var boxes = [][]int{{12, 9, 8}, {14, 11, 3}, {10, 9, 12, 1}, {13, 9}, {9, 16, 4}, {2}}

// upkeep says what bows are worth, fills the boxes of reeds, and plans the strings of one viola.
func (s *seeder) upkeep(ctx context.Context) error {
	ids, err := s.ids(ctx)
	if err != nil {
		return err
	}
	bows, err := s.app.Upkeep.Bows(ctx, s.director)
	if err != nil {
		return err
	}
	for n, b := range bows.Bows {
		value := int64(28_000 - 4_000*(n%5))
		if cheapBows[b.Tag] {
			value = 3_500
		}
		if n%4 == 3 && !cheapBows[b.Tag] {
			continue // nobody said yet
		}
		if err := s.app.Upkeep.SetWorth(ctx, s.director, b.InstrumentID, upkeep.Worth{ValueCents: &value}); err != nil {
			return err
		}
	}
	reeds, err := s.app.Upkeep.Boxes(ctx, s.director)
	if err != nil {
		return err
	}
	n := 0
	for _, sec := range reeds.Sections {
		for _, c := range sec.Chairs {
			ago := boxes[n%len(boxes)]
			n++
			if reedless[c.Tag] {
				ago = []int{33, 36}
			}
			for _, days := range ago {
				on := s.today - day.Day(days)
				reed := upkeep.Opening{ID: uuid.Must(uuid.NewV7()), PlayerID: c.PlayerID, OpenedOn: &on}
				if _, err := s.app.Upkeep.Open(ctx, s.director, reed); err != nil {
					return err
				}
			}
		}
	}
	viola, _ := catalog.Embedded().Kind("viola")
	plan := preparing.StringPlan{}
	on := s.today
	for _, part := range viola.Parts[:4] {
		for on.Weekday() > 5 {
			on++
		}
		plan.Changes = append(plan.Changes, upkeeprows.PlannedChange{Instrument: ids["VA-03"], Part: part.Key, On: on})
		on++
	}
	return s.app.Preparing.Accept(ctx, s.director, plan)
}
