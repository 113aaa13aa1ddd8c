package weather

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// daysOf is a record that begins on day 100; a nil is a day that nobody wrote down.
func daysOf(days ...*Day) Known {
	on := map[int]Day{}
	for i, d := range days {
		if d != nil {
			on[100+i] = *d
		}
	}
	return Reckon(on, 100, 100+len(days)-1, Climate{Latitude: 52}, 60, func(n int) int { return 150 + n - 100 })
}

func TestADayTellsWhatItIs(t *testing.T) {
	at := func(d Day) Told {
		k := daysOf(&d)
		told, ok := k.Told(100)
		require.True(t, ok)
		return told
	}
	assert.True(t, at(Day{Rain: 0.5, Mean: 12}).WetLeaf)
	assert.False(t, at(Day{Rain: 0.4, Mean: 12}).WetLeaf)
	assert.True(t, at(Day{Mean: 12, Least: sun(6)}).WetLeaf, "a clear night brings dew")
	assert.False(t, at(Day{Mean: 12, Least: sun(6.1)}).WetLeaf)
	assert.False(t, at(Day{Mean: 4, Least: sun(-3)}).WetLeaf, "what freezes is frost")
	assert.True(t, at(Day{Mean: 4, Least: sun(0)}).Frost)
	assert.False(t, at(Day{Mean: 4, Least: sun(0.1)}).Frost)
	assert.False(t, at(Day{Mean: -2}).Frost, "without a lowest nothing is said of the night")
	assert.Equal(t, 1, at(Day{Mean: 15, Sun: sun(2.9)}).Dull)
	assert.Zero(t, at(Day{Mean: 15.1, Sun: sun(2.9)}).Dull)
	assert.Zero(t, at(Day{Mean: 15, Sun: sun(3)}).Dull)
	assert.Zero(t, at(Day{Mean: 15}).Dull)
}

func TestADayTellsHowLongAgo(t *testing.T) {
	mild, rain, frost := &Day{Mean: 10}, &Day{Mean: 10, Rain: 5}, &Day{Mean: 3, Least: sun(-1)}
	k := daysOf(rain, frost, mild, nil, &Day{Mean: 10, Rain: 4.9})
	told, ok := k.Told(104)
	require.True(t, ok)
	require.NotNil(t, told.SinceFrost)
	require.NotNil(t, told.SinceRain)
	assert.Equal(t, 3, *told.SinceFrost)
	assert.Equal(t, 4, *told.SinceRain, "five millimetres wet the ground, less do not")
	_, ok = k.Told(103)
	assert.False(t, ok, "nobody wrote it down")
	_, ok = k.Told(105)
	assert.False(t, ok)
	_, ok = k.Told(99)
	assert.False(t, ok)
	_, ok = (*Known)(nil).Told(100)
	assert.False(t, ok)
	k = daysOf(mild, mild)
	told, _ = k.Told(101)
	assert.Nil(t, told.SinceFrost)
	assert.Nil(t, told.SinceRain)
}

func TestADroughtIsToldAndItsBreak(t *testing.T) {
	hot := &Day{Mean: 24, Sun: sun(13)}
	var days []*Day
	for range 60 {
		days = append(days, hot)
	}
	k := daysOf(days...)
	told, _ := k.Told(159)
	assert.True(t, told.Stopped)
	assert.Nil(t, told.SinceDrought, "it is not broken yet")
	days = append(days, &Day{Mean: 18, Rain: 50}, &Day{Mean: 18, Rain: 3}, &Day{Mean: 18})
	k = daysOf(days...)
	told, _ = k.Told(160)
	require.NotNil(t, told.SinceDrought)
	assert.Zero(t, *told.SinceDrought, "it rained today")
	told, _ = k.Told(162)
	assert.Equal(t, 2, *told.SinceDrought)
	assert.False(t, told.Stopped)
	k = daysOf(append(days[60:63:63], hot, hot, hot)...)
	told, _ = k.Told(105)
	assert.Nil(t, told.SinceDrought, "a few dry days are no drought")
}
