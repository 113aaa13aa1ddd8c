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
