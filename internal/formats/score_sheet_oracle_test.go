//go:build oracle

package formats

import (
	"bytes"
	"fmt"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The score on the wall: pdftotext reads every section, every week and every piece back, and pdfinfo the size of the paper.
func TestAScoreSheetIsReadBack(t *testing.T) {
	sheet := ScoreSheet{School: "Quillhaven Community School", Heading: "The season", Below: "As of today"}
	for n := range 33 {
		bar := ScoreBar{Name: fmt.Sprintf("%d Jan", n+1), Rest: n == 5, Minutes: 300, Used: float64(9 * n)}
		if n == 32 {
			bar.Concert = "Summer concert"
		}
		if n%3 == 0 {
			bar.Trip = fmt.Sprintf("%d/16", n)
		}
		sheet.Weeks = append(sheet.Weeks, bar)
		week := ScoreWeek{Heading: fmt.Sprintf("Week of no. %d", n)}
		for k := range 12 {
			sheet.Notes = append(sheet.Notes,
				ScoreNote{Staff: k, Week: n, Back: min(32, n+k%3), Shop: k%2 == 0, Late: k == 3, Early: k == 4, Count: k})
			week.Lines = append(week.Lines, fmt.Sprintf("Piece %d-%d: %s", n, k, strings.Repeat("VN-01, ", 8)))
		}
		sheet.List = append(sheet.List, week)
	}
	for n := range 14 {
		sheet.Staves = append(sheet.Staves, ScoreStaff{fmt.Sprintf("Section %c", 'A'+n), fmt.Sprint(n / 4)})
	}
	for paper, size := range map[Paper]string{A3: "1190.55 x 841.89 pts (A3)", A4: "841.89 x 595.28 pts (A4)"} {
		file, words := printed(t, func(b *bytes.Buffer) error { return WriteScoreSheet(b, sheet, paper) })
		info, err := exec.Command("pdfinfo", file).Output()
		require.NoError(t, err)
		assert.Contains(t, string(info), size)
		for _, s := range sheet.Staves {
			assert.Contains(t, words, s.Name)
		}
		for n, w := range sheet.List {
			assert.Contains(t, words, sheet.Weeks[n].Name)
			assert.Contains(t, words, w.Heading)
			for k := range w.Lines {
				assert.Contains(t, words, fmt.Sprintf("Piece %d-%d:", n, k))
			}
		}
		assert.Contains(t, words, "Summer concert")
		assert.Contains(t, words, "30/16")
	}
}

// A sheet of readiness breaks between rows, and loses none.
func TestAReadinessSheetIsReadBack(t *testing.T) {
	concert := ConcertSheet{Heading: "Winter concert, 12 December 2026", Ready: "41 of 44 chairs ready", Seats: "Wind Band 41 of 44"}
	for n := range 60 {
		concert.Rows = append(concert.Rows, []string{fmt.Sprintf("VN-%02d", n), "Ode Marchetti\nWind Band", "Open seam", "lend VN-99", "today"})
	}
	_, words := printed(t, func(b *bytes.Buffer) error {
		return WriteReadinessSheet(b, ReadinessSheet{School: "Quillhaven", Day: "24 November 2026", Concerts: []ConcertSheet{concert, concert}})
	})
	assert.Equal(t, 120, strings.Count(words, "Open seam"))
	assert.Equal(t, 2, strings.Count(words, "41 of 44 chairs ready"))
	assert.Greater(t, strings.Count(words, "\f"), 3)
}
