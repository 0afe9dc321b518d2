package e2e

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"solfeggio/internal/demo"
)

// printed prints the page as the browser does, and reads its words back with Debian's pdftotext.
func (b *page) printed(options ...chromedp.PDFOption) string {
	b.t.Helper()
	pdf, err := chromedp.Run(b.ctx, chromedp.PrintToPDF(options...))
	require.NoError(b.t, err)
	file := filepath.Join(b.t.TempDir(), "page.pdf")
	require.NoError(b.t, os.WriteFile(file, pdf, 0o600))
	out, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(b.t, err)
	return string(out)
}

var (
	word = regexp.MustCompile(`[\p{L}\p{N}-]{3,}`)
	tag  = regexp.MustCompile(`\b[A-Z]{2}-\d{2}\b`)
)

// What stands on any page stands on its paper too, upright and across, on A4 and Letter; lists that draw only what is in sight are printed
// altogether.
func TestOnPaper(t *testing.T) {
	t.Parallel()
	p := start(t, "demo", morning)
	b := p.open(1280, 800)
	b.signIn(demo.DirectorEmail, demo.Password)
	papers := map[string][]chromedp.PDFOption{
		"A4 upright":    {chromedp.PDFPaper(chromedp.PaperA4)},
		"A4 across":     {chromedp.PDFPaper(chromedp.PaperA4), chromedp.PDFLandscape()},
		"Letter across": {chromedp.PDFPaper(chromedp.PaperLetter), chromedp.PDFLandscape(), chromedp.PDFMargin(0.2)},
	}
	// What one prints most is tried on every paper, all else on the usual one.
	often := []string{"/room?as=list", "/room?as=score", "/hand-out/players", "/supplies", "/shop", "/season/readiness"}
	for _, route := range routes {
		path := route.path
		b.visit(path)
		b.see(route.sign)
		// Words that only a screen needs, or a control holds, are not looked for.
		shown := b.text(`(() => { const main = document.querySelector('main').cloneNode(true);
			main.querySelectorAll('nav, .no-print, button, select, option, input, label, .sr-only').forEach((e) => e.remove());
			document.body.append(main);
			const texts = document.createTreeWalker(main, NodeFilter.SHOW_TEXT, (n) => n.parentElement.checkVisibility() ? 1 : 2), out = [];
			while (texts.nextNode()) out.push(texts.currentNode.data);
			main.remove(); return out.join(' ') })()`)
		for name, options := range papers {
			if name != "A4 upright" && !slices.Contains(often, path) {
				continue
			}
			words := b.printed(options...)
			small := strings.ToLower(words) // styles change capitals
			var lost []string
			for _, w := range word.FindAllString(shown, -1) {
				if !strings.Contains(small, strings.ToLower(w)) {
					lost = append(lost, w)
				}
			}
			assert.Empty(t, lost, "%s on %s", path, name)
			if path == "/room?as=list" {
				tags := tag.FindAllString(words, -1)
				slices.Sort(tags)
				assert.Equal(t, b.text(`document.querySelector('[role=table]').ariaRowCount`), fmt.Sprint(len(slices.Compact(tags))), name)
			}
		}
	}
}
