package calc

import (
	"fmt"
	"slices"
	"strings"
	"sync"

	"solfeggio/internal/core/assign"
	"solfeggio/internal/core/bow"
	"solfeggio/internal/core/care"
	"solfeggio/internal/core/condition"
	"solfeggio/internal/core/fit"
	"solfeggio/internal/core/hygiene"
	"solfeggio/internal/core/kits"
	"solfeggio/internal/core/lifespan"
	"solfeggio/internal/core/reeds"
	"solfeggio/internal/core/restring"
	"solfeggio/internal/core/schedule"
	"solfeggio/internal/core/season"
	"solfeggio/internal/core/shop"
	"solfeggio/internal/core/usage"
)

// All lists the calculators by name.
var All = sync.OnceValue(func() []*Calculator {
	all := []*Calculator{
		of("usage.minutes", usage.Minutes),
		of("care.limit", care.Limit),
		of("care.due", care.DueOf),
		search("care.timebox", care.TimeBox),
		of("condition.triage", condition.Triage),
		of("fit.size", fit.Size),
		of("fit.growth", fit.Growth),
		of("assign.match", assign.Match),
		of("kits.forecast", kits.Forecast),
		of("hygiene.dilution", hygiene.Dilute),
		of("hygiene.may-touch", hygiene.MayTouch),
		of("hygiene.supplies", hygiene.Supplies),
		search("hygiene.bench", schedule.Plan),
		of("reeds.break-in", reeds.BreakIn),
		of("reeds.latest-open", reeds.LatestOpen),
		of("reeds.rotate", reeds.Rotate),
		of("strings.plan", restring.Plan),
		of("strings.section-plan", restring.SectionPlan),
		of("bow.rosin", bow.Rosin),
		of("bow.rehair-or-new", bow.RehairOrNew),
		of("lifespan.estimate", lifespan.Estimate),
		of("lifespan.compare", lifespan.Compare),
		of("shop.charge", shop.Charge),
		search("plan.season", season.Plan),
		of("shop.repair-or-replace", shop.RepairOrReplace),
		of("shop.turnaround", shop.Turnaround),
		of("shop.economic-life", shop.EconomicLife),
	}
	slices.SortFunc(all, func(a, b *Calculator) int { return strings.Compare(a.Name, b.Name) })
	return all
})

// Find returns the calculator of that name.
func Find(name string) (*Calculator, error) {
	for _, c := range All() {
		if c.Name == name {
			return c, nil
		}
	}
	return nil, fmt.Errorf("there is no calculator %q", name)
}
