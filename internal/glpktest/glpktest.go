// Package glpktest solves mixed-integer programs by glpsol (GLPK), so that tests can compare what the rules find with the optimum of the
// same model.
package glpktest

import (
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
)

// Optimum is the value of a model in CPLEX LP format.
func Optimum(t testing.TB, model string) float64 {
	t.Helper()
	dir := t.TempDir()
	file, answer := filepath.Join(dir, "model.lp"), filepath.Join(dir, "answer")
	require.NoError(t, os.WriteFile(file, []byte(model), 0o600))
	out, err := exec.Command("glpsol", "--lp", file, "--write", answer).CombinedOutput()
	require.NoError(t, err, string(out))
	written, err := os.ReadFile(answer)
	require.NoError(t, err)
	for line := range strings.Lines(string(written)) {
		var rows, cols int
		var status string
		var value float64
		if n, _ := fmt.Sscanf(line, "s mip %d %d %1s %g", &rows, &cols, &status, &value); n == 4 {
			require.Equal(t, "o", status, "glpsol did not find the optimum")
			return value
		}
	}
	require.Fail(t, "no answer from glpsol", string(written))
	return 0
}
