package field

// Least and Most bound every quantity of a calculator, whatever its unit: so wide that nothing real lies
// outside, and so narrow that sums and products of a few stay numbers that a browser reads exactly.
const (
	Least     = 1e-3
	Most      = 1e9
	MostExact = 1 << 53
)

// Positive reports whether a number is a quantity that is more than nothing.
func Positive(v float64) bool { return v >= Least && v <= Most }

// NotNegative reports whether a number is a quantity, or nothing.
func NotNegative(v float64) bool { return v >= 0 && v <= Most }
