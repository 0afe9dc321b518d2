package web_test

import (
	"net/http"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/pgtest"
)

// Whatever is printed names the day on which it was true. Found from the API's document and read back by Debian's pdftotext.
func TestPapersNameTheirDay(t *testing.T) {
	c, all := readContract(t)
	lasting := map[string]string{"labels": "a tag and a name", "safety-sheet": "somebody else's, as it was sent", "print-cards": "what holds for a kind, and no state of an instrument"}
	papers := 0
	for _, o := range all {
		_, pdf := o.Responses["200"].Content["application/pdf"]
		if !pdf || lasting[o.OperationID] != "" {
			continue
		}
		papers++
		t.Run(o.OperationID, func(t *testing.T) {
			w := newWorld(t, pgtest.Open(t), email)
			body, kind := w.body(t, c, o)
			got := w.call(o.method, w.url(c, o), body, "Content-Type", kind)
			require.Equal(t, http.StatusOK, got.status, got.body)
			read := exec.Command("pdftotext", "-layout", "-", "-")
			read.Stdin = strings.NewReader(got.body)
			words, err := read.Output()
			require.NoError(t, err)
			assert.Contains(t, strings.Join(strings.Fields(string(words)), " "), "24 November 2026")
		})
	}
	assert.GreaterOrEqual(t, papers, 5)
}
