package year_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"fjell/core/year"
)

// Growth by day is drawn by hand, as it lingers; its months stray as is reckoned of them.
func TestMonthsStrayAsTheirDaysDo(t *testing.T) {
	for _, truth := range [][2]float64{{0.3, 10}, {0.45, 5}, {0.2, 30}} {
		r := rand.New(rand.NewPCG(5, 9))
		keep, w := math.Exp(-1/truth[1]), 0.0
		var means []float64
		for range 4000 {
			sum := 0.0
			for range 30 {
				w = keep*w + truth[0]*math.Sqrt(1-keep*keep)*r.NormFloat64()
				sum += w
			}
			means = append(means, sum/30)
		}
		square, next := 0.0, 0.0
		for i, m := range means {
			square += m * m / float64(len(means))
			if i > 0 {
				next += m * means[i-1] / float64(len(means))
			}
		}
		s := year.StraysOf(truth[0], truth[1])
		assert.InEpsilon(t, math.Sqrt(square), s.Month, 0.06, "%v", truth)
		assert.LessOrEqual(t, s.Keep, next/square+0.05, "%v", truth)
	}
}

func TestWeatherHasAMeanOfAnOrdinaryYear(t *testing.T) {
	s := year.Strays{Month: 0.25, Keep: 0.5, Year: 0.16}
	sum := make([]float64, 36)
	for seed := range uint64(3000) {
		for m, share := range s.Draw(36, seed) {
			assert.Positive(t, share)
			sum[m] += share / 3000
		}
	}
	for m, mean := range sum {
		assert.InDelta(t, 1, mean, 0.03, "month %d", m)
	}
	assert.Equal(t, s.Draw(12, 4), s.Draw(12, 4), "the same seed, the same weather")
	assert.NotEqual(t, s.Draw(12, 4), s.Draw(12, 5))
}

// What is said to happen in so many years in ten does, in years drawn from another stream.
func TestTheChanceOfRunningShortIsHeldAgainstOtherYears(t *testing.T) {
	for _, store := range []float64{20000, 45000, 60000, 80000} {
		c := farm(24)
		c.Store = store
		risk := year.Foresee(c, 400, 1)
		r := rand.New(rand.NewPCG(77, uint64(store)))
		ever, years := 0.0, 3000
		for range years {
			growth := make([]float64, 24)
			w, y := c.Strays.Month*r.NormFloat64(), 0.0
			for m := range growth {
				if m%12 == 0 {
					y = c.Strays.Year * r.NormFloat64()
				}
				growth[m] = math.Exp(w + y - c.Strays.Month*c.Strays.Month/2 - c.Strays.Year*c.Strays.Year/2)
				w = c.Strays.Keep*w + c.Strays.Month*math.Sqrt(1-c.Strays.Keep*c.Strays.Keep)*r.NormFloat64()
			}
			if len(c.Gaps(year.Balance(c, growth))) > 0 {
				ever += 1 / float64(years)
			}
		}
		assert.InDelta(t, ever, risk.Ever, 0.07, "%.0f kg in store", store)
	}
}

func TestMistLiesAboutTheSkyline(t *testing.T) {
	c := farm(12)
	risk := year.Foresee(c, 200, 1)
	b := year.Balance(c, nil)
	for m, band := range risk.Supply {
		assert.LessOrEqual(t, band.Low, band.Middle)
		assert.LessOrEqual(t, band.Middle, band.High)
		if supply := b.Months[m].Eatable + b.Months[m].Over; supply > 1000 {
			assert.Less(t, band.Low, supply, "month %d", m)
		}
		assert.True(t, risk.Short[m] >= 0 && risk.Short[m] <= 1+1e-9)
		assert.LessOrEqual(t, risk.Short[m], risk.Ever+1e-9)
	}
	still := c
	still.Strays = year.Strays{}
	calm := year.Foresee(still, 20, 1)
	assert.InDelta(t, calm.Supply[3].Low, calm.Supply[3].High, 1e-6, "without weather there is no mist")
	assert.Greater(t, risk.Kg.High, risk.Kg.Low)
}

// 60 fields over 36 months in 200 years' weather.
func BenchmarkForesee(b *testing.B) {
	c := farm(36)
	for len(c.Pieces) < 60 {
		c.Groups[0].Pieces = append(c.Groups[0].Pieces, len(c.Pieces))
		c.Pieces = append(c.Pieces, c.Pieces[len(c.Pieces)%2])
	}
	for b.Loop() {
		year.Foresee(c, 200, 1)
	}
}

// A card is moved on 60 fields over 36 months: the year with it in 200 years' weather, and what it does by itself.
func BenchmarkACardMoved(b *testing.B) {
	c := ley(36)
	for len(c.Pieces) < 60 {
		pc := c.Pieces[len(c.Pieces)%2]
		pc.FieldID = fmt.Sprint("F", len(c.Pieces))
		c.Groups[0].Pieces = append(c.Groups[0].Pieces, len(c.Pieces))
		c.Pieces = append(c.Pieces, pc)
	}
	for i := 0; b.Loop(); i++ {
		with, _, err := c.With([]year.Option{{Input: "bought_hay", Month: i % 36, Tonnes: 20}})
		if err != nil {
			b.Fatal(err)
		}
		year.Balance(with, nil)
		year.Foresee(with, 200, 1)
	}
}

func TestAYearIsGoodOrPoorAsAWholeAndMonthsLinger(t *testing.T) {
	years := year.Strays{Year: 0.2}.Draw(36, 3)
	for m := range years {
		assert.InDelta(t, years[m/12*12], years[m], 1e-12, "month %d is as its year", m)
	}
	assert.NotEqual(t, years[0], years[12])
	assert.NotEqual(t, years[12], years[24])

	s := year.Strays{Month: 0.3, Keep: 0.6}
	next, square := 0.0, 0.0
	for seed := range uint64(2000) {
		d := s.Draw(12, seed)
		for m := 1; m < 12; m++ {
			a, b := math.Log(d[m-1])+0.045, math.Log(d[m])+0.045
			next, square = next+a*b, square+a*a
		}
	}
	assert.InDelta(t, 0.6, next/square, 0.05)
}
