//go:build oracle

package lifespan

import (
	"encoding/csv"
	"fmt"
	"math/rand/v2"
	"os/exec"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// survival is asked through text: for each sample its curve, its Weibull fit, and the comparison of its two halves.
const survival = `
suppressMessages(library(survival))
options(width = 1000)
lives <- read.csv(file("stdin"))
for (s in unique(lives$sample)) {
  x <- lives[lives$sample == s, ]
  km <- summary(survfit(Surv(time, ended) ~ 1, x, conf.type = "plain"))
  for (i in seq_along(km$time))
    cat("curve", s, format(km$time[i], digits = 15), km$n.risk[i], km$n.event[i], format(km$surv[i], digits = 15), format(km$std.err[i], digits = 15), format(km$lower[i], digits = 15), format(km$upper[i], digits = 15), sep = ",", fill = TRUE)
  w <- survreg(Surv(time, ended) ~ 1, x, dist = "weibull", control = survreg.control(rel.tolerance = 1e-13, maxiter = 200))
  cat("weibull", s, format(1 / w$scale, digits = 15), format(exp(coef(w)), digits = 15), 0, 0, 0, 0, 0, sep = ",", fill = TRUE)
  d <- survdiff(Surv(time, ended) ~ half, x)
  cat("logrank", s, format(d$chisq, digits = 15), format(pchisq(d$chisq, 1, lower.tail = FALSE), digits = 15), 0, 0, 0, 0, 0, sep = ",", fill = TRUE)
}
`

// Against survfit, survreg and survdiff of the R package survival (Debian r-cran-survival).
func TestAgreesWithSurvival(t *testing.T) {
	r := rand.New(rand.NewPCG(9, 4))
	samples := []EstimateIn{gehan()}
	for n := range 60 {
		durations, ended := drawn(r, 12+r.IntN(60), 0.6+3*r.Float64(), 20+400*r.Float64())
		if n%2 == 0 {
			for i := range durations {
				durations[i] *= 0.5 + r.Float64() // without ties
			}
		}
		samples = append(samples, EstimateIn{Durations: durations, Ended: ended})
	}
	var input strings.Builder
	input.WriteString("sample,time,ended,half\n")
	for n, s := range samples {
		for i := range s.Durations {
			fmt.Fprintf(&input, "%d,%s,%t,%d\n", n, strconv.FormatFloat(s.Durations[i], 'g', -1, 64), s.Ended[i], i%2)
		}
	}
	cmd := exec.Command("Rscript", "-e", survival)
	cmd.Stdin = strings.NewReader(strings.NewReplacer("true", "TRUE", "false", "FALSE").Replace(input.String()))
	output, err := cmd.Output()
	require.NoError(t, err)
	rows, err := csv.NewReader(strings.NewReader(string(output))).ReadAll()
	require.NoError(t, err)
	at := make([]int, len(samples))
	for _, row := range rows {
		v := make([]float64, len(row))
		for i, cell := range row[1:] {
			if v[i+1], err = strconv.ParseFloat(strings.TrimSpace(cell), 64); err != nil {
				v[i+1] = -1 // NaN of a curve that has come to nothing
			}
		}
		n := int(v[1])
		in := samples[n]
		got, err := Estimate(in)
		require.NoError(t, err)
		switch row[0] {
		case "curve":
			step := got.KaplanMeier[at[n]]
			at[n]++
			assert.InDelta(t, v[2], step.Time, 1e-9)
			assert.Equal(t, []int{int(v[3]), int(v[4])}, []int{step.AtRisk, step.Ended})
			assert.InDelta(t, v[5], step.Survival, 1e-12)
			if step.StdError != nil {
				assert.InDelta(t, v[6], *step.StdError, 1e-12)
				assert.InDelta(t, v[7], step.Low, 1e-9)
				assert.InDelta(t, v[8], step.High, 1e-9)
			} else {
				assert.InDelta(t, 0, v[5], 1e-12)
			}
		case "weibull":
			require.NotNil(t, got.Weibull)
			assert.InEpsilon(t, v[2], got.Weibull.Shape, 1e-6)
			assert.InEpsilon(t, v[3], got.Weibull.Scale, 1e-6)
		case "logrank":
			var halves [2]Sample
			for i := range in.Durations {
				h := &halves[i%2]
				h.Durations, h.Ended = append(h.Durations, in.Durations[i]), append(h.Ended, in.Ended[i])
			}
			compared, err := Compare(CompareIn{halves[0], halves[1]})
			require.NoError(t, err)
			assert.InDelta(t, v[2], compared.ChiSquare, 1e-9)
			assert.InDelta(t, v[3], compared.PValue, 1e-9)
		}
	}
	for n, s := range samples {
		got, err := Estimate(s)
		require.NoError(t, err)
		assert.Len(t, got.KaplanMeier, at[n], "sample %d", n)
	}
}
