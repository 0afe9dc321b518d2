package inventory

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
	"solfeggio/internal/store/checkrows"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/shoprows"
)

// Instruments lists all instruments in score order.
func (r *Room) Instruments(ctx context.Context, by journal.Person) ([]school.Listed, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	list := make([]school.Listed, len(s.Instruments))
	for n, i := range s.Instruments {
		list[n] = s.Listed(i)
	}
	return list, nil
}

// PartWear is a part with the clocks that run on it.
type PartWear struct {
	Part     string        `json:"part" doc:"Empty for the instrument as a whole"`
	Name     string        `json:"name"`
	Material string        `json:"material"`
	Never    string        `json:"never" doc:"What must not touch it"`
	Clocks   []school.Task `json:"clocks"`
}

// Happening is one entry of the timeline.
type Happening struct {
	ID       uuid.UUID `json:"id"`
	At       time.Time `json:"at"`
	By       string    `json:"by"`
	Sentence string    `json:"sentence" doc:"What happened, in a few words"`
	Undone   bool      `json:"undone"`
	Undoable bool      `json:"undoable"`
}

// File is all that is known of one instrument.
type File struct {
	Instrument  instrumentrows.Instrument `json:"instrument"`
	Listed      school.Listed             `json:"listed"`
	Sizes       []string                  `json:"sizes"`
	Bodies      []school.Choice           `json:"bodies"`
	Habit       *school.Habit             `json:"habit,omitempty" doc:"Left out when nobody plays it"`
	Parts       []PartWear                `json:"parts"`
	Routines    []catalog.Resolved        `json:"routines" doc:"As they are done on this instrument"`
	Findings    []inspection.FileFinding  `json:"findings" doc:"Open ones"`
	Known       []string                  `json:"known" doc:"What is known of its condition, since when and by whom, as an agreement would say it"`
	Remarked    []school.Choice           `json:"remarked" doc:"What its remark may mean and is not noted as a finding"`
	Portrait    *uuid.UUID                `json:"portrait,omitempty" doc:"Photograph by which it is known again"`
	Triage      condition.TriageOut       `json:"triage"`
	Points      []FilePoint               `json:"points" doc:"Of its inspection, in the order of the walk"`
	Checked     *checkrows.Inspection     `json:"checked,omitempty" doc:"The last inspection"`
	Practices   []settings.FilePractice   `json:"practices" doc:"What of the trade's disagreements touches it"`
	Timeline    []Happening               `json:"timeline" doc:"The newest first"`
	BenchRecord bool                      `json:"bench_record" doc:"Whether the bench has a record of it"`
	Kit         []supply.KitThing         `json:"kit"`
	KitChecked  *day.Day                  `json:"kit_checked,omitempty" doc:"When its kit was last looked through"`
	HandOver    *FileHandOver             `json:"hand_over,omitempty" doc:"While a player answers for it"`
	Bench       *uuid.UUID                `json:"bench,omitempty" doc:"Work at the bench on which it lies now"`
	Rental      *instrumentrows.Rental    `json:"rental,omitempty" doc:"Left out for the school's own"`
	Job         *FileJob                  `json:"job,omitempty" doc:"For a repair shop, while it is open"`
	Spent       int64                     `json:"spent_cents" doc:"On repairs so far"`
}

// FileHandOver is how an instrument went out.
type FileHandOver struct {
	ID        uuid.UUID `json:"id"`
	GivenAt   time.Time `json:"given_at"`
	DueBackOn *day.Day  `json:"due_back_on,omitempty"`
	Signed    string    `json:"signed" enum:",screen,paper" doc:"How its agreement was signed; empty when it was not"`
	SignedBy  string    `json:"signed_by" doc:"For those who hand out; to others it is empty"`
}

// FileJob is the open job of an instrument.
type FileJob struct {
	ID    uuid.UUID `json:"id"`
	Words string    `json:"words" doc:"How far it is"`
	Back  bool      `json:"back" doc:"It is back and nobody has checked it in"`
}

// FilePoint is a point of the drawing with its name.
type FilePoint struct {
	Key   string `json:"key"`
	Spot  string `json:"spot"`
	Title string `json:"title"`
}

// timelineLength is how many entries the instrument file shows.
const timelineLength = 200

// File reads the file of an instrument.
func (r *Room) File(ctx context.Context, by journal.Person, id uuid.UUID) (File, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return File{}, err
	}
	i := s.ByID[id]
	if i == nil {
		i = s.Gone[id]
	}
	if i == nil {
		return File{}, journal.InPlainWords(store.ErrNotFound)
	}
	f := File{
		Instrument: i.Instrument,
		Listed:     s.Listed(i),
		Sizes:      i.Kind.Sizes,
		Parts:      r.partWear(i),
		Kit:        r.supply.KitOf(i, i.Reeds, nil),
		KitChecked: i.KitChecked,
		Remarked:   []school.Choice{},
	}
	if i.GoneOn == nil {
		f.Remarked = r.inspection.Remarked(i)
	}
	if h := i.HandOver; h != nil {
		f.HandOver = &FileHandOver{ID: h.ID, GivenAt: h.GivenAt, DueBackOn: h.DueBackOn, Signed: h.Signature.How}
	}
	if school.SeesTerms(by) {
		f.Rental = i.Rental
		if f.HandOver != nil {
			f.HandOver.SignedBy = i.HandOver.Signature.By
		}
	}
	for _, key := range i.Kind.Bodies {
		m, _ := r.schools.Catalog.Material(key)
		f.Bodies = append(f.Bodies, school.Choice{Key: key, Name: m.Name})
	}
	if h := i.Habit; h != nil {
		habit := school.HabitOf(h)
		f.Habit = &habit
	}
	for _, key := range i.Kind.Routines {
		routine, _ := r.schools.Catalog.Routine(key)
		if resolved, ok := r.schools.Catalog.Resolve(routine, r.schools.Subject(i)); ok {
			f.Routines = append(f.Routines, resolved)
		}
	}
	f.Triage, f.Practices = i.Triage, r.settings.PracticesOf(i)
	if i.Bench != nil {
		f.Bench = &i.Bench.Run
	}
	if i.Job != nil {
		f.Job = &FileJob{i.Job.ID, i.Job.State.Words(), i.ComesIn()}
	}
	for _, p := range r.schools.Catalog.Inspection(i.Kind).Points {
		f.Points = append(f.Points, FilePoint{p.Key, p.Spot, p.Title})
	}
	f.Timeline = []Happening{}
	err = r.schools.Read(ctx, by, func(tx *store.Tx) error {
		photos, err := checkrows.Photos(ctx, tx, id)
		if err != nil {
			return err
		}
		for _, p := range photos {
			if p.Portrait {
				f.Portrait = &p.ID
			}
		}
		f.Findings = r.inspection.Described(i, i.Findings, photos)
		condition, err := r.lending.ConditionAt(ctx, tx, s, i, r.schools.Now())
		if err != nil {
			return err
		}
		f.Known = condition.Sentences()
		jobs, err := shoprows.JobsOf(ctx, tx, id)
		if err != nil {
			return err
		}
		for _, j := range jobs {
			if j.RealCents != nil {
				f.Spent += *j.RealCents
			}
		}
		switch last, err := checkrows.LatestInspection(ctx, tx, id); {
		case err == nil:
			f.Checked = &last
		case !errors.Is(err, store.ErrNotFound):
			return err
		}
		events, err := eventrows.Timeline(ctx, tx, id, timelineLength)
		for _, e := range events {
			h := Happening{ID: e.ID, At: e.At, Undone: e.UndoneBy != nil, Undoable: r.schools.CanBeUndone(e)}
			if e.What == eventrows.Imported || e.What == eventrows.InstrumentAdded {
				h.Undoable = h.Undoable && !hangsOn(events, e)
			}
			if e.PersonName != nil {
				h.By = *e.PersonName
			}
			if h.Sentence, err = r.schools.Sentence(s, by, e); err != nil {
				return err
			}
			f.BenchRecord = f.BenchRecord || e.What == eventrows.BenchDone
			f.Timeline = append(f.Timeline, h)
		}
		return err
	})
	return f, err
}

// partWear gathers the clocks by part, the instrument as a whole first.
func (r *Room) partWear(i *school.Instrument) []PartWear {
	parts := []PartWear{{Name: "Whole"}}
	for _, p := range i.Kind.Parts {
		wear := PartWear{Part: p.Key, Name: p.Name}
		if m, ok := r.schools.Catalog.Material(p.MaterialOf(r.schools.Subject(i))); ok {
			wear.Material, wear.Never = m.Name, m.Never
		}
		parts = append(parts, wear)
	}
	for n := range parts {
		parts[n].Clocks = []school.Task{}
		for _, c := range i.Clocks {
			if c.Part == parts[n].Part {
				parts[n].Clocks = append(parts[n].Clocks, school.TaskOf(i, c))
			}
		}
	}
	return parts
}

// Why explains a clock of an instrument.
func (r *Room) Why(ctx context.Context, by journal.Person, id uuid.UUID, key clocks.Key) ([]why.Why, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	if i := s.ByID[id]; i != nil {
		for _, c := range i.Clocks {
			if c.Key == key {
				return s.Reader.Why(c, i.Care, i.NotOffered[key])
			}
		}
	}
	return nil, journal.InPlainWords(store.ErrNotFound)
}
