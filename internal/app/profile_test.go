package app_test

import (
	"bytes"
	"os/exec"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/demand"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/settings"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store/supplyrows"
)

// A new school begins with the longest intervals and the reed last, and is asked nothing.
func TestANewSchoolBeginsInTheClassroom(t *testing.T) {
	h := newHouse(t)
	var err error
	h.director, err = h.Access.SetUpSchool(ctx, access.NewSchool{
		School: pgtest.School(), Name: "Wenda Ashgrove", Email: "wenda@quillhaven.example", Password: "copper lantern waltz",
	})
	require.NoError(t, err)
	list, err := h.Settings.Practices(ctx, h.director)
	require.NoError(t, err)
	for _, p := range list {
		assert.False(t, p.Asked, p.Key)
		if want, ok := map[string]string{"profile": "classroom", "reed-when": "last", "kit-size": "every-case"}[p.Key]; ok {
			assert.Equal(t, want, p.Chosen, p.Key)
		}
	}
	today, err := h.Today.Today(ctx, h.director, 25, 0)
	require.NoError(t, err)
	assert.Empty(t, today.Asked)
}

// What a profile takes in a year, by hand: four strings and the hair of one violin that nobody plays, and what is the same under each.
func TestAProfileSaysWhatItCosts(t *testing.T) {
	h := newHouse(t)
	h.bring("tag,kind,size,room,slot,care_from\nVN-01,violin,4/4,Store,A-01,2026-11-01\nTR-01,trumpet,,Store,A-02,2026-11-01\n")
	cents := int64(4000)
	require.NoError(t, h.Supply.SaveSupply(ctx, h.director, supplyrows.SupplySetting{
		Stocked: supplyrows.Stocked{Supply: "strings-violin", Size: "4/4"}, PackSize: 1, PackPriceCents: &cents,
	}))
	got, err := h.Demand.ProfileYears(ctx, h.director)
	require.NoError(t, err)
	at := func(profile, family string) demand.YearOfCare {
		p := got.Profiles[slices.IndexFunc(got.Profiles, func(p demand.ProfileYear) bool { return p.Profile == profile })]
		return p.Families[slices.IndexFunc(p.Families, func(f demand.FamilyYear) bool { return f.Family == family })].YearOfCare
	}
	classroom, standard, concert := at("classroom", "strings"), at("standard", "strings"), at("concert", "strings")
	// 364 days of 52 weeks: a set once in 365, 180 and 75 days.
	assert.Equal(t, []int64{3989, 8089, 19413}, []int64{classroom.SuppliesCents, standard.SuppliesCents, concert.SuppliesCents})
	// The luthier's yearly check, and hair once in 365, 180 and 120 days; planing in standard and concert.
	assert.InDelta(t, 364./365*2, classroom.ShopJobs, 1e-9)
	assert.InDelta(t, 364./365+364./180+364./540, standard.ShopJobs, 1e-9)
	assert.InDelta(t, 364./365+364./120+364./300, concert.ShopJobs, 1e-9)
	assert.Equal(t, at("classroom", "brass"), at("concert", "brass"), "a trumpet's clocks are the same in each")
	assert.Less(t, classroom.Minutes, standard.Minutes)
	for _, p := range got.Profiles {
		assert.Equal(t, p.Profile == "standard", p.Holds)
	}
	assert.NotZero(t, got.Unpriced)

	// An instrument with a profile of its own keeps that, whatever the school takes.
	practice := func(option string) {
		require.NoError(t, h.Settings.ChooseForInstrument(ctx, h.director, h.id("VN-01"), settings.PracticeChange{Practice: catalog.ProfilePractice, Option: option}))
	}
	practice("concert")
	got, err = h.Demand.ProfileYears(ctx, h.director)
	require.NoError(t, err)
	assert.Equal(t, concert.ShopJobs, at("classroom", "strings").ShopJobs)

	// And what the screen says is what the clocks do after the change.
	practice("")
	require.NoError(t, h.Settings.ChoosePractices(ctx, h.director, catalog.Choices{catalog.ProfilePractice: "concert"}))
	assert.InDelta(t, 75, *h.clock("VN-01", clocks.Key{Routine: "violin-strings", Part: "string-a"}).Limits.Days, 0)
	assert.InDelta(t, 120, *h.clock("VN-01", clocks.Key{Routine: "violin-strings", Part: "string-a"}).Limits.PlayingHours, 0)
}

// Things of kits move between case, full kit and cupboard: what is looked for, ordered and agreed follows, and what was agreed stays.
func TestThingsOfAKitAreKeptElsewhere(t *testing.T) {
	h, ode, ilse := desk(t)
	mute := func(tier catalog.Tier) error {
		return h.Demand.MoveInKit(ctx, h.director, demand.KitMove{Kit: "violin", Supply: "mute", Tier: tier})
	}
	sheet := func(player roster.ListedPlayer, tag string) lending.HandOverSheet {
		s, err := h.Lending.HandOverSheet(ctx, h.director, school.Pair{PlayerID: player.ID, InstrumentID: h.id(tag)}, fit.Checks{})
		require.NoError(t, err)
		return s
	}
	has := func(kit []supply.KitThing, key string) bool {
		return slices.ContainsFunc(kit, func(k supply.KitThing) bool { return k.Supply == key })
	}
	assert.True(t, has(sheet(ode, "VN-01").Kit, "mute"))
	_, err := h.Lending.HandOver(ctx, h.director, h.handing(ode, "VN-01"))
	require.NoError(t, err)
	before := h.agreementOf(t, "VN-01")
	assert.Contains(t, before, "Mute")

	require.NoError(t, mute(catalog.Cupboard))
	assert.False(t, has(sheet(ilse, "VN-02").Kit, "mute"))
	assert.Equal(t, before, h.agreementOf(t, "VN-01"), "what was agreed is what was given")
	back, err := h.Lending.ReturnSheet(ctx, h.director, h.id("VN-01"))
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(back.Kit, func(k lending.ReturnThing) bool { return k.Supply == "mute" }), "and is looked for when it comes back")

	// A full kit is one for single instruments.
	require.NoError(t, mute(catalog.FullKit))
	assert.False(t, has(sheet(ilse, "VN-02").Kit, "mute"))
	require.NoError(t, h.Settings.ChooseForInstrument(ctx, h.director, h.id("VN-02"), settings.PracticeChange{Practice: catalog.KitPractice, Option: "full"}))
	assert.True(t, has(sheet(ilse, "VN-02").Kit, "mute"))

	for path, in := range map[string]demand.KitMove{
		"kit":    {Kit: "picnic", Supply: "mute", Tier: catalog.Cupboard},
		"supply": {Kit: "violin", Supply: "valve-oil", Tier: catalog.Cupboard},
		"tier":   {Kit: "violin", Supply: "mute", Tier: "pocket"},
	} {
		assert.Equal(t, path, fault(t, h.Demand.MoveInKit(ctx, h.director, in), journal.Invalid).Fields[0].Path)
	}
	// What nobody plays without stays, and no case is emptied.
	assert.Contains(t, fault(t, h.Demand.MoveInKit(ctx, h.director, demand.KitMove{
		Kit: "clarinet", Supply: "ligature", Tier: catalog.Cupboard,
	}), journal.Invalid).Fields[0].Message, "nobody can play without")
	kit, _ := catalog.Embedded().Kit("violin")
	var last error
	for _, item := range kit.Items {
		if last = h.Demand.MoveInKit(ctx, h.director, demand.KitMove{Kit: "violin", Supply: item.Supply, Tier: catalog.Cupboard}); last != nil {
			break
		}
	}
	assert.Contains(t, fault(t, last, journal.Invalid).Fields[0].Message, "nothing in the case")
	tiers, err := h.Demand.KitTiers(ctx, h.director)
	require.NoError(t, err)
	require.Equal(t, "violin", tiers[0].Kit)
	assert.Equal(t, []demand.TierName{"full"}, tiers[0].Empty, "a tier without a thing in it is said")
}

// agreementOf are the words of the agreement of whoever has an instrument, read from the paper by Debian's pdftotext.
func (h *house) agreementOf(t *testing.T, tag string) string {
	t.Helper()
	var pdf bytes.Buffer
	require.NoError(t, h.Lending.Agreement(ctx, h.director, h.file(tag).HandOver.ID, &pdf))
	read := exec.Command("pdftotext", "-layout", "-", "-")
	read.Stdin = &pdf
	words, err := read.Output()
	require.NoError(t, err)
	return string(words)
}
