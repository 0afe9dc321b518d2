package school

import (
	"slices"
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/core/care"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/day"
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
	Serial    string          `json:"serial"`
	Room      string          `json:"room"`
	Slot      string          `json:"slot"`
	Ensembles []string        `json:"ensembles"`
	Drawing   string          `json:"drawing"`
	Mark      Mark            `json:"mark" enum:"ready,opens,due,late,player,held,shop,stopped" doc:"The one mark that says how it stands"`
	Played    bool            `json:"played" doc:"It is in a player's hands"`
	ClassSet  bool            `json:"class_set" doc:"It is played in ensembles by nobody named, and stands in its slot"`
	Holder    string          `json:"holder" doc:"Name of the player who has it; empty when nobody is named"`
	Promised  *PromisedByName `json:"promised,omitempty" doc:"Left out for one that is promised to nobody"`
	Grade     condition.Grade `json:"grade" enum:"concert,class,limping,silent"`
	NeverSeen bool            `json:"never_seen" doc:"Nobody has looked it over yet; until then it counts as sound"`
	Stopped   string          `json:"stopped,omitempty" doc:"What stops it"`
	Held      string          `json:"held,omitempty" doc:"What it waits for"`
	AtShop    bool            `json:"at_shop"`
	Rented    bool            `json:"rented" doc:"It is somebody else's"`
	Gaps      int             `json:"gaps" doc:"How many things are missing from its kit"`
	State     care.State      `json:"state" enum:"fresh,opening,due,late" doc:"The worst of its clocks"`
	Late      int             `json:"late"`
	Due       int             `json:"due"`
	Work      []string        `json:"work" doc:"Titles of what is due or late"`
	Next      string          `json:"next" doc:"What is due first"`
	NextOn    *day.Day        `json:"next_on" nullable:"true"`
}

// PromisedByName is to whom an instrument is promised, and until which day.
type PromisedByName struct {
	To    string  `json:"to"`
	Until day.Day `json:"until"`
}

// Listed is an instrument as lists show it.
func (s *Snapshot) Listed(i *Instrument) Listed {
	l := Listed{
		ID: i.ID, Tag: i.Tag, Kind: i.Instrument.Kind, KindName: i.Kind.Name, Section: i.Kind.Section, Size: i.Size, Maker: i.Maker,
		Model: i.Model, Serial: i.Serial,
		Room: i.Room, Slot: i.Slot, Ensembles: []string{}, Work: []string{}, State: care.Fresh, Drawing: i.Kind.Drawing,
		Played:   i.InHands(),
		ClassSet: i.Habit != nil && !i.InHands(),
		Grade:    i.Triage.Grade, NeverSeen: i.NeverSeen(), Stopped: i.Care.Stopped, Rented: i.Rental != nil, AtShop: i.Away(),
	}
	switch {
	case i.ComesIn():
		l.Held = "back from the shop, to be checked in"
	case i.Hold != nil:
		l.Held = i.Hold.Because
	}
	l.Gaps = i.Missing()
	if p := s.PromisedTo(i); p != nil {
		l.Promised = &PromisedByName{p.Name(), i.Promise.Until}
	}
	if i.Habit != nil {
		l.Ensembles = s.EnsembleNames(i.Habit.Ensembles)
		if i.Habit.Player != nil {
			l.Holder = s.Players[*i.Habit.Player].Name()
		}
	}
	worst := map[care.State]int{care.Fresh: 0, care.Opening: 1, care.Due: 2, care.Late: 3}
	for n := range i.Clocks {
		c := &i.Clocks[n]
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

// Marks lists the marks, the gravest first, and how each is said.
var Marks = []Word{
	{string(AtShop), "at the shop", "at shop"}, {string(Stopped), "out of service", "stopped"}, {string(OnHold), "held", ""},
	{string(Late), "late", ""}, {string(Due), "due", ""},
	{string(WithPlayer), "in a player’s hands", "played"}, {string(Opens), "opens soon", "opens"}, {string(Ready), "ready", ""},
}

// The marks, gravest first.
const (
	AtShop     Mark = "shop" // which says more than what is wrong with it
	Stopped    Mark = "stopped"
	OnHold     Mark = "held"
	Late       Mark = "late"
	Due        Mark = "due"
	WithPlayer Mark = "player"
	Opens      Mark = "opens"
	Ready      Mark = "ready"
)

// Missing counts what is missing from its case.
func (i *Instrument) Missing() int { return i.missing }

// Named is an instrument's kind with its size.
func (i *Instrument) Named() string { return strings.TrimSpace(i.Kind.Name + " " + i.Size) }

func markOf(l Listed) Mark {
	switch {
	case l.AtShop:
		return AtShop
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

// Choice is a key with its name.
type Choice struct {
	Key  string `json:"key"`
	Name string `json:"name"`
}
