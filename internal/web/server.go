// Package web is the HTTP face of Solfeggio: routes, sessions, errors as problem+json, the OpenAPI document and the
// embedded front end. It decides nothing about the trade; each handler hands over to one use case of package app.
package web

import (
	"context"
	"io/fs"
	"log/slog"
	"math"
	"net/http"
	"reflect"
	"strconv"
	"strings"
	"time"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humagin"
	"github.com/gin-contrib/gzip"
	"github.com/gin-gonic/gin"
	"github.com/google/uuid"
	"github.com/prometheus/client_golang/prometheus/promhttp"
	"github.com/unrolled/secure"
	"golang.org/x/sync/semaphore"

	"solfeggio/internal/app"
	"solfeggio/internal/app/access"
	"solfeggio/internal/core/day"
	"solfeggio/internal/kept"
)

// Options are the settings of a server.
type Options struct {
	SecureCookies  bool     // only over https; set it wherever the server is reached through TLS
	TrustedProxies []string // networks whose X-Forwarded-For is believed, as 10.0.0.0/8
}

// sessionLifetime is how long a sign-in lasts on a device.
const sessionLifetime = 14 * 24 * time.Hour

// server holds what the handlers share.
type server struct {
	app      *app.App
	log      *slog.Logger
	sessions *scs.SessionManager
	api      huma.API

	calculating *semaphore.Weighted // calculators
	plans       *semaphore.Weighted // years that are planned
	answers     *kept.Things[string, remembered]
	gate        *gate
	secure      bool // it is reached over https
}

// New makes the handler of the whole program; files is the built front end. The returned function stops what it
// started in the background.
func New(a *app.App, files fs.FS, log *slog.Logger, o Options) (handler http.Handler, stop func()) {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.HandleMethodNotAllowed = true
	engine.MaxMultipartMemory = smallBody                              // a photograph goes into a file until its turn comes
	if err := engine.SetTrustedProxies(o.TrustedProxies); err != nil { // without any an origin is who connects
		log.Error("trusted proxies", "error", err)
		_ = engine.SetTrustedProxies(nil)
	}
	s := &server{app: a, log: log, sessions: scs.New(), calculating: semaphore.NewWeighted(calcAtOnce),
		plans: semaphore.NewWeighted(plansAtOnce), answers: kept.For[string, remembered](answersBytes), gate: newGate(), secure: o.SecureCookies}

	engine.Use(s.observe, s.byKey, s.pass, s.strangers, patient, s.briefly, s.recovery(), headers(o), s.remember,
		gzip.Gzip(gzip.BestSpeed, gzip.WithExcludedPaths([]string{assets})))
	s.mount(engine)
	serveFiles(engine, files)

	s.sessions.Codec = plainCodec{}
	kept := &sessionStore{a.Access, s.sessions.Codec, a.Schools.Now}
	ctx, stop := context.WithCancel(context.Background())
	go kept.forget(ctx, log)
	s.sessions.Store = kept
	s.sessions.HashTokenInStore = true
	s.sessions.Lifetime = sessionLifetime
	s.sessions.Cookie.Name = "solfeggio"
	s.sessions.Cookie.HttpOnly = true
	s.sessions.Cookie.SameSite = http.SameSiteLaxMode
	s.sessions.Cookie.Secure = o.SecureCookies
	s.sessions.ErrorFunc = func(w http.ResponseWriter, r *http.Request, err error) {
		log.Error("session", "error", err)
		writeProblem(w, http.StatusServiceUnavailable, away)
	}
	guard := http.NewCrossOriginProtection()
	guard.SetDenyHandler(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		writeProblem(w, http.StatusForbidden, "This request came from another site and was not carried out.")
	}))
	return guard.Handler(s.sessionsFor(engine)), stop
}

// mount puts all routes onto an engine but for the files of the front end.
func (s *server) mount(engine *gin.Engine) {
	engine.GET("/healthz", func(c *gin.Context) { c.String(http.StatusOK, "ok\n") })
	engine.GET("/readyz", s.ready)
	s.api = NewAPI(engine)
	s.routes()
	s.gate.learn(s.api.OpenAPI())
	engine.GET("/calendar/:secret", s.calendarFeed)
	s.cardPages(engine)
}

// Metrics shows what the process counts, in Prometheus' text format. It belongs on an address that only those who watch the server
// can reach.
func Metrics() http.Handler { return promhttp.Handler() }

// sessionsFor loads a session for the API only, so that pages and health checks need no database. A script brings a key instead.
func (s *server) sessionsFor(next http.Handler) http.Handler {
	with := s.sessions.LoadAndSave(next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if !isAPI(r.URL.Path) {
			next.ServeHTTP(w, r)
			return
		}
		ctx := withVisit(r)
		if strings.HasPrefix(r.Header.Get("Authorization"), bearer) {
			r.Header.Del("Cookie")
		}
		with.ServeHTTP(w, r.WithContext(ctx))
	})
}

// bearer stands before a key.
const bearer = "Bearer "

// byKey lets a script in with the key that it brings.
func (s *server) byKey(c *gin.Context) {
	key, brought := strings.CutPrefix(c.GetHeader("Authorization"), bearer)
	if !brought || !isAPI(c.Request.URL.Path) {
		return
	}
	ctx := c.Request.Context()
	who, revision, err := s.app.Access.ByKey(ctx, access.Secret(key), c.ClientIP())
	if err != nil {
		writeFault(c.Writer, s.log, err)
		c.Abort()
		return
	}
	*visitOf(ctx) = visit{person: who, revision: revision, signedIn: true}
}

// NewAPI makes the huma API on an engine, the same for serving and for writing the OpenAPI document.
func NewAPI(engine *gin.Engine) huma.API {
	huma.DefaultArrayNullable = false
	config := huma.DefaultConfig("Solfeggio", "1")
	config.CreateHooks = nil
	config.OpenAPIPath, config.DocsPath, config.SchemasPath = "/api/openapi", "", ""
	config.Info.Description = "Care of a school's instruments. Money is in cents, days are ISO days, times are RFC 3339."
	registry := huma.NewMapRegistry("#/components/schemas/", huma.DefaultSchemaNamer)
	registry.RegisterTypeAlias(reflect.TypeFor[uuid.UUID](), reflect.TypeFor[uuidText]())
	registry.RegisterTypeAlias(reflect.TypeFor[day.Day](), reflect.TypeFor[dayText]())
	registry.RegisterTypeAlias(reflect.TypeFor[int](), reflect.TypeFor[plainInt]())
	registry.RegisterTypeAlias(reflect.TypeFor[int64](), reflect.TypeFor[wideInt]())
	config.Components.Schemas = registry
	config.Components.SecuritySchemes = map[string]*huma.SecurityScheme{
		"session": {Type: "apiKey", In: "cookie", Name: "solfeggio"},
		"key":     {Type: "http", Scheme: "bearer", Description: "A key for scripts, made under Settings, People"},
	}
	api := humagin.New(engine, config)
	api.UseMiddleware(func(ctx huma.Context, next func(huma.Context)) { readQuery(api, ctx, next) })
	return api
}

// readQuery refuses what would be read silently as something else: what Go takes for a number and nobody can reckon with, such as NaN, and
// a name that stands twice, of which only the first would count.
func readQuery(api huma.API, ctx huma.Context, next func(huma.Context)) {
	address := ctx.URL()
	given := address.Query()
	for _, p := range ctx.Operation().Parameters {
		if p.In != "query" || p.Schema == nil {
			continue
		}
		wrong, text := "", ctx.Query(p.Name)
		n, err := strconv.ParseFloat(text, 64)
		switch {
		case len(given[p.Name]) > 1 && p.Schema.Type != huma.TypeArray:
			wrong = "stands here more than once"
		case len(given[p.Name]) > 1 && (p.Explode == nil || !*p.Explode):
			wrong = "stands here more than once; write a list with commas"
		case p.Schema.Type == huma.TypeNumber && err == nil && (math.IsNaN(n) || math.IsInf(n, 0) || strings.ContainsAny(text, "xXpP")):
			wrong = "expected a number"
		default:
			continue
		}
		_ = huma.WriteErr(api, ctx, http.StatusUnprocessableEntity, "",
			&huma.ErrorDetail{Location: "query." + p.Name, Message: wrong, Value: text})
		return
	}
	next(ctx)
}

// uuidText and dayText are how ids and days look in JSON, so that a wrong one is refused by its place.
type (
	uuidText string
	dayText  string
)

// plainInt and wideInt are whole numbers as the database keeps them: counts and versions, and amounts in cents that a browser still
// reads exactly.
type (
	plainInt int
	wideInt  int64
)

// Schema is a count.
func (plainInt) Schema(huma.Registry) *huma.Schema { return wholeNumbers(math.MaxInt32) }

// Schema is an amount.
func (wideInt) Schema(huma.Registry) *huma.Schema { return wholeNumbers(1<<53 - 1) }

func wholeNumbers(most float64) *huma.Schema {
	least := -most
	return &huma.Schema{Type: "integer", Format: "int64", Minimum: &least, Maximum: &most}
}

// Schema is a UUID.
func (uuidText) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: "string", Format: "uuid"}
}

// Schema is an ISO day.
func (dayText) Schema(huma.Registry) *huma.Schema {
	return &huma.Schema{Type: "string", Format: "date"}
}

// OpenAPI is the document of the API as JSON.
func OpenAPI() ([]byte, error) {
	gin.SetMode(gin.ReleaseMode)
	s := &server{}
	s.api = NewAPI(gin.New())
	s.routes()
	return s.api.OpenAPI().MarshalJSON()
}

// Routes are all routes of the program but for the files of the front end, as the router knows them.
func Routes() gin.RoutesInfo {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	(&server{gate: newGate()}).mount(engine)
	return engine.Routes()
}

// noStore keeps an answer out of browsers' and everybody else's memory.
const noStore = "private, no-store"

func headers(o Options) gin.HandlerFunc {
	policy := secure.New(secure.Options{
		FrameDeny: true, ContentTypeNosniff: true, ReferrerPolicy: "same-origin",
		ContentSecurityPolicy: "default-src 'none'; script-src 'self'; style-src 'self'; font-src 'self'; img-src 'self' data:; connect-src 'self'; worker-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
		STSSeconds:            map[bool]int64{true: 31536000}[o.SecureCookies],
	})
	return func(c *gin.Context) {
		if isAPI(c.Request.URL.Path) {
			c.Header("Cache-Control", noStore) // most of it names people; what does not says so itself
		}
		if err := policy.Process(c.Writer, c.Request); err != nil {
			c.Abort()
		}
	}
}

func (s *server) ready(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), 2*time.Second)
	defer cancel()
	if err := s.app.Ping(ctx); err != nil {
		c.String(http.StatusServiceUnavailable, "the database does not answer\n")
		return
	}
	c.String(http.StatusOK, "ready\n")
}
