package year_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/year"
)

func TestHaulageRaisesAndWeightLowersWhatATonneCosts(t *testing.T) {
	of := func(bale, haulage, kg float64) float64 {
		f, err := year.DeliveredPrice(bale, haulage, kg)
		require.NoError(t, err)
		return f.Value
	}
	assert.InDelta(t, 200, of(50, 10, 300), 1e-9)
	assert.Greater(t, of(50, 20, 300), of(50, 10, 300))
	assert.Less(t, of(50, 10, 400), of(50, 10, 300))
	for name, x := range map[string][3]float64{"bale_kg": {50, 10, 0}, "bale_price": {-1, 10, 300}, "haulage": {50, math.NaN(), 300}} {
		_, err := year.DeliveredPrice(x[0], x[1], x[2])
		assert.ErrorContains(t, err, name)
	}
	assert.NoError(t, year.CheckPrice("price", 0))
	assert.ErrorContains(t, year.CheckPrice("price", math.Inf(1)), "price")
	assert.ErrorContains(t, year.CheckPrice("price", -3), "price")
}

func TestTheCheapestFeedIsByWhatIsSwallowed(t *testing.T) {
	in, tonne, ok := year.Cheapest(map[string]float64{"bought_hay": 1000, "bought_silage": 600, "lime": 1})
	require.True(t, ok)
	assert.Equal(t, "bought_hay", in.ID, "silage is cheaper as it lies, and mostly water")
	assert.InDelta(t, 1000/(in.DryShare*in.Eaten), tonne, 1e-9)
	in, _, _ = year.Cheapest(map[string]float64{"bought_hay": 1000, "bought_silage": 100})
	assert.Equal(t, "bought_silage", in.ID)
	_, _, ok = year.Cheapest(map[string]float64{"lime": 1})
	assert.False(t, ok, "lime is no feed")
}

func ExampleDeliveredPrice() {
	f, _ := year.DeliveredPrice(450, 60, 250)
	fmt.Printf("%.0f\n", f.Value)
	// Output: 2040
}
