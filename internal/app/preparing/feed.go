package preparing

import (
	"context"
	"fmt"
	"io"
	"strings"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/core/day"
	"solfeggio/internal/formats"
	"solfeggio/internal/store"
	"solfeggio/internal/store/upkeeprows"
)

// Feed is the address under which a calendar program reads what is planned.
type Feed struct {
	Shared bool `json:"shared" doc:"There is an address"`
}

// Sharing is the secret part of a new address. It is made by the client and kept here as a digest only, so that nobody reads it off a
// copy of the database.
type Sharing struct {
	Secret string `json:"secret,omitempty" maxLength:"64" pattern:"^[A-Za-z0-9_-]*$" doc:"At least 32 characters of chance; left out to end the address"`
}

// Feed says whether the calendar has an address.
func (r *Room) Feed(ctx context.Context, by journal.Person) (Feed, error) {
	var f Feed
	err := r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		f.Shared, err = upkeeprows.HasFeed(ctx, tx)
		return err
	})
	return f, err
}

// Share makes a new address; the one before leads nowhere from then on. Without a secret it only ends it.
func (r *Room) Share(ctx context.Context, by journal.Person, in Sharing) (Feed, error) {
	if err := by.NeedInPerson(); err != nil {
		return Feed{}, err
	}
	var digest []byte // of none, which ends the address
	if in.Secret != "" {
		var err error
		if digest, err = journal.NewDigest(in.Secret); err != nil {
			return Feed{}, err
		}
	}
	return school.Write(ctx, r.schools, by, journal.MayChangeSettings, func(tx *store.Tx, _ *school.Snapshot) (Feed, error) {
		return Feed{Shared: digest != nil}, upkeeprows.SetFeed(ctx, tx, digest)
	})
}

// FeedOf writes the calendar to whoever has its secret.
func (r *Room) FeedOf(ctx context.Context, secret string, w io.Writer) error {
	id, err := r.schools.DB.SchoolOfFeed(ctx, journal.Digest(secret))
	if err != nil {
		return journal.InPlainWords(err)
	}
	return r.Calendar(ctx, journal.Person{School: id, Role: journal.Viewer}, w)
}

// calendarAhead is how far ahead the calendar tells, and calendarBack how far back.
const (
	calendarAhead = 400
	calendarBack  = 30
)

// Calendar writes concerts, planned work and due-back days. It names instruments by their tags and nobody by name.
func (r *Room) Calendar(ctx context.Context, by journal.Person, w io.Writer) error {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return err
	}
	var list []formats.Occasion
	add := func(uid string, on day.Day, summary, detail string) {
		if on >= s.Today-calendarBack && on <= s.Today+calendarAhead {
			list = append(list, formats.Occasion{UID: uid + "@solfeggio", On: on, Summary: summary, Detail: detail})
		}
	}
	for _, c := range s.Concerts {
		add("concert-"+c.ID.String(), c.HeldOn, c.Name, strings.Join(s.EnsembleNames(c.Ensembles), ", "))
	}
	var days []day.Day
	byDay := map[day.Day][]string{}
	for _, p := range PlannedUntil(r.schools.Catalog, s, s.Today+calendarAhead) {
		if byDay[p.On] == nil {
			days = append(days, p.On)
		}
		byDay[p.On] = append(byDay[p.On], p.Tag+" "+p.PartName)
	}
	for _, d := range days {
		add(
			fmt.Sprintf("strings-%s-%s", d, by.School),
			d,
			fmt.Sprintf("Change %s", plural(len(byDay[d]), "string")),
			strings.Join(byDay[d], ", "),
		)
	}
	weeks := map[day.Day][]string{}
	for _, p := range s.Season {
		if i := s.ByID[p.Instrument]; i != nil {
			weeks[p.Monday] = append(weeks[p.Monday], i.Tag)
		}
	}
	for d := s.Today - calendarBack; d <= s.Today+calendarAhead; d++ {
		if tags := weeks[d]; len(tags) > 0 {
			add(fmt.Sprintf("season-%s-%s", d, by.School), d, fmt.Sprintf("This week: %s of the season’s plan", plural(len(tags), "piece")),
				strings.Join(tags, ", "))
		}
	}
	for _, t := range s.Trips {
		if t.DrivenAt == nil {
			add("trip-"+t.ID.String(), t.On, "Trip to the shops", t.Driver)
		}
	}
	back := map[day.Day][]string{}
	for _, i := range s.Instruments {
		if i.HandOver != nil && i.HandOver.DueBackOn != nil {
			back[*i.HandOver.DueBackOn] = append(back[*i.HandOver.DueBackOn], i.Tag)
		}
	}
	for d := s.Today - calendarBack; d <= s.Today+calendarAhead; d++ {
		if tags := back[d]; len(tags) > 0 {
			add(
				fmt.Sprintf("back-%s-%s", d, by.School),
				d,
				fmt.Sprintf("%s due back", plural(len(tags), "instrument")),
				strings.Join(tags, ", "),
			)
		}
	}
	deadlines, err := r.Deadlines(s)
	if err != nil {
		return err
	}
	for _, x := range deadlines {
		add(fmt.Sprintf("begin-%s-%s-%s", strings.ReplaceAll(x.What, " ", "-"), x.By, by.School), x.By, "Latest day to "+x.What, "")
	}
	return formats.WriteCalendar(w, s.School.Name, r.schools.Now(), list)
}

func plural(n int, of string) string {
	if n == 1 {
		return "1 " + of
	}
	return fmt.Sprintf("%d %ss", n, of)
}
