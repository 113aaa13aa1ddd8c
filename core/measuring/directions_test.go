package measuring

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/forage"
)

// Heights count from the sward's own stop height: what stands below it is the residual.
func TestAHeightCountsFromTheSwardsOwnStop(t *testing.T) {
	for _, id := range []string{"perennial_ryegrass", "lucerne"} {
		s := sward(t, id)
		require.Positive(t, s.StopHeight)
		v, err := Of(Input{Method: forage.Stick, Readings: []float64{s.StopHeight, s.StopHeight}, PerCm: p(100)}, s)
		require.NoError(t, err)
		assert.InDelta(t, s.Residual, v.Mass.Value, 1e-9, id)
		higher, err := Of(Input{Method: forage.Stick, Readings: []float64{s.StopHeight + 5, s.StopHeight + 5}, PerCm: p(100), Fists: p(2), CmPerFist: p(10)}, s)
		require.NoError(t, err)
		assert.InDelta(t, s.Residual+500, higher.Mass.Value, 1e-9, id)
		require.NotNil(t, higher.Hand)
		want, err := forage.Hand(forage.HandIn{Fists: 2, CmPerFist: 10, PerCm: s.PerCm(0.85), Stop: s.StopHeight, Residual: s.Residual, Meters: map[string]float64{"stick": higher.Mass.Value}})
		require.NoError(t, err)
		assert.Equal(t, want, *higher.Hand, "the hand counts from there too")
	}
}

// Many drops of a counter make its mean surer, by the root of their number.
func TestACountersErrorShrinksWithItsDrops(t *testing.T) {
	half := func(drops float64) float64 {
		v, err := Of(Input{Method: forage.PlateCounter, First: p(0), Last: p(20 * drops), Drops: p(drops), CmPer: p(0.5)}, sward(t, "perennial_ryegrass"))
		require.NoError(t, err)
		return v.HalfWidth / v.Mass.Value
	}
	few, many := half(10), half(40)
	assert.Less(t, many, few)
	s := sward(t, "perennial_ryegrass")
	protocol, err := ProtocolOf(forage.PlateCounter, s)
	require.NoError(t, err)
	between := 1.96 * protocol.BetweenCV.Typical
	assert.InDelta(t, between*between*(1.0/10-1.0/40), math.Abs(few*few-many*many), 1e-6)
}
