package rotation

import (
	"math"
	"time"

	"fjell/core/forage"
)

// Feed is how long what stands in a paddock lasts those who graze it.
type Feed struct {
	Until            time.Time // it is down to the residual, as far as that can be known
	Earliest, Latest time.Time // with the errors of mass, growth, and what they eat and tread, 95 %
	Beyond           bool      // it lasts longer than is looked ahead
}

// feedAhead is how far ahead feed is followed, days.
const feedAhead = 60

// unlearned is the 95 % half-width of a growth factor that no walk has taught yet.
const unlearned = 0.4

// FeedUntil is when mobs that share a paddock and stay there have eaten it down to the residual: to the first of theirs, where
// they differ.
func FeedUntil(farm Farm, mobs []Mob, p int, s Standing, now time.Time) Feed {
	factor, factorHalf := s.factor(), s.FactorHalf
	if factorHalf == 0 {
		factorHalf = unlearned * factor
	}
	half := s.HalfWidthAt(now, s.Mass)
	alone := farm.only(p)
	var here []Mob
	for _, m := range mobs {
		here = append(here, Mob{Limits: m.Limits[p : p+1], Demand: m.Demand})
	}
	residual := func(at time.Time) float64 {
		most := 0.0
		for _, m := range here {
			most = math.Max(most, alone.Asks(m, 0, at).Residual)
		}
		return most
	}
	season := newAlmanac(alone, here, now, now.AddDate(0, 0, feedAhead+1))
	lasts := func(mass, factor, appetite float64) float64 { // hours
		days := *season
		days.demand = make([][]float64, len(season.demand))
		for m, list := range season.demand {
			for _, kg := range list {
				days.demand[m] = append(days.demand[m], kg*appetite)
			}
		}
		r := newRunner(alone, here, []Standing{{Mass: mass, Factor: factor}}, &days, now)
		for m := range here {
			r.enter(m, 0)
		}
		hours := 0
		for ; hours < feedAhead*24 && r.mass[0] > residual(r.now); hours++ {
			r.advance(r.now.Add(time.Hour))
			r.settle(0)
		}
		return float64(hours)
	}
	const appetite = 1.96 * forage.IntakeError
	most := lasts(s.Mass, factor, 1)
	early := math.Hypot(math.Hypot(most-lasts(math.Max(1, s.Mass-half), factor, 1), most-lasts(s.Mass, math.Max(0.01, factor-factorHalf), 1)), most-lasts(s.Mass, factor, 1+appetite))
	late := math.Hypot(math.Hypot(lasts(s.Mass+half, factor, 1)-most, lasts(s.Mass, factor+factorHalf, 1)-most), lasts(s.Mass, factor, 1-appetite)-most)
	at := func(hours float64) time.Time {
		return now.Add(time.Duration(math.Max(0, hours) * float64(time.Hour))).Round(time.Minute)
	}
	return Feed{Until: at(most), Earliest: at(most - early), Latest: at(most + late), Beyond: most >= feedAhead*24}
}
