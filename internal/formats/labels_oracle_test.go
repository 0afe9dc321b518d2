//go:build oracle

package formats

import (
	"bytes"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Debian's pdftoppm draws each sheet and zbarimg reads every QR code and every Code 128 on it back.
func TestLabelsAreReadBack(t *testing.T) {
	tags := []string{"VN-01", "TB-14", "A", "CL-19-SPARE-0001"}
	for _, s := range Sheets {
		folder := t.TempDir()
		var file bytes.Buffer
		var labels []Label
		for _, tag := range tags {
			labels = append(labels, Label{Tag: tag, Name: "B-flat clarinet", School: "Quillhaven Community School"})
		}
		labels = append(labels, Label{Tag: "Ode Marchetti", Code: "PL-7FK3Q9XA", Name: "7, Violin"})
		require.NoError(t, WriteLabels(&file, s, labels, 2))
		pdf := filepath.Join(folder, "labels.pdf")
		require.NoError(t, os.WriteFile(pdf, file.Bytes(), 0o600))
		out, err := exec.Command("pdftoppm", "-r", "300", "-gray", "-png", pdf, filepath.Join(folder, "page")).CombinedOutput()
		require.NoError(t, err, string(out))
		pages, err := filepath.Glob(filepath.Join(folder, "page*.png"))
		require.NoError(t, err)
		read, err := exec.Command("zbarimg", append([]string{"-q"}, pages...)...).Output()
		require.NoError(t, err)
		lines := strings.Split(strings.TrimSpace(string(read)), "\n")
		for _, tag := range append(tags, "PL-7FK3Q9XA") {
			assert.Contains(t, lines, "QR-Code:"+tag, s.Key)
			assert.Contains(t, lines, "CODE-128:"+tag, s.Key)
		}
		words, err := exec.Command("pdftotext", pdf, "-").Output()
		require.NoError(t, err)
		assert.Contains(t, string(words), "Quillhaven Community School")
		assert.Contains(t, string(words), "Ode Marchetti")
	}
}
