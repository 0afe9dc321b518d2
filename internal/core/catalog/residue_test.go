package catalog

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

// everyRoutine walks what every kind of every body is kept by under these choices.
func everyRoutine(c *Catalog, choices Choices, f func(k *Kind, r *Routine, key string, resolved Resolved)) {
	for i := range c.Kinds {
		k := &c.Kinds[i]
		for _, body := range k.Bodies {
			for _, key := range k.Routines {
				r, _ := c.Routine(key)
				if resolved, ok := c.Resolve(r, Subject{Kind: k, Body: body, Choices: choices}); ok {
					f(k, r, key, resolved)
				}
			}
		}
	}
}

// anyChoices draws a side of every practice.
func anyChoices(t *rapid.T, c *Catalog) Choices {
	choices := Choices{}
	for _, p := range c.Practices {
		choices[p.Key] = rapid.SampledFrom(p.Options).Draw(t, p.Key).Key
	}
	return choices
}

// left is what lies on a part while a routine is walked.
type left struct {
	active string // what it was cleaned with and not rinsed of
	wet    bool
}

// walkWet follows what lies on each part. The rules are in words of its own: soap, acid and disinfectant stay until clear water has run;
// alcohol goes as it dries; a cloth, a swab or the air takes water away.
func walkWet(t require.TestingT, parts map[string]*left, part, product, says string) {
	on := parts[part]
	if on == nil {
		on = &left{}
		parts[part] = on
	}
	active := map[string]string{
		"soap": "soap", "vinegar": "acid", "acid": "acid", "chlorine": "chlorine", "peroxide": "peroxide",
		"quaternary-ammonium": "quaternary-ammonium",
		"alcohol":             "alcohol", "alcohol-wipe": "alcohol", "denatured-alcohol": "alcohol", "unknown": "unknown",
	}[product]
	switch {
	case active != "":
		if on.active != "" && on.active != active {
			require.Fail(t, "one product after another", "%s after %s on %s, and no rinse between: %s", active, on.active, part, says)
		}
		*on = left{active, true}
	case product == "clean-water":
		*on = left{"", true}
	case product == "lukewarm-water" || product == "damp-cloth":
		on.wet = true
	case slices.Contains([]string{"dry-cloth", "swab", "air", "pull-through-swab"}, product):
		on.wet = false
		if on.active == "alcohol" {
			on.active = ""
		}
	}
}

// Whatever sides a school takes: what is washed with soap or acid is rinsed with clear water and dried within its routine, and no product
// comes upon another without a rinse. Common practice, no published source.
func TestEverythingSoapyIsRinsedAndDried(t *testing.T) {
	c := Embedded()
	met := 0
	rapid.Check(t, func(t *rapid.T) {
		everyRoutine(c, anyChoices(t, c), func(k *Kind, _ *Routine, key string, resolved Resolved) {
			parts := map[string]*left{}
			for _, s := range resolved.Steps {
				for _, part := range s.Parts {
					for _, product := range s.Products {
						walkWet(t, parts, part, product, key+": "+s.Do)
					}
				}
			}
			for part, on := range parts {
				if on.active != "" && on.active != "alcohol" {
					t.Fatalf("%s, %s: %s is left on the %s", k.Key, key, on.active, part)
				}
				for _, s := range resolved.Steps {
					if slices.Contains(s.Products, "soap") && slices.Contains(s.Parts, part) {
						met++
						if on.wet {
							t.Fatalf("%s, %s: the %s goes away wet", k.Key, key, part)
						}
					}
				}
			}
		})
	})
	assert.NotZero(t, met)
}

// What breath wets is dried after playing, before its case is shut, in every wind of every body and on every side of every practice. A
// case's humidifier and a holder that keeps reeds moist are no parts. Common practice, no published source.
func TestNothingWetGoesIntoACase(t *testing.T) {
	c := Embedded()
	rapid.Check(t, func(t *rapid.T) {
		choices := anyChoices(t, c)
		for i := range c.Kinds {
			k := &c.Kinds[i]
			for _, body := range k.Bodies {
				parts, steps := map[string]*left{}, 0
				for _, p := range k.Parts {
					if p.Breath {
						parts[p.Key] = &left{wet: true}
					}
				}
				for _, r := range c.PlayerRoutines(Subject{Kind: k, Body: body, Choices: choices}) {
					if r.Rhythm != "every time" && r.Rhythm != "casing" {
						continue
					}
					for _, s := range r.Steps {
						steps++
						for _, part := range s.Parts {
							for _, product := range s.Products {
								walkWet(t, parts, part, product, s.Do)
							}
						}
					}
				}
				for part, on := range parts {
					if on.wet {
						t.Fatalf("%s (%s): the %s goes wet into its case", k.Key, body, part)
					}
				}
				if (k.Family == "woodwind" || k.Family == "brass") && len(parts) == 0 {
					t.Fatalf("%s: breath wets nothing of it", k.Key)
				}
			}
		}
	})
}

// The dishwasher and its kin come to no part of any kind, whatever it is made of.
func TestNoPartBearsADishwasher(t *testing.T) {
	c := Embedded()
	tried := 0
	for i := range c.Kinds {
		k := &c.Kinds[i]
		for _, of := range c.subjects(k, nil) {
			for _, p := range k.Parts {
				for _, product := range []string{"dishwasher", "boiling-water", "hair-dryer", "household-spray"} {
					tried++
					assert.NotEmpty(t, c.GateFor([]string{p.Key}, product, of), "%s: %s on %s", k.Key, product, p.Key)
				}
			}
		}
		told := c.MistakesOf(Subject{Kind: k, Body: k.Bodies[0], Choices: c.Choose()})
		for _, key := range []string{"washed-like-dishes", "left-where-it-suffers"} {
			assert.True(t, slices.ContainsFunc(told, func(m *Mistake) bool { return m.Key == key }), "%s: %s", k.Key, key)
		}
	}
	assert.NotZero(t, tried)
}

// Before whatever may bring alcohol stands the flame, and before whatever disinfects that children do not; nobody but an adult does it. What
// may be brought is read from steps and labels, in words of the test's own.
func TestWhatBurnsIsWarnedOfFirst(t *testing.T) {
	c := Embedded()
	flames, children := map[string]bool{}, map[string]bool{}
	rapid.Check(t, func(t *rapid.T) {
		everyRoutine(c, anyChoices(t, c), func(k *Kind, r *Routine, key string, resolved Resolved) {
			alcohol, disinfects := false, false
			for _, s := range resolved.Steps {
				alcohol = alcohol || slices.ContainsFunc(s.Products, func(p string) bool { return strings.Contains(p, "alcohol") })
				disinfects = disinfects || slices.Contains(s.Products, "antibacterial-cleaner")
				if s.Bench != nil && s.Bench.Contact != "" {
					disinfects = true
					// Cases bear alcohol, and so does everything that is neither lacquered, varnished nor bare wood.
					alcohol = alcohol || len(s.Parts) == 0
				}
			}
			said := strings.Join(resolved.Cautions, " ")
			if alcohol {
				flames[key] = true
				if !strings.Contains(said, "no flame") || !strings.Contains(said, "gloves") {
					t.Fatalf("%s of a %s: no word of flames in %q", key, k.Key, said)
				}
			}
			if alcohol || disinfects {
				children[key] = true
				if !strings.Contains(said, "Children do not handle") || !strings.Contains(said, "nurse or safety officer") {
					t.Fatalf("%s of a %s: no word of children in %q", key, k.Key, said)
				}
				if r.Who == Player || r.Who == "section leader" {
					t.Fatalf("%s of a %s is done by a %s", key, k.Key, r.Who)
				}
			}
		})
	})
	for _, key := range []string{"low-contact-wipe", "contact-wipe", "silver-denatured", "flute-bore-alcohol", "low-strings-turnover"} {
		assert.True(t, flames[key], "%s was never met", key)
	}
	for _, key := range []string{"mallet-turnover", "drum-turnover", "contact-antibacterial", "plucked-turnover", "recorder-turnover"} {
		assert.True(t, children[key], "%s was never met", key)
	}
}

// A wooden body is warmed in the hands before it is blown, and looked over when the seasons turn, whatever the kind.
func TestWoodIsWarmedAndLookedOver(t *testing.T) {
	c := Embedded()
	met := map[string]bool{}
	for i := range c.Kinds {
		k := &c.Kinds[i]
		if k.Family != "woodwind" {
			continue
		}
		for _, body := range k.Bodies {
			of := Subject{Kind: k, Body: body, Choices: c.Choose()}
			assembly := c.PlayerRoutines(of)[0]
			warned := strings.Contains(strings.Join(assembly.Cautions, " "), "warmed in the hands")
			assert.Equal(t, body == "wood", warned, "%s of %s", k.Key, body)
			if body == "wood" {
				met[k.Base()] = true
				assert.Contains(t, k.Routines, "wood-season-check", k.Key)
			}
		}
	}
	for _, key := range []string{"piccolo", "clarinet-bass", "oboe", "recorder"} {
		assert.True(t, met[key], key)
	}
}
