// Package report is the life of what a player says on the card of an instrument: from sent to settled, whatever way people take.
//
//	         noted                     cleared (the finding)
//	open ───────────────────▶ found ───────────────────────▶ (mended)
//	 │  ▲                       ▲  ◀──── the finding opens again
//	 │  └── taken back ── any   │ noted
//	 │ looked                   │
//	 ├─────────▶ seen ──────────┤
//	 │            │ checked in, at school again from a shop
//	 │            ├─────────▶ mended
//	 │ answered   │ answered
//	 ├────────────┴─────────▶ answered
//	 │ looked over│ looked over
//	 └────────────┴─────────▶ sound
//
// Found says that a finding was made of it: whether that is mended, the finding knows. What else has a shop in it (on its way, away, back)
// is told by the instrument's job while it is open, and is no state of the report.
package report

// A State is how far a report is.
type State string

// The states.
const (
	Open     State = "open"     // nobody has looked
	Seen     State = "seen"     // somebody has, and it is not settled
	Found    State = "found"    // it became a finding
	Answered State = "answered" // settled with a word to the player
	Sound    State = "sound"    // the whole instrument was looked over, and nothing like it was found
	Mended   State = "mended"   // the instrument came back from a shop
)

// States lists all, in the order of a life.
var States = []State{Open, Seen, Found, Answered, Sound, Mended}

// An Act is what people do that carries a report along.
type Act string

// The acts.
const (
	Looks     Act = "looks"      // takes the instrument back, lends another, asks a shop, notes something else
	Notes     Act = "notes"      // notes a finding to which what was said leads
	Answers   Act = "answers"    // says a word to the player
	LooksOver Act = "looks over" // walks along the whole instrument and finds nothing like it
	ChecksIn  Act = "checks in"  // takes it in from a shop
	TakesBack Act = "takes back" // undoes what settled it
)

// Acts lists all.
var Acts = []Act{Looks, Notes, Answers, LooksOver, ChecksIn, TakesBack}

// After is the state after an act. An act that does not touch a report in its state leaves it there.
func (s State) After(a Act) State {
	if a == TakesBack {
		return Open
	}
	if s.Settled() {
		return s
	}
	return map[Act]State{Looks: Seen, Notes: Found, Answers: Answered, LooksOver: Sound, ChecksIn: Mended}[a]
}

// Settled reports whether nothing more is to be done about the report itself.
func (s State) Settled() bool { return s != Open && s != Seen }

// Facts are what a player is told by.
type Facts struct {
	State    State
	Cleared  bool // the finding that was made of it is cleared
	Coming   bool // a shop is to mend the instrument, and it is still at school
	Away     bool // it is at a shop
	Back     bool // it is back from there, and nobody has tried it yet
	Answered bool // a word was said to the player
}

// AtShop reports whether what was reported lies at a shop and waits for it.
func (f Facts) AtShop() bool { return f.Told() == atShop }

const atShop = "At the shop"

// Told is what the card says became of a report, in English; empty where the answer says it all.
func (f Facts) Told() string {
	switch {
	case f.Cleared || f.State == Mended:
		return "Mended"
	case f.State == Sound:
		return "Looked over: nothing wrong was found"
	case f.State == Answered:
		return ""
	case f.Away:
		return atShop
	case f.Back:
		return "Back from the shop, to be tried first"
	case f.Coming && f.State != Open:
		return "Seen: it goes to a shop"
	case f.State == Open:
		return "Sent, nobody has looked yet"
	case f.Answered:
		return ""
	}
	return "Seen: somebody will look at it"
}
