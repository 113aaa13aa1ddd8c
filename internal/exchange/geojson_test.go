package exchange

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const meadow = `{"type":"FeatureCollection","features":[
 {"type":"Feature","properties":{"name":" Nedre "},"geometry":{"type":"Polygon","coordinates":[[[9,61,310],[9.004,61],[9.004,61.002],[9,61.002],[9,61]]]}},
 {"type":"Feature","properties":null,"geometry":{"type":"Point","coordinates":[9,61]}},
 {"type":"Feature","properties":{},"geometry":{"type":"Polygon","coordinates":[[[9,61],[9.004,61.002],[9.004,61],[9,61.002],[9,61]]]}}]}`

func TestGroundIsFoundAndBadGroundIsNamed(t *testing.T) {
	got, err := readGeoJSON(t.Context(), []byte(meadow))
	require.NoError(t, err)
	require.Len(t, got, 3)
	assert.Equal(t, "Nedre", got[0].Name)
	assert.InDelta(t, 4.82, got[0].AreaHa, 0.02)
	assert.Empty(t, got[0].Problem)
	assert.NotNil(t, got[1].Point)
	assert.Equal(t, "Field 3", got[2].Name)
	assert.Contains(t, got[2].Problem, "crosses itself")
}

func TestFilesAreRefusedWithASentence(t *testing.T) {
	for in, says := range map[string]string{
		`hello`:                        "not a GeoJSON file",
		`{"type":"Banana"}`:            "no known type",
		`{"type":"FeatureCollection"}`: "no ground",
		`{"type":"Polygon","crs":{"properties":{"name":"urn:ogc:def:crs:EPSG::25832"}},"coordinates":[]}`: "another projection",
		`{"type":"Polygon","coordinates":[["a"]]}`:                                                        "cannot be read",
		strings.Repeat(`{"type":"GeometryCollection","geometries":[`, 12) + strings.Repeat(`]}`, 12):      "too deep",
	} {
		_, err := readGeoJSON(t.Context(), []byte(in))
		require.Error(t, err, in)
		assert.Contains(t, err.Error(), says)
	}
	_, err := readGeoJSON(t.Context(), make([]byte, MostFileBytes+1))
	assert.ErrorContains(t, err, "20 MB")
	metres, err := readGeoJSON(t.Context(), []byte(`{"type":"Polygon","coordinates":[[[431000,6770000],[431100,6770000],[431100,6770100],[431000,6770000]]]}`))
	require.NoError(t, err)
	assert.Contains(t, metres[0].Problem, "another projection")
}
