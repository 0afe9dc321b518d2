package shop

import (
	"fmt"
	"slices"
)

// State is how far a job is, from the first complaint to back in its slot.
type State string

// The states, in the order in which a job usually takes them.
const (
	Wanted    State = "wanted"     // somebody thinks that a shop should see it
	Asked     State = "asked"      // a shop was asked what it would cost
	Quoted    State = "quoted"     // it said so
	Agreed    State = "agreed"     // it is to be done
	Booked    State = "booked"     // it rides on a trip, or the shop fetches it
	Away      State = "away"       // it is at the shop
	Back      State = "back"       // it is at school again, and nobody has looked it over
	Closed    State = "closed"     // it was checked in
	CalledOff State = "called-off" // it stays as it is
)

// States lists the states and how each is said.
var States = []struct {
	State State
	Words string
}{
	{Wanted, "wanted"}, {Asked, "asked for a quote"}, {Quoted, "quoted"}, {Agreed, "agreed"}, {Booked, "on a trip"}, {Away, "at the shop"},
	{Back, "back, to be checked in"}, {Closed, "closed"}, {CalledOff, "called off"},
}

// Words is how the state is said.
func (s State) Words() string {
	for _, known := range States {
		if known.State == s {
			return known.Words
		}
	}
	return string(s)
}

// Open reports whether something of the job is still to be done.
func (s State) Open() bool { return s != Closed && s != CalledOff }

// Begun reports whether the instrument has left for the shop: what is asked for does not change any more.
func (s State) Begun() bool { return s == Away || s == Back || s == Closed }

// Step is what moves a job on.
type Step string

// The steps.
const (
	Ask     Step = "ask"
	Quote   Step = "quote"
	Accept  Step = "accept"
	Refuse  Step = "refuse"
	Choose  Step = "choose" // another shop, or none
	Book    Step = "book"
	Unbook  Step = "unbook"
	Send    Step = "send"
	Fetch   Step = "fetch" // back from the shop
	CheckIn Step = "check-in"
	CallOff Step = "call-off"
)

// steps says from which states a step may be taken, and where it leads. A shop whose price is known need not be asked: what is wanted may
// be agreed or sent at once.
var steps = map[Step]struct {
	from  []State
	to    State
	words string
}{
	Ask:     {[]State{Wanted, Asked, Quoted}, Asked, "ask a shop"},
	Quote:   {[]State{Wanted, Asked, Quoted}, Quoted, "take down a quote"},
	Accept:  {[]State{Wanted, Quoted}, Agreed, "agree"},
	Refuse:  {[]State{Quoted}, Wanted, "refuse the quote"},
	Choose:  {[]State{Wanted, Asked, Quoted, Agreed}, Wanted, "choose another shop"},
	Book:    {[]State{Agreed, Booked}, Booked, "put it on a trip"},
	Unbook:  {[]State{Booked}, Agreed, "take it off the trip"},
	Send:    {[]State{Wanted, Agreed, Booked}, Away, "send it"},
	Fetch:   {[]State{Away}, Back, "note that it is back"},
	CheckIn: {[]State{Away, Back}, Closed, "check it in"},
	CallOff: {[]State{Wanted, Asked, Quoted, Agreed, Booked}, CalledOff, "call it off"},
}

// How many days before its end a quote presses, and after how many an answer is missed (our own).
const (
	QuotePressesDays = 7
	AnswerMissedDays = 10
)

// After is the state to which a step leads. The error says why the step cannot be taken.
func (s State) After(step Step) (State, error) {
	way, known := steps[step]
	if !known {
		return s, fmt.Errorf("%q is no step of a job", step)
	}
	if !slices.Contains(way.from, s) {
		return s, fmt.Errorf("you cannot %s: the job is %s", way.words, s.Words())
	}
	return way.to, nil
}

// Steps lists what can be done next.
func (s State) Steps() []Step {
	list := []Step{}
	for _, step := range []Step{Ask, Quote, Accept, Refuse, Book, Unbook, Send, Fetch, CheckIn, CallOff} {
		if _, err := s.After(step); err == nil {
			list = append(list, step)
		}
	}
	return list
}

// QuoteDiffers is by how much the total of a quote is more than the sum of its lines, in cents; 0 where it says no lines.
func QuoteDiffers(lines []int64, total int64) int64 {
	if len(lines) == 0 {
		return 0
	}
	for _, cents := range lines {
		total -= cents
	}
	return total
}
