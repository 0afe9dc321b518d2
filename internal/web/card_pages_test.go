package web_test

import (
	"bytes"
	"context"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"io"
	"io/fs"
	"mime/multipart"
	"net/http"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"solfeggio/internal/app/cards"
	"solfeggio/internal/core/card"
	"solfeggio/internal/pgtest"
)

// say sends the form of a card as a browser does, with a picture where there is one.
func (s *site) say(path string, fields map[string]string, picture []byte) answer {
	s.t.Helper()
	var b bytes.Buffer
	form := multipart.NewWriter(&b)
	for name, value := range fields {
		require.NoError(s.t, form.WriteField(name, value))
	}
	if picture != nil {
		file, err := form.CreateFormFile("photo", "photo.jpg")
		require.NoError(s.t, err)
		_, err = file.Write(picture)
		require.NoError(s.t, err)
	}
	require.NoError(s.t, form.Close())
	return s.call("POST", path+"/report", b.String(), "Content-Type", form.FormDataContentType())
}

func photograph(t testing.TB, width, height int) []byte {
	t.Helper()
	m := image.NewRGBA(image.Rect(0, 0, width, height))
	for n := range 50 {
		m.Set(n, n, color.White)
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, m, nil))
	return b.Bytes()
}

func TestTheCardTellsNothingOfItsHolder(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "cards@quillhaven.example")
	v := w.visitor()
	got := v.call("GET", w.things["card"], "")
	require.Equal(t, 200, got.status)
	assert.Contains(t, got.body, "Violin 4/4")
	assert.Contains(t, got.body, "Slacken the bow")
	assert.Contains(t, got.body, "Sent, nobody has looked yet")
	assert.Less(t, len(got.body), 60<<10)
	for _, secret := range []string{"Marchetti", "Ode", "Quandt", "Corvane", "quillhaven", "Quillhaven", "EUR", "Store", w.things["out"]} {
		assert.NotContains(t, got.body, secret)
	}
	for name, value := range map[string]string{
		"X-Robots-Tag": "noindex, nofollow", "Cache-Control": "private, no-store", "Referrer-Policy": "no-referrer", "Set-Cookie": "",
	} {
		assert.Equal(t, value, got.headers.Get(name), name)
	}
	assert.Contains(t, v.call("GET", w.things["card"]+"?l=de", "").body, "Etwas stimmt nicht")
	for _, name := range []string{"/card.css", "/card.js"} {
		assert.Equal(t, 200, v.call("GET", name, "").status, name)
	}
}

// An address that never was and one that a new card has ended are answered alike, whatever is done there.
func TestUnknownAndEndedAddressesAreAnsweredAlike(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "cards@quillhaven.example")
	v, ended := w.visitor(), w.things["card"]
	out := uuid.MustParse(w.things["out"])
	_, err := w.app.Cards.Make(context.Background(), w.by, cards.Making{Instruments: []uuid.UUID{out}, Anew: true})
	require.NoError(t, err)
	never := cards.Path(strings.Repeat("x", len(ended)-len(cards.Path(""))))
	same := func(method, tail, body string) {
		t.Helper()
		a, b := v.call(method, ended+tail, body), v.call(method, never+tail, body)
		assert.Equal(t, 404, a.status, tail)
		assert.Equal(t, b.status, a.status, tail)
		assert.Equal(t, strings.ReplaceAll(b.body, never, ended), a.body, tail)
		a.headers.Del("X-Request-Id")
		b.headers.Del("X-Request-Id")
		a.headers.Del("Date")
		b.headers.Del("Date")
		assert.Equal(t, b.headers, a.headers, tail)
	}
	same("GET", "", "")
	same("GET", "/practise", "")
	same("POST", "/ready", "")
	same("POST", "/practise", "question=pick:left-on-chair&choice=0")
	same("POST", "/report", "symptom=buzz&plays=no")
	rapid.Check(t, func(t *rapid.T) {
		secret := rapid.StringMatching(`[A-Za-z0-9_.~%+-]{0,60}`).Draw(t, "secret")
		got := v.call("GET", "/c/"+url.PathEscape(secret), "")
		assert.Contains(t, []int{200, 301, 404}, got.status) // 200 is the front end at /c/, which asks for a sign-in
		assert.NotContains(t, got.body, "Marchetti")
		assert.NotContains(t, got.body, "Violin")
	})
}

func TestAReportIsKeptOnceAndGoesToToday(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "cards@quillhaven.example")
	v, path := w.visitor(), w.things["card"]
	said := map[string]string{"id": uuid.NewString(), "symptom": "buzz", "plays": "badly"}
	for range 2 { // the reply of the first was lost
		got := v.say(path, said, photograph(t, 900, 600))
		require.Equal(t, 200, got.status, got.body)
		assert.Contains(t, got.body, "Your report was sent.")
		assert.Contains(t, got.body, "Stop playing and look for a gap or a crack")
	}
	before := w.call("GET", "/api/v1/reports", "").body
	assert.Less(t, strings.Index(before, `"symptom":"peg-slips"`), strings.Index(before, `"symptom":"buzz"`), "who cannot play comes first")
	said["id"], said["plays"] = uuid.NewString(), "no"
	require.Equal(t, 200, v.say(path, said, nil).status)

	today := w.call("GET", "/api/v1/today", "")
	rows := string(field(t, today.body, "reports"))
	assert.Equal(t, 2, strings.Count(rows, `"tag":"OUT"`), "peg and buzz; the same said twice is one")
	assert.Contains(t, rows, `"said":2`)
	reports := w.call("GET", "/api/v1/reports", "").body
	id := regexp.MustCompile(`"id":"([^"]+)","instrument_id":"[^"]+","symptom":"buzz"`).FindStringSubmatch(reports)[1]
	photo := regexp.MustCompile(`"photo_id":"([^"]+)"`).FindStringSubmatch(reports)[1]
	assert.Equal(t, 200, w.call("GET", "/api/v1/photos/"+photo, "").status)
	assert.Equal(t, 401, v.call("GET", "/api/v1/photos/"+photo, "").status, "but not for whoever holds the card")

	for _, bad := range []string{`{}`, `{"finding":"swab-stuck"}`, `{"finding":"no such"}`} {
		assert.Equal(t, 422, w.call("POST", "/api/v1/reports/"+id, bad).status, bad)
	}
	got := w.call("POST", "/api/v1/reports/"+id, `{"finding":"chin-rest-loose"}`)
	require.Equal(t, 200, got.status, got.body)
	assert.Equal(t, 409, w.call("POST", "/api/v1/reports/"+id, `{"answer":"Once more."}`).status, "somebody was quicker")
	file := w.call("GET", "/api/v1/instruments/"+w.things["out"], "").body
	assert.Contains(t, file, "A player said: It buzzes")
	assert.Contains(t, file, photo, "the photograph went with the finding")
	assert.Contains(t, v.call("GET", path, "").body, "Seen: somebody will look at it")

	events := string(field(t, got.body, "events"))
	require.Equal(t, 200, w.call("POST", "/api/v1/undo", `{"events":`+events+`}`).status)
	assert.Contains(t, w.call("GET", "/api/v1/reports", "").body, id, "taken back it stands open again")
	require.Equal(t, 200, w.call("POST", "/api/v1/reports/"+id, `{"answer":"All is well."}`).status)
	assert.Contains(t, v.call("GET", path, "").body, "<q>All is well.</q>")
}

func TestAFloodOfReportsIsSlowedDown(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "cards@quillhaven.example")
	v, path := w.visitor(), w.things["card"]
	last := answer{}
	for n := range 9 {
		symptoms := []string{"buzz", "bow-slips", "peg-sticks"}
		last = v.say(path, map[string]string{"id": uuid.NewString(), "symptom": symptoms[n%3], "plays": "yes"}, nil)
	}
	assert.Equal(t, http.StatusTooManyRequests, last.status)
	assert.Contains(t, last.body, "Too many reports from here just now. Tell your teacher.")
	assert.Contains(t, last.body, `value="peg-sticks" required checked`, "what was chosen stays")
	rows := string(field(t, w.call("GET", "/api/v1/today", "").body, "reports"))
	assert.Equal(t, 4, strings.Count(rows, `"tag":"OUT"`), "each thing once")
	assert.Equal(t, 0, strings.Index(rows, `[{"id":"`+w.things["report"]), "and the real one still stands first")
}

func TestWhatCannotBeReported(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "cards@quillhaven.example")
	v, path := w.visitor(), w.things["card"]
	for name, tt := range map[string]struct {
		fields  map[string]string
		picture []byte
		says    string
	}{
		"nothing":            {map[string]string{}, nil, "Choose what is wrong."},
		"of another kind":    {map[string]string{"symptom": "swab-stuck", "plays": "no"}, nil, "Choose what is wrong."},
		"no word on playing": {map[string]string{"symptom": "buzz"}, nil, "Say whether you can still play."},
		"no picture": {map[string]string{"symptom": "buzz", "plays": "no"}, []byte("MZ\x90\x00 run me"),
			"This file is no picture, or too large."},
		"a picture of too much": {
			map[string]string{"symptom": "buzz", "plays": "no"}, photograph(t, 6000, 5000),
			"This file is no picture, or too large.",
		},
	} {
		t.Run(name, func(t *testing.T) {
			got := v.say(path, tt.fields, tt.picture)
			assert.Equal(t, 422, got.status)
			assert.Contains(t, got.body, tt.says)
		})
	}
	reports := w.call("GET", "/api/v1/reports", "").body
	assert.NotContains(t, reports, `"symptom":"buzz"`, "nothing of it was kept")
	other := v.call("POST", path+"/report", "symptom=buzz&plays=no", "Content-Type", "application/x-www-form-urlencoded",
		"Sec-Fetch-Site", "cross-site")
	assert.Equal(t, 403, other.status, "a foreign page cannot report in somebody's name")
}

// A player answers all questions of a day by the page alone, without scripts; what was wrong comes again, and only counts are kept.
func TestPractisingOnThePageOfACard(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "cards@quillhaven.example")
	v, path := w.visitor(), w.things["card"]
	option := regexp.MustCompile(`(?s)name="choice" value="(\d+)">(?:<svg.*?</svg><span class="sr">)?([^<]+)`)
	question := regexp.MustCompile(`name="question" value="([^"]+)"`)
	soFar := regexp.MustCompile(`name="so" value="([^"]*)"`)
	seen, right, wrong := map[string]int{}, 0, 0
	page := v.call("GET", path+"/practise", "")
	for step := 0; !strings.Contains(page.body, "That was all for today"); step++ {
		require.Less(t, step, 300, "it never ends")
		if next := regexp.MustCompile(`href="([^"]+)">Next question`).FindStringSubmatch(page.body); next != nil {
			page = v.call("GET", strings.ReplaceAll(next[1], "&amp;", "&"), "")
			continue
		}
		id := question.FindStringSubmatch(page.body)[1]
		options := option.FindAllStringSubmatch(page.body, -1)
		choice := options[0]
		if n := slices.IndexFunc(options, func(o []string) bool { return rights[strings.ReplaceAll(o[2], "&#39;", "'")] }); n >= 0 &&
			seen[id] > 0 {
			choice = options[n]
		}
		form := url.Values{"question": {id}, "so": {soFar.FindStringSubmatch(page.body)[1]}, "choice": {choice[1]}}
		page = v.call("POST", path+"/practise", form.Encode(), "Content-Type", "application/x-www-form-urlencoded")
		require.Equal(t, 200, page.status, page.body)
		switch {
		case strings.Contains(page.body, "<h1>Right.</h1>"):
			right++
			seen[id]++
		case strings.Contains(page.body, "<h1>Not quite.</h1>"):
			wrong++
			seen[id]++
		}
		if seen[id] > 8 { // an order that the test does not know
			break
		}
	}
	assert.GreaterOrEqual(t, len(seen), 10)
	assert.Positive(t, right)
	assert.Positive(t, wrong)
	var counted, missed int
	db := w.call("GET", "/api/v1/habits", "").body
	for _, m := range regexp.MustCompile(`"missed":\{"of":(\d+),"all":(\d+)`).FindAllStringSubmatch(string(field(t, db, "drills")), -1) {
		_, err := fmt.Sscan(m[1]+" "+m[2], &missed, &counted)
		require.NoError(t, err)
	}
	assert.Equal(t, right+wrong, counted)
	assert.Equal(t, wrong, missed)
}

// rights are the right answers of a violin's questions, as a player learns them.
var rights = func() map[string]bool {
	all := map[string]bool{}
	for _, text := range []string{
		"Slacken the bow before it is put down.", "Hold the bow by the frog and the stick.", "Close every latch before you lift the case.",
		"Dry your hands before you touch it.", "Lay it in its case when you go.", "Shoulder rest off before the lid shuts.",
	} {
		all[text] = true
	}
	return all
}()

func TestASectionSaysByItsCardThatItIsReady(t *testing.T) {
	w := newWorld(t, pgtest.Open(t), "cards@quillhaven.example")
	v, path := w.visitor(), w.things["card"]
	assert.NotContains(t, v.call("GET", path, "").body, "Our section is ready")
	began := w.call("PUT", "/api/v1/pack-up", w.fill(`{"id":"{new}","ensemble":"{class}","phase":"pack-up","seconds":300,"ready":[]}`))
	require.Equal(t, 200, began.status, began.body)
	assert.Contains(t, v.call("GET", path, "").body, "Our section is ready")
	got := v.call("POST", path+"/ready", "", "Content-Type", "application/x-www-form-urlencoded")
	assert.Contains(t, got.body, `role="status">Ready`)
	progress := w.call("GET", w.fill("/api/v1/pack-up?ensemble={class}"), "").body
	assert.JSONEq(t, `["Violins"]`, string(field(t, progress, "ready")))
	refused := w.call("PUT", "/api/v1/pack-up", w.fill(`{"id":"{new}","ensemble":"{class}","phase":"pack-up","seconds":90000,"ready":[]}`))
	assert.Equal(t, 422, refused.status)
}

// Every sentence of the pages stands in every language.
func TestThePagesSpeakEveryLanguage(t *testing.T) {
	said := regexp.MustCompile(`(?:say|l10n\(c,|l\.Say\() ?"([A-Z%][^"]+)"`)
	var texts []string
	for _, folder := range []string{"cardpage", "."} {
		require.NoError(t, fs.WalkDir(os.DirFS(folder), ".", func(path string, _ fs.DirEntry, err error) error {
			if err != nil || !strings.HasSuffix(path, ".html") && path != "card_pages.go" {
				return err
			}
			file, err := os.Open(folder + "/" + path)
			require.NoError(t, err)
			defer file.Close()
			text, err := io.ReadAll(file)
			for _, m := range said.FindAllStringSubmatch(string(text), -1) {
				texts = append(texts, m[1])
			}
			return err
		}))
	}
	require.Greater(t, len(texts), 25)
	for _, l := range card.Languages()[1:] {
		for _, text := range texts {
			assert.NotEmpty(t, l.Says[text], "%s does not say %q", l.Name, text)
		}
	}
}

// BenchmarkCardPage asks for the page of a card in a school of 600 instruments.
func BenchmarkCardPage(b *testing.B) {
	w := newWorld(b, pgtest.Open(b), "cards@quillhaven.example")
	v := w.visitor()
	require.Equal(b, 200, w.call("POST", "/api/v1/instruments/file", string(instruments(600)), "Content-Type",
		"application/octet-stream").status)
	size := 0
	for b.Loop() {
		got := v.call("GET", w.things["card"], "")
		require.Equal(b, 200, got.status)
		size = len(got.body)
	}
	b.ReportMetric(float64(size), "bytes/page")
}
