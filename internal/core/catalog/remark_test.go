package catalog

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Remarks as they stand in lists of schools (common practice, no source), and what they are taken for.
func TestRemarked(t *testing.T) {
	for _, x := range []struct {
		kind, remark string
		want         []string
	}{
		{"violin", "bridge warped", []string{"bridge-warped"}},
		{"violin", "Brigde warpd!", []string{"bridge-warped"}},
		{"violin", "warped bridge; pegs slip and open seam", []string{"bridge-warped", "peg-slips", "open-seam"}},
		{"violin", "bow needs rehair", []string{"bow-hair-worn"}},
		{"violin", "Steg schief, Saite gerissen", []string{"bridge-leans", "string-broken"}},
		{"violin", "crack repaired 2019, new strings", nil},
		{"violin", "no cracks", nil},
		{"violin", "bridge replaced", nil},
		{"violin", "needs new strings", []string{"string-worn"}},
		{"violin", "donated by the parents", nil},
		{"violin", "", nil},
		{"violin", "pads leak", nil}, // it has none
		{"clarinet-b-flat", "pads leak", []string{"torn-pad", "low-pad-leak"}},
		{"clarinet-b-flat", "Pads leaking; tenon cork missing", []string{"torn-pad", "low-pad-leak", "cork-worn"}},
		{"alto-saxophone", "neck bent", []string{"neck-bent"}},
		{"trumpet", "sticky valves, stuck mouthpiece", []string{"slow-valve", "mouthpiece-stuck"}},
		{"trumpet", "3rd valve slide stuck", []string{"slow-valve", "valve-hangs", "slide-stuck"}}, // a person decides
		{"trumpet", "mold in case", []string{"mould"}},
	} {
		kind, ok := Embedded().Kind(x.kind)
		require.True(t, ok, x.kind)
		var got []string
		for _, f := range Embedded().Remarked(kind, x.remark) {
			got = append(got, f.Code)
		}
		assert.Equal(t, x.want, got, "%s: %s", x.kind, x.remark)
	}
}

// Whoever writes a finding's own name is understood.
func TestEveryFindingIsUnderstood(t *testing.T) {
	for n := range Embedded().Kinds {
		kind := &Embedded().Kinds[n]
		for _, f := range Embedded().FindingsOf(kind) {
			if len(Embedded().sayings[f.Code]) == 0 || f.Code == "player-technique" || f.Code == "reed-alone" {
				continue // no fault of it, or said by what is not there
			}
			for _, phrase := range Embedded().sayings[f.Code][:1] {
				said := ""
				for _, word := range phrase {
					said += word + " "
				}
				assert.Contains(t, Embedded().Remarked(kind, said), f, "%s: %q", kind.Key, said)
			}
		}
	}
}
