// Package weather turns daily rain, temperature and sun into what they do to grass: the water in the soil, how warm the
// growth is, how many leaves have come, and whether the ground is too wet for hooves.
package weather

import (
	"math"

	"fjell/core/quantity"
	"fjell/core/working"
)

// Day is one day's weather. Least, Most and Sun may be left out.
type Day struct {
	Rain  float64  // mm
	Mean  float64  // °C
	Least *float64 // °C
	Most  *float64 // °C
	Sun   *float64 // hours of sunshine
}

// Check refuses a day that cannot have been.
func (d Day) Check() error {
	if d.Rain < 0 || d.Rain > 600 || math.IsNaN(d.Rain) {
		return quantity.Refuse("rain_mm", d.Rain, "rain of a day lies between 0 and 600 mm")
	}
	if d.Mean < -60 || d.Mean > 55 || math.IsNaN(d.Mean) {
		return quantity.Refuse("mean_temperature_c", d.Mean, "a day's mean lies between −60 and 55 °C")
	}
	if d.Least != nil && *d.Least > d.Mean || d.Most != nil && *d.Most < d.Mean {
		return quantity.Refuse("mean_temperature_c", d.Mean, "the mean lies between the lowest and the highest of the day")
	}
	if d.Sun != nil && (*d.Sun < 0 || *d.Sun > 24) {
		return quantity.Refuse("sun_hours", *d.Sun, "a day has 0 to 24 hours of sun")
	}
	return nil
}

// Sky is radiation above the air, MJ/m² a day, and hours of daylight, by latitude and day of the year (the usual
// astronomical formulas of agricultural meteorology).
func Sky(latitude float64, dayOfYear int) (radiation, daylight float64) {
	phi := latitude * math.Pi / 180
	j := 2 * math.Pi * float64(dayOfYear) / 365
	distance := 1 + 0.033*math.Cos(j)
	declination := 0.409 * math.Sin(j-1.39)
	sunset := math.Acos(math.Max(-1, math.Min(1, -math.Tan(phi)*math.Tan(declination))))
	radiation = 37.6 * distance * (sunset*math.Sin(phi)*math.Sin(declination) + math.Cos(phi)*math.Cos(declination)*math.Sin(sunset))
	return math.Max(0, radiation), 24 / math.Pi * sunset
}

// usualSun is the share of daylight with sun where nobody measured it.
const usualSun = 0.4

// Thirst is what a full sward gives to the air on a day, mm: Turc's formula, which needs no wind and no humidity and
// suits moist climates; in dry wind it reads low.
func Thirst(d Day, latitude float64, dayOfYear int) float64 {
	if d.Mean <= 0 {
		return 0
	}
	above, daylight := Sky(latitude, dayOfYear)
	share := usualSun
	if d.Sun != nil && daylight > 0 {
		share = math.Min(1, *d.Sun/daylight)
	}
	ground := (0.25 + 0.5*share) * above
	return math.Max(0, 0.31*d.Mean/(d.Mean+15)*(ground+2.09))
}

// Bucket is the water that roots can reach, in mm.
type Bucket struct {
	Holds float64 // between wilting and field capacity
	Water float64
	Over  float64 // above field capacity, draining
}

// usualHold is what a middling soil holds within reach of grass roots, mm.
const usualHold = 90.0

// NewBucket is a bucket full to field capacity. holds of 0 takes a middling soil.
func NewBucket(holds float64) Bucket {
	if holds <= 0 {
		holds = usualHold
	}
	return Bucket{Holds: holds, Water: holds}
}

// drains is what is left, after a day, of water over field capacity.
const drains = 0.5

// Pass lets a day's rain in and a day's thirst out: roots take all they want while more than half is there, and less in
// proportion below. What is over field capacity drains by half a day.
func (b *Bucket) Pass(rain, thirst float64) {
	b.Over *= drains
	b.Water -= thirst * b.Moisture()
	b.Water += rain
	if b.Water > b.Holds {
		b.Over += b.Water - b.Holds
		b.Water = b.Holds
	}
	b.Water = math.Max(0, b.Water)
}

// Fade takes the bucket a day back towards what it usually holds where nobody looked: half of it, and nothing over.
func (b *Bucket) Fade() {
	b.Water += (b.Holds/2 - b.Water) / fade
	b.Over *= drains
}

// Moisture is the share of growth that the water in the soil lets through, 0…1: all of it while the bucket is more
// than half full, less in proportion below.
func (b Bucket) Moisture() float64 { return math.Min(1, b.Water/(0.5*b.Holds)) }

// tooWet is how much water over field capacity, mm, makes hooves cut in.
const tooWet = 6.0

// TooWet tells whether hooves would cut in. Low wet ground is so earlier, dry ground later.
func (b Bucket) TooWet(wetness string) bool {
	limit := tooWet
	switch wetness {
	case "wet":
		limit /= 3
	case "dry":
		limit *= 3
	}
	return b.Over > limit
}

// Known is the weather of successive days from a first one on, with what it did.
type Known struct {
	First int // day number of the first
	Days  []Reckoned
	soil  []float64 // moisture of the days after the last, see aheadDays

	normal func(number int) float64 // °C, of an ordinary year
}

// Reckoned is a day with the soil and the warmth after it.
type Reckoned struct {
	Day
	Number   int // days since 1 January 1970
	Thirst   float64
	Soil     Bucket
	Moisture float64
	Week     float64 // °C, mean of the week
	Normal   float64 // °C, of an ordinary year
	Filled   bool    // nobody wrote this day down: no rain, ordinary warmth
}

// Warmth is how the week's warmth bears on a kind of grass, against an ordinary year's.
func (r Reckoned) Warmth(kind Grass) float64 { return Departure(kind, r.Week, r.Normal) }

// Growth is moisture times warmth.
func (r Reckoned) Growth(kind Grass) float64 { return r.Moisture * r.Warmth(kind) }

// Reckon carries the bucket through days, given by number since 1970. A day that is missing is one nobody looked at: it brings
// what it takes, the soil goes back towards the ordinary, it is of ordinary warmth, and it is marked. dayOfYear turns a number into a day of the year.
func Reckon(days map[int]Day, first, last int, place Climate, holds float64, dayOfYear func(int) int) Known {
	k := Known{First: first, normal: func(n int) float64 { return place.Normal(dayOfYear(n)) }}
	soil := NewBucket(holds)
	var week []float64
	for n := first; n <= last; n++ {
		d, ok := days[n]
		doy := dayOfYear(n)
		normal := k.normal(n)
		if !ok {
			d = Day{Mean: normal}
		}
		r := Reckoned{Day: d, Number: n, Thirst: Thirst(d, place.Latitude, doy), Filled: !ok}
		if ok {
			soil.Pass(d.Rain, r.Thirst)
		} else {
			soil.Fade()
		}
		if week = append(week, d.Mean); len(week) > 7 {
			week = week[1:]
		}
		mean := 0.0
		for _, t := range week {
			mean += t / float64(len(week))
		}
		r.Soil, r.Moisture, r.Week, r.Normal = soil, soil.Moisture(), mean, normal
		k.Days = append(k.Days, r)
	}
	// Past the last day the soil stays as it is until rain: of the rain to come, what an ordinary day takes is expected.
	for n := last + 1; n <= last+aheadDays && soil.Moisture() < 1; n++ {
		doy := dayOfYear(n)
		usual := Thirst(Day{Mean: k.normal(n)}, place.Latitude, doy)
		soil.Pass(math.Max(usual, leastRain), usual)
		k.soil = append(k.soil, soil.Moisture())
	}
	return k
}

// leastRain is what is expected of a day at least, mm, also when the air takes less: winters fill soils. Assumption, ours.
const leastRain = 1.0

// aheadDays is how far past the last day on record the soil is followed.
const aheadDays = 300

// moisture is the share of growth that the soil lets through on a day after the last one on record.
func (k *Known) moisture(since int) float64 {
	if since <= len(k.soil) {
		return k.soil[since-1]
	}
	if n := len(k.soil); n > 0 {
		return k.soil[n-1]
	}
	return k.Days[len(k.Days)-1].Moisture
}

// fade is how many days what is known of soil and warmth goes on to matter where nobody looked: assumption, ours.
const fade = 14.0

// Growth is moisture times warmth on a day, for a kind of grass. Past the last day on record the soil takes in the rain of ordinary
// days, and warmth goes back to the ordinary, by half in about ten days; before the first both are 1.
func (k *Known) Growth(kind Grass, number int) float64 {
	if k == nil || len(k.Days) == 0 || number < k.First {
		return 1
	}
	if i := number - k.First; i < len(k.Days) {
		return k.Days[i].Growth(kind)
	}
	last := k.Days[len(k.Days)-1]
	since := number - last.Number
	return k.moisture(since) * (1 + (last.Warmth(kind)-1)*math.Exp(-float64(since)/fade))
}

// tooDry is the share of growth that the soil still lets through, below which a day counts as dry: assumption, ours.
const tooDry = 0.5

// HotAndDry tells whether the week up to a day is as warm as a kind of grass grows best at, or warmer, with less water in the soil than half of
// what lets it: leaf that is left short then stands still. Past the last day on record both go on as in Growth; before the first none is.
func (k *Known) HotAndDry(kind Grass, number int) bool {
	if k == nil || len(k.Days) == 0 || number < k.First {
		return false
	}
	best := cardinals[Cool].to
	if c, ok := cardinals[kind]; ok {
		best = c.to
	}
	if i := number - k.First; i < len(k.Days) {
		return k.Days[i].Week >= best && k.Days[i].Moisture < tooDry
	}
	since := number - k.Days[len(k.Days)-1].Number
	return k.week(number) >= best && k.moisture(since) < tooDry
}

// week is the mean temperature, °C, that is expected of a day past the last one on record: that of an ordinary year then, and what is left of
// what the last week departs from it.
func (k *Known) week(number int) float64 {
	last := k.Days[len(k.Days)-1]
	return k.normal(number) + (last.Week-last.Normal)*math.Exp(-float64(number-last.Number)/fade)
}

// Freezing tells whether standing water is frozen on a day: its mean is at zero or below, on record or as it is expected.
// Before the first day on record it is not known, and not said.
func (k *Known) Freezing(number int) bool {
	if k == nil || len(k.Days) == 0 || number < k.First {
		return false
	}
	if i := number - k.First; i < len(k.Days) {
		return k.Days[i].Mean <= 0
	}
	if last := k.Days[len(k.Days)-1]; number == last.Number+1 && !last.Filled {
		return last.Mean <= 0 // tomorrow is as today
	}
	return k.week(number) <= 0
}

// TooWet tells whether hooves would cut in on a day. Past the last one on record the water drains, and ordinary rain brings no more than what
// the air takes.
func (k *Known) TooWet(wetness string, number int) bool {
	if k == nil || len(k.Days) == 0 || number < k.First {
		return false
	}
	i := number - k.First
	if i < len(k.Days) {
		return k.Days[i].Soil.TooWet(wetness)
	}
	soil := k.Days[len(k.Days)-1].Soil
	soil.Over *= math.Pow(drains, float64(number-k.Days[len(k.Days)-1].Number))
	return soil.TooWet(wetness)
}

// GrowthFigure is Growth on a day with its working.
func (k *Known) GrowthFigure(kind Grass, number int) working.Figure {
	if k == nil || len(k.Days) == 0 {
		return working.Of("no weather on record", working.New("Growth, of an ordinary year's", "1", 1, quantity.Share))
	}
	d := k.Days[max(0, min(number-k.First, len(k.Days)-1))]
	moisture, warmth := d.Moisture, d.Warmth(kind)
	steps := []working.Step{
		working.New("Moisture, at most all", "W ÷ ( C ÷ 2 )", d.Moisture, quantity.Share, working.T("W", "water within reach of roots", d.Soil.Water, quantity.Millimetre),
			working.T("C", "what the soil holds", d.Soil.Holds, quantity.Millimetre)),
		working.New("Warmth of the week, against the season's ordinary", "w", warmth, quantity.Share, working.T("w", "from a third to one and a half", warmth, quantity.Share)),
	}
	if since := number - d.Number; since > 0 {
		left := math.Exp(-float64(since) / fade)
		moisture = k.moisture(since)
		steps = append(steps, working.New("Moisture since, with ordinary rain", "m", moisture, quantity.Share, working.T("m", "days after the last on record", moisture, quantity.Share)),
			working.New("Warmth since, going back to the ordinary", "1 + ( w − 1 ) × f", 1+(warmth-1)*left, quantity.Share, working.T("w", "warmth on the last day", warmth, quantity.Share),
				working.T("f", "what is left of it", left, quantity.Share)))
		warmth = 1 + (warmth-1)*left
	}
	steps = append(steps, working.New("Growth, of an ordinary year's", "m × w", moisture*warmth, quantity.Share, working.T("m", "moisture", moisture, quantity.Share),
		working.T("w", "warmth", warmth, quantity.Share)))
	return working.Of("rain, temperature and sun as they are on record", steps...)
}

// DegreeDays is the warmth above a base since a day, up to and with another; known tells whether every day was on
// record.
func (k *Known) DegreeDays(since, until int, base float64) (sum float64, known bool) {
	if k == nil || len(k.Days) == 0 || since < k.First || until >= k.First+len(k.Days) {
		return 0, false
	}
	known = true
	for n := since + 1; n <= until; n++ {
		d := k.Days[n-k.First]
		known = known && !d.Filled
		sum += math.Max(0, d.Mean-base)
	}
	return sum, known
}

// Leaves is how many new leaves a tiller has put out between two days, by the warmth above a base and the degree-days a leaf
// takes; nil where a day between is not on record.
func (k *Known) Leaves(since, until int, base, phyllochron float64) *float64 {
	sum, known := k.DegreeDays(since, until, base)
	if !known || phyllochron <= 0 {
		return nil
	}
	leaves := sum / phyllochron
	return &leaves
}
