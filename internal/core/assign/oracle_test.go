//go:build oracle

package assign

import (
	"bytes"
	"encoding/json"
	"math/rand/v2"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// scipy.optimize.linear_sum_assignment, with forbidden pairs at a price that no plan would pay willingly.
const scipy = `
import json, sys
import numpy as np
from scipy.optimize import linear_sum_assignment
out = []
for cost in json.load(sys.stdin):
    allowed = np.array([[c is not None for c in row] for row in cost])
    value = np.array([[0 if c is None else c for c in row] for row in cost], dtype=float)
    rows, cols = linear_sum_assignment(np.where(allowed, value, 1e7))
    keep = [(i, j) for i, j in zip(rows, cols) if allowed[i, j]]
    out.append({"pairs": len(keep), "total": float(sum(value[i, j] for i, j in keep))})
json.dump(out, sys.stdout)
`

func TestMatchAgreesWithScipy(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 9))
	var matrices [][][]*float64
	for n := range 120 {
		rows, cols, allowed := 1+r.IntN(40), 1+r.IntN(40), r.Float64()
		matrix := make([][]*float64, rows)
		for i := range matrix {
			matrix[i] = make([]*float64, cols)
			for j := range matrix[i] {
				c := 200*r.Float64() - 50
				if n%2 == 0 {
					c = float64(r.IntN(12))
				}
				if r.Float64() < allowed {
					matrix[i][j] = &c
				}
			}
		}
		matrices = append(matrices, matrix)
	}
	input, err := json.Marshal(matrices)
	require.NoError(t, err)
	cmd := exec.Command("/usr/bin/python3", "-c", scipy)
	cmd.Stdin = bytes.NewReader(input)
	output, err := cmd.Output()
	require.NoError(t, err)
	var want []struct {
		Pairs int
		Total float64
	}
	require.NoError(t, json.Unmarshal(output, &want))
	for n, matrix := range matrices {
		got, err := Match(MatchIn{matrix})
		require.NoError(t, err)
		assert.Len(t, got.Pairs, want[n].Pairs)
		assert.InDelta(t, want[n].Total, got.Total, 1e-6)
	}
}
