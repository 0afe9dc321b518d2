// Package wording holds the wording of what a school writes to players: the agreement and the notices. A school words them
// itself; places in braces, such as {player}, are filled in.
//
// The wordings that come with the program are its own, no legal text: a school has its own looked over by whoever is
// responsible there.
package wording

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// A Letter is something that a school writes.
type Letter struct {
	Key     string   `json:"key"`
	Name    string   `json:"name"`
	Places  []string `json:"places" doc:"What may stand in braces"`
	Wording string   `json:"wording" doc:"The first line is its heading"`
}

// Keys of the letters.
const (
	Agreement   = "agreement"
	DueBack     = "due-back"
	KitMissing  = "kit-missing"
	Charge      = "charge"
	RentalEnds  = "rental-ends"
	ShopJob     = "shop-job"
	ShopAnswer  = "shop-answer"
	OwnerTold   = "owner-told"
	maxWordings = 10_000
)

// All are the letters with the wording that the program comes with.
var All = []Letter{
	{
		Agreement,
		"Agreement at the hand-out",
		[]string{"player", "instrument", "tag", "school", "due_back", "today"},
		`Agreement for the loan of {tag}
{school} lends {player} the {instrument} with the tag {tag} from {today} until {due_back}, with what stands in its kit below.

It is for {player} alone and is not lent on. It is played, cleaned and cased as shown in class; it never stays in a car, on a chair or open on the floor.

What is broken, bent or missing is reported at the next lesson, before anybody tries to mend it. Pliers, glue and household cleaners stay away from it.

Wear is the school's. For damage that careful handling would have avoided the school may ask for a part of the repair, at most the instrument's present worth.

It comes back by {due_back}, with its kit, and earlier if {player} leaves the school or changes instrument.`,
	},
	{
		DueBack,
		"An instrument is due back",
		[]string{"player", "instrument", "tag", "school", "due_back"},
		`Please bring {tag} back by {due_back}
Dear {player},

the {instrument} {tag} is due back at {school} by {due_back}, in its case and with its kit. Dry it and empty the case of paper and food first.

If you need it longer, say so before that day.`,
	},
	{KitMissing, "Parts of a kit are missing", []string{"player", "instrument", "tag", "school", "missing"}, `Missing from the kit of {tag}
Dear {player},

from the kit of the {instrument} {tag} there is missing: {missing}.

Look at home and in your bag, please, and bring it to the next lesson. If it is gone, tell us, so that we can replace it.

{school}`},
	{Charge, "A charge after a return", []string{"player", "instrument", "tag", "school", "amount", "reason"}, `About the repair of {tag}
Dear {player},

when the {instrument} {tag} came back, this was found: {reason}.

The repair goes beyond wear. The school asks for {amount} of it. If you see it otherwise, or if it cannot be paid at once, speak to us: nothing is decided over your head.

{school}`},
	{RentalEnds, "A rental ends", []string{"player", "instrument", "tag", "school", "due_back"}, `{tag} goes back to its owner on {due_back}
Dear {player},

the {instrument} {tag} is rented and goes back to its owner on {due_back}. Bring it in a week before, please, so that there is time to clean it and to find you another.

{school}`},
	{
		ShopJob,
		"A repair shop is asked for a quote",
		[]string{"shop", "instrument", "tag", "school", "works", "asks", "not_wanted", "decides", "phone"},
		`Please quote for {tag}, a {instrument}
Dear {shop},

what would this cost on the {instrument} with the tag {tag}, and until when could it be done?

{works}
{asks}

Please leave alone: {not_wanted}

Before you do more than that, ask {decides}, {phone}. A sheet goes with the instrument.

{school}`,
	},
	{
		ShopAnswer,
		"A repair shop is told what was decided",
		[]string{"shop", "instrument", "tag", "school", "works", "asks", "not_wanted", "decides", "phone", "answer"},
		`About your quote for {tag}
Dear {shop},

thank you for your quote for the {instrument} with the tag {tag}. {answer}

{school}`,
	},
	{
		OwnerTold,
		"The owner of a rented instrument is told what is wrong",
		[]string{"owner", "contract", "instrument", "tag", "school", "found", "phone"},
		`Something is wrong with the {instrument} {tag}
Dear {owner},

on your {instrument}, our tag {tag}, contract {contract}, we found: {found}.

We have nothing done to it. Please tell us whether you see to it, or bring us another: {phone}.

{school}`,
	},
}

// Find finds a letter by its key.
func Find(key string) (Letter, bool) {
	n := slices.IndexFunc(All, func(l Letter) bool { return l.Key == key })
	if n < 0 {
		return Letter{}, false
	}
	return All[n], true
}

var place = regexp.MustCompile(`\{([^{}]*)\}`)

// Check says what is wrong with a wording of the letter: it is empty, too long, or a place is none of its own.
func (l Letter) Check(wording string) error {
	if strings.TrimSpace(wording) == "" {
		return fmt.Errorf("says nothing")
	}
	if len(wording) > maxWordings {
		return fmt.Errorf("is longer than %d characters", maxWordings)
	}
	for _, found := range place.FindAllStringSubmatch(wording, -1) {
		if !slices.Contains(l.Places, found[1]) {
			return fmt.Errorf("has the place {%s}, which is unknown here; use {%s}", found[1], strings.Join(l.Places, "}, {"))
		}
	}
	if rest := place.ReplaceAllString(wording, ""); strings.ContainsAny(rest, "{}") {
		return fmt.Errorf("has a brace without its other half")
	}
	return nil
}

// Fill puts values into the places of a wording and takes its first line off as the heading. A place without a value stays
// as it is, so that it is seen. Values are not read for places again.
func Fill(wording string, values map[string]string) (heading, body string) {
	text := place.ReplaceAllStringFunc(strings.TrimSpace(wording), func(p string) string {
		if v, ok := values[p[1:len(p)-1]]; ok {
			return v
		}
		return p
	})
	heading, body, _ = strings.Cut(text, "\n")
	return strings.TrimSpace(heading), strings.TrimSpace(body)
}
