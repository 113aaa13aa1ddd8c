package grazing

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/quantity"
)

func TestRestOfALayoutIsWhileTheyAreInTheOthers(t *testing.T) {
	parts := []LayoutPart{{AreaHa: 1, Shared: 10, ToWaterM: math.NaN()}, {AreaHa: 3, Shared: 30, ToWaterM: 40}, {AreaHa: 2, Shared: 20, ToWaterM: 90}}
	out, err := Layout(LayoutIn{Parts: parts, Stay: 2, Rest: 9, Others: 2, SharedIs: quantity.Kilogram})
	require.NoError(t, err)
	assert.InDelta(t, 8, out.Rest.Value, 1e-9, "three here and two elsewhere: four others at two days")
	assert.False(t, out.Fits, "nine are asked")
	assert.InDelta(t, 1, out.AreaSpread.Value, 1e-9, "(3 − 1) ÷ 2")
	assert.InDelta(t, 90, out.ToWater.Value, 1e-9, "the farthest walk")
	out, err = Layout(LayoutIn{Parts: parts, Stay: 2, Rest: 8, Others: 2, SharedIs: quantity.Kilogram})
	require.NoError(t, err)
	assert.True(t, out.Fits)
}

func TestPartsThatWereToBeEqual(t *testing.T) {
	off := OffEqual([]float64{2, 2, 2.3, 1.7, 2.004})
	assert.Nil(t, off[0], "too little to say")
	assert.Nil(t, off[4])
	assert.InDelta(t, 0.15, *off[2], 0.001, "larger is above")
	assert.InDelta(t, -0.15, *off[3], 0.001)
	assert.Equal(t, []*float64{nil, nil}, OffEqual([]float64{0, 0}), "nothing to share out is no figure")
}

// A strip is rounded up: rounded down it is feed short, and the working says by how much.
func TestAStripIsPacedOutUpwards(t *testing.T) {
	out, steps, err := Strip(StripIn{Demand: 464, Days: 2.75, PerHa: 547, Width: 40})
	require.NoError(t, err)
	assert.InDelta(t, 583.18, out.Length, 0.01, "the sum itself is exact")
	assert.Equal(t, 584.0, steps[2].Value, "583 would be nearer, and short")
	assert.InDelta(t, (583.181-583)*40/10000*547, steps[3].Value, 0.01)
}
