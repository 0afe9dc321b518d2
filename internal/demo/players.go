package demo

import (
	"context"
	"fmt"
	"slices"
	"strconv"

	"github.com/google/uuid"

	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/store/playerrows"
)

// Invented names. Together they make more pairs than there are players, each used once.
var (
	givenNames = []string{
		"Ode",
		"Ilse",
		"Bram",
		"Tiva",
		"Jory",
		"Maro",
		"Senna",
		"Pim",
		"Odo",
		"Lark",
		"Anouk",
		"Fen",
		"Runa",
		"Teo",
		"Wilke",
		"Sabe",
		"Noor",
		"Kit",
		"Ysolde",
		"Emre",
		"Vida",
	}
	familyNames = []string{
		"Marchetti",
		"Quandt",
		"Osei",
		"Lorne",
		"Tamm",
		"Arrowby",
		"Velde",
		"Castellane",
		"Brisk",
		"Ferrow",
		"Hollin",
		"Iskander",
		"Moorgate",
		"Penhale",
		"Rask",
		"Sorley",
		"Tindall",
	}
)

// beginners wait for an instrument since this week.
var beginners = []struct {
	kind, ensemble string
	centimetres    float64
}{
	{"violin", beginnerStrings, 57.5}, {"violin", beginnerStrings, 52}, {"viola", beginnerStrings, 67.5}, {"cello", beginnerStrings, 153},
	{"clarinet-b-flat", beginnerWinds, 0}, {"clarinet-b-flat", beginnerWinds, 0}, {"trumpet", beginnerWinds, 0}, {"tuba", beginnerWinds, 0},
}

// players lets in everybody who plays, and gives each what they play.
func (s *seeder) players(ctx context.Context) error {
	ids, err := s.ids(ctx)
	if err != nil {
		return err
	}
	end := s.monday(29) + 4
	give := lending.HandOut{DueBackOn: &end, OnPaper: true}
	for n, h := range s.holders {
		if h.ensemble == "" {
			continue
		}
		p := s.player(n, h.kind, h.ensemble)
		if h.practice != "" {
			if p.PracticeMinutes, err = strconv.ParseFloat(h.practice, 64); err != nil {
				return err
			}
			if p.PracticeDays, err = strconv.ParseFloat(h.days, 64); err != nil {
				return err
			}
		}
		p.HeavySweat = h.sweat
		p.Measurements = measured(h, n, s.today)
		if err := s.app.Roster.SavePlayer(ctx, s.director, p); err != nil {
			return fmt.Errorf("%s: %w", p.Name(), err)
		}
		give.Pairs = append(give.Pairs, school.Pair{PlayerID: p.ID, InstrumentID: ids[h.tag]})
	}
	_, err = s.app.Lending.HandOut(ctx, s.director, give)
	return err
}

func (s *seeder) player(n int, kind, ensemble string) playerrows.Player {
	return playerrows.Player{
		ReedStrength: strengthOf(kind, n%8),
		ID: uuid.Must(
			uuid.NewV7(),
		), ExternalID: fmt.Sprintf("q-%04d", 1000+n), GivenName: givenNames[n%len(givenNames)], FamilyName: familyNames[n%len(familyNames)],
		GradeYear: strconv.Itoa(
			5 + n%8,
		), Kind: kind, PracticeMinutes: usage.DefaultPracticeMinutes, PracticeDays: usage.DefaultPracticeDays,
		VacationShare: usage.DefaultVacationShare,
		Transport:     []string{"bus", "car", "foot", "bicycle"}[n%4], Ensembles: []uuid.UUID{s.ensembles[ensemble]},
	}
}

// strengthOf is what somebody in a year of their playing, from 0 to 7, plays on: the older, the harder.
func strengthOf(kind string, year int) string {
	k, _ := catalog.Embedded().Kind(kind)
	if len(k.Strengths) == 0 {
		return ""
	}
	played := slices.DeleteFunc(slices.Clone(k.Strengths), func(s string) bool { return strengths[k.Strengths[0]][s] == 0 })
	return played[year*len(played)/8]
}

// measured are two measurements that fit the size of what is held: before the school began with Solfeggio.
func measured(h holder, n int, today day.Day) []playerrows.Measurement {
	kind, _ := catalog.Embedded().Kind(h.kind)
	chart, ok := catalog.Embedded().SizeChart(kind.SizeChart)
	if !ok {
		return []playerrows.Measurement{}
	}
	at := 0
	for k, step := range chart.Steps {
		if step.Size == h.size {
			at = k
		}
	}
	// Just above where the size begins, so that a growing player is seen to near the next.
	cm := chart.Steps[0].Below - 3
	if at > 0 {
		cm = chart.Steps[at-1].Below + float64(n%5)*0.4
	}
	list := []playerrows.Measurement{{MeasuredOn: today - daysBack - 300}, {MeasuredOn: today - daysBack - 20}}
	for k := range list {
		v := cm + float64(k)*(0.6+float64(n%4)*0.3)
		if chart.Measure == "height_cm" {
			list[k].Height = &v
		} else {
			list[k].ArmLength = &v
		}
	}
	return list
}

// newcomers are the beginners who have nothing to play on yet.
func (s *seeder) newcomers(ctx context.Context) error {
	for n, b := range beginners {
		p := s.player(300+n, b.kind, b.ensemble)
		p.Measurements = []playerrows.Measurement{}
		if b.centimetres > 0 {
			m := playerrows.Measurement{MeasuredOn: s.today, ArmLength: &b.centimetres}
			if b.kind == "cello" {
				m = playerrows.Measurement{MeasuredOn: s.today, Height: &b.centimetres}
			}
			p.Measurements = append(p.Measurements, m)
		}
		if err := s.app.Roster.SavePlayer(ctx, s.director, p); err != nil {
			return fmt.Errorf("%s: %w", p.Name(), err)
		}
	}
	return nil
}
