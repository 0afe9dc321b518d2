package web_test

import (
	"bytes"
	"cmp"
	"context"
	"encoding/json"
	"image"
	"image/png"
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/app/access"
	"solfeggio/internal/app/bench"
	"solfeggio/internal/app/care"
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
	must := func(err error) { t.Helper(); require.NoError(t, err) }
	var err error
	w.by, err = w.app.Access.SetUpSchool(ctx, access.NewSchool{
		School: pgtest.School(),
		Name:   "Ines Corvane", Email: email, Password: password,
	})
	must(err)
	w.put("email", email)
	w.put("me", w.by.ID)
	_, err = w.app.Inventory.Import(ctx, w.by, inventory.InstrumentFile{Content: []byte("tag,kind,size,room,slot,care_from\nFREE,violin,4/4,Store,A-01,2026-11-01\nOUT,violin,4/4,Store,A-02,2026-11-01\nHELD,violin,4/4,Store,A-03,2026-11-01\n" +
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
	must(w.app.Inventory.SaveRental(ctx, w.by, id["RENTED"], store.Rental{ID: uuid.New(), Owner: "Marl & Daughter", Contract: "MD-1707", StartsOn: soon - 30, ReturnBy: &soon}))
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

	products, err := w.app.Bench.Products(ctx, w.by)
	must(err)
	wipes := store.Product{ID: uuid.New(), Name: "Calm Case Wipes", ContactMinutes: 4, Supply: "wipes"}
	for _, g := range products.Groups {
		if strings.Contains(g.Key, "wipe") {
			wipes.Group = g.Key
		}
	}
	for _, s := range products.Surfaces {
		wipes.Surfaces = append(wipes.Surfaces, s.Key)
	}
	must(w.app.Bench.SaveProduct(ctx, w.by, wipes))
	w.put("product", wipes.ID)
	must(w.app.Bench.SaveSafetySheet(ctx, w.by, wipes.ID, []byte("%PDF-1.4 of the wipes")))
	far := day.MustParse("2027-11-24")
	stock := func(of, lot string, quantity float64) {
		_, err := w.app.Supply.CountStock(
			ctx,
			w.by,
			supply.Count{Stocked: store.Stocked{Supply: of}, Quantity: quantity, Lot: lot, ExpiresOn: &far},
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
		Lines:    []supply.OrderingLine{{Stocked: store.Stocked{Supply: "rosin"}, Packs: 2}},
	}
	_, err = w.app.Supply.PlaceOrder(ctx, w.by, order)
	must(err)
	w.put("order", order.ID)
	term, pause := store.Period{
		ID:       uuid.New(),
		Name:     "Autumn",
		StartsOn: soon - 90,
		EndsOn:   soon + 20,
	}, store.Period{
		ID:       uuid.New(),
		Name:     "Mist week",
		StartsOn: soon - 40,
		EndsOn:   soon - 35,
	}
	must(w.app.Settings.SavePeriod(ctx, w.by, store.Terms, term))
	must(w.app.Settings.SavePeriod(ctx, w.by, store.Breaks, pause))
	empty := store.Ensemble{ID: uuid.New(), Name: "Nobody yet"}
	must(w.app.Settings.SaveEnsemble(ctx, w.by, empty))
	concert := store.Concert{
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
	shelf := store.Shelf{ID: uuid.New(), Room: "Store", Rack: "A", Name: "A", Slots: 5}
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
	key := access.NewKey{ID: uuid.New(), Name: "lists", Role: journal.Viewer, EndsOn: day.MustParse("2026-12-01"), Secret: access.Secret(uuid.NewString())}
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

// A recipe says what an operation is called with so that it succeeds, where the example of the API's own document does not do.
type recipe struct {
	id    string            // of the path
	query map[string]string // by name of the parameter
	body  string
}

// recipes by operation. What is not among them must succeed as the document says.
var recipes = map[string]recipe{
	"agreement":          {id: "{handover}"},
	"draft-agreement":    {query: map[string]string{"player_id": "{ilse}", "instrument_id": "{free}"}},
	"plan-bench":         {body: `{"people":1,"stations":{},"instruments":[{"instrument_id":"{held}","reason":"turnover"}]}`},
	"begin-bench":        {body: `{"people":1,"stations":{},"instruments":[{"instrument_id":"{held}","reason":"turnover"}]}`},
	"bench-records":      {query: map[string]string{"instrument": "{bench}"}},
	"bench-run":          {id: "{run}"},
	"end-bench":          {id: "{run}"},
	"pour-bench":         {id: "{run}", body: `{"product_id":"{product}","lot":"L-2"}`},
	"replan-bench":       {id: "{run}", body: `{"people":2,"stations":{"table":2}}`},
	"take-off-bench":     {id: "{run}", body: `{"instrument_id":"{bench}","because":"no time"}`},
	"tick-bench":         {id: "{run}", body: `{"instrument_id":"{bench}","n":0,"do":"begin"}`},
	"renew":              {id: "{free}", body: `{"part":"string-a"}`},
	"change-guide":       {id: "{free}", query: map[string]string{"part": "string-e"}},
	"accept-plan":        {body: `{"changes":[{"instrument_id":"{free}","part":"string-e","on":"2026-11-25"}]}`},
	"accept-interval":    {body: `{"kind":"violin","routine":"violin-strings","accept":false}`},
	"open-reed":          {body: `{"id":"{new}","player_id":"{senna}"}`},
	"discard-reed":       {id: "{opened}", body: `{"cause":"chipped"}`},
	"save-break-in":      {body: `{"supply":"reed-clarinet","minutes":[2,4,8]}`},
	"finish":             {body: `{"tasks":[{"instrument_id":"{out}","routine":"violin-strings","part":"string-e"}]}`},
	"clear-finding":      {id: "{finding}", body: `{"how":"Glued."}`},
	"hand-out":           {body: `{"pairs":[{"player_id":"{ilse}","instrument_id":"{free}"}]}`},
	"hand-over":          {body: `{"id":"{new}","player_id":"{ilse}","instrument_id":"{free}","signature":{"how":"later"}}`},
	"sign":               {id: "{handover}", body: `{"how":"paper","by":"R. Marchetti"}`},
	"import-instruments": {body: "tag,kind\nVN-77,violin\n"},
	"as-kind":            {query: map[string]string{"kind": "viola"}},
	"turn":               {id: "{free}", body: `{"kind":"viola","version":1}`},
	"add-instrument":     {body: `{"id":"{new}","kind":"violin","tag":"VN-78","size":"4/4"}`},
	"change-instrument": {
		id:   "{free}",
		body: `{"instrument":{free instrument},"habit":{"ensembles":[],"practice_minutes_per_week":60,"practice_days_per_week":5,"vacation_share":0.25,"heavy_sweat":false,"players":1}}`,
	},
	"diagnose":              {id: "{free}", query: map[string]string{"symptom": "buzz", "answers": "n"}},
	"exchange-rental":       {id: "{rented}", body: `{"id":"{new}","tag":"VN-88"}`},
	"report-finding":        {id: "{free}", body: `{"id":"{new}","code":"peg-slips"}`},
	"hand-over-sheet":       {id: "{free}", query: map[string]string{"player_id": "{ilse}"}},
	"inspect":               {id: "{free}", body: `{walk}`},
	"check-kit":             {id: "{free}", body: `{"states":{"rosin":"missing"}}`},
	"leave":                 {id: "{free}", body: `{"how":"sold"}`},
	"lend":                  {id: "{stopped}", body: `{"loaner_id":"{free}"}`},
	"set-own-limit":         {id: "{free}", body: `{"routine":"violin-strings","part":"string-e","limits":{"days":100}}`},
	"add-photo":             {id: "{free}", query: map[string]string{"photo": "{new}"}, body: `{picture}`},
	"choose-for-instrument": {id: "{free}", body: `{"practice":"` + catalog.ProfilePractice + `","option":"concert"}`},
	"release":               {id: "{held}", body: `{"how":"Wiped."}`},
	"save-rental": {
		id:   "{free}",
		body: `{"id":"{new}","owner":"Marl & Daughter","contact":"","contract":"","starts_on":"2026-11-01","version":0}`,
	},
	"return-sheet":     {id: "{out}"},
	"return-unseen":    {body: `{"instruments":["{out}"]}`},
	"return":           {id: "{out}", body: `{}`},
	"propose-charge":   {id: "{free}"},
	"why":              {id: "{free}", query: map[string]string{"routine": "{routine}", "part": ""}},
	"refill":           {body: `{"things":[{"instrument_id":"{out}","supply":"rosin"}]}`},
	"labels":           {query: map[string]string{"tags": "FREE,OUT", "players": "{ode},{ilse}", "sheet": "letter-30", "skip": "2"}},
	"save-wording":     {body: `{"key":"agreement","wording":"Agreement\n\n{player} takes care of {tag}.","version":0}`},
	"move":             {body: `{"moves":[{"instrument_id":"{free}","room":"Hall","slot":""}]}`},
	"send-notices":     {body: `{"about":["{about}"]}`},
	"message":          {id: "{notice}"},
	"drop-portrait":    {id: "{portrait}"},
	"photo":            {id: "{photo}"},
	"save-player":      {body: `{whole player}`},
	"import-roster":    {query: map[string]string{"mapping": "%7B%22vorname%22:%22given_name%22%7D"}, body: "vorname\nTove\n"},
	"erase-player":     {id: "{bram}"},
	"player-data":      {id: "{ode}"},
	"choose-practices": {body: `{"choices":{"` + catalog.ProfilePractice + `":"concert"}}`},
	"save-product": {
		body: `{"id":"{new}","name":"Brightwater 70","group":"alcohol","contact_minutes":1,"surfaces":["bore"],"supply":"alcohol-70","hazards":"","safety_sheet":"","registered_use":"","retired":false,"version":0}`,
	},
	"safety-sheet":       {id: "{product}"},
	"save-safety-sheet":  {id: "{product}", body: "%PDF-1.4 a newer one"},
	"save-rental-prices": {body: `{"prices":[{"kind":"violin","size":"4/4","monthly_cents":900}]}`},
	"sign-in":            {body: `{"email":"{email}","password":"` + password + `"}`},
	"change-password":    {body: `{"old":"` + password + `","password":"a longer password"}`},
	"delete-break":       {id: "{break}", query: map[string]string{"version": "1"}},
	"delete-concert":     {id: "{concert}", query: map[string]string{"version": "1"}},
	"delete-term":        {id: "{term}", query: map[string]string{"version": "1"}},
	"delete-ensemble":    {id: "{ensemble}", query: map[string]string{"version": "1"}},
	"save-break": {
		id:   "{new}",
		body: `{"id":"{new}","name":"Snow","starts_on":"2027-02-01","ends_on":"2027-02-05","version":0}`,
	},
	"save-term": {
		id:   "{new}",
		body: `{"id":"{new}","name":"Spring","starts_on":"2027-02-01","ends_on":"2027-06-05","version":0}`,
	},
	"save-concert": {
		id:   "{new}",
		body: `{"id":"{new}","name":"Spring","held_on":"2027-02-01","minutes":60,"play_factor":0.6,"ensembles":[],"version":0}`,
	},
	"save-ensemble": {
		id:   "{new}",
		body: `{"id":"{new}","name":"Brass","rehearsals":[{"id":"{new}","weekday":2,"starts_at":"10:20","minutes":60,"play_factor":0.6}],"version":0}`,
	},
	"save-person": {
		id:   "{new}",
		body: `{"id":"{new}","name":"Pell Arrowby","email":"pell.{email}","role":"helper","active":true,"version":0,"password":"a long password"}`,
	},
	"save-school":     {body: `{school}`},
	"save-shelf":      {body: `{"id":"{new}","room":"Store","rack":"B","position":1,"name":"B","slots":4,"version":0}`},
	"delete-shelf":    {id: "{shelf}"},
	"save-vessel":     {body: `{"inner_diameter_mm":100,"cork_height_mm":40,"mouthpiece_volume_ml":10,"at_once":2}`},
	"begin-stocktake": {body: `{"id":"{new}","room":"Store"}`},
	"stocktake":       {id: "{stocktake}"},
	"end-stocktake":   {id: "{stocktake}"},
	"scan":            {id: "{stocktake}", body: `{"tag":"FREE"}`},
	"save-supply":     {body: `{"supply":"rosin","size":"","supplier":"Fenwater","pack_size":1,"lead_weeks":1,"version":0}`},
	"count-stock":     {body: `{"supply":"rosin","size":"","quantity":4}`},
	"place-order":     {body: `{"id":"{new}","supplier":"Fenwater","lines":[{"supply":"rosin","size":"","packs":2}]}`},
	"order-csv":       {id: "{order}"},
	"order-workbook":  {id: "{order}"},
	"receive": {
		id:   "{order}",
		body: `{"lines":[{"supply":"rosin","size":"","packs":1,"expires_on":"2028-01-01"}],"close":false}`,
	},
	"change-instruments": {body: `{"instruments":["{free}"],"maker":"Corbeau","price_cents":45000}`},
	"name-supply":        {body: `{"name":"Saddle soap"}`},
	"import-supplies":    {body: "supply,pack price\nPencil,3.50\n"},
	"change-players":     {body: `{"players":["{ilse}"],"grade_year":"9"}`},
	"make-cards":         {body: `{"instruments":["{free}"]}`},
	"print-cards":        {query: map[string]string{"instruments": "{out}", "size": "a5"}},
	"settle-report":      {id: "{report}", body: `{"answer":"Play on."}`},
	"board":              {query: map[string]string{"ensemble": "{class}"}},
	"progress":           {query: map[string]string{"ensemble": "{class}"}},
	"keep-progress":      {body: `{"id":"{new}","ensemble":"{class}","phase":"pack-up","seconds":300,"ready":["Violins"]}`},
	"class":              {query: map[string]string{"ensemble": "{class}", "kind": "violin", "last": "pick:left-on-chair"}},
	"count-hands":        {body: `{"ensemble":"{class}","kind":"violin","question":"pick:left-on-chair","right":11,"wrong":2}`},
	"put-step-aside":     {body: `{"key":"shops","aside":true}`},
	"password-link":      {id: "{me}", body: `{"secret":"` + keySecret + `"}`},
	"add-key":            {body: `{"id":"{new}","name":"nightly","role":"viewer","ends_on":"2026-12-01","secret":"` + keySecret + `{new}"}`},
	"end-key":            {id: "{key}"},
	"end-session":        {id: "{session}"},
	"sign-in-anew":       {body: `{"secret":"{link}","password":"plum harbour lantern"}`},
	"undo":               {body: `{"events":["{event}"]}`},
	"calculate":          {body: `{"repair_cents":100,"age_years":1,"life_years":2,"avoidable":true}`},
}

// paths are what stands in a path beside ids.
var paths = map[string]string{"name": "shop.charge", "kind": "flute"}

// url is the address of an operation with the parameters of that name and those that it needs.
func (w *world) url(c contract, o *operation, with ...string) string {
	r := recipes[o.OperationID]
	path := strings.ReplaceAll(o.path, "{id}", w.fill(cmp.Or(r.id, "{free}")))
	for name, value := range paths {
		path = strings.ReplaceAll(path, "{"+name+"}", value)
	}
	var query []string
	for _, p := range o.Parameters {
		value, known := r.query[p.Name]
		always := p.Required || known && o.method != http.MethodGet
		if p.In != "query" || !always && !slices.Contains(with, p.Name) {
			continue
		}
		if !known {
			value = c.text(p.Schema)
		}
		query = append(query, p.Name+"="+w.fill(value))
	}
	return path + "?" + strings.Join(query, "&")
}

// body is what an operation is sent.
func (w *world) body(t *testing.T, c contract, o *operation) (body, kind string) {
	t.Helper()
	body, kind = c.body(t, o)
	if r := recipes[o.OperationID].body; r != "" {
		body = w.fill(r)
	}
	return body, kind
}
