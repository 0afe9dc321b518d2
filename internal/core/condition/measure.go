package condition

import (
	"fmt"
	"math"
	"regexp"
	"strconv"
	"strings"

	"solfeggio/internal/core/catalog"
)

// mmPerInch is exact since the international inch of 1959.
const mmPerInch = 25.4

var (
	measured = regexp.MustCompile(`^([+-]?)(?:(\d+)[ -])?(\d+)/(\d+)\s*("|in|inch|inches|″)$|^([+-]?\d*[.,]?\d+)\s*([a-zA-Z%"″¢]*)$`)
	unitsOf  = map[string]map[string]float64{
		"mm":    {"": 1, "mm": 1, "cm": 10, "in": mmPerInch, "inch": mmPerInch, "inches": mmPerInch, `"`: mmPerInch, "″": mmPerInch},
		"cents": {"": 1, "cents": 1, "cent": 1, "ct": 1, "¢": 1},
		"%":     {"": 1, "%": 1},
	}
)

// ParseMeasure reads a figure as a person types it — "3.5", "3,5 mm", "0.14 in", `9/64"` — in the unit of the measure.
func ParseMeasure(text, unit string) (float64, error) {
	text = strings.TrimSpace(strings.ReplaceAll(text, "−", "-"))
	m := measured.FindStringSubmatch(text)
	if m == nil {
		return 0, fmt.Errorf("%q is no figure; write it as 3.5 %s", text, unit)
	}
	if m[4] != "" {
		whole, _ := strconv.ParseFloat("0"+m[2], 64) // digits only
		over, _ := strconv.ParseFloat(m[3], 64)
		under, _ := strconv.ParseFloat(m[4], 64)
		if unit != "mm" || under == 0 {
			return 0, fmt.Errorf("%q is no figure in %s", text, unit)
		}
		v := (whole + over/under) * mmPerInch
		if m[1] == "-" {
			v = -v
		}
		return v, nil
	}
	factor, ok := unitsOf[unit][strings.ToLower(m[7])]
	if !ok {
		return 0, fmt.Errorf("%q is not in %s", text, unit)
	}
	v, err := strconv.ParseFloat(strings.Replace(m[6], ",", ".", 1), 64)
	if err != nil || math.Abs(v*factor) > 1e6 {
		return 0, fmt.Errorf("%q is no figure; write it as 3.5 %s", text, unit)
	}
	return v * factor, nil
}

// tolerance of comparisons, against the noise of fractions.
const tolerance = 1e-9

// Judge compares a figure with what it should be on this kind and size. It returns the code of a finding, empty when the
// figure is right or no figure is kept for that size.
func Judge(m catalog.Measure, kind, size string, value float64) string {
	target, ok := m.Target(kind, size)
	switch {
	case !ok:
		return ""
	case value < target.Value-target.Tolerance-tolerance:
		return m.Low
	case value > target.Value+target.Tolerance+tolerance:
		return m.High
	}
	return ""
}
