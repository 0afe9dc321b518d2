package lifespan

import "math"

// fit finds the Weibull distribution of the greatest likelihood. With times taken relative to the longest, the shape k solves
//
//	Σ tᵏ ln t / Σ tᵏ − 1/k = mean of ln t over the ended,
//
// where the sums run over all lives. The left side grows with k, so the one root is found by halving. It reports false with fewer than
// two distinct ended times, where there may be no root.
func fit(lives []life) (Weibull, bool) {
	var first float64
	ended, distinct := 0, false
	for _, l := range lives {
		if !l.ended {
			continue
		}
		if ended++; ended == 1 {
			first = l.time
		}
		distinct = distinct || l.time != first
	}
	if !distinct {
		return Weibull{}, false
	}
	longest := lives[len(lives)-1].time
	logs := make([]float64, len(lives))
	mean := 0.0
	for i, l := range lives {
		logs[i] = math.Log(l.time / longest)
		if l.ended {
			mean += logs[i] / float64(ended)
		}
	}
	sums := func(k float64) (powers, weighted float64) {
		for _, x := range logs {
			p := math.Exp(k * x)
			powers += p
			weighted += p * x
		}
		return powers, weighted
	}
	below := func(k float64) bool {
		powers, weighted := sums(k)
		return weighted/powers-1/k < mean
	}
	low, high := 0.0, 1.0
	for below(high) && high < 1e12 {
		low, high = high, 2*high
	}
	for high-low > 1e-13*high {
		middle := low + (high-low)/2
		if middle == low || middle == high {
			break
		}
		if below(middle) {
			low = middle
		} else {
			high = middle
		}
	}
	shape := low + (high-low)/2
	powers, _ := sums(shape)
	return Weibull{Shape: shape, Scale: longest * math.Pow(powers/float64(ended), 1/shape)}, true
}

// Manner is how parts come to their end.
type Manner string

// The manners. Where the shape of the Weibull distribution parts them is the product's own choice.
const (
	Wear   Manner = "wear"   // the older the sooner
	Chance Manner = "chance" // at any age alike
	Early  Manner = "early"  // most of them young
)

// Manner reads the shape.
func (w Weibull) Manner() Manner {
	switch {
	case w.Shape > 1.2:
		return Wear
	case w.Shape < 0.8:
		return Early
	}
	return Chance
}
