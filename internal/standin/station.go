package standin

import (
	"math"
	"math/rand/v2"
	"time"

	"fjell/core/weather"
)

// Station is a weather station that is not there: from a seed it makes the weather of a place, day after day, the same
// each time. Rain comes in wet and dry spells (a chain of two states), warmth follows the year with spells of its own,
// and there is less sun and less swing on wet days.
func Station(seed int64, place weather.Climate, from time.Time, days int) []weather.Day {
	rng := rand.New(rand.NewPCG(uint64(seed), 2))
	var out []weather.Day
	wet, spell := false, 0.0
	for d := range days {
		at := from.AddDate(0, 0, d)
		// A wet day follows a wet one more often than a dry one.
		chance := 0.26
		if wet {
			chance = 0.60
		}
		wet = rng.Float64() < chance
		spell = 0.8*spell + 1.6*rng.NormFloat64()
		var day weather.Day
		swing := 4.5
		_, daylight := weather.Sky(place.Latitude, at.YearDay())
		share := 0.35 + 0.5*rng.Float64()
		if wet {
			day.Rain = math.Round(-math.Log(1-rng.Float64())*5.2*10) / 10
			share *= 0.35
			swing = 2.5
		}
		mean := place.Normal(at.YearDay()) + spell
		if wet {
			mean -= 0.8
		}
		round := func(v float64) float64 { return math.Round(v*10) / 10 }
		day.Mean = round(mean)
		least, most, sun := round(mean-swing-rng.Float64()), round(mean+swing+rng.Float64()), round(share*daylight)
		day.Least, day.Most, day.Sun = &least, &most, &sun
		out = append(out, day)
	}
	return out
}
