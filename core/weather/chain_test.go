package weather

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// strays is the growth of days whose weather is a chain, in a climate with dry summers.
func strays(c Chain, days int, seed uint64) []float64 {
	r := rand.New(rand.NewPCG(seed, 5))
	keep, w := math.Exp(-1/c.Days), c.Spread*r.NormFloat64()
	var out []float64
	for i := range days {
		summer := 1 - 0.3*math.Pow(math.Sin(math.Pi*float64(i)/365), 2)
		out = append(out, summer*math.Exp(w))
		w = keep*w + c.Spread*math.Sqrt(1-keep*keep)*r.NormFloat64()
	}
	return out
}

func TestAChainIsFoundAgain(t *testing.T) {
	for _, truth := range []Chain{{0.15, 6}, {0.3, 10}, {0.45, 5}} {
		spread, days := 0.0, 0.0
		for seed := range uint64(20) {
			c, ok := FitChain(strays(truth, 2*365, seed))
			require.True(t, ok)
			spread, days = spread+c.Spread/20, days+c.Days/20
		}
		assert.InEpsilon(t, truth.Spread, spread, 0.15)
		assert.InEpsilon(t, truth.Days, days, 0.3, "%v", truth)
	}
}

func TestAShortRecordHasNoChain(t *testing.T) {
	growth := strays(Chain{0.3, 10}, 400, 1)
	_, ok := FitChain(growth[:fitDays-1])
	assert.False(t, ok)
	for i := range growth {
		if i%3 > 0 { // nobody wrote most days down
			growth[i] = math.NaN()
		}
	}
	_, ok = FitChain(growth)
	assert.False(t, ok)
	c, ok := FitChain(make([]float64, 200))
	assert.True(t, ok)
	assert.Equal(t, Chain{leastSpread, leastDays}, c, "weather that never changes")
	assert.Nil(t, (*Known)(nil).Chain(Cool))
}

func TestHotAndDryIsBoth(t *testing.T) {
	day := func(n int) int { return (n % 365) + 1 }
	week := func(mean, rain float64) Known {
		days := map[int]Day{}
		for n := 150; n < 200; n++ { // the beginning of summer
			days[n] = Day{Mean: mean, Rain: rain, Sun: sun(10)}
		}
		return Reckon(days, 150, 199, north, 60, day)
	}
	for _, c := range []struct {
		mean, rain float64
		is         bool
	}{{24, 0, true}, {24, 9, false}, {12, 0, false}} {
		k := week(c.mean, c.rain)
		assert.Equal(t, c.is, k.HotAndDry(Cool, 199), "%g °C and %g mm a day", c.mean, c.rain)
		assert.False(t, k.HotAndDry(Tropical, 199), "tropical grass is at its best then")
		assert.False(t, k.HotAndDry(Cool, 149), "nothing is known of it")
		assert.False(t, k.HotAndDry(Cool, 199+60), "and two months on it is as in any year")
	}
	k := week(24, 0)
	assert.True(t, k.HotAndDry(Cool, 201), "it goes on for a while")
	assert.False(t, (*Known)(nil).HotAndDry(Cool, 199))
}

// Frost and wet ground go on for a while past the record, and what is ordinary comes back: in winter that is frost.
func TestWhatIsExpectedOfFrostAndWetGround(t *testing.T) {
	day := func(n int) int { return (n % 365) + 1 }
	winter := Climate{Normals: &[12]float64{-6, -6, -2, 3, 9, 13, 15, 14, 10, 5, 0, -5}}
	from := func(first int, mean, rain float64) Known {
		days := map[int]Day{}
		for n := first; n < first+10; n++ {
			days[n] = Day{Mean: mean, Rain: rain}
		}
		return Reckon(days, first, first+9, winter, 60, day)
	}
	cold := from(90, -1, 0) // the beginning of April
	assert.False(t, cold.Freezing(89), "not known")
	assert.True(t, cold.Freezing(99))
	assert.True(t, cold.Freezing(100), "tomorrow is as today")
	assert.False(t, cold.Freezing(130), "May is May")
	mild := from(320, 4, 0) // the middle of November
	assert.False(t, mild.Freezing(330))
	assert.True(t, mild.Freezing(372), "and January is January")
	july := from(190, 14, 0)
	for n := 190; n < 260; n++ {
		assert.False(t, july.Freezing(n))
	}
	assert.False(t, (*Known)(nil).Freezing(0))

	wet := from(190, 12, 30)
	over := wet.Days[9].Soil.Over
	assert.Greater(t, over, 2*tooWet)
	for _, c := range []struct {
		wetness string
		after   int
		wet     bool
	}{{"", 0, true}, {"", 1, over/2 > tooWet}, {"", 5, false}, {"wet", 3, over/8 > tooWet/3}, {"wet", 8, false}, {"dry", 4, false}} {
		assert.Equal(t, c.wet, wet.TooWet(c.wetness, 199+c.after), "%q after %d days", c.wetness, c.after)
	}
	assert.False(t, wet.TooWet("wet", 189))
}
