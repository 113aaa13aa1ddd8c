package land

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestAFenceIsPacedUp(t *testing.T) {
	g := Region{Ring{{0, 0}, {200, 0}, {200, 80}, {0, 80}}} // fences that run north are 80 m long
	got, err := Pace(g, []float64{0.3, 0.32, 0.3, 5}, 0, false)
	require.NoError(t, err)
	require.Len(t, got, 4)
	assert.InDelta(t, 37.5, got[0].ExactM, 1e-6)
	assert.Equal(t, 38.0, got[0].PacedM)
	assert.InDelta(t, 0.304, got[0].AreaHa, 1e-9)
	assert.InDelta(t, 0.004, got[0].DownHa, 1e-9, "half a metre less of 80")
	assert.InDelta(t, 80, got[0].FrontFenceM, 1e-9)
	assert.InDelta(t, 40, got[1].PacedM, 1e-6, "a whole number stays as it is")
	assert.InDelta(t, 0, got[1].DownHa, 1e-6)
	assert.InDelta(t, 200-38-40-38, got[3].PacedM, 1e-6, "the last gets what there is")
	assert.InDelta(t, 5-0.672, got[3].MissingHa, 1e-6)
	assert.Zero(t, got[3].FrontFenceM, "and needs no fence in front")

	_, err = Pace(Region{}, []float64{1}, 0, false)
	assert.Error(t, err)
	_, err = Pace(g, make([]float64, mostPaced+1), 0, false)
	assert.ErrorContains(t, err, "strips")
}

func TestPacedStripsProperties(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		g, _ := ground(t)
		total := g.AreaHa()
		var areas []float64
		for range rapid.IntRange(1, 12).Draw(t, "strips") {
			areas = append(areas, total*rapid.Float64Range(0.01, 0.3).Draw(t, "share"))
		}
		direction, reverse := rapid.Float64Range(0, 360).Draw(t, "direction"), rapid.Bool().Draw(t, "reverse")
		got, err := Pace(g, areas, direction, reverse)
		require.NoError(t, err)
		sum := 0.0
		for i, p := range got {
			sum += p.AreaHa
			if p.MissingHa == 0 {
				assert.GreaterOrEqual(t, p.AreaHa, areas[i]*(1-1e-5)-1e-6, "never less than was asked for")
				assert.Less(t, p.PacedM, p.ExactM+1)
			} else {
				assert.Equal(t, len(got)-1, i, "only the last runs out of ground")
				assert.InDelta(t, areas[i]-p.MissingHa, p.AreaHa, 1e-4*total)
			}
			assert.GreaterOrEqual(t, p.DownHa, 0.0)
		}
		assert.LessOrEqual(t, sum, total*(1+1e-6))
		// From the other end they come to the same where the ground is taken whole.
		if len(got) == 1 && got[0].MissingHa > 0 {
			other, err := Pace(g, areas, direction, !reverse)
			require.NoError(t, err)
			assert.InDelta(t, got[0].AreaHa, other[0].AreaHa, 1e-6*total)
		}
		assert.False(t, math.IsNaN(sum))
	})
}
