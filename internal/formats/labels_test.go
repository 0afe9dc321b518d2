package formats

import (
	"bytes"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestLabelSheets(t *testing.T) {
	for _, s := range Sheets {
		var file bytes.Buffer
		labels := make([]Label, s.PerPage()+1)
		for n := range labels {
			labels[n] = Label{Tag: fmt.Sprintf("VN-%02d", n), Name: "Violin 4/4", School: "Quillhaven Community School"}
		}
		require.NoError(t, WriteLabels(&file, s, labels, 0))
		assert.Equal(t, 2, bytes.Count(file.Bytes(), []byte("/Type /Page\n")), "%s: one label more than a sheet holds", s.Key)
		assert.Error(t, WriteLabels(&file, s, labels, s.PerPage()))
		assert.Error(t, WriteLabels(&file, s, labels, -1))
		width, height := map[string]float64{"A4": 210, "Letter": 215.9}[s.paper], map[string]float64{"A4": 297, "Letter": 279.4}[s.paper]
		assert.LessOrEqual(t, s.left+float64(s.across)*s.width+float64(s.across-1)*s.gap, width+0.01, s.Key)
		assert.LessOrEqual(t, s.top+float64(s.down)*s.height, height+0.01, s.Key)
	}
	_, ok := FindSheet("a3-1000")
	assert.False(t, ok)
}
