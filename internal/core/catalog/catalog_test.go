package catalog

import (
	"encoding/json"
	"io/fs"
	"maps"
	"os"
	"slices"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The kinds that a school band or orchestra has, in score order; common practice, no published source.
var scoreOrder = strings.Fields(`recorder piccolo flute oboe clarinet-e-flat clarinet-b-flat clarinet-alto clarinet-bass bassoon
	alto-saxophone tenor-saxophone baritone-saxophone horn trumpet cornet trombone trombone-valve euphonium tuba tuba-rotary
	vibraphone marimba xylophone glockenspiel timpani snare-drum bass-drum drum-kit cymbals other piano keyboard harp violin viola cello double-bass bow guitar ukulele`)

func TestEveryKindIsComplete(t *testing.T) {
	c := Embedded()
	var keys []string
	for _, k := range c.Kinds {
		if k.Like == "" {
			keys = append(keys, k.Key)
		}
		rhythms := map[string]bool{}
		for _, key := range k.Routines {
			r, ok := c.Routine(key)
			require.True(t, ok)
			rhythms[r.Rhythm] = true
		}
		for _, rhythm := range []string{"assembly", "casing", "every time", "weekly", "monthly", "term", "yearly", "storage", "before concert"} {
			assert.True(t, rhythms[rhythm], "%s has no %s routine", k.Key, rhythm)
		}
		assert.GreaterOrEqual(t, len(c.Inspection(&k).Points), 5, "%s", k.Key)
		assert.GreaterOrEqual(t, len(c.SymptomsOf(&k)), 2, "%s", k.Key)
		for _, f := range c.FindingsOf(&k) {
			assert.NotEmpty(t, f.FirstAid, f.Code)
		}
	}
	assert.Equal(t, scoreOrder, keys)
	assert.GreaterOrEqual(t, len(c.Symptoms), 24)
}

func TestEverythingBelongsSomewhere(t *testing.T) {
	c := Embedded()
	routines, practices, findings, templates := map[string]bool{}, map[string]bool{
		ProfilePractice: true,
	}, map[string]bool{}, map[string]bool{}
	for _, k := range c.Kinds {
		templates[k.Inspection] = true
		for _, key := range k.Routines {
			routines[key] = true
		}
		for _, f := range c.FindingsOf(&k) {
			findings[f.Code] = true
		}
	}
	for _, r := range c.Routines {
		assert.True(t, routines[r.Key], "%s is in no kind", r.Key)
		for _, p := range r.Practices() {
			practices[p] = true
		}
		kept := slices.Contains([]string{"assembly", "casing", "every time", "between players", "on finding"}, r.Rhythm)
		_, _, limited := r.LimitsFor(Choices{ProfilePractice: "concert"})
		assert.True(t, kept || limited || r.Triggers != Triggers{}, "nothing makes %s due", r.Key)
	}
	for _, k := range c.Kinds {
		for _, surface := range k.Surfaces() {
			practices[surface] = true
		}
		if slices.ContainsFunc(c.KitOf(&k).Items, func(i KitItem) bool { return i.Tier == FullKit }) {
			practices[KitPractice] = true
		}
	}
	for _, p := range c.Practices {
		assert.True(t, practices[p.Key], "choosing a side of %s changes nothing", p.Key)
		assert.NotEmpty(t, p.Because, p.Key)
	}
	for _, f := range c.Findings {
		assert.True(t, findings[f.Code], "%s cannot be found", f.Code)
		if f.Action == "stop" {
			assert.NotEmpty(t, f.Never, f.Code)
		}
	}
	for _, tpl := range c.Templates {
		assert.True(t, templates[tpl.Key], "%s inspects no kind", tpl.Key)
	}
}

// Every choice changes what at least one kind is told to do or how often, whichever side is taken. What boards are made of shows where
// something is brought to them.
func TestEveryChoiceShows(t *testing.T) {
	c := Embedded()
	told := func(choices Choices) string {
		var all []any
		for i := range c.Kinds {
			all = append(all, c.CaseOf(Subject{Kind: &c.Kinds[i], Choices: choices}))
			for _, key := range c.Kinds[i].Routines {
				r, _ := c.Routine(key)
				limits, _, _ := r.LimitsFor(choices)
				resolved, wanted := c.Resolve(r, Subject{Kind: &c.Kinds[i], Body: c.Kinds[i].Bodies[0], Choices: choices})
				all = append(all, limits, wanted, resolved.Steps, len(r.OneADay) > 0 && r.OneADay.Hold(choices))
			}
		}
		text, err := json.Marshal(all)
		require.NoError(t, err)
		return string(text)
	}
	wiped := Choices{"contact-wipe": "alcohol-wipe"}
	usual, usualWiped := told(c.Choose()), told(c.Choose(wiped))
	for _, p := range c.Practices {
		for _, o := range p.Options[1:] {
			side := Choices{p.Key: o.Key}
			assert.False(
				t,
				usual == told(c.Choose(side)) && usualWiped == told(c.Choose(wiped, side)),
				"%s: %s changes nothing",
				p.Key,
				o.Key,
			)
		}
	}
	assert.Equal(t, c.Choose(), c.Choose(Choices{"silver": "sandpaper", "weather": "fine"}), "what the catalogue does not know is left out")
}

// The trade's table of intervals; common practice, no published source, but for bass strings, cello strings in the concert
// profile and planing there, and the hours of playing of all strings, which are from memory.
func TestIntervalsOfTheTrade(t *testing.T) {
	tests := []struct{ routine, classroom, standard, concert string }{
		{"violin-strings", "365 days or 300 h of playing", "180 days or 200 h of playing", "75 days or 120 h of playing"},
		{"viola-strings", "365 days or 300 h of playing", "180 days or 200 h of playing", "75 days or 120 h of playing"},
		{"cello-strings", "365 days or 450 h of playing", "330 days or 300 h of playing", "180 days or 180 h of playing"},
		{"bass-strings", "365 days or 450 h of playing", "330 days or 300 h of playing", "180 days or 180 h of playing"},
		{"bow-rehair", "365 days", "180 days or 200 h of playing", "120 days or 200 h of playing"},
		{"rosin-cake", "365 days", "365 days", "365 days"},
		{"peg-compound", "182 days", "182 days", "182 days"},
		{"fine-tuner-oil", "182 days", "182 days", "182 days"},
		{"strings-deep-clean", "365 days", "365 days", "365 days"},
		{"luthier-check", "365 days", "365 days", "365 days"},
		{"fingerboard-planing", "", "540 days", "300 days"},
		{"technician-check", "365 days", "365 days", "365 days"},
		{"brass-mouthpiece-wash", "7 days", "7 days", "7 days"},
		{"brass-slide-check", "30 days", "30 days", "30 days"},
		{"swab-wash", "30 days", "30 days", "30 days"},
		{"damper-felt", "730 days", "730 days", "730 days"},
	}
	for _, tt := range tests {
		r, ok := Embedded().Routine(tt.routine)
		require.True(t, ok, tt.routine)
		for profile, want := range map[string]string{"classroom": tt.classroom, "standard": tt.standard, "concert": tt.concert} {
			l, _, _ := r.LimitsFor(Embedded().Choose(Choices{ProfilePractice: profile}))
			assert.Equal(t, want, l.String(), "%s, %s", tt.routine, profile)
		}
	}
}

// Each spot that an inspection names stands in the drawing of every kind it is used for, and each scene of a mistake is a pair of pictures.
func TestEverySpotIsDrawn(t *testing.T) {
	text, err := os.ReadFile("../../formats/outlines.json")
	require.NoError(t, err)
	var drawings map[string]struct {
		Spots map[string][2]float64 `json:"spots"`
	}
	require.NoError(t, json.Unmarshal(text, &drawings))
	for _, k := range Embedded().Kinds {
		require.NotEmpty(t, drawings[k.Drawing].Spots, "%s has no drawing %s", k.Key, k.Drawing)
		for _, p := range Embedded().Inspection(&k).Points {
			assert.Contains(t, drawings[k.Drawing].Spots, p.Spot, "%s: the drawing %s", k.Key, k.Drawing)
		}
	}
	for _, m := range Embedded().Mistakes {
		if m.Scene != "" {
			assert.Contains(t, drawings, m.Scene+"-right", m.Key)
			assert.Contains(t, drawings, m.Scene+"-wrong", m.Key)
		}
	}
}

// A fault in the data is found when it is loaded, and named.
func TestLoadRefuses(t *testing.T) {
	tests := []struct{ file, old, new, want string }{
		{"kinds/woodwind.yaml", "also: [clarinet]", "also: [Flute]", `both called "flute"`},
		{"kinds/woodwind.yaml", "family: woodwind", "family: kazoo", "data/kinds/woodwind.yaml:5: kinds[0].family: "},
		{
			"kinds/woodwind.yaml",
			"tag_prefix: FL",
			"tag_prefix: FL\n    mood: good",
			"data/kinds/woodwind.yaml:31: kinds[1].mood: unknown field",
		},
		{"kinds/woodwind.yaml", "swab-wash,", "swab-wish,", `no routine "swab-wish"`},
		{"kinds/woodwind.yaml", "kind: flute", "kind: cello", `"cello" stands there twice`},
		{"kinds/woodwind.yaml", "material: pads", "material: custard", `no material "custard"`},
		{"kinds/woodwind.yaml", "key: lip-plate, name: Lip", "key: lips, name: Lip", "no part \"lip-plate\""},
		{"kinds/woodwind.yaml", "inspection: oboe", "inspection: kazoo", `no template "kazoo"`},
		{"kinds/woodwind.yaml", "inspection: oboe", "inspection: bow", "which it does not have"},
		{"routines/brass.yaml", "place: sink", "place: bath", `no place "bath"`},
		{"routines/brass.yaml", "implies: [brass-mouthpiece-wash", "implies: [mouth", `implies "mouth"`},
		{
			"routines/brass.yaml",
			"limits: {every: {days: 7}}",
			"limits: {every: {}}",
			"routine brass-mouthpiece-wash: limits: base: give at least one",
		},
		{"routines/brass.yaml", "oil-amount: [drops]", "oil-amount: [buckets]", `oil-amount being "buckets"`},
		{"routines/brass.yaml", "oil-amount: [drops]", "oil-mood: [drops]", `"oil-mood", which is no practice`},
		{
			"routines/strings-periodic.yaml",
			"parts: [bow-stick], products: [damp-cloth]",
			"parts: [bow-stick], products: [alcohol]",
			"is forbidden (No alcohol here: Bow stick is bow stick and frog",
		},
		{"routines/strings-periodic.yaml", "products: [damp-cloth]", "products: [beer]", `brings "beer", which is no product`},
		{
			"routines/woodwind-periodic.yaml",
			"parts: [tenon-corks], products: [cork-grease]",
			"parts: [tenon-corks], products: [vinegar]",
			"is forbidden (No dilute vinegar here",
		},
		{"findings/strings.yaml", "fixed_by: peg-compound", "fixed_by: glue", `no routine "glue"`},
		{"findings/strings.yaml", "severity: 4", "severity: 5", "severity: "},
		{"inspections/strings.yaml", "answers: [open-seam]", "answers: [open-sesame]", `no finding "open-sesame"`},
		{"symptoms/strings.yaml", "otherwise: peg-fit", "otherwise: shrug", `no finding "shrug"`},
		{"symptoms/strings.yaml", "kinds: [violin, viola, cello]", "kinds: [kazoo]", "no kind can have it"},
		{"symptoms/strings.yaml", "risk: look", "risk: trained", "is safer than the one before it"},
		{"materials.yaml", "forbids: [heat, treated-cloth-inside]", "forbids: [heaven]", `forbids "heaven"`},
		{"kinds/woodwind.yaml", "kit: oboe", "kit: picnic", `no kit "picnic"`},
		{"kinds/woodwind.yaml", "life_years: 10", "life_years: 0", "a life of 0 years"},
		{"kits.yaml", "supply: thumb-rest", "supply: thumb", `no supply "thumb"`},
		{"kits.yaml", "{supply: string-cloth}, *rosin, *tag", "{supply: string-cloth, tier: cupboard}", "kit bow: nothing of it is in the case"},
		{"kits.yaml", "supply: thumb-rest", "supply: gloves", "gloves belongs to the bench"},
		{"kits.yaml", "supply: thumb-rest", "supply: body-swab", "body-swab stands there twice"},
		{"supplies.yaml", "routine: rosin-cake", "routine: rosin-pie", `no routine "rosin-pie"`},
		{"supplies.yaml", "holds_ml: 50", "holds_ml: 0", "does not say what a bottle holds"},
		{"supplies.yaml", "weeks: 3", "weeks: 0", "a rotation needs a count and weeks"},
		{"supplies.yaml", "part: string-e}, use: [{each: life, days: 730", "part: string-e}, use: [{each: life, days: 0", "a life needs days"},
		{
			"supplies.yaml", "{kind: violin, part: string-e}", "{kind: violin, part: string-h}",
			`a single of "string-h", which no violin has renewed`,
		},
		{"lives.yaml", "of: [rosin]", "of: [amber]", `is of "amber", which is no material`},
		{"supplies.yaml", "oil-amount: [drops]", "oil-amount: [buckets]", `has no option "buckets"`},
		{"supplies.yaml", "each: turnover, count: 2", "each: moon, count: 2", "each: "},
		{"products.yaml", "name: spray, is: [liquid]", "name: spray, is: [gas]", `product spray is "gas"`},
		{"products.yaml", "active: soap", "active: lye", `product soap is made of "lye", which is no active`},
		{"products.yaml", "never_with: [acid], together", "never_with: [lye], together", `active peroxide is never with "lye"`},
		{"materials.yaml", "bears: [alcohol, soap]", "bears: [gin]", `material silver-plate bears "gin"`},
		{"products.yaml", "bears: [alcohol, quaternary-ammonium]", "bears: [gin]", `surface case-lining bears "gin"`},
		{"repairs.yaml", "mends: [boot-rot]", "mends: []", "finding boot-rot of a bassoon is a shop's, and no repair mends it"},
		{"routines/turnover.yaml", "rinse: &joints-off", "rinses: &joints-off", "unknown field"},
		{
			"routines/turnover.yaml",
			", dry: {name: Dry the lip plate, do: \"Leave the lip plate in the air until it is dry.\", active: 1, wait: 2, station: table}", "",
			"Embouchure touches a mouth, and nobody dries it",
		},
		{
			"routines/turnover.yaml",
			", rinse: {name: Bore wiped out, do: \"Draw a swab wrung out in drinking water through the bore, then a dry one.\", active: 1, station: table}", "",
			"Bore is not rinsed off",
		},
	}
	for _, tt := range tests {
		files := fstest.MapFS{}
		require.NoError(t, fs.WalkDir(data, "data", func(path string, d fs.DirEntry, err error) error {
			if err == nil && !d.IsDir() {
				text, _ := data.ReadFile(path)
				files[path] = &fstest.MapFile{Data: text}
			}
			return err
		}))
		file := "data/" + tt.file
		require.Contains(t, slices.Collect(maps.Keys(files)), file)
		text := string(files[file].Data)
		require.Contains(t, text, tt.old, file)
		files[file] = &fstest.MapFile{Data: []byte(strings.Replace(text, tt.old, tt.new, 1))}
		_, err := load(files)
		assert.ErrorContains(t, err, tt.want)
	}
}

// Names as they stand in the files of schools; common practice, no source.
func TestKindCalled(t *testing.T) {
	for name, key := range map[string]string{"Clarinet": "clarinet-b-flat", "alto sax": "alto-saxophone", "French horn": "horn",
		"String Bass": "double-bass", "VIOLIN": "violin", "tuba": "tuba", "Baritone": "euphonium", "timpani": "timpani",
		"clarinette en si bémol": "clarinet-b-flat", "FLÛTE TRAVERSIÈRE": "flute", "violonchelo": "cello",
		"B♭ Clarinets": "clarinet-b-flat",
	} {
		k, ok := Embedded().KindCalled(name)
		require.True(t, ok, name)
		assert.Equal(t, key, k.Key)
	}
	_, ok := Embedded().KindCalled("kazoo")
	assert.False(t, ok)
}
