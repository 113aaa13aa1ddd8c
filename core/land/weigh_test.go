package land

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func oblong(x, y, w, h float64) Region {
	return Region{Ring{{x, y}, {x + w, y}, {x + w, y + h}, {x, y + h}}}
}

func TestGroundIsWeighedByItsBeds(t *testing.T) {
	field := oblong(0, 0, 300, 100) // 3 ha, of which the last hectare is no paddock's
	rich := Bed{Region: oblong(0, 0, 100, 100), AreaHa: 1, Weight: 1200, Factor: 1.2}
	poor := Bed{Region: oblong(100, 0, 100, 100), AreaHa: 1, Weight: 800, Factor: 0.8}
	zones, err := Weigh(field, []Bed{rich, poor}, nil)
	require.NoError(t, err)
	carried := func(g Region, zones []Zone) float64 {
		w, err := Carried(g, zones)
		require.NoError(t, err)
		return w
	}
	assert.InDelta(t, 1200, carried(rich.Region, zones), 1e-6)
	assert.InDelta(t, 800, carried(poor.Region, zones), 1e-6)
	assert.InDelta(t, 1000, carried(oblong(200, 0, 100, 100), zones), 1e-6, "what no bed covers is the mean")
	assert.InDelta(t, 3000, carried(field, zones), 1e-6)
	assert.InDelta(t, 1000, carried(oblong(50, 0, 100, 100), zones), 1e-6, "half of each")

	wet := Patch{Name: "the wet corner", Region: oblong(50, 0, 100, 100), Factor: 0.4} // over the half of each bed
	zones, err = Weigh(field, []Bed{rich, poor}, []Patch{wet})
	require.NoError(t, err)
	assert.InDelta(t, 0.5*1200+0.5*1200*0.4/1.2, carried(rich.Region, zones), 1e-6, "by its factor against the bed's")
	assert.InDelta(t, 0.5*800+0.5*800*0.4/0.8, carried(poor.Region, zones), 1e-6)

	bare := Patch{Name: "rock", Region: field, Factor: 0}
	zones, err = Weigh(field, []Bed{{Region: field, AreaHa: 3, Weight: 900, Factor: 1}}, []Patch{bare})
	require.NoError(t, err)
	assert.Zero(t, carried(field, zones))
	assert.Zero(t, carried(field, nil))
	_, err = Weigh(field, nil, nil)
	assert.ErrorContains(t, err, "nothing on this ground")
}

// Whatever the beds, parts of the ground carry together what the ground carries, and each at least nothing.
func TestSharesOfWeighedGroundAddUp(t *testing.T) {
	field := oblong(0, 0, 400, 100)
	zones, err := Weigh(field, []Bed{{oblong(0, 0, 130, 100), 1.3, 700, 1}, {oblong(130, 0, 270, 60), 1.62, 1500, 1.1}}, []Patch{{"bog", oblong(90, 20, 200, 60), 0.3}})
	require.NoError(t, err)
	whole, err := Carried(field, zones)
	require.NoError(t, err)
	for n := 1; n < 9; n++ {
		d, err := Divide(field, n, 30, zones...)
		require.NoError(t, err)
		sum := 0.0
		for _, p := range d.Parts {
			w, err := Carried(p.Region, zones)
			require.NoError(t, err)
			assert.Positive(t, w)
			assert.InEpsilon(t, whole/float64(n), w, 1e-6)
			sum += w
		}
		assert.InEpsilon(t, whole, sum, 1e-9)
	}
}
