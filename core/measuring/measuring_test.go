package measuring

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/forage"
	"fjell/core/reference"
)

func sward(t require.TestingT, id string) reference.Sward {
	s, err := reference.Load().Sward(id)
	require.NoError(t, err)
	return s
}

func p(v float64) *float64 { return &v }

func TestPlateDropsComeToAMass(t *testing.T) {
	rye := sward(t, "perennial_ryegrass")
	v, err := Of(Input{Method: forage.Plate, Readings: []float64{8, 9, 10, 9, 8.5, 9.5}}, rye)
	require.NoError(t, err)
	assert.InDelta(t, 270*9+550, v.Mass.Value, 1e-9)
	assert.Greater(t, v.HalfWidth, 1.96*0.12*v.Mass.Value, "the plate's own error is in it")
	require.NotNil(t, v.More)
	assert.Equal(t, 20, v.Advised)
	assert.Equal(t, 14, v.Further)
	assert.Contains(t, v.Mass.Steps[0].Label, "Mean of the masses")
	wet, err := Of(Input{Method: forage.Plate, Readings: []float64{8, 9, 10, 9, 8.5, 9.5}, Wet: true}, rye)
	require.NoError(t, err)
	assert.Greater(t, wet.HalfWidth, v.HalfWidth)
	assert.Contains(t, wet.Warnings[0], "Wet leaf")
}

func TestCounterOfAPlateKnowsItsMeanOnly(t *testing.T) {
	v, err := Of(Input{Method: forage.PlateCounter, First: p(1200), Last: p(1680), Drops: p(24), CmPer: p(0.5)}, sward(t, "perennial_ryegrass"))
	require.NoError(t, err)
	assert.InDelta(t, 10*270+550, v.Mass.Value, 1e-9)
	assert.Equal(t, 24, v.Sample.N)
	assert.InDelta(t, 0, *v.More, 0)
	one, err := Of(Input{Method: forage.Plate, Readings: []float64{10}}, sward(t, "perennial_ryegrass"))
	require.NoError(t, err)
	assert.Less(t, v.HalfWidth, one.HalfWidth, "24 drops tell more than one")
	_, err = Of(Input{Method: forage.PlateCounter, First: p(1200), Drops: p(24), CmPer: p(0.5)}, sward(t, "perennial_ryegrass"))
	assert.ErrorContains(t, err, "counter show now")
}

func TestPlateIsRefusedOnTallBunches(t *testing.T) {
	_, err := Of(Input{Method: forage.Plate, Readings: []float64{20}}, sward(t, "native_tallgrass"))
	assert.ErrorContains(t, err, "Tall bunches")
	assert.ErrorContains(t, err, "clip")
	v, err := Of(Input{Method: forage.Clip, Readings: []float64{90, 110}, DryShare: p(0.4), Quadrat: p(0.25)}, sward(t, "native_tallgrass"))
	require.NoError(t, err)
	assert.InDelta(t, 1600, v.Mass.Value, 1e-9)
	assert.Equal(t, 5, v.Advised, "rangeland clips")
	high, err := Of(Input{Method: forage.Plate, Readings: []float64{28, 30}}, sward(t, "perennial_ryegrass"))
	require.NoError(t, err)
	assert.Contains(t, high.Warnings[0], "25 cm")
}

func TestZonesAreWeighedByTheirGround(t *testing.T) {
	rye := sward(t, "perennial_ryegrass")
	in := Input{Method: forage.Plate, Readings: []float64{4, 4.5, 5, 14, 15}, Zones: []Zone{{"slope", 0.8}, {"bottom", 0.2}}, ZoneOf: []int{0, 0, 0, 1, 1}}
	v, err := Of(in, rye)
	require.NoError(t, err)
	assert.InDelta(t, 550+270*(0.8*4.5+0.2*14.5), v.Mass.Value, 1e-9)
	assert.Len(t, v.ByZone, 2)
	assert.Empty(t, v.Sample.OutlierIndex, "deep grass at the bottom is no outlier of the slope")
	in.ZoneOf = []int{0, 0, 0, 0, 0}
	v, err = Of(in, rye)
	require.NoError(t, err)
	assert.Equal(t, []string{"bottom"}, v.Unread)
	in.ZoneOf[3] = 7
	_, err = Of(in, rye)
	assert.ErrorContains(t, err, "2 zones")
}

func TestHandTakesASide(t *testing.T) {
	v, err := Of(Input{Method: forage.Plate, Readings: []float64{12, 12}, Guess: p(2300), Fists: p(1.5), CmPerFist: p(9)}, sward(t, "perennial_ryegrass"))
	require.NoError(t, err)
	require.NotNil(t, v.Hand)
	assert.Equal(t, "eye", v.Hand.Sides, "1.5 fists are 2 325 kg, the plate says 3 790")
}

func TestBadReadingsAreNamed(t *testing.T) {
	rye := sward(t, "perennial_ryegrass")
	for want, in := range map[string]Input{
		"at least one":  {Method: forage.Plate},
		`readings\[1\]`: {Method: forage.Plate, Readings: []float64{8, 4000}},
		"frame":         {Method: forage.Clip, Readings: []float64{80}, DryShare: p(0.2)},
		"must be plate": {Method: "spoon", Readings: []float64{8}},
		"Canopy|canopy": {Method: forage.Stick, Readings: []float64{8}, Cover: p(1.4)},
		"at most 500":   {Method: forage.Plate, Readings: make([]float64, 501)},
		"below zero":    {Method: forage.Plate, Readings: []float64{3}, Slope: p(200), Intercept: p(-900)},
	} {
		_, err := Of(in, rye)
		require.Error(t, err, want)
		assert.Regexp(t, want, err.Error())
	}
}

// Choosing one line and then the one before again gives the masses of before to the last bit.
func TestRecalibrationIsReversible(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rye := sward(t, "perennial_ryegrass")
		in := Input{Method: forage.Plate, Readings: rapid.SliceOfN(rapid.Float64Range(2, 30), 1, 40).Draw(t, "readings")}
		first, err := Of(in, rye)
		require.NoError(t, err)
		stored, err := json.Marshal(in)
		require.NoError(t, err)
		in.Slope, in.Intercept = p(rapid.Float64Range(100, 400).Draw(t, "slope")), p(rapid.Float64Range(0, 1200).Draw(t, "intercept"))
		_, err = Of(in, rye)
		require.NoError(t, err)
		var again Input
		require.NoError(t, json.Unmarshal(stored, &again))
		back, err := Of(again, rye)
		require.NoError(t, err)
		assert.Equal(t, first.Mass.Value, back.Mass.Value)
		assert.Equal(t, first.HalfWidth, back.HalfWidth)
	})
}

// On range the stick was offered, with a mass per cm that means little there.
func TestAHeightIsRefusedWhereItSaysLittle(t *testing.T) {
	for _, id := range []string{"native_mixed_grass", "savanna_grass", "browse_shrub"} {
		sward, err := reference.Load().Sward(id)
		require.NoError(t, err)
		_, err = Of(Input{Method: forage.Stick, Readings: []float64{20, 24}}, sward)
		assert.ErrorContains(t, err, "key plants", id)
		frame, dry := 0.5, 0.6
		v, err := Of(Input{Method: forage.Clip, Readings: []float64{140, 150}, Quadrat: &frame, DryShare: &dry}, sward)
		require.NoError(t, err)
		assert.InDelta(t, 145/0.5*0.6*10, v.Mass.Value, 1)
	}
	ley, err := reference.Load().Sward("ryegrass_white_clover")
	require.NoError(t, err)
	_, err = Of(Input{Method: forage.Stick, Readings: []float64{10, 12}}, ley)
	assert.NoError(t, err)
	assert.Empty(t, UnsuitedStick(ley))
}

// The walker's own eye, held against enough measurements, errs by its own; others by what eyes usually do.
func TestATrainedEyeIsSurerThanABeginners(t *testing.T) {
	ley, err := reference.Load().Sward("ryegrass_white_clover")
	require.NoError(t, err)
	own := 0.09
	usual, err := Of(Input{Method: forage.Eye, Readings: []float64{2400}}, ley)
	require.NoError(t, err)
	trained, err := Of(Input{Method: forage.Eye, Readings: []float64{2400}, EyeError: &own}, ley)
	require.NoError(t, err)
	assert.InDelta(t, 1.96*0.09*2400, trained.Shared, 1e-9)
	assert.Less(t, trained.HalfWidth, usual.HalfWidth)
}
