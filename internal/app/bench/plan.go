package bench

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/products"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/core/schedule"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
)

// Benching says what is to be done at the bench, with whom and what.
type Benching struct {
	Instruments []OnBench         `json:"instruments" minItems:"1" maxItems:"200"`
	People      int               `json:"people" minimum:"1" maximum:"50"`
	Stations    map[string]int    `json:"stations" doc:"How many there are of each; what is left out counts as usual"`
	Minutes     *int              `json:"minutes,omitempty" minimum:"1" maximum:"1440" doc:"Until the bell; as many as can be are finished by then"`
	Products    map[string]string `json:"products,omitempty" doc:"Id of the product preferred for a surface"`
}

// OnBench is an instrument and why it comes.
type OnBench struct {
	InstrumentID uuid.UUID      `json:"instrument_id"`
	Reason       catalog.Reason `json:"reason" enum:"turnover,illness,mould,smoke,deep clean,concert,laundry"`
}

// BenchPlan is how the work would go.
type BenchPlan struct {
	Minutes    int                 `json:"minutes" doc:"Until the last waiting is over"`
	LeastEver  int                 `json:"least_ever" doc:"No order of work can be shorter"`
	OverAt     time.Time           `json:"over_at" doc:"If it began now"`
	ByTheBell  []string            `json:"by_the_bell,omitempty" doc:"Tags finished by the deadline"`
	Why        why.Why             `json:"why"`
	Bars       []Bar               `json:"bars" doc:"By start"`
	Items      []PlannedItem       `json:"items" doc:"As they were named"`
	Touches    []Touch             `json:"touches" doc:"Which product comes to which surface"`
	Cautions   []Warning           `json:"cautions" doc:"To be read before anything is begun"`
	Handling   []products.Handling `json:"handling" doc:"What the labels of its products warn of"`
	Needs      []BenchNeed         `json:"needs" doc:"What is used up, short ones first"`
	Soak       *Soak               `json:"soak,omitempty" doc:"Left out when no mouthpiece is soaked"`
	GlovePairs int                 `json:"glove_pairs"`
	Lanes      []StationHere       `json:"lanes" doc:"Stations that are used"`
	People     int                 `json:"people"`
	jobs       []benchJob          // what can be done, as it is planned
	out        schedule.Out
}

// Bar is a step in its time.
type Bar struct {
	Tag     string `json:"tag"`
	Step    string `json:"step"`
	Start   int    `json:"start" doc:"Minutes from the beginning"`
	Active  int    `json:"active"`
	Wait    int    `json:"wait"`
	Person  *int   `json:"person,omitempty" doc:"From 0"`
	Station string `json:"station,omitempty"`
	Place   *int   `json:"place,omitempty" doc:"Which of the stations, from 0"`
	Held    bool   `json:"held" doc:"The station is taken while it waits too"`
}

// PlannedItem is an instrument in a plan.
type PlannedItem struct {
	InstrumentID uuid.UUID      `json:"instrument_id"`
	Tag          string         `json:"tag"`
	KindName     string         `json:"kind_name"`
	Reason       catalog.Reason `json:"reason" enum:"turnover,illness,mould,smoke,deep clean,concert,laundry"`
	Title        string         `json:"title"`
	Cannot       string         `json:"cannot" doc:"Why it is not done now and what would do; empty when it is planned"`
	Lacks        []hygiene.Lack `json:"lacks" doc:"Every surface for which the school has no product"`
	OverAfter    int            `json:"over_after" doc:"Minutes until it is finished"`
	RestHours    int            `json:"rest_hours" doc:"That it lies afterwards before anybody plays it"`
	StaysHeld    string         `json:"stays_held" doc:"Why it goes into nobody's hands afterwards; empty when it does"`
	Gates        []string       `json:"gates" doc:"What is done otherwise because of its material"`
}

// Touch is a surface and what comes to it.
type Touch struct {
	Surface string            `json:"surface"`
	Name    string            `json:"name"`
	Product string            `json:"product" doc:"Id of what is used; where several are, of the first"`
	Used    []string          `json:"used" doc:"Names of what is used, with its minutes"`
	Choices []products.Pick   `json:"choices" doc:"What could be used, by its label and its date"`
	Refused []hygiene.Refusal `json:"refused" doc:"What is not, and why"`
}

// A benchJob is an instrument with all that is done to it.
type benchJob struct {
	i         *school.Instrument
	reason    catalog.Reason
	procedure hygiene.Procedure
}

// Plan works out how the work would go, and changes nothing.
func (r *Room) Plan(ctx context.Context, by journal.Person, in Benching) (BenchPlan, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return BenchPlan{}, err
	}
	var plan BenchPlan
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		plan, err = r.planBench(ctx, tx, s, in)
		return err
	})
	return plan, err
}

func (r *Room) planBench(ctx context.Context, tx *store.Tx, s *school.Snapshot, in Benching) (BenchPlan, error) {
	plan := BenchPlan{
		Touches:  []Touch{},
		Cautions: []Warning{},
		Needs:    []BenchNeed{},
		Bars:     []Bar{},
		Lanes:    []StationHere{},
		People:   in.People,
	}
	stations, err := r.stationsOf(in.Stations)
	if err != nil {
		return plan, err
	}
	owned, err := r.products.Owned(ctx, tx)
	if err != nil {
		return plan, err
	}
	if plan.Items, plan.jobs, err = r.benchJobs(s, in, owned); err != nil {
		return plan, err
	}
	bench := scheduling(in, stations, plan.jobs)
	if plan.out, err = schedule.Plan(ctx, bench); err != nil {
		return plan, r.stationFault(err)
	}
	plan.Touches = r.touches(plan.jobs, owned)
	r.drawPlan(&plan, bench)
	plan.OverAt = r.schools.Now().Add(time.Duration(plan.Minutes) * time.Minute)
	return plan, r.needs(ctx, tx, s, &plan, owned)
}

// benchJobs works out what is done to each instrument, and what can be begun of it.
func (r *Room) benchJobs(s *school.Snapshot, in Benching, owned []products.OwnedProduct) (items []PlannedItem, jobs []benchJob, err error) {
	items = []PlannedItem{}
	for n, on := range in.Instruments {
		i := s.ByID[on.InstrumentID]
		if i == nil || slices.ContainsFunc(in.Instruments[:n], func(o OnBench) bool { return o.InstrumentID == on.InstrumentID }) {
			return nil, nil, journal.Refuse(
				fmt.Sprintf("instruments[%d].instrument_id", n),
				"is no instrument of the school, or stands there twice",
				on.InstrumentID,
			)
		}
		item, job := r.prepare(i, on.Reason, products.Usable(owned), in.Products)
		items = append(items, item)
		if item.Cannot == "" {
			jobs = append(jobs, job)
		}
	}
	return items, jobs, nil
}

// scheduling is the work as the scheduler sees it.
func scheduling(in Benching, stations benchrows.Stations, jobs []benchJob) schedule.In {
	bench := schedule.In{People: in.People, Stations: stations, DeadlineMinutes: in.Minutes}
	for _, j := range jobs {
		bench.Instruments = append(bench.Instruments, j.procedure.Job(j.i.Tag))
	}
	return bench
}

// prepare works out what is done to an instrument for a reason.
func (r *Room) prepare(
	i *school.Instrument,
	reason catalog.Reason,
	products []hygiene.Product,
	wanted map[string]string,
) (PlannedItem, benchJob) {
	item := PlannedItem{InstrumentID: i.ID, Tag: i.Tag, KindName: i.Named(), Reason: reason, Gates: []string{}, Lacks: []hygiene.Lack{}}
	routines := r.schools.Catalog.BenchRoutines(i.Kind, reason)
	switch {
	case len(routines) == 0:
		item.Cannot = fmt.Sprintf("There is nothing to do for a %s at the bench for %s.", catalog.InText(i.Kind.Name), reason)
	case i.Away():
		item.Cannot = "It is at the shop."
	case i.Bench != nil:
		item.Cannot = "It lies on a bench already."
	case i.Care.Stopped != "" && reason != catalog.Mould && reason != catalog.Smoke:
		item.Cannot = fmt.Sprintf("It is stopped (%s). Whoever may clear that decides first.", i.Care.Stopped)
	}
	if item.Cannot != "" {
		return item, benchJob{}
	}
	p := hygiene.Prepare(r.schools.Catalog, routines[0], r.schools.Subject(i), reason, products, wanted)
	item.Title, item.Cannot, item.RestHours, item.StaysHeld = p.Routine.Title, p.Cannot, p.RestHours, p.Routine.StaysHeld
	item.Lacks = append(item.Lacks, p.Lacks...)
	for _, step := range p.Steps {
		if step.Gate != "" {
			item.Gates = append(item.Gates, step.Name+": "+step.Gate)
		}
	}
	return item, benchJob{i, reason, p}
}

// touches gathers what comes to each surface, in the order of the catalogue.
func (r *Room) touches(jobs []benchJob, owned []products.OwnedProduct) []Touch {
	list := []Touch{}
	for _, surface := range r.schools.Catalog.Surfaces {
		t := Touch{Surface: surface.Key, Name: surface.Name, Used: []string{}, Choices: []products.Pick{}, Refused: []hygiene.Refusal{}}
		for _, j := range jobs {
			for _, step := range j.procedure.Steps {
				if step.Surface != surface.Key {
					continue
				}
				if t.Product == "" {
					t.Product = step.Product.ID
				}
				if used := fmt.Sprintf("%s, wet for %d min", step.Product.Name, step.Product.ContactMinutes); !slices.Contains(
					t.Used,
					used,
				) {
					t.Used = append(t.Used, used)
				}
				for _, r := range step.Refused {
					if !slices.Contains(t.Refused, r) {
						t.Refused = append(t.Refused, r)
					}
				}
			}
		}
		if t.Product == "" {
			continue
		}
		for _, p := range owned {
			if slices.Contains(p.Surfaces, surface.Key) && p.Warning == "" {
				t.Choices = append(t.Choices, products.Pick{Key: p.ID.String(), Name: p.Name})
			}
		}
		list = append(list, t)
	}
	return list
}

// stationsOf fills in the usual numbers.
func (r *Room) stationsOf(given map[string]int) (benchrows.Stations, error) {
	all := benchrows.Stations{}
	for _, p := range r.schools.Catalog.Stations() {
		all[p.Key] = p.Usual
	}
	for key, count := range given {
		if _, ok := all[key]; !ok || count < 0 || count > 200 {
			return nil, journal.Refuse("stations."+key, "is no station, or no number of them between 0 and 200", count)
		}
		all[key] = count
	}
	return all, nil
}

// stationFault turns what the planner refuses into words for who chose the stations.
func (r *Room) stationFault(err error) error {
	var none schedule.NoStation
	if errors.As(err, &none) {
		if p, known := r.schools.Catalog.Place(string(none)); known {
			return journal.Refuse("stations."+p.Key, "one of the instruments needs it: "+catalog.InText(p.Name), 0)
		}
	}
	return err
}

// drawPlan fills in what a plan shows of its schedule.
func (r *Room) drawPlan(plan *BenchPlan, bench schedule.In) {
	plan.Minutes, plan.LeastEver = plan.out.MakespanMinutes, plan.out.LowerBoundMinutes
	if plan.out.FinishedByDeadline != nil {
		plan.ByTheBell = *plan.out.FinishedByDeadline
	}
	steps := map[string]schedule.Step{}
	for _, j := range bench.Instruments {
		for _, st := range j.Steps {
			steps[j.ID+"/"+st.Name] = st
		}
	}
	over := map[string]int{}
	used := map[string]bool{}
	for _, t := range plan.out.Tasks {
		st := steps[t.ID+"/"+t.Step]
		over[t.ID] = max(over[t.ID], t.Start+st.ActiveMinutes+st.WaitMinutes)
		used[st.Station] = true
		plan.Bars = append(
			plan.Bars,
			Bar{t.ID, t.Step, t.Start, st.ActiveMinutes, st.WaitMinutes, t.Person, st.Station, t.StationIndex, st.StationHeldWhileWaiting},
		)
	}
	for _, p := range r.schools.Catalog.Stations() {
		if used[p.Key] {
			plan.Lanes = append(plan.Lanes, StationHere{p.Key, p.Name, bench.Stations[p.Key]})
		}
	}
	for n := range plan.Items {
		plan.Items[n].OverAfter = over[plan.Items[n].Tag]
	}
	var warned warnings
	for _, j := range plan.jobs {
		warned.add(j.i.Tag, j.procedure.Cautions)
	}
	plan.Cautions = warned.said()
	plan.Why = r.whyThisLong(plan.out, bench)
}

// whyThisLong says what holds the work up.
func (r *Room) whyThisLong(out schedule.Out, bench schedule.In) why.Why {
	w := why.Why{
		Rule:   "hygiene.bench",
		Basis:  why.Basis{Kind: why.OwnRule, Source: "minutes of the steps from memory, contact times from the labels"},
		Change: "/settings/products",
	}
	named := func(key string) string {
		if p, ok := r.schools.Catalog.Place(key); ok {
			return strings.ToLower(p.Name)
		}
		return key
	}
	switch out.BoundBy {
	case "":
		w.Statement = "Nothing of it can be begun."
	case "instrument":
		w.Statement = "One instrument alone takes that long; more people or places change nothing."
	case "people":
		w.Statement = "The people are what it waits for; with one more it would be over sooner."
	default:
		w.Statement = fmt.Sprintf("The %s is what it waits for; with one more it would be over sooner.", named(out.BoundBy))
	}
	if over := out.MakespanMinutes - out.LowerBoundMinutes; over > 0 {
		w.Statement += fmt.Sprintf(" No order can be shorter than %d minutes; this one is %d over it", out.LowerBoundMinutes, over)
		var full []string
		for _, b := range out.Busy {
			if b.Pct >= 75 {
				full = append(full, fmt.Sprintf("%s %.0f %%", named(b.What), b.Pct))
			}
		}
		if len(full) > 1 {
			w.Statement += ", because several are nearly full at once: " + strings.Join(full, ", ")
		}
		w.Statement += "."
	} else if out.MakespanMinutes > 0 {
		w.Statement += " No order of work is shorter."
	}
	w.Inputs = append(w.Inputs, why.Input{Name: "people", Value: fmt.Sprint(bench.People)})
	for _, b := range out.Busy {
		w.Inputs = append(w.Inputs, why.Input{Name: named(b.What) + " taken", Value: fmt.Sprintf("%.0f %% of the time", b.Pct)})
	}
	return w
}
