package roster

import (
	"strings"

	"github.com/google/uuid"

	"solfeggio/internal/store/playerrows"
)

// recognize finds the known player of each row of a roster: by the id; else, where the row or the player has none, by name
// and year; else by a name that only one player who is still here has, since a year on everybody has moved up. A row whose
// name fits several players gets them all, a new player none. No player is taken by two rows.
func recognize(known []playerrows.Player, rows []rosterRow) [][]*playerrows.Player {
	byID, byName := map[string][]*playerrows.Player{}, map[string][]*playerrows.Player{}
	for n := range known {
		p := &known[n]
		byID[p.ExternalID] = append(byID[p.ExternalID], p)
		byName[rosterName(p.GivenName, p.FamilyName)] = append(byName[rosterName(p.GivenName, p.FamilyName)], p)
	}
	found := make([][]*playerrows.Player, len(rows))
	taken := map[uuid.UUID]bool{}
	pass := func(among func(rosterRow) []*playerrows.Player, fits func(*playerrows.Player, rosterRow) bool) {
		for n, row := range rows {
			if len(found[n]) > 0 {
				continue
			}
			for _, p := range among(row) {
				if !taken[p.ID] && fits(p, row) {
					found[n] = append(found[n], p)
				}
			}
			for _, p := range found[n] {
				taken[p.ID] = true
			}
		}
	}
	sameID := func(r rosterRow) []*playerrows.Player { return byID[r.id] }
	sameName := func(r rosterRow) []*playerrows.Player { return byName[rosterName(r.given, r.family)] }
	mayBe := func(p *playerrows.Player, r rosterRow) bool { return r.id == "" || p.ExternalID == "" }
	pass(sameID, func(_ *playerrows.Player, r rosterRow) bool { return r.id != "" })
	pass(sameName, func(p *playerrows.Player, r rosterRow) bool { return mayBe(p, r) && p.GradeYear == r.year() })
	pass(sameName, func(p *playerrows.Player, r rosterRow) bool { return mayBe(p, r) && p.LeftOn == nil })
	return found
}

// rosterName is a name as it is compared.
func rosterName(given, family string) string { return strings.ToLower(given + "\x00" + family) }

func (r rosterRow) year() string {
	if r.grade == nil {
		return ""
	}
	return *r.grade
}
