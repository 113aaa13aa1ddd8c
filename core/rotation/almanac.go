package rotation

import (
	"math"
	"sort"
	"time"

	"fjell/core/forage"
)

// almanac is what every day of a stretch brings to a farm, read once: the share of its peak at which each curve grows,
// with the weather, and what every mob eats. Days begin at midnight at the farm.
type almanac struct {
	midnights []time.Time // where each day begins, and where the last one ends
	curve     []int       // of each paddock
	share     [][]float64 // of the peak, by curve and day
	sum       [][]float64 // of share × days before each midnight, by curve
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
	weather := make([]float64, days)
	noon, number := make([]time.Time, days), make([]int, days)
	for d := range days {
		weather[d] = 1
		begin := a.midnights[d].In(farm.Location)
		noon[d] = time.Date(begin.Year(), begin.Month(), begin.Day(), 12, 0, 0, 0, farm.Location)
		if number[d] = DayNumber(noon[d], farm.Location); len(farm.Weather.Values) > 0 {
			weather[d] = farm.Weather.On(number[d])
		}
	}
	seen := map[forage.Curve]int{}
	for i, p := range farm.Paddocks {
		k, ok := seen[p.Curve]
		if !ok {
			k = len(a.share)
			seen[p.Curve] = k
			share, sum := make([]float64, days), make([]float64, days+1)
			for d := range days {
				share[d] = p.Curve.At(noon[d], farm.Southern) * weather[d]
				sum[d+1] = sum[d] + share[d]*daysBetween(a.midnights[d], a.midnights[d+1])
			}
			a.share, a.sum = append(a.share, share), append(a.sum, sum)
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

func daysBetween(from, until time.Time) float64 { return until.Sub(from).Hours() / 24 }

func midnightBefore(t time.Time, loc *time.Location) time.Time {
	l := t.In(loc)
	return time.Date(l.Year(), l.Month(), l.Day(), 0, 0, 0, 0, loc)
}

func midnightAfter(t time.Time, loc *time.Location) time.Time {
	l := t.In(loc)
	return time.Date(l.Year(), l.Month(), l.Day()+1, 0, 0, 0, 0, loc)
}
