package catalog

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// eachStep goes through the steps of every routine of every kind under every option of a practice, the others at their defaults and all
// boards of bare ebony.
func eachStep(c *Catalog, see func(k *Kind, r Resolved, s ResolvedStep)) {
	sides := []Choices{c.Choose()}
	for _, p := range c.Practices {
		for _, o := range p.Options[1:] {
			sides = append(sides, c.Choose(Choices{"board-surface": "ebony"}, Choices{p.Key: o.Key}))
		}
	}
	for i := range c.Kinds {
		k := &c.Kinds[i]
		for _, key := range k.Routines {
			r, _ := c.Routine(key)
			for _, side := range sides {
				resolved, _ := c.Resolve(r, Subject{Kind: k, Body: k.Bodies[0], Choices: side})
				for _, s := range resolved.Steps {
					see(k, resolved, s)
				}
			}
		}
	}
}

// What dissolves varnish is in no player's hands, has a caution before the first step, and its cloth goes into no case. Common practice, no
// published source.
func TestRosinRemoverIsForTheDeepClean(t *testing.T) {
	met := map[string]bool{}
	eachStep(Embedded(), func(k *Kind, r Resolved, s ResolvedStep) {
		if !slices.Contains(s.Products, "rosin-remover") {
			return
		}
		met[r.Key] = true
		assert.NotEqual(t, "player", r.Who, r.Key)
		assert.True(t, slices.ContainsFunc(r.Cautions, func(text string) bool {
			return strings.Contains(text, "dissolves varnish") && strings.Contains(text, "cloth of its own") &&
				strings.Contains(text, "never into a case")
		}), "%s cautions first", r.Key)
	})
	assert.Equal(t, map[string]bool{"strings-deep-clean": true}, met)
}

// Whatever is bathed and has rotors has them oiled before it is put away: a wet rotor seizes. Common practice, no published source.
func TestABathEndsWithOilOnTheRotors(t *testing.T) {
	c := Embedded()
	baths := 0
	for i := range c.Kinds {
		k := &c.Kinds[i]
		if !slices.Contains(k.Routines, "rotor-oil") {
			continue
		}
		for _, key := range k.Routines {
			if !strings.HasSuffix(key, "-bath") {
				continue
			}
			baths++
			r, _ := c.Routine(key)
			resolved, _ := c.Resolve(r, Subject{Kind: k, Body: k.Bodies[0], Choices: c.Choose()})
			wet := slices.IndexFunc(resolved.Steps, func(s ResolvedStep) bool { return slices.Contains(s.Products, "lukewarm-water") })
			oiled := slices.IndexFunc(resolved.Steps, func(s ResolvedStep) bool { return slices.Contains(s.Products, "rotor-oil") })
			assert.Greater(t, oiled, wet, "%s: %s", k.Name, key)
		}
	}
	assert.NotZero(t, baths)

	plain, _ := c.Kind("trombone")
	bath, _ := c.Routine("trombone-bath")
	resolved, _ := c.Resolve(bath, Subject{Kind: plain, Body: plain.Bodies[0], Choices: c.Choose()})
	for _, s := range resolved.Steps {
		assert.NotContains(t, s.Parts, "valves", "a trombone without rotor has none to oil")
	}
}

// A saxophone's mouthpiece is dried after playing. Common practice, no published source.
func TestSaxophoneMouthpiecesAreDried(t *testing.T) {
	c := Embedded()
	r, ok := c.Routine("saxophone-after-playing")
	require.True(t, ok)
	dried := func(s Step) bool {
		return slices.Contains(s.Parts, "mouthpiece") && slices.Contains(s.Products, "pull-through-swab")
	}
	assert.True(t, slices.ContainsFunc(r.Steps, dried))
}

// What spoils felt and cord is warned of before the first step of whatever brings it near them.
func TestGreaseNearFeltIsWarnedOfFirst(t *testing.T) {
	seen := false
	eachStep(Embedded(), func(k *Kind, r Resolved, s ResolvedStep) {
		grease := slices.ContainsFunc(s.Products, func(p string) bool {
			return slices.Contains([]string{"petroleum-jelly", "light-oil", "penetrating-oil"}, p)
		})
		if _, cord := k.Part("cord"); !grease || !cord {
			return
		}
		seen = true
		assert.True(t, slices.ContainsFunc(r.Cautions, func(text string) bool {
			return strings.Contains(text, "off") && strings.Contains(text, "cord and bars")
		}), r.Key)
	})
	assert.True(t, seen)
}

// First aid as the trade has it: strings that hold a hurt body together stay on and hold the bridge; no hand on a bent post while its
// bar is on; smoke is kept shut wherever it is spoken of. Common practice, no published source.
func TestFirstAidDoesNoHarm(t *testing.T) {
	c := Embedded()
	firstAid := func(code string) string {
		f, ok := c.Finding(code)
		require.True(t, ok, code)
		return strings.Join(f.FirstAid, " ")
	}
	for _, code := range []string{"open-seam", "crack", "top-sunken"} {
		assert.Contains(t, firstAid(code), "until they just hold the bridge", code)
	}
	assert.Regexp(t, "director takes the bar off first", firstAid("post-bent"))
	assert.Contains(t, firstAid("smoke-smell"), "Case shut")
	for _, s := range c.Symptoms {
		for _, check := range s.Checks {
			text := strings.Join(check.Fix, " ")
			assert.NotContains(t, text, "case open", s.Key)
			if check.Finding == "post-bent" {
				assert.Contains(t, text, "tell the director")
			}
		}
	}
}

// resolved is a routine of a kind in its usual body, as the choices have it.
func resolved(t *testing.T, kind, routine string, choices Choices) Resolved {
	c := Embedded()
	k, ok := c.Kind(kind)
	require.True(t, ok, kind)
	r, ok := c.Routine(routine)
	require.True(t, ok, routine)
	out, ok := c.Resolve(r, Subject{Kind: k, Body: k.Bodies[0], Choices: c.Choose(choices)})
	require.True(t, ok, routine)
	return out
}

// at is where the first step stands that says this.
func at(t *testing.T, r Resolved, words string) int {
	n := slices.IndexFunc(r.Steps, func(s ResolvedStep) bool { return strings.Contains(s.Do, words) })
	require.GreaterOrEqual(t, n, 0, "%s does not say %q", r.Key, words)
	return n
}

// inOrder checks that a routine says one thing after the other.
func inOrder(t *testing.T, r Resolved, words ...string) {
	for n := range words[1:] {
		assert.Less(t, at(t, r, words[n]), at(t, r, words[n+1]), "%s: %q comes before %q", r.Key, words[n], words[n+1])
	}
}

// Nothing wet and nothing that scratches touches fingerboard, pegs or chin rest until somebody has looked what they are made of, nor where
// they are stained or varnished; on bare ebony what was chosen is done. Common practice, no published source.
func TestUnknownBoardsStayDry(t *testing.T) {
	c := Embedded()
	harm := []string{
		"alcohol-wipe",
		"alcohol",
		"antibacterial-cleaner",
		"board-cleaner",
		"board-polish",
		"finest-steel-wool",
		"rosin-remover",
		"damp-cloth",
	}
	for _, surface := range []string{"unknown", "stained", "ebony"} {
		met := 0
		for _, chosen := range []Choices{
			{"ebony": "alcohol-wipe", "contact-wipe": "alcohol-wipe"},
			{"ebony": "board-polish", "strings-off": "two", "contact-wipe": "antibacterial", "peg-clean": "steel-wool"},
		} {
			for _, kind := range []string{"violin", "viola", "cello", "double-bass"} {
				k, _ := c.Kind(kind)
				for _, key := range k.Routines {
					r, _ := c.Routine(key)
					out, _ := c.Resolve(r, Subject{Kind: k, Body: "varnish", Choices: c.Choose(chosen, Choices{"board-surface": surface})})
					for _, s := range out.Steps {
						wooden := slices.ContainsFunc(
							s.Parts,
							func(p string) bool { return p == "fingerboard" || p == "pegs" || p == "chin-rest" },
						)
						if !wooden || !slices.ContainsFunc(s.Products, func(p string) bool { return slices.Contains(harm, p) }) {
							continue
						}
						met++
						assert.Equal(t, "ebony", surface, "%s, %s: %s", kind, key, s.Do)
					}
				}
			}
		}
		assert.Equal(t, surface == "ebony", met > 0, surface)
	}
}

// The swab ban sits on the clarinets' mouthpieces, not on their rubber. Common practice, no published source.
func TestOnlyClarinetMouthpiecesAreNotPulledThrough(t *testing.T) {
	c := Embedded()
	swab := Step{Do: "Pull it through.", Parts: []string{"mouthpiece"}, Products: []string{"pull-through-swab"}}
	for i := range c.Kinds {
		k := &c.Kinds[i]
		if p, ok := k.Part("mouthpiece"); !ok || p.Material != "hard-rubber" {
			continue
		}
		gate := c.gate(swab, Subject{Kind: k, Body: k.Bodies[0], Choices: c.Choose()})
		assert.Equal(t, k.Section == "Clarinets", gate != "", k.Name)
	}
}

// A flute's foot is held as its school has it, wherever it is put on or taken off. Common practice, no published source.
func TestTheFootIsHeldAsChosen(t *testing.T) {
	for _, routine := range []string{"flute-assembly", "flute-casing", "flute-after-playing"} {
		closed := resolved(t, "flute", routine, nil)
		assert.Contains(t, closed.Steps[at(t, closed, "oot joint o")].Do, "closed over its keys", routine)
		bare := resolved(t, "flute", routine, Choices{"flute-foot-hold": "no-key"})
		assert.Contains(t, bare.Steps[at(t, bare, "oot joint o")].Do, "bare end", routine)
		for _, s := range append(closed.Steps, bare.Steps...) {
			assert.NotContains(t, s.Do, "hands off the keys", routine)
		}
	}
}

// Whatever is put together by joints says what to do about one that will not go, before the first is joined: stop, once more, the
// technician. Common practice, no published source.
func TestAStiffJointStopsEveryAssembly(t *testing.T) {
	first := map[string]string{
		"recorder": "Put the joints together", "piccolo": "Turn the head joint in", "flute": "Put the foot joint on", "oboe": "Put the bell on",
		"clarinet-b-flat": "Put mouthpiece and barrel together", "clarinet-e-flat": "Put mouthpiece and barrel together",
		"clarinet-alto": "Put the joints together", "clarinet-bass": "Put the joints together", "bassoon": "Turn the wing joint into",
		"alto-saxophone": "Turn the mouthpiece onto", "tenor-saxophone": "Turn the mouthpiece onto",
		"baritone-saxophone": "Turn the mouthpiece onto",
	}
	c := Embedded()
	for i := range c.Kinds {
		k := &c.Kinds[i]
		if k.Family != "woodwind" {
			continue
		}
		require.Contains(t, first, k.Base())
		r := resolved(t, k.Key, k.Routines[0], nil)
		require.Equal(t, "assembly", r.Rhythm)
		stop := at(t, r, "will not go")
		assert.Less(t, stop, at(t, r, first[k.Base()]), k.Name)
		for _, word := range []string{"stop.", "once more", "technician"} {
			assert.Contains(t, r.Steps[stop].Do, word, k.Name)
		}
	}
}

// A low clarinet without its peg is played on a strap, so neither alone stops it. Common practice, no published source.
func TestALowClarinetPlaysWithPegOrStrap(t *testing.T) {
	c := Embedded()
	for _, key := range []string{"clarinet-alto", "clarinet-bass"} {
		k, _ := c.Kind(key)
		carried := 0
		for _, item := range c.KitOf(k).Items {
			if item.Supply == "floor-peg" || item.Supply == "low-clarinet-strap" {
				carried++
				assert.False(t, item.ToPlay, "%s: %s", key, item.Supply)
			}
		}
		assert.Equal(t, 2, carried, key)
	}
}

// Wipes name what they touch and what stays dry. Common practice, no published source.
func TestAWipeTurnsNoClamp(t *testing.T) {
	wipe := resolved(t, "violin", "contact-wipe", Choices{"contact-wipe": "alcohol-wipe", "board-surface": "ebony"})
	assert.Contains(t, wipe.Steps[at(t, wipe, "chin rest")].Do, "clamps and the ribs stay dry")
	p, _ := Embedded().Practice("ebony")
	o, _ := p.Option("alcohol-wipe")
	assert.Contains(t, o.Says, "cloth laid over the body")
}

// The order of work where another order does harm. Common practice, no published source.
func TestWorkInItsOrder(t *testing.T) {
	inOrder(
		t,
		resolved(t, "trumpet", "valve-brass-bath", nil),
		"Take the slides out",
		"pistons out in order",
		"through each slide",
		"through the leadpipe",
		"Rinse leadpipe and casings",
		"no drop is left",
		"Wipe each piston",
		"Grease the slides",
		"Oil the pistons",
		"Brush the mouthpiece",
		"well wrung damp cloth",
	)
	inOrder(t, resolved(t, "horn", "horn-after-playing", nil), "Take the mouthpiece out", "by the receiver", "Wipe it")
	inOrder(
		t,
		resolved(t, "trombone", "hand-slide-lubricate", nil),
		"without weight",
		"Draw it out a little",
		"a little cream",
		"Work it in",
	)
	inOrder(
		t,
		resolved(t, "clarinet-bass", "bass-clarinet-assembly", nil),
		"right side up",
		"Put the joints together",
		"Put the bell on",
		"floor peg in",
		"Put the neck in",
		"Put the mouthpiece on last",
	)
	inOrder(t, resolved(t, "clarinet-bass", "bass-clarinet-casing", nil), "dry neck and the mouthpiece", "Take the peg out", "the bell, then the joints")
	inOrder(
		t,
		resolved(t, "alto-saxophone", "saxophone-after-playing", nil),
		"Take the reed off",
		"neck out",
		"through the mouthpiece",
		"Swab the neck",
		"top of the body",
	)
	inOrder(
		t,
		resolved(t, "alto-saxophone", "reed-turnover", nil),
		"Wipe the underside with the product",
		"Wipe the underside off",
		"then open the case",
		"Stand the mouthpiece",
		"Rinse the vinegar off",
		"through the neck from its wide end",
		"Wipe the outside of all joints",
	)
	inOrder(t, resolved(t, "violin", "peg-compound", nil), "String down", "Old compound off", "two shiny rings", "look at the bridge")
	inOrder(
		t,
		resolved(t, "violin", "strings-after-playing", Choices{"string-cleaning": "cork"}),
		"plain cork",
		"then under it",
		"chin rest last",
	)
	two := Choices{"strings-off": "two", "ebony": "board-polish", "board-surface": "ebony"}
	inOrder(
		t,
		resolved(t, "violin", "violin-strings", two),
		"clean cloth",
		"Two strings",
		"Cleaner on the finest steel wool",
		"dabs of board polish",
		"graphite",
		"Ball end",
		"Small turns",
		"folded clean cloth softly",
		"bridge from the side",
	)
	inOrder(
		t,
		resolved(t, "violin", "strings-deep-clean", two),
		"luthier's order",
		"Wipe all strings",
		"upper two strings off",
		"Their stretch",
		"Their pegs",
		"Their fine tuners",
		"back on",
		"Lower half",
		"Body with",
		"Chin rest",
		"Scroll",
		"Bow:",
		"Bridge once more",
	)
	one := resolved(t, "violin", "strings-deep-clean", Choices{"ebony": "board-polish", "board-surface": "ebony"})
	for _, s := range one.Steps {
		assert.NotContains(t, s.Products, "board-polish", "one string off: %s", s.Do)
	}
	inOrder(
		t,
		resolved(t, "flute", "flute-after-playing", nil),
		"before it is taken off",
		"Turn the foot joint off",
		"Turn the head joint out",
		"Dry the head joint",
		"right through the body",
	)
}

// At no time are all strings off: a routine that takes strings off says how many, and puts them back before it takes the others.
func TestStringsStayOnTheBridge(t *testing.T) {
	eachStep(Embedded(), func(k *Kind, r Resolved, s ResolvedStep) {
		if slices.Contains([]string{"violin", "viola", "cello", "double-bass"}, k.Key) {
			assert.NotRegexp(t, `(?i)\b(all|four) strings off\b`, s.Do, r.Key)
		}
	})
}

// Every wind is put to a mouth without sugar in it. Common practice, no published source.
func TestNothingSweetBeforePlaying(t *testing.T) {
	c := Embedded()
	for i := range c.Kinds {
		if k := &c.Kinds[i]; k.Family == "woodwind" || k.Family == "brass" {
			at(t, resolved(t, k.Key, k.Routines[0], nil), "Nothing sweet")
		}
	}
}

// A swab goes through a flute and never back half-way, on either side of the practice. Common practice, no published source.
func TestAFluteSwabGoesThrough(t *testing.T) {
	for _, side := range []string{"push-through", "both-ends"} {
		r := resolved(t, "flute", "flute-after-playing", Choices{"flute-swab": side})
		assert.Contains(t, r.Steps[at(t, r, "through the body")].Do, "right through", side)
	}
	p, _ := Embedded().Practice("flute-swab")
	o, _ := p.Option("both-ends")
	assert.NotContains(t, o.Says, "half-way from each end")
}

// What stays in a cloth is followed out of its step: the cloth wipes nothing else and does not go into the case, where its vapour reaches
// varnish and pads. The list is in words of its own. Common practice, no published source.
func TestATaintedClothStaysOutOfTheCase(t *testing.T) {
	tainting := []string{
		"rosin-remover", "denatured-alcohol", "instrument-cleaner", "antibacterial-cleaner", "instrument-polish", "board-cleaner",
		"board-polish",
		"paste", "treated-cloth", "light-oil", "penetrating-oil",
	}
	met := map[string]bool{}
	eachStep(Embedded(), func(k *Kind, r Resolved, s ResolvedStep) {
		for _, p := range s.Products {
			if slices.Contains(tainting, p) {
				met[p] = true
				assert.Contains(t, s.Cloth, "does not go into the case", "%s, %s: %s", k.Name, r.Key, s.Do)
			}
		}
		if slices.Equal(s.Products, []string{"dry-cloth"}) {
			assert.Empty(t, s.Cloth, s.Do)
		}
	})
	assert.GreaterOrEqual(t, len(met), 8)
}
