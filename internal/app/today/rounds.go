package today

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
)

// Round is one task over many instruments, in the order in which they stand.
type Round struct {
	Routine      string        `json:"routine"`
	Title        string        `json:"title"`
	Who          catalog.Who   `json:"who" enum:"player,section leader,director,director or trained helper,technician"`
	Place        string        `json:"place" doc:"Name of where it is done"`
	SetupMinutes float64       `json:"setup_minutes"`
	Minutes      float64       `json:"minutes" doc:"For all of them, without setting up"`
	Tools        []string      `json:"tools"`
	Cautions     []string      `json:"cautions" doc:"To be read before the first"`
	Tasks        []school.Task `json:"tasks" doc:"In shelf order"`
}

// Rounds gathers what is due and can be done now by routine, the largest round first.
func (r *Room) Rounds(ctx context.Context, by journal.Person) ([]Round, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	byRoutine := map[string][]school.Task{}
	for _, t := range s.Work().Ready {
		if t.State == care.Due || t.State == care.Late {
			byRoutine[t.Routine] = append(byRoutine[t.Routine], *t)
		}
	}
	rounds := []Round{}
	for key, tasks := range byRoutine {
		routine, _ := r.schools.Catalog.Routine(key)
		place, _ := r.schools.Catalog.Place(routine.Place)
		slices.SortStableFunc(tasks, func(x, y school.Task) int {
			return cmp.Or(strings.Compare(x.Room, y.Room), strings.Compare(x.Slot, y.Slot), strings.Compare(x.Tag, y.Tag))
		})
		cautions := []string{}
		for _, t := range tasks {
			for _, caution := range r.cautions(s, t, routine) {
				if !slices.Contains(cautions, caution) {
					cautions = append(cautions, caution)
				}
			}
		}
		rounds = append(rounds, Round{
			Routine: key, Title: routine.Title, Who: routine.Who, Place: place.Name, SetupMinutes: place.SetupMinutes,
			Minutes: routine.Minutes * float64(
				len(tasks),
			), Tools: routine.Tools, Cautions: cautions, Tasks: tasks,
		})
	}
	slices.SortFunc(rounds, func(x, y Round) int {
		return cmp.Or(len(y.Tasks)-len(x.Tasks), strings.Compare(x.Routine, y.Routine))
	})
	return rounds, nil
}
