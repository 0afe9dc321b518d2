package demo

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/core/catalog"
)

// trouble is what was found at an inspection.
type trouble struct {
	daysAgo  int
	tag      string
	found    map[string]inspection.Found // by point of the inspection
	measured map[string]string
}

// troubles are the things that have gone wrong at Quillhaven this autumn.
var troubles = []trouble{
	{
		12,
		"TU-02",
		map[string]inspection.Found{
			"leadpipe": {Code: "red-spots", Note: "Three spots on the inside of the first bend."},
			"slides":   {Code: "slide-scratchy"},
		},
		nil,
	},
	{
		6,
		"CL-05",
		map[string]inspection.Found{
			"case":  {Code: "mould", Note: "Came back from the holidays shut and damp."},
			"reeds": {Code: "reed-worn"},
		},
		nil,
	},
	{3, "TR-04", map[string]inspection.Found{"valves": {Code: "slow-valve", Note: "Second valve."}}, nil},
	{
		2,
		"VN-03",
		map[string]inspection.Found{"bridge": {Code: "bridge-leans"}},
		map[string]string{"height-treble": "4.4 mm", "height-bass": "5.5 mm"},
	},
	{2, "FL-08", nil, map[string]string{"tuning-cork": "2 mm"}},
	{1, "VA-07", map[string]inspection.Found{"seams": {Code: "open-seam", Note: "Lower bout, bass side, about four centimetres."}}, nil},
	{1, "TB-03", map[string]inspection.Found{"hand-slide": {Code: "hand-slide-drag", Note: "Fell off the chair."}}, nil},
	{0, "VB-01", map[string]inspection.Found{"damper": {Code: "damper-grooved"}, "bars": {Code: "bar-dead", Note: "High F sharp."}}, nil},
}

// goneWrong walks along the instruments that have trouble, on the days when it was found.
func (s *seeder) goneWrong(ctx context.Context, at func(daysAgo int) time.Time) error {
	ids, err := s.ids(ctx)
	if err != nil {
		return err
	}
	for _, t := range troubles {
		if err := s.inspect(ctx, ids[t.tag], t, at(t.daysAgo)); err != nil {
			return fmt.Errorf("%s: %w", t.tag, err)
		}
	}
	at(0)
	return nil
}

// ids are the instruments by their tags.
func (s *seeder) ids(ctx context.Context) (map[string]uuid.UUID, error) {
	list, err := s.app.Inventory.Instruments(ctx, s.director)
	ids := map[string]uuid.UUID{}
	for _, i := range list {
		ids[i.Tag] = i.ID
	}
	return ids, err
}

func (s *seeder) inspect(ctx context.Context, id uuid.UUID, t trouble, now time.Time) error {
	sheet, err := s.app.Inspection.Sheet(ctx, s.director, id)
	if err != nil {
		return err
	}
	in := inspection.Walk{ID: uuid.Must(uuid.NewV7()), Edition: sheet.Edition, BeganAt: now}
	kind, _ := catalog.Embedded().Kind(sheet.Instrument.Kind)
	for _, p := range catalog.Embedded().Inspection(kind).Points {
		answer := inspection.PointAnswer{Point: p.Key, Findings: []inspection.Found{}, Measured: t.measured[p.Key]}
		if f, ok := t.found[p.Key]; ok {
			answer.Findings = append(answer.Findings, f)
		}
		in.Answers = append(in.Answers, answer)
	}
	_, err = s.app.Inspection.Inspect(ctx, s.director, id, in)
	return err
}
