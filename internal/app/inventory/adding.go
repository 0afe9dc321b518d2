package inventory

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/store"
	"solfeggio/internal/store/eventrows"
	"solfeggio/internal/store/instrumentrows"
)

// Addable is a kind of which an instrument can be added.
type Addable struct {
	Key     string          `json:"key"`
	Name    string          `json:"name"`
	Section string          `json:"section"`
	Own     bool            `json:"own" doc:"A school has named it itself"`
	Sizes   []string        `json:"sizes"`
	Bodies  []school.Choice `json:"bodies" doc:"The usual one first"`
	Reeds   []string        `json:"reeds" doc:"Strengths of its reeds, from soft to hard"`
	NextTag string          `json:"next_tag" doc:"After those that the school has of it; empty where it has none"`
}

// Addables lists the kinds in score order.
func (r *Room) Addables(ctx context.Context, by journal.Person) ([]Addable, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	tags := map[string][]string{}
	for _, i := range s.Instruments {
		tags[i.Instrument.Kind] = append(tags[i.Instrument.Kind], i.Tag)
	}
	list := []Addable{}
	for _, k := range r.schools.KindsOf(s) {
		a := Addable{
			Key: k.Key, Name: k.Name, Section: k.Section, Own: k.Own(), Sizes: append([]string{}, k.Sizes...),
			Reeds: append([]string{}, k.Strengths...), NextTag: nextTag(tags[k.Key]),
		}
		for _, key := range k.Bodies {
			m, _ := r.schools.Catalog.Material(key)
			a.Bodies = append(a.Bodies, school.Choice{Key: key, Name: m.Name})
		}
		list = append(list, a)
	}
	return list, nil
}

// nextTag counts on from the highest number of the beginning that most tags have, with as many digits.
func nextTag(tags []string) string {
	many, highest, digits := map[string]int{}, map[string]int{}, map[string]int{}
	best := ""
	for _, tag := range tags {
		begin := strings.TrimRight(tag, "0123456789")
		n, err := strconv.Atoi(tag[len(begin):])
		if err != nil {
			continue
		}
		many[begin]++
		highest[begin] = max(highest[begin], n)
		digits[begin] = max(digits[begin], len(tag)-len(begin))
		if best == "" || many[begin] > many[best] {
			best = begin
		}
	}
	if len(many) == 0 {
		return ""
	}
	return fmt.Sprintf("%s%0*d", best, digits[best], highest[best]+1)
}

// Adding is an instrument that comes to the school. What is left out is not known yet.
type Adding struct {
	ID         uuid.UUID `json:"id" doc:"Made by the client"`
	Kind       string    `json:"kind" maxLength:"100" doc:"Its key. For a kind of the school's own, the key of the kind that it is like, ~, and its name: oboe~English horn"`
	Tag        string    `json:"tag" maxLength:"40"`
	Size       string    `json:"size,omitempty" maxLength:"20"`
	Body       string    `json:"body,omitempty" maxLength:"40" doc:"Key of its material; the kind's usual one when left out"`
	Maker      string    `json:"maker,omitempty" maxLength:"200"`
	Model      string    `json:"model,omitempty" maxLength:"200"`
	Serial     string    `json:"serial,omitempty" maxLength:"200"`
	Room       string    `json:"room,omitempty" maxLength:"200"`
	Slot       string    `json:"slot,omitempty" maxLength:"200"`
	AcquiredOn *day.Day  `json:"acquired_on,omitempty"`
	PriceCents *int64    `json:"price_cents,omitempty" maximum:"10000000000"`
	CareFrom   *day.Day  `json:"care_from,omitempty" doc:"Where its clocks begin; today when left out"`
}

// Add takes an instrument in. It can be undone as long as nobody plays it and no shop has it.
func (r *Room) Add(ctx context.Context, by journal.Person, in Adding) (journal.Changed, error) {
	return school.Write(ctx, r.schools, by, journal.MayChangeInstruments, func(tx *store.Tx, s *school.Snapshot) (journal.Changed, error) {
		k, ok := r.schools.Catalog.Kind(in.Kind)
		if !ok {
			return journal.Changed{}, journal.Refuse("instrument.kind", "choose what it is", in.Kind)
		}
		i := instrumentrows.Instrument{
			ID: in.ID, Kind: k.Key, Tag: strings.ToUpper(strings.TrimSpace(in.Tag)), Size: in.Size, Body: in.Body, Version: 1,
			Maker: strings.TrimSpace(in.Maker), Model: strings.TrimSpace(in.Model), Serial: strings.TrimSpace(in.Serial),
			Room: strings.TrimSpace(in.Room), Slot: strings.TrimSpace(in.Slot), AcquiredOn: in.AcquiredOn,
			PriceCents: in.PriceCents, CareFrom: s.Today,
		}
		if i.Body == "" {
			i.Body = k.Bodies[0]
		}
		if in.CareFrom != nil {
			i.CareFrom = *in.CareFrom
		}
		if err := checkInstrument(k, i, s.Today); err != nil {
			return journal.Changed{}, err
		}
		if slices.ContainsFunc(s.Instruments, func(other *school.Instrument) bool { return other.Tag == i.Tag }) {
			return journal.Changed{}, journal.Refuse("instrument.tag", "There is an instrument with that tag already.", in.Tag)
		}
		if err := instrumentrows.InsertInstrument(ctx, tx, i); err != nil {
			return journal.Changed{}, err
		}
		event, err := r.schools.Record(ctx, tx, by, eventrows.Event{What: eventrows.InstrumentAdded, Instrument: &i.ID}, i)
		return journal.Changed{Version: 1, Events: []uuid.UUID{event}}, err
	})
}

// sameDeed is how long after an instrument came in what is noted of it belongs to that: a file brings care along.
const sameDeed = time.Minute

// hangsOn reports whether anything that was not undone has happened to an instrument since it came in by an event. Events come newest
// first.
func hangsOn(since []eventrows.Event, came eventrows.Event) bool {
	return slices.ContainsFunc(since, func(e eventrows.Event) bool {
		return e.At.After(came.At.Add(sameDeed)) && e.UndoneBy == nil && e.Undoes == nil
	})
}

// undoAdding takes an instrument that came in by mistake out of all lists; its tag is free again.
func (r *Room) undoAdding(ctx context.Context, tx *store.Tx, u school.Undoing) error {
	i, err := u.School.Instrument(*u.Event.Instrument)
	if err != nil {
		return err
	}
	since, err := eventrows.Timeline(ctx, tx, i.ID, timelineLength)
	if err != nil {
		return err
	}
	because := ""
	switch {
	case i.InHands():
		because = "is in a player's hands"
	case i.Job != nil:
		because = "has a job at a shop"
	case i.Bench != nil:
		because = "lies on the bench"
	case hangsOn(since, u.Event):
		because = "has a history by now"
	}
	if because != "" {
		return &journal.Fault{Kind: journal.Conflict,
			Message: fmt.Sprintf("%s %s. It cannot be taken out as if it had never come.", i.Tag, because)}
	}
	return instrumentrows.LeaveSchool(ctx, tx, i.ID, u.School.Today, "came in by mistake")
}
