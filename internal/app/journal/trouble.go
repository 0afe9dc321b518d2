package journal

import (
	"errors"

	"solfeggio/internal/store"
)

// Trouble is what a person hears of a database that does not do its part.
type Trouble struct {
	Message string
	NoRoom  bool // it is full
	is      error
}

// Unavailable is the trouble of a database that does not answer.
var Unavailable = Trouble{is: store.ErrUnavailable, Message: "The database does not answer just now. Nothing was changed, and nothing that was kept is lost; try again in a moment."}

var troubles = []Trouble{
	{is: store.ErrInDoubt, Message: "The database stopped answering while this was being kept, so nobody knows yet whether it was. Send it again as it is: it is looked up by its key first and done once. What was sent without a key: look before you do it again."},
	{is: store.ErrReadOnly, Message: "The database can only be read just now, as while another takes over. Nothing was changed; look at what is there, and try again in a few minutes."},
	{is: store.ErrFull, NoRoom: true, Message: "The database has no room left, so nothing was changed. Everything that was kept is there and can be read; tell whoever runs Solfeggio."},
	Unavailable,
	{is: store.ErrWaiting, Message: "Somebody is changing a great deal at the school just now, and one waits for the other. Nothing was changed; press again in a moment."},
}

// TroubleOf finds the trouble of the database that an error comes from.
func TroubleOf(err error) (t Trouble, is bool) {
	for _, t := range troubles {
		if errors.Is(err, t.is) {
			return t, true
		}
	}
	return Trouble{}, false
}
