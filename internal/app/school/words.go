package school

import (
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/restring"
	"solfeggio/internal/core/usage"
	"solfeggio/internal/formats"
)

// Words are what every screen says alike, and what forms begin with.
type Words struct {
	Marks    []Word   `json:"marks" doc:"The gravest first"`
	Grades   []Word   `json:"grades" doc:"The best first"`
	Actions  []Action `json:"actions" doc:"What a finding asks for, the mildest first"`
	Defaults Defaults `json:"defaults"`
	Sheets   []Word   `json:"label_sheets" doc:"Sheets of labels that can be printed, the usual one first"`
	CardCode string   `json:"card_code" doc:"What the code of a player's card begins with"`
}

// A Word is how a key is said.
type Word struct {
	Key   string `json:"key"`
	Words string `json:"words"`
	Short string `json:"short,omitempty" doc:"Where there is little room; left out for the same"`
}

// An Action is how what a finding asks for is said.
type Action struct {
	Key    string `json:"key"`
	Words  string `json:"words"`
	ToShop bool   `json:"to_shop" doc:"A repair shop does it"`
}

var shortGrades = map[condition.Grade]string{
	condition.Concert: "concert",
	condition.Class:   "class",
	condition.Limping: "playable",
	condition.Silent:  "not to be played",
}

// Defaults are what forms begin with.
type Defaults struct {
	BoxMinutes       int     `json:"box_minutes" doc:"Of the time box"`
	PlayFactor       float64 `json:"play_factor" doc:"Share of a rehearsal that is playing"`
	VacationShare    float64 `json:"vacation_share" doc:"Share of practice that survives in a break"`
	ConcertMinutes   int     `json:"concert_minutes"`
	RehearsalMinutes int     `json:"rehearsal_minutes"`
	StringMinutes    int     `json:"string_minutes" doc:"For changing strings on a school day"`
}

// CardCode is what the code of a player's card begins with, so that a scan tells it from a tag.
const CardCode = "PL-"

// SaidAlike is what every screen says alike.
func SaidAlike() Words {
	w := Words{CardCode: CardCode, Marks: Marks, Defaults: Defaults{
		BoxMinutes: 25, PlayFactor: usage.DefaultPlayFactor, VacationShare: usage.DefaultVacationShare, ConcertMinutes: 90,
		RehearsalMinutes: 50,
		StringMinutes:    restring.UsualMinutes,
	}}
	for _, g := range condition.Grades {
		w.Grades = append(w.Grades, Word{string(g), g.Words(), shortGrades[g]})
	}
	for _, sheet := range formats.Sheets {
		w.Sheets = append(w.Sheets, Word{Key: sheet.Key, Words: sheet.Name})
	}
	for _, a := range condition.Actions {
		w.Actions = append(w.Actions, Action{string(a), a.Words(), a.NeedsShop()})
	}
	return w
}
