package chance_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"fjell/core/chance"
)

func TestDrawsAreWhatTheySay(t *testing.T) {
	d, again := chance.Draws(7), chance.Draws(7)
	n, sum, square, factors, shares := 20000, 0.0, 0.0, 0.0, 0.0
	seen := map[int]int{}
	for range n {
		x := d.Normal()
		assert.Equal(t, x, again.Normal(), "the same seed, the same numbers")
		sum, square = sum+x, square+x*x
		factors += d.Factor(0.4)
		again.Factor(0.4)
		s := d.Share()
		again.Share()
		assert.True(t, s >= 0 && s < 1)
		shares += s
		seen[d.Below(5)]++
		again.Below(5)
	}
	assert.InDelta(t, 0, sum/float64(n), 0.03)
	assert.InDelta(t, 1, math.Sqrt(square/float64(n)), 0.03)
	assert.InDelta(t, 1, factors/float64(n), 0.02, "a mean of one")
	assert.InDelta(t, 0.5, shares/float64(n), 0.01)
	assert.Len(t, seen, 5)
	for v, times := range seen {
		assert.InDelta(t, n/5, times, float64(n)/50, "%d", v)
	}
}
