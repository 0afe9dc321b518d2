package web

import (
	"bytes"
	"embed"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"html/template"
	"io"
	"net/http"
	"slices"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"solfeggio/internal/app/cards"
	"solfeggio/internal/app/journal"
	"solfeggio/internal/core/card"
	"solfeggio/internal/core/drill"
	"solfeggio/internal/formats"
)

// The pages behind the codes of care cards. They are plain HTML of a few kilobytes, made here and not by the front end, because they are
// opened by eleven-year-olds on slow phones, and work without scripts.
//
//go:embed cardpage
var cardFiles embed.FS

// maxReportBytes is a report with its photograph.
const (
	maxReportBytes = formats.MaxPhotoBytes + 64<<10
	smallReport    = 16 << 10 // one without
)

// drillCookie holds what somebody knows already, on their phone and nowhere else.
const (
	drillCookie     = "drill"
	drillCookieDays = 120
)

func (s *server) cardPages(engine *gin.Engine) {
	for _, name := range []string{"card.css", "card.js"} {
		engine.GET("/"+name, func(c *gin.Context) {
			c.Header("Cache-Control", "public, max-age=3600")
			c.FileFromFS("cardpage/"+name, http.FS(cardFiles))
		})
	}
	group := engine.Group("/c/:secret", func(c *gin.Context) {
		c.Header("X-Robots-Tag", "noindex, nofollow")
		c.Header("Cache-Control", noStore)
		c.Header("Referrer-Policy", "no-referrer") // the address is the key
	})
	group.GET("", s.cardPage)
	group.GET("/practise", s.practise)
	for path, at := range map[string]struct {
		takes int64
		by    gin.HandlerFunc
	}{
		"/report": {maxReportBytes, s.report}, "/practise": {smallBody, s.answer}, "/ready": {smallBody, s.sectionReady},
	} {
		s.gate.takes[http.MethodPost+" /c/:secret"+path] = at.takes
		group.POST(path, at.by)
	}
}

// frame is what every page of a card shows.
type frame struct {
	L         string // key of the language
	Title     string
	Path      string // of the card
	Here      string // of this page
	Languages []card.Language
	Draft     bool
}

type cardView struct {
	frame
	Gone    bool
	Page    cards.Page
	ID      uuid.UUID // of the report that may be sent
	Sent    string    // what to do first, once a report was sent
	Fault   string
	Symptom string // chosen before a fault
	Plays   string
}

type practiceView struct {
	frame
	cards.Practice
	So       []int // answers chosen so far
	SoFar    string
	Answered bool
	Right    bool
}

func frameOf(c *gin.Context, title string) (frame, card.Language) {
	l := card.LanguageOf(c.Query("l"))
	path := cards.Path(c.Param("secret"))
	return frame{l.Key, title, path, c.Request.URL.Path, card.Languages(), l.Draft}, l
}

func (s *server) cardPage(c *gin.Context) {
	frame, l := frameOf(c, "")
	s.showCard(c, cardView{frame: frame}, l, http.StatusOK)
}

// showCard writes the page of a card, with whatever is to be said of a report.
func (s *server) showCard(c *gin.Context, v cardView, l card.Language, status int) {
	page, err := s.app.Cards.Page(c.Request.Context(), c.Param("secret"), l)
	if err != nil {
		s.cardFault(c, v.frame, l, err)
		return
	}
	v.Page, v.Title, v.ID = page, page.Card.KindName+" "+page.Tag, uuid.Must(uuid.NewV7())
	if n := slices.IndexFunc(page.Card.Stuck, func(f card.First) bool { return f.Symptom == c.Query("sent") }); n >= 0 {
		v.Sent = page.Card.Stuck[n].Do
	}
	s.writePage(c, "page", v, l, status)
}

// cardFault says what went wrong: alike for an address that never was and one that was ended.
func (s *server) cardFault(c *gin.Context, f frame, l card.Language, err error) {
	var fault *journal.Fault
	if errors.As(err, &fault) && fault.Kind == journal.NotFound {
		f.Title = l.Say("This card leads nowhere any more. Ask for a new one.")
		s.writePage(c, "page", cardView{frame: f, Gone: true}, l, http.StatusNotFound)
		return
	}
	s.log.Error("card", "error", err)
	writeProblem(c.Writer, http.StatusServiceUnavailable, away)
}

func (s *server) report(c *gin.Context) {
	frame, l := frameOf(c, "")
	ctx, secret := c.Request.Context(), c.Param("secret")
	if err := s.app.Cards.Known(ctx, secret); err != nil { // before anything is read
		s.cardFault(c, frame, l, err)
		return
	}
	if err := s.app.Cards.MaySay(ctx, secret, c.ClientIP()); err != nil {
		view := cardView{frame: frame}
		if n := c.Request.ContentLength; n > 0 && n <= smallReport { // what was chosen stays; a photograph is not read for that
			view.Symptom, view.Plays = c.PostForm("symptom"), c.PostForm("plays")
		}
		s.reportFault(c, view, l, err)
		return
	}
	said := cards.Saying{Origin: c.ClientIP(), Symptom: c.PostForm("symptom"), Plays: cards.Plays(c.PostForm("plays"))}
	if c.Request.MultipartForm != nil {
		defer func() { _ = c.Request.MultipartForm.RemoveAll() }()
	}
	var err error
	if said.ID, err = uuid.Parse(c.PostForm("id")); err != nil {
		said.ID = uuid.Must(uuid.NewV7())
	}
	view := cardView{frame: frame, Symptom: said.Symptom, Plays: string(said.Plays)}
	if said.Photo, err = pictureOf(c); err != nil {
		view.Fault = "This file is no picture, or too large."
		s.showCard(c, view, l, http.StatusUnprocessableEntity)
		return
	}
	if err = s.app.Cards.Say(ctx, secret, said); err != nil {
		s.reportFault(c, view, l, err)
		return
	}
	c.Redirect(http.StatusSeeOther, fmt.Sprintf("%s?l=%s&sent=%s#sent", frame.Path, l.Key, said.Symptom))
}

// reportFault says why a report was not taken, with what was chosen.
func (s *server) reportFault(c *gin.Context, view cardView, l card.Language, err error) {
	var fault *journal.Fault
	switch {
	case errors.As(err, &fault) && fault.Kind == journal.TooMany:
		view.Fault = fault.Message
		s.showCard(c, view, l, http.StatusTooManyRequests)
	case errors.As(err, &fault) && fault.Kind == journal.Invalid:
		view.Fault = fault.Fields[0].Message
		s.showCard(c, view, l, http.StatusUnprocessableEntity)
	default:
		s.cardFault(c, view.frame, l, err)
	}
}

// pictureOf reads the photograph of a report; nothing where none was sent.
func pictureOf(c *gin.Context) ([]byte, error) {
	header, err := c.FormFile("photo")
	if errors.Is(err, http.ErrMissingFile) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	file, err := header.Open()
	if err != nil {
		return nil, err
	}
	defer file.Close()
	picture := make([]byte, header.Size)
	_, err = io.ReadFull(file, picture)
	return picture, err
}

func (s *server) practise(c *gin.Context) {
	frame, l := frameOf(c, l10n(c, "Practise"))
	p, err := s.app.Cards.Practise(c.Request.Context(), c.Param("secret"), boxesOf(c), c.Query("last"), l)
	if err != nil {
		s.cardFault(c, frame, l, err)
		return
	}
	s.writePage(c, "practise", practiceView{frame: frame, Practice: p}, l, http.StatusOK)
}

func l10n(c *gin.Context, text string) string { return card.LanguageOf(c.Query("l")).Say(text) }

func (s *server) answer(c *gin.Context) {
	frame, l := frameOf(c, l10n(c, "Practise"))
	ctx, secret := c.Request.Context(), c.Param("secret")
	if err := s.app.Cards.Known(ctx, secret); err != nil { // before anything is read
		s.cardFault(c, frame, l, err)
		return
	}
	id := c.PostForm("question")
	q, err := s.app.Cards.Question(ctx, secret, id, l)
	if err != nil {
		s.cardFault(c, frame, l, err)
		return
	}
	so := places(c.PostForm("so")+","+c.PostForm("choice"), len(q.Answers))
	view := practiceView{frame: frame, Practice: cards.Practice{Question: q, More: true}, So: so, SoFar: joined(so)}
	if q.Form == drill.Order && len(so) < len(q.Answers) {
		s.writePage(c, "practise", view, l, http.StatusOK)
		return
	}
	boxes := boxesOf(c)
	got, err := s.app.Cards.Answer(ctx, secret, id, so, boxes[id], l)
	if err != nil {
		s.cardFault(c, frame, l, err)
		return
	}
	boxes[id] = got.Box
	s.keepBoxes(c, frame.Path, boxes)
	view.Answered, view.Right = true, got.Right
	s.writePage(c, "practise", view, l, http.StatusOK)
}

// places reads places of options, each once.
func places(text string, options int) (list []int) {
	for _, part := range strings.Split(text, ",") {
		if n, err := strconv.Atoi(part); err == nil && n >= 0 && n < options && !slices.Contains(list, n) {
			list = append(list, n)
		}
	}
	return list
}

func joined(list []int) string {
	texts := make([]string, len(list))
	for n, x := range list {
		texts[n] = strconv.Itoa(x)
	}
	return strings.Join(texts, ",")
}

// boxesOf reads what somebody knows from their cookie; what cannot be read counts as never asked.
func boxesOf(c *gin.Context) map[string]drill.Known {
	boxes := map[string]drill.Known{}
	cookie, err := c.Cookie(drillCookie)
	if err != nil {
		return boxes
	}
	if text, err := base64.RawURLEncoding.DecodeString(cookie); err == nil && json.Unmarshal(text, &boxes) != nil || boxes == nil {
		return map[string]drill.Known{}
	}
	return boxes
}

func (s *server) keepBoxes(c *gin.Context, path string, boxes map[string]drill.Known) {
	text, err := json.Marshal(boxes)
	if err != nil {
		return // they are plain data
	}
	http.SetCookie(c.Writer, &http.Cookie{
		Name: drillCookie, Value: base64.RawURLEncoding.EncodeToString(text), Path: path, MaxAge: drillCookieDays * 24 * 3600,
		Secure: s.secure, HttpOnly: true, SameSite: http.SameSiteStrictMode,
	})
}

func (s *server) sectionReady(c *gin.Context) {
	frame, l := frameOf(c, "")
	if err := s.app.Cards.SectionReady(c.Request.Context(), c.Param("secret")); err != nil {
		s.cardFault(c, frame, l, err)
		return
	}
	c.Redirect(http.StatusSeeOther, frame.Path+"?l="+l.Key)
}

// cardTemplates are the pages by language.
var cardTemplates = func() map[string]*template.Template {
	all := map[string]*template.Template{}
	for _, l := range card.Languages() {
		all[l.Key] = template.Must(template.New("").Funcs(template.FuncMap{
			"say":     l.Say,
			"drawing": drawingSVG,
			"chosen":  func(so []int, n int) bool { return slices.Contains(so, n) },
			"rosin":   func(times int) string { return rosinWords(l, times) },
		}).ParseFS(cardFiles, "cardpage/*.html"))
	}
	return all
}()

func rosinWords(l card.Language, times int) string {
	switch {
	case times >= 7:
		return l.Say("every day")
	case times == 1:
		return l.Say("once a week")
	}
	return fmt.Sprintf(l.Say("%d times a week"), times)
}

func (s *server) writePage(c *gin.Context, name string, view any, l card.Language, status int) {
	var page bytes.Buffer
	if err := cardTemplates[l.Key].ExecuteTemplate(&page, name, view); err != nil {
		s.log.Error("page of a card", "error", err)
		writeProblem(c.Writer, http.StatusInternalServerError, unexpected)
		return
	}
	c.Data(status, "text/html; charset=utf-8", page.Bytes())
}

// drawingSVG is a drawing as a picture; empty for a name that has none.
func drawingSVG(name string) template.HTML { return template.HTML(formats.DrawingSVG(name)) } // our own drawings only
