// Package lifespan learns from a school's own records how long a part lasts.
//
// Each part that was replaced gives a lifetime; each that is still in use has lasted at least so long, and is counted as such
// (right-censored). Survival is estimated as Kaplan and Meier did (J. Am. Stat. Assoc. 53, 1958), its error by Greenwood's formula; a
// Weibull distribution is fitted by maximum likelihood; two products are compared by the log-rank test. Formulas from memory,
// checked against Gehan's table and against survfit, survreg and survdiff of the R package survival.
package lifespan

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"solfeggio/internal/core/field"
)

// Enough is how many ended lives are wanted before their estimate is offered (the product's own choice).
const Enough = 8

// DefaultQuantile is the share of parts that may have failed by the time one is changed.
const DefaultQuantile = 0.2

// normal is the quantile of the normal distribution outside of which one in twenty lies.
const normal = 1.959963984540054

const tolerance = 1e-9

// EstimateIn is the input of the calculator lifespan.estimate. Durations are all in one unit, such as days or playing hours.
type EstimateIn struct {
	Durations []float64 `json:"durations" doc:"How long each lasted so far, more than 0"`
	Ended     []bool    `json:"ended" doc:"Whether each came to its end; false for those still in use"`
	Quantile  *float64  `json:"quantile,omitempty" doc:"Share that may have ended, between 0 and 1; 0.2 when left out"`
}

// A SurvivalStep of the survival curve stands at each time at which something ended.
type SurvivalStep struct {
	Time     float64  `json:"time"`
	AtRisk   int      `json:"at_risk" doc:"In use just before"`
	Ended    int      `json:"ended"`
	Survival float64  `json:"survival" doc:"Share that lasts longer"`
	StdError *float64 `json:"std_error" doc:"Greenwood's; null when none is left"`
	Low      float64  `json:"low" doc:"Lower end of the band in which the share lies 19 times in 20, by the normal approximation"`
	High     float64  `json:"high"`
}

// Weibull is the distribution with survival exp(−(t/scale)^shape). A shape above 1 means wear, 1 chance, below 1 early failures.
type Weibull struct {
	Shape float64 `json:"shape"`
	Scale float64 `json:"scale" doc:"In the unit of the durations"`
}

// EstimateOut is the result of lifespan.estimate.
type EstimateOut struct {
	KaplanMeier  []SurvivalStep `json:"kaplan_meier"`
	Median       *float64       `json:"median" doc:"First time with survival at most one half; null when it is never reached"`
	Weibull      *Weibull       `json:"weibull" doc:"null with fewer than two distinct ended times"`
	QuantileTime *float64       `json:"quantile_time" doc:"First time with survival at most 1 − quantile; null when it is never reached"`
	Enough       bool           `json:"enough" doc:"At least 8 ended"`
}

// Estimate is the calculator lifespan.estimate. Errors name the field by its JSON path.
func Estimate(in EstimateIn) (EstimateOut, error) {
	if err := check(in.Durations, in.Ended); err != nil {
		return EstimateOut{}, err
	}
	q := DefaultQuantile
	if in.Quantile != nil {
		q = *in.Quantile
	}
	if !(q > 0 && q < 1) {
		return EstimateOut{}, field.Errorf("quantile", "%v is not between 0 and 1", q)
	}
	lives := sorted(in.Durations, in.Ended)
	out := EstimateOut{KaplanMeier: curve(lives)}
	out.Median, out.QuantileTime = FirstBelow(out.KaplanMeier, 0.5), FirstBelow(out.KaplanMeier, 1-q)
	if w, ok := fit(lives); ok {
		out.Weibull = &w
	}
	ended := 0
	for _, s := range out.KaplanMeier {
		ended += s.Ended
	}
	out.Enough = ended >= Enough
	return out, nil
}

// KaplanMeier estimates how many last how long from durations that are 0 or more, and from whether each has ended.
func KaplanMeier(durations []float64, ended []bool) []SurvivalStep {
	return curve(sorted(durations, ended))
}

// FirstBelow is the first time at which at most a share lasts longer; nil when that is never reached.
func FirstBelow(curve []SurvivalStep, share float64) *float64 {
	for _, s := range curve {
		if s.Survival <= share+tolerance {
			return &s.Time
		}
	}
	return nil
}

// life is how long one part lasted, or has lasted so far.
type life struct {
	time  float64
	ended bool
}

func check(durations []float64, ended []bool) error {
	if len(durations) == 0 {
		return field.Errorf("durations", "is empty; give at least one")
	}
	if len(ended) != len(durations) {
		return field.Errorf("ended", "has %d entries for %d durations", len(ended), len(durations))
	}
	for i, d := range durations {
		if !field.Positive(d) {
			return field.Errorf(fmt.Sprintf("durations[%d]", i), "%v is no lifetime; use more than 0", d)
		}
	}
	return nil
}

func sorted(durations []float64, ended []bool) []life {
	lives := make([]life, len(durations))
	for i, d := range durations {
		lives[i] = life{d, ended[i]}
	}
	slices.SortFunc(lives, func(a, b life) int { return cmp.Compare(a.time, b.time) })
	return lives
}

// curve is the Kaplan–Meier estimate of lives in order of time. What is still in use at a time counts as at risk there.
func curve(lives []life) []SurvivalStep {
	steps := []SurvivalStep{}
	survival, variance := 1.0, 0.0 // the variance is Greenwood's sum, to be multiplied by the square of the survival
	for i := 0; i < len(lives); {
		t, atRisk, ended := lives[i].time, len(lives)-i, 0
		for ; i < len(lives) && lives[i].time == t; i++ {
			if lives[i].ended {
				ended++
			}
		}
		if ended == 0 {
			continue
		}
		step := SurvivalStep{Time: t, AtRisk: atRisk, Ended: ended}
		if ended < atRisk {
			n, d := float64(atRisk), float64(ended)
			survival *= 1 - d/n
			variance += d / (n * (n - d))
			e := survival * math.Sqrt(variance)
			step.StdError = &e
			step.Low, step.High = math.Max(0, survival-normal*e), math.Min(1, survival+normal*e)
		} else {
			survival = 0
		}
		step.Survival = survival
		steps = append(steps, step)
	}
	return steps
}
