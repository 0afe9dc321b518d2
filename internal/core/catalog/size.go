package catalog

import (
	"errors"
	"fmt"
	"slices"
)

// A SizeChart lists the sizes of a kind, smallest first, by one measure of the player.
type SizeChart struct {
	Key     string     `json:"chart" doc:"As the calculator fit.size names the kind"`
	Measure string     `json:"measure" jsonschema:"enum=arm_length_cm,enum=height_cm" doc:"Of the player"`
	Steps   []SizeStep `json:"steps" jsonschema:"minItems=1"`
}

// A SizeStep is a size that fits below a measure in centimetres; the last, which has none, fits everybody from there.
type SizeStep struct {
	Size  string  `json:"size"`
	Below float64 `json:"below,omitempty"`
}

// At is where a size stands in the chart; below 0 for none.
func (c *SizeChart) At(size string) int {
	return slices.IndexFunc(c.Steps, func(s SizeStep) bool { return s.Size == size })
}

// SizeChart finds a chart by its key.
func (c *Catalog) SizeChart(key string) (*SizeChart, bool) {
	chart, ok := c.charts[key]
	return chart, ok
}

// check reports a chart whose steps do not rise, or whose last step does not fit everybody else.
func (c *SizeChart) check() error {
	var faults []error
	for n, s := range c.Steps {
		last := n == len(c.Steps)-1
		switch {
		case last != (s.Below == 0):
			faults = append(faults, fmt.Errorf("size chart %s: only the last size may fit everybody from there", c.Key))
		case n > 0 && !last && s.Below <= c.Steps[n-1].Below:
			faults = append(faults, fmt.Errorf("size chart %s: %s does not come after %s", c.Key, s.Size, c.Steps[n-1].Size))
		}
	}
	return errors.Join(faults...)
}

// AllSizes are those of all kinds.
func (c *Catalog) AllSizes() []string {
	var all []string
	for _, k := range c.Kinds {
		for _, size := range k.Sizes {
			if !slices.Contains(all, size) {
				all = append(all, size)
			}
		}
	}
	return all
}
