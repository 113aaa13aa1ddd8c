package weather

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

var north = Climate{Latitude: 61}

func sun(h float64) *float64 { return &h }

func TestBucketKeepsItsWater(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		b := NewBucket(rapid.Float64Range(20, 200).Draw(t, "holds"))
		for range rapid.IntRange(1, 80).Draw(t, "days") {
			before := b.Water
			rain, thirst := rapid.Float64Range(0, 60).Draw(t, "rain"), rapid.Float64Range(0, 9).Draw(t, "thirst")
			b.Pass(rain, thirst)
			assert.GreaterOrEqual(t, b.Water, 0.0)
			assert.LessOrEqual(t, b.Water, b.Holds)
			assert.GreaterOrEqual(t, b.Water+1e-9, before-thirst, "roots take no more than the air asks")
			assert.LessOrEqual(t, b.Water, before+rain+1e-9)
			assert.GreaterOrEqual(t, b.Moisture(), 0.0)
			assert.LessOrEqual(t, b.Moisture(), 1.0)
		}
	})
}

func TestADrySpellStopsGrowthAndRainBringsItBack(t *testing.T) {
	b := NewBucket(90)
	for range 14 {
		b.Pass(0, 4)
	}
	assert.Less(t, b.Moisture(), 0.85, "a fortnight of sun is felt")
	for range 30 {
		b.Pass(0, 4)
	}
	assert.Less(t, b.Moisture(), 0.1, "six weeks stop it")
	b.Pass(60, 1)
	assert.InDelta(t, 1, b.Moisture(), 1e-9)
	assert.False(t, b.TooWet(""))
	b.Pass(45, 1)
	assert.True(t, b.TooWet(""))
	assert.False(t, b.TooWet("dry"), "gravel drains")
	assert.True(t, b.TooWet("wet"))
	b.Pass(0, 2)
	b.Pass(0, 2)
	assert.False(t, b.TooWet(""))
	assert.True(t, b.TooWet("wet"), "the bottom stays wet longer")
}

func TestThirstFollowsTheYear(t *testing.T) {
	june := Thirst(Day{Mean: 15, Sun: sun(12)}, 61, 170)
	assert.InDelta(t, 4.3, june, 0.8, "a bright June day in the north")
	assert.Less(t, Thirst(Day{Mean: 15, Sun: sun(0)}, 61, 170), june/1.7)
	assert.Less(t, Thirst(Day{Mean: 2}, 61, 15), 0.2)
	assert.Zero(t, Thirst(Day{Mean: -5}, 61, 15))
	_, light := Sky(61, 172)
	assert.InDelta(t, 18.8, light, 0.4)
	_, light = Sky(0, 80)
	assert.InDelta(t, 12, light, 0.05)
	assert.InDelta(t, Climate{Latitude: 44}.Normal(200), Climate{Latitude: -44}.Normal(200-183+365), 0.1, "the south is half a year off")
}

func TestOrdinaryWeatherChangesNothing(t *testing.T) {
	days := map[int]Day{}
	for n := 100; n < 160; n++ {
		days[n] = Day{Rain: 4, Mean: north.Normal(n)}
	}
	k := Reckon(days, 100, 159, north, 0, func(n int) int { return n })
	assert.InDelta(t, 1, k.Growth(Cool, 150), 0.12)
	assert.Equal(t, 1.0, k.Growth(Cool, 50), "before any record")
	days[155] = Day{Mean: -2}
	cold := Reckon(days, 100, 159, north, 0, func(n int) int { return n })
	assert.Less(t, cold.Growth(Cool, 156), k.Growth(Cool, 156))
	assert.InDelta(t, 1, cold.Growth(Cool, 240), 0.01, "what is known of today fades")
	sum, known := k.DegreeDays(150, 155, 0)
	assert.True(t, known)
	assert.Positive(t, sum)
	_, known = k.DegreeDays(150, 170, 0)
	assert.False(t, known, "nobody knows the weather of days to come")
	for _, day := range []int{120, 156, 159, 165} {
		f := cold.GrowthFigure(Cool, day)
		assert.InDelta(t, cold.Growth(Cool, day), f.Value, 1e-12, "the working comes to what the plan uses")
	}
	var none *Known
	assert.Equal(t, 1.0, none.GrowthFigure(Cool, 150).Value)
	delete(days, 153)
	gap := Reckon(days, 100, 159, north, 0, func(n int) int { return n })
	_, known = gap.DegreeDays(150, 155, 0)
	assert.False(t, known)
}

func TestImpossibleWeatherIsRefused(t *testing.T) {
	require.NoError(t, Day{Rain: 12, Mean: 11}.Check())
	assert.ErrorContains(t, Day{Rain: -1}.Check(), "600 mm")
	assert.Error(t, Day{Mean: 80}.Check())
	assert.Error(t, Day{Mean: 10, Most: sun(5)}.Check())
	assert.Error(t, Day{Sun: sun(25)}.Check())
}

// A day that nobody wrote down is an ordinary one, not a dry one.
func TestDaysWithoutARecordFadeToOrdinary(t *testing.T) {
	drought := map[int]Day{}
	for n := range 40 {
		drought[n] = Day{Mean: 18}
	}
	june := func(n int) int { return 150 + n }
	after := func(days int, rain map[int]float64) Reckoned {
		list := map[int]Day{}
		for n, d := range drought {
			list[n] = d
		}
		for n, mm := range rain {
			list[n] = Day{Rain: mm, Mean: 18}
		}
		list[40+days] = Day{Mean: 15}
		k := Reckon(list, 0, 40+days, north, 90, june)
		return k.Days[40+days-1]
	}
	parched := Reckon(drought, 0, 39, north, 90, june).Days[39]
	require.Less(t, parched.Moisture, 0.3)
	assert.Less(t, after(3, nil).Moisture, 0.6, "three days do not end a drought")
	assert.Greater(t, after(3, nil).Moisture, parched.Moisture, "and do not deepen it, since nobody looked")
	assert.Greater(t, after(42, nil).Moisture, 0.9, "after six weeks without a record the soil is as it usually is")
	wet := map[int]Day{}
	for n := range 20 {
		wet[n] = Day{Rain: 30, Mean: 8}
	}
	wet[60] = Day{Mean: 12}
	assert.Less(t, Reckon(wet, 0, 60, north, 90, june).Days[59].Soil.Over, 1.0, "nor does it stay wet")
}
