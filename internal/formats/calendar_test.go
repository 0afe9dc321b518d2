package formats

import (
	"bytes"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// RFC 5545, section 3.1: every line ends with CRLF, and no text holds another control character or begins a line of its own.
func TestCalendarLines(t *testing.T) {
	var text bytes.Buffer
	require.NoError(t, WriteCalendar(&text, "Quill\rhaven", time.Unix(0, 0), []Occasion{
		{UID: "a", On: 20_000, Summary: "Concert\rBEGIN:VALARM\r\nof\x00 spring", Detail: strings.Repeat("Ä long word ", 30)},
	}))
	lines := strings.Split(text.String(), "\r\n")
	assert.Empty(t, lines[len(lines)-1])
	for _, line := range lines {
		assert.NotContains(t, line, "\r")
		assert.NotContains(t, line, "\n")
		assert.NotContains(t, line, "\x00")
		assert.LessOrEqual(t, len(line), 75, "folded: %s", line)
	}
	assert.Contains(t, lines, `SUMMARY:Concert\nBEGIN:VALARM\nof spring`)
	assert.NotContains(t, lines, "BEGIN:VALARM")
}
