package web_test

import (
	"bytes"
	"context"
	"encoding/json"
	"image"
	"image/png"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/care"
	"solfeggio/internal/app/importing"
	"solfeggio/internal/app/inspection"
	"solfeggio/internal/app/inventory"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/lending"
	"solfeggio/internal/app/letters"
	"solfeggio/internal/app/roster"
	"solfeggio/internal/app/school"
	"solfeggio/internal/app/supply"
	"solfeggio/internal/app/upkeep"
	"solfeggio/internal/core/catalog"
	"solfeggio/internal/core/clocks"
	"solfeggio/internal/core/day"
	"solfeggio/internal/pgtest"
	"solfeggio/internal/store"
	"solfeggio/internal/store/benchrows"
	"solfeggio/internal/store/instrumentrows"
	"solfeggio/internal/store/schoolrows"
	"solfeggio/internal/store/supplyrows"
)

// A world is a school in which every operation of the API has something to do. Its things are known by the names that stand in
// braces in the recipes below.
type world struct {
	*site
	by     journal.Person
	things map[string]string
}

func (w *world) put(name string, thing any) {
	switch v := thing.(type) {
	case string:
		w.things[name] = v
	case uuid.UUID:
		w.things[name] = v.String()
	default:
		text, err := json.Marshal(thing)
		require.NoError(w.t, err)
		w.things[name] = string(text)
	}
}

// fill puts the things of the world into a recipe.
func (w *world) fill(recipe string) string {
	pairs := []string{"{new}", uuid.NewString()}
	for name, thing := range w.things {
		pairs = append(pairs, "{"+name+"}", thing)
	}
	return strings.NewReplacer(pairs...).Replace(recipe)
}

func newWorld(t testing.TB, db *store.DB, email string) *world {
	t.Helper()
	ctx := context.Background()
	w := &world{site: newSite(t, db), things: map[string]string{}}
	w.app.Schools.Address = "https://solfeggio.quillhaven.example" // the server of a test listens on this machine only
	must := func(err error) { t.Helper(); require.NoError(t, err) }
	var err error
	w.by, err = w.app.Access.SetUpSchool(ctx, access.NewSchool{
		School: pgtest.School(),
		Name:   "Ines Corvane", Email: email, Password: password,
	})
	must(err)
	w.put("email", email)
	w.put("me", w.by.ID)
	_, err = w.app.Importing.Import(ctx, w.by,
		importing.InstrumentFile{Content: []byte("tag,kind,size,room,slot,care_from\nFREE,violin,4/4,Store,A-01,2026-11-01\nOUT,violin,4/4,Store,A-02,2026-11-01\nHELD,violin,4/4,Store,A-03,2026-11-01\n" +
			"STOPPED,violin,4/4,Store,,2026-11-01\nREED,clarinet-b-flat,,Store,,2026-11-01\nRENTED,violin,4/4,Store,,2026-11-01\nBENCH,violin,4/4,Store,,2026-11-01\n")})
	must(err)
	list, err := w.app.Inventory.Instruments(ctx, w.by)
	must(err)
	id := map[string]uuid.UUID{}
	for _, i := range list {
		id[i.Tag] = i.ID
		w.put(strings.ToLower(i.Tag), i.ID)
	}
	_, err = w.app.Roster.ImportRoster(
		ctx,
		w.by,
		roster.RosterFile{
			Content: []byte(
				"external_id,given_name,family_name,ensembles,instrument,arm_length_cm,guardian_email\np1,Ode,Marchetti,Strings,violin,60,home@quillhaven.example\np2,Ilse,Quandt,Strings,violin,60,\np3,Bram,Osei,,violin,,\np4,Senna,Tamm,Winds,clarinet-b-flat,,\n",
			),
		},
	)
	must(err)
	players, err := w.app.Roster.Players(ctx, w.by)
	must(err)
	player := map[string]roster.ListedPlayer{}
	for _, p := range players {
		player[p.GivenName] = p
		w.put(strings.ToLower(p.GivenName), p.ID)
	}
	noted := player["Senna"].Player
	noted.Notes = "Left-handed"
	must(w.app.Roster.SavePlayer(ctx, w.by, noted))
	gone := player["Bram"].Player
	gone.LeftOn = new(day.MustParse("2026-11-20"))
	must(w.app.Roster.SavePlayer(ctx, w.by, gone))
	w.put("whole player", player["Ilse"].Player)

	soon := day.MustParse("2026-11-27")
	handOut := func(name, tag string) {
		_, err := w.app.Lending.HandOut(
			ctx,
			w.by,
			lending.HandOut{Pairs: []school.Pair{{PlayerID: player[name].ID, InstrumentID: id[tag]}}, DueBackOn: &soon},
		)
		must(err)
	}
	handOut("Ode", "OUT")
	handOut("Ode", "HELD")
	_, err = w.app.Lending.Return(ctx, w.by, id["HELD"], lending.Returning{})
	must(err)
	handOut("Ode", "STOPPED")
	handOut("Senna", "REED")
	reed := upkeep.Opening{ID: uuid.New(), PlayerID: player["Senna"].ID}
	_, err = w.app.Upkeep.Open(ctx, w.by, reed)
	must(err)
	w.put("opened", reed.ID)
	seam := inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "open-seam"}}
	_, err = w.app.Inspection.ReportFinding(ctx, w.by, id["STOPPED"], seam)
	must(err)
	w.put("finding", seam.ID)
	must(w.app.Rentals.SaveRental(ctx, w.by, id["RENTED"],
		instrumentrows.Rental{ID: uuid.New(), Owner: "Marl & Daughter", Contract: "MD-1707", StartsOn: soon - 30, ReturnBy: &soon}))
	crack := inspection.Report{ID: uuid.New(), Found: inspection.Found{Code: "open-seam"}}
	_, err = w.app.Inspection.ReportFinding(ctx, w.by, id["RENTED"], crack)
	must(err)
	file := func(tag string) inventory.File {
		f, err := w.app.Inventory.File(ctx, w.by, id[tag])
		must(err)
		return f
	}
	w.put("handover", file("OUT").HandOver.ID)
	w.put("routine", file("FREE").Parts[0].Clocks[0].Routine)
	w.put("free instrument", file("FREE").Instrument)
	_, err = w.app.Supply.CheckKit(ctx, w.by, id["OUT"], supply.KitCheck{States: map[string]catalog.KitState{"rosin": catalog.Missing}})
	must(err)
	sheet, err := w.app.Inspection.Sheet(ctx, w.by, id["FREE"])
	must(err)
	walk := inspection.Walk{ID: uuid.New(), Edition: sheet.Edition, BeganAt: w.now}
	for _, p := range sheet.Points {
		walk.Answers = append(walk.Answers, inspection.PointAnswer{Point: p.Key, Findings: []inspection.Found{}})
	}
	w.put("walk", walk)

	products, err := w.app.Products.Products(ctx, w.by)
	must(err)
	wipes := benchrows.Product{
		ID: uuid.New(), Name: "Calm Case Wipes", MadeOf: []string{"alcohol", "quaternary-ammonium"}, ContactMinutes: 4, Supply: "wipes",
	}
	for _, s := range products.Surfaces {
		wipes.Surfaces = append(wipes.Surfaces, s.Key)
	}
	must(w.app.Products.SaveProduct(ctx, w.by, wipes))
	w.put("product", wipes.ID)
	must(w.app.Products.SaveSafetySheet(ctx, w.by, wipes.ID, []byte("%PDF-1.4 of the wipes")))
	far := day.MustParse("2027-11-24")
	stock := func(of, lot string, quantity float64) {
		_, err := w.app.Supply.CountStock(
			ctx,
			w.by,
			supply.Count{Stocked: supplyrows.Stocked{Supply: of}, Quantity: quantity, Lot: lot, ExpiresOn: &far},
		)
		must(err)
	}
	stock("wipes", "L-1", 50)
	stock("wipes", "L-2", 90)
	stock("gloves", "G-1", 50)
	run, err := w.app.Bench.Begin(
		ctx,
		w.by,
		bench.Benching{People: 1, Instruments: []bench.OnBench{{InstrumentID: id["BENCH"], Reason: catalog.Turnover}}},
	)
	must(err)
	w.put("run", run.ID)

	order := supply.Ordering{
		ID:       uuid.New(),
		Supplier: "Fenwater",
		Lines:    []supply.OrderingLine{{Stocked: supplyrows.Stocked{Supply: "rosin"}, Packs: 2}},
	}
	_, err = w.app.Supply.PlaceOrder(ctx, w.by, order)
	must(err)
	w.put("order", order.ID)
	term, pause := schoolrows.Period{
		ID:       uuid.New(),
		Name:     "Autumn",
		StartsOn: soon - 90,
		EndsOn:   soon + 20,
	}, schoolrows.Period{
		ID:       uuid.New(),
		Name:     "Mist week",
		StartsOn: soon - 40,
		EndsOn:   soon - 35,
	}
	must(w.app.Settings.SavePeriod(ctx, w.by, schoolrows.Terms, term))
	must(w.app.Settings.SavePeriod(ctx, w.by, schoolrows.Breaks, pause))
	empty := schoolrows.Ensemble{ID: uuid.New(), Name: "Nobody yet"}
	must(w.app.Settings.SaveEnsemble(ctx, w.by, empty))
	concert := schoolrows.Concert{
		ID:         uuid.New(),
		Name:       "Winter",
		HeldOn:     soon + 10,
		Minutes:    60,
		PlayFactor: 0.6,
		Ensembles:  []uuid.UUID{empty.ID},
	}
	must(w.app.Settings.SaveConcert(ctx, w.by, concert))
	for name, thing := range map[string]uuid.UUID{"term": term.ID, "break": pause.ID, "ensemble": empty.ID, "concert": concert.ID} {
		w.put(name, thing)
	}
	settings, err := w.app.Settings.Settings(ctx, w.by)
	must(err)
	w.put("school", settings.School)
	shelf := instrumentrows.Shelf{ID: uuid.New(), Room: "Store", Rack: "A", Name: "A", Slots: 5}
	must(w.app.Inventory.SaveShelf(ctx, w.by, shelf))
	w.put("shelf", shelf.ID)
	count := uuid.New()
	_, err = w.app.Inventory.BeginStocktake(ctx, w.by, count, "Store")
	must(err)
	w.put("stocktake", count)
	done, err := w.app.Care.Finish(
		ctx,
		w.by,
		care.Finish{Tasks: []care.FinishTask{{InstrumentID: id["FREE"], Key: clocks.Key{Routine: "violin-strings", Part: "string-e"}}}},
	)
	must(err)
	w.put("event", done.Events[0])
	notices, err := w.app.Letters.Notices(ctx, w.by)
	must(err)
	_, err = w.app.Letters.SendNotices(ctx, w.by, letters.Sending{About: []string{notices.Proposed[0].About}})
	must(err)
	notices, err = w.app.Letters.Notices(ctx, w.by)
	must(err)
	w.put("notice", notices.Sent[0].ID)
	w.put("about", notices.Proposed[0].About)
	var picture bytes.Buffer
	must(png.Encode(&picture, image.NewGray(image.Rect(0, 0, 40, 30))))
	w.put("picture", picture.String())
	photo, err := w.app.Inspection.AddPhoto(ctx, w.by, id["FREE"], uuid.New(), false, picture.Bytes())
	must(err)
	w.put("photo", photo.ID)
	portrait, err := w.app.Inspection.AddPhoto(ctx, w.by, id["FREE"], uuid.New(), true, picture.Bytes())
	must(err)
	w.put("portrait", portrait.ID)
	key := access.NewKey{ID: uuid.New(), Name: "lists", Role: journal.Viewer, EndsOn: day.MustParse("2026-12-01"),
		Secret: access.Secret(uuid.NewString()), Password: password}
	must(w.app.Access.AddKey(ctx, w.by, key))
	w.put("key", key.ID)
	link := uuid.NewString()
	_, err = w.app.Access.LinkFor(ctx, w.by, w.by.ID, access.Secret(link))
	must(err)
	w.put("link", link)
	w.repairs()
	w.cards()
	signIn := w.fill(`{"email":"{email}","password":"` + password + `"}`)
	require.Equal(t, 200, w.visitor().call("POST", "/api/v1/session", signIn).status)
	require.Equal(t, 200, w.call("POST", "/api/v1/session", signIn).status)
	var sessions []access.SignedIn
	must(json.Unmarshal([]byte(w.call("GET", "/api/v1/sessions", "").body), &sessions))
	for _, s := range sessions {
		if !s.Here {
			w.put("session", s.ID)
		}
	}
	return w
}
