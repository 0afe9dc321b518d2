package today

import (
	"context"
	"slices"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/peoplerows"
	"solfeggio/internal/store/playerrows"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/supplyrows"
)

// FirstStep is something that a new school enters once. None is needed, each is good for something.
type FirstStep struct {
	Key   string `json:"key"`
	Title string `json:"title"`
	For   string `json:"for" doc:"What it is good for"`
	Path  string `json:"path" doc:"Of the page on which it is done"`
	State string `json:"state" enum:"open,done,aside" doc:"Aside: the school does without"`
}

// A step of the list and how one sees that it was taken.
type step struct {
	key, title, good, path string
	taken                  func(s *school.Snapshot, k kept) bool
}

// kept is what a snapshot does not hold.
type kept struct {
	people   []peoplerows.Person
	products []benchrows.Product
	bought   []supplyrows.SupplySetting
}

var steps = []step{
	{
		"instruments", "Bring your instruments in",
		"everything else hangs on them; a list from a spreadsheet will do, or add them one by one",
		"/settings/instruments", func(s *school.Snapshot, _ kept) bool { return len(s.Instruments) > 0 },
	},
	{
		"terms", "Enter terms and breaks", "playing time, due dates and weeks of term are worked out from them",
		"/settings/calendar", func(s *school.Snapshot, _ kept) bool { return len(s.Terms) > 0 },
	},
	{
		"rehearsals", "Enter when each ensemble rehearses", "how much is played, and who cannot play at the next rehearsal",
		"/settings/ensembles", func(s *school.Snapshot, _ kept) bool {
			return slices.ContainsFunc(s.Ensembles, func(e schoolrows.Ensemble) bool { return len(e.Rehearsals) > 0 })
		},
	},
	{
		"players", "Bring your players in", "who has what, which size fits, letters home",
		"/hand-out/roster", func(s *school.Snapshot, _ kept) bool { return len(s.Roster) > 0 },
	},
	{
		"seats", "Say which ensemble each player plays in", "several at once under Players; playing time and rehearsals hang on it",
		"/hand-out/players", func(s *school.Snapshot, _ kept) bool {
			return slices.ContainsFunc(s.Roster, func(p playerrows.Player) bool { return len(p.Ensembles) > 0 })
		},
	},
	{
		"looked", "Look your instruments over once", "on a phone at the rack, a minute each; until then each counts as sound",
		"/room?as=list", func(s *school.Snapshot, _ kept) bool {
			return slices.ContainsFunc(s.Instruments, func(i *school.Instrument) bool { return !i.NeverSeen() })
		},
	},
	{
		"hand-out", "Hand instruments out", "every dent has a date and a name, and care goes by who plays",
		"/hand-out", func(s *school.Snapshot, _ kept) bool {
			return slices.ContainsFunc(s.Instruments, func(i *school.Instrument) bool { return i.InHands() })
		},
	},
	{
		"concerts", "Enter the next concert", "strings settle, polish and checks come in time for it",
		"/settings/calendar", func(s *school.Snapshot, _ kept) bool { return len(s.Concerts) > 0 },
	},
	{
		"shelves", "Draw your storage room", "the wall as it stands, stocktakes, labels for shelves",
		"/settings/rooms", func(s *school.Snapshot, _ kept) bool { return len(s.Shelves) > 0 },
	},
	{
		"products", "Say what you disinfect with", "the bench plans with it, as its label says",
		"/settings/products", func(_ *school.Snapshot, k kept) bool { return len(k.products) > 0 },
	},
	{
		"prices", "Enter what supplies cost", "orders add up, and what a kit costs in a year",
		"/supplies/stock", func(_ *school.Snapshot, k kept) bool {
			return slices.ContainsFunc(k.bought, func(s supplyrows.SupplySetting) bool { return s.PackPriceCents != nil })
		},
	},
	{
		"shops", "Enter your repair shop", "repairs are followed from the complaint to the shelf",
		"/shop/shops", func(s *school.Snapshot, _ kept) bool { return len(s.Shops) > 0 },
	},
	{
		"people", "Give helpers a way in", "the log says who did what",
		"/settings/people", func(_ *school.Snapshot, k kept) bool { return len(k.people) > 1 },
	},
}

// FirstSteps lists what a new school can enter, in a good order, and how far it has come.
func (r *Room) FirstSteps(ctx context.Context, by journal.Person) ([]FirstStep, error) {
	s, err := r.schools.Snapshot(ctx, by)
	if err != nil {
		return nil, err
	}
	var k kept
	var aside []string
	err = r.schools.Read(ctx, by, func(tx *store.Tx) (err error) {
		if aside, err = schoolrows.StepsAside(ctx, tx); err != nil {
			return err
		}
		if k.people, err = peoplerows.People(ctx, tx); err != nil {
			return err
		}
		if k.products, err = benchrows.Products(ctx, tx); err != nil {
			return err
		}
		k.bought, err = supplyrows.SupplySettings(ctx, tx)
		return err
	})
	if err != nil {
		return nil, err
	}
	list := []FirstStep{}
	for _, st := range steps {
		state := "open"
		switch {
		case st.taken(s, k):
			state = "done"
		case slices.Contains(aside, st.key):
			state = "aside"
		}
		list = append(list, FirstStep{st.key, st.title, st.good, st.path, state})
	}
	return list, nil
}

// Aside says that a school does without a first step, or wants it after all.
type Aside struct {
	Key   string `json:"key" maxLength:"40"`
	Aside bool   `json:"aside"`
}

// PutAside keeps it.
func (r *Room) PutAside(ctx context.Context, by journal.Person, in Aside) error {
	if !slices.ContainsFunc(steps, func(s step) bool { return s.key == in.Key }) {
		return &journal.Fault{
			Kind: journal.Invalid, Message: "There is no such step.", Fields: []journal.Field{{Path: "key", Message: "is no first step"}},
		}
	}
	return r.schools.ChangeSettings(ctx, by, "put-step-aside", in, func(tx *store.Tx, _ *school.Snapshot) error {
		aside, err := schoolrows.StepsAside(ctx, tx)
		if err != nil {
			return err
		}
		aside = slices.DeleteFunc(aside, func(key string) bool { return key == in.Key })
		if in.Aside {
			aside = append(aside, in.Key)
		}
		return schoolrows.SetStepsAside(ctx, tx, aside)
	})
}
