package weather

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// Dry soil gives its water up more slowly: roots take in proportion below half.
func TestDrySoilHoldsOn(t *testing.T) {
	b := Bucket{Holds: 100, Water: 20}
	b.Pass(0, 5)
	assert.InDelta(t, 18, b.Water, 1e-9, "two fifths of what they want")
	full := Bucket{Holds: 100, Water: 90}
	full.Pass(0, 5)
	assert.InDelta(t, 85, full.Water, 1e-9)
	over := Bucket{Holds: 100, Water: 100}
	over.Pass(20, 0)
	assert.InDelta(t, 20, over.Over, 1e-9)
	over.Pass(0, 0)
	assert.InDelta(t, 10, over.Over, 1e-9, "half of it drains in a day")
}

func TestWarmthByDegrees(t *testing.T) {
	for mean, want := range map[float64]float64{3: 0, 4: 0, 8.5: 0.5, 13: 1, 20: 1, 26.5: 0.5, 33: 0} {
		assert.InDelta(t, want, Warmth(Cool, mean), 1e-9, "%g °C", mean)
	}
}
