package forage

import (
	"math"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"
)

func TestDeeperBiteCostsRest(t *testing.T) {
	other := 900.0
	out, _, err := Regrowth(RegrowthIn{1500, 2500, 5000, 60, &other})
	require.NoError(t, err)
	assert.InDelta(t, 17.65, out.Days, 0.01)
	assert.InDelta(t, 31.6, *out.Other, 0.05)
	assert.InDelta(t, 13.9, *out.Extra, 0.05)
}

func TestGrowthAndItsInverseAgree(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		k := rapid.Float64Range(1500, 8000).Draw(t, "ceiling")
		from := rapid.Float64Range(100, k*0.9).Draw(t, "from")
		peak := rapid.Float64Range(5, 140).Draw(t, "peak")
		days := rapid.Float64Range(0.1, 60).Draw(t, "days")
		to := Grow(from, peak, k, days)
		assert.Greater(t, to, from)
		assert.LessOrEqual(t, to, k)
		if to < k*0.9999 {
			assert.InEpsilon(t, days, DaysToReach(from, to, peak, k), 1e-6)
		}
		half := Grow(Grow(from, peak, k, days/2), peak, k, days/2)
		assert.InEpsilon(t, to, half, 1e-9, "two half steps are one step")
	})
	assert.True(t, math.IsInf(DaysToReach(1500, 5000, 60, 5000), 1), "the ceiling is never reached")
	assert.Less(t, Grow(7000, 60, 5000, 10), 7000.0, "above the ceiling mass declines")
}

func TestCurveReadsBetweenMidMonths(t *testing.T) {
	c := Curve{0, 0, 0, 0, 2, 4, 2, 0, 0, 0, 0, 0}
	day := func(m time.Month, d int) time.Time { return time.Date(2026, m, d, 0, 0, 0, 0, time.UTC) }
	assert.InDelta(t, 1, c.At(day(time.June, 16), false), 1e-9)
	assert.InDelta(t, 0.75, c.At(day(time.June, 1), false), 0.02, "half way from May to June")
	assert.InDelta(t, c.At(day(time.June, 10), false), c.At(day(time.December, 10), true), 0.02, "the south is half a year off")
	assert.Zero(t, Curve{}.At(day(time.June, 1), false))
	north, south := c.Months(false), c.Months(true)
	assert.InDelta(t, 0.5, north[5], 1e-9, "half of the year grows in June")
	assert.Equal(t, north[5], south[11])
}

func TestHalfWidthJoinsBothErrors(t *testing.T) {
	out, _, err := Sample(SampleIn{[]float64{2000, 2200, 2400, 2100, 2300}})
	require.NoError(t, err)
	sampling := StudentT(4) * *out.SE
	assert.InDelta(t, math.Hypot(sampling, 1.96*0.12*out.Mean), HalfWidth(out.Mean, out, 0.12, 0.3), 1e-9)
	one, _, err := Sample(SampleIn{[]float64{2000}})
	require.NoError(t, err)
	assert.Nil(t, one.SE)
	assert.Greater(t, HalfWidth(2000, one, 0.12, 0.3), 1000.0, "one reading knows little")
}

func TestMarksOnAStick(t *testing.T) {
	_, _, err := Cover(CoverIn{Marks: 10, Open: 11})
	assert.ErrorContains(t, err, "only 10 marks")
}
