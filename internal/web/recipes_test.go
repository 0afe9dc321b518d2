package web_test

import (
	"cmp"
	"context"
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/pquerna/otp/totp"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/core/catalog"
	"solfeggio/internal/store"
	"solfeggio/internal/store/peoplerows"
)

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
	"erase-player":     {id: "{bram}", body: `{"texts":[]}`},
	"mentions":         {id: "{bram}"},
	"player-data":      {id: "{ode}"},
	"move-in-kit":      {body: `{"kit":"violin","supply":"mute","tier":"cupboard"}`},
	"choose-practices": {body: `{"choices":{"` + catalog.ProfilePractice + `":"concert"}}`},
	"save-product": {
		body: `{"id":"{new}","name":"Brightwater 70","made_of":["alcohol"],"contact_minutes":1,"surfaces":["bore"],"supply":"alcohol-70","hazards":"","safety_sheet":"","registered_use":"","retired":false,"version":0}`,
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
	"change-instruments":     {body: `{"instruments":["{free}"],"maker":"Corbeau","price_cents":45000}`},
	"name-supply":            {body: `{"name":"Saddle soap"}`},
	"import-supplies":        {body: "supply,pack price\nPencil,3.50\n"},
	"change-players":         {body: `{"players":["{ilse}"],"grade_year":"9"}`},
	"make-cards":             {body: `{"instruments":["{free}"]}`},
	"print-cards":            {query: map[string]string{"instruments": "{out}", "size": "a5"}},
	"settle-report":          {id: "{report}", body: `{"answer":"Play on."}`},
	"board":                  {query: map[string]string{"ensemble": "{class}"}},
	"progress":               {query: map[string]string{"ensemble": "{class}"}},
	"keep-progress":          {body: `{"id":"{new}","ensemble":"{class}","phase":"pack-up","seconds":300,"ready":["Violins"]}`},
	"class":                  {query: map[string]string{"ensemble": "{class}", "kind": "violin", "last": "pick:left-on-chair"}},
	"count-hands":            {body: `{"ensemble":"{class}","kind":"violin","question":"pick:left-on-chair","right":11,"wrong":2}`},
	"put-step-aside":         {body: `{"key":"shops","aside":true}`},
	"password-link":          {id: "{me}", body: `{"secret":"` + keySecret + `"}`},
	"add-key":                {body: `{"id":"{new}","name":"nightly","role":"viewer","ends_on":"2026-12-01","secret":"` + keySecret + `{new}","password":"` + password + `"}`},
	"renew-key":              {id: "{key}", body: `{"ends_on":"2027-01-15","password":"` + password + `"}`},
	"end-key":                {id: "{key}"},
	"picture-second-factor":  {body: `{"secret":"` + factorSecret + `"}`},
	"turn-on-second-factor":  {body: factorOn},
	"turn-off-second-factor": {body: `{"password":"` + password + `","code":"` + factorCode + `"}`},
	"drop-second-factor":     {id: "{me}", body: `{"password":"` + password + `"}`},
	"drop-passkey":           {id: "{passkey}", body: `{"password":"` + password + `"}`},
	"promise":                {body: `{"instrument_id":"{free}","player_id":"{ilse}","until":"2026-12-10"}`},
	"end-promise":            {id: "{promised}"},
	"end-session":            {id: "{session}"},
	"sign-in-forgotten":      {body: `{"email":"nobody@quillhaven.example"}`},
	"sign-in-anew":           {body: `{"secret":"{link}","password":"plum harbour lantern"}`},
	"undo":                   {body: `{"events":["{event}"]}`},
	"calculate":              {body: `{"repair_cents":100,"age_years":1,"life_years":2,"avoidable":true}`},
}

// A second factor, and what the telephone shows for it when the world begins.
const factorSecret = "JBSWY3DPEHPK3PXPJBSWY3DPEHPK3PXP"

var (
	factorCode, _ = totp.GenerateCode(factorSecret, time.Date(2026, 11, 24, 9, 0, 0, 0, time.UTC))
	factorOn      = `{"secret":"` + factorSecret + `","code":"` + factorCode + `","password":"` + password + `","paper":[` +
		`"{new}0","{new}1","{new}2","{new}3","{new}4","{new}5","{new}6","{new}7","{new}8","{new}9"]}`
)

// paths are what stands in a path beside ids.
var paths = map[string]string{"name": "shop.charge", "kind": "flute"}

// url is the address of an operation with the parameters of that name and those that it needs.
func (w *world) url(c contract, o *operation, with ...string) string {
	r := recipes[o.OperationID]
	switch r.id {
	case "{passkey}":
		w.givePasskey()
	case "{promised}":
		w.promise()
	}
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
		switch {
		case known:
		case p.Name == "version":
			value = w.version(c, o.OperationID)
		default:
			value = c.text(p.Schema)
		}
		query = append(query, p.Name+"="+w.fill(value))
	}
	return path + "?" + strings.Join(query, "&")
}

// versions are where the version is shown of what has no number of its own: an answer, and the text behind which it stands there.
var versions = map[string]struct{ in, behind, name string }{
	"bow-worth":             {"bows", `"tag":"FREE"`, "version"},
	"set-own-limit":         {"instrument-file", `"part":"string-e"`, "limit_version"},
	"choose-for-instrument": {"instrument-file", `"practice":"` + catalog.ProfilePractice + `"`, "version"},
	"choose-practices":      {"practices", `"key":"` + catalog.ProfilePractice + `"`, "version"},
	"move-in-kit":           {"kit-tiers", `"supply":"mute"`, "version"},
	"save-rental-prices":    {"rentals", "", "version"},
	"save-season":           {"plan-season", "", "settings_version"},
	"accept-season":         {"plan-season", "", "version"},
	"save-vessel":           {"products", "", "vessel_version"},
	"save-safety-sheet":     {"products", "", "sheet_version"},
	"save-break-in":         {"reeds", `"supply":"reed-clarinet"`, "version"},
	"accept-interval":       {"lasting", `"kind":"violin"`, "version"},
}

// version is that of what an operation changes, as it stands.
func (w *world) version(c contract, operationID string) string {
	w.t.Helper()
	from, known := versions[operationID]
	require.True(w.t, known, "say where the version for %s is shown", operationID)
	_, all := readContract(w.t)
	n := slices.IndexFunc(all, func(o *operation) bool { return o.OperationID == from.in })
	require.GreaterOrEqual(w.t, n, 0, from.in)
	body := ""
	if all[n].method != http.MethodGet {
		body = `{"pins":[],"anew":false}`
	}
	got := w.call(all[n].method, w.url(c, all[n]), body)
	if got.status == http.StatusUnauthorized {
		return "000000000000" // what is asked is refused too
	}
	require.Equal(w.t, http.StatusOK, got.status, got.body)
	_, rest, found := strings.Cut(got.body, from.behind)
	version := regexp.MustCompile(`"` + from.name + `":"([0-9a-f]{12})"`).FindStringSubmatch(rest)
	require.True(w.t, found && version != nil, "%s behind %s in %.3000s", from.name, from.behind, got.body)
	return version[1]
}

// body is what an operation is sent.
func (w *world) body(t *testing.T, c contract, o *operation) (body, kind string) {
	t.Helper()
	if o.OperationID == "turn-off-second-factor" {
		require.NoError(t, w.app.Schools.DB.WriteAside(context.Background(), w.by.School, func(tx *store.Tx) error {
			if err := peoplerows.DropSecondFactor(context.Background(), tx, w.by.ID); err != nil {
				return err
			}
			return peoplerows.PutSecondFactor(context.Background(), tx, w.by.ID, peoplerows.SecondFactor{Secret: factorSecret, Since: 20000}, nil)
		}))
	}
	switch o.OperationID {
	case "ask-passkey", "sign-in-question":
		w.device()
	case "add-passkey":
		return w.made(w.device()), "application/json"
	case "sign-in-by-passkey":
		d := w.device()
		w.call("POST", "/api/v1/session/passkeys", w.made(d))
		return w.signed(d, here), "application/json"
	}
	body, kind = c.body(t, o)
	if r := recipes[o.OperationID].body; r != "" {
		body = w.fill(r)
	}
	return body, kind
}
