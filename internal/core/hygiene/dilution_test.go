package hygiene

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Worked examples of OpenStax, Chemistry 2e, section 3.3 (Molarity), recalled from memory and read in the unit of the textbook:
// the rule does not depend on it.
func TestDiluteAgainstATextbook(t *testing.T) {
	tests := []struct {
		name                  string
		volume, target, stock float64
		want, within          float64
	}{
		{"0.850 L of 5.00 M copper nitrate makes 1.80 L of 2.36 M", 1800, 2.36, 5, 850, 1},
		{"5.00 L of 0.100 M from 1.59 M potassium hydroxide takes 0.314 L", 5000, 0.1, 1.59, 314, 0.5},
	}
	for _, tt := range tests {
		out, err := Dilute(DilutionIn{VolumeML: tt.volume, TargetPct: &tt.target, StockPct: &tt.stock})
		require.NoError(t, err)
		assert.InDelta(t, tt.want, out.StockML, tt.within, tt.name)
		assert.InDelta(t, tt.volume, out.StockML+out.DiluentML, 1e-9, tt.name)
	}
}

func TestDiluteByParts(t *testing.T) {
	out, err := Dilute(DilutionIn{VolumeML: 1100, PartsStock: new(1.), PartsDiluent: new(10.)})
	require.NoError(t, err)
	assert.InDelta(t, 100, out.StockML, 1e-9)
	assert.InDelta(t, 1000, out.DiluentML, 1e-9)
	assert.InDelta(t, 100./11, out.ConcentrationPct, 1e-9)
	out, err = Dilute(DilutionIn{VolumeML: 5, PartsStock: new(3.), PartsDiluent: new(0.)})
	require.NoError(t, err)
	assert.Equal(t, DilutionOut{5, 0, 100}, out, "undiluted")
}

func TestDiluteNamesWhatIsWrong(t *testing.T) {
	tests := []struct {
		in   DilutionIn
		want string
	}{
		{DilutionIn{VolumeML: 0, TargetPct: new(70.), StockPct: new(96.)}, "volume_ml: 0 cannot be"},
		{DilutionIn{VolumeML: math.NaN(), TargetPct: new(70.), StockPct: new(96.)}, "volume_ml: NaN cannot be"},
		{DilutionIn{VolumeML: 10, TargetPct: new(97.), StockPct: new(96.)}, "target_pct: 97 is stronger"},
		{DilutionIn{VolumeML: 10, TargetPct: new(0.), StockPct: new(96.)}, "target_pct: 0 cannot be"},
		{DilutionIn{VolumeML: 10, TargetPct: new(70.), StockPct: new(101.)}, "stock_pct: 101 cannot be"},
		{DilutionIn{VolumeML: 10, TargetPct: new(70.)}, "stock_pct: missing"},
		{DilutionIn{VolumeML: 10}, "target_pct: missing"},
		{DilutionIn{VolumeML: 10, TargetPct: new(70.), StockPct: new(96.), PartsStock: new(1.)}, "not both"},
		{DilutionIn{VolumeML: 10, PartsStock: new(1.)}, "parts_diluent: missing"},
		{DilutionIn{VolumeML: 10, PartsDiluent: new(1.)}, "parts_stock: missing"},
		{DilutionIn{VolumeML: 10, PartsStock: new(0.), PartsDiluent: new(1.)}, "parts_stock: 0 cannot be"},
		{DilutionIn{VolumeML: 10, PartsStock: new(1.), PartsDiluent: new(-1.)}, "parts_diluent: -1 cannot be"},
	}
	for _, tt := range tests {
		_, err := Dilute(tt.in)
		assert.ErrorContains(t, err, tt.want)
	}
}

func TestFill(t *testing.T) {
	// A cylinder of 100 mm, 60 mm of solution: π·25·6 = 471.2 mL, less what four mouthpieces of 10 mL displace.
	fill, err := Vessel{InnerDiameterMM: 100, CorkHeightMM: 70, MouthpieceVolumeML: 10, AtOnce: 4}.FillML()
	require.NoError(t, err)
	assert.InDelta(t, 471.24-40, fill, 0.01)
	for want, v := range map[string]Vessel{
		"cork_height_mm: 10 leaves nothing":     {100, 10, 10, 4},
		"at_once: 0 cannot be":                  {100, 70, 10, 0},
		"at_once: 60 mouthpieces take up more":  {100, 70, 10, 60},
		"mouthpiece_volume_ml: -1 cannot be":    {100, 70, -1, 1},
		"inner_diameter_mm: 0 cannot be":        {0, 70, 1, 1},
		"cork_height_mm: +Inf cannot be":        {100, math.Inf(1), 1, 1},
		"inner_diameter_mm: 2001 cannot be; us": {2001, 70, 1, 1},
	} {
		_, err := v.FillML()
		assert.ErrorContains(t, err, want)
	}
}

// Two pairs of gloves each and one part of vinegar to ten of water are common practice; the other amounts stand in the catalogue.
func TestSupplies(t *testing.T) {
	in := SuppliesIn{
		Instruments: []BatchInstrument{
			{"clarinet", "plastic", true, 3}, {"clarinet", "wood", true, 3}, {"Alto saxophone", "metal", true, 3},
			{"trumpet", "metal", true, 0}, {"violin", "varnish", false, 0}, {"a kind of its own", "plastic", true, 1},
		},
		Vessel: &Vessel{InnerDiameterMM: 100, CorkHeightMM: 70, MouthpieceVolumeML: 10, AtOnce: 3},
	}
	out, err := Supplies(in)
	require.NoError(t, err)
	assert.Equal(t, 12, out.GlovePairs)
	assert.Equal(t, 10, out.Reeds)
	assert.Equal(t, 4, out.Patches, "reed mouthpieces only")
	assert.Equal(t, 2, out.Fillings, "three and one")
	assert.InDelta(t, 2*out.FillML, out.VinegarML+out.WaterML, 1e-9)
	assert.InDelta(t, 10*out.VinegarML, out.WaterML, 1e-9)
	assert.InDelta(t, 4*60+20, out.AlcoholML, 1e-9, "as the catalogue has it")

	none, err := Supplies(SuppliesIn{Instruments: []BatchInstrument{{"trumpet", "metal", true, 0}}})
	require.NoError(t, err)
	assert.Zero(t, none.VinegarML, "brass goes without vinegar")
	assert.Zero(t, none.FillML)

	in.Vessel.CorkHeightMM = 5
	_, err = Supplies(in)
	assert.ErrorContains(t, err, "vessel.cork_height_mm: 5 leaves nothing")
	_, err = Supplies(SuppliesIn{Instruments: []BatchInstrument{{"trumpet", "clay", true, 0}}})
	assert.ErrorContains(t, err, `instruments[0].body: "clay"`)
	_, err = Supplies(SuppliesIn{Instruments: []BatchInstrument{{"trumpet", "metal", true, -1}}})
	assert.ErrorContains(t, err, "instruments[0].reeds: -1")
}
