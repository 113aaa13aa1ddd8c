package exchange

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/land"
)

func square(lon, lat, ha float64) string {
	out := ""
	for _, p := range land.SquareOf(land.Position{lon, lat}, ha)[0][0] {
		out += fmt.Sprintf("[%v,%v],", p[0], p[1])
	}
	return fmt.Sprintf(`{"type":"Polygon","coordinates":[[%s]]}`, out[:len(out)-1])
}

func read(t *testing.T, shapes ...string) []Feature {
	all := ""
	for _, s := range shapes {
		all += `{"type":"Feature","properties":{},"geometry":` + s + `},`
	}
	features, err := Read(t.Context(), "a.geojson", []byte(`{"type":"FeatureCollection","features":[`+all[:len(all)-1]+`]}`))
	require.NoError(t, err)
	return features
}

func TestASquareHasItsSize(t *testing.T) {
	for _, ha := range []float64{0.1, 1, 640} {
		assert.InEpsilon(t, ha, read(t, square(9.1, 61, ha))[0].AreaHa, 1e-3)
	}
}

func TestGroundFarFromTheFarmIsSaidAndSwappedGroundIsFound(t *testing.T) {
	farm := &land.Position{9.1, 61}
	features := read(t, square(9.12, 61.01, 2), square(61.01, 9.12, 2), square(-70, -33, 2))
	Place(features, farm)
	assert.Zero(t, features[0].FarKm)
	assert.False(t, features[0].Swapped)
	assert.Greater(t, features[1].FarKm, 5000.0)
	assert.True(t, features[1].Swapped, "near if latitude and longitude change places")
	assert.Greater(t, features[2].FarKm, 10000.0)
	assert.False(t, features[2].Swapped)

	area := features[0].AreaHa
	swapped := read(t, square(61.01, 9.12, 2))
	Swap(swapped)
	Place(swapped, farm)
	assert.Zero(t, swapped[0].FarKm)
	assert.InDelta(t, 9.12, swapped[0].Shape.Centre()[0], 1e-6)
	assert.NotZero(t, swapped[0].AreaHa, "measured anew: a square at 9° is none at 61°")
	assert.Positive(t, area)

	nowhere := read(t, square(61.01, 9.12, 2))
	Place(nowhere, nil)
	assert.Zero(t, nowhere[0].FarKm, "a farm without land is nowhere yet")
}

func TestWhatLiesInWhat(t *testing.T) {
	features := read(t, square(9.1, 61, 1), square(9.1, 61, 100), square(9.1, 61, 10), square(9.3, 61, 1))
	Place(features, nil)
	require.NotNil(t, features[0].Within)
	assert.Equal(t, 2, *features[0].Within, "the smallest that is around it")
	assert.Equal(t, 1, *features[2].Within)
	assert.Nil(t, features[1].Within)
	assert.Nil(t, features[3].Within)
}

func TestKilometresBetweenPlaces(t *testing.T) {
	assert.InDelta(t, 111.2, land.KmBetween(land.Position{9, 60}, land.Position{9, 61}), 0.1)
	assert.InDelta(t, 55.6, land.KmBetween(land.Position{9, 60}, land.Position{10, 60}), 0.1)
	assert.InDelta(t, 20015, land.KmBetween(land.Position{0, 0}, land.Position{180, 0}), 1)
}
