package catalog

import (
	"fmt"
	"slices"
)

// A Mistake is something that players keep doing, and what it does to their instrument.
type Mistake struct {
	Key        string   `json:"key"`
	Name       string   `json:"name" doc:"As a director says it"`
	Prevents   []string `json:"prevents" doc:"What steps that guard against it say that they prevent"`
	Everywhere bool     `json:"everywhere,omitempty" doc:"It is told to every player, whatever the steps say"`
	Right      string   `json:"right" doc:"What is done instead"`
	Wrong      string   `json:"wrong" doc:"What is done by mistake"`
	Never      string   `json:"never" doc:"The same in a few words, for a card"`
	Findings   []string `json:"findings" jsonschema:"minItems=1" doc:"What it is found by afterwards"`
	Scene      string   `json:"scene,omitempty" doc:"Name of the pair of pictures of right and wrong; left out for none"`
}

// PlayerRhythms are the rhythms of what players do by themselves, in the order of a card.
var PlayerRhythms = []string{"assembly", "every time", "casing", "weekly"}

// PlayerRoutines are what the player of an instrument does by the school's choices, in the order of PlayerRhythms.
func (c *Catalog) PlayerRoutines(of Subject) []Resolved {
	var list []Resolved
	for _, rhythm := range PlayerRhythms {
		for _, key := range of.Kind.Routines {
			r := c.routines[key]
			if r.Rhythm != rhythm || r.Who != Player {
				continue
			}
			if got, wanted := c.Resolve(r, of); wanted {
				list = append(list, got)
			}
		}
	}
	return list
}

// OnCard lists the steps of a routine that stand on a player's card: those with a short wording of which no material has taken
// anything away.
func (r Resolved) OnCard() []ResolvedStep {
	var list []ResolvedStep
	for _, s := range r.Steps {
		if s.Short != "" && s.Gate == "" {
			list = append(list, s)
		}
	}
	return list
}

// MistakesOf lists the mistakes against which the player's routines of an instrument guard, as the school does them, and those that are
// told to every player.
func (c *Catalog) MistakesOf(of Subject) []*Mistake {
	guarded := map[string]bool{}
	for _, r := range c.PlayerRoutines(of) {
		for _, s := range r.OnCard() {
			guarded[s.Prevents] = true
		}
	}
	var list []*Mistake
	for n := range c.Mistakes {
		if m := &c.Mistakes[n]; m.Everywhere || slices.ContainsFunc(m.Prevents, func(p string) bool { return guarded[p] }) {
			list = append(list, m)
		}
	}
	return list
}

// Mistake finds a mistake by its key.
func (c *Catalog) Mistake(key string) (*Mistake, bool) { m, ok := c.mistakes[key]; return m, ok }

// checkMistakes finds mistakes whose findings nobody knows, and steps of players that prevent what is no mistake.
func (c *Catalog) checkMistakes() error {
	prevented := map[string]bool{}
	for _, m := range c.Mistakes {
		if len(m.Prevents) == 0 && !m.Everywhere {
			return fmt.Errorf("mistake %s: no step prevents it", m.Key)
		}
		for _, code := range m.Findings {
			if c.findings[code] == nil {
				return fmt.Errorf("mistake %s: no finding %q", m.Key, code)
			}
		}
		for _, p := range m.Prevents {
			prevented[p] = true
		}
	}
	for _, r := range c.Routines {
		if r.Who != Player || !slices.Contains(PlayerRhythms, r.Rhythm) {
			continue
		}
		for _, s := range r.Steps {
			if s.Prevents != "" && !prevented[s.Prevents] {
				return fmt.Errorf("routine %s: it prevents %q, which is no mistake", r.Key, s.Prevents)
			}
		}
	}
	return nil
}
