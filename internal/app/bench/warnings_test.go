package bench

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestWarningsAreSaidOnce(t *testing.T) {
	var w warnings
	w.add("TR-02", []string{"Never mix products."})
	w.add("TR-01", []string{"Lukewarm water only.", "Gloves on. Never mix products."})
	w.add("VN-01", []string{"Gloves on. New ones before it is touched.", "Never mix products."})
	assert.Equal(t, []Warning{
		{"Never mix products.", []string{}}, {"Gloves on.", []string{}}, {"Lukewarm water only.", []string{"TR-01"}},
		{"New ones before it is touched.", []string{"VN-01"}},
	}, w.said())
	assert.Equal(t, []Warning{}, (&warnings{}).said())
}
