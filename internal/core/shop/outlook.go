package shop

import (
	"fmt"
	"math"
	"strings"

	"solfeggio/internal/core/why"
)

// What a record does not say (all from memory, and shown as such).
const (
	usualUpkeepShare = 0.04 // of the price of a new one, in its first year
	upkeepGrowth     = 0.08 // a year, as it ages
	usualLoss        = 0.2  // of its present worth that an instrument loses in a year
	leastYears       = 2.   // that an instrument serves once it is mended
	UsualRate        = 0.03 // what money costs in a year
	enoughYears      = 10.  // of instruments, before the school's own upkeep is believed
	mostYears        = 40
)

// Record is what a school knows of an instrument and of others of its kind.
type Record struct {
	NewCents    int64    // price of a new one
	Price       PriceOf  // where that comes from
	AgeYears    *float64 // nil when nobody knows
	LifeYears   float64  // that the kind serves a school
	Paid        []int64  // for repairs of instruments of the kind
	PlayedYears float64  // of all instruments of the kind, over which that was paid
}

// PriceOf says where the price of a new one comes from. What is recorded goes before what is remembered.
type PriceOf int

// Where it comes from.
const (
	UsualPrice PriceOf = iota // from memory
	PaidBefore                // the school paid it for one of the kind and size last
	PaidForIt                 // it stands in the file of the instrument itself
)

// An Outlook is a Record as repair-or-replace wants it.
type Outlook struct {
	RepairOrReplaceIn
	Economic EconomicLifeOut `json:"economic" doc:"What a new one costs a year, kept for 1, 2, … years"`
	Why      []why.Why       `json:"why" doc:"Where each figure comes from"`
	Settles  string          `json:"settles" doc:"What would settle it where two rules disagree"`
}

// LookAhead fills repair-or-replace for a quote from a school's record. Every figure of it is a proposal.
func LookAhead(r Record, quoteCents int64) (Outlook, error) {
	years := min(mostYears, max(1, int(math.Round(2*r.LifeYears))))
	upkeep := func(age float64) float64 {
		return float64(r.NewCents) * usualUpkeepShare * math.Pow(1+upkeepGrowth, age)
	}
	basis, learned := why.FromMemory, r.PlayedYears >= enoughYears && len(r.Paid) > 0
	if learned { // the curve keeps its shape and goes through what was paid, at the middle of a life
		var sum int64
		for _, cents := range r.Paid {
			sum += cents
		}
		paid, middle := float64(sum)/r.PlayedYears, r.LifeYears/2
		upkeep = func(age float64) float64 { return math.Min(mostCents, paid*math.Pow(1+upkeepGrowth, age-middle)) }
		basis = why.LearnedHere
	}
	in := EconomicLifeIn{PriceCents: r.NewCents, DiscountRate: UsualRate}
	for n := range years {
		in.ResaleCents = append(in.ResaleCents, worth(r.NewCents, float64(n+1)))
		in.UpkeepCents = append(in.UpkeepCents, roundCents(upkeep(float64(n))))
	}
	economic, err := EconomicLife(in)
	if err != nil {
		return Outlook{}, err
	}
	age, known := r.LifeYears*UnknownAgeShare, r.AgeYears != nil
	if known {
		age = math.Max(0, *r.AgeYears)
	}
	life := float64(economic.LifeYears)
	left := math.Max(leastYears, math.Round(10*(life-age))/10)
	mean := func(from, over float64) int64 {
		sum, n := 0., math.Max(1, math.Round(over))
		for k := range int(n) {
			sum += upkeep(from + float64(k))
		}
		return roundCents(sum / n)
	}
	o := Outlook{Economic: economic, RepairOrReplaceIn: RepairOrReplaceIn{
		QuoteCents: quoteCents, LifeAfterRepairYears: left, UpkeepCentsPerYear: mean(age, left), ReplacementCents: r.NewCents,
		ReplacementLifeYears: life, ResaleCents: worth(r.NewCents, age), ReplacementUpkeepCentsPerYear: mean(0, life),
		DiscountRate: UsualRate,
	}}
	price := "A usual price of a new one."
	priceBasis := why.FromMemory
	var guessed []string
	switch r.Price {
	case PaidBefore:
		price, priceBasis = "What the school paid for one of the kind and size last.", why.SchoolSetting
	case PaidForIt:
		price, priceBasis = "What was paid for this one, as its file says.", why.SchoolSetting
	default:
		guessed = append(guessed, "what a new one costs")
	}
	if !known {
		guessed = append(guessed, "how old it is")
	}
	if !learned {
		guessed = append(guessed, "what its upkeep costs")
	}
	o.Settles = "Every figure here is the school’s own: a second quote would settle it."
	if len(guessed) > 0 {
		o.Settles = "From memory, so far: " + strings.Join(guessed, ", ") + ". Put in what you know of these, and the two may agree."
	}
	ageSays := fmt.Sprintf("It is %.1f years old.", age)
	if !known {
		ageSays = "Nobody knows how old it is, so half of its life is taken as gone."
	}
	upkeepSays := fmt.Sprintf("No record yet: %.0f %% of a new one's price in its first year, %.0f %% more each year.",
		100*usualUpkeepShare, 100*upkeepGrowth)
	if learned {
		upkeepSays = fmt.Sprintf("From %d jobs on instruments of the kind over %.0f years of playing.", len(r.Paid), r.PlayedYears)
	}
	o.Why = []why.Why{
		{Rule: "shop.outlook", Statement: price, Basis: why.Basis{Kind: priceBasis}},
		{Rule: "shop.outlook", Statement: upkeepSays, Basis: why.Basis{Kind: basis, Observations: len(r.Paid)}},
		{
			Rule:  "shop.economic-life",
			Basis: why.Basis{Kind: why.Standard, Source: "minimum cost life, engineering economy (from memory)"},
			Statement: fmt.Sprintf("A new one costs least a year when it is kept for %d years: its worth falls by %.0f %% a year (from memory), "+
				"its upkeep grows.", economic.LifeYears, 100*usualLoss),
		},
		{
			Rule: "shop.outlook", Basis: why.Basis{Kind: why.FromMemory},
			Statement: fmt.Sprintf("%s Mended it serves what is left of that, and at least %g years.", ageSays, leastYears),
		},
	}
	return o, nil
}

// worth is what an instrument brings after so many years.
func worth(newCents int64, years float64) int64 {
	return roundCents(float64(newCents) * math.Pow(1-usualLoss, years))
}

// UsualDays is how long a job takes where nothing is known, from memory.
const UsualDays = 14

// Expected is for how many days an instrument is reckoned away.
type Expected struct {
	Days int     `json:"days"`
	Why  why.Why `json:"why"`
}

// ExpectedDays says how long a job will take: the shop's own record where there is enough of it, else its median so far, else what it
// promises, else a usual time.
func ExpectedDays(t TurnaroundOut, promiseDays *int) Expected {
	say := func(days int, basis why.Basis, text string, args ...any) Expected {
		return Expected{days, why.Why{
			Rule: "shop.turnaround", Statement: fmt.Sprintf(text, args...), Basis: basis,
			Inputs: []why.Input{
				{Name: "came back so far", Value: fmt.Sprint(t.Finished)},
				{Name: "still away", Value: fmt.Sprint(t.Open)},
			},
		}}
	}
	learned := why.Basis{Kind: why.LearnedHere, Observations: t.Finished}
	switch {
	case t.Enough && t.P90Days != nil:
		days := int(math.Ceil(*t.P90Days))
		return say(days, learned, "Nine of ten jobs like this came back within %d days.", days)
	case t.MedianDays != nil:
		days := int(math.Ceil(*t.MedianDays))
		return say(days, learned, "Half of the jobs so far came back within %d days; there are too few to say more.", days)
	case promiseDays != nil:
		return say(*promiseDays, why.Basis{Kind: why.SchoolSetting, Source: "the shop's own word"}, "The shop promises %d days.", *promiseDays)
	}
	return say(UsualDays, why.Basis{Kind: why.FromMemory}, "Nothing is known of this shop; two weeks are usual.")
}
