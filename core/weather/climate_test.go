package weather

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"
)

func TestKindsOfGrassWantTheirOwnWarmth(t *testing.T) {
	for _, row := range []struct {
		mean                       float64
		cool, warm, tropical, both float64
	}{
		{4, 0, 0, 0, 0},
		{8.5, 0.5, 0, 0, 0.25},
		{15, 1, 5.0 / 14, 1.0 / 12, (1 + 5.0/14) / 2},
		{28, 5.0 / 13, 1, 1, (5.0/13 + 1) / 2},
		{37, 0, 0.5, 0.7, 0.25},
		{45, 0, 0, 0, 0},
	} {
		assert.InDelta(t, row.cool, Warmth(Cool, row.mean), 1e-9, "cool at %g", row.mean)
		assert.InDelta(t, row.warm, Warmth(Warm, row.mean), 1e-9, "warm at %g", row.mean)
		assert.InDelta(t, row.tropical, Warmth(Tropical, row.mean), 1e-9, "tropical at %g", row.mean)
		assert.InDelta(t, row.both, Warmth(Both, row.mean), 1e-9, "both at %g", row.mean)
	}
	assert.Equal(t, Warmth(Cool, 11), Warmth("", 11), "what is not said is cool-season")
}

// A week of 30 °C where 24 is ordinary: it stopped every sward alike, maize-green guinea grass too.
func TestHeatThatStopsRyegrassIsGoodForGuineaGrass(t *testing.T) {
	assert.Less(t, Departure(Cool, 30, 24), 0.6)
	assert.Greater(t, Departure(Tropical, 30, 24), 1.15)
	assert.Less(t, Departure(Tropical, 16, 24), 0.4, "a cold snap is the other way about")
	rapid.Check(t, func(t *rapid.T) {
		kind, mean := rapid.SampledFrom(Grasses).Draw(t, "kind"), rapid.Float64Range(-40, 50).Draw(t, "mean")
		assert.Equal(t, 1.0, Departure(kind, mean, mean), "an ordinary day is ordinary, in winter too: it was half of it")
	})
}

func TestAHighPlaceIsColderAndTheSeaEvensItOut(t *testing.T) {
	plain := Climate{Latitude: 44}
	high := Climate{Latitude: 44, Elevation: 1200}
	assert.InDelta(t, 7.8, plain.Normal(200)-high.Normal(200), 0.01)
	year := func(c Climate) float64 { return c.Normal(200) - c.Normal(20) }
	assert.Less(t, year(Climate{Latitude: 44, Coast: Seaside}), year(plain))
	assert.Greater(t, year(Climate{Latitude: 44, Coast: Continental}), year(plain))
	assert.InDelta(t, 15.6, Climate{Latitude: -0.5, Elevation: 2030}.Normal(100), 1, "an equatorial highland is cool all year")
}

func TestTypedNormalsAreRead(t *testing.T) {
	months := [12]float64{-4, -3, 0, 5, 10, 14, 16, 15, 11, 6, 1, -3}
	c := Climate{Latitude: 61, Normals: &months}
	assert.InDelta(t, 16, c.Normal(198), 0.1, "mid July")
	assert.InDelta(t, -3.5, c.Normal(1), 0.1, "new year lies between December and January")
	assert.InDelta(t, c.Normal(365), c.Normal(1), 0.1)
	rapid.Check(t, func(t *rapid.T) {
		v := c.Normal(rapid.IntRange(1, 366).Draw(t, "day"))
		assert.GreaterOrEqual(t, v, -4.0)
		assert.LessOrEqual(t, v, 16.0)
	})
}

// 12 km over the equator the year was turned by half.
func TestTheTropicsHaveNoHemisphere(t *testing.T) {
	assert.False(t, Climate{Latitude: -0.1}.Southern())
	assert.False(t, Climate{Latitude: -20}.Southern())
	assert.True(t, Climate{Latitude: -34}.Southern())
	assert.False(t, Climate{Latitude: 34}.Southern())
}

// Past the last day on record a parched soil was half well again within ten days, rain or none.
func TestADroughtGoesOnUntilItRains(t *testing.T) {
	days := map[int]Day{}
	for n := 100; n < 190; n++ {
		days[n] = Day{Mean: north.Normal(n), Sun: sun(12)}
	}
	same := func(n int) int { return n }
	small, large := Reckon(days, 100, 189, north, 60, same), Reckon(days, 100, 189, north, 180, same)
	assert.Less(t, small.Growth(Cool, 189), 0.3)
	assert.Less(t, small.Growth(Cool, 190), 0.4, "tomorrow it is dry still")
	before := 0.0
	for n := 190; n < 300; n++ {
		g := small.Growth(Cool, n)
		assert.GreaterOrEqual(t, g, before-1e-9, "with the rain to be expected it comes back bit by bit")
		before = g
	}
	assert.InDelta(t, 1, small.Growth(Cool, 480), 0.05)
	back := func(k Known) int {
		n := 190
		for ; k.moisture(n-189) < 0.7; n++ {
		}
		return n
	}
	assert.Less(t, back(small), back(large), "a deep soil takes longer to fill")
}
