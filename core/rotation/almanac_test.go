package rotation

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"fjell/core/forage"
	"fjell/core/weather"
)

// everyDay puts a figure on each day of the years around the start.
func everyDay(figure func(day time.Time) float64) Daily {
	d := Daily{First: DayNumber(start, time.UTC) - 400}
	for n := range 1600 {
		d.Values = append(d.Values, figure(time.Unix(int64(d.First+n)*86400, 0).UTC()))
	}
	return d
}

func TestADayOutsideTakesTheNearest(t *testing.T) {
	d := Daily{First: 100, Values: []float64{1, 2, 3}}
	for day, want := range map[int]float64{99: 1, 100: 1, 101: 2, 102: 3, 500: 3} {
		assert.Equal(t, want, d.On(day), day)
	}
	assert.Zero(t, Daily{}.On(3))
	assert.Equal(t, 7.0, Steady(7).On(-40))
	kiritimati := time.FixedZone("far east", 14*3600)
	assert.Equal(t, 1, DayNumber(time.Date(1970, 1, 1, 11, 0, 0, 0, time.UTC), kiritimati), "the place's own day")
	assert.Equal(t, -1, DayNumber(time.Date(1969, 12, 31, 23, 59, 0, 0, time.UTC), time.UTC))
}

// Walking the days one by one with the growth curve must come to the same day as the sums of the almanac.
func TestDaysToIsWhatWalkingTheDaysComesTo(t *testing.T) {
	oslo, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	rapid.Check(t, func(t *rapid.T) {
		f := farmOf(1, 1)
		f.Location = oslo
		for m := range f.Paddocks[0].Curve {
			f.Paddocks[0].Curve[m] = rapid.Float64Range(0, 1.6).Draw(t, "month")
		}
		dry := rapid.Float64Range(0.2, 1.2).Draw(t, "weather")
		f.Weather = map[weather.Grass]Daily{"": everyDay(func(day time.Time) float64 { return dry + 0.1*float64(day.YearDay()%3) })}
		factor := rapid.Float64Range(0.4, 2).Draw(t, "factor")
		mass := rapid.Float64Range(300, 4000).Draw(t, "mass")
		target := rapid.Float64Range(400, 5500).Draw(t, "target")
		from := start.Truncate(time.Hour).Add(time.Duration(rapid.IntRange(0, 8000).Draw(t, "hours")) * time.Hour) // whole hours end with the days
		got := f.DaysTo(0, Standing{Mass: mass, Factor: factor}, target, from)

		a := newAlmanac(f, nil, from, from.AddDate(0, 0, horizonDays))
		pad := f.Paddocks[0]
		at, stands := from, mass
		for stands < target && daysBetween(from, at) < horizonDays {
			step := at.Add(time.Hour)
			stands = forage.Grow(stands, pad.Peak*factor*a.share[0][a.day(at)], pad.Ceiling, 1.0/24)
			at = step
		}
		if walked := daysBetween(from, at); stands < target {
			assert.True(t, math.IsInf(got, 1) || got > horizonDays-1, "never, and %g days", got)
		} else {
			assert.InDelta(t, walked, got, 1.01/24)
		}
	})
}

func TestAnAlmanacKnowsItsDays(t *testing.T) {
	oslo, err := time.LoadLocation("Europe/Oslo")
	require.NoError(t, err)
	f := farmOf(2, 1)
	f.Location = oslo
	mob := mobOn(f, "cows", 0, Nowhere, everywhere)
	mob.Demand = everyDay(func(day time.Time) float64 { return float64(day.YearDay()) })
	from := time.Date(2026, 3, 27, 22, 30, 0, 0, time.UTC) // half past eleven at night on the 27th; clocks go forward on the 29th
	a := newAlmanac(f, []Mob{mob}, from, from.AddDate(0, 0, 5))
	for h := range 5 * 24 {
		at := from.Add(time.Duration(h) * time.Hour)
		assert.Equal(t, float64(at.In(oslo).YearDay()), a.demand[0][a.day(at)], at.In(oslo))
	}
	assert.Equal(t, 23.0/24, daysBetween(a.midnights[2], a.midnights[3]), "a day of 23 hours")
	assert.Zero(t, a.day(from.AddDate(0, 0, -9)), "before it: the first day")
	assert.Equal(t, len(a.midnights)-2, a.day(from.AddDate(1, 0, 0)), "after it: the last")
	g := f.WithAlmanac([]Mob{mob}, from, from.AddDate(0, 0, 5))
	assert.InDelta(t, f.DaysTo(1, Standing{Mass: 1500}, 2600, from), g.DaysTo(1, Standing{Mass: 1500}, 2600, from), 1e-9, "it changes nothing but the time it takes")
	slow, _ := f.GrowthOn(1, Standing{Mass: 1500}, from)
	fast, _ := g.GrowthOn(1, Standing{Mass: 1500}, from)
	assert.InDelta(t, slow, fast, 1e-9)
}

// No paddock bears on another once it is known who stood in it when.
func TestAPaddockIsRecountedByItself(t *testing.T) {
	f := farmOf(3, 2)
	mobs := []Mob{mobOn(f, "cows", 700, Nowhere, everywhere)}
	day := func(d int) time.Time { return start.AddDate(0, 0, d) }
	guesses := []Standing{Guess(leys, 5000), Guess(leys, 5000), Guess(leys, 5000)}
	stays := []Stay{{0, 0, day(1), day(3)}, {0, 1, day(3), day(6)}, {0, 0, day(6), day(8)}, {0, 2, day(8), time.Time{}}}
	measured := []Measured{{Paddock: 0, At: day(0), Mass: 2600, HalfWidth: 200, Shared: 100}, {Paddock: 1, At: day(0).Add(time.Hour), Mass: 2200, HalfWidth: 200, Shared: 100},
		{Paddock: 2, At: day(2).Add(7 * time.Hour), Mass: 2400, HalfWidth: 200, Shared: 100}, {Paddock: 1, At: day(9), Mass: 1400, HalfWidth: 200, Shared: 100}}
	all := Recount(f, mobs, guesses, stays, measured, day(0), day(10))
	for p := range f.Paddocks {
		var own []Measured
		for _, m := range measured {
			if m.Paddock == p {
				own = append(own, m)
			}
		}
		alone := Recount(f, mobs, guesses, stays, own, day(0), day(10))
		assert.Equal(t, all.Standing[p], alone.Standing[p])
		assert.Equal(t, all.Trace[p], alone.Trace[p])
		assert.Equal(t, all.Bites[p], alone.Bites[p])
	}
	open := append([]Stay(nil), stays...)
	open[0].Leave = time.Time{} // nobody wrote down that they left; they were elsewhere from the next stay on
	assert.Equal(t, all.Mass, Recount(f, mobs, guesses, open, measured, day(0), day(10)).Mass, "a mob stands in one paddock")
}
