package rotation

import (
	"math"
	"sort"
	"time"

	"fjell/core/forage"
	"fjell/core/weather"
)

// almanac is what every day of a stretch brings to a farm, read once: the share of its peak at which each curve grows,
// with the weather, and what every mob eats. Days begin at midnight at the farm.
type almanac struct {
	midnights []time.Time // where each day begins, and where the last one ends
	curve     []int       // of each paddock: which season it grows by
	share     [][]float64 // of the peak, by season and day
	sum       [][]float64 // of share × days before each midnight, by season
	dying     [][]float64 // share of standing mass a day, by season and day; nil: nothing dies
	demand    [][]float64 // kg DM, by mob and day
}

// horizonDays is how far ahead a paddock is watched growing.
const horizonDays = 300

func newAlmanac(farm Farm, mobs []Mob, from, until time.Time) *almanac {
	a := &almanac{curve: make([]int, len(farm.Paddocks))}
	for at := midnightBefore(from, farm.Location); ; at = midnightAfter(at, farm.Location) {
		a.midnights = append(a.midnights, at)
		if at.After(until) {
			break
		}
	}
	days := len(a.midnights) - 1
	noon, number := make([]time.Time, days), make([]int, days)
	for d := range days {
		begin := a.midnights[d].In(farm.Location)
		noon[d] = time.Date(begin.Year(), begin.Month(), begin.Day(), 12, 0, 0, 0, farm.Location)
		number[d] = DayNumber(noon[d], farm.Location)
	}
	type season struct {
		curve forage.Curve
		grass weather.Grass
		loss  float64
	}
	seen := map[season]int{}
	for i, p := range farm.Paddocks {
		by := season{p.Curve, p.Grass, p.Loss}
		k, ok := seen[by]
		if !ok {
			k = len(a.share)
			seen[by] = k
			known, has := farm.Weather[p.Grass]
			share, sum := make([]float64, days), make([]float64, days+1)
			var dying []float64
			for d := range days {
				if share[d] = p.Curve.At(noon[d], farm.Southern); has {
					share[d] *= known.On(number[d])
				}
				sum[d+1] = sum[d] + share[d]*daysBetween(a.midnights[d], a.midnights[d+1])
				if gone := forage.Dying(p.Loss, share[d]); gone > 0 {
					if dying == nil {
						dying = make([]float64, days)
					}
					dying[d] = gone
				}
			}
			a.share, a.sum, a.dying = append(a.share, share), append(a.sum, sum), append(a.dying, dying)
		}
		a.curve[i] = k
	}
	for _, m := range mobs {
		demand := make([]float64, days)
		for d := range days {
			demand[d] = m.Demand.On(number[d])
		}
		a.demand = append(a.demand, demand)
	}
	return a
}

// WithAlmanac is the farm with what every day of a stretch brings read once and for all, for whoever asks about many
// paddocks. It holds for these mobs and this weather.
func (f Farm) WithAlmanac(mobs []Mob, from, until time.Time) Farm {
	f.almanac = newAlmanac(f, mobs, from, until.AddDate(0, 0, horizonDays+1))
	return f
}

// WithMobs is the farm with its almanac read for mobs that eat otherwise than those it was read for.
func (f Farm) WithMobs(mobs []Mob) Farm {
	if f.almanac == nil || len(f.almanac.curve) != len(f.Paddocks) {
		f.almanac = nil
		return f
	}
	a := *f.almanac
	a.demand = nil
	for _, m := range mobs {
		demand := make([]float64, len(a.midnights)-1)
		first := DayNumber(a.midnights[0], f.Location)
		for d := range demand {
			demand[d] = m.Demand.On(first + d)
		}
		a.demand = append(a.demand, demand)
	}
	f.almanac = &a
	return f
}

// days is the farm's almanac if it has one that covers a stretch and these mobs, or one made for the purpose.
func (f Farm) days(mobs []Mob, from, until time.Time) *almanac {
	if a := f.almanac; a != nil && !from.Before(a.midnights[0]) && until.Before(a.midnights[len(a.midnights)-1]) && len(a.demand) >= len(mobs) {
		return a
	}
	return newAlmanac(f, mobs, from, until)
}

// day is the number of the day a moment lies in; what lies outside is the first or the last.
func (a *almanac) day(at time.Time) int {
	last := len(a.midnights) - 2
	d := min(max(int(at.Sub(a.midnights[0]).Hours()/24), 0), last)
	for d < last && !at.Before(a.midnights[d+1]) {
		d++
	}
	for d > 0 && at.Before(a.midnights[d]) {
		d--
	}
	return d
}

// dyingOn is the share of standing mass that a day takes in a season.
func (a *almanac) dyingOn(c, day int) float64 {
	if a.dying[c] == nil {
		return 0
	}
	return a.dying[c][day]
}

// shareDays is the share of the peak, summed over the days up to a moment.
func (a *almanac) shareDays(curve int, at time.Time) float64 {
	d := a.day(at)
	return a.sum[curve][d] + a.share[curve][d]*daysBetween(a.midnights[d], at)
}

// demandOver is what a mob eats between two moments, kg DM.
func (a *almanac) demandOver(mob int, from, until time.Time) float64 {
	sum := 0.0
	for d := a.day(from); d < len(a.midnights)-1 && a.midnights[d].Before(until); d++ {
		begin, end := a.midnights[d], a.midnights[d+1]
		if begin.Before(from) {
			begin = from
		}
		if end.After(until) {
			end = until
		}
		sum += a.demand[mob][d] * daysBetween(begin, end)
	}
	return sum
}

// daysTo is the days from a moment until a paddock left alone grows from one mass to another through the season; +Inf
// when it does not within three hundred days. Growth by the curve is a straight line in the logarithm of M ÷ (K − M),
// as steep as the share of each day, so the day is found in the sums of the shares.
func (a *almanac) daysTo(p int, pad Paddock, factor, mass, target float64, from time.Time) float64 {
	peak := pad.Peak * factor
	switch {
	case mass >= target:
		return 0
	case target >= pad.Ceiling || mass <= 0 || peak <= 0:
		return math.Inf(1)
	}
	c := a.curve[p]
	logit := func(m float64) float64 { return math.Log(m / (pad.Ceiling - m)) }
	goal := a.shareDays(c, from) + (logit(target)-logit(mass))*pad.Ceiling/4/peak
	sum := a.sum[c]
	d := sort.SearchFloat64s(sum, goal) // the first midnight by which it has come
	if dying := a.dying[c]; dying != nil {
		first := a.day(from)
		for k := first; k < min(d, len(dying)); k++ {
			if dying[k] > 0 {
				return a.daysDying(c, pad, peak, mass, target, from)
			}
		}
	}
	if d >= len(sum) {
		return math.Inf(1)
	}
	days := daysBetween(from, a.midnights[d])
	if d > 0 && a.share[c][d-1] > 0 {
		days -= (sum[d] - goal) / a.share[c][d-1]
	}
	if days > horizonDays {
		return math.Inf(1)
	}
	return math.Max(0, days)
}

// daysDying is daysTo through days on which what stands dies back: they are gone through one by one, each split where it grows.
func (a *almanac) daysDying(c int, pad Paddock, peak, mass, target float64, from time.Time) float64 {
	for d := a.day(from); d < len(a.share[c]); d++ {
		begin := a.midnights[d]
		if begin.Before(from) {
			begin = from
		}
		step := daysBetween(begin, a.midnights[d+1])
		if days := daysBetween(from, begin) + forage.DaysToReach(mass, target, peak*a.share[c][d], pad.Ceiling); days <= daysBetween(from, a.midnights[d+1]) {
			return math.Max(0, days)
		} else if daysBetween(from, begin) > horizonDays {
			break
		}
		mass, _ = forage.GrowAndDie(mass, peak*a.share[c][d], pad.Ceiling, a.dying[c][d], step)
	}
	return math.Inf(1)
}

func daysBetween(from, until time.Time) float64 { return until.Sub(from).Hours() / 24 }

func midnightBefore(t time.Time, loc *time.Location) time.Time {
	l := t.In(loc)
	return time.Date(l.Year(), l.Month(), l.Day(), 0, 0, 0, 0, loc)
}

func midnightAfter(t time.Time, loc *time.Location) time.Time {
	l := t.In(loc)
	return time.Date(l.Year(), l.Month(), l.Day()+1, 0, 0, 0, 0, loc)
}
