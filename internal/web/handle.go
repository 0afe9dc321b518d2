package web

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"net/http"
	"reflect"
	"slices"
	"strings"

	"github.com/danielgtaylor/huma/v2"
	"github.com/google/uuid"

	"solfeggio/internal/app/journal"
	"solfeggio/internal/app/school"
)

// Keys of a session.
const (
	sessionSchool = "school"
	sessionPerson = "person"
)

// Repeatable is what every write may carry.
type Repeatable struct {
	Key string `header:"Idempotency-Key" format:"uuid" doc:"An id made by the client. Sent again with the same contents it is answered again and carried out once."`
}

func (r *Repeatable) key() (uuid.UUID, error) { return uuid.Parse(r.Key) }

// asRequest marks ctx with the request that in is, where its client made an id for it. Its fingerprint is of all that was
// sent: path, query and body.
func asRequest(ctx context.Context, operation string, in any) (context.Context, error) {
	repeatable, ok := in.(interface{ key() (uuid.UUID, error) })
	if !ok {
		return ctx, nil
	}
	id, err := repeatable.key()
	if err != nil { // there is none
		return ctx, nil
	}
	text, err := json.Marshal(in)
	if err != nil {
		return ctx, err
	}
	sum := sha256.Sum256(text)
	return journal.WithRequest(ctx, journal.Request{ID: id, Operation: operation, Fingerprint: sum[:]}), nil
}

// Versioned is what a change carries of something that has no number of its own.
type Versioned struct {
	Version string `query:"version" required:"true" minLength:"12" maxLength:"200" doc:"Of what is changed, as it was seen; several are joined by points in the order of their names"`
}

func (v *Versioned) having() string { return v.Version }

// out is an answer with a body.
type out[T any] struct{ Body T }

// file is an answer that a person keeps.
type file struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

// answers describes a route that answers with a file.
func answers(what, contentType string) map[string]*huma.Response {
	return map[string]*huma.Response{"200": {Description: what, Content: map[string]*huma.MediaType{contentType: {}}}}
}

// nothing is an answer without one.
type nothing struct{}

// Page asks for a part of a list; left out, it is all of it.
type Page struct {
	First int `query:"first" default:"0" minimum:"0" maximum:"10000000" doc:"How many to pass over"`
	Most  int `query:"most" default:"99999" minimum:"1" maximum:"99999" doc:"How many at most"`
}

// partOf is what a page and a filter leave of a list.
func partOf[T any](list []T, p Page, keep func(T) bool) []T {
	kept := []T{}
	for _, x := range list {
		if keep(x) {
			kept = append(kept, x)
		}
	}
	kept = kept[min(p.First, len(kept)):]
	return kept[:min(p.Most, len(kept))]
}

// idsIn reads the ids of a query; an error names the one that is none.
func idsIn(name string, texts []string) ([]uuid.UUID, error) {
	ids := make([]uuid.UUID, len(texts))
	for n, text := range texts {
		var err error
		if ids[n], err = uuid.Parse(text); err != nil {
			return nil, journal.Refuse(fmt.Sprintf("%s[%d]", name, n), "is no id", text)
		}
	}
	return ids, nil
}

// operation describes a route that needs someone to be signed in.
func operation(id, method, path, summary string) huma.Operation {
	return huma.Operation{
		OperationID: id, Method: method, Path: "/api/v1" + path, Summary: summary,
		Security: []map[string][]string{{"session": {}}, {"key": {}}},
		Errors: []int{
			http.StatusUnauthorized,
			http.StatusForbidden,
			http.StatusNotFound,
			http.StatusConflict,
			http.StatusUnprocessableEntity,
			http.StatusServiceUnavailable,
		},
	}
}

// offering marks an operation whose answer names free instruments for people. Each reads the book of promises, so that two answers never
// offer one instrument to two people.
func offering(op huma.Operation) huma.Operation {
	op.Extensions = map[string]any{"x-offers": true}
	return op
}

// handle registers a handler for whoever is signed in.
func handle[I, O any](s *server, op huma.Operation, f func(ctx context.Context, by journal.Person, in *I) (O, error)) {
	var query []string
	for _, f := range reflect.VisibleFields(reflect.TypeFor[I]()) {
		if name, _, _ := strings.Cut(f.Tag.Get("query"), ","); name != "" {
			query = append(query, name)
		}
	}
	op.Middlewares = append(op.Middlewares, s.onlySignedIn, s.onlyKnown(query))
	huma.Register(s.api, op, func(ctx context.Context, in *I) (*O, error) {
		by, err := s.signedIn(ctx)
		if err != nil {
			return nil, problem(s.log, err)
		}
		if op.Method == http.MethodGet {
			ctx = school.AsOf(ctx, visitOf(ctx).revision)
		}
		if ctx, err = asRequest(ctx, op.OperationID, in); err != nil {
			return nil, problem(s.log, err)
		}
		if versioned, ok := any(in).(interface{ having() string }); ok {
			ctx = journal.Having(ctx, versioned.having())
		}
		got, err := f(ctx, by, in)
		if err != nil {
			return nil, problem(s.log, err, query...)
		}
		return &got, nil
	})
}

// onlySignedIn refuses strangers before anything of what they send is read.
func (s *server) onlySignedIn(ctx huma.Context, next func(huma.Context)) {
	if _, err := s.signedIn(ctx.Context()); err != nil {
		_ = huma.WriteErr(s.api, ctx, http.StatusUnauthorized, err.Error())
		return
	}
	if visitOf(ctx.Context()).lacks && !strings.HasPrefix(ctx.Operation().Path, "/api/v1/session") {
		_ = huma.WriteErr(s.api, ctx, http.StatusForbidden, "The school asks for a second factor. Choose one first, then go on.")
		return
	}
	next(ctx)
}

// onlyKnown refuses what a route does not know in a query, by its name, instead of passing over a word that was misspelt.
func (s *server) onlyKnown(query []string) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		at := ctx.URL()
		for name := range at.Query() {
			if !slices.Contains(query, name) {
				knows := "it knows none"
				if len(query) > 0 {
					knows = "it knows " + strings.Join(query, ", ")
				}
				_ = huma.WriteErr(s.api, ctx, http.StatusUnprocessableEntity, "", &huma.ErrorDetail{
					Location: "query." + name, Message: "is not known here; " + knows,
				})
				return
			}
		}
		next(ctx)
	}
}

// signedIn is who the session belongs to. The database was asked with this request, so that a person who was let go is out.
func (s *server) signedIn(ctx context.Context) (journal.Person, error) {
	if v := visitOf(ctx); v.signedIn {
		return v.person, nil
	}
	return journal.Person{}, &journal.Fault{Kind: journal.Unauthorized, Message: "Please sign in."}
}
