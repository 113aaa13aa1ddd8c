package standin

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"fjell/core/weather"
)

func TestStationMakesWeatherThatCouldBe(t *testing.T) {
	from := time.Date(2025, 1, 1, 0, 0, 0, 0, time.UTC)
	const years = 6
	place := weather.Climate{Latitude: 58}
	days := Station(7, place, from, 365*years)
	assert.Equal(t, days[:40], Station(7, place, from, 40), "the same seed, the same weather")
	assert.NotEqual(t, days[:40], Station(8, place, from, 40))
	wet, after, wetAfterWet := 0, 0, 0
	rain, july, january := 0.0, 0.0, 0.0
	for i, d := range days {
		assert.NoError(t, d.Check())
		rain += d.Rain
		if d.Rain > 0 {
			wet++
		}
		if i > 0 && days[i-1].Rain > 0 {
			after++
			if d.Rain > 0 {
				wetAfterWet++
			}
		}
		switch at := from.AddDate(0, 0, i); at.Month() {
		case time.July:
			july += d.Mean / 31 / years
		case time.January:
			january += d.Mean / 31 / years
		}
	}
	share := float64(wet) / float64(len(days))
	assert.InDelta(t, 0.39, share, 0.04)
	assert.Greater(t, float64(wetAfterWet)/float64(after), share+0.1, "rain comes in spells")
	assert.InDelta(t, 740, rain/years, 150, "mm a year")
	assert.Greater(t, july, january+12)
	assert.InDelta(t, place.Normal(196), july, 2)
}
