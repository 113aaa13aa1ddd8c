package weather

import "math"

// Grass is a kind of grass by how warmth acts on it.
type Grass string

// The kinds. Swards of both hold cool-season and warm-season plants side by side.
const (
	Cool     Grass = "cool"
	Warm     Grass = "warm"
	Tropical Grass = "tropical"
	Both     Grass = "both"
)

// Grasses are all kinds.
var Grasses = []Grass{Cool, Warm, Tropical, Both}

// cardinal are the mean temperatures, °C, below which nothing grows, from and to which all of it does, and above which nothing
// does.
type cardinal struct{ base, from, to, top float64 }

// Cardinal temperatures as public physiology gives them, rounded: cool-season grasses begin near 4 °C and are best from 13 to
// 20; warm-season ones of the temperate zone begin near 10 and are best from 24 to 32; tropical ones begin near 14, are best from
// 26 to 34, and chill below. Between kinds of one group they differ by two or three degrees.
var cardinals = map[Grass]cardinal{Cool: {4, 13, 20, 33}, Warm: {10, 24, 32, 42}, Tropical: {14, 26, 34, 44}}

// Warmth is how freely a kind of grass grows at a mean temperature, 0…1. An unknown kind is cool-season grass.
func Warmth(kind Grass, mean float64) float64 {
	if kind == Both {
		return (Warmth(Cool, mean) + Warmth(Warm, mean)) / 2
	}
	c, ok := cardinals[kind]
	if !ok {
		c = cardinals[Cool]
	}
	switch {
	case mean <= c.base || mean >= c.top:
		return 0
	case mean < c.from:
		return (mean - c.base) / (c.from - c.base)
	case mean <= c.to:
		return 1
	}
	return (c.top - mean) / (c.top - c.to)
}

// Departure is growth against an ordinary year's at this season: the growth curve holds the ordinary warmth already, so that
// only the difference counts. It stays between a third and one and a half.
func Departure(kind Grass, mean, normal float64) float64 {
	return math.Min(1.5, math.Max(1.0/3, (Warmth(kind, mean)+0.1)/(Warmth(kind, normal)+0.1)))
}

// Coast is how near the sea a place lies: it evens out the year.
type Coast string

// The three.
const (
	Seaside     Coast = "coast"
	Inland      Coast = "inland"
	Continental Coast = "continental"
)

// Climate is where a farm lies, as far as it sets how warm an ordinary day is.
type Climate struct {
	Latitude  float64      // degrees, south negative
	Elevation float64      // m above the sea
	Coast     Coast        // "": inland
	Normals   *[12]float64 // the place's own monthly means, °C, January first; nil: estimated
}

// lapse is °C colder for each metre of height, the standard atmosphere's.
const lapse = 0.0065

// swing is how far summer and winter differ from inland's, by nearness of the sea: assumption, ours.
var swing = map[Coast]float64{Seaside: 0.7, Inland: 1, Continental: 1.4}

// Normal is the mean temperature of a day in an ordinary year. The place's own monthly means are read between mid-months in a
// straight line. Without them it is estimated from latitude, height and nearness of the sea (a month may lie 4 °C off: assumption, ours, from how far places of one latitude differ); the warmest day
// then comes four weeks after midsummer of its hemisphere.
func (c Climate) Normal(dayOfYear int) float64 {
	if c.Normals != nil {
		x := float64(dayOfYear-1)/365*12 - 0.5
		low := math.Floor(x)
		i := (int(low)%12 + 12) % 12
		return c.Normals[i] + (c.Normals[(i+1)%12]-c.Normals[i])*(x-low)
	}
	away := math.Abs(c.Latitude)
	factor, ok := swing[c.Coast]
	if !ok {
		factor = 1
	}
	if c.Latitude < 0 {
		dayOfYear += 183
	}
	return 29 - 0.4*away - lapse*c.Elevation + factor*0.17*away*math.Cos(2*math.Pi*float64(dayOfYear-200)/365)
}

// Tropic is the latitude, degrees, up to which rain and not the sun makes the seasons.
const Tropic = 23.44

// Southern tells whether a farm's summer is in January: south of the tropics. Between them a growth curve is the farm's to shift.
func (c Climate) Southern() bool { return c.Latitude < -Tropic }
