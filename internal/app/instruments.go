package app

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/day"
	"solfeggio/internal/core/why"
	"solfeggio/internal/store"
)

// Listed is an instrument in a list.
type Listed struct {
	ID        uuid.UUID       `json:"id"`
	Tag       string          `json:"tag"`
	Kind      string          `json:"kind" doc:"Key of the kind"`
	KindName  string          `json:"kind_name"`
	Section   string          `json:"section"`
	Size      string          `json:"size"`
	Maker     string          `json:"maker"`
	Model     string          `json:"model"`
	Room      string          `json:"room"`
	Slot      string          `json:"slot"`
	Ensembles []string        `json:"ensembles"`
	Drawing   string          `json:"drawing"`
	Mark      Mark            `json:"mark" enum:"ready,opens,due,late,player,held,stopped" doc:"The one mark that says how it stands"`
	Played    bool            `json:"played" doc:"It is in a player's hands"`
	Holder    string          `json:"holder" doc:"Name of the player who has it; empty when nobody is named"`
	Grade     condition.Grade `json:"grade" enum:"concert,class,limping,silent"`
	Stopped   string          `json:"stopped,omitempty" doc:"What stops it"`
	Held      string          `json:"held,omitempty" doc:"What it waits for"`
	Rented    bool            `json:"rented" doc:"It is somebody else's"`
	Gaps      int             `json:"gaps" doc:"How many things are missing from its kit"`
	State     care.State      `json:"state" enum:"fresh,opening,due,late" doc:"The worst of its clocks"`
	Late      int             `json:"late"`
	Due       int             `json:"due"`
	Work      []string        `json:"work" doc:"Titles of what is due or late"`
	Next      string          `json:"next" doc:"What is due first"`
	NextOn    *day.Day        `json:"next_on" nullable:"true"`
}

// Instruments lists all instruments in score order.
func (a *App) Instruments(ctx context.Context, by Person) ([]Listed, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	list := make([]Listed, len(s.instruments))
	for n, i := range s.instruments {
		list[n] = s.listed(i)
	}
	return list, nil
}

func (s *snapshot) listed(i *instrument) Listed {
	l := Listed{
		ID: i.ID, Tag: i.Tag, Kind: i.Instrument.Kind, KindName: i.kind.Name, Section: i.kind.Section, Size: i.Size, Maker: i.Maker, Model: i.Model,
		Room: i.Room, Slot: i.Slot, Ensembles: []string{}, Work: []string{}, State: care.Fresh, Drawing: i.kind.Drawing, Played: i.habit != nil,
		Grade: i.triage.Grade, Stopped: i.care.Stopped, Rented: i.rental != nil,
	}
	if i.hold != nil {
		l.Held = i.hold.Because
	}
	l.Gaps = i.missing()
	if i.habit != nil {
		l.Ensembles = s.ensembleNames(i.habit.Ensembles)
		if i.habit.Player != nil {
			l.Holder = s.players[*i.habit.Player].Name()
		}
	}
	worst := map[care.State]int{care.Fresh: 0, care.Opening: 1, care.Due: 2, care.Late: 3}
	for n := range i.clocks {
		c := &i.clocks[n]
		if worst[c.Reading.State] > worst[l.State] {
			l.State = c.Reading.State
		}
		switch c.Reading.State {
		case care.Late:
			l.Late++
		case care.Due:
			l.Due++
		}
		if due := c.Reading.State == care.Late || c.Reading.State == care.Due; due && !slices.Contains(l.Work, c.Of.Title) {
			l.Work = append(l.Work, c.Of.Title)
		}
		if on := c.Reading.DueOn; !on.IsZero() && (l.NextOn == nil || on < *l.NextOn) {
			l.NextOn, l.Next = &c.Reading.DueOn, c.Title()
		}
	}
	l.Mark = markOf(l)
	return l
}

// A Mark is how an instrument stands, in one sign.
type Mark string

// The marks, gravest first.
const (
	Stopped    Mark = "stopped"
	OnHold     Mark = "held"
	Late       Mark = "late"
	Due        Mark = "due"
	WithPlayer Mark = "player"
	Opens      Mark = "opens"
	Ready      Mark = "ready"
)

// missing counts what is missing from its kit.
func (i *instrument) missing() (n int) {
	for _, f := range i.kit {
		if f.State == catalog.Missing {
			n++
		}
	}
	return n
}

// named is an instrument's kind with its size.
func (i *instrument) named() string { return strings.TrimSpace(i.kind.Name + " " + i.Size) }

func markOf(l Listed) Mark {
	switch {
	case l.Stopped != "":
		return Stopped
	case l.Held != "":
		return OnHold
	case l.State == care.Late:
		return Late
	case l.State == care.Due:
		return Due
	case l.Played:
		return WithPlayer
	case l.State == care.Opening:
		return Opens
	}
	return Ready
}

// Habit is how an instrument is played until players are kept.
type Habit struct {
	Ensembles       []uuid.UUID `json:"ensembles"`
	PracticeMinutes float64     `json:"practice_minutes_per_week" minimum:"0" maximum:"10080"`
	PracticeDays    float64     `json:"practice_days_per_week" minimum:"0" maximum:"7"`
	VacationShare   float64     `json:"vacation_share" minimum:"0" maximum:"1"`
	HeavySweat      bool        `json:"heavy_sweat"`
	Players         int         `json:"players" minimum:"1" maximum:"99" doc:"How many share it"`
	PlayerID        *uuid.UUID  `json:"player_id,omitempty" doc:"Who holds it; left out while nobody is named"`
}

// PartWear is a part with the clocks that run on it.
type PartWear struct {
	Part     string `json:"part" doc:"Empty for the instrument as a whole"`
	Name     string `json:"name"`
	Material string `json:"material"`
	Never    string `json:"never" doc:"What must not touch it"`
	Clocks   []Task `json:"clocks"`
}

// Happening is one entry of the timeline.
type Happening struct {
	ID       uuid.UUID       `json:"id"`
	At       time.Time       `json:"at"`
	By       string          `json:"by"`
	What     string          `json:"what" enum:"imported,instrument-changed,care-done,undone,settings-changed,inspected,finding-made,finding-cleared,own-choice,not-found,handed-out,returned,hold-ended,agreed,kit-checked,kit-refilled,rental-changed,left-school,notice-sent,bench-done,bench-left"`
	Detail   json.RawMessage `json:"detail"`
	Player   string          `json:"player,omitempty" doc:"To or from whom an instrument went; left out when nobody is named or the player was erased"`
	Undone   bool            `json:"undone"`
	Undoable bool            `json:"undoable"`
}

// File is all that is known of one instrument.
type File struct {
	Instrument store.Instrument    `json:"instrument"`
	Listed     Listed              `json:"listed"`
	Sizes      []string            `json:"sizes"`
	Bodies     []Choice            `json:"bodies"`
	Habit      *Habit              `json:"habit,omitempty" doc:"Left out when nobody plays it"`
	Parts      []PartWear          `json:"parts"`
	Routines   []catalog.Resolved  `json:"routines" doc:"As they are done on this instrument"`
	Findings   []FileFinding       `json:"findings" doc:"Open ones"`
	Triage     condition.TriageOut `json:"triage"`
	Points     []FilePoint         `json:"points" doc:"Of its inspection, in the order of the walk"`
	Checked    *store.Inspection   `json:"checked,omitempty" doc:"The last inspection"`
	Practices  []FilePractice      `json:"practices" doc:"What of the trade's disagreements touches it"`
	Timeline   []Happening         `json:"timeline" doc:"The newest first"`
	Kit        []KitThing          `json:"kit"`
	KitChecked *day.Day            `json:"kit_checked,omitempty" doc:"When its kit was last looked through"`
	HandOver   *FileHandOver       `json:"hand_over,omitempty" doc:"While a player answers for it"`
	Bench      *uuid.UUID          `json:"bench,omitempty" doc:"Work at the bench on which it lies now"`
	Rental     *store.Rental       `json:"rental,omitempty" doc:"Left out for the school's own"`
}

// FileHandOver is how an instrument went out.
type FileHandOver struct {
	ID        uuid.UUID `json:"id"`
	GivenAt   time.Time `json:"given_at"`
	DueBackOn *day.Day  `json:"due_back_on,omitempty"`
	Signed    string    `json:"signed" enum:",screen,paper" doc:"How its agreement was signed; empty when it was not"`
	SignedBy  string    `json:"signed_by" doc:"For those who hand out; to others it is empty"`
}

// FilePoint is a point of the drawing with its name.
type FilePoint struct {
	Key   string `json:"key"`
	Spot  string `json:"spot"`
	Title string `json:"title"`
}

// Choice is a key with its name.
type Choice struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}

// timelineLength is how many entries the instrument file shows.
const timelineLength = 200

// File reads the file of an instrument.
func (a *App) File(ctx context.Context, by Person, id uuid.UUID) (File, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return File{}, err
	}
	i := s.byID[id]
	if i == nil {
		i = s.gone[id]
	}
	if i == nil {
		return File{}, inPlainWords(store.ErrNotFound)
	}
	f := File{Instrument: i.Instrument, Listed: s.listed(i), Sizes: i.kind.Sizes, Parts: a.partWear(i), Kit: a.kitOf(i, i.reeds), KitChecked: i.KitChecked}
	if h := i.handOver; h != nil {
		f.HandOver = &FileHandOver{ID: h.ID, GivenAt: h.GivenAt, DueBackOn: h.DueBackOn, Signed: h.Signature.How}
	}
	if by.need(MayChangeInstruments) == nil {
		f.Rental = i.rental
		if f.HandOver != nil {
			f.HandOver.SignedBy = i.handOver.Signature.By
		}
	}
	for _, key := range i.kind.Bodies {
		m, _ := a.catalog.Material(key)
		f.Bodies = append(f.Bodies, Choice{key, m.Name})
	}
	if h := i.habit; h != nil {
		habit := habitOf(h)
		f.Habit = &habit
	}
	for _, key := range i.kind.Routines {
		routine, _ := a.catalog.Routine(key)
		if resolved, ok := a.catalog.Resolve(routine, a.subject(i)); ok {
			f.Routines = append(f.Routines, resolved)
		}
	}
	f.Triage, f.Practices = i.triage, a.practicesOf(i)
	if i.bench != nil {
		f.Bench = &i.bench.Run
	}
	for _, p := range a.catalog.Inspection(i.kind).Points {
		f.Points = append(f.Points, FilePoint{p.Key, p.Spot, p.Title})
	}
	f.Timeline = []Happening{}
	err = a.read(ctx, by, func(tx *store.Tx) error {
		photos, err := tx.Photos(ctx, id)
		if err != nil {
			return err
		}
		f.Findings = a.described(i.kind, i.findings, photos)
		switch last, err := tx.LatestInspection(ctx, id); {
		case err == nil:
			f.Checked = &last
		case !errors.Is(err, store.ErrNotFound):
			return err
		}
		events, err := tx.Timeline(ctx, id, timelineLength)
		for _, e := range events {
			h := Happening{ID: e.ID, At: e.At, What: e.What, Detail: e.Detail, Undone: e.UndoneBy != nil}
			if e.PersonName != nil {
				h.By = *e.PersonName
			}
			h.Undoable = !h.Undone && undoable[e.What]
			if h.Player, err = s.playerOf(e); err != nil {
				return err
			}
			f.Timeline = append(f.Timeline, h)
		}
		return err
	})
	return f, err
}

// subject is the instrument as its routines see it.
func (a *App) subject(i *instrument) catalog.Subject {
	return catalog.Subject{Kind: i.kind, Body: i.Body, Choices: i.care.Choices, DryOnly: a.dryOnly(i)}
}

// partWear gathers the clocks by part, the instrument as a whole first.
func (a *App) partWear(i *instrument) []PartWear {
	parts := []PartWear{{Name: "Whole"}}
	for _, p := range i.kind.Parts {
		material := p.Material
		if material == "body" {
			material = i.Body
		}
		wear := PartWear{Part: p.Key, Name: p.Name}
		if m, ok := a.catalog.Material(material); ok {
			wear.Material, wear.Never = m.Name, m.Never
		}
		parts = append(parts, wear)
	}
	for n := range parts {
		parts[n].Clocks = []Task{}
		for _, c := range i.clocks {
			if c.Part == parts[n].Part {
				parts[n].Clocks = append(parts[n].Clocks, taskOf(i, c))
			}
		}
	}
	return parts
}

// Why explains a clock of an instrument.
func (a *App) Why(ctx context.Context, by Person, id uuid.UUID, key clocks.Key) ([]why.Why, error) {
	s, err := a.snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	if i := s.byID[id]; i != nil {
		for _, c := range i.clocks {
			if c.Key == key {
				return s.reader.Why(c, i.care, i.held[key])
			}
		}
	}
	return nil, inPlainWords(store.ErrNotFound)
}
