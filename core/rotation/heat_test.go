package rotation

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"fjell/core/grazing"
	"fjell/core/reference"
	"fjell/core/weather"
)

// While it is hot and dry more is left and a short sward is not entered, in the plan as in the problem that goes out.
func TestHeatByTheWeatherLeavesMore(t *testing.T) {
	to := start.AddDate(0, 0, 28).Truncate(24 * time.Hour)
	ley, err := reference.Load().Sward("ryegrass_white_clover")
	require.NoError(t, err)
	school, err := grazing.FindSchool(grazing.LeafResidual)
	require.NoError(t, err)
	school.Taller = &grazing.Taller{ByWeather: true, By: 2}
	limits, err := school.On(ley)
	require.NoError(t, err)

	f := farmOf(14, 2)
	for p := range f.Paddocks {
		f.Paddocks[p].Grass = weather.Cool
	}
	cows := mobOn(f, "cows", 420, 13, everywhere)
	for p := range cows.Limits {
		cows.Limits[p] = limits
	}
	first := DayNumber(start, time.UTC)
	heat := map[weather.Grass]Daily{weather.Cool: {First: first, Values: append(make([]float64, 10), 1, 1, 1, 1, 1, 1, 1, 0)}} // from the 11th day for a week
	hot := func(at time.Time) bool { n := DayNumber(at, time.UTC) - first; return n >= 10 && n < 17 }
	f.Heat = heat
	n := 0
	for _, v := range Schedule(f, []Mob{cows}, wedge(f), nil, start, to).Visits {
		want := limits.At(v.Leave, hot(v.Leave)).Residual
		assert.InDelta(t, want, v.Limits.Residual, 1e-9, "%v", v.Leave)
		if hot(v.Leave) {
			n++
		}
	}
	assert.Greater(t, n, 1)
	p := ProblemOf(f, []Mob{cows}, wedge(f), nil, start, to)
	require.Len(t, p.Mobs[0].LimitsByPaddock["P3"].Times, 1)
	times := p.Mobs[0].LimitsByPaddock["P3"].Times[0]
	assert.Equal(t, []float64{10, 17}, []float64{times.From, times.Until})
	assert.Greater(t, times.Residual, p.Mobs[0].LimitsByPaddock["P3"].Residual)
}
