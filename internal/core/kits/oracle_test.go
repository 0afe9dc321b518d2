//go:build oracle

package kits

import (
	"bytes"
	"encoding/json"
	"math/rand/v2"
	"os/exec"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// scipy.stats.poisson.ppf is the smallest k whose distribution function reaches the level.
const scipy = `
import json, sys
from scipy.stats import poisson
json.dump([int(poisson.ppf(level, mean)) for mean, level in json.load(sys.stdin)], sys.stdout)
`

func TestNeededAgreesWithScipy(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 11))
	var cases [][2]float64
	for range 400 {
		cases = append(cases, [2]float64{[]float64{0.2, 3, 40, 900, 2e5}[r.IntN(5)] * (0.1 + r.Float64()), 0.5 + 0.499*r.Float64()})
	}
	input, err := json.Marshal(cases)
	require.NoError(t, err)
	cmd := exec.Command("/usr/bin/python3", "-c", scipy)
	cmd.Stdin = bytes.NewReader(input)
	output, err := cmd.Output()
	require.NoError(t, err)
	var want []int64
	require.NoError(t, json.Unmarshal(output, &want))
	for n, c := range cases {
		assert.Equal(t, want[n], needed(c[0], c[1]), "mean %v, level %v", c[0], c[1])
	}
}
