package web_test

import (
	"net/http"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"

	"solfeggio/internal/pgtest"
)

// unversioned are the changes that say nothing of what was seen, each with its reason.
var unversioned = map[string]string{
	"change-password": "the present password is asked for",
	"password-link":   "each link is made new, and ends the one before",
	"share-calendar":  "the same: a new address ends the one before",
	"renew-key":       "it names the day on which the key is to end, and asks for the password",
	"keep-progress":   "what an ensemble has packed up is of the minute; the board tells it every few seconds",
}

func (c contract) hasVersion(s *schema, within []string) bool {
	if s == nil {
		return false
	}
	if s.Ref != "" {
		name := s.Ref[strings.LastIndex(s.Ref, "/")+1:]
		return !slices.Contains(within, name) && c.hasVersion(c.Components.Schemas[name], append(within, name))
	}
	for name, of := range s.Properties {
		if name == "version" && slices.Contains(s.Required, name) || c.hasVersion(of, within) {
			return true
		}
	}
	return c.hasVersion(s.Items, within)
}

// Nothing is overwritten silently: whatever the API's document lets somebody put in the place of something says which version they saw;
// and where that is a digest, an older one is refused, with nothing changed.
func TestNothingIsOverwrittenUnseen(t *testing.T) {
	db, raw := pgtest.OpenBeside(t)
	c, all := readContract(t)
	for _, o := range all {
		if o.method != http.MethodPut || unversioned[o.OperationID] != "" {
			continue
		}
		inQuery := slices.ContainsFunc(o.Parameters, func(p parameter) bool { return p.In == "query" && p.Name == "version" && p.Required })
		inBody := false
		if o.RequestBody != nil {
			for _, content := range o.RequestBody.Content {
				inBody = inBody || c.hasVersion(content.Schema, nil)
			}
		}
		assert.True(t, inQuery || inBody, "%s takes no version: it overwrites what somebody else has done", o.OperationID)
		if !inQuery {
			continue
		}
		w := newWorld(t, db, o.OperationID+"@quillhaven.example")
		url := w.url(c, o)
		body, kind := w.body(t, c, o)
		older := regexp.MustCompile(`version=\w+`).ReplaceAllString(url, "version=0123456789ab")
		once := w.written(t, raw)
		refused := w.call(o.method, older, body, "Content-Type", kind, "Idempotency-Key", uuid.NewString())
		assert.Equal(t, http.StatusConflict, refused.status, "%s: %s", o.OperationID, refused.body)
		assert.Equal(t, once, w.written(t, raw))
		done := w.call(o.method, url, body, "Content-Type", kind, "Idempotency-Key", uuid.NewString())
		assert.Less(t, done.status, 300, "%s: %s", o.OperationID, done.body)
	}
	for name := range unversioned {
		assert.True(t, slices.ContainsFunc(all, func(o *operation) bool { return o.OperationID == name && o.method == http.MethodPut }), name)
	}
}
